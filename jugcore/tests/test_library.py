"""The substances that ship, and what their rows promise."""

from __future__ import annotations

import unittest
from collections import Counter
from dataclasses import replace

import numpy as np

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.families.starters import starters
from jugcore.matter.contributions import extents_of, tracers_of
from jugcore.matter.library import count_by_basis, library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.substance import BASES, EU_ALLERGENS, KINDS, STORAGE, US_ALLERGENS, Range, substance_from_composition
from jugcore.matter.substance_document import as_document
from jugcore.matter.substance_hazards import HAZARDS
from jugcore.measures.density import grams_of
from jugcore.measures.parsing import Quantity, parse_amount
from jugcore.method.compile import compile_document
from jugcore.method.stages import STAGES
from jugcore.method.walk import walk
from jugcore.physics import sucrose
from jugcore.physics.thermal import enthalpy_j, heat_capacity_j_gk, temperature_c
from jugcore.tests.tables import rows


class Library(unittest.TestCase):
    def test_there_are_enough_and_each_is_whole(self) -> None:
        self.assertGreaterEqual(len(library()), 160)
        for substance in library().values():
            with self.subTest(substance=substance.id):
                self.assertAlmostEqual(float(substance.mass_fraction.sum()), 1.0, places=12)
                self.assertIn(substance.kind, KINDS)
                self.assertIn(substance.basis, BASES)
                self.assertIn(substance.storage, STORAGE)
                self.assertTrue(set(substance.allergens) | set(substance.check_pack_for) <= set(EU_ALLERGENS))
                self.assertTrue(0.03 < substance.density_g_ml < 2)
                # An estimate carries no citation; everything else does.
                self.assertEqual(substance.source == "", substance.basis == "estimate")

    def test_every_family_is_there(self) -> None:
        kinds = Counter(s.kind for s in library().values())
        self.assertEqual(set(kinds), set(KINDS) - {"other", "made"})
        self.assertEqual(sum(count_by_basis().values()), len(library()))
        self.assertGreater(sum(1 for s in library().values() if s.enzyme), 4)

    def test_ranges_are_ranges_and_hazards_are_known(self) -> None:
        for substance in library().values():
            with self.subTest(substance=substance.id):
                self.assertLessEqual(set(substance.hazards), set(HAZARDS))
                self.assertTrue(substance.character or substance.kind in ("water", "enzyme"))
                for share in (substance.edible_portion, substance.juice_yield):
                    self.assertTrue(share is None or 0 < share.low <= share.high <= 1)
                if substance.opened:
                    self.assertLessEqual(substance.opened.days.low, substance.opened.days.high)
                    self.assertIn(substance.opened.storage, STORAGE)
                if substance.other_form:
                    other = library()[substance.other_form]
                    self.assertNotEqual(other.is_ground, substance.is_ground)
                    np.testing.assert_allclose(other.mass_fraction, substance.mass_fraction)
                if substance.strength:
                    self.assertLessEqual(*substance.strength)

    def test_what_curdles_milk_raw_says_so(self) -> None:
        for id in ("fresh_ginger", "ginger_juice", "pineapple_flesh", "papaya_flesh", "kiwi_flesh", "fig_fresh"):
            self.assertIn("protease", library()[id].hazards)
        self.assertNotIn("protease", library()["pear_flesh"].hazards)

    def test_no_enzyme_promises_anything_without_its_data_sheet(self) -> None:
        self.assertFalse(any(s.enzyme.is_known for s in library().values() if s.enzyme))
        standard = library()["amylase_bacterial"].enzyme
        assert standard is not None
        typed = replace(standard, activity=20_000.0, activity_unit="units/g", sheet="sheet of March", dose_g_kg=Range(2, 4))
        self.assertTrue(typed.is_known)
        self.assertFalse(replace(typed, dose_g_kg=None).is_known)
        self.assertFalse(replace(typed, works_c=None).is_known)

    def test_everything_survives_being_written_into_a_document(self) -> None:
        for id, substance in library().items():
            with self.subTest(substance=id):
                again = load_substance(id, as_document(substance))
                self.assertAlmostEqual(again.free_sugar_fraction, substance.free_sugar_fraction, places=6)
                self.assertEqual(replace(again, free_sugar_fraction=substance.free_sugar_fraction), substance)
                np.testing.assert_allclose(again.mass_fraction, substance.mass_fraction, atol=1e-7)
                self.assertEqual(again.pieces, substance.pieces)

    def test_what_was_written_before_rows_said_what_they_bring_is_read_the_same(self) -> None:
        grams = np.array([[100.0]])
        for id, book in library().items():
            substance, older = load_substance(id, as_document(book)), load_substance(id, as_document(book).model_copy(update={"contributions": None}))
            np.testing.assert_array_equal(tracers_of(older, substance.mass_fraction), tracers_of(substance, substance.mass_fraction), id)
            np.testing.assert_array_equal(extents_of([older], grams), extents_of([substance], grams), id)
        # A kind somebody chose goes before what the library has for its own kind alone.
        spread = as_document(library()["cocoa_powder"]).model_copy(update={"contributions": None, "kind": "other"})
        self.assertIsNone(load_substance("cocoa_powder", spread).contributions.starch)

    def test_a_stronger_lot_of_something_brings_what_it_does(self) -> None:
        nut = as_document(library()["hazelnut"])
        self.assertEqual(load_substance("hazelnut-in-nuts", nut).contributions.cell_oil, library()["hazelnut"].contributions.cell_oil)

    def test_names_are_told_apart(self) -> None:
        titles = [s.title.lower() for s in library().values()]
        self.assertEqual(len(titles), len(set(titles)))

    def test_allergens_where_everybody_expects_them(self) -> None:
        known = library()
        for id, allergen in (
            ("whole_milk", "milk"),
            ("butter", "milk"),
            ("hazelnut", "nuts"),
            ("almond_drink", "nuts"),
            ("black_sesame", "sesame"),
            ("soy_drink", "soybeans"),
            ("oat_drink", "gluten"),
        ):
            self.assertIn(allergen, known[id].allergens)
        for substance in known.values():
            if substance.kind == "dairy":
                self.assertIn("milk", substance.allergens)
        self.assertEqual((len(EU_ALLERGENS), len(US_ALLERGENS)), (14, 9))

    def test_rows_that_do_not_sum_are_refused(self) -> None:
        substance_from_composition(id="ok", composition_g_per_100g={"water": 50.4, "sucrose": 50})
        with self.assertRaises(BadDocument):
            substance_from_composition(id="no", composition_g_per_100g={"water": 52, "sucrose": 50})

    def test_pear_juice_is_twelve_brix(self) -> None:
        fraction = library()["pear_juice"].mass_fraction
        solids = float(fraction @ c.DISSOLVED)
        self.assertAlmostEqual(100 * solids / (solids + float(fraction[c.WATER])), 12.0, delta=0.05)

    def test_dairy_density_within_8_kg_m3(self) -> None:
        """Densities at 20 °C of dairy texts, from memory: milk 1030, single cream 1010, heavy cream 990, evaporated 1066."""
        for id, expected in (("whole_milk", 1030), ("single_cream", 1010), ("heavy_cream", 990), ("evaporated_milk", 1066), ("condensed_milk", 1293)):
            stage = {"id": "a", "kind": "add", "vessel": "p", "lines": [{"id": "l", "substance": id, "amount": "1 kg"}]}
            from jugcore.method.compile import parse_document

            product = walk(parse_document({"stages": [stage]})).product
            self.assertAlmostEqual(1e6 / float(product.volume_ml(20.0)[0]), expected, delta=8)

    def test_every_starting_method_walks(self) -> None:
        for family in starters().families:
            for school in family.schools:
                with self.subTest(school=school.id):
                    self.assertEqual(walk(compile_document(school.document)).faults, ())

    def test_every_kind_of_stage_can_be_started_and_is_called_the_same(self) -> None:
        self.assertEqual({s.kind: s.title for s in starters().stages}, {str(kind.model_fields["kind"].default): kind.title for kind in STAGES})


