"""The band of water activity: what minerals do, how well concentration is known, and what may crystallise."""

from __future__ import annotations

import csv
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.matter.kinds import contributions_of_kind
from jugcore.matter.minerals import as_table_salt
from jugcore.matter.substance import KINDS
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.physics.liquor import liquor
from jugcore.physics.water_activity import water_activity
from jugcore.reading.catalogue import READING_OF
from jugcore.reading.keeping.assessment import KeepingReport
from jugcore.reading.readings.base import Reading
from jugcore.reading.report import report

Doc = dict[str, Any]
FREEZING = Path(__file__).parent / "data" / "freezing_points.csv"
#: Kelvin a unit of −ln a at 0 °C: R T² ÷ heat of fusion, 8.314·273.15² ÷ 6010 (definition).
_K_PER_LN_A = 8.314 * 273.15**2 / 6010.0


def of(*lines: tuple[str, str], substances: Doc | None = None, stages: tuple[Doc, ...] = (), **document: Any) -> Walk:
    ids = [{"id": f"l{i}", "substance": substance, "amount": amount} for i, (substance, amount) in enumerate(lines)]
    first = {"id": "a", "kind": "add", "vessel": "p", "lines": ids}
    return walk(parse_document({"stages": [first, *stages], "substances": substances or {}, **document}))


def aw(walked: Walk) -> Reading:
    return READING_OF["water_activity"](walked)


def keeping(walked: Walk) -> KeepingReport:
    return report(walked).keeping


class Minerals(unittest.TestCase):
    def test_freezing_points(self) -> None:
        with FREEZING.open(newline="", encoding="utf-8") as file:
            rows = list(csv.DictReader(file))
        self.assertGreaterEqual(len(rows), 7)
        for row in rows:
            with self.subTest(row["what"]):
                parts = dict(part.strip().split(" ") for part in row["composition"].split(";"))
                masses = {"water": float(row["water_g"])} | {name: float(grams) for name, grams in parts.items()}
                freezes = _K_PER_LN_A * float(np.log(water_activity(masses, 0.0)))
                self.assertAlmostEqual(freezes, float(row["freezes_c"]), delta=float(row["tol_c"]))

    def test_every_kind_has_its_osmoles_and_none_does_more_than_salt(self) -> None:
        salt = {kind: as_table_salt(contributions_of_kind(kind).minerals_osmol_per_g) for kind in KINDS}
        for kind, like in salt.items():
            self.assertTrue(0 < like <= 0.9, kind)
        self.assertAlmostEqual(salt["dairy"], 0.47, delta=0.005)
        for bound in ("nut", "cocoa", "spice"):
            self.assertLess(salt[bound], salt["dairy"], bound)

    def test_the_same_ash_binds_less_water_in_nuts_than_in_milk(self) -> None:
        ash = {"water": 60.0, "insoluble": 20.0, "other_ash": 20.0}
        found = {
            kind: float(
                aw(of(("x", "500 g"), ("water", "200 g"), substances={"x": {"title": "It", "kind": kind, "composition_g_per_100g": ash}})).value[0]
            )
            for kind in ("salt", "dairy", "cocoa", "nut")
        }
        self.assertLess(found["salt"], found["dairy"])
        self.assertLess(found["dairy"], found["cocoa"])
        self.assertLess(found["cocoa"], found["nut"])

    def test_half_of_what_ash_does_is_in_doubt(self) -> None:
        for kind in ("dairy", "nut", "cocoa"):
            with self.subTest(kind):

                def with_ash(grams: float, kind: str = kind) -> Reading:
                    composition = {"water": 80.0, "insoluble": 20.0 - grams, "other_ash": grams}
                    return aw(of(("x", "500 g"), substances={"x": {"title": "It", "kind": kind, "composition_g_per_100g": composition}}))

                none, much = with_ash(0.0), with_ash(8.0)
                does = float(none.value[0] - much.value[0])
                wider = float((much.high - much.value - (none.high - none.value))[0])
                self.assertGreater(does, 0.002)
                self.assertGreaterEqual(wider + 1e-9, 0.5 * does)

    def test_sauces_of_nut_sesame_and_much_cocoa_are_not_let_off(self) -> None:
        """Each reached a verdict by counting bound minerals as table salt."""
        for title, lines in {
            "sesame": (("tahini", "300 g"), ("white_sugar", "250 g"), ("water", "130 g")),
            "hazelnut": (("hazelnut_paste", "300 g"), ("white_sugar", "250 g"), ("water", "150 g")),
            "cocoa": (("cocoa_alkalised", "150 g"), ("white_sugar", "420 g"), ("water", "230 g")),
            "cocoa, natural": (("cocoa_powder", "180 g"), ("white_sugar", "420 g"), ("water", "230 g")),
        }.items():
            with self.subTest(title):
                walked = of(*lines)
                found = keeping(walked)
                assert found.aw_high is not None
                self.assertGreaterEqual(found.aw_high, 0.88)
                self.assertEqual(found.verdict, "ask")


