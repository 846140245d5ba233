"""What things cost: worked by hand, against the walk, and what is missing told."""

from __future__ import annotations

import unittest
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from jugcore.matter.library import library
from jugcore.matter.substance import Used
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.money.costing import costing
from jugcore.money.rates import Rates
from jugcore.reading.energy import energy_kwh
from jugcore.reading.readings.content import cost_kg
from jugcore.reading.substance_from_walk import substance_from_walk

KITCHEN = {
    "altitude_m": 0.0, "film_g": 0.0, "efficiency_spread": 0.25,
    "pots": [{"id": "wide", "name": "Wide", "tare_g": 1000.0, "diameter_cm": 24.0, "capacity_ml": 8000.0}],
    "burners": [{"id": "gas", "name": "Gas", "power_w": 3500.0, "efficiency": 0.4}],
}  # fmt: skip


def priced(id: str, price: float | None) -> dict[str, Any]:
    return as_document(replace(library()[id], price_per_kg=price)).model_dump(mode="json", exclude_none=True)


def cooked(*stages: dict[str, Any], prices: Mapping[str, float | None], grams: Mapping[str, float], **more: Any) -> Walk:
    lines = [{"id": f"l-{id}", "substance": id, "amount": f"{g} g"} for id, g in grams.items()]
    first = {"id": "in", "kind": "add", "vessel": "pot", "lines": lines}
    raw = {
        "kitchen": KITCHEN, "vessels": [{"id": "pot", "name": "Pot", "pot": "wide"}], "stages": [first, *stages],
        "substances": {id: priced(id, price) for id, price in prices.items()}, **more,
    }  # fmt: skip
    return walk(parse_document(raw))


HEAT = {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 80.0}
FILL = {"id": "fill", "kind": "fill", "vessel": "pot", "into": "bottles", "size_ml": 500.0}
RATES = Rates(energy_kwh=0.30, wage_h=18.0, container=0.40, label=0.05)


class ByHand(unittest.TestCase):
    def test_energy_of_warming_water(self) -> None:
        """1 kg of water from 20 to 80 °C takes 4,187 × 60 = 251 kJ; of the gas four tenths reach the pot: 628 kJ, 0.174 kWh."""
        found = energy_kwh(cooked(HEAT, prices={}, grams={"water": 1000}))[0]
        self.assertAlmostEqual(float(found[1]), 4.1868 * 60 / 0.4 / 3600, delta=0.002)
        self.assertAlmostEqual(float(found[0]), float(found[1]) / 1.25, places=6)  # a quarter better reaches the pot
        self.assertAlmostEqual(float(found[2]), float(found[1]) / 0.75, places=6)

    def test_energy_of_boiling_off(self) -> None:
        """500 g of 1 kg of water at sea level: 335 kJ to come to the boil, 500 × 2,257 J to leave: 1,463 kJ, at 0.4 1.016 kWh."""
        boil = {"id": "boil", "kind": "boil", "vessel": "pot", "until": {"off_g": 500.0}, "vigour": "full"}
        found = energy_kwh(cooked(boil, prices={}, grams={"water": 1000}))[0]
        self.assertAlmostEqual(float(found[1]), (4.1868 * 80 + 0.5 * 2257) / 0.4 / 3600, delta=0.01)

    def test_power_times_time_says_the_same(self) -> None:
        """At full boil the burner is what limits: its rated power times the time of the walk is the energy."""
        boil = {"id": "boil", "kind": "boil", "vessel": "pot", "until": {"off_g": 700.0}, "vigour": "full"}
        found = cooked(boil, prices={}, grams={"water": 1500, "white_sugar": 500})
        by_time = 3500.0 * float(found.step("boil").duration_s[0, 1]) / 3.6e6
        self.assertAlmostEqual(float(energy_kwh(found)[0, 1]), by_time, delta=0.03 * by_time)

    def test_a_batch_in_its_parts(self) -> None:
        """500 g of sugar at 1.20 and water, warmed, in bottles of 500 ml at 0.45 with their label."""
        found = cooked(HEAT, FILL, prices={"white_sugar": 1.2}, grams={"white_sugar": 500, "water": 500})
        sheet = costing(found, RATES, dose_g=20)
        items = {item.id: item for item in sheet.items}
        self.assertAlmostEqual(items["ingredients"].likely or 0, 0.60, places=9)
        bottles = float(next(step for stage, step in zip(found.stages, found.steps, strict=True) if stage.id == "fill").figures["containers"][0])
        self.assertAlmostEqual((items["containers"].likely or 0) + (items["labels"].likely or 0), 0.45 * bottles, places=9)
        self.assertAlmostEqual(items["energy"].likely or 0, 0.30 * float(energy_kwh(found)[0, 1]), places=9)
        hours = sum(float(step.hands_s[0, 1]) for step in found.steps) / 3600
        self.assertAlmostEqual(items["hands"].likely or 0, 18.0 * hours, places=9)
        self.assertAlmostEqual(sheet.batch[1], sum(item.likely or 0 for item in sheet.items), places=9)
        assert sheet.per_dose is not None and sheet.per_kg is not None
        self.assertAlmostEqual(sheet.per_dose[1], 0.020 * sheet.per_kg[1], places=9)
        self.assertTrue(sheet.batch[0] < sheet.batch[1] < sheet.batch[2])
        self.assertEqual(sheet.missing, ())

    def test_ingredients_alone_are_what_the_reading_says(self) -> None:
        found = cooked(HEAT, prices={"white_sugar": 1.2, "whole_milk": 1.1}, grams={"white_sugar": 300, "whole_milk": 700})
        sheet = costing(found, Rates())
        assert sheet.per_kg is not None
        self.assertAlmostEqual(sheet.per_kg[1], float(cost_kg(found).value[0]), places=9)

    def test_what_is_poured_away_was_made_as_dearly(self) -> None:
        """A tenth poured away: nine tenths must pay for ten, an eleventh of it more than a tenth."""
        found = cooked(HEAT, prices={"white_sugar": 1.2}, grams={"white_sugar": 500, "water": 500})
        without, with_waste = costing(found, RATES), costing(found, RATES.model_copy(update={"waste": {"syrup": 0.1}}), formula="syrup")
        self.assertAlmostEqual(with_waste.batch[1], without.batch[1] / 0.9, places=9)


