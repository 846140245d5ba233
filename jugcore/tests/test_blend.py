"""Blends by parts and percent, ground and sieved; what carries one, what the scale cannot weigh, a spoon too many."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.errors import DomainError, SeveralProblems
from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.stages import Adding
from jugcore.method.walk import Walk, walk
from jugcore.reading.blend import dominant, premix, strength_shares
from jugcore.reading.consequences import consequences
from jugcore.reading.report import report
from jugcore.scaling.scale import scale_by
from jugcore.suggesting.overshot import overshot

EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples"
SPICES = ("mace", "cassia", "nutmeg", "true_cinnamon", "ground_ginger", "clove")
SCALES = [{"id": "bench", "name": "the bench scale", "capacity_g": 5000, "resolution_g": 1}]


def blend(*amounts: str, total: str | None, spices: tuple[str, ...] = SPICES, scales: list[dict[str, Any]] | None = None, **mill: Any) -> Method:
    lines = [{"id": s, "substance": s, "amount": a} for s, a in zip(spices, amounts, strict=False)]
    water = {"id": "w", "substance": "water", "amount": "1 kg"}
    stages: list[dict[str, Any]] = [{"id": "pot", "kind": "add", "vessel": "pot", "lines": [water]}]
    stages.append({"id": "b", "kind": "blend", "vessel": "bowl", "lines": lines, "total": total})
    if mill:
        stages.append({"id": "m", "kind": "mill", "vessel": "bowl", **mill})
    stages.append({"id": "j", "kind": "join", "vessel": "pot", "source": "bowl"})
    return parse_document({"stages": stages, "kitchen": {"scales": SCALES if scales is None else scales, "film_g": 0}})


def grams(method: Method) -> dict[str, float]:
    return {id: float(g[0]) for id, g in walk(method).end.lines.items()}


def stage_of(walked: Walk, id: str) -> Adding:
    stage = next(s for s in walked.stages if s.id == id)
    assert isinstance(stage, Adding)
    return stage


class Parts(unittest.TestCase):
    def test_a_blend_of_twenty_five_grams(self) -> None:
        """Common practice, no source: 7.5, 7.5, 4.5, 3.5, 1.25 and 0.75 g are 30, 30, 18, 14, 5 and 3 %."""
        wanted = [7.5, 7.5, 4.5, 3.5, 1.25, 0.75]
        for amounts in (("30 %", "30 %", "18 %", "14 %", "5 %", "3 %"), ("30 parts", "30 parts", "18 parts", "14 parts", "5 parts", "3 parts")):
            got = grams(blend(*amounts, total="25 g"))
            for spice, g in zip(SPICES, wanted, strict=True):
                self.assertAlmostEqual(got[spice], g, places=9)

    def test_of_a_load_per_kilo_started(self) -> None:
        got = grams(blend("2 parts", "1 part", total="22 g per kg started"))
        self.assertAlmostEqual(got["mace"], 44 / 3)
        self.assertAlmostEqual(got["cassia"], 22 / 3)

    def test_what_is_in_grams_comes_off_first(self) -> None:
        got = grams(blend("3 parts", "5 g", "1 part", total="25 g"))
        self.assertAlmostEqual(got["mace"], 15)
        self.assertAlmostEqual(got["nutmeg"], 5)

    def test_more_in_grams_than_there_is_in_all_is_a_fault_and_weighs_nothing_below_nothing(self) -> None:
        method = blend("3 parts", "50 g", total="25 g")
        self.assertEqual([f.code for f in walk(method).faults], ["no_room_for_parts"])
        self.assertEqual(grams(method)["mace"], 0.0)

    def test_the_text_reads_back_and_it_scales(self) -> None:
        method = blend("30 %", "2 parts", "4 g", total="25 g")
        self.assertEqual([method.amount_texts[s] for s in ("mace", "cassia", "b")], ["30 %", "2 parts", "25 g"])
        doubled = scale_by(method, 2.0).walk
        for id, g in grams(method).items():
            self.assertAlmostEqual(float(doubled.end.lines[id][0]), 2 * g, places=9)

    def test_totals_that_make_no_sense_are_refused_at_the_total(self) -> None:
        for amounts, total, word in (
            (("3 g", "2 g"), "25 g", "None of its lines"),
            (("3 parts", "2 g"), "2 g per kg finished", "known before"),
            (("3 parts", "2 g"), "as the mace", "neither an amount"),
            (("3 parts", "2 g"), "3 blobs", "not a unit known"),
        ):
            with self.subTest(total=total), self.assertRaises(DomainError) as caught:
                blend(*amounts, total=total)
            error = caught.exception.problems[0] if isinstance(caught.exception, SeveralProblems) else caught.exception
            self.assertEqual(error.field, "stages.b.total")
            self.assertIn(word, error.message)
        with self.assertRaises(DomainError) as bare:
            blend("3 parts", "2 g", total=None)
        self.assertIn("Say what the stage makes", bare.exception.remedy)

    def test_what_is_brought_over_is_not_in_parts(self) -> None:
        typed = {"kind": "parts", "parts": 2.0, "percent": False}
        for amount, word in (("2 parts", "Parts need a total"), (typed, "not in parts"), ({**typed, "percent": True}, "not in parts")):
            raw = {
                "stages": [
                    {"id": "a", "kind": "add", "vessel": "bowl", "lines": [{"id": "w", "substance": "water", "amount": "100 g"}]},
                    {"id": "b", "kind": "join", "vessel": "pot", "source": "bowl", "amount": amount},
                ]
            }
            with self.subTest(amount), self.assertRaisesRegex(DomainError, word) as caught:
                parse_document(raw)
            self.assertEqual(caught.exception.field, "lines.b.amount")

    @given(st.lists(st.floats(0.1, 100), min_size=2, max_size=6), st.floats(1, 500))
    @settings(max_examples=60, derandomize=True, deadline=None)
    def test_parts_sum_to_the_total_in_their_ratio(self, parts: list[float], total: float) -> None:
        got = grams(blend(*(f"{p:.4f} parts" for p in parts), total=f"{total:.4f} g"))
        each = [got[s] for s in SPICES[: len(parts)]]
        self.assertAlmostEqual(sum(each), round(total, 4), delta=1e-9 * total)
        for one, other, p, q in zip(each, each[1:], parts, parts[1:], strict=False):
            self.assertAlmostEqual(one * round(q, 4), other * round(p, 4), delta=1e-6 * total * 100)


class Milled(unittest.TestCase):
    def test_a_second_pass_brings_through_what_stayed_on_the_sieve(self) -> None:
        """By hand, 100 g, 4 % dust and 25 % on the sieve: 72 g through; a second pass makes it 89.28 g, 5.76 g still on it."""
        for passes, through, coarse in ((1, 72.0, 24.0), (2, 89.28, 5.76)):
            walked = walk(blend("60 g", "40 g", total=None, loss_fraction=0.04, coarse_fraction=0.25, passes=passes))
            figures = walked.step("m").figures
            self.assertAlmostEqual(float(figures["through_g"][0]), through, places=9)
            self.assertAlmostEqual(float(figures["coarse_g"][0]), coarse, places=9)
            self.assertAlmostEqual(float(walked.end.vessels["cake:m"].total_g[0]), coarse, places=9)
            self.assertAlmostEqual(through + coarse + float(figures["dust_g"][0]), 100, places=9)
            self.assertAlmostEqual(float(walked.came_in_g().sum()), float(walked.stands_g().sum()), places=9)


class Loudest(unittest.TestCase):
    def shares(self, *amounts: str) -> dict[str, tuple[float, float]]:
        walked = walk(blend(*amounts, total=None))
        return {s.line: (s.low, s.high) for s in strength_shares(walked, stage_of(walked, "b"))}

    def test_a_little_clove_swamps_much_of_the_rest(self) -> None:
        """Common practice, no source: clove over everything."""
        walked = walk(blend("1 g", "1 g", "1 g", "3 g", "2 g", "6 g", total=None))
        loudest = dominant(strength_shares(walked, stage_of(walked, "b")))
        assert loudest is not None
        self.assertEqual(loudest.line, "clove")
        sentence = next(x.text for x in consequences(walked) if x.id == "loud-b")
        self.assertRegex(sentence, r"^Clove, ground carries this blend: 43 % of its weight and (5\d|6\d) to (8\d|9\d) % of its strength\.$")

    def test_the_demo_blend_says_who_is_loud(self) -> None:
        method = parse_document(json.loads((EXAMPLES / "ferrymans-spice.json").read_text(encoding="utf-8")))
        blends = [s.blend for s in report(walk(method)).stages if s.blend is not None]
        self.assertEqual(len(blends), 1)
        self.assertAlmostEqual(sum(share.mass_share for share in blends[0].shares), 1.0)
        self.assertTrue(all(share.low < share.high for share in blends[0].shares))

    def test_of_a_powder_no_brix_is_read(self) -> None:
        doc = blend("6 parts", "3 parts", total="25 g").document.model_dump(mode="json", exclude_none=True)
        doc["stages"] = doc["stages"][1:2]
        found = report(walk(parse_document(doc)))
        no_value = {r.id for r in found.readings if r.value is None}
        self.assertEqual(
            no_value,
            {"brix", "yield_l", "water_activity", "cold_margin", "viscosity", "spice_started", "sugar_g_l", "refractometer", "sucrose", "density"}
            | {"cost_kg", "cost_l", "cost_dose"},
        )
        self.assertEqual({r.why_not for r in found.readings if r.id == "brix"}, {"No value for “°Brix”: there is too little liquid in it."})
        self.assertEqual((found.product.brix, found.sweet_line.starts_brix, found.sweet_line.path_brix), (None, None, []))
        wet = report(walk(blend("6 g", "3 g", total=None)))
        self.assertTrue(all(r.value is not None for r in wet.readings if not r.id.startswith("cost_")))

    def test_equal_parts_of_the_like_have_no_loudest(self) -> None:
        walked = walk(blend("5 g", "5 g", "5 g", total=None))
        self.assertIsNone(dominant(strength_shares(walked, stage_of(walked, "b"))))

    def test_the_range_holds_every_strength_within_the_ranges(self) -> None:
        import numpy as np

        walked = walk(blend("5 g", "3 g", "2 g", "4 g", "1 g", "0.5 g", total=None))
        stage = stage_of(walked, "b")
        found = strength_shares(walked, stage)
        rng = np.random.default_rng(3)
        ranges = np.array([walked.method.substances[line.substance].strength for line in stage.lines])
        mass = np.array([share.mass_g for share in found])
        for _ in range(300):
            strength = rng.uniform(ranges[:, 0], ranges[:, 1]) * mass
            for share, part in zip(found, strength / strength.sum(), strict=True):
                self.assertTrue(share.low - 1e-12 <= part <= share.high + 1e-12)


class Resolution(unittest.TestCase):
    def test_three_quarters_of_a_gram_on_a_scale_of_grams(self) -> None:
        """Common practice, no source: 0.75 g on a 1 g scale is off by 67 %; answered by a bigger premix to dose from."""
        walked = walk(blend("7.5 g", "7.5 g", "4.5 g", "3.5 g", "1.25 g", "0.75 g", total=None))
        found = premix(walked, stage_of(walked, "b"))
        assert found is not None
        self.assertAlmostEqual(found.error, 0.5 / 0.75)
        self.assertEqual(found.times, 14)  # 10.5 g ± 0.5 is the first within a twentieth
        self.assertAlmostEqual(found.make_g, 350)
        self.assertAlmostEqual(found.take_g, 25)
        sentence = next(x.text for x in consequences(walked) if x.id == "weighing")
        self.assertIn("14 times as much, 350 g, and take 25 g", sentence)

    def test_with_a_fine_scale_there_is_nothing_to_mix(self) -> None:
        fine = [*SCALES, {"id": "spice", "name": "the spice scale", "capacity_g": 200, "resolution_g": 0.01}]
        walked = walk(blend("7.5 g", "0.75 g", total=None, scales=fine))
        self.assertIsNone(premix(walked, stage_of(walked, "b")))


class Overshot(unittest.TestCase):
    def test_accept_scale_up_or_top_up(self) -> None:
        walked = walk(blend("10 g", "6 g", "4 g", total=None))
        accept, scale_up, top_up = overshot(walked, "cassia", 9.0, weighed=["mace"])
        self.assertEqual(accept.grams, {"mace": 10, "cassia": 9, "nutmeg": 4})
        self.assertIn("39 % of the blend instead of 30 %", accept.words)
        self.assertEqual(scale_up.grams, {"mace": 15, "cassia": 9, "nutmeg": 6})
        self.assertAlmostEqual(scale_up.total_g, 30)
        self.assertEqual(top_up.add, {"mace": 5})
        shares = [scale_up.grams[id] / scale_up.total_g for id in ("mace", "cassia", "nutmeg")]
        self.assertEqual([round(s, 9) for s in shares], [0.5, 0.3, 0.2])

    def test_what_is_no_overshoot_is_refused(self) -> None:
        walked = walk(blend("10 g", "6 g", total=None))
        self.assertEqual(len(overshot(walked, "mace", 10.5)), 3)  # two lines are a blend
        for line, poured in (("cassia", 6.0), ("cassia", 2.0), ("cassia", float("nan")), ("w", 2000.0), ("gold", 9.0)):
            with self.subTest(line=line, poured=poured), self.assertRaises(DomainError):
                overshot(walked, line, poured)


if __name__ == "__main__":
    unittest.main()
