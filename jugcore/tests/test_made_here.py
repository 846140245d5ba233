"""What was made here as an ingredient: the same as its stages as a branch, through any depth; what it brings, costs, keeps and warns of."""

from __future__ import annotations

import copy
import json
import unittest
from typing import Any

import numpy as np

from jugcore.batch.actual.actual_batch import as_strong
from jugcore.editing.freeze import freeze
from jugcore.errors import DomainError
from jugcore.matter.matter import ADDED_SUGAR, AMYLASE, FREE_SUGAR, described_g
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.reading.carried import carried
from jugcore.reading.catalogue import readings
from jugcore.reading.cautions import Cautions
from jugcore.reading.costs import product_cost
from jugcore.reading.keeping.assessment import keeping_of
from jugcore.reading.report import allergens_of, report
from jugcore.reading.seasoning import seasoning_g
from jugcore.tests import depth
from jugcore.tests.nested import KITCHEN, Nested, as_ingredient, nested
from jugcore.tests.random_methods import AMYLASE as SHEET

Doc = dict[str, Any]
#: More stages than a document may have are no nesting of this many.
_DEEPEST = {0: 4, 1: 3, 2: 2, 3: 1}


def _walked(document: Doc) -> Walk:
    return walk(parse_document(document))


class AsABranch(unittest.TestCase):
    """Two hundred of them with --deep."""

    def same(self, pair: Nested) -> bool:
        """Whether both forms come to the same; False where the branch meets trouble of its own on the way and cannot be compared."""
        made, branch = _walked(pair.made), _walked(pair.branch)
        if {fault.code for fault in made.faults} != {fault.code for fault in branch.faults}:
            return False
        total = float(branch.product.total_g[0])
        for what in ("mass_g", "tracer", "air_ml", "enthalpy_j"):
            off = np.abs(getattr(made.product, what) - getattr(branch.product, what)).max()
            self.assertLessEqual(float(off), 1e-9 * max(total, 1.0), what)
        # An extent counts by what it describes: of an enzyme that is dead to the last digit its heat says nothing.
        describes = described_g(branch.product.mass_g, branch.product.tracer)
        off = np.abs(made.product.extent - branch.product.extent) / np.maximum(np.abs(branch.product.extent), 1.0)
        self.assertLessEqual(float(np.where(describes > 1e-12 * total, off, 0.0).max()), 1e-9)
        self.assertEqual(*([(each.allergen, each.certain) for each in allergens_of(found)] for found in (made, branch)))
        self.assertAlmostEqual(float(seasoning_g(made)[0]), float(seasoning_g(branch)[0]), delta=1e-9 * max(total, 1.0))
        self.assertEqual(*(_went_in(found).keys() for found in (made, branch)))
        for substance, grams in _went_in(branch).items():
            self.assertAlmostEqual(_went_in(made)[substance], grams, delta=1e-9 * max(total, 1.0), msg=substance)
        return True

    def test_an_ingredient_made_here_and_the_same_stages_as_a_branch_give_the_same_to_the_depth_of_four(self) -> None:
        compared = 0
        for seed in range(depth.often(200, daily=16)):
            with self.subTest(seed=seed):
                try:
                    pair = nested(seed, _DEEPEST[seed % 4])
                    parse_document(pair.branch)
                except DomainError as error:
                    self.assertIn("stages together", error.message)  # the branch is longer than a document may be
                    continue
                compared += self.same(pair)
                self._conserves(_walked(pair.made))
        self.assertGreaterEqual(compared, 0.4 * depth.often(200, daily=16))

    def _conserves(self, found: Walk) -> None:
        came, stands = found.came_in_g(), found.stands_g()
        np.testing.assert_allclose(stands, came, rtol=0, atol=1e-9 * float(came.sum()))