class MadeHere(unittest.TestCase):
    """A cream sweetened with our own syrup, which is warmed and filled: the work of both, by hand from their own sheets."""

    syrup: Walk
    doc: dict[str, Any]
    cream: Walk
    cream_doc: dict[str, Any]

    @classmethod
    def setUpClass(cls) -> None:
        cls.syrup = cooked(HEAT, FILL, prices={"white_sugar": 1.2}, grams={"white_sugar": 600, "water": 400})
        doc = as_document(substance_from_walk(cls.syrup, Used("syrup", 1, "Plain Syrup", "f"), "made-syrup-1"))
        cls.doc = doc.model_dump(mode="json", exclude_none=True)
        cls.cream = cls.creamed(cls.doc)
        cream = as_document(substance_from_walk(cls.cream, Used("cream", 1, "Sweet Cream", "f"), "made-cream-1"))
        cls.cream_doc = cream.model_dump(mode="json", exclude_none=True)

    @staticmethod
    def creamed(syrup: dict[str, Any]) -> Walk:
        lines = [{"id": "syrup", "substance": "made-syrup-1", "amount": "200 g"}, {"id": "cream", "substance": "heavy_cream", "amount": "300 g"}]
        raw = {
            "kitchen": KITCHEN, "vessels": [{"id": "pot", "name": "Pot", "pot": "wide"}],
            "stages": [{"id": "in", "kind": "add", "vessel": "pot", "lines": lines}, {**FILL, "size_ml": 250.0}],
            "substances": {"made-syrup-1": syrup, "heavy_cream": priced("heavy_cream", 6.0)},
        }  # fmt: skip
        return walk(parse_document(raw))

    def test_the_work_of_what_goes_in_is_what_its_own_sheet_says(self) -> None:
        alone = {item.id: item for item in costing(self.syrup, RATES).items}
        sheet = {item.id: item for item in costing(self.cream, RATES).items}
        used = 200.0 / float(self.syrup.product.total_g[0])
        for end in ("low", "likely", "high"):
            work = sum(getattr(alone[id], end) for id in ("energy", "hands", "containers", "labels"))
            self.assertAlmostEqual(getattr(sheet["making"], end), used * work, places=9)
        self.assertAlmostEqual(sheet["ingredients"].likely or 0, 0.3 * 6.0 + used * (alone["ingredients"].likely or 0), places=9)

    def test_through_any_depth(self) -> None:
        """A gram of the cream in something else brings the work of the cream and of the syrup in it."""
        lines = [{"id": "cream", "substance": "made-cream-1", "amount": "100 g"}]
        raw = {
            "kitchen": KITCHEN, "vessels": [{"id": "pot", "name": "Pot", "pot": "wide"}],
            "stages": [{"id": "in", "kind": "add", "vessel": "pot", "lines": lines}], "substances": {"made-cream-1": self.cream_doc},
        }  # fmt: skip
        outer = {item.id: item for item in costing(walk(parse_document(raw)), RATES).items}
        inner = {item.id: item for item in costing(self.cream, RATES).items}
        work = sum(inner[id].likely or 0 for id in ("making", "energy", "hands", "containers", "labels") if id in inner)
        self.assertAlmostEqual(outer["making"].likely or 0, 100 / float(self.cream.product.total_g[0]) * work, places=9)

    def test_what_is_poured_away_on_the_way(self) -> None:
        """A fifth of the syrup is poured away and a tenth of the cream: all of the syrup costs 1 / 0.8 / 0.9, the rest of the cream 1 / 0.9."""
        wasteful = RATES.model_copy(update={"waste": {"syrup": 0.2, "cream": 0.1}})
        without = costing(self.cream, RATES)
        used = 200.0 / float(self.syrup.product.total_g[0])
        syrup = used * costing(self.syrup, RATES).batch[1]
        self.assertAlmostEqual(costing(self.cream, wasteful, formula="cream").batch[1], (without.batch[1] - syrup + syrup / 0.8) / 0.9, places=9)

    def test_prices_together_are_all_of_it_whatever_is_poured_away(self) -> None:
        wasteful = RATES.model_copy(update={"waste": {"syrup": 0.2, "cream": 0.1}})
        sheet = costing(self.cream, wasteful, formula="cream")
        unit = sheet.per_litre or sheet.per_kg
        assert unit is not None
        self.assertAlmostEqual(sum(each.higher - unit[1] for each in sheet.drivers if each.kind == "price"), 0.2 * unit[1], places=9)

    def test_work_that_was_never_written_down_is_missing(self) -> None:
        made = {name: value for name, value in self.doc["made_from"].items() if name != "work"}
        sheet = costing(self.creamed({**self.doc, "made_from": made}), RATES)
        self.assertIn("Plain Syrup", " ".join(sheet.missing))
        self.assertEqual(costing(self.cream, RATES).missing, ())

    def test_it_says_the_same_after_a_round_of_writing(self) -> None:
        again = as_document(substance_from_walk(self.cream, Used("cream", 1, "Sweet Cream", "f"), "made-cream-1"))
        first = again.made_from
        assert first is not None and first.work is not None
        self.assertEqual([each.through for each in first.work], [("cream",), ("cream", "syrup")])
        self.assertEqual({each.through for each in first.contents}, {("cream",), ("cream", "syrup")})


