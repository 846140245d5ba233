"""Calculators at the bar: a pump's stroke, a bottle's fill, whipped coffee."""

from __future__ import annotations

from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.calculators.base import Answer, Calculator, Field, Given, Line, adding, choice, grams, syrup_of, value_of
from jugcore.dosing.strokes import EVEN, best_stroke, strokes_for
from jugcore.errors import BadDocument, OutOfRange
from jugcore.matter.library import library
from jugcore.method.stages import Fill
from jugcore.method.walk import walk
from jugcore.physics.foam import floats_on, foam_density_kg_m3, overrun_by_weighing


class Pump(Calculator):
    """What a pump's stroke gives, from ten weighed strokes, and which stroke serves all sizes in whole strokes."""

    id = "pump"
    title = "A pump's stroke"
    what = "Weigh ten strokes; see what a stroke gives, whether whole strokes serve all sizes evenly, and which stroke would."
    fields = (
        Field("ten_g", "Ten strokes weigh", 105.0, "g", 1, low=0.5, high=2000, two_way=True, help="At the temperature it stands at, after priming."),
        Field("stroke_g", "A stroke gives", 10.5, "g", 2, low=0.05, high=200, two_way=True),
        Field("brix", "Strength of the syrup", 64.0, "°Bx", 1, high=85),
        Field("sizes", "Grams wanted by size", "12, 16, 20, 24", kind="text", help="Smallest first, separated by commas."),
    )

    def work(self, given: Given) -> Answer:
        stroke = given.number("stroke_g") if given.typed == "stroke_g" else given.number("ten_g") / 10
        wanted = _sizes(given.text("sizes"))
        brix = given.number("brix")
        syrup = walk(
            given.method({"stages": [adding("pump", ("sugar", "white_sugar", grams(max(brix, 0.001))), ("water", "water", grams(100 - brix)))]})
        )
        density = value_of("density", syrup)
        counts, miss = strokes_for(wanted, stroke)
        better, with_it, then = best_stroke(wanted, 0.05, 200.0)
        lines = [Line("A stroke is", stroke / density, "ml", 1)]
        lines += [Line(f"For {g:g} g: {n} stroke{'s give' if n > 1 else ' gives'}", n * stroke, "g", 1) for g, n in zip(wanted, counts, strict=True)]
        spread = [n * stroke / g for g, n in zip(wanted, counts, strict=True)]
        if max(spread) / min(spread) - 1 <= EVEN:
            words = [f"Whole strokes keep the sweetness even over the sizes, within {100 * miss:.0f} %."]
        else:
            strokes = ", ".join(str(n) for n in with_it)
            words = [
                f"Whole strokes do not keep the sweetness even: off by up to {100 * miss:.0f} %.",
                f"A stroke of {better:.1f} g ({better / density:.1f} ml) would, within {100 * then:.0f} %: {strokes} strokes."
                if then < 0.75 * miss
                else f"No stroke does much better: the best, {better:.1f} g, is still off by {100 * then:.0f} %. Weigh, or choose other doses.",
            ]
        return Answer({"ten_g": 10 * stroke, "stroke_g": stroke}, lines, words, syrup_of(brix))


def _sizes(text: str) -> list[float]:
    # Where something else parts them, a comma is a decimal one.
    plain = text.replace("/", ";")
    parts = [part for part in (plain.replace(",", ".").split(";") if ";" in plain else plain.split(",")) if part.strip()]
    try:
        wanted = [float(part.strip().removesuffix("g").strip()) for part in parts]
    except ValueError:
        raise OutOfRange("sizes", "One of the sizes is not a number.", "Write grams separated by commas: 12, 16, 20.") from None
    if not 1 <= len(wanted) <= 8 or not all(0.5 <= g <= 500 for g in wanted):
        raise OutOfRange("sizes", "That makes no dose.", "Write one to eight figures between 0.5 and 500 g.")
    return wanted


