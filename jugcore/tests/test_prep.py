"""Fruit trimmed and pressed, with yields as ranges; spice whole or ground."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.errors import DomainError
from jugcore.matter.library import library
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.reading.consequences import consequences
from jugcore.reading.report import report
from jugcore.scaling.schema import ScaleRequest, scale_report


class Yields(unittest.TestCase):
    """Common practice, no source: firm gourd flesh gives half its mass as juice, a hand-squeezed cloth less."""

    def pressed(self, **more: Any) -> dict[str, Any]:
        flesh = {"id": "flesh", "substance": "pear_flesh", "amount": "500 g"}
        follow = [{"id": "water", "substance": "water", "amount": "as the juice"}, {"id": "sugar", "substance": "white_sugar", "amount": "as both"}]
        return {
            "vessels": [{"id": "juice", "name": "Juice"}],
            "stages": [
                {"id": "in", "kind": "add", "vessel": "bowl", "lines": [flesh]},
                {"id": "press", "kind": "press", "vessel": "bowl", "into": "juice", "yield_fraction": 0.5, **more},
                {"id": "rest", "kind": "add", "vessel": "juice", "lines": follow},
            ],
        }  # fmt: skip

    def test_half_of_it_is_juice_and_a_range_reaches_the_product(self) -> None:
        found = report(walk(parse_document(self.pressed(yield_low=0.45, yield_high=0.5))))
        press = next(s.gives for s in found.stages if s.gives is not None)
        self.assertEqual([round(x, 9) for x in (press.gives_g, press.low_g, press.high_g)], [250.0, 225.0, 250.0])
        self.assertAlmostEqual(press.product_high_g / press.product_low_g, 250 / 225, delta=0.01)

    def trimmed(self, **more: Any) -> dict[str, Any]:
        """As bought, trimmed, pressed; the rest follows the juice."""
        doc = self.pressed(yield_low=0.45, yield_high=0.5)
        doc["stages"].insert(1, {"id": "trim", "kind": "trim", "vessel": "bowl", "yield_fraction": 0.8, **more})
        return doc

    def test_as_bought_trimmed_and_pressed(self) -> None:
        walked = walk(parse_document(self.trimmed(yield_low=0.75, yield_high=0.85)))
        grams = {id: round(float(g[0]), 9) for id, g in walked.end.lines.items()}
        self.assertEqual(grams, {"flesh": 500, "trim": 400, "press": 200, "water": 200, "sugar": 400})
        self.assertEqual(walked.method.started, ("press", "water", "sugar"))
        self.assertAlmostEqual(float(walked.end.vessels["cake:trim"].total_g[0]), 100)
        found = report(walked)
        trim, press = (s.gives for s in found.stages if s.gives is not None)
        assert trim is not None and press is not None
        self.assertEqual([round(x, 9) for x in (trim.gives_g, trim.low_g, trim.high_g)], [400, 375, 425])
        # The range of one beside the other as it is, and both at their worst and best.
        for gives, least, most in ((trim, 0.75 * 0.5, 0.85 * 0.5), (press, 0.8 * 0.45, 0.8 * 0.5)):
            self.assertAlmostEqual(gives.product_high_g / gives.product_low_g, most / least, delta=0.002)
            self.assertAlmostEqual(gives.all_high_g / gives.all_low_g, (0.85 * 0.5) / (0.75 * 0.45), delta=0.002)
        # Of the starting mixture the fruit as bought is no part: its juice is.
        self.assertEqual([line.share_started for line in found.lines], [None, 0.25, 0.5])
        self.assertIn("fingers", found.stages[1].cautions[0])
        self.assertEqual(found.stages[1].summary, "80 % kept")

    def test_without_ranges_a_yield_has_one_product(self) -> None:
        doc = self.trimmed()
        doc["stages"][2].pop("yield_low"), doc["stages"][2].pop("yield_high")
        for stage in report(walk(parse_document(doc))).stages:
            if stage.gives is not None:
                g = stage.gives
                self.assertEqual((g.low_g, g.high_g), (g.gives_g, g.gives_g))
                self.assertEqual(len({g.product_low_g, g.product_high_g, g.all_low_g, g.all_high_g}), 1)

    def test_amounts_follow_what_was_trimmed_and_what_was_trimmed_off_can_be_used(self) -> None:
        doc = self.trimmed()
        doc["stages"] = [
            *doc["stages"][:2],
            {"id": "sweeten", "kind": "add", "vessel": "bowl", "lines": [
                {"id": "a", "substance": "white_sugar", "amount": "half the trimmed pear"},
                {"id": "b", "substance": "water", "amount": "as both"},
                {"id": "c", "substance": "water", "amount": "as the trimmed"}]},
            {"id": "peel", "kind": "join", "vessel": "bowl", "source": "cake:trim", "amount": "all"},
        ]  # fmt: skip
        walked = walk(parse_document(doc))
        self.assertEqual([round(float(walked.end.lines[id][0]), 6) for id in ("a", "b", "c", "peel")], [200, 600, 400, 95])  # 5 g stay on the board
        self.assertEqual(walked.method.vessel_name("cake:trim"), "the trimmings")
        self.assertEqual(walked.method.amount_texts["a"], "half trimmed pear")
        doc["stages"][2]["lines"][1]["amount"] = "as all so far"
        self.assertEqual(round(float(walk(parse_document(doc)).end.lines["b"][0]), 6), 600)

    def test_a_yield_outside_its_own_range_is_refused(self) -> None:
        with self.assertRaises(DomainError):
            parse_document(self.pressed(yield_low=0.55))

    def test_what_the_press_really_gave_drives_the_rest(self) -> None:
        short = walk(parse_document(self.pressed()), given={"stages.press.yield_fraction": 0.43})
        self.assertAlmostEqual(float(short.end.lines["press"][0]), 215, places=6)
        self.assertAlmostEqual(float(short.end.lines["water"][0]), 215, places=6)
        self.assertAlmostEqual(float(short.end.lines["sugar"][0]), 430, places=6)

    def test_scaled_to_what_a_yield_must_give(self) -> None:
        method = parse_document(self.trimmed())
        for stage, grams, fruit in (("press", 430, 1075), ("trim", 300, 375)):
            with self.subTest(stage=stage):
                found = scale_report(method, ScaleRequest(by="line", line=stage, value=grams))
                flesh = next(w for w in found.weighings if w.line == "flesh")
                self.assertAlmostEqual(flesh.exact_g * found.cooks, fruit, places=3)
        with self.assertRaises(DomainError):
            scale_report(method, ScaleRequest(by="line", line="rest", value=100))


class WholeSpice(unittest.TestCase):
    """Common practice, no source: left whole a spice gives less, and slower."""

    def steeped(self, *lines: dict[str, Any], mill: bool = False, strain: bool = True) -> Walk:
        stages: list[dict[str, Any]] = [{"id": "spice", "kind": "blend", "vessel": "mortar", "lines": list(lines)}]
        if mill:
            stages.append({"id": "mill", "kind": "mill", "vessel": "mortar", "loss_fraction": 0.02})
        syrup = [{"id": "water", "substance": "water", "amount": "500 g"}, {"id": "sugar", "substance": "white_sugar", "amount": "500 g"}]
        stages += [
            {"id": "start", "kind": "add", "vessel": "pot", "lines": syrup},
            {"id": "in", "kind": "join", "vessel": "pot", "source": "mortar", "amount": "all"},
        ]
        if strain:
            stages.append({"id": "strain", "kind": "strain", "vessel": "pot", "into": "jug"})
        return walk(parse_document({"stages": stages}))

    def said(self, walked: Walk) -> str | None:
        return next((x.text for x in consequences(walked) if x.id == "whole"), None)

    def test_every_form_has_its_other(self) -> None:
        known = library()
        pairs = [s for s in known.values() if s.other_form]
        self.assertGreaterEqual(len(pairs), 20)
        for substance in pairs:
            other = known[substance.other_form]
            self.assertEqual(other.other_form, substance.id)
            self.assertNotEqual(other.is_ground, substance.is_ground)
            self.assertEqual(other.composition_g_per_100g(), substance.composition_g_per_100g())
            self.assertEqual(other.strength, substance.strength)

    def test_whole_and_strained_out_is_said_and_ground_is_not(self) -> None:
        clove = {"id": "c", "substance": "whole_clove", "amount": "6 g"}
        mace = {"id": "m", "substance": "mace", "amount": "6 g"}
        anise = {"id": "a", "substance": "whole_star_anise", "amount": "2 stars"}
        alone = self.said(self.steeped(clove, mace))
        assert alone is not None
        self.assertTrue(alone.startswith("Clove goes in whole and is strained out"), alone)
        both = self.said(self.steeped(clove, mace, anise))
        assert both is not None
        self.assertTrue(both.startswith("Clove and star anise go in whole and are strained out"), both)
        self.assertIsNone(self.said(self.steeped(clove, anise, mill=True)))
        self.assertIsNone(self.said(self.steeped(mace)))
        self.assertIsNone(self.said(self.steeped(clove, strain=False)))

    def test_what_was_added_after_the_mill_is_still_whole(self) -> None:
        walked = self.steeped({"id": "m", "substance": "mace", "amount": "6 g"}, mill=True)
        document = walked.method.document.model_dump(mode="json", exclude_none=True)
        document["stages"].insert(
            3, {"id": "late", "kind": "add", "vessel": "pot", "lines": [{"id": "n", "substance": "whole_nutmeg", "amount": "half a nutmeg"}]}
        )
        after = walk(parse_document(document))
        self.assertAlmostEqual(float(after.end.lines["n"][0]), 2.75)
        self.assertIn("Nutmeg goes in whole", self.said(after) or "")

    def test_whole_pieces_stay_on_the_cloth_and_dust_goes_through(self) -> None:
        def in_jug(substance: str, mill: bool) -> float:
            return float(self.steeped({"id": "c", "substance": substance, "amount": "20 g"}, mill=mill).product.insoluble_g[0])

        self.assertEqual(in_jug("whole_clove", False), 0.0)
        ground, milled = in_jug("clove", False), in_jug("whole_clove", True)
        self.assertGreater(ground, 0.1)
        self.assertAlmostEqual(milled / ground, 0.98, places=4)

    def test_pieces_and_pods(self) -> None:
        for text, substance, grams in (
            ("6 cloves", "whole_clove", 0.48),
            ("half a pod", "vanilla_pod", 1.5),
            ("2 sticks", "whole_cassia", 12.0),
            ("10 pods", "whole_cardamom", 2.0),
        ):
            with self.subTest(text=text):
                walked = self.steeped({"id": "x", "substance": substance, "amount": text})
                self.assertAlmostEqual(float(walked.end.lines["x"][0]), grams)
                self.assertGreater(walked.method.weighed["x"].high_g - walked.method.weighed["x"].low_g, 0.3 * grams)


if __name__ == "__main__":
    unittest.main()
