"""Figures that must be what they are called: energy, sweetness, sugars by either count."""

from __future__ import annotations

import csv
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from jugcore.dosing.drink import drink_of
from jugcore.errors import DomainError
from jugcore.exchange.exports import lines_table
from jugcore.matter.library import library
from jugcore.matter.matter import ADDED_SUGAR, FREE_SUGAR
from jugcore.matter.substance_document import as_document
from jugcore.method.bottle_fills import into_containers
from jugcore.method.compile import parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.scales import resolution_g, scale_for
from jugcore.method.stages import Aerate
from jugcore.method.walk import Walk, walk
from jugcore.physics.energy import KCAL
from jugcore.physics.foam import SECONDS, Tool, foam
from jugcore.reading.catalogue import READING_OF, readings
from jugcore.reading.consequences import dissolves_c
from jugcore.reading.costs import product_cost
from jugcore.reading.coumarin import coumarin
from jugcore.reading.processes.outcomes import foam_report
from jugcore.reading.processes.schema import FoamReport
from jugcore.reading.report import report
from jugcore.reading.stage_names import named_otherwise
from jugcore.scaling.schema import ScaleRequest, scale_report
from jugcore.scaling.weighing import weighings

DATA = Path(__file__).parent / "data"


def mixed(*lines: tuple[str, str], **more: Any) -> Walk:
    """Lines put into one bowl, walked."""
    stage = {
        "id": "in",
        "kind": "add",
        "vessel": "bowl",
        "lines": [{"id": f"l{n}", "substance": id, "amount": text} for n, (id, text) in enumerate(lines)],
    }
    return walk(parse_document({"stages": [stage, *more.pop("stages", [])], **more}))


def reads(walked: Walk, id: str) -> float:
    return float(READING_OF[id](walked).value[0])


class Energy(unittest.TestCase):
    def test_thirty_labels(self) -> None:
        """Regulation (EU) 1169/2011 against tables that use other factors for the same: within 9 %."""
        with (DATA / "energy_labels.csv").open(newline="", encoding="utf-8") as file:
            rows = list(csv.DictReader(file))
        self.assertGreaterEqual(len(rows), 20)
        for row in rows:
            with self.subTest(row["id"], source=row["source"]):
                stated = float(row["kcal"])
                self.assertAlmostEqual(100 * float(library()[row["id"]].mass_fraction @ KCAL), stated, delta=0.09 * stated)

    def test_caramel_keeps_what_its_sugar_had(self) -> None:
        """100 g of caramel, about 387 kcal: all of it is carbohydrate that is digested (Regulation (EU) 1169/2011)."""
        found = mixed(("white_sugar", "300 g"), stages=[{"id": "c", "kind": "caramelise", "vessel": "bowl", "to_c": 180}])
        self.assertAlmostEqual(reads(found, "energy_100g"), 387, delta=20)


class Sweetness(unittest.TestCase):
    def test_syrups_by_what_is_published_of_them(self) -> None:
        """Sweetener texts, from memory: of dry matter, but agave as it is."""
        dry = {"glucose_syrup": (0.4, 0.55), "high_de_glucose_syrup": (0.6, 0.75), "light_corn_syrup": (0.4, 0.55), "maltodextrin": (0.05, 0.2)}
        for id, (low, high) in dry.items():
            with self.subTest(id):
                share = 1 - float(library()[id].mass_fraction[0])
                self.assertTrue(low <= reads(mixed((id, "100 g")), "sweetness") / 100 / share <= high)
        agave = READING_OF["sweetness"](mixed(("agave_syrup", "100 g")))
        self.assertTrue(float(agave.low[0]) < 100 < float(agave.value[0]) < float(agave.high[0]) <= 150)

    def test_it_is_as_much_sweeter_however_it_is_thinned(self) -> None:
        whole, thin = mixed(("agave_syrup", "100 g")), mixed(("agave_syrup", "100 g"), ("water", "900 g"))
        self.assertAlmostEqual(reads(whole, "sweetness"), 10 * reads(thin, "sweetness"), places=6)


