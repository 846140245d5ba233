"""What a mixture is like: sweetness, acid, pH, thickness, cold, density, heat, against tables, worked cases and laws."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.errors import OutOfRange
from jugcore.figures import Floats
from jugcore.matter.library import library
from jugcore.matter.matter import fat_g_ml
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.physics import acidity, solubility, sucrose, viscosity
from jugcore.physics.sweetness import sweetness_g
from jugcore.physics.thermal import CP_BASE, CP_SLOPE
from jugcore.physics.water_activity import combining_spread
from jugcore.reading.catalogue import GROUP_OF, READING_OF, readings
from jugcore.reading.consequences import consequences
from jugcore.reading.readings.base import GROUPS, Reading
from jugcore.reading.readings.content import unpriced
from jugcore.reading.readings.flow import curve
from jugcore.reading.report import report
from jugcore.tests.tables import rows


def mixed(*lines: tuple[str, str], kitchen: dict[str, Any] | None = None, substances: dict[str, Any] | None = None) -> Walk:
    """A pot of some substances."""
    stage = {"id": "a", "kind": "add", "vessel": "pot", "lines": [{"id": f"l{n}", "substance": s, "amount": a} for n, (s, a) in enumerate(lines)]}
    return walk(parse_document({"stages": [stage], "kitchen": kitchen, "substances": substances or {}}))


def read(found: Walk) -> dict[str, Reading]:
    return {r.id: r for r in readings(found)}


def masses(**grams: float) -> Floats:
    mass = np.zeros((1, c.COUNT))
    for name, g in grams.items():
        mass[0, c.INDEX[name]] = g
    return mass


class Sweet(unittest.TestCase):
    MADE_OF: dict[str, dict[str, float]] = {
        "sucrose": {"sucrose": 1},
        "glucose (dextrose)": {"glucose": 1},
        "galactose": {"galactose": 1},
        "maltose": {"maltose": 1},
        "sorbitol": {"sorbitol": 1},
        "maltodextrin DE10-15": {"dextrin": 1},
        "invert sugar": {"glucose": 0.5, "fructose": 0.5},
        "HFCS-42 (dry basis)": {"glucose": 0.55, "fructose": 0.42, "dextrin": 0.03},
        "HFCS-55 (dry basis)": {"glucose": 0.42, "fructose": 0.55, "dextrin": 0.03},
        "maple syrup (as is)": library()["maple_syrup"].composition_g_per_100g(),
    }

    def test_every_row_of_the_texts(self) -> None:
        for row in rows("relative_sweetness"):
            made = self.MADE_OF[row["sweetener"]]
            total = sum(made.values())
            low, usual, high = (float(x) / total for x in sweetness_g(made))
            with self.subTest(row=row.id, sweetener=row["sweetener"]):
                self.assertLessEqual(abs(usual - row.value), row.allowance(0.0))
                # The ranges meet: what the texts call least is no more than our most, and the other way round.
                self.assertLessEqual(low, row.number("high") + 1e-9)
                self.assertGreaterEqual(high, row.number("low") - 1e-9)

    def test_reading_is_a_range_and_a_row_for_the_solver(self) -> None:
        found = read(mixed(("honey", "100 g"), ("water", "100 g")))["sweetness"]
        self.assertTrue(found.low[0] < found.value[0] < found.high[0])
        assert found.num is not None and found.den is not None
        np.testing.assert_allclose(found.num / found.den, found.value)
        sugar = read(mixed(("white_sugar", "50 g"), ("water", "50 g")))["sweetness"]
        self.assertAlmostEqual(float(sugar.high[0] - sugar.low[0]), 0, places=9)


class Sour(unittest.TestCase):
    def test_ph_of_tenth_molar_acids(self) -> None:
        """From memory of the tables: 0.1 mol/l acetic 2.88, lactic 2.43, citric 2.08, malic 2.2, tartaric 2.0."""
        for name, expected in (("acetic", 2.88), ("lactic", 2.43), ("citric", 2.08), ("malic", 2.2), ("tartaric", 2.05)):
            with self.subTest(acid=name):
                self.assertAlmostEqual(float(acidity.ph({name: 0.1 * acidity.ACIDS[name].molar_g, "water": 990.0})), expected, delta=0.1)

    def test_ph_is_asked_for_where_it_cannot_be_computed(self) -> None:
        for grams in (
            {"citric": 6, "water": 94, "sucrose": 30},
            {"citric": 1, "water": 90, "protein": 3},
            {"citric": 20, "water": 80},
            {"sucrose": 5, "water": 95},
            {"citric": 1},
        ):
            self.assertTrue(np.isnan(acidity.ph(grams)), grams)
        for lines in ((("lemon_juice", "50 g"), ("water", "50 g")), (("whole_milk", "100 g"), ("citric_acid", "1 g"))):
            reading = read(mixed(*lines))["ph"]
            self.assertTrue(np.isnan(reading.value[0]))
            self.assertIn("measure it", reading.why_not)

    def test_ph_falls_with_acid_rises_with_water_and_stays_of_each_case(self) -> None:
        grams = np.array([0.05, 0.2, 1.0, 3.0, 6.0])
        found = np.asarray(acidity.ph({"citric": grams, "water": 100 - grams}))
        self.assertTrue(bool(np.all(np.diff(found) < 0)))
        alone = [float(acidity.ph({"citric": g, "water": 100 - g})) for g in grams]
        np.testing.assert_allclose(found, alone, atol=1e-9)

    def test_charges_balance(self) -> None:
        """At the pH found, hydrogen and the anions of an ideal solution differ by no more than activities explain."""
        mass = masses(malic=0.5, water=99.5)
        ph = float(acidity._ph(mass)[0])
        molal = 0.5 / 134.088 / 99.5 * 1e3
        h = 10.0**-ph
        k1, k2 = 10.0**-3.40, 10.0**-5.11
        anions = molal * (k1 / h + 2 * k1 * k2 / h**2) / (1 + k1 / h + k1 * k2 / h**2)
        self.assertAlmostEqual(anions / h, 1, delta=0.15)

    def test_titratable_acidity(self) -> None:
        """6 g in 100 g is 6 %, 6 g on top of 100 g is 5.66 %; malic and citric count by their equivalents."""
        self.assertAlmostEqual(float(read(mixed(("citric_acid", "6 g"), ("water", "94 g")))["acidity"].value[0]), 6, delta=0.001)
        self.assertAlmostEqual(float(read(mixed(("citric_acid", "6 g"), ("water", "100 g")))["acidity"].value[0]), 5.66, delta=0.004)
        # By titration a gram of malic acid does what 0.955 g of citric do: 3 × 134.088 / (2 × 192.124), upside down.
        self.assertAlmostEqual(float(acidity.titratable_as({"malic": 1})), 2 * 192.124 / (3 * 134.088), places=6)
        self.assertEqual(float(acidity.titratable_as({"lactic": 2}, "lactic")), 2.0)

    def test_unknown_masses_are_refused(self) -> None:
        for bad in ({"phlogiston": 1}, {"citric": -1}):
            with self.assertRaises(OutOfRange):
                acidity.ph(bad)


class Cold(unittest.TestCase):
    def test_other_sugars_against_their_tables(self) -> None:
        checked = 0
        for row in rows("other_sugar_solubility"):
            t = row.number("t_C")
            if row["sugar"] == "lactose":
                computed = 100 * float(solubility.lactose_per_water(t))
            elif row["sugar"] == "glucose" and t <= 50:
                per_water = float(solubility.glucose_per_water(t))
                computed = 100 * per_water / (1 + per_water)
            else:
                continue  # fructose stays dissolved in any kitchen; glucose above 50 °C is another crystal
            checked += 1
            with self.subTest(row=row.id):
                self.assertLessEqual(abs(computed - row.value), row.allowance(0.0))
        self.assertGreaterEqual(checked, 8)

    def test_the_bracket_of_invert_sugar_holds_what_makers_ship(self) -> None:
        for row in rows("invert_effect"):
            invert = float(row["quantity"].split(" with ")[1].split()[0])
            low, high = solubility.sucrose_per_water(np.array(row.number("t_C")), np.array(invert))
            with self.subTest(row=row.id):
                self.assertTrue(low <= row.value <= high)
                self.assertLessEqual(high - low, 2 * (row.tolerance or 0))

    def test_two_to_one_throws_crystals_and_says_what_brings_them_back(self) -> None:
        """2 : 1 at 4 °C: 66.67 °Bx against Vavrinecz's 64.80 %: 200 g in 100 g of water, which keep 184.1."""
        found = mixed(("white_sugar", "200 g"), ("water", "100 g"))
        reading = read(found)["crystals"]
        kept = float(sucrose.ratio_from_brix(sucrose.solubility_brix(4.0)))
        self.assertAlmostEqual(float(reading.value[0]), 1000 * (199.96 - kept * 100.04) / 300, delta=0.05)
        water = next(v for name, v, _ in reading.inputs if name.startswith("water"))
        # That much water in a kilogram, and it is saturated, no more.
        again = read(mixed(("white_sugar", "666.667 g"), ("water", f"{333.333 + water} g")))
        self.assertAlmostEqual(float(again["cold_margin"].value[0]), 0, delta=0.02)
        said = next(one for one in consequences(found) if one.id == "cold")
        self.assertRegex(said.text, r"up to 5\d g per kg at 4 °C")
        self.assertIn("brings them back", said.text)

    def test_fructose_and_glucose_do_not_count_against_it_and_widen_its_band(self) -> None:
        plain = read(mixed(("white_sugar", "120 g"), ("water", "80 g")))["cold_margin"]
        with_invert = read(mixed(("white_sugar", "120 g"), ("invert_syrup", "80 g"), ("water", "61.5 g")))["cold_margin"]
        self.assertAlmostEqual(float(plain.value[0]), float(with_invert.value[0]), delta=2.5)
        self.assertGreater(with_invert.value[0] - with_invert.low[0], 5)
        self.assertLess(plain.value[0] - plain.low[0], 1)

    def test_condensed_milk_may_turn_sandy_and_milk_does_not(self) -> None:
        thick = mixed(("condensed_milk", "200 g"), ("evaporated_milk", "100 g"))
        self.assertTrue(any(one.id == "sandy" for one in consequences(thick)))
        thin = mixed(("whole_milk", "300 g"))
        self.assertGreater(float(READING_OF["lactose_margin"](thin).value[0]), 30)
        self.assertFalse(any(one.id == "sandy" for one in consequences(thin)))