class Missing(unittest.TestCase):
    def test_it_is_told_and_never_counted_as_free(self) -> None:
        found = cooked(HEAT, FILL, prices={"white_sugar": None, "whole_milk": 1.1}, grams={"white_sugar": 300, "whole_milk": 700})
        sheet = costing(found, Rates())
        told = " ".join(sheet.missing)
        for word in ("white granulated sugar", "kilowatt-hour", "hour of work", "bottle", "label"):
            self.assertIn(word, told)
        self.assertEqual({item.id for item in sheet.items if item.likely is None}, {"energy", "hands", "containers", "labels"})
        self.assertAlmostEqual(sheet.batch[1], 0.7 * 1.1, places=9)


class Drivers(unittest.TestCase):
    def test_the_furthest_first_and_each_by_walking_it(self) -> None:
        """Trimmed fruit is most of it: its price, then its yield. A fifth on a price is a fifth of its part; a yield is walked again."""
        trim = {"id": "trim", "kind": "trim", "vessel": "pot", "yield_fraction": 0.7}
        syrup = {"id": "more", "kind": "add", "vessel": "pot", "lines": [{"id": "sugar", "substance": "white_sugar", "amount": "200 g"}]}
        prices = {"pear_flesh": 3.0, "white_sugar": 1.2}
        found = cooked(trim, syrup, prices=prices, grams={"pear_flesh": 1000})
        sheet = costing(found, Rates())
        unit = sheet.per_litre or sheet.per_kg
        assert unit is not None
        by_title = {each.title: each for each in sheet.drivers}
        self.assertEqual([each.swing for each in sheet.drivers], sorted((each.swing for each in sheet.drivers), reverse=True))
        pear, sugar = by_title[library()["pear_flesh"].title], by_title[library()["white_sugar"].title]
        self.assertAlmostEqual(pear.swing / sugar.swing, 3.0 / 0.24, places=6)
        self.assertAlmostEqual((pear.lower + pear.higher) / 2, unit[1], places=9)
        share = next(each for each in sheet.drivers if each.kind == "yield")
        dearer = cooked({**trim, "yield_fraction": 0.56}, syrup, prices=prices, grams={"pear_flesh": 1000})
        again = costing(dearer, Rates())
        self.assertAlmostEqual(share.lower, (again.per_litre or again.per_kg or (0, 0, 0))[1], places=9)
        self.assertGreater(share.lower, share.higher)

    def test_prices_together_are_all_of_it(self) -> None:
        """A fifth on every price at once is a fifth on the whole."""
        rng = np.random.default_rng(31)
        for seed in range(20):
            prices = {id: float(rng.uniform(0.5, 9)) for id in ("white_sugar", "whole_milk", "honey")}
            grams = {id: float(rng.uniform(50, 900)) for id in prices}
            sheet = costing(cooked(HEAT, FILL, prices=dict(prices), grams=grams), RATES)
            unit = sheet.per_litre or sheet.per_kg
            assert unit is not None
            moved = sum(each.higher - unit[1] for each in sheet.drivers if each.kind == "price")
            with self.subTest(seed=seed):
                self.assertAlmostEqual(moved, 0.2 * unit[1], places=9)
