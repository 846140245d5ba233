"""What people write, read as amounts, and weighed."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.errors import DomainError, NotUnderstood, SeveralProblems
from jugcore.matter.library import library
from jugcore.measures.density import Weighed, grams_of
from jugcore.measures.parsing import Everything, Likeness, Parts, Portion, Quantity, Rate, Total, parse_amount
from jugcore.measures.systems import MASS_G, VOLUME_ML
from jugcore.method.compile import compile_document, parse_document
from jugcore.tests.tables import rows
from jugcore.tests.test_references import document

SUGAR = library()["white_sugar"]


def one(value: float, unit: str | None, high: float | None = None, **more: Any) -> Quantity:
    """A quantity of one portion."""
    return Quantity((Portion(value, value if high is None else high, unit, **more),))


def sheet(text: str, substance: str, system: str = "metric") -> Weighed:
    quantity = parse_amount(text)
    assert isinstance(quantity, Quantity), quantity
    return grams_of(quantity, library()[substance], system)


class Reading(unittest.TestCase):
    def test_quantities(self) -> None:
        cases = {
            "430 g": (430, "g"), "430": (430, None), "0.5kg": (0.5, "kg"), "1 1/2 cups": (1.5, "cup"), "1½ cups": (1.5, "cup"),
            "¾ tsp": (0.75, "tsp"), "½ TSP": (0.5, "tsp"), "1,5 kg": (1.5, "kg"), "1,200 g": (1200, "g"), "a cup": (1, "cup"),
            "half a cup": (0.5, "cup"), "10 fl oz": (10, "floz"), "3/4 l": (0.75, "l"), "2 tablespoons": (2, "tbsp"), "  7  g ": (7, "g"),
            "10 fl. oz.": (10, "floz"), "two thirds of a cup": (2 / 3, "cup"), "a quarter cup": (0.25, "cup"), "1 and a half cups": (1.5, "cup"),
            "a dozen drops": (12, "drop"), "pinch": (1, "pinch"), "2 dashes": (2, "dash"), "1 T": (1, "tbsp"), "1 t": (1, "tsp"), "3 pumps": (3, "pump"),
            "8 oz by weight": (8, "oz_weight"), "2 gal": (2, "gallon"), ".5 l": (0.5, "l"), "1⁄3 cup": (1 / 3, "cup"), "⅛ tsp.": (0.125, "tsp"),
        }  # fmt: skip
        for text, (value, unit) in cases.items():
            with self.subTest(text=text):
                self.assertEqual(parse_amount(text), one(value, unit))

    def test_ranges_shapes_and_sums(self) -> None:
        self.assertEqual(parse_amount("2–3 tbsp"), one(2, "tbsp", 3))
        for text in ("2 to 3 cups", "2-3 cups", "between 2 and 3 cups"):
            self.assertEqual(parse_amount(text), one(2, "cup", 3))
        self.assertEqual(parse_amount("2 heaped tbsp"), one(2, "tbsp", shape="heaped"))
        for text in ("scant ½ cup", "½ scant cup"):
            self.assertEqual(parse_amount(text), one(0.5, "cup", shape="scant"))
        for text in ("a heaping tsp", "heaped teaspoon", "one heaped tsp."):
            self.assertEqual(parse_amount(text), one(1, "tsp", shape="heaped"))
        self.assertEqual(parse_amount("1 lb 4 oz"), Quantity((Portion(1, 1, "lb"), Portion(4, 4, "oz"))))
        self.assertEqual(
            parse_amount("1 cup plus 2 tbsp and a pinch"), Quantity((Portion(1, 1, "cup"), Portion(2, 2, "tbsp"), Portion(1, 1, "pinch")))
        )
        self.assertEqual(parse_amount("about 200 g"), Quantity((Portion(200, 200, "g"),), about=True))
        for text in ("half a pod", "1/2 pod"):
            self.assertEqual(parse_amount(text), one(0.5, "piece", piece="pod"))
        self.assertEqual(parse_amount("2 tbsp of sugar"), Quantity((Portion(2, 2, "tbsp"),), what="sugar"))
        self.assertEqual(parse_amount("3 parts"), Parts(3))

    def test_other_forms(self) -> None:
        self.assertEqual(parse_amount("22 g per kg"), Rate(22, None))
        self.assertEqual(parse_amount("22 g/kg started"), Rate(22, "started"))
        self.assertEqual(parse_amount("5 % of the milk"), Rate(50, "milk", percent=True))
        self.assertEqual(parse_amount("2 g per 100 g of milk"), Rate(20, "milk"))
        self.assertEqual(parse_amount("500 mg per kg of water"), Rate(0.5, "water"))
        self.assertEqual(parse_amount("made up to 100 g"), Total(100))
        self.assertEqual(parse_amount("up to 0.3 kg"), Total(300))
        self.assertEqual(parse_amount("up to 1 lb 4 oz"), Total(20 * 28.349523125))
        self.assertEqual(parse_amount("all of it"), Everything())
        for text, names, factor in (
            ("as juice", ("juice",), 1.0),
            ("same as juice and water", ("juice", "water"), 1.0),
            ("as juice, water & the milk", ("juice", "water", "milk"), 1.0),
            ("twice the water", ("water",), 2.0),
            ("twice as much as the water", ("water",), 2.0),
            ("1.3 x water", ("water",), 1.3),
            ("2x water", ("water",), 2.0),
            ("half of the water", ("water",), 0.5),
            ("two thirds of the water", ("water",), 2 / 3),
            ("3/4 the water", ("water",), 0.75),
            ("all three", ("all three",), 1.0),
            ("as half-and-half", ("half-and-half",), 1.0),
            ("half the half-and-half", ("half-and-half",), 0.5),
        ):
            with self.subTest(text=text):
                parsed = parse_amount(text)
                assert isinstance(parsed, Likeness)
                self.assertEqual((parsed.names, parsed.factor), (names, factor))

    def test_what_cannot_be_read_says_which_word(self) -> None:
        cases = {
            "1/0 cup": "1/0", "": "no amount", "-5 g": "-5", "5-3 g": "backwards", "1.5.2 g": ".2", "2 heaped": "stops", "as": "stops",
            "up to 3 cups": "litres", "5 x": "stops", "2 cups 3": "stops",
        }  # fmt: skip
        for text, word in cases.items():
            with self.subTest(text=text):
                with self.assertRaises(NotUnderstood) as caught:
                    parse_amount(text)
                self.assertIn(word, caught.exception.message)
                self.assertTrue(caught.exception.remedy)

    @given(
        st.text(max_size=60)
        | st.lists(
            st.sampled_from(
                [
                    "2",
                    "1/2",
                    "½",
                    "a",
                    "half",
                    "of",
                    "the",
                    "and",
                    "x",
                    "heaped",
                    "cup",
                    "tbsp",
                    "pinch",
                    "%",
                    "per",
                    "kg",
                    "up",
                    "to",
                    "as",
                    "twice",
                    "-",
                    "+",
                    ",",
                    "(",
                    "pods",
                    "1,5",
                ]
            ),
            max_size=9,
        ).map(" ".join)
    )
    @settings(max_examples=600, derandomize=True, deadline=None)
    def test_no_text_breaks_it_and_a_refusal_points_into_it(self, text: str) -> None:
        try:
            parse_amount(text)
        except NotUnderstood as refusal:
            self.assertTrue(refusal.message and refusal.remedy)
            if refusal.at is not None:
                self.assertTrue(0 <= refusal.at[0] <= refusal.at[1] <= len(text), (text, refusal.at))


class Generated(unittest.TestCase):
    """Amounts are made first and written down in one of the ways people write; reading gives them back."""

    words = {
        "g": ("g", "grams", "G", "g."), "kg": ("kg", "kilos"), "lb": ("lb", "pounds", "lbs."), "oz": ("oz", "ounces"), "ml": ("ml", "millilitres"),
        "l": ("l", "litres"), "tsp": ("tsp", "teaspoons", "tsps."), "tbsp": ("tbsp", "tablespoons", "Tbsp"), "cup": ("cup", "cups", "Cups"),
        "floz": ("fl oz", "fluid ounces", "fl. oz."), "pint": ("pint", "pt"), "quart": ("qt", "quarts"), "gallon": ("gal", "gallons"),
        "pump": ("pumps",), "pinch": ("pinches", "pinch"), "dash": ("dashes",), "drop": ("drops",),
    }  # fmt: skip
    vulgar = {"½": 0.5, "¼": 0.25, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 0.125, "1/2": 0.5, "3/8": 0.375, "2/3": 2 / 3, "1⁄4": 0.25}

    @st.composite
    @staticmethod
    def number(draw: st.DrawFn) -> tuple[str, float]:
        kind = draw(st.sampled_from(["whole", "decimal", "comma", "thousands", "fraction", "mixed", "word"]))
        if kind == "word":
            return draw(st.sampled_from([("one", 1.0), ("two", 2.0), ("seven", 7.0), ("a", 1.0)]))
        if kind in ("fraction", "mixed"):
            text, value = draw(st.sampled_from(sorted(Generated.vulgar.items())))
            if kind == "fraction":
                return text, value
            whole = draw(st.integers(1, 40))
            return f"{whole}{draw(st.sampled_from([' ', ''])) if len(text) == 1 else ' '}{text}", whole + value
        whole = draw(st.integers(1, 9999))
        if kind == "whole":
            return str(whole), float(whole)
        if kind == "thousands":
            return f"{whole + 1000:,}", float(whole + 1000)
        places = draw(st.integers(1, 99))
        # Three digits after a comma would be thousands.
        return f"{whole}{'.' if kind == 'decimal' else ','}{places:02}", whole + places / 100

    @st.composite
    @staticmethod
    def portion(draw: st.DrawFn) -> tuple[str, Portion]:
        unit = draw(st.sampled_from(sorted(Generated.words)))
        word = draw(st.sampled_from(Generated.words[unit]))
        text, value = draw(Generated.number())
        low, high = value, value
        if text != "a" and draw(st.integers(0, 4)) == 0:
            more, top = draw(Generated.number().filter(lambda n: n[0] != "a"))
            if top >= value:
                text, high = f"{text}{draw(st.sampled_from(['–', ' to ', ' - ']))}{more}", top
        shape = draw(st.sampled_from([None, None, "heaped", "level", "scant"])) if unit in ("tsp", "tbsp", "cup") else None
        gap = "" if text[-1].isdigit() and word[0].islower() and not shape and draw(st.booleans()) else " "
        return f"{text}{gap}{shape + ' ' if shape else ''}{word}", Portion(low, high, unit, shape)

    @given(st.lists(portion(), min_size=1, max_size=3), st.sampled_from([" and ", " plus ", " + "]), st.booleans())
    @settings(max_examples=600, derandomize=True, deadline=None)
    def test_quantities_read_back(self, portions: list[tuple[str, Portion]], plus: str, about: bool) -> None:
        text = ("about " if about else "") + plus.join(text for text, _ in portions)
        parsed = parse_amount(text)
        assert isinstance(parsed, Quantity), text
        self.assertEqual((parsed.about, parsed.what), (about, ""), text)
        for found, (_, wanted) in zip(parsed.portions, portions, strict=True):
            self.assertEqual((found.unit, found.shape), (wanted.unit, wanted.shape), text)
            self.assertAlmostEqual(found.low, wanted.low, msg=text)
            self.assertAlmostEqual(found.high, wanted.high, msg=text)

    @given(
        number(),
        st.sampled_from(["pear juice", "water", "oat drink", "milk powder", "both"]),
        st.sampled_from([" x ", " times ", " times the ", " x the "]),
    )
    @settings(max_examples=200, derandomize=True, deadline=None)
    def test_likenesses_read_back(self, number: tuple[str, float], name: str, times: str) -> None:
        parsed = parse_amount(f"{number[0]}{times}{name}")
        assert isinstance(parsed, Likeness)
        self.assertEqual(parsed.names, (name,))
        self.assertAlmostEqual(parsed.factor, number[1])

    @given(
        st.lists(portion(), min_size=1, max_size=2),
        st.sampled_from(["water", "white_sugar", "heavy_cream", "mace"]),
        st.sampled_from(["metric", "us", "imperial", "australian"]),
    )
    @settings(max_examples=300, derandomize=True, deadline=None)
    def test_grams_lie_in_their_band_and_portions_add_up(self, portions: list[tuple[str, Portion]], substance: str, system: str) -> None:
        quantity = Quantity(tuple(portion for _, portion in portions))
        try:
            together = grams_of(quantity, library()[substance], system)
            apart = [grams_of(Quantity((portion,)), library()[substance], system) for portion in quantity.portions]
        except NotUnderstood:
            return  # ounces of what pours, heaped cream, a thousand kilos
        self.assertTrue(0 < together.low_g <= together.grams <= together.high_g)
        for name in ("grams", "low_g", "high_g"):
            self.assertAlmostEqual(getattr(together, name), sum(getattr(each, name) for each in apart), places=6)


class Weighing(unittest.TestCase):
    def test_measure_systems_are_the_definitions(self) -> None:
        names = {"teaspoon": "tsp", "tablespoon": "tbsp", "fluid ounce": "floz", "cup": "cup", "pint, liquid": "pint", "quart, liquid": "quart"}
        systems = {"US customary": "us", "metric": "metric", "metric (AU/NZ/CA)": "metric", "Australian": "australian"}
        checked = 0
        for row in rows("measures"):
            system, unit = systems.get(row["system"]), names.get(row["unit_name"])
            if row["system"] == "imperial":
                system, unit = (
                    "imperial",
                    {"fluid ounce": "floz", "cup (10 imp fl oz)": "cup", "pint": "pint", "quart": "quart"}.get(row["unit_name"]),
                )
            if row["system"] == "avoirdupois":
                self.assertAlmostEqual(MASS_G[{"ounce": "oz", "pound": "lb"}[row["unit_name"]]], row.value, places=5)
                checked += 1
            elif system and unit:
                self.assertAlmostEqual(VOLUME_ML[system][unit], row.value, delta=row.value * 1e-6)
                checked += 1
        self.assertGreaterEqual(checked, 15)

    def test_a_cup_of_sugar_is_200_g_give_or_take(self) -> None:
        """USDA household weight: 200 ± 26 g for a US cup."""
        weighed = grams_of(one(1, "cup"), SUGAR, "us")
        self.assertAlmostEqual(weighed.grams, 200, delta=26)
        self.assertLess(weighed.low_g, 200)
        self.assertGreater(weighed.high_g, 200)

    def test_instant_coffee_against_sugar_by_the_spoon(self) -> None:
        """Common practice, no source: 1 : 2; household tables 1 : 4."""
        spoon = one(1, "tbsp")
        ratio = grams_of(spoon, SUGAR, "metric").grams / grams_of(spoon, library()["instant_coffee"], "metric").grams
        self.assertTrue(2 <= ratio <= 4.1)

    def test_ounces_of_something_that_pours_are_asked_about(self) -> None:
        with self.assertRaises(NotUnderstood) as caught:
            grams_of(one(10, "oz"), library()["whole_milk"], "us")
        self.assertIn("weight or volume", caught.exception.message)
        self.assertAlmostEqual(grams_of(one(10, "oz"), SUGAR, "us").grams, 283.5, places=1)

    def test_absurd_amounts_are_refused(self) -> None:
        for quantity in (one(0, "g"), one(1e9, "g"), one(1e9, "cup")):
            with self.subTest(quantity=quantity), self.assertRaises(NotUnderstood):
                grams_of(quantity, SUGAR, "metric")

    def test_the_measures_of_the_kitchen_convention(self) -> None:
        for unit, row in (("pinch", "pinch (1/16 tsp)"), ("dash", "dash (1/8 tsp)")):
            value = next(r.value for r in rows("measures") if r["unit_name"] == row)
            self.assertAlmostEqual(VOLUME_ML["us"][unit], value, delta=1e-6)
        self.assertEqual((VOLUME_ML["imperial"]["tsp"], VOLUME_ML["imperial"]["tbsp"]), (5.0, 15.0))

    def test_millilitres_to_litres_are_the_same_in_every_system(self) -> None:
        water = library()["water"]
        for system in VOLUME_ML:
            for text, millilitres in (("250 ml", 250), ("25 cl", 250), ("2.5 dl", 250), ("0.25 l", 250), ("10 drops", 0.5)):
                quantity = parse_amount(text)
                assert isinstance(quantity, Quantity)
                self.assertAlmostEqual(grams_of(quantity, water, system).grams, millilitres * water.density_g_ml, places=9)
        for system, gallon in (("us", 3785.411784), ("imperial", 4546.09)):
            self.assertAlmostEqual(VOLUME_ML[system]["gallon"], gallon)
            self.assertAlmostEqual(VOLUME_ML[system]["quart"] * 4, gallon)

    def test_how_an_amount_was_read_is_said(self) -> None:
        self.assertEqual(sheet("a pinch", "salt").reading[:24], "1 pinch, metric: 0.31 ml")
        self.assertIn("2 cups, US: 236.6 ml each, at 0.845 g/ml", sheet("2 cups", "white_sugar", "us").reading)
        self.assertIn("3 pumps, 8 ml each", sheet("3 pumps", "honey").reading)
        self.assertIn("heaped holds 1.7 times a level one", sheet("heaped tsp", "salt").reading)
        self.assertEqual(sheet("1 lb 4 oz", "salt").reading, "1 lb and 4 oz")
        self.assertEqual(sheet("430", "salt").reading, "430 g (grams assumed)")

    def test_whose_cup_it_is_may_be_written_and_is_said(self) -> None:
        """Definitions: NIST Handbook 44, UK Weights and Measures Act; a cup of water of 1 g/ml by each."""
        density = library()["water"].density_g_ml
        for text, millilitres, said in (
            ("1 US cup", 236.588, "US: 236.6"), ("2 cups (US)", 473.176, "US: 236.6"), ("½ imperial pint", 284.131, "imperial: 568.3"),
            ("1 cup, imperial", 284.131, "imperial: 284.1"), ("1 metric cup", 250, "metric: 250"), ("2 Australian tablespoons", 40, "Australian: 20"),
            ("1 U.S. quart", 946.353, "US: 946.4"),
        ):  # fmt: skip
            for system in VOLUME_ML:
                weighed = sheet(text, "water", system)
                self.assertAlmostEqual(weighed.grams / density, millilitres, places=3, msg=text)
                self.assertIn(said, weighed.reading)

    def test_a_pint_in_a_metric_kitchen_is_asked_about_and_what_was_kept_stays(self) -> None:
        raw = document(("m", "whole_milk", "½ pint"))
        self.assertAlmostEqual(parse_document(raw).weighed["m"].grams, 258)
        with self.assertRaises(NotUnderstood) as caught:
            compile_document(parse_document(raw).document, asks=True)
        self.assertEqual(caught.exception.choices, ("0.5 US pint", "0.5 imperial pint"))
        for choice in caught.exception.choices:
            compile_document(parse_document(document(("m", "whole_milk", choice))).document, asks=True)
        # A formula that says whose measures it is in needs no asking.
        us = compile_document(parse_document({**raw, "measures": "us"}).document, asks=True)
        self.assertAlmostEqual(us.weighed["m"].grams, 0.5 * 473.176473 * 1.032, places=3)

    def test_thousands_with_a_space(self) -> None:
        for text, grams in (("1 888 g", 1888), ("1\u202f888 g", 1888), ("12 345,5 g", 12345.5), ("1 1/2 g", 1.5), ("1 ½ g", 1.5), ("1'250 g", 1250)):
            self.assertAlmostEqual(sheet(text, "salt").grams, grams, msg=text)

    def test_pieces_by_what_one_weighs(self) -> None:
        two = sheet("2 tins of condensed milk", "condensed_milk")
        self.assertAlmostEqual(two.grams, 794)
        self.assertAlmostEqual(two.high_g - two.grams, 0.02 * 794)
        self.assertIn("397 g each", two.reading)
        own = {"title": "Vanilla pod", "composition_g_per_100g": {"water": 25, "insoluble": 75}, "pieces": {"pod": {"grams": 3.2, "spread": 0.3}}}
        method = parse_document(document(("v", "own", "half a vanilla pod"), substances={"own": own}))
        self.assertAlmostEqual(method.weighed["v"].grams, 1.6)

    def test_a_piece_nobody_has_weighed_is_pointed_at(self) -> None:
        with self.assertRaises(NotUnderstood) as caught:
            sheet("3 cusp", "white_sugar")
        self.assertEqual((caught.exception.at, caught.exception.choices), ((2, 6), ("3 cups",)))

    def test_a_slip_of_the_pen_is_offered_put_right(self) -> None:
        for text, meant in (("1 heaped cusp", "1 heaped cup"), ("a level teaspon", "a level teaspoon")):
            with self.assertRaises(NotUnderstood) as caught:
                parse_amount(text)
            self.assertEqual(caught.exception.choices, (meant,))

    def test_ounces_offer_both_readings_and_both_can_be_read(self) -> None:
        with self.assertRaises(NotUnderstood) as caught:
            sheet("8–10 oz", "whole_milk")
        self.assertEqual(caught.exception.choices, ("8–10 fl oz", "8–10 oz by weight"))
        by_volume, by_weight = (sheet(text, "whole_milk", "us") for text in caught.exception.choices)
        self.assertAlmostEqual(by_weight.grams, 9 * 28.349523125)
        self.assertAlmostEqual(by_volume.grams, 9 * 29.5735 * library()["whole_milk"].density_g_ml, delta=0.1)

    def test_how_a_spoon_is_filled(self) -> None:
        """Common practice, no source: a heaped spoon holds half as much again or twice a level one."""
        level, heaped = sheet("1 level tbsp", "white_sugar"), sheet("1 heaped tbsp", "white_sugar")
        self.assertTrue(1.5 <= heaped.grams / level.grams <= 2)
        self.assertGreater((heaped.high_g - heaped.low_g) / heaped.grams, (level.high_g - level.low_g) / level.grams)
        for text, substance in (("heaped tbsp", "honey"), ("2 level g", "white_sugar")):
            with self.subTest(text=text), self.assertRaises(NotUnderstood):
                sheet(text, substance)

    def test_the_ingredient_may_be_said_again_and_nothing_else(self) -> None:
        self.assertAlmostEqual(sheet("2 tbsp of granulated sugar", "white_sugar").grams, sheet("2 tbsp", "white_sugar").grams)
        with self.assertRaises(NotUnderstood) as caught:
            sheet("2 tbsp of salt", "white_sugar")
        self.assertEqual(caught.exception.at, (10, 14))

    def test_about_widens_the_band(self) -> None:
        about = sheet("about 200 g", "water")
        self.assertEqual([round(about.low_g, 9), round(about.high_g, 9)], [190, 210])

    def test_a_pump_is_what_the_kitchen_says(self) -> None:
        grams = {}
        for stroke in (8.0, 10.0):
            method = parse_document(document(("h", "honey", "3 pumps"), kitchen={"pump_ml": stroke}))
            grams[stroke] = method.weighed["h"].grams
        self.assertAlmostEqual(grams[10.0] / grams[8.0], 1.25)


class Errors(unittest.TestCase):
    def test_every_error_survives_pickling(self) -> None:
        import pickle

        kinds = DomainError.__subclasses__()
        self.assertGreaterEqual(len(kinds), 5)
        for kind in kinds:
            error = kind([NotUnderstood("f", "m", "r")]) if kind is SeveralProblems else kind("f", "m", "r")
            again = pickle.loads(pickle.dumps(error))
            self.assertEqual((type(again), again.field, again.message, again.remedy), (kind, "f", "m", "r"))


if __name__ == "__main__":
    unittest.main()