class Thick(unittest.TestCase):
    def at(self, id: str, t: float) -> tuple[float, float, float]:
        low, value, high = viscosity.viscosity(library()[id].mass_fraction, np.array(t))
        return float(low), float(value), float(high)

    def test_milk_and_cream(self) -> None:
        """Dairy texts, from memory: skimmed milk 1.7, whole 2.0, half-and-half 2.5 to 3.5, cream of 36 % 7 to 14 mPa·s at 20 °C; milk 3 at 5 °C."""
        for id, t, expected in (
            ("skimmed_milk", 20, 1.7),
            ("whole_milk", 20, 2.0),
            ("half_and_half", 20, 2.8),
            ("heavy_cream", 20, 9.0),
            ("whole_milk", 5, 3.0),
            ("evaporated_milk", 20, 6.0),
        ):
            low, value, high = self.at(id, t)
            with self.subTest(id=id, t=t):
                self.assertTrue(low < expected < high, (low, value, high))
                self.assertAlmostEqual(value / expected, 1, delta=0.4)

    def test_a_clear_syrup_is_the_table(self) -> None:
        for brix, t in ((30.0, 20.0), (60.0, 4.0), (65.0, 40.0)):
            low, value, high = (float(x[0]) for x in viscosity.viscosity(masses(sucrose=brix, water=100 - brix), np.array([t])))
            self.assertAlmostEqual(value, float(sucrose.viscosity_mpa_s(brix, t)), places=9)
            self.assertAlmostEqual(high / value - 1, 0.1 if t < 10 else 0.03, places=9)
            self.assertAlmostEqual(1 - low / value, 0.1 if t < 10 else 0.03, places=9)

    def test_everything_that_thickens_thickens_and_warmth_thins(self) -> None:
        base = {"water": 60.0, "sucrose": 30.0}
        plain = float(viscosity.viscosity(masses(**base), np.array([20.0]))[1][0])
        for name in ("milk_fat", "other_fat", "protein", "insoluble", "starch", "pectin_and_gums"):
            before = plain
            for grams in (0.1, 1.0, 3.0):
                now = float(viscosity.viscosity(masses(**base, **{name: grams}), np.array([20.0]))[1][0])
                self.assertGreater(now, before, name)
                before = now
        warm = viscosity.viscosity(np.repeat(masses(**base, milk_fat=5), 5, axis=0), np.array([4.0, 20.0, 40.0, 60.0, 80.0]))[1]
        self.assertTrue(bool(np.all(np.diff(warm) < 0)))

    def test_a_pinch_of_thickener_does_more_than_the_pectin_of_fruit(self) -> None:
        """Xanthan at 0.2 %: some hundreds of times water at the slow pour of a bottle; common practice calls it a sauce."""
        bought = read(mixed(("xanthan", "2 g"), ("water", "998 g")))["viscosity"]
        of_fruit = float(viscosity.viscosity(masses(pectin_and_gums=1.64, water=998.0), np.array([4.0]))[1][0])
        self.assertGreater(float(bought.value[0]), 3 * of_fruit)
        self.assertTrue(bought.low[0] < 40 < bought.high[0])
        self.assertIn("indicative", bought.basis.band)

    def test_the_curve_over_temperature_and_where_there_is_none(self) -> None:
        found = curve(mixed(("white_sugar", "60 g"), ("water", "40 g")))
        self.assertEqual([t for t, *_ in found], [4, 12, 20, 40, 60, 80])
        self.assertEqual(curve(mixed(("cocoa_powder", "60 g"), ("water", "4 g"))), [])
        self.assertEqual(report(mixed(("white_sugar", "60 g"), ("water", "40 g"))).thickness[2].temperature_c, 20)

    def test_no_number_where_it_is_a_paste(self) -> None:
        for paste in (masses(insoluble=80, water=40), masses(pectin_and_gums=60, water=40)):
            self.assertTrue(all(np.isnan(x[0]) for x in viscosity.viscosity(paste, np.array([20.0]))))
        low, value, high = (float(x[0]) for x in viscosity.viscosity(masses(insoluble=20, water=80), np.array([20.0])))
        self.assertTrue(low <= value <= high <= 1.5 * 1.1 * viscosity.MOST_TIMES)
        self.assertIn("a gel", read(mixed(("agar", "60 g"), ("water", "40 g")))["viscosity"].why_not)


