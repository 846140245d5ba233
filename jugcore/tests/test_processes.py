"""Starch, enzyme, caramel, foam and steeping: against tables from memory, against practice, and in what must hold for any of them."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.dosing.schema import DrinkReport, DrinkRequest, drink_report
from jugcore.errors import BadDocument, OutOfRange
from jugcore.matter.library import library
from jugcore.matter.matter import AMYLASE, BROWNED, FREE_STARCH, GELATINISED, STARCH_IN
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.physics import caramel, foam, starch
from jugcore.physics.ice import melts_g
from jugcore.reading.process_consequences import _minutes
from jugcore.reading.report import report
from jugcore.reading.schema import StageReport, WalkReport
from jugcore.suggesting.hold_plans import hold_plans
from jugcore.tests.random_methods import AMYLASE as SHEET
from jugcore.tests.tables import rows

Doc = dict[str, Any]


def line(id: str, substance: str, amount: str, **more: Any) -> Doc:
    return {"id": id, "substance": substance, "amount": amount, **more}


def cocoa(*, add_c: float = 68.0, where: str = "flask", minutes: float = 30.0, grams: str = "0.12 g", sheet: Doc | None = None) -> Doc:
    """Cocoa cooked, cooled, an enzyme stirred in and held."""
    return {
        "substances": {"amylase": SHEET if sheet is None else sheet},
        "stages": [
            {
                "id": "dry",
                "kind": "blend",
                "vessel": "bowl",
                "lines": [line("cocoa", "cocoa_low_fat", "150 g"), line("part", "white_sugar", "150 g")],
            },
            {"id": "wet", "kind": "add", "vessel": "pot", "lines": [line("water", "water", "600 g")]},
            {"id": "in", "kind": "join", "vessel": "pot", "source": "bowl"},
            {"id": "cook", "kind": "boil", "vessel": "pot", "until": {"minutes": 15}},
            {"id": "cool", "kind": "cool", "vessel": "pot", "to_c": add_c},
            {"id": "enzyme", "kind": "add", "vessel": "pot", "lines": [line("live", "amylase", grams)]},
            {"id": "hold", "kind": "hold", "vessel": "pot", "where": where, "for_min": minutes},
        ],
    }


def walked(document: Doc) -> Walk:
    return walk(parse_document(document))


def told(document: Doc) -> WalkReport:
    return report(walked(document))


def stage(document: Doc, id: str) -> StageReport:
    return next(each for each in told(document).stages if each.id == id)


class Amylase(unittest.TestCase):
    def test_put_in_above_its_window_is_warned_of_and_told_after(self) -> None:
        """Reference rows: B. amyloliquefaciens lives minutes at 90 °C, malt amylase minutes at 80."""
        for into_c in (80.0, 90.0):
            with self.subTest(into_c):
                document = cocoa(add_c=into_c)
                document["stages"].insert(-1, {"id": "down", "kind": "cool", "vessel": "pot", "to_c": 68, "how": "air"})
                found = told(document)
                warned = [each for each in found.consequences if each.id == "enzyme-hot-live"]
                self.assertEqual([each.tone for each in warned], ["stop"])
                self.assertIn(f"goes into {into_c:.0f} °C", warned[0].text)
                self.assertIn("Cool it below", warned[0].text)
                enzyme = stage(document, "hold").hold.enzyme  # type: ignore[union-attr]
                assert enzyme is not None and enzyme.before is not None and enzyme.thinned is not None
                self.assertTrue(0 <= enzyme.before <= enzyme.thinned.likely + 1e-9)
                if enzyme.before >= 0.05:
                    self.assertIn("was cut on the way here", enzyme.words)
        self.assertFalse([each for each in told(cocoa(add_c=68)).consequences if each.id.startswith("enzyme-hot")])

    def test_a_place_that_cools_through_the_window_says_the_cutting_is_done_on_the_way(self) -> None:
        for where in ("fridge", "air"):
            enzyme = stage(cocoa(where=where, minutes=600), "hold").hold.enzyme  # type: ignore[union-attr]
            assert enzyme is not None and enzyme.leaves_window_min is not None
            self.assertIn("cut on the way there", enzyme.words)
        kept = stage(cocoa(where="hob"), "hold").hold.enzyme  # type: ignore[union-attr]
        assert kept is not None
        self.assertIsNone(kept.leaves_window_min)

    def test_half_lives_within_a_factor_of_three_of_the_table(self) -> None:
        for row in rows("amylase_life"):
            book = library()[row["substance"]].enzyme
            assert book is not None and book.dies_c is not None
            half = float(starch.half_life_s(np.array([row.number("t_C")]), np.array([book.dies_c]))[0]) / 60
            with self.subTest(row=row.id):
                self.assertLess(abs(np.log(half / row.value)), np.log(3.0))

    def test_common_practice_of_a_standard_enzyme(self) -> None:
        """Common practice, no source: add below 70 °C, works at 63 to 70 °C in 10 to 30 min, best from 66 °C up."""
        best, dies = np.array([72.0]), np.array([85.0])
        self.assertGreater(float(starch.works_at(np.array([66.0]), best, dies)[0]), 0.6)
        self.assertEqual(float(starch.works_at(np.array([100.0]), best, dies)[0]), 0.0)
        for minutes, left in ((10, 1.0), (30, 0.2)):
            share = np.exp(-float(starch.thinning_rate_s(np.array([1.0]))[0]) * 60 * minutes)
            self.assertLess(share, left)
        held = stage(cocoa(), "hold").hold
        assert held is not None and held.enzyme is not None and held.enzyme.thinned is not None
        self.assertTrue(held.enzyme.promised)
        self.assertGreater(held.enzyme.thinned.likely, 0.8)

    def test_a_dose_lost_to_heat_is_never_mended_by_waiting_and_a_top_up_mends_it(self) -> None:
        lost = stage(cocoa(add_c=95), "hold").hold
        assert lost is not None and lost.enzyme is not None
        self.assertEqual(lost.enzyme.enough, "no")
        self.assertIsNone(lost.enzyme.more_min)
        self.assertIn("waiting does not help", lost.enzyme.words)
        top_up = lost.enzyme.top_up_g
        assert top_up is not None
        longer = stage(cocoa(add_c=95, minutes=600), "hold").hold
        assert longer is not None and longer.enzyme is not None
        self.assertEqual(longer.enzyme.enough, "no")
        mended = cocoa(add_c=95)
        mended["stages"] += [
            {"id": "again", "kind": "cool", "vessel": "pot", "to_c": 71},
            {"id": "more", "kind": "add", "vessel": "pot", "lines": [line("second", "amylase", f"{top_up:.4f} g")]},
            {"id": "rest", "kind": "hold", "vessel": "pot", "where": "hob", "for_min": 20},
        ]
        found = stage(mended, "rest").hold
        assert found is not None and found.enzyme is not None and found.enzyme.thinned is not None
        self.assertAlmostEqual(found.enzyme.thinned.likely, 1 - starch.THINNED_LEFT, delta=0.03)

    def test_one_that_stands_where_it_works_is_not_sent_there(self) -> None:
        """Far too little of it at the temperature it likes best: more of it, and neither warmed nor brought down."""
        for add_c, sent in ((71.0, None), (40.0, "warm it into that window"), (95.0, "bring it to")):
            with self.subTest(add_c=add_c):
                held = stage(cocoa(add_c=add_c, where="hob", grams="0.002 g"), "hold").hold
                assert held is not None and held.enzyme is not None
                self.assertIsNotNone(held.enzyme.top_up_g)
                for words in ("warm it into that window", "bring it to"):
                    self.assertEqual(words in held.enzyme.words, words == sent, held.enzyme.words)

    def test_a_hold_cut_short_says_how_many_minutes_more_and_they_do(self) -> None:
        short = stage(cocoa(where="hob", minutes=5, grams="0.08 g"), "hold").hold
        assert short is not None and short.enzyme is not None and short.enzyme.more_min is not None
        again = stage(cocoa(where="hob", minutes=5 + short.enzyme.more_min, grams="0.08 g"), "hold").hold
        assert again is not None and again.enzyme is not None and again.enzyme.thinned is not None
        self.assertAlmostEqual(again.enzyme.thinned.likely, 1 - starch.THINNED_LEFT, delta=0.02)

    def test_places_are_compared_over_the_same_hold(self) -> None:
        found = hold_plans(parse_document(cocoa(where="wrapped")), "hold")
        plans = {plan.where: plan for plan in found.plans}
        self.assertEqual(set(plans), {"hob", "flask", "wrapped", "air", "fridge"})
        self.assertEqual([plan.where for plan in found.plans if plan.chosen], ["wrapped"])
        self.assertEqual((found.window_low_c, found.window_high_c), (63, 72))
        minutes = [plans[where].in_window_min for where in ("hob", "flask", "wrapped", "air")]
        assert all(m is not None for m in minutes)
        self.assertEqual(minutes, sorted(minutes, reverse=True))
        self.assertAlmostEqual(minutes[0] or 0, 30.0, places=6)
        here = stage(cocoa(where="wrapped"), "hold").hold
        assert here is not None
        self.assertEqual(plans["wrapped"].ends_c, here.ends_c)
        for plan in found.plans:
            self.assertTrue(all(point.low_c <= point.likely_c <= point.high_c for point in plan.course))
        with self.assertRaises(BadDocument):
            hold_plans(parse_document(cocoa()), "cook")

    def test_an_enzyme_of_unknown_kind_gets_no_promise_and_cuts_nothing(self) -> None:
        for missing in ("activity", "activity_unit", "sheet", "dose_g_kg", "works_c", "dies_c"):
            sheet: Doc = dict(SHEET)
            sheet["enzyme"] = {key: value for key, value in sheet["enzyme"].items() if key != missing}
            with self.subTest(missing=missing):
                held = stage(cocoa(sheet=sheet), "hold").hold
                assert held is not None and held.enzyme is not None
                self.assertFalse(held.enzyme.promised)
                self.assertIsNone(held.enzyme.thinned)
                self.assertIn("No figures for", held.enzyme.why_not)
                said = {"dose_g_kg": "dose", "works_c": "where it works", "dies_c": "where it dies", "activity_unit": "activity"}
                self.assertIn(f"({said.get(missing, missing.replace('sheet', 'the sheet' + chr(39) + 's name'))})", held.enzyme.why_not)
                self.assertEqual(walked(cocoa(sheet=sheet)).end.made, {})

    def test_longer_and_more_never_leaves_more_starch(self) -> None:
        before = 1e9
        for minutes in (1, 5, 15, 40, 120):
            left = float(walked(cocoa(minutes=minutes, where="hob")).product.tracer[0, FREE_STARCH])
            self.assertLessEqual(left, before)
            before = left
        before = 1e9
        for grams in ("0.01 g", "0.05 g", "0.1 g", "0.5 g"):
            left = float(walked(cocoa(grams=grams)).product.tracer[0, FREE_STARCH])
            self.assertLessEqual(left, before)
            before = left

    def test_colder_holds_cut_less_and_a_flask_keeps_warmer_than_a_wrapped_pot(self) -> None:
        ends = {where: walked(cocoa(where=where)) for where in ("hob", "flask", "wrapped", "air", "fridge")}
        warm = [float(ends[where].product.temperature_c[0]) for where in ("hob", "flask", "wrapped", "air")]
        self.assertEqual(warm, sorted(warm, reverse=True))
        left = [float(ends[where].product.tracer[0, FREE_STARCH]) for where in ("hob", "flask", "wrapped", "air")]
        self.assertEqual(left, sorted(left))
        self.assertGreater(float(ends["flask"].product.tracer[0, AMYLASE]), 0)

    def test_what_is_cut_becomes_dextrin_and_takes_up_water(self) -> None:
        made = walked(cocoa()).end.made["heat"][0]
        self.assertLess(made[c.STARCH], 0)
        self.assertLess(made[c.WATER], 0)
        self.assertAlmostEqual(made[c.INDEX["dextrin"]] / -made[c.STARCH], 1 + starch.WATER_TAKEN, places=9)
        self.assertAlmostEqual(float(made.sum()), 0.0, places=9)


class Starch(unittest.TestCase):
    def test_ranges_of_the_table_gelatinise_in_water(self) -> None:
        """Midpoints of corn 67, potato 62, rice 73 °C (starch texts): half of it bursts there, all above, none below."""
        for id, middle in (("corn_starch", 67.0), ("potato_starch", 62.0), ("rice_flour", 72.0)):
            document: Doc = {
                "stages": [
                    {"id": "a", "kind": "add", "vessel": "p", "lines": [line("s", id, "20 g"), line("w", "water", "480 g")]},
                    {"id": "b", "kind": "heat", "vessel": "p", "to_c": middle},
                    {"id": "c", "kind": "hold", "vessel": "p", "for_min": 60},
                ]
            }
            with self.subTest(starch=id):
                self.assertAlmostEqual(float(walked(document).product.extent[0, GELATINISED]), 0.5, delta=0.12)
                document["stages"][1]["to_c"] = middle - 12
                self.assertEqual(float(walked(document).product.extent[0, GELATINISED]), 0.0)
                document["stages"][1]["to_c"] = middle + 14
                self.assertGreater(float(walked(document).product.extent[0, GELATINISED]), 0.99)

    def test_much_early_sugar_raises_gelatinising(self) -> None:
        low, high = starch.gelatinising_c(np.array([51.0]), np.array([68.0]), np.array([50.0]))
        self.assertAlmostEqual(float(low[0]), 63.5)
        self.assertGreater(float(high[0]), 75)

    def test_starch_of_spice_stays_in_its_cells_and_that_of_thickeners_runs_through_a_sieve(self) -> None:
        spiced = {"stages": [{"id": "a", "kind": "add", "vessel": "p", "lines": [line("g", "ground_ginger", "20 g"), line("w", "water", "500 g")]}]}
        self.assertEqual(float(walked(spiced).product.tracer[0, STARCH_IN]), 0.0)
        thick = {
            "stages": [
                {"id": "a", "kind": "add", "vessel": "p", "lines": [line("g", "corn_starch", "20 g"), line("w", "water", "500 g")]},
                {"id": "b", "kind": "strain", "vessel": "p", "into": "j"},
            ]
        }
        self.assertGreater(float(walked(thick).product.tracer[0, FREE_STARCH]), 17.0)

    def test_it_says_what_the_night_will_do(self) -> None:
        def verdict(grams: str) -> str:
            document: Doc = {
                "stages": [
                    {"id": "a", "kind": "add", "vessel": "p", "lines": [line("s", "corn_starch", grams), line("w", "water", "500 g")]},
                    {"id": "b", "kind": "heat", "vessel": "p", "to_c": 92},
                    {"id": "c", "kind": "hold", "vessel": "p", "for_min": 5},
                ]
            }
            return next(each.text for each in told(document).consequences if each.id == "starch")

        self.assertIn("should pour", verdict("4 g"))
        self.assertIn("Thickens", verdict("14 g"))
        self.assertIn("Sets", verdict("40 g"))


class Minutes(unittest.TestCase):
    def test_hours_from_an_hour_and_a_half_on_and_two_digits_of_either(self) -> None:
        for minutes, words in ((4.26, "4.3 min"), (89, "89 min"), (90, "1.5 h"), (600, "10 h"), (1440, "24 h")):
            self.assertEqual(_minutes(minutes), words)


class Built(unittest.TestCase):
    def drink(self, formula: Doc, dose: str, **more: Any) -> DrinkReport:
        ask = {"dose": dose, "base": [{"substance": "espresso", "amount": "40 g"}, {"substance": "whole_milk", "amount": "160 g"}], **more}
        return drink_report(parse_document(formula), DrinkRequest.model_validate(ask))

    def test_syrup_lies_below_milk_below_coffee_below_foam(self) -> None:
        syrup = {
            "name": "Syrup",
            "stages": [{"id": "a", "kind": "add", "vessel": "p", "lines": [line("s", "white_sugar", "60 g"), line("w", "water", "40 g")]}],
        }
        found = self.drink(syrup, "20 g").build
        self.assertEqual([layer.title for layer in found.layers], ["Syrup", "whole milk", "espresso"])
        cream = {
            "name": "Foam",
            "stages": [
                {"id": "a", "kind": "add", "vessel": "j", "lines": [line("m", "whole_milk", "20 g"), line("c", "heavy_cream", "30 g")]},
                {"id": "f", "kind": "aerate", "vessel": "j", "tool": "frother"},
            ],
        }
        found = self.drink(cream, "30 g").build
        self.assertEqual(found.layers[-1].title, "Foam")
        self.assertGreater(found.foam_ml, 3)

    def test_ice_by_the_heat_balance(self) -> None:
        """100 g of water at 20 °C melts 100·4.1868·20/333.6 = 25.1 g of wet ice; ten times as little ice melts all and leaves it warmer."""
        water = np.zeros(c.COUNT)
        water[c.WATER] = 100.0
        grams, ends = melts_g(water, 20.0, 100.0, 0.0)
        self.assertAlmostEqual(grams, 25.1, delta=0.05)
        self.assertEqual(ends, 0.0)
        grams, ends = melts_g(water, 20.0, 10.0, 0.0)
        self.assertEqual(grams, 10.0)
        self.assertAlmostEqual(ends, (100 * 4.1868 * 20 - 10 * 333.6) / (110 * 4.1868), delta=0.01)
        self.assertLess(melts_g(water, 20.0, 100.0, -18.0)[0], 25.1)
        self.assertEqual(melts_g(water, 20.0, 0.0, 0.0), (0.0, 20.0))
        self.assertEqual(melts_g(0 * water, 20.0, 100.0, 0.0), (0.0, 20.0))

    def test_floating_ice_takes_up_its_own_weight_and_the_cup_may_run_over(self) -> None:
        syrup = {
            "name": "Syrup",
            "stages": [{"id": "a", "kind": "add", "vessel": "p", "lines": [line("s", "white_sugar", "60 g"), line("w", "water", "40 g")]}],
        }
        found = self.drink(syrup, "20 g", at_c=6, ice_g=150, cup_ml=300).build
        assert found.ice is not None and found.fills_ml is not None
        self.assertAlmostEqual(found.ice.displaces_ml, 150 / 1.04, delta=3)
        assert found.room_ml is not None
        self.assertLess(found.room_ml, 0)
        self.assertTrue(any("runs over" in words for words in found.words))


class Caramel(unittest.TestCase):
    def of(self, to_c: float, **more: Any) -> Doc:
        return {
            "stages": [
                {"id": "a", "kind": "add", "vessel": "p", "lines": [line("s", "white_sugar", "500 g"), line("w", "water", "100 g")]},
                {"id": "b", "kind": "caramelise", "vessel": "p", "to_c": to_c, **more},
            ]
        }

    def test_colours_of_common_practice(self) -> None:
        """Common practice, no source: pale at 160, amber about 170 to 175, dark about 180, burnt or nearly above 190 °C."""
        colours = {}
        for t in (158, 172, 180, 198):
            found = stage(self.of(t), "b").caramel
            assert found is not None
            colours[t] = found.colour
        self.assertIn(colours[158], ("straw", "gold"))
        self.assertEqual((colours[172], colours[180]), ("amber", "dark"))
        self.assertIn(colours[198], ("very dark, bitter", "burnt"))

    def test_the_first_rest_of_the_textbooks(self) -> None:
        """35 min at 160 °C, by when a tenth is left as it was; the rate doubles in eight to twelve kelvin."""
        self.assertAlmostEqual(float(np.exp(-float(caramel.rate_a_minute(160)) * 35)), 0.1, delta=0.01)
        ratio = float(caramel.rate_a_minute(175)) / float(caramel.rate_a_minute(165))
        self.assertTrue(1.8 < ratio < 2.4)
        with self.assertRaises(OutOfRange):
            caramel.rate_a_minute(300)

    def test_all_its_water_leaves_and_browning_loses_more(self) -> None:
        found = walked(self.of(175))
        self.assertLess(float(found.product.water_g[0]), 1e-6)
        figures = found.step("b").figures
        self.assertAlmostEqual(float(figures["boiled_off_g"][0]), 100.1, delta=0.2)
        turned = float(found.product.tracer[0, BROWNED])
        self.assertAlmostEqual(float(figures["browning_off_g"][0]), turned * caramel.WATER_LOST, places=6)
        self.assertAlmostEqual(float(found.product.total_g[0]), 600 - float(found.end.away["steam"].sum()), places=6)

    def test_hotter_longer_and_fructose_brown_more(self) -> None:
        shares = [float(walked(self.of(t)).product.tracer[0, BROWNED]) for t in (150, 165, 180, 195)]
        self.assertEqual(shares, sorted(shares))
        self.assertGreater(float(walked(self.of(165, for_min=5)).product.tracer[0, BROWNED]), shares[1])
        honey = self.of(150)
        honey["stages"][0]["lines"][0]["substance"] = "honey"
        self.assertGreater(float(walked(honey).product.tracer[0, BROWNED]), shares[0])

    def test_cream_boils_up_in_it_and_the_pot_must_have_room(self) -> None:
        document = self.of(175)
        document["kitchen"] = {"pots": [{"id": "small", "name": "Small pan", "capacity_ml": 1500, "diameter_cm": 16}]}
        document["vessels"] = [{"id": "p", "pot": "small"}]
        document["stages"].append({"id": "c", "kind": "add", "vessel": "p", "lines": [line("cream", "heavy_cream", "300 g", temperature_c=70)]})
        found = told(document)
        into = next(each for each in found.stages if each.id == "c")
        self.assertTrue(any("erupts" in caution for caution in into.cautions))
        self.assertTrue(any(flow.target == "away:steam" and flow.mass_g > 5 for flow in into.flows))
        assert into.after.temperature_c is not None
        self.assertLess(into.after.temperature_c, 112)
        self.assertTrue(any(each.id == "erupts-c" and each.tone == "stop" for each in found.consequences))
        document["kitchen"]["pots"][0]["capacity_ml"] = 8000
        self.assertFalse(any(each.id == "erupts-c" for each in told(document).consequences))

    def test_milk_is_not_caramelised(self) -> None:
        document: Doc = {
            "stages": [
                {"id": "a", "kind": "add", "vessel": "p", "lines": [line("m", "whole_milk", "500 g")]},
                {"id": "b", "kind": "caramelise", "vessel": "p", "to_c": 170},
            ]
        }
        found = walked(document)
        self.assertEqual([fault.code for fault in found.faults], ["no_sugar_to_brown"])
        self.assertAlmostEqual(float(found.product.total_g[0]), 500.0)


class Foam(unittest.TestCase):
    def beaten(self, lines: list[Doc], tool: str = "frother", **more: Any) -> Doc:
        return {
            "stages": [{"id": "a", "kind": "add", "vessel": "j", "lines": lines}, {"id": "f", "kind": "aerate", "vessel": "j", "tool": tool, **more}]
        }

    def test_overrun_of_the_tables_lies_within_the_range(self) -> None:
        for row in rows("overrun"):
            found = stage(self.beaten([line("x", row["substance"], "300 g", temperature_c=4)], row["tool"]), "f").foam
            assert found is not None
            with self.subTest(row=row.id):
                self.assertTrue(found.overrun.low <= row.value <= found.overrun.high)

    def test_the_weighed_foam_mounds_floats_on_coffee_and_sinks_into_milk_foam(self) -> None:
        """Common practice, no source: milk 20, heavy cream 30, syrup 20; cold foam floats on coffee, heavier than milk foam."""
        lines = [
            line("m", "whole_milk", "20 g"),
            line("c", "heavy_cream", "30 g"),
            line("s", "white_sugar", "13 g"),
            line("w", "water", "7 g", temperature_c=4),
        ]
        found = stage(self.beaten([*lines[:2], {**lines[2], "temperature_c": 4}, lines[3]]), "f").foam
        assert found is not None
        self.assertEqual(found.verdict, "mounds")
        self.assertIn("floats on coffee", found.floats)
        self.assertIn("sinks into milk foam", found.floats)

    def test_too_little_fat_runs_too_much_stiffens_and_warm_stays_flat(self) -> None:
        for lines, verdict in (
            ([line("m", "whole_milk", "300 g")], "froth"),
            ([line("m", "whole_milk", "200 g"), line("c", "heavy_cream", "50 g")], "runs"),
            ([line("c", "heavy_cream", "300 g")], "stiff"),
            ([line("c", "heavy_cream", "300 g", temperature_c=18)], "flat"),
            ([line("w", "water", "300 g")], "flat"),
        ):
            found = stage(self.beaten(lines), "f").foam
            assert found is not None
            with self.subTest(verdict=verdict):
                self.assertEqual(found.verdict, verdict)

    def test_whipped_coffee_holds_in_both_ratios_and_espresso_does_not(self) -> None:
        """By mass 8 : 16 : 15 and 10 : 100 : 60 whip; espresso is too dilute (common practice, no source)."""
        for lines, verdict in (
            ([line("c", "instant_coffee", "8 g"), line("s", "caster_sugar", "16 g"), line("w", "water", "15 g")], "whips"),
            ([line("c", "instant_coffee", "10 g"), line("s", "caster_sugar", "100 g"), line("w", "water", "60 g")], "whips"),
            ([line("c", "instant_coffee", "6 g"), line("w", "water", "60 g")], "flat"),
        ):
            found = stage(self.beaten(lines, "hand_mixer"), "f").foam
            assert found is not None
            with self.subTest(lines=lines):
                self.assertEqual(found.verdict, verdict)
                self.assertTrue(0 <= found.overrun.low <= found.overrun.likely <= found.overrun.high <= 350)
                self.assertTrue(verdict == "flat" or found.overrun.likely > 100)

    def test_whisking_times_of_whipped_coffee(self) -> None:
        """Common practice, no source: mousse, floats, soft peaks, stiff, very thick at 30, 60, 90, 120, 180 s, ± 20 s."""
        for seconds, words in ((10, "still liquid"), (45, "a mousse"), (75, "floats"), (100, "soft peaks"), (140, "stiff"), (200, "very thick")):
            self.assertEqual(foam.coffee_is(seconds), words)

    def test_gum_holds_up_what_has_too_little_fat(self) -> None:
        thin = [line("m", "whole_milk", "200 g"), line("c", "heavy_cream", "50 g")]
        found = stage(self.beaten([*thin, line("x", "xanthan", "0.5 g")]), "f").foam
        assert found is not None
        self.assertEqual(found.verdict, "mounds")
        self.assertIn("gum", found.why)

    def test_air_weighs_nothing_and_half_the_time_brings_less(self) -> None:
        cream = [line("c", "heavy_cream", "300 g")]
        whole, half = (walked(self.beaten(cream, seconds=s)) for s in (60.0, 15.0))
        self.assertAlmostEqual(float(whole.product.total_g[0]), 300.0, places=9)
        self.assertGreater(float(whole.product.air_ml[0]), float(half.product.air_ml[0]))
        self.assertAlmostEqual(foam.overrun_by_weighing(250, 125), 100.0)

    def test_a_siphon_is_not_filled_past_its_line(self) -> None:
        found = walked(self.beaten([line("c", "heavy_cream", "700 g")], "siphon", holds_ml=500.0))
        self.assertEqual([fault.code for fault in found.faults], ["over_the_fill_line"])
        self.assertEqual([fault.code for fault in walked(self.beaten([line("c", "heavy_cream", "400 g")], "siphon", holds_ml=500.0)).faults], [])


if __name__ == "__main__":
    unittest.main()