class Sugars(unittest.TestCase):
    def test_juice_is_free_and_not_added(self) -> None:
        """WHO 2015: free sugars are those added and those of honey, syrups and juice; a juice's own are not added (common practice of labels)."""
        found = mixed(("pear_juice", "500 g"), ("white_sugar", "100 g"), ("honey", "10 g"), ("whole_milk", "200 g"))
        free, added = float(found.product.tracer[0, FREE_SUGAR]), float(found.product.tracer[0, ADDED_SUGAR])
        juice = 500 * float(library()["pear_juice"].free_sugar_fraction)
        self.assertAlmostEqual(free - added, juice, places=6)
        self.assertAlmostEqual(
            added, 100 * float(library()["white_sugar"].free_sugar_fraction) + 10 * float(library()["honey"].free_sugar_fraction), places=6
        )
        working = {title: value for title, value, _ in READING_OF["sugars_100g"](found).inputs}
        self.assertAlmostEqual(working["of which free (WHO)"], free)
        self.assertAlmostEqual(working["of which added (no juice's)"], added)


class Crystals(unittest.TestCase):
    def test_what_may_crystallise_agrees_with_the_margins(self) -> None:
        rng = np.random.default_rng(16)
        for _ in range(120):
            sucrose, invert, dextrose, milk = rng.uniform(0, 700), rng.uniform(0, 300), rng.uniform(0, 250), rng.uniform(0, 200)
            found = mixed(
                ("white_sugar", f"{sucrose:.1f} g"), ("invert_syrup", f"{invert:.1f} g"), ("dextrose", f"{dextrose:.1f} g"),
                ("condensed_milk", f"{milk:.1f} g"), ("water", f"{rng.uniform(150, 500):.1f} g"),
            )  # fmt: skip
            drops = READING_OF["crystals"](found)
            margins = [READING_OF[id](found) for id in ("cold_margin", "glucose_margin", "lactose_margin")]
            if not all(np.isfinite(each.low[0]) for each in margins) or not np.isfinite(drops.value[0]):
                continue
            self.assertEqual(float(drops.high[0]) > 0, any(float(each.low[0]) < 0 for each in margins))
            if float(drops.low[0]) > 0:
                self.assertTrue(any(float(each.high[0]) < 0 for each in margins))

    def test_crystals_dissolve_in_minutes_well_above_where_they_would_in_days(self) -> None:
        for clear_c, said in ((12, "50 to 60 °C"), (44, "50 to 60 °C"), (52, "60 to 70 °C")):
            self.assertEqual(dissolves_c(clear_c), said)
        found = report(mixed(("white_sugar", "720 g"), ("water", "300 g")))
        cold = next(each.text for each in found.consequences if each.id == "cold")
        self.assertIn("stirring it for some minutes at", cold)