class Wet(unittest.TestCase):
    def test_the_band_is_what_the_two_rules_leave_open(self) -> None:
        self.assertAlmostEqual(float(combining_spread(masses(sucrose=65, water=35))[0]), 0, places=12)
        mixed_sugars = float(combining_spread(masses(sucrose=30, glucose=20, fructose=20, water=30))[0])
        self.assertTrue(0.01 < mixed_sugars < 0.04)
        thin = float(combining_spread(masses(sucrose=5, glucose=5, water=90))[0])
        self.assertLess(thin, 0.001)
        reading = read(mixed(("white_sugar", "100 g"), ("invert_syrup", "100 g"), ("water", "40 g")))["water_activity"]
        self.assertGreater(float(reading.value[0] - reading.low[0]), 0.008)


class Dairy(unittest.TestCase):
    ARE = {
        "milk, whole 3.25 % fat": "whole_milk",
        "milk, 2 % fat": "reduced_fat_milk",
        "milk, skim": "skimmed_milk",
        "half-and-half 11.5 % fat": "half_and_half",
        "light (coffee) cream 19 % fat": "single_cream",
        "heavy whipping cream 37 % fat (SR28)": "heavy_cream",
        "double cream 48 % fat (UK)": "double_cream",
        "evaporated milk, whole": "evaporated_milk",
        "sweetened condensed milk": "condensed_milk",
    }

    def test_density_cold_and_at_room(self) -> None:
        """Within 6 kg/m³ more than the rows' own tolerance for creams, whose compositions are those of other tables."""
        for row in rows("dairy_density"):
            found = mixed((self.ARE[row["food"]], "1 kg"))
            computed = 1e6 / float(found.product.volume_ml(row.number("t_C"))[0])
            with self.subTest(row=row.id, food=row["food"]):
                self.assertLessEqual(abs(computed - row.value), row.allowance(4.0))

    def test_fat_sets_in_the_cold_and_oil_does_not(self) -> None:
        t = np.array([2.0, 5.0, 12.0, 20.0, 40.0])
        self.assertTrue(bool(np.all(np.diff(fat_g_ml(t, setting=True)) <= 0)))
        self.assertAlmostEqual(float(fat_g_ml(np.array(20.0))), float(fat_g_ml(np.array(20.0), setting=True)), places=9)
        self.assertLess(float(fat_g_ml(np.array(5.0))), 0.93)

    def test_heat_capacity(self) -> None:
        """Dairy texts, from memory, kJ/(kg·K) at 20 °C; of cream fat's own melting is left out, which the texts count in."""
        for id, expected, miss in (("whole_milk", 3.89, 0.1), ("single_cream", 3.57, 0.3), ("heavy_cream", 3.27, 0.3), ("condensed_milk", 2.26, 0.3)):
            got = float(read(mixed((id, "1 kg")))["heat_capacity"].value[0])
            with self.subTest(id=id):
                self.assertAlmostEqual(got, expected, delta=miss)
        self.assertTrue(bool(np.all(CP_BASE > 0)) and bool(np.all(CP_SLOPE >= 0)))


