"""What must hold of the physics everywhere in its range, whatever the tables say at their rows."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter import mixtures
from jugcore.matter.matter import Matter
from jugcore.physics import boiling, sucrose, thermal, water
from jugcore.physics.boiling import pressure_at_altitude_pa
from jugcore.physics.water_activity import NORRISH, water_activity

TRIES = settings(max_examples=60, derandomize=True, deadline=None)


def rises(values: object) -> bool:
    return bool(np.all(np.diff(np.asarray(values)) > 0))


def falls(values: object) -> bool:
    return bool(np.all(np.diff(np.asarray(values)) < 0))


class Directions(unittest.TestCase):
    """More sugar, more heat, more height: which way each goes, without a kink."""

    def test_with_more_sugar(self) -> None:
        cases: list[tuple[str, Callable[[Floats], object], float]] = [
            ("density", lambda b: sucrose.density_kg_m3(b, 20), 85),
            ("density, hot", lambda b: sucrose.density_kg_m3(b, 95), 85),
            ("index", sucrose.refractive_index, 85),
            ("index, warm", lambda b: sucrose.refractive_index(b, 35), 70),
            ("boiling point", boiling.boiling_point_c, 90),
            ("viscosity", lambda b: sucrose.viscosity_mpa_s(b, 20), 75),
            ("viscosity, cold", lambda b: sucrose.viscosity_mpa_s(b, 4), 75),
            ("ratio", sucrose.ratio_from_brix, 99),
        ]
        for name, function, most in cases:
            with self.subTest(function=name):
                self.assertTrue(rises(function(np.linspace(0, most, 200))))

    def test_with_more_heat(self) -> None:
        self.assertTrue(rises(sucrose.solubility_brix(np.linspace(0, 90, 91))))
        self.assertTrue(rises(water.vapour_pressure_pa(np.linspace(0, 150, 151))))
        self.assertTrue(falls(water.latent_heat_j_g(np.linspace(0, 130, 131))))
        for brix in (0.0, 30.0, 60.0, 75.0):
            with self.subTest(brix=brix):
                # Water itself is densest at 4 °C; a tenth of sugar moves that below 0.
                self.assertTrue(falls(sucrose.density_kg_m3(brix, np.linspace(4 if brix < 10 else 0, 100, 97))))
                self.assertTrue(falls(sucrose.viscosity_mpa_s(brix, np.linspace(0, 80, 81))))

    def test_with_height_and_pressure(self) -> None:
        metres = np.linspace(-430, 5000, 200)
        pressure = np.asarray(pressure_at_altitude_pa(metres))
        self.assertTrue(falls(pressure))
        self.assertTrue(falls(boiling.boiling_point_c(64, pressure[pressure > 50_000])))

    def test_every_solute_lowers_water_activity_the_more_the_further(self) -> None:
        for name in ("sucrose", "salt", *NORRISH):
            grams = np.linspace(0, 25 if name == "salt" else 60, 40)
            activity = np.asarray(water_activity({name: grams, "water": np.full_like(grams, 100.0)}))
            with self.subTest(solute=name):
                self.assertTrue(falls(activity))
                self.assertEqual(activity[0], 1.0)


class Agreement(unittest.TestCase):
    """Functions that meet must agree where they meet."""

    @TRIES
    @given(brix=st.floats(0, 90), metres=st.floats(-400, 4900))
    def test_a_pot_of_pure_syrup_boils_where_the_solution_does(self, brix: float, metres: float) -> None:
        pressure = float(pressure_at_altitude_pa(metres))
        mass = np.zeros((1, c.COUNT))
        mass[0, [c.SUCROSE, c.WATER]] = brix, 100 - brix
        pot = float(mixtures.boiling_point(mass, np.array([pressure]))[0])
        self.assertAlmostEqual(pot, float(boiling.boiling_point_c(brix, pressure)), places=6)

    @TRIES
    @given(brix=st.floats(0, 85), metres=st.floats(0, 4900))
    def test_at_its_boil_a_solution_has_the_pressure_of_the_air(self, brix: float, metres: float) -> None:
        pressure = float(pressure_at_altitude_pa(metres))
        boils = float(boiling.boiling_point_c(brix, pressure))
        over = float(water_activity({"sucrose": brix, "water": 100 - brix}, boils)) * float(water.vapour_pressure_pa(boils))
        self.assertAlmostEqual(over / pressure, 1.0, places=6)

    @TRIES
    @given(brix=st.floats(0.5, 70), t=st.floats(10, 40))
    def test_a_refractometer_is_corrected_back_to_what_is_there(self, brix: float, t: float) -> None:
        shown = float(sucrose.brix_from_refractive_index(sucrose.refractive_index(brix, t), 20))
        if 0 <= shown <= 70:
            self.assertAlmostEqual(float(sucrose.corrected_reading(shown, t)), brix, places=5)

    @TRIES
    @given(parts=st.lists(st.floats(0, 500), min_size=c.COUNT, max_size=c.COUNT), t=st.floats(0, 110))
    def test_heat_tells_the_temperature_it_was_put_in_at(self, parts: list[float], t: float) -> None:
        mass = np.array([parts])
        if mass.sum() > 1:
            heat = thermal.enthalpy_j(mass, np.array([t]))
            self.assertAlmostEqual(float(thermal.temperature_c(mass, heat)[0]), t, places=7)

    @TRIES
    @given(hot=st.floats(20, 105), cold=st.floats(0, 20), share=st.floats(0.01, 0.99))
    def test_what_is_mixed_lies_between(self, hot: float, cold: float, share: float) -> None:
        def syrup(grams: float, t: float) -> Matter:
            mass = np.zeros((1, c.COUNT))
            mass[0, [c.SUCROSE, c.WATER]] = 0.6 * grams, 0.4 * grams
            return replace(Matter.nothing(1), mass_g=mass).at(np.array([t]))

        both = syrup(1000 * share, hot).plus(syrup(1000 * (1 - share), cold))
        self.assertTrue(cold - 1e-9 <= float(both.temperature_c[0]) <= hot + 1e-9)
        self.assertAlmostEqual(float(both.total_g[0]), 1000.0, places=9)


if __name__ == "__main__":
    unittest.main()