class Concentration(unittest.TestCase):
    def test_a_mixture_is_known_to_no_better_than_0_015(self) -> None:
        for lines in (
            (("white_sugar", "600 g"), ("honey", "60 g"), ("water", "400 g")), (("whole_milk", "500 g"), ("white_sugar", "100 g")),
            (("glucose_syrup", "400 g"), ("water", "300 g")), (("lemon_juice", "200 g"), ("white_sugar", "100 g")),
        ):  # fmt: skip
            found = aw(of(*lines))
            self.assertGreaterEqual(float((found.value - found.low)[0]), 0.015)
            self.assertTrue(float((found.high - found.value)[0]) >= 0.015 or float(found.high[0]) == 1.0)

    def test_the_band_holds_what_half_a_degree_brix_does_and_a_whole_one_where_it_is_cloudy_or_boiled(self) -> None:
        def syrup(brix: float, *more: tuple[str, str], stages: tuple[Doc, ...] = ()) -> Reading:
            return aw(of(("white_sugar", f"{10 * brix:g} g"), ("water", f"{1000 - 10 * brix:g} g"), *more, stages=stages))

        boil: Doc = {"id": "b", "kind": "boil", "vessel": "p", "until": {"brix": 63.0}}
        for brix in (30.0, 50.0, 60.0, 63.0):
            clear, off = syrup(brix), syrup(brix - 0.5)
            self.assertGreaterEqual(float(clear.high[0]), float(off.value[0]))
        boiled, off = syrup(55.0, stages=(boil,)), syrup(62.0)
        self.assertGreaterEqual(float(boiled.high[0]) + 1e-6, float(off.value[0]))
        cloudy = syrup(60.0, ("cassia", "30 g"))
        self.assertGreater(float((cloudy.high - cloudy.value)[0]), float((syrup(60.0).high - syrup(60.0).value)[0]) + 0.002)

    def test_a_syrup_whose_band_reaches_the_edge_is_asked_for_its_ph(self) -> None:
        """0.88 is an edge of the table of what is not packaged: 0.874 to 0.878 lies nearer to it than anybody measures."""
        for brix in (63.0, 63.3, 63.6):
            walked = of(("white_sugar", f"{10 * brix:g} g"), ("water", f"{1000 - 10 * brix:g} g"))
            self.assertTrue(0.874 <= float(aw(walked).value[0]) <= 0.879, brix)
            found = keeping(walked)
            self.assertEqual(found.verdict, "ask")
            self.assertIn("ph", [question.code for question in found.questions])
        self.assertEqual(keeping(of(("white_sugar", "800 g"), ("water", "400 g"))).verdict, "not_controlled")


