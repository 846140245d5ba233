"""What is given to a walk: every kind of path works, and a bad value is one case's fault, never another's."""

from __future__ import annotations

import json
import unittest
from typing import Any

import numpy as np

from jugcore.errors import BadDocument
from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.parameters import KITCHEN, bounds_of
from jugcore.method.walk import walk
from jugcore.reading.readings.cold import cold_margin
from jugcore.reading.report import report
from jugcore.tests.test_readings import example

#: Path → a value that fits and differs from the document's, and one that cannot be.
PATHS: dict[str, tuple[float, float]] = {
    "lines.juice.grams": (500, -1),
    "lines.spice.grams": (30, -1),
    "stages.boil.brix": (60, 101),
    "stages.boil.mass_g": (1500, -50),
    "stages.boil.off_g": (200, -10),
    "stages.boil.minutes": (20, -3),
    "stages.boil.temperature_c": (101.5, 1000),
    "stages.warm.to_c": (70, -300),
    "stages.mill.loss_fraction": (0.1, 2),
    "stages.strain.retained": (0.5, 7),
    "stages.strain.uptake_g_per_g": (2, -1),
    "stages.fill.size_ml": (250, 0),
    "stages.fill.minutes": (9, 0),
    "kitchen.altitude_m": (2000, 1e9),
    "kitchen.room_c": (25, -200),
    "kitchen.fridge_c": (7, 90),
    "kitchen.film_g": (9, -9),
    "kitchen.cake_uptake_g_per_g": (2, -2),
    "kitchen.simmer_kg_m2h": (20, -1),
    "vessels.pot.film_g": (11, -5),
    "burners.gas-left.power_w": (2000, -4),
    "burners.gas-left.efficiency": (0.6, 0),
    "substances.pear_juice.sucrose": (3, -5),
}


def ferryman() -> Method:
    raw: dict[str, Any] = json.loads(json.dumps(example("ferrymans-spice")))
    raw["stages"].insert(1 + next(i for i, s in enumerate(raw["stages"]) if s["kind"] == "blend"),
                         {"id": "mill", "kind": "mill", "vessel": "bowl", "loss_fraction": 0.02})  # fmt: skip
    return parse_document(raw)


class Given(unittest.TestCase):
    def setUp(self) -> None:
        self.method = ferryman()

    def test_every_path_moves_something(self) -> None:
        plain = report(walk(self.method)).model_dump()
        for path, (good, _) in PATHS.items():
            found = walk(self.method, given={path: good})
            with self.subTest(path=path):
                self.assertEqual(found.faults, ())
                self.assertNotEqual(report(found).model_dump(), plain)

    def test_a_bad_value_is_the_fault_of_its_case_alone(self) -> None:
        for path, (good, bad) in PATHS.items():
            alone = walk(self.method, given={path: good})
            for wrong in (bad, float("nan"), 1e300, -1e300):
                together = walk(self.method, given={path: [good, wrong, good]})
                with self.subTest(path=path, wrong=wrong):
                    fault = next(f for f in together.faults if f.code == "out_of_range")
                    self.assertEqual((fault.field, fault.cases.tolist()), (path, [False, True, False]))
                    self.assertTrue(fault.message and "Give" in fault.remedy)
                    for case in (0, 2):
                        np.testing.assert_allclose(together.product.mass_g[case], alone.product.mass_g[0], rtol=1e-12)
                    came, stands = together.came_in_g(), together.stands_g()
                    np.testing.assert_allclose(stands, came, rtol=1e-9, atol=1e-9)
                    self.assertTrue(np.all(np.isfinite(stands)) and np.all(stands >= 0))
                    self.assertTrue(all(np.all(np.isfinite(t)) for t in together.end.ready_at_s.values()))

    def test_a_path_that_names_nothing_is_refused(self) -> None:
        wrong = ("lines.rum.grams", "lines.juice.litres", "stages.boil.vigour", "stages.boil.id", "stages.boil.until", "stages.x.brix",
                 "vessels.nowhere.film_g", "kitchen.pots", "burners.moon.power_w", "substances.pear_juice.water", "substances.rum.sucrose", "x")  # fmt: skip
        for path in wrong:
            with self.subTest(path=path), self.assertRaises(BadDocument) as caught:
                walk(self.method, given={path: 1.0})
            self.assertEqual(caught.exception.field, f"given.{path}")

    def test_numbers_of_values_must_agree(self) -> None:
        with self.assertRaises(BadDocument):
            walk(self.method, given={"lines.juice.grams": [1, 2, 3], "stages.boil.brix": [60, 61]})

    def test_every_field_of_the_kitchen_that_may_be_given_has_bounds(self) -> None:
        for name in KITCHEN:
            bounds = bounds_of(self.method, self.method.document.kitchen or walk(self.method).kitchen, f"kitchen.{name}")
            assert bounds is not None
            self.assertLess(bounds.low, bounds.high)

    def test_readings_follow_the_fridge_that_is_given(self) -> None:
        margins = cold_margin(walk(self.method, given={"kitchen.fridge_c": [2.0, 4.0, 12.0]})).value
        self.assertLess(margins[0], margins[1])
        self.assertLess(margins[1], margins[2])
        self.assertAlmostEqual(margins[1], cold_margin(walk(self.method)).value[0], places=9)

    def test_landmarks_follow_the_room_that_is_given(self) -> None:
        def room(celsius: float) -> float:
            marks = report(walk(self.method, given={"kitchen.room_c": celsius})).sweet_line.landmarks
            return next(mark.brix for mark in marks if mark.id == "room")

        self.assertGreater(room(28.0), room(18.0))

    def test_a_weaker_juice_brings_less_free_sugar(self) -> None:
        method = parse_document(
            {"stages": [{"id": "a", "kind": "add", "vessel": "p", "lines": [{"id": "j", "substance": "pear_juice", "amount": "1 kg"}]}]}
        )
        sugars = {f"substances.pear_juice.{name}": [share] for name, share in (("sucrose", 0.45), ("glucose", 1.05), ("fructose", 3.3))}
        self.assertAlmostEqual(walk(method, given=sugars).product.tracer[0, 0], 0.5 * walk(method).product.tracer[0, 0], places=6)


if __name__ == "__main__":
    unittest.main()