def _went_in(found: Walk) -> dict[str, float]:
    """Grams of each ingredient as bought that stand behind the product."""
    total: dict[str, float] = {}
    for line, grams in carried(found)[found.method.product].items():
        for each in found.method.contents_of(line):
            total[each.substance] = total.get(each.substance, 0.0) + float(grams[0]) * each.grams_per_g
    return {substance: grams for substance, grams in total.items() if grams > 0}


def _line(substance: str, grams: float, **more: Any) -> Doc:
    return {"id": f"l-{substance}", "substance": substance, "amount": f"{grams:g} g", **more}


def _document(*stages: Doc, **substances: Doc) -> Doc:
    return {
        "format": "oakenjug.method/2", "vessels": [{"id": "pot", "pot": "wide"}], "substances": substances, "kitchen": KITCHEN,
        "stages": [{"id": f"s{n}", "vessel": "pot", **stage} for n, stage in enumerate(stages)],
    }  # fmt: skip


def _priced(title: str, price: float | None, composition: Doc, **more: Any) -> Doc:
    return {"title": title, "composition_g_per_100g": composition, "price_per_kg": price, **more}


SUGAR = _priced("White sugar", 1.0, {"sucrose": 100}, kind="sugar")
CREAM = _priced(
    "Heavy cream", 6.0, {"water": 58.2, "milk_fat": 36, "protein": 2.2, "lactose": 3, "other_ash": 0.6}, kind="dairy", storage="chilled",
    allergens=["milk"], opened={"low": 3, "high": 5, "storage": "chilled"}, free_sugars_g_per_100g=0,
)  # fmt: skip


def weir_simple() -> Doc:
    """500 g of sugar and 500 g of water, dissolved."""
    return _document({"kind": "add", "lines": [_line("water", 500), _line("white_sugar", 500)]}, {"kind": "mix"}, white_sugar=SUGAR)


def sweet_cream(syrup: Doc) -> Doc:
    """300 g of cream and 200 g of the syrup."""
    lines = [_line("heavy_cream", 300), _line("syrup", 200)]
    return _document({"kind": "add", "lines": lines}, {"kind": "mix"}, heavy_cream=CREAM, syrup=syrup)


