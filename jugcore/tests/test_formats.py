"""What was kept by another release: its format, its way to this one, and the doors it comes through."""

from __future__ import annotations

import re
import unittest
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import jugcore
from jugcore.batch.log.load_event import load_event
from jugcore.errors import BadDocument, DomainError, SeveralProblems
from jugcore.formats import Format
from jugcore.method.document import MethodDocument
from jugcore.method.document_formats import METHOD
from jugcore.method.load_document import load_document

_EVENT = {
    "id": "7b1b1b0e-0000-4000-8000-000000000001",
    "at": "2026-03-01T06:00:00Z",
    "by": "ines",
    "device": "hob",
    "what": {"kind": "began", "stage": "boil"},
}
#: Where each shape may be made from plain data: its door, and nowhere else.
_DOORS = {"MethodDocument": "method/load_document.py", "Event": "batch/log/load_event.py"}


def _renamed(raw: Mapping[str, Any]) -> dict[str, Any]:
    return {("name" if key == "title" else key): value for key, value in raw.items()}


def _doubled(raw: Mapping[str, Any]) -> dict[str, Any]:
    return {**raw, "grams": 2 * raw["grams"]}


class Formats(unittest.TestCase):
    def test_each_number_is_brought_to_the_next_and_nothing_that_was_kept_is_changed(self) -> None:
        cup = Format("cup", (_renamed, _doubled))
        first = {"title": "Ferry", "grams": 10}
        self.assertEqual(cup.current(first), {"name": "Ferry", "grams": 20, "format": "cup/3"})
        self.assertEqual(first, {"title": "Ferry", "grams": 10})
        self.assertEqual(cup.current({"format": "cup/2", "name": "Ferry", "grams": 10}), {"name": "Ferry", "grams": 20, "format": "cup/3"})
        now = {"format": "cup/3", "name": "Ferry", "grams": 20}
        self.assertEqual(cup.current(now), now)

    def test_a_format_of_a_later_release_or_of_something_else_is_refused_in_words(self) -> None:
        for wrong in ("cup/2", "cup/0", "cup/x", "cup", "mug/1", "", 7):
            with self.subTest(wrong), self.assertRaises(BadDocument) as refused:
                Format("cup").current({"format": wrong})
            self.assertIn("cup/1", refused.exception.remedy)

    def test_a_document_that_says_no_format_is_of_the_first(self) -> None:
        stages = [{"id": "add", "kind": "add", "vessel": "pot", "lines": [{"id": "sugar", "substance": "white_sugar", "amount": "500 g"}]}]
        self.assertEqual(load_document({"stages": stages}), load_document({"format": "oakenjug.method/1", "stages": stages}))
        self.assertEqual(load_document({"stages": stages}).format, METHOD.tag)
        with self.assertRaises(SeveralProblems) as refused:
            load_document({"stages": [{"id": "add"}, {"id": "heat", "kind": "heat", "vessel": "pot"}]})
        self.assertEqual(len(refused.exception.problems), 2)

    def test_equipment_as_the_first_format_called_it_is_read_wherever_a_document_stands(self) -> None:
        old = {"stages": [], "kitchen": {"shared": [
            {"id": "stick", "name": "Green stick", "gear": "stick_blender", "saw": ["nuts"], "met": [{"allergen": "milk", "at": "Cream 0004"}]},
        ]}}  # fmt: skip
        told = {**_EVENT, "what": {"kind": "put_right", "title": "Less", "document": old}}
        for found in (load_document(old), MethodDocument.model_validate(old), load_event(told).what.document):  # type: ignore[union-attr]
            assert found.kitchen is not None
            [piece] = found.kitchen.equipment or ()
            self.assertEqual((piece.kind, piece.allergens_met, piece.met_at_batches[0].at), ("stick_blender", ("nuts",), "Cream 0004"))
        with self.assertRaises(DomainError):
            load_document({**old, "format": METHOD.tag})

    def test_an_entry_comes_through_its_door_and_one_of_a_later_release_does_not(self) -> None:
        self.assertEqual(load_event(_EVENT), load_event({**_EVENT, "format": "oakenjug.event/1"}))
        with self.assertRaises(DomainError):
            load_event({**_EVENT, "format": "oakenjug.event/2"})
        with self.assertRaises(DomainError):
            load_event({**_EVENT, "what": {"kind": "sang"}})

    def test_there_is_no_other_door(self) -> None:
        root = Path(jugcore.__file__).parent
        found = []
        for path in [*root.rglob("*.py"), *(root.parent / "jugserver").rglob("*.py")]:
            if "tests" in path.parts:
                continue
            text = path.read_text(encoding="utf-8")
            for shape, door in _DOORS.items():
                if re.search(rf"\b{shape}\.model_validate(_json)?\(", text) and path != root / door:
                    found.append(f"{path.name}: {shape}")
        self.assertEqual(found, [])


if __name__ == "__main__":
    unittest.main()
