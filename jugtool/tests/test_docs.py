"""What the documents say of the code: the files they name are there."""

from __future__ import annotations

import re
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
#: Documents that tell how things are now; a changelog tells how they were.
TELLING = [ROOT / "README.md", ROOT / "docs" / "architecture.md", *sorted((ROOT / "docs" / "decisions").glob("*.md"))]


class Named(unittest.TestCase):
    def test_every_file_that_is_named_is_there(self) -> None:
        folders = ("jugcore", "jugserver", "jugtool", "web/src", "e2e", "bench", "docs", "deploy")
        there = [path.as_posix() for folder in folders for path in (ROOT / folder).rglob("*") if path.is_file()]
        there += [path.as_posix() for path in (ROOT / "web").iterdir() if path.is_file()]
        missing = []
        for document in TELLING:
            for named in re.findall(r"`([\w./-]+\.(?:py|tsx?|json|md|csv))`", document.read_text(encoding="utf-8")):
                if "*" not in named and not any(path.endswith(f"/{named}") for path in there):
                    missing.append(f"{document.name}: {named}")
        self.assertEqual(missing, [])

    def test_every_module_that_is_named_is_there(self) -> None:
        missing = []
        for document in TELLING:
            for named in re.findall(r"`(jug(?:core|server|tool)(?:\.[A-Za-z_]+)+)`", document.read_text(encoding="utf-8")):
                # A module, or one name in it.
                modules = [ROOT.joinpath(*parts) for parts in (named.split("."), named.split(".")[:-1])]
                if not any(each.is_dir() or each.with_suffix(".py").exists() for each in modules):
                    missing.append(f"{document.name}: {named}")
        self.assertEqual(missing, [])


if __name__ == "__main__":
    unittest.main()