class BottleFill(Calculator):
    """Grams in a bottle that is filled hot ⇄ millilitres once it is cold."""

    id = "bottle"
    title = "Bottle fill, hot and cold"
    what = "Grams in a bottle filled hot, and what it holds once it is cold."
    fields = (
        Field("brix", "Strength of the syrup", 64.0, "°Bx", 1, high=85),
        Field("fill_c", "Filled at", 85.0, "°C", 0, low=1, high=100),
        Field("size_ml", "Bottle filled to", 350.0, "ml", 0, low=1, high=100_000),
        Field("bottle_g", "Weighs without the bottle", 446.0, "g", 0, low=1, high=200_000, two_way=True),
        Field("cold_ml", "Holds once cold", 338.0, "ml", 0, low=1, high=100_000, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        brix, fill_c, size = given.number("brix"), given.number("fill_c"), given.number("size_ml")
        sugar = max(brix, 1e-3)
        lines = adding("pot", ("sugar", "white_sugar", grams(100 * sugar)), ("water", "water", grams(100 * (100 - brix))))
        document: dict[str, Any] = {
            "name": "Filled syrup",
            "stages": [
                lines,
                {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": fill_c},
                {"id": "fill", "kind": "fill", "vessel": "pot", "into": "bottles", "size_ml": 100.0},
            ],
        }
        if fill_c <= 25:
            document["stages"].pop(1)
            for line in lines["lines"]:
                line["temperature_c"] = fill_c
        walked = walk(given.method(document))
        if walked.faults:
            raise BadDocument("fill_c", walked.faults[0].message, walked.faults[0].remedy)
        figures = next(step.figures for _, step in walked.each(Fill))
        per_ml, shrinks = float(figures["per_container_g"][0]) / 100, float(figures["cold_ml"][0]) / 100
        if given.typed == "bottle_g":
            size = given.number("bottle_g") / per_ml
        elif given.typed == "cold_ml":
            size = given.number("cold_ml") / shrinks
        fridge = given.kitchen.fridge_c
        return Answer(
            {"size_ml": size, "bottle_g": size * per_ml, "cold_ml": size * shrinks},
            [Line("Shrinks by", 100 * (1 - shrinks), "%", 1), Line(f"Grams per millilitre at {fill_c:g} °C", per_ml, "g/ml", 3)],
            [f"Cold is {fridge:g} °C, your fridge. Fill by grams: millilitres in a hot bottle are not those on its label."],
            {**document, "stages": [*document["stages"][:-1], {**document["stages"][-1], "size_ml": size}]},
        )


class OverrunByWeighing(Calculator):
    """Overrun of a foam from one cup weighed with its liquid and with its foam."""

    id = "overrun"
    title = "Air in a foam, by weighing"
    what = "One cup filled level with the liquid, then with its foam: how much air is in it, and whether it floats."
    fields = (
        Field("liquid_g", "Cup of the liquid", 250.0, "g", 0, low=1, high=20_000, help="Level with the rim, the empty cup tared away."),
        Field("foam_g", "Cup of the foam", 170.0, "g", 0, low=0.5, high=20_000, two_way=True),
        Field("overrun", "Overrun", 47.0, "%", 0, low=0, high=1000, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        liquid, foam_g = given.number("liquid_g"), given.number("foam_g")
        if given.typed == "overrun":
            foam_g = liquid / (1 + given.number("overrun") / 100)
        if foam_g > liquid:
            raise BadDocument("foam_g", "The foam weighs more than the liquid it was made of.", "Fill both level with the rim and tare the cup.")
        overrun = overrun_by_weighing(liquid, foam_g)
        weigh = float(foam_density_kg_m3(np.array([1020.0]), np.array([overrun]))[0])
        return Answer(
            {"foam_g": foam_g, "overrun": overrun},
            [
                Line("Air in ten parts of foam", 10 * overrun / (100 + overrun), "", 1),
                Line("Weight of a litre, of milk and cream", weigh, "g", 0),
            ],
            [f"It {floats_on(weigh, weigh)}. Whipping cream doubles; a cold foam that mounds and still pours gains 33–100 %."],
        )


#: Grams of coffee, sugar and water that belong together. Common practice, no source.
_SCHOOLS: dict[str, tuple[float, float, float]] = {"even": (8.0, 16.0, 15.0), "sweet": (10.0, 100.0, 60.0), "honey": (8.0, 16.0, 15.0)}


class WhippedCoffee(Calculator):
    """Instant coffee, sugar and water for a bowl, and the caffeine in it."""

    id = "whipped-coffee"
    title = "Whipped coffee"
    what = "Instant coffee, sugar and water for a bowl, by either ratio or with honey, and the caffeine in it."
    fields = (
        Field(
            "school",
            "School",
            "even",
            kind="choice",
            choices=choice(("even", "8 : 16 : 15 by weight"), ("sweet", "10 : 100 : 60, sweeter"), ("honey", "with honey, its water taken out")),
        ),
        Field("coffee_g", "Instant coffee", 16.0, "g", 1, low=0.1, high=5000, two_way=True),
        Field("sweet_g", "Sugar or honey", 32.0, "g", 1, low=0.1, high=50_000, two_way=True),
        Field("water_g", "Hot water", 30.0, "g", 1, low=0.1, high=50_000, two_way=True),
        Field("cups", "Cups", 4.0, "", 0, low=1, high=500),
    )

    def work(self, given: Given) -> Answer:
        coffee, sweet, water = _SCHOOLS[given.text("school")]
        sweetener = "white_sugar"
        if given.text("school") == "honey":
            sweetener = "honey"
            honey = library()["honey"].mass_fraction
            sweet = sweet / float(honey @ c.SUGARS)  # as much sugar, and the water it brings taken out
            water = water - sweet * float(honey[c.WATER])
        per_coffee = {"coffee_g": 1.0, "sweet_g": sweet / coffee, "water_g": water / coffee}
        typed = given.typed if given.typed in per_coffee else "coffee_g"
        grams_of_coffee = given.number(typed) / per_coffee[typed]
        values = {field: grams_of_coffee * per for field, per in per_coffee.items()}
        document = {
            "name": "Whipped coffee",
            "family": "whipped coffee",
            "stages": [
                adding(
                    "bowl",
                    ("coffee", "instant_coffee", grams(values["coffee_g"])),
                    ("sweet", sweetener, grams(values["sweet_g"])),
                    ("water", "water", grams(values["water_g"])),
                )
            ],
        }
        product = walk(given.method(document)).product
        caffeine = 1000 * float(product.mass_g[0, c.INDEX["caffeine"]]) / given.number("cups")
        sugars = float(product.mass_g[0] @ c.SUGARS) / given.number("cups")
        words = [
            "Whisked at full speed: half a minute a mousse, one minute it floats, one and a half soft peaks, two stiff: common practice, ± 20 s.",
            "Spoons of instant coffee differ twofold: weigh yours.",
        ]
        if caffeine > 200:
            words.insert(0, f"{caffeine:.0f} mg of caffeine in a cup is a lot: write it on the card.")
        return Answer(
            values,
            [
                Line("Caffeine per cup", caffeine, "mg", 0, 0.7 * caffeine, 1.4 * caffeine),
                Line("Sugars per cup", sugars, "g", 1),
                Line("Total", float(product.total_g[0]), "g", 0),
            ],
            words,
            document,
        )
