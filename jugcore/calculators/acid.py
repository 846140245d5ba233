"""Calculators on acid and salt: an acid solution, a juice brought to a strength, a saline."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.calculators.base import Answer, Calculator, Field, Given, Line, adding, choice, grams, search, value_of
from jugcore.errors import BadDocument
from jugcore.figures import Floats
from jugcore.matter.library import library
from jugcore.method.walk import Walk, walk
from jugcore.physics.acidity import ACIDS

_ACIDS = choice(
    ("citric_acid", "citric"),
    ("malic_acid", "malic"),
    ("tartaric_acid", "tartaric"),
    ("lactic_acid_80", "lactic, 80 %"),
    ("malic_citric", "malic and citric, even"),
)


def _acid_lines(which: str, total_g: float) -> list[tuple[str, str, Any]]:
    """Lines of an acid; of a blend the second goes by the first, so that one figure moves both."""
    if which == "malic_citric":
        return [("acid", "malic_acid", grams(total_g / 2)), ("second", "citric_acid", {"kind": "as_much_as", "lines": ["acid"]})]
    return [("acid", which, grams(total_g))]


def acid_percent(walked: Walk) -> Floats:
    """Grams of acids in 100 g, all of them together."""
    return np.asarray(100 * (walked.product.mass_g @ c.ACIDS) / walked.product.total_g)


def _purity(given: Given, which: str) -> float:
    """Share of acid in what is weighed: by the pantry, times what was typed of its pack."""
    found = walk(given.method({"stages": [adding("x", *_acid_lines(which, 100.0))]}))
    return float(acid_percent(found)[0]) / 100 * given.number("purity") / 100


def _as_pure(given: Given, which: str) -> dict[str, float]:
    """The compositions a walk is given where a purity was typed."""
    share = given.number("purity") / 100
    if share == 1:
        return {}
    found: dict[str, float] = {}
    for _, id, _ in _acid_lines(which, 1.0):
        book = library()[id].mass_fraction
        found |= {f"substances.{id}.{name}": 100 * share * float(book[c.INDEX[name]]) for name in ACIDS if book[c.INDEX[name]] > 0}
    return found


_PURITY = Field("purity", "Purity", 100.0, "%", 1, low=10, high=100, help="What its pack says; 100 where it says nothing.")


class AcidSolution(Calculator):
    """An acid solution made up to a weight: grams of acid and of water ⇄ percent."""

    id = "acid"
    title = "Acid solution"
    what = "Grams of acid made up to a weight, and why 6 g in 100 g is not 6 g plus 100 g."
    fields = (
        Field("acid", "Acid", "malic_citric", kind="choice", choices=_ACIDS),
        Field("total_g", "Made up to", 300.0, "g", 0, low=0.1, high=200_000),
        _PURITY,
        Field("percent", "Strength", 6.0, "%", 2, high=40, two_way=True),
        Field("acid_g", "Weigh", 18.0, "g", 2, high=100_000, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        total, which = given.number("total_g"), given.text("acid")
        purity = _purity(given, which)
        acid = given.number("acid_g") if given.typed == "acid_g" else given.number("percent") / 100 * total / purity
        if acid >= total:
            raise BadDocument(given.typed, "That leaves no room for water.", "Ask for less acid or make more.")
        document = {
            "name": "Acid solution",
            "family": "seasoning",
            "stages": [adding("bottle", *_acid_lines(which, acid), ("water", "water", f"up to {grams(total)}"))],
        }
        pure = _as_pure(given, which)
        walked = walk(given.method(document), given=pure)
        percent = float(acid_percent(walked)[0])
        added = walk(given.method({"stages": [adding("bottle", *_acid_lines(which, acid), ("water", "water", grams(total)))]}), given=pure)
        lines = [Line("Water", total - acid, "g", 1), Line("By titration, as citric acid", value_of("acidity", walked), "g/100 g", 2)]
        ph = value_of("ph", walked)
        if math.isfinite(ph):
            lines.append(Line("pH", ph, "", 1, ph - 0.15, ph + 0.15))
        return Answer(
            {"percent": percent, "acid_g": acid},
            lines,
            [
                f"Added to {total:g} g of water instead of made up to it, it would be {float(acid_percent(added)[0]):.2f} %.",
                "Acid into water, and no splash in the eyes.",
                *([f"{acid:.2f} g of {100 * purity:.1f} % is {acid * purity:.2f} g of acid."] if purity < 1 else []),
            ],
            document,
        )


class AcidAdjust(Calculator):
    """A juice brought to the acidity of another, by the exact balance of acids and water."""

    id = "acid-adjust"
    title = "Bring a juice to an acidity"
    what = "How much acid makes orange as sharp as lemon, by the exact balance."
    fields = (
        Field("juice", "Juice", "orange_juice", kind="ingredient"),
        Field("juice_g", "Weight of juice", 1000.0, "g", 0, low=1, high=200_000),
        Field("has", "Acid it has, titrated", 1.05, "%", 2, high=15, help="As citric; what the pantry says, until you titrate."),
        Field("acid", "Acidify with", "citric_acid", kind="choice", choices=_ACIDS),
        Field("want", "Wanted", 6.0, "%", 2, high=20, two_way=True),
        Field("acid_g", "Add", 52.7, "g", 1, high=100_000, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        juice_g, which = given.number("juice_g"), given.text("acid")
        juice = given.substance("juice")
        book = 100 * float(juice.mass_fraction @ c.ACIDS)
        has = book if given.typed == "juice" else given.number("has")
        others = book - 100 * float(juice.mass_fraction[c.INDEX["citric"]])
        titrated = {f"substances.{juice.id}.citric": max(has - others, 0.0)}

        def made(acid: float) -> dict[str, Any]:
            lines = adding("jug", ("juice", juice.id, grams(juice_g)), *_acid_lines(which, acid))
            return {"name": f"{juice.title}, adjusted", "family": "seasoning", "stages": [lines]}

        want = given.number("want")
        if given.typed == "acid_g":
            acid = given.number("acid_g")
        elif has >= want:
            water = juice_g * (has / want - 1) if want > 0 else 0.0
            return Answer(
                {"has": has, "want": want, "acid_g": 0.0},
                [Line("Or water, to dilute it to that", water, "g", 0)],
                ["It is as sharp already: no acid. Answer it with sugar, or with water."],
            )
        else:
            one = search(given.method(made(1.0)), "lines.acid.grams", acid_percent, want, 0.0, 3 * juice_g, titrated)
            if not math.isfinite(one):
                raise BadDocument("want", "No juice gets that sour.", "Ask for less.")
            acid = one * len(_acid_lines(which, 1.0))
        reached = float(acid_percent(walk(given.method(made(acid)), given=titrated))[0])
        simple = max(reached - has, 0.0) * juice_g / 100
        return Answer(
            {"has": has, "want": reached, "acid_g": acid},
            [Line("Acid per 100 g of juice", 100 * acid / juice_g, "g", 2), Line("Makes", juice_g + acid, "g", 0)],
            [
                f"The difference alone would be {simple:.1f} g; the acid adds to the weight, so a little more is needed.",
                "Juices differ by a third, and the pantry's figure is a table's: titrate if it matters.",
            ],
            made(acid),
        )


class Saline(Calculator):
    """Salt to water: ratio ⇄ percent ⇄ grams, and what a drink may take."""

    id = "saline"
    title = "Saline"
    what = "Salt to water, and how much of it a drink may take."
    fields = (
        Field("water_parts", "Water to one of salt", 5.0, ": 1", 2, low=2.8, high=1000, two_way=True),
        Field("percent", "Salt in it", 16.7, "%", 1, low=0.1, high=26, two_way=True),
        Field("total_g", "Make", 120.0, "g", 0, low=0.1, high=200_000),
        Field("drink_g", "A drink, before it is diluted", 150.0, "g", 0, low=1, high=5000),
    )

    def work(self, given: Given) -> Answer:
        total = given.number("total_g")
        salt = total * given.number("percent") / 100 if given.typed == "percent" else total / (1 + given.number("water_parts"))
        document = {
            "name": "Saline",
            "family": "seasoning",
            "stages": [adding("bottle", ("salt", "salt", grams(salt)), ("water", "water", f"up to {grams(total)}"))],
        }
        walked = walk(given.method(document))
        percent = 100 * float(walked.product.mass_g[0, c.SALT] / walked.product.total_g[0])
        drink = given.number("drink_g")
        return Answer(
            {"water_parts": (total - salt) / salt, "percent": 100 * salt / total},
            [
                Line("Salt", salt, "g", 2),
                Line("Water", total - salt, "g", 1),
                Line("At most in that drink", drink / 100, "g of saline", 2),
                Line("To begin with", 0.3 * drink / 100, "g of saline", 2),
                Line("Salt that brings at most", drink / 100 * percent / 100, "g", 3),
            ],
            ["At most 1 g in 100 g of drink, and 0.3 g to begin with: common practice, no source. It should not be tasted as salt."],
            document,
        )