class HandWorked(unittest.TestCase):
    """Weir Simple in a sweet cream in a drink; each figure with its working."""

    syrup: Doc
    cream: Doc
    drink: Walk

    @classmethod
    def setUpClass(cls) -> None:
        cls.syrup = as_ingredient(weir_simple(), "Weir Simple", "syrup")
        cls.cream = as_ingredient(sweet_cream(cls.syrup), "Fennel Sweet Cream", "cream")
        cls.drink = _walked(_document({"kind": "add", "lines": [_line("water", 150), _line("cream", 50)]}, cream=cls.cream))

    def test_sugar(self) -> None:
        # 50 g of sweet cream hold 50 × 200 / 500 = 20 g of syrup, half of it sugar: 10 g. All of it was added.
        tracer = self.drink.product.tracer[0]
        self.assertAlmostEqual(float(tracer[FREE_SUGAR]), 10.0, places=9)
        self.assertAlmostEqual(float(tracer[ADDED_SUGAR]), 10.0, places=9)

    def test_cost(self) -> None:
        # A kilogram of syrup holds 0.5 kg of sugar at 1.00: 0.50. Of sweet cream 0.6 kg of cream at 6.00 and 0.4 kg of syrup:
        # 3.60 + 0.20 = 3.80. In 50 g: 0.19.
        self.assertAlmostEqual(self.syrup["price_per_kg"], 0.5, places=9)
        self.assertAlmostEqual(self.cream["price_per_kg"], 3.8, places=9)
        self.assertAlmostEqual(float(product_cost(self.drink)[0][0]), 0.19, places=9)

    def test_a_price_that_is_missing_deep_inside_is_named_and_not_counted_as_nothing(self) -> None:
        bare = weir_simple()
        bare["substances"]["white_sugar"] = {**SUGAR, "price_per_kg": None}
        cream = as_ingredient(sweet_cream(as_ingredient(bare, "Weir Simple", "syrup")), "Fennel Sweet Cream", "cream")
        found = {r.id: r for r in readings(_walked(_document({"kind": "add", "lines": [_line("cream", 50)]}, cream=cream)))}
        self.assertTrue(np.isnan(found["cost_kg"].value[0]))
        self.assertEqual(found["cost_kg"].why_not, "The price of white sugar in Weir Simple is missing.")

    def test_allergens_name_what_they_are_of(self) -> None:
        milk = next(each for each in allergens_of(self.drink) if each.allergen == "milk")
        self.assertEqual((milk.lines, milk.certain), (["Heavy cream in Fennel Sweet Cream"], True))

    def test_its_own_days_bound_what_it_enters(self) -> None:
        keeping = keeping_of(self.drink)
        self.assertEqual(keeping.days, 3)
        self.assertEqual(next(limit.title for limit in keeping.limits if limit.decides), "heavy cream, once opened, in Fennel Sweet Cream")
        self.assertIn("heavy_cream", keeping.dated)

    def test_it_knows_every_version_in_it(self) -> None:
        method = self.drink.method
        made = method.substances["cream"].made
        assert made is not None
        self.assertEqual([used.name for used in made.uses], ["Weir Simple"])
        self.assertEqual(made.version.name, "Fennel Sweet Cream")

    def test_frozen_it_needs_nothing_but_itself(self) -> None:
        kept = json.loads(freeze(self.drink.method).model_dump_json(exclude_none=True))
        again = _walked(kept)
        np.testing.assert_array_equal(again.product.mass_g, self.drink.product.mass_g)
        np.testing.assert_array_equal(again.product.tracer, self.drink.product.tracer)
        self.assertEqual(report(again).allergens, report(self.drink).allergens)

    def test_where_its_strength_is_another_what_travels_with_its_sugar_is_too(self) -> None:
        given = {"substances.cream.sucrose": [20.0, 10.0]}  # as made, and half of it
        found = walk(self.drink.method, given=given)
        np.testing.assert_allclose(found.product.mass_g.sum(axis=1), 200.0)
        lactose = 50 * 0.6 * 0.03 / 100 * 100
        scale = (5.0 + lactose) / (10.0 + lactose)
        np.testing.assert_allclose(found.product.tracer[:, FREE_SUGAR], [10.0, 10.0 * scale])

    def test_a_syrup_that_came_out_weaker_brings_as_much_less_of_what_is_added(self) -> None:
        book = parse_document(sweet_cream(self.syrup)).substances["syrup"]
        weak = as_strong(book, 25.0)
        found = _walked(_document({"kind": "add", "lines": [_line("syrup", 100)]}, syrup=json.loads(as_document(weak).model_dump_json())))
        # 100 g at 25 °Bx, all of it added sugar.
        self.assertAlmostEqual(float(found.product.tracer[0, ADDED_SUGAR]), 25.0, places=9)
        self.assertAlmostEqual(float(found.product.brix[0]), 25.0, places=9)