class Priced(unittest.TestCase):
    def test_cost_is_linear_and_missing_prices_are_named(self) -> None:
        sugar = as_document(library()["white_sugar"]).model_copy(update={"price_per_kg": 1.2}).model_dump(mode="json")
        whole = mixed(("white_sugar", "500 g"), ("water", "500 g"), substances={"white_sugar": sugar})
        reading = read(whole)["cost_kg"]
        self.assertAlmostEqual(float(reading.value[0]), 0.6, places=9)
        part = mixed(("white_sugar", "500 g"), ("honey", "50 g"), ("water", "500 g"), substances={"white_sugar": sugar})
        self.assertEqual(unpriced(part), ["Honey"])
        self.assertIn("The price of honey is missing", read(part)["cost_kg"].why_not)
        self.assertIn("is missing", read(mixed(("white_sugar", "500 g"), ("water", "500 g")))["cost_kg"].why_not)


class Catalogue(unittest.TestCase):
    def test_every_reading_has_a_heading_and_its_own_name(self) -> None:
        self.assertEqual(set(GROUP_OF), set(READING_OF))
        self.assertEqual(set(GROUP_OF.values()), set(GROUPS))

    def test_readings_of_everything_in_the_pantry(self) -> None:
        """Each substance alone, and with water: no reading is invented, out of its band, or silent about why it is missing."""
        for id in library():
            for lines in (((id, "100 g"),), ((id, "100 g"), ("water", "300 g"))):
                for reading in readings(mixed(*lines)):
                    with self.subTest(substance=id, lines=len(lines), reading=reading.id):
                        low, value, high = float(reading.low[0]), float(reading.value[0]), float(reading.high[0])
                        if np.isnan(value):
                            self.assertTrue(reading.why_not)
                        else:
                            self.assertTrue(low <= value <= high, (low, value, high))


if __name__ == "__main__":
    unittest.main()
