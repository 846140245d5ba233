"""Calculators on dairy: a fat between two, the levels of the tin."""

from __future__ import annotations

import math
from typing import Any

from jugcore import components as c
from jugcore.calculators.base import Answer, Calculator, Field, Given, Line, adding, choice, grams, reads, search, value_of
from jugcore.errors import BadDocument
from jugcore.method.walk import walk


def _both(given: Given, a_g: float, b_g: float) -> dict[str, Any]:
    return {
        "name": "Dairy mix",
        "family": "sweet cream",
        "stages": [adding("jug", ("a", given.text("a"), grams(a_g)), ("b", given.text("b"), grams(b_g)))],
    }


class StandardiseFat(Calculator):
    """Two milks or creams to a fat between theirs, with the mixing square."""

    id = "fat"
    title = "A fat between two dairies"
    what = "How much of each of two milks or creams gives a fat in between, with the square drawn."
    fields = (
        Field("a", "First", "heavy_cream", kind="ingredient"),
        Field("b", "Second", "whole_milk", kind="ingredient"),
        Field("total_g", "Make", 1000.0, "g", 0, low=1, high=200_000),
        Field("fat", "Fat wanted", 18.0, "%", 1, high=100, two_way=True),
        Field("a_g", "Of the first", 449.0, "g", 0, high=200_000, two_way=True),
        Field("b_g", "Of the second", 551.0, "g", 0, high=200_000, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        a, b = given.substance("a"), given.substance("b")
        if a.id == b.id:
            raise BadDocument("b", "Both are the same.", "Choose another for the second.")
        total = given.number("total_g")
        fat_a, fat_b = (100 * float(s.mass_fraction @ c.FAT) for s in (a, b))
        if given.typed == "a_g":
            a_g = min(given.number("a_g"), total)
        elif given.typed == "b_g":
            a_g = total - min(given.number("b_g"), total)
        else:
            fat = given.number("fat")
            if not min(fat_a, fat_b) <= fat <= max(fat_a, fat_b):
                low, high = sorted((fat_a, fat_b))
                raise BadDocument(
                    "fat", f"Between them lie {low:.2f} to {high:.2f} % of fat.", "Ask for a fat between the two, or take a richer one."
                )
            document = _both(given, 0.5 * total, 0.5 * total)
            document["stages"][0]["lines"][1]["amount"] = f"up to {grams(total)}"
            a_g = search(given.method(document), "lines.a.grams", reads("fat"), fat, 0.0, total)
        document = _both(given, a_g, total - a_g)
        walked = walk(given.method(document))
        made = value_of("fat", walked)
        parts = (abs(made - fat_b), abs(fat_a - made))
        return Answer(
            {"fat": made, "a_g": a_g, "b_g": total - a_g},
            [Line("Sugars in 100 g", value_of("sugars_100g", walked), "g", 1), Line("Litres, cold", value_of("yield_l", walked), "l", 2)],
            [f"By the square: {parts[0]:.1f} parts of {a.title.lower()} to {parts[1]:.1f} of {b.title.lower()}."],
            document,
            (fat_a, fat_b, made, *parts),
        )


#: The shop's names for levels, as condensed to evaporated milk by weight of tins. Common practice, no source.
LEVELS = {"full": 2.0, "half": 1.0, "quarter": 0.5, "none": 0.0}


class TinSweet(Calculator):
    """A level of tinned-milk sweetener ⇄ the sugar that is in it."""

    id = "tin"
    title = "Tinned-milk sweetener"
    what = "The shop's name for a level of sweetness, and the sugar that is truly in it."
    fields = (
        Field(
            "level",
            "Level",
            "half",
            kind="choice",
            choices=choice(("full", "full, 2 : 1"), ("half", "half, 1 : 1"), ("quarter", "quarter, 1 : 2"), ("none", "none"), ("own", "own ratio")),
        ),
        Field("ratio", "Condensed to evaporated", 1.0, ": 1", 2, high=50, two_way=True),
        Field("sugar", "Added sugar in 100 g", 21.7, "g", 1, high=45, two_way=True),
        Field("total_g", "Make", 797.0, "g", 0, low=1, high=200_000),
    )

    def work(self, given: Given) -> Answer:
        total = given.number("total_g")

        def made(ratio: float) -> dict[str, Any]:
            condensed = total * ratio / (1 + ratio)
            return {
                "name": "Tin sweetener",
                "family": "tinned-milk sweetener",
                "stages": [
                    adding("jug", ("condensed", "condensed_milk", grams(condensed)), ("evaporated", "evaporated_milk", grams(total - condensed)))
                ],
            }

        if given.typed == "sugar":
            document = made(1.0)
            document["stages"][0]["lines"][1]["amount"] = f"up to {grams(total)}"
            wanted = given.number("sugar")
            condensed = search(
                given.method(document), "lines.condensed.grams", lambda w: 100 * w.product.tracer[:, 0] / w.product.total_g, wanted, 0.0, total
            )
            if not math.isfinite(condensed) or condensed >= total:
                raise BadDocument("sugar", "Not even pure condensed milk has that much added sugar.", "Ask for less.")
            ratio = condensed / (total - condensed)
        elif given.typed == "ratio" or given.text("level") == "own":
            ratio = given.number("ratio")
        else:
            ratio = LEVELS[given.text("level")]
        walked = walk(given.method(made(ratio)))
        added = 100 * float(walked.product.tracer[0, 0]) / total
        level = next((name for name, r in LEVELS.items() if abs(r - ratio) < 1e-6), "own")
        condensed = total * ratio / (1 + ratio)
        return Answer(
            {"level": level, "ratio": ratio, "sugar": added},
            [
                Line("Condensed milk", condensed, "g", 0),
                Line("In tins", condensed / 397, "of 397 g", 2),
                Line("Evaporated milk", total - condensed, "g", 0),
                Line("In tins", (total - condensed) / 400, "of 400 g", 2),
                Line("All sugars in 100 g", value_of("sugars_100g", walked), "g", 1),
                Line("Fat", value_of("fat", walked), "%", 1),
            ],
            [
                f"The shop calls it {level}; against full sweetness it has {100 * added / _full(given):.0f} % of the added sugar."
                if level != "own"
                else "Your own level: name it, and write its ratio on the tub."
            ],
            made(ratio),
        )


def _full(given: Given) -> float:
    stage = adding("jug", ("condensed", "condensed_milk", "200 g"), ("evaporated", "evaporated_milk", "100 g"))
    product = walk(given.method({"stages": [stage]})).product
    return 100 * float(product.tracer[0, 0] / product.total_g[0])
