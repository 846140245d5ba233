"""Saturates and salt against published rows; a range that tells what is not known; nothing from nothing."""

from __future__ import annotations

import csv
import unittest
from pathlib import Path

import numpy as np

from jugcore import components as c
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.matter import FAT_KNOWN, OWN_SALT, TRACERS
from jugcore.matter.nutrition import salt_g, saturates_g
from jugcore.matter.substance import Used
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.reading.substance_from_walk import substance_from_walk
from jugcore.tests.random_methods import random_method

ROWS = Path(__file__).parent / "data" / "saturates_and_salt.csv"


def of(substance: str, grams: float = 100.0) -> Walk:
    """So much of one ingredient in a bowl."""
    line = {"id": "x", "substance": substance, "amount": f"{grams} g"}
    return walk(parse_document({"stages": [{"id": "a", "kind": "add", "vessel": "bowl", "lines": [line]}]}))


class Published(unittest.TestCase):
    def test_what_tables_say_lies_within_the_range(self) -> None:
        with ROWS.open(newline="", encoding="utf-8") as file:
            rows = list(csv.DictReader(file))
        self.assertGreater(len(rows), 10)
        for row in rows:
            product = of(row["substance"]).product
            for name, found in (("saturates_g", saturates_g(product)), ("salt_g", salt_g(product))):
                if not row[name]:
                    continue
                low, likely, high = (float(each[0]) for each in found)
                known = float(row[name])
                with self.subTest(row["substance"], of=name):
                    self.assertTrue(low - 0.02 <= known <= high + 0.02, (low, likely, high, known))
                    self.assertLessEqual(abs(likely - known), 0.15 * known + 0.02)

    def test_every_ingredient_s_range_is_in_order_and_within_its_fat(self) -> None:
        for id in library():
            product = of(id).product
            low, likely, high = (float(each[0]) for each in saturates_g(product))
            with self.subTest(id):
                self.assertTrue(0 <= low <= likely <= high <= float((product.mass_g @ c.FAT)[0]) + 1e-9, (low, likely, high))
                less, usual, more = (float(each[0]) for each in salt_g(product))
                self.assertTrue(0 <= less <= usual <= more)


class Label(unittest.TestCase):
    def test_salt_on_a_label_is_all_of_it(self) -> None:
        milk = as_document(library()["whole_milk"])
        composition = {**milk.composition_g_per_100g, "salt": 0.11, "water": milk.composition_g_per_100g["water"] - 0.11}
        for basis, least, most in (("label", 0.11, 0.11), ("table", 0.18, 0.26)):
            raw = milk.model_copy(update={"basis": basis, "composition_g_per_100g": composition})
            line = {"id": "x", "substance": "m", "amount": "100 g"}
            stages = [{"id": "a", "kind": "add", "vessel": "bowl", "lines": [line]}]
            document = {"stages": stages, "substances": {"m": raw.model_dump(mode="json", exclude_none=True)}}
            low, _, high = (float(each[0]) for each in salt_g(walk(parse_document(document)).product))
            with self.subTest(basis):
                self.assertTrue(least - 1e-6 <= low <= high <= most + 1e-6, (low, high))


class Travelling(unittest.TestCase):
    def test_in_any_method_saturates_are_no_more_than_its_fat_and_mixing_adds_up(self) -> None:
        for seed in range(0, 60, 3):
            found = walk(parse_document(random_method(seed)))
            for vessel, held in found.end.vessels.items():
                low, likely, high = saturates_g(held)
                with self.subTest(seed=seed, vessel=vessel):
                    self.assertTrue(bool(np.all((low <= likely + 1e-9) & (likely <= high + 1e-9) & (high <= held.mass_g @ c.FAT + 1e-9))))
        both = walk(parse_document({"stages": [{"id": "a", "kind": "add", "vessel": "bowl", "lines": [
            {"id": "x", "substance": "whole_milk", "amount": "100 g"}, {"id": "y", "substance": "tahini", "amount": "20 g"}]}]})).product  # fmt: skip
        for read in (saturates_g, salt_g):
            for end in range(3):
                alone = read(of("whole_milk").product)[end][0] + read(of("tahini", 20).product)[end][0]
                self.assertAlmostEqual(float(read(both)[end][0]), float(alone), places=9)

    def test_oil_that_stays_in_the_cloth_takes_its_saturates_along(self) -> None:
        stages = [
            {"id": "a", "kind": "add", "vessel": "pot", "lines": [{"id": "w", "substance": "water", "amount": "300 g"},
                                                                  {"id": "n", "substance": "hazelnut", "amount": "100 g"}]},
            {"id": "s", "kind": "strain", "vessel": "pot", "into": "jug"},
        ]  # fmt: skip
        product = walk(parse_document({"stages": stages})).product
        fat = float((product.mass_g @ c.FAT)[0])
        low, likely, high = (float(each[0]) for each in saturates_g(product))
        # Hazelnut oil is 6.5 to 8.5 % saturated, whatever of it ran through.
        self.assertTrue(0.06 * fat <= low <= high <= 0.09 * fat, (low, likely, high, fat))

    def test_what_was_made_here_carries_them_and_what_was_kept_before_says_how_little_it_knows(self) -> None:
        found = of("tahini")
        made = substance_from_walk(found, Used("f", 1, "Paste", "0" * 64), "paste")
        document = as_document(made)
        again = load_substance("paste", document)
        assert again.made is not None and document.made_from is not None
        np.testing.assert_allclose(again.made.tracer, made.made.tracer if made.made else [])
        names = [name for name in document.made_from.tracers_g_per_g if not name.startswith(("saturated", "fat_known", "own_salt"))]
        kept = {name: document.made_from.tracers_g_per_g[name] for name in names}
        before = document.model_copy(update={"made_from": document.made_from.model_copy(update={"tracers_g_per_g": kept})})
        old = load_substance("paste", before)
        assert old.made is not None
        self.assertEqual(old.made.tracer[FAT_KNOWN], 0.0)
        self.assertGreater(old.made.tracer[OWN_SALT], 0.0, "as much as milk has, rather than none")
        self.assertEqual(len(old.made.tracer), len(TRACERS))

    def test_an_ingredient_written_before_is_read_with_what_is_usual_of_it(self) -> None:
        document = as_document(library()["coconut_oil"])
        assert document.contributions is not None
        bare = document.model_copy(update={"contributions": document.contributions.model_copy(update={"saturates": None, "salt_of_ash": None})})
        known = load_substance("coconut_oil", bare).contributions.saturates
        assert known is not None
        self.assertGreater(known.low, 0.8)