class Fills(unittest.TestCase):
    def test_whole_ones_that_fit_and_the_rest_in_one_more(self) -> None:
        cases = [
            (1240.0, 500.0, 500.0, "2 × 500 ml and 240 ml in a third", 3), (240.0, 1000.0, 1000.0, "240 ml in one of 1,000 ml", 1),
            (1000.0, 500.0, 500.0, "2 × 500 ml", 2), (1004.0, 500.0, 500.0, "2 × 500 ml", 2), (916.0, 1061.0, 1000.0, "863 ml in one of 1,000 ml", 1),
            (6100.0, 500.0, 500.0, "12 × 500 ml and 100 ml in one more", 13),
        ]  # fmt: skip
        for grams, each, size, words, count in cases:
            found = into_containers(grams, each, size)
            self.assertEqual((found.words, found.count), (words, count))
            self.assertLessEqual(found.full * each + found.last_g, grams + 1e-6, "never more than there is")

    def test_bench_scaling_and_run_sheet_say_the_same(self) -> None:
        lines = [{"id": "s", "substance": "white_sugar", "amount": "600 g"}, {"id": "w", "substance": "water", "amount": "600 g"}]
        stages = [
            {"id": "in", "kind": "add", "vessel": "jug", "lines": lines},
            {"id": "f", "kind": "fill", "vessel": "jug", "into": "bottles", "size_ml": 400},
        ]
        method = parse_document({"stages": stages, "kitchen": {"film_g": 0}})
        found = report(walk(method))
        fill = next(each.fill for each in found.stages if each.fill)
        self.assertRegex(fill.words, r"^2 × 400 ml and 1\d\d ml in a third$")
        scaled = scale_report(method, ScaleRequest(by="factor", value=1.0))
        assert scaled.bottles is not None
        self.assertEqual(scaled.bottles.words, fill.words)
        small = scale_report(method, ScaleRequest(by="factor", value=0.2))
        assert small.bottles is not None
        self.assertRegex(small.bottles.words, r"^\d+ ml in one of 400 ml$")


class Scales(unittest.TestCase):
    def test_a_line_goes_to_a_scale_that_carries_it_with_what_it_lies_in(self) -> None:
        """Common practice, no source: a bowl weighs some two fifths of what is in it, 400 g at most."""
        kitchen = Kitchen.model_validate(
            {
                "scales": [
                    {"id": "f", "name": "fine", "capacity_g": 200, "resolution_g": 0.01},
                    {"id": "b", "name": "bench", "capacity_g": 5000, "resolution_g": 1},
                ]
            }
        )
        for grams, name in ((5, "fine"), (140, "fine"), (150, "bench"), (199, "bench"), (4600, "bench")):
            scale = scale_for(kitchen, grams)
            assert scale is not None
            self.assertEqual(scale.name, name, grams)
            self.assertEqual(resolution_g(kitchen, grams), scale.resolution_g)
        heavy = weighings(
            walk(
                parse_document(
                    {
                        "stages": [{"id": "s", "kind": "add", "vessel": "t", "lines": [{"id": "a", "substance": "water", "amount": "4800 g"}]}],
                        "kitchen": kitchen.model_dump(mode="json", exclude_none=True),
                    }
                )
            )
        )
        self.assertEqual(heavy[0].goes, 2)


class Named(unittest.TestCase):
    def test_a_stage_that_is_called_one_heat_and_set_to_another_is_remarked_on(self) -> None:
        cases = [
            ("Below 70 °C", 80, True), ("Below 70 °C", 68, False), ("Warm under 70°C, stirring", 75, True), ("Steep at 57 °C or above", 68, False),
            ("Steep at 57 °C or above", 50, True), ("To 60 °C", 60, False), ("To 60 °C", 72, True), ("At most 158 °F", 80, True), ("At most 158 °F", 65, False),
            ("Over 80 °C", 75, True), ("Warm it", 90, False), ("20 min gently", 60, False), ("max 70 °C", 71, False), ("max. 70 °C", 75, True),
        ]  # fmt: skip
        for name, to_c, remarked in cases:
            with self.subTest(name=name, to_c=to_c):
                found = mixed(("whole_milk", "500 g"), stages=[{"id": "h", "kind": "heat", "vessel": "bowl", "to_c": to_c, "name": name}])
                self.assertEqual(bool(list(named_otherwise(found))), remarked)
                self.assertEqual(any(each.id == "named-h" for each in report(found).consequences), remarked)