class Heat(unittest.TestCase):
    def test_the_additive_rule_is_the_published_line(self) -> None:
        for brix in (10, 40, 65):
            for t in (20, 60, 100):
                mass = np.zeros((1, c.COUNT))
                mass[0, [c.WATER, c.SUCROSE]] = 100 - brix, brix
                step = 1e-3
                slope = (enthalpy_j(mass, np.array([t + step])) - enthalpy_j(mass, np.array([t - step]))) / (2 * step) / 100
                self.assertAlmostEqual(float(slope[0]), float(heat_capacity_j_gk(brix, t)), delta=0.003)

    def test_temperature_inverts_enthalpy(self) -> None:
        rng = np.random.default_rng(3)
        mass = rng.uniform(0, 100, (200, c.COUNT))
        t = rng.uniform(1, 110, 200)
        np.testing.assert_allclose(temperature_c(mass, enthalpy_j(mass, t)), t, rtol=1e-10)


class Components(unittest.TestCase):
    def test_published_identifiers(self) -> None:
        self.assertEqual(c.COUNT, 28)
        for written, name in (("Citric acid", "citric"), ("fibre", "insoluble"), ("milk fat", "milk_fat"), ("other ash", "other_ash")):
            self.assertEqual(c.canonical(written), name)
        self.assertIsNone(c.canonical("phlogiston"))

    def test_every_component_is_in_one_band(self) -> None:
        total = sum(mask for _, _, mask in c.BANDS)
        np.testing.assert_array_equal(total, np.ones(c.COUNT))

    def test_a_definition_is_exact(self) -> None:
        self.assertEqual(sucrose.brix_from_ratio(2), 200 / 3)


class Compositions(unittest.TestCase):
    """What the library says is in 100 g against food tables. Rows without a tolerance may miss by a gram."""

    def test_every_row(self) -> None:
        sums = {"fat": c.FAT, "sugars": c.SUGARS, "ash": np.array([float(name in ("salt", "other_ash")) for name in c.NAMES])}
        checked = 0
        for row in rows("composition"):
            shares = library()[row["substance"]].mass_fraction
            nutrient = row["nutrient"]
            grams = 100 * float(shares @ sums[nutrient] if nutrient in sums else shares[c.INDEX[nutrient]])
            with self.subTest(row=row.id, food=row["food"], nutrient=nutrient):
                self.assertLessEqual(abs(grams - row.value), 1.0 if row.tolerance is None else row.allowance(0.0))
            checked += 1
        self.assertGreater(checked, 150)


class HouseholdWeights(unittest.TestCase):
    """Spoons and cups of the library against household tables, in the measures those tables use."""

    def test_every_row(self) -> None:
        checked = 0
        for row in rows("household_weights"):
            substance = library()[row["substance"]]
            weighed = grams_of(parse_quantity(f"1 {row['measure']}"), substance, "us")
            with self.subTest(row=row.id, item=row["item"], measure=row["measure"]):
                self.assertLessEqual(abs(weighed.grams - row.value), row.allowance(substance.density_spread * weighed.grams))
            checked += 1
        self.assertGreater(checked, 70)


def parse_quantity(text: str) -> Quantity:
    found = parse_amount(text)
    assert isinstance(found, Quantity)
    return found


if __name__ == "__main__":
    unittest.main()
