"""Frozen documents walk the same for ever; side by side says what differs and nothing else."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from jugcore.editing.freeze import fingerprint, freeze, thaw
from jugcore.errors import BadDocument
from jugcore.exchange.compare import CompareReport, Side, compare
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.report import report
from jugcore.suggesting.suggestions import suggestions
from jugcore.tests.random_methods import random_method

EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples"


def raw(name: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads((EXAMPLES / f"{name}.json").read_text(encoding="utf-8"))
    return found


def example(name: str) -> Method:
    return parse_document(raw(name))


def laid(*methods: Method) -> CompareReport:
    return compare([Side(f"Side {n}", walk(method)) for n, method in enumerate(methods, start=1)])


class Moved(unittest.TestCase):
    def test_a_reading_has_changed_from_half_of_its_last_digit_on(self) -> None:
        """A gram more of sugar in a kilogram of one to one is 0.05 °Bx, which is shown in tenths."""

        def syrup(sugar_g: float) -> Method:
            lines = [{"id": "w", "substance": "water", "amount": "500 g"}, {"id": "s", "substance": "white_sugar", "amount": f"{sugar_g} g"}]
            return parse_document({"stages": [{"id": "in", "kind": "add", "vessel": "jug", "lines": lines}]})

        for sugar_g, changed in ((500.94, False), (501.06, True)):
            with self.subTest(sugar_g=sugar_g):
                row = next(row for row in laid(syrup(500), syrup(sugar_g)).readings if row.id == "brix")
                self.assertEqual((row.digits, row.changed), (1, changed))


class Frozen(unittest.TestCase):
    def test_a_frozen_document_walks_to_the_same_report(self) -> None:
        methods = [example(path.stem) for path in sorted(EXAMPLES.glob("*.json"))] + [parse_document(random_method(seed)) for seed in range(40)]
        for method in methods:
            again = parse_document(json.loads(freeze(method).model_dump_json()))
            before, after = report(walk(method)), report(walk(again))
            with self.subTest(name=method.document.name):
                self.assertEqual([r.id for r in before.readings], [r.id for r in after.readings])
                for one, other in zip(before.readings, after.readings, strict=True):
                    self.assertAlmostEqual(one.value or 0, other.value or 0, delta=1e-6 * (1 + abs(one.value or 0)))
                self.assertEqual([a.model_dump() for a in before.allergens], [a.model_dump() for a in after.allergens])

    def test_it_reads_nothing_from_outside(self) -> None:
        """Cups of another system and other tables do not touch it."""
        document = raw("weir-simple")
        document["stages"][0]["lines"][0]["amount"] = "3 cups"
        document["kitchen"] = {"measures": "us"}
        kept = freeze(parse_document(document))
        assert kept.kitchen is not None
        self.assertEqual(kept.kitchen.measures, "us")
        self.assertEqual(set(kept.substances), {"water", "white_sugar"})
        self.assertEqual(parse_document(json.loads(kept.model_dump_json())).weighed["water"].grams, parse_document(document).weighed["water"].grams)

    def test_thawed_it_goes_by_todays_kitchen_and_keeps_what_no_table_knows(self) -> None:
        document = raw("weir-simple")
        document["substances"] = {"own": {"title": "Own", "composition_g_per_100g": {"water": 100}}}
        document["stages"][0]["lines"].append({"id": "o", "substance": "own", "amount": "5 g"})
        again = thaw(freeze(parse_document(document)))
        self.assertIsNone(again.kitchen)
        self.assertEqual(set(again.substances), {"own"})

    def test_the_fingerprint_is_of_what_it_says_and_not_of_how_it_is_written(self) -> None:
        kept = freeze(example("weir-simple"))
        turned = json.loads(json.dumps(kept.model_dump(mode="json"), sort_keys=True))
        self.assertEqual(fingerprint(kept), fingerprint(type(kept).model_validate(turned)))
        self.assertNotEqual(fingerprint(kept), fingerprint(kept.model_copy(update={"notes": "x"})))


class SideBySide(unittest.TestCase):
    def test_the_same_twice_differs_in_nothing(self) -> None:
        found = laid(example("ferrymans-spice"), example("ferrymans-spice"))
        self.assertEqual((found.words, found.axes), (["Nothing changed."], []))
        self.assertFalse(any(stage.changed or any(line.changed for line in stage.lines) for stage in found.stages))

    def test_one_figure_changed_is_said_once_and_what_follows_from_it_by_reading(self) -> None:
        changed = raw("ferrymans-spice")
        next(s for s in changed["stages"] if s["kind"] == "boil")["until"] = {"brix": 60}
        found = laid(example("ferrymans-spice"), parse_document(changed))
        self.assertEqual(found.words, ["Boil: to 64 °Bx, simmer → Boil: to 60 °Bx, simmer."])
        self.assertEqual(next(row.id for row in found.readings if row.changed), "brix")
        self.assertFalse(next(row for row in found.readings if row.id == "spice_started").changed)
        axis = found.axes[0]
        self.assertTrue(all(axis.low < value < axis.high for value in axis.values if value is not None))

    def test_lines_that_came_went_and_changed(self) -> None:
        changed = raw("ferrymans-spice")
        blend = next(s for s in changed["stages"] if s["kind"] == "blend")
        blend["lines"] = [line for line in blend["lines"] if line["id"] != "mace"]
        blend["lines"][0]["amount"] = "9 g per kg started"
        blend["lines"].append({"id": "new", "substance": "clove", "amount": "0.5 g per kg started"})
        words = laid(example("ferrymans-spice"), parse_document(changed)).words
        self.assertTrue(any(w.startswith("Green cardamom, ground: 7 g per kg started → 9 g per kg started (12.04 → 15.48 g)") for w in words), words)
        self.assertTrue(any(w.startswith("Left out of ferryman blend: Mace") for w in words), words)
        self.assertTrue(any(w.startswith("New in ferryman blend: Clove") for w in words), words)

    def test_a_stage_put_in_between_keeps_the_others_paired(self) -> None:
        method = example("ferrymans-spice")
        way = next(w for w in suggestions(method, "brix", 60.0).suggestions if w.kind == "add")
        found = laid(method, compile_document(way.document))
        self.assertEqual([s.id for s in found.stages if s.cells[0] is None], [s.id for s in way.document.stages if s.id.startswith("stir-in")])
        self.assertEqual([s.id for s in found.stages], [s.id for s in way.document.stages])
        self.assertEqual(len(found.words), 1)

    def test_formulas_that_never_were_one_are_paired_by_kind(self) -> None:
        found = laid(example("weir-simple"), example("ferrymans-spice"))
        add = next(stage for stage in found.stages if stage.id == "add-1")
        self.assertTrue(all(cell is not None for cell in add.cells))
        water = next(line for line in add.lines if line.title == "Water")
        self.assertTrue(all(cell is not None for cell in water.cells))
        self.assertEqual({line.title for line in add.lines}, {"Water", "White granulated sugar", "Pear juice, pressed"})

    def test_four_at_most_and_two_at_least(self) -> None:
        method = example("weir-simple")
        self.assertEqual(len(laid(*[method] * 4).names), 4)
        for count in (0, 1, 5):
            with self.subTest(count=count), self.assertRaises(BadDocument):
                laid(*[method] * count)


if __name__ == "__main__":
    unittest.main()
