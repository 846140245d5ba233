"""Every name a stranger may use says what it is."""

from __future__ import annotations

import ast
import unittest
from collections.abc import Iterator
from pathlib import Path

import jugcore

ROOT = Path(jugcore.__file__).parent
#: What a physical model's docstring says besides what it gives.
_OF_A_MODEL = ("Formula", "Source", "ccuracy")


def _modules() -> Iterator[tuple[Path, ast.Module]]:
    for path in sorted(ROOT.rglob("*.py")):
        if "tests" not in path.parts:
            yield path, ast.parse(path.read_text(encoding="utf-8"))


class Documented(unittest.TestCase):
    def test_every_module_function_and_class_has_a_docstring(self) -> None:
        bare = []
        for path, module in _modules():
            public = [n for n in module.body if isinstance(n, ast.FunctionDef | ast.ClassDef) and not n.name.startswith("_")]
            bare += [f"{path.name}: {node.name}" for node in public if ast.get_docstring(node) is None]
            if ast.get_docstring(module) is None:
                bare.append(path.name)
        self.assertEqual(bare, [])

    def test_every_physical_model_says_its_formula_its_source_and_how_exact_it_is(self) -> None:
        bare = []
        for path, module in _modules():
            if path.parent.name != "physics":
                continue
            for node in module.body:
                if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                    text = ast.get_docstring(node) or ""
                    bare += [f"{path.name}: {node.name}: {word}" for word in _OF_A_MODEL if word not in text]
        self.assertEqual(bare, [])


if __name__ == "__main__":
    unittest.main()