class CoumarinOfCassia(unittest.TestCase):
    def test_said_per_serving_on_the_bench_where_it_is_worth_a_line(self) -> None:
        """Surveys of barks, from memory: 2 to 7 mg a gram; EFSA 2008: 0.1 mg a kilogram of body weight a day."""
        syrup = (("white_sugar", "500 g"), ("water", "500 g"))
        found = coumarin(mixed(*syrup, ("cassia", "20 g")))
        assert found is not None
        self.assertAlmostEqual(found.high_mg, 20 * 7 * 20 / 1020, places=6)
        self.assertAlmostEqual(found.low_mg, 20 * 2 * 20 / 1020, places=6)
        self.assertIn("EFSA", next(each.text for each in report(mixed(*syrup, ("cassia", "20 g"))).consequences if each.id == "coumarin"))
        # From a twentieth of the day on: 7 mg a gram in 20 g of a kilogram are 0.3 mg at 2.15 g of bark.
        self.assertIsNone(coumarin(mixed(*syrup, ("cassia", "2.1 g"))))
        self.assertIsNotNone(coumarin(mixed(*syrup, ("cassia", "2.2 g"))))
        self.assertIsNone(coumarin(mixed(*syrup, ("true_cinnamon", "20 g"))))
        strained = coumarin(mixed(*syrup, ("whole_cassia", "20 g"), stages=[{"id": "s", "kind": "strain", "vessel": "bowl", "into": "jar"}]))
        assert strained is not None
        self.assertEqual(strained.low_mg, 0.0)


class InTheCup(unittest.TestCase):
    def test_ice_that_melts_thins_the_balance(self) -> None:
        made = mixed(("white_sugar", "500 g"), ("water", "500 g"))
        base = mixed(("espresso", "60 g"))
        dry, iced = (drink_of(made, base, "20 g", "metric", 8.0, 60.0, ice_g=ice) for ice in (0.0, 150.0))
        sweet = [next(side.value for side in drink.sides if side.id == "sweet") for drink in (dry, iced)]
        assert iced.build.ice is not None
        melted = 0.5 * (iced.build.ice.melts_low_g + iced.build.ice.melts_high_g)
        self.assertGreater(melted, 30)
        self.assertLess(sweet[1], sweet[0] * 80 / (80 + 0.8 * melted))
        sugars = [next(f.value for f in drink.figures if f.id == "sugars_g") for drink in (dry, iced)]
        self.assertEqual(sugars[0], sugars[1], "melting brings no sugar and takes none")


class Shares(unittest.TestCase):
    def test_they_sum_to_the_whole_and_the_table_is_the_screen(self) -> None:
        rng = np.random.default_rng(13)
        ids = ("white_sugar", "water", "cassia", "whole_milk", "cocoa_powder", "honey", "salt")
        for _ in range(60):
            found = mixed(*((id, f"{10 ** rng.uniform(-1, 3):.2f} g") for id in rng.choice(ids, rng.integers(1, 8), replace=False)))
            shown = {line.id: line.share for line in report(found).lines}
            self.assertAlmostEqual(sum(share or 0.0 for share in shown.values()), 1.0, places=9)
            head, rows = lines_table(found)
            self.assertEqual({row[head.index("line")]: row[head.index("share of all")] for row in rows}, shown)

    def test_true_sucrose_is_of_the_same_hundred_grams_as_the_sugars(self) -> None:
        found = mixed(("white_sugar", "300 g"), ("heavy_cream", "300 g"), ("cocoa_powder", "100 g"))
        sucrose, sugars = READING_OF["sucrose"](found), READING_OF["sugars_100g"](found)
        assert sucrose.den is not None and sugars.den is not None
        self.assertEqual(float(sucrose.den[0]), float(sugars.den[0]))
        self.assertLessEqual(float(sucrose.value[0]), float(sugars.value[0]))


