"""The same quantities from general reference libraries, by code that is not ours."""

from __future__ import annotations

import unittest

import numpy as np
from chemicals.refractivity import brix_to_RI
from CoolProp.CoolProp import PropsSI

from jugcore import components as c
from jugcore.physics import boiling, sucrose, thermal, water
from jugcore.physics.boiling import pressure_at_altitude_pa

KELVIN = 273.15


class Water(unittest.TestCase):
    """CoolProp's water (IAPWS-95), 1 to 99 °C. It speaks only of water, so the pressure is an atmosphere."""

    def test_density_viscosity_vapour_pressure_latent_heat(self) -> None:
        for t in (1.0, 4.0, 20.0, 40.0, 60.0, 80.0, 99.0):
            kelvin = t + KELVIN
            with self.subTest(t=t):
                self.assertAlmostEqual(float(water.density_kg_m3(t)) / PropsSI("D", "T", kelvin, "P", 101_325, "Water"), 1, delta=2e-4)
                self.assertAlmostEqual(float(water.viscosity_mpa_s(t)) / (1e3 * PropsSI("V", "T", kelvin, "P", 101_325, "Water")), 1, delta=5e-3)
                latent = (PropsSI("H", "T", kelvin, "Q", 1, "Water") - PropsSI("H", "T", kelvin, "Q", 0, "Water")) / 1e3
                self.assertAlmostEqual(float(water._latent_heat_j_g(np.array(t))), latent, delta=0.4)

    def test_boiling_at_altitude(self) -> None:
        for metres in (0, 640, 2000, 4000):
            pressure = float(pressure_at_altitude_pa(metres))
            self.assertAlmostEqual(float(boiling.boiling_point_c(0, pressure)), PropsSI("T", "P", pressure, "Q", 0, "Water") - KELVIN, delta=0.05)


class Foods(unittest.TestCase):
    """CoolProp's Choi and Okos fat and protein, the source of ours without its quadratic terms."""

    def test_heat_capacities(self) -> None:
        for ours, theirs in (("protein", "FoodProtein"), ("milk_fat", "FoodFat"), ("insoluble", "FoodFiber"), ("other_ash", "FoodAsh")):
            for t in (5.0, 20.0, 60.0, 95.0):
                own = float(thermal.CP_BASE[c.INDEX[ours]] + t * thermal.CP_SLOPE[c.INDEX[ours]])
                with self.subTest(component=ours, t=t):
                    self.assertAlmostEqual(own / (PropsSI("C", "T", t + KELVIN, "P", 101_325, f"INCOMP::{theirs}") / 1e3), 1, delta=0.03)


class Refraction(unittest.TestCase):
    def test_index_of_sucrose(self) -> None:
        """chemicals' table of °Brix against refractive index at 20 °C."""
        for brix in (0.0, 10.0, 30.0, 50.0, 65.0, 80.0):
            with self.subTest(brix=brix):
                self.assertAlmostEqual(float(sucrose.refractive_index(brix)), brix_to_RI(brix), delta=1.5e-4)


if __name__ == "__main__":
    unittest.main()