class Crystals(unittest.TestCase):
    def test_the_liquor_over_dextrose_decides(self) -> None:
        """60 °Bx of dextrose keeps 37 % dissolved at 4 °C: water activity about 0.93, where it was told 0.85."""
        walked = of(("dextrose", "660 g"), ("water", "340 g"), keeping={"ph": 6.0})
        found = keeping(walked)
        assert found.aw_high is not None and found.aw_low is not None
        self.assertTrue(0.91 < found.aw_low < 0.935 < found.aw_high < 0.96, (found.aw_low, found.aw_high))
        self.assertEqual(found.verdict, "controlled")
        self.assertIn("liquor", found.because)
        said = next(each for each in report(walked).consequences if each.id == "dextrose")
        self.assertIn("g per kg", said.text)
        reading = READING_OF["crystals"](walked)
        self.assertTrue(200 < float(reading.value[0]) < 450)
        margin = READING_OF["glucose_margin"](walked)
        self.assertLess(float(margin.high[0]), -100)

    def test_what_stays_dissolved_changes_nothing(self) -> None:
        thin = of(("dextrose", "250 g"), ("water", "750 g"))
        found = aw(thin)
        self.assertFalse([name for name, _, _ in found.inputs if "crystals" in name])
        self.assertEqual([each.id for each in report(thin).consequences if each.id == "dextrose"], [])

    def test_a_wetter_liquor_is_never_left_out_of_the_band(self) -> None:
        """Over mixtures of sucrose, dextrose, fructose and lactose: the band reaches what is over the crystals."""
        rng = np.random.default_rng(31)
        met = 0
        for _ in range(60):
            sugars = rng.uniform(0, 1, 4) * rng.integers(0, 2, 4)
            if not sugars.sum() > 0:
                continue
            share = sugars / sugars.sum() * rng.uniform(40, 72)
            composition = dict(zip(("sucrose", "glucose", "fructose", "lactose"), map(float, share), strict=True)) | {
                "water": float(100 - share.sum())
            }
            walked = of(("x", "1 kg"), substances={"x": {"title": "It", "kind": "sugar", "composition_g_per_100g": composition}})
            left = liquor(walked.product.mass_g, np.array([4.0]), worst=False)
            if not bool(walked.product.is_liquid[0]) or float(left.crystals_g[0]) < 5:
                continue
            met += 1
            over = water_activity({name: float(left.mass_g[0, c.INDEX[name]]) for name in ("water", *composition)})
            found = keeping(walked)
            assert found.aw_high is not None
            self.assertGreaterEqual(found.aw_high, float(over))
        self.assertGreater(met, 20)

    def test_what_drops_and_what_stays_is_what_there_was(self) -> None:
        rng = np.random.default_rng(32)
        mass = rng.uniform(0, 300, (200, c.COUNT))
        for worst in (False, True):
            found = liquor(mass, np.full(200, 4.0), worst=worst)
            np.testing.assert_allclose(found.mass_g.sum(axis=1) + found.crystals_g, mass.sum(axis=1), rtol=1e-6)
            self.assertTrue(bool((found.mass_g >= -1e-9).all()))
        likely, most = liquor(mass, np.full(200, 4.0), worst=False), liquor(mass, np.full(200, 4.0), worst=True)
        self.assertTrue(bool((most.crystals_g >= likely.crystals_g - 1e-6).all()))

    def test_milks_own_sugar_is_told_with_its_grams(self) -> None:
        walked = of(("condensed_milk", "600 g"), ("whole_milk", "200 g"))
        said = next(each for each in report(walked).consequences if each.id == "sandy")
        self.assertRegex(said.text, r"\d+ g per kg may drop")
        self.assertGreater(float(READING_OF["crystals"](walked).value[0]), 10)


class Dry(unittest.TestCase):
    def test_dry_is_dry_in_every_part(self) -> None:
        for damp in ((("cocoa_powder", "400 g"), ("heavy_cream", "60 g")), (("cocoa_powder", "300 g"), ("honey", "60 g")),
                     (("hazelnut", "400 g"), ("whole_milk", "30 g")), (("icing_sugar", "500 g"), ("pear_juice", "40 g"))):  # fmt: skip
            found = keeping(of(*damp))
            self.assertFalse(found.dry, damp)
            self.assertNotEqual(found.verdict, "not_controlled", damp)
        for dry in (
            (("cocoa_powder", "400 g"), ("icing_sugar", "200 g")),
            (("white_sugar", "500 g"), ("vanilla_extract", "4 g")),
            (("cassia", "20 g"),),
        ):
            self.assertTrue(keeping(of(*dry)).dry, dry)

    def test_a_branch_of_cream_in_a_paste_is_not_dry_either(self) -> None:
        join: tuple[Doc, ...] = (
            {"id": "c", "kind": "add", "vessel": "jug", "lines": [{"id": "cream", "substance": "heavy_cream", "amount": "40 g"}]},
            {"id": "j", "kind": "join", "vessel": "p", "source": "jug"},
        )
        self.assertFalse(keeping(of(("cocoa_powder", "400 g"), stages=join, finished="p")).dry)


if __name__ == "__main__":
    unittest.main()