class Costs(unittest.TestCase):
    def test_a_blend_kept_back_is_a_cost_of_its_own(self) -> None:
        def priced(id: str, price: float) -> dict[str, Any]:
            return as_document(library()[id]).model_copy(update={"price_per_kg": price}).model_dump(mode="json", exclude_none=True)

        books = {id: priced(id, price) for id, price in (("white_sugar", 1.0), ("mace", 100.0), ("clove", 50.0))}
        spice = [{"id": "m", "substance": "mace", "amount": "20 g"}, {"id": "c", "substance": "clove", "amount": "20 g"}]
        syrup = [{"id": "s", "substance": "white_sugar", "amount": "500 g"}, {"id": "w", "substance": "water", "amount": "500 g"}]

        def made(join: str, *more: dict[str, Any]) -> Walk:
            stages = [
                {"id": "b", "kind": "blend", "vessel": "jar", "lines": spice},
                {"id": "a", "kind": "add", "vessel": "pot", "lines": syrup},
                {"id": "j", "kind": "join", "vessel": "pot", "source": "jar", "amount": join},
                *more,
            ]
            return walk(parse_document({"stages": stages, "substances": books, "finished": "jug" if more else "pot"}))

        own, back = product_cost(made("10 g"))
        self.assertAlmostEqual(float(own[0]), 0.5 + 3.0 * 10 / 40)
        self.assertAlmostEqual(float(back[0]), 3.0 * 30 / 40)
        whole, none = product_cost(made("all"))
        self.assertAlmostEqual(float(whole[0]), 3.5)
        self.assertAlmostEqual(float(none[0]), 0.0)
        # What a sieve keeps was paid for by what runs through it.
        strained, _ = product_cost(made("all", {"id": "z", "kind": "strain", "vessel": "pot", "into": "jug"}))
        self.assertAlmostEqual(float(strained[0]), 3.5)
        reading = READING_OF["cost_kg"](made("10 g"))
        self.assertAlmostEqual(float(reading.value[0]), 1.25 / 1.010, places=6)
        self.assertIn("kept back, a cost of its own", [title for title, *_ in reading.inputs])

    def test_a_missing_price_stands_in_its_place(self) -> None:
        found = mixed(("white_sugar", "100 g"), ("mace", "1 g"), ("water", "100 g"))
        read = {each.id: each for each in readings(found)}
        for id in ("cost_kg", "cost_l", "cost_dose"):
            self.assertIn("missing", read[id].why_not)
            self.assertTrue(np.isnan(read[id].value[0]))


class Unlogged(unittest.TestCase):
    def test_a_concentration_is_the_same_whether_a_bottle_was_logged_or_not(self) -> None:
        def made(gives_g: float | None) -> dict[str, float]:
            fill: dict[str, Any] = {"id": "f", "kind": "fill", "vessel": "bowl", "into": "bottles", "size_ml": 250}
            found = mixed(
                ("white_sugar", "500 g"), ("water", "500 g"), ("cassia", "10 g"), ("lemon_juice", "50 g"),
                stages=[fill if gives_g is None else {**fill, "gives_g": gives_g}], finished="bottles", kitchen={"film_g": 5},
            )  # fmt: skip
            return {each.id: float(each.value[0]) for each in readings(found) if np.isfinite(each.value[0])}

        whole = made(None)
        for filled in (1055, 700, 300):
            for id, value in made(filled).items():
                if id not in ("yield_g", "yield_l"):
                    self.assertAlmostEqual(value, whole[id], delta=2e-3 * max(abs(whole[id]), 1e-6), msg=f"{id} of {filled} g")


class TooLong(unittest.TestCase):
    def test_five_thousand_characters_are_refused_in_words(self) -> None:
        line = {"id": "l", "substance": "water", "amount": "100 g"}
        plain: dict[str, Any] = {"stages": [{"id": "a", "kind": "add", "vessel": "p", "lines": [line]}]}
        text = "x" * 5000
        documents: dict[str, dict[str, Any]] = {
            "name": {**plain, "name": text}, "family": {**plain, "family": text}, "notes": {**plain, "notes": text},
            "stage": {"stages": [{**plain["stages"][0], "name": text}]}, "note": {"stages": [{**plain["stages"][0], "note": text}]},
            "amount": {"stages": [{**plain["stages"][0], "lines": [{**line, "amount": text}]}]},
            "line": {"stages": [{**plain["stages"][0], "lines": [{**line, "name": text}]}]},
        }  # fmt: skip
        for what, document in documents.items():
            with self.subTest(what), self.assertRaises(DomainError) as caught:
                parse_document(document)
            self.assertIn("too long", str(caught.exception))
            self.assertNotIn("Input should", str(caught.exception))


