"""How much of what seasons comes into the product's pot."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore.method.compile import compile_document, parse_document
from jugcore.method.walk import Walk, walk
from jugcore.reading.seasoning import seasoning_g
from jugcore.solving.linearise import reading_of
from jugcore.tests.batches import blended


def _walked(amount: str | None, **given: Any) -> Walk:
    raw = blended().model_dump(mode="json", exclude_none=True)
    for stage in raw["stages"]:
        if stage["id"] == "spices":
            stage["amount"] = amount or {"kind": "all"}
    return walk(compile_document(parse_document(raw).document), None, given or None)


class Load(unittest.TestCase):
    """Of a blend of which a part is used, a part seasons."""

    def test_all_of_it_counts_as_it_was_weighed_whatever_a_sieve_takes_out(self) -> None:
        walked = _walked(None)
        weighed = sum(walked.end.lines[id] for id in ("mace", "cardamom", "anise"))
        np.testing.assert_allclose(seasoning_g(walked), weighed, rtol=1e-12)
        self.assertAlmostEqual(float(reading_of(walked, "spice_started").value[0]), 19.0, places=9)

    def test_half_of_it_seasons_half_as_much(self) -> None:
        walked = _walked("16.34 g")
        np.testing.assert_allclose(seasoning_g(walked), [16.34], rtol=1e-12)
        self.assertAlmostEqual(float(reading_of(walked, "spice_started").value[0]), 9.5, places=9)

    def test_each_case_has_its_own_share(self) -> None:
        grams = np.array([32.68, 16.34, 8.17])
        np.testing.assert_allclose(seasoning_g(_walked(None, **{"lines.spices.grams": grams})), grams, rtol=1e-9)

    def test_what_never_reaches_the_pot_does_not_season_it(self) -> None:
        raw = blended().model_dump(mode="json", exclude_none=True)
        raw["stages"] = [stage for stage in raw["stages"] if stage["id"] != "spices"]
        self.assertEqual(float(seasoning_g(walk(compile_document(parse_document(raw).document)))[0]), 0.0)


if __name__ == "__main__":
    unittest.main()
