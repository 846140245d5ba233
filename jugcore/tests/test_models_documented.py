"""The table of models names what there is, and leaves out nothing of the physics."""

from __future__ import annotations

import importlib
import pkgutil
import re
import unittest
from functools import reduce
from pathlib import Path

import jugcore.physics

MODELS = Path(__file__).resolve().parents[2] / "docs" / "models.md"
#: Helpers, no models.
_PLAIN = {"masses"}


def _cells() -> list[list[str]]:
    rows = [line.split("|")[1:-1] for line in MODELS.read_text(encoding="utf-8").splitlines() if line.startswith("| ")]
    return [[cell.strip() for cell in row] for row in rows[1:]]


def _finds(name: str) -> bool:
    parts = name.split(".")
    for upto in range(len(parts), 0, -1):
        try:
            found = importlib.import_module(".".join(["jugcore", *parts[:upto]]))
        except ModuleNotFoundError:
            continue
        rest = parts[upto:]
        if rest and (fields := getattr(reduce(getattr, rest[:-1], found), "__dataclass_fields__", {})):
            return rest[-1] in fields or hasattr(reduce(getattr, rest[:-1], found), rest[-1])
        return hasattr(reduce(getattr, rest[:-1], found), rest[-1]) if rest else True
    return False


class ModelsTold(unittest.TestCase):
    def test_every_row_is_whole_and_names_what_there_is(self) -> None:
        self.assertGreater(len(_cells()), 50)
        for cells in _cells():
            with self.subTest(model=cells[0]):
                self.assertEqual(len(cells), 6)
                self.assertTrue(all(cells), "A model has its formula, range, source and error.")
                names = re.findall(r"`([^`]+)`", cells[1])
                self.assertTrue(names)
                self.assertEqual([name for name in names if not _finds(name)], [])

    def test_all_of_the_physics_is_told(self) -> None:
        told = " ".join(cells[1] for cells in _cells())
        modules = {module.name for module in pkgutil.iter_modules(jugcore.physics.__path__)} - _PLAIN
        self.assertEqual({module for module in modules if f"physics.{module}" not in told}, set())

    def test_it_would_notice(self) -> None:
        self.assertTrue(_finds("matter.substance.Substance.pieces"))
        for name in ("physics.alchemy", "physics.sucrose.gold_c", "matter.substance.Substance.gold"):
            self.assertFalse(_finds(name), name)


if __name__ == "__main__":
    unittest.main()