class Foams(unittest.TestCase):
    def foamed(self, *lines: tuple[str, str], at_c: float = 5.0, tool: Tool = "frother", seconds: float | None = None) -> FoamReport:
        beat: dict[str, Any] = {"id": "b", "kind": "aerate", "vessel": "bowl", "tool": tool}
        warm = [{"id": "w", "kind": "heat", "vessel": "bowl", "to_c": at_c, "by": "microwave"}] if at_c > 20 else []
        found = mixed(*lines, stages=[*warm, beat if seconds is None else {**beat, "seconds": seconds}])
        beaten = found.stages[-1]
        assert isinstance(beaten, Aerate)
        told = foam_report(found, beaten, found.steps[-1])
        assert told is not None
        return told

    def test_every_tool_has_a_too_long_end(self) -> None:
        """Common practice, no source: cream beaten on turns to grains and butter."""
        for tool in SECONDS:
            for lines in (
                (("heavy_cream", "300 g"),),
                (("whole_milk", "300 g"),),
                (("instant_coffee", "30 g"), ("white_sugar", "200 g"), ("water", "60 g")),
            ):
                with self.subTest(tool=tool, of=lines[0][0]):
                    right, over = (
                        self.foamed(*lines, tool=tool, seconds=SECONDS[tool][2]),
                        self.foamed(*lines, tool=tool, seconds=4 * SECONDS[tool][2]),
                    )
                    self.assertFalse(right.over)
                    self.assertTrue(over.over)
                    self.assertIn("beaten past its best", over.words)
                    self.assertLess(over.overrun.likely, right.overrun.likely)
                    self.assertEqual(right.too_long_s, 2 * SECONDS[tool][2])

    def test_warm_milk_foams_worse_than_cold(self) -> None:
        """Dairy texts and table t16: some 100 % cold, 40 % steamed."""
        for milk in ("whole_milk", "skimmed_milk", "reduced_fat_milk"):
            cold, tepid, hot = (self.foamed((milk, "300 g"), at_c=t).overrun.likely for t in (5, 30, 60))
            self.assertGreater(cold, 1.3 * tepid, milk)
            self.assertTrue(20 <= hot <= 90, milk)

    def test_air_is_a_share_of_the_whole_and_overrun_of_the_liquid(self) -> None:
        found = self.foamed(("heavy_cream", "300 g"))
        for overrun, air in ((found.overrun.low, found.air.low), (found.overrun.high, found.air.high)):
            self.assertAlmostEqual(air, 100 * overrun / (100 + overrun))
        self.assertLess(found.air.high, 100)

    def test_each_case_is_judged_by_its_own(self) -> None:
        """Coffee beside cream, plant beside dairy: a case comes to the same alone and among others, in any order."""
        books = [library()[id].mass_fraction for id in ("heavy_cream", "skimmed_milk", "whole_milk", "coconut_cream")]
        coffee = (
            0.1 * library()["instant_coffee"].mass_fraction + 0.6 * library()["white_sugar"].mass_fraction + 0.3 * library()["water"].mass_fraction
        )
        mass = 300 * np.array([*books, coffee])
        grams, temperature = np.array([0, 0, 0, 0, 30.0]), np.full(5, 5.0)
        for plant in (False, True):
            whole = foam(mass, temperature, "frother", coffee_g=grams, plant=plant).overrun
            for i in range(5):
                alone = foam(mass[[i]], temperature[[i]], "frother", coffee_g=grams[[i]], plant=plant).overrun
                np.testing.assert_allclose(alone[0], whole[i], err_msg=f"case {i}, plant {plant}")


if __name__ == "__main__":
    unittest.main()
