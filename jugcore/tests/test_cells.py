"""Nuts and seeds behind a sieve: a part of their oil and protein stays in the cake, and fat says how sure it is."""

from __future__ import annotations

import unittest

import numpy as np

from jugcore import components as c
from jugcore.matter.library import library
from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.walk import Walk, walk
from jugcore.reading.readings.content import fat

_OIL, _PROTEIN = c.INDEX["other_fat"], c.INDEX["protein"]


def _milk(nut: str = "hazelnut", *, strained: bool = True, twice: bool = False) -> Method:
    """A hundred grams of a nut in six hundred of water, through a cloth."""
    stages = [
        {"id": "in", "kind": "add", "vessel": "pot", "lines": [
            {"id": "water", "substance": "water", "amount": "600 g"}, {"id": "nut", "substance": nut, "amount": "100 g"}]},
        {"id": "chop", "kind": "mix", "vessel": "pot", "tool": "blender"},
    ]  # fmt: skip
    if strained:
        stages.append({"id": "strain", "kind": "strain", "vessel": "pot", "into": "jug", "pressed": True})
    if twice:
        stages.append({"id": "again", "kind": "strain", "vessel": "jug", "into": "can", "pressed": True})
    return parse_document({"name": "Nut milk", "stages": stages})


def _fat(walked: Walk) -> tuple[float, float, float]:
    found = fat(walked)
    return float(found.low[0]), float(found.value[0]), float(found.high[0])


class Cells(unittest.TestCase):
    def test_cells_that_hold_oil_back_are_those_of_nuts(self) -> None:
        held = {id: book for id, book in library().items() if book.contributions.cell_oil is not None}
        self.assertGreater(len(held), 8)
        for id, book in held.items():
            cells = book.contributions.cell_oil
            assert cells is not None
            self.assertEqual(book.kind, "nut", id)
            self.assertIn("oil out of its cells", book.contributions.source)
            self.assertTrue(0 < cells.low < cells.likely < cells.high < 1, id)
        self.assertNotIn("hazelnut_paste", held)

    def test_a_part_of_the_oil_runs_through_and_the_rest_lies_in_the_cake(self) -> None:
        walked = walk(_milk())
        oil, cake = float(walked.product.mass_g[0, _OIL]), walked.end.vessels["cake:strain"]
        whole = 100 * float(library()["hazelnut"].mass_fraction[_OIL])
        self.assertTrue(0.25 * whole < oil < 0.36 * whole, oil / whole)
        self.assertGreater(float(cake.mass_g[0, _OIL]), 0.6 * whole)
        self.assertGreater(float(cake.mass_g[0, _PROTEIN]), 0.6 * 15)
        # A pressed cake weighs about what the nuts did (common practice, no source).
        self.assertTrue(70 < float(cake.total_g[0]) < 180, float(cake.total_g[0]))

    def test_nothing_is_lost_or_made(self) -> None:
        for method in (_milk(), _milk("black_sesame"), _milk(twice=True), _milk("cashew", strained=False)):
            walked = walk(method)
            np.testing.assert_allclose(walked.came_in_g(), walked.stands_g(), atol=1e-9)

    def test_a_second_cloth_keeps_no_oil_that_ran_through_the_first(self) -> None:
        once, twice = (walk(_milk(twice=again)) for again in (False, True))
        first, second = (float(w.product.mass_g[0, _OIL] / w.product.water_g[0]) for w in (once, twice))
        self.assertAlmostEqual(first, second, places=9)

    def test_fat_has_a_band_only_behind_a_sieve(self) -> None:
        low, value, high = _fat(walk(_milk(strained=False)))
        self.assertAlmostEqual(high - low, 0.0, places=9)
        low, value, high = _fat(walk(_milk()))
        self.assertTrue(low < value < high)
        # Sixty grams of oil, 15 to 60 % of it out, in a bit more than half a kilogram.
        self.assertTrue(1.2 < low < 2.2 and 5.0 < high < 7.5, (low, high))

    def test_a_paste_runs_through_whole_but_for_what_it_soaks(self) -> None:
        walked = walk(_milk("hazelnut_paste"))
        whole = 100 * float(library()["hazelnut_paste"].mass_fraction[_OIL])
        self.assertGreater(float(walked.product.mass_g[0, _OIL]), 0.9 * whole)
        low, value, high = _fat(walked)
        self.assertEqual((low, high), (value, value))

    def test_milk_and_cream_run_through(self) -> None:
        walked = walk(parse_document({"stages": [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": "cream", "substance": "heavy_cream", "amount": "500 g"}]},
            {"id": "strain", "kind": "strain", "vessel": "pot", "into": "jug"},
        ]}))  # fmt: skip
        self.assertAlmostEqual(_fat(walked)[1], 100 * float(library()["heavy_cream"].mass_fraction @ c.FAT), places=6)


if __name__ == "__main__":
    unittest.main()