class What(unittest.TestCase):
    def cautions(self, syrup: Doc) -> list[str]:
        found = _walked(
            _document(
                {"kind": "add", "lines": [_line("heavy_cream", 200)]}, {"kind": "add", "lines": [_line("syrup", 50)]}, heavy_cream=CREAM, syrup=syrup
            )
        )
        return [words for stage in found.stages for words in Cautions(found).at(stage)]

    def ginger(self, *stages: Doc) -> Doc:
        lines = [_line("water", 300), _line("white_sugar", 300), _line("fresh_ginger", 100)]
        return as_ingredient(_document({"kind": "add", "lines": lines}, *stages, white_sugar=SUGAR), "Lemongrass Ginger", "syrup")

    def test_raw_ginger_in_a_syrup_curdles_milk_and_boiled_ginger_does_not(self) -> None:
        raw = [words for words in self.cautions(self.ginger()) if "curdles" in words]
        self.assertEqual(len(raw), 1)
        self.assertRegex(raw[0], "^Ginger.* in Lemongrass Ginger: raw, ")
        boiled = self.cautions(self.ginger({"kind": "boil", "until": {"minutes": 5}, "vigour": "steady"}))
        self.assertEqual([words for words in boiled if "curdles" in words], [])

    def test_what_is_only_a_hazard_while_it_is_handled_is_not_told_again(self) -> None:
        lines = [_line("water", 300), _line("white_sugar", 300), _line("honey", 50)]
        dusty = {**SUGAR, "hazards": ["stains", "chilli"]}
        syrup = as_ingredient(_document({"kind": "add", "lines": lines}, white_sugar=dusty), "Hot Honey", "syrup")
        told = self.cautions(syrup)
        self.assertTrue(any("twelve months" in words and "in Hot Honey" in words for words in told), told)
        self.assertFalse(any("gloves" in words or "stains" in words for words in told), told)

    def test_a_foam_keeps_its_air_and_its_litre_weighs_less(self) -> None:
        flat = as_ingredient(sweet_cream(SUGAR), "Flat", "flat")
        foam = as_ingredient(
            _document({"kind": "add", "lines": [_line("heavy_cream", 300)]}, {"kind": "aerate", "tool": "blender"}, heavy_cream=CREAM), "Foam", "foam"
        )
        self.assertGreater(foam["made_from"]["air_ml_per_g"], 0.3)
        self.assertLess(foam["density_g_ml"], 0.8 * flat["density_g_ml"])
        found = _walked(_document({"kind": "add", "lines": [_line("water", 100), _line("foam", 20)]}, foam=foam))
        self.assertAlmostEqual(float(found.product.air_ml[0]), 20 * foam["made_from"]["air_ml_per_g"], places=9)

    def test_enzyme_that_still_works_comes_with_it(self) -> None:
        lines = [_line("water", 500), _line("cocoa_low_fat", 100), _line("amylase", 0.5)]
        cold = as_ingredient(_document({"kind": "add", "lines": lines}, amylase=SHEET), "Cold", "sauce")
        hot = ({"kind": "heat", "to_c": 95}, {"kind": "hold", "for_min": 30, "where": "hob"})
        boiled = as_ingredient(_document({"kind": "add", "lines": lines}, *hot, amylase=SHEET), "Hot", "sauce")
        alive = [
            float(_walked(_document({"kind": "add", "lines": [_line("sauce", 100)]}, sauce=each)).product.tracer[0, AMYLASE])
            for each in (cold, boiled)
        ]
        self.assertGreater(alive[0], 1.0)
        self.assertLess(alive[1], 1e-3 * alive[0])


class Written(unittest.TestCase):
    def refused(self, change: Any) -> str:
        document = _document(
            {"kind": "add", "lines": [_line("syrup", 50)]}, syrup=copy.deepcopy(as_ingredient(weir_simple(), "Weir Simple", "syrup"))
        )
        change(document["substances"]["syrup"]["made_from"])
        with self.assertRaises(DomainError) as refused:
            parse_document(document)
        return refused.exception.field

    def test_what_travels_with_nothing_known_is_refused_where_it_stands(self) -> None:
        self.assertEqual(self.refused(lambda made: made["tracers_g_per_g"].update(luck=1.0)), "substances.syrup.made_from.tracers_g_per_g")
        self.assertEqual(self.refused(lambda made: made["extents"].update(luck=1.0)), "substances.syrup.made_from.extents")

    def test_what_it_is_made_of_is_as_bought(self) -> None:
        syrup = as_ingredient(weir_simple(), "Weir Simple", "syrup")
        self.assertEqual(
            self.refused(lambda made: made["contents"][0].update(facts=syrup)), "substances.syrup.made_from.contents"
        )  # fmt: skip
