"""What must hold for every method: conservation, scale, resuming, and names without meaning."""

from __future__ import annotations

import unittest
from collections import Counter

import numpy as np

from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.stages import STAGES
from jugcore.method.walk import Walk, walk
from jugcore.physics.water_activity import _water_activity
from jugcore.tests import depth
from jugcore.tests.random_methods import random_method, renamed


def intensive(found: Walk) -> dict[str, float]:
    """Readings that do not depend on how much there is."""
    end = found.product
    share = end.mass_g / end.total_g[:, None]
    values = {"brix": end.brix[0], "t": end.temperature_c[0], "density": (end.total_g / end.volume_ml(20.0))[0]}
    values |= {f"share{i}": share[0, i] for i in range(share.shape[1])}
    if end.water_g[0] > 0:
        values["aw"] = _water_activity(end.mass_g, np.array([25.0]))[0]
    return {k: float(v) for k, v in values.items()}


class EveryMethod(unittest.TestCase):
    """Five hundred of them with --deep."""

    seeds: list[int]
    methods: list[Method]
    walks: list[Walk]

    @classmethod
    def setUpClass(cls) -> None:
        cls.seeds = depth.methods(depth.WALKED)
        cls.methods = [parse_document(random_method(seed)) for seed in cls.seeds]
        cls.walks = [walk(method) for method in cls.methods]

    def test_the_methods_cover_every_stage_and_mostly_go_through(self) -> None:
        kinds = Counter(type(stage) for method in self.methods for stage in method.stages)
        self.assertEqual(set(kinds), set(STAGES))
        ends = Counter(stage.until.kind for m in self.methods for stage in m.stages if hasattr(stage, "until"))
        self.assertEqual(set(ends), {"brix", "mass_g", "temperature_c", "minutes", "off_g"})
        clean = sum(not found.faults for found in self.walks)
        self.assertGreater(clean, 0.6 * len(self.seeds))

    def test_what_comes_in_or_is_made_stands_in_vessels_or_went_away(self) -> None:
        reacted = 0
        for seed, found in zip(self.seeds, self.walks, strict=True):
            for cause, made in found.end.made.items():
                reacted += 1
                with self.subTest(seed=seed, cause=cause):
                    self.assertLessEqual(abs(made.sum()), 1e-9 * found.came_in_g().sum(), "what reacts adds up to nothing")
            came, stands = found.came_in_g(), found.stands_g()
            with self.subTest(seed=seed):
                self.assertGreater(came.sum(), 0)
                self.assertLessEqual(np.abs(came - stands).max(), 1e-9 * came.sum())
                held = sum(m.mass_g for m in found.end.vessels.values()) + sum(found.end.away.values(), np.zeros_like(came))
                self.assertTrue(np.all(np.isfinite(held)) and np.all(held >= 0))
        self.assertGreater(reacted, 0.2 * len(self.seeds))

    def test_each_component_balances_at_every_stage(self) -> None:
        for seed, found in zip(self.seeds, self.walks, strict=True):
            came = np.zeros_like(found.came_in_g())
            for step in found.steps:
                came = came + sum((f.mass_g for f in step.flows if f.source.startswith("line:")), np.zeros_like(came))
                stands = sum(m.mass_g for m in step.after.vessels.values()) + sum(step.after.away.values(), np.zeros_like(came))
                stands = stands - sum(step.after.made.values(), np.zeros_like(came))
                with self.subTest(seed=seed):
                    np.testing.assert_allclose(stands, came, rtol=1e-9, atol=1e-9)

    def test_heat_balances_where_nothing_is_heated(self) -> None:
        """Adding, joining and straining only move heat."""
        for seed, found in zip(self.seeds, self.walks, strict=True):
            before = found.start
            for stage, step in zip(found.stages, found.steps, strict=True):
                # What boils up as it meets hot sugar leaves as steam, and takes its heat along.
                if stage.kind in ("join", "strain", "press", "fill") and not any(f.target == "away:steam" for f in step.flows):
                    was = sum(m.enthalpy_j for m in before.vessels.values())
                    now = sum(m.enthalpy_j for m in step.after.vessels.values())
                    with self.subTest(seed=seed, stage=stage.kind):
                        np.testing.assert_allclose(now, was, rtol=1e-9, atol=1e-6)
                before = step.after

    def test_resuming_behind_any_stage_gives_the_identical_end(self) -> None:
        for seed, method, found in zip(self.seeds, self.methods, self.walks, strict=True):
            for stage in found.stages[:-1]:
                again = walk(method, start=found.state_after(stage.id), after=stage.id)
                with self.subTest(seed=seed, after=stage.id):
                    np.testing.assert_array_equal(again.product.mass_g, found.product.mass_g)
                    np.testing.assert_array_equal(again.product.enthalpy_j, found.product.enthalpy_j)
                    self.assertEqual(again.end.lines.keys(), found.end.lines.keys())
                    for vessel, ready in found.end.ready_at_s.items():
                        np.testing.assert_array_equal(again.end.ready_at_s[vessel], ready)

    def test_names_and_ids_carry_no_meaning(self) -> None:
        for seed, found in zip(self.seeds, self.walks, strict=True):
            other = walk(parse_document(renamed(random_method(seed))))
            with self.subTest(seed=seed):
                np.testing.assert_array_equal(other.product.mass_g, found.product.mass_g)
                self.assertEqual([f.code for f in other.faults], [f.code for f in found.faults])
                for mine, its in zip(found.steps, other.steps, strict=True):
                    np.testing.assert_array_equal(mine.duration_s, its.duration_s)

    def test_tripling_leaves_intensive_readings_equal(self) -> None:
        for seed in self.seeds:
            once = walk(parse_document(random_method(seed, film=False, minutes=False)))
            thrice = walk(parse_document(random_method(seed, film=False, minutes=False, scale=3.0)))
            with self.subTest(seed=seed):
                np.testing.assert_allclose(thrice.product.mass_g, 3 * once.product.mass_g, rtol=1e-9, atol=1e-9)
                mine, its = intensive(once), intensive(thrice)
                for name, value in mine.items():
                    np.testing.assert_allclose(its[name], value, rtol=1e-9, atol=1e-12, err_msg=name)

    def test_made_up_to_a_volume_any_method_comes_to_it_and_balances(self) -> None:
        made_up = 0
        for seed, found in list(zip(self.seeds, self.walks, strict=True))[::2]:
            there = float(found.product.volume_ml(found.product.temperature_c)[0]) + float(found.product.air_ml[0])
            if found.faults or not there > 1:
                continue
            ml = round(1.3 * there + 50, 1)
            raw = random_method(seed)
            line = {"id": "up", "substance": "whole_milk", "amount": {"kind": "up_to_volume", "ml": ml}}
            raw["stages"].append({"id": "made-up", "kind": "add", "vessel": found.method.product, "lines": [line]})
            full = walk(parse_document({**raw, "finished": found.method.product}))
            end = full.product
            with self.subTest(seed=seed):
                self.assertEqual([fault.code for fault in full.faults], [])
                came, stands = full.came_in_g(), full.stands_g()
                self.assertLessEqual(np.abs(came - stands).max(), 1e-9 * came.sum())
                self.assertAlmostEqual((float(end.volume_ml(end.temperature_c)[0]) + float(end.air_ml[0])) / ml, 1, delta=1e-9)
                made_up += 1
        self.assertGreater(made_up, 0.2 * len(self.seeds))

    def test_many_cases_in_one_walk_equal_one_case_at_a_time(self) -> None:
        rng = np.random.default_rng(7)
        for seed, method, found in list(zip(self.seeds, self.methods, self.walks, strict=True))[::10]:
            line = next(iter(method.lines))
            grams = float(found.end.lines[line][0]) * rng.uniform(0.8, 1.2, 7)
            together = walk(method, given={f"lines.{line}.grams": grams})
            for k, g in enumerate(grams):
                alone = walk(method, given={f"lines.{line}.grams": g})
                with self.subTest(seed=seed, case=k):
                    np.testing.assert_allclose(together.product.mass_g[k], alone.product.mass_g[0], rtol=1e-9, atol=1e-9)


if __name__ == "__main__":
    unittest.main()
