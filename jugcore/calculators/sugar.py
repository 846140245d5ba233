"""Calculators on sugar: ratio and °Brix, cooking down, diluting, the boiling point, the cold limit."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from jugcore.calculators.base import Answer, Calculator, Field, Given, Line, adding, grams, reads, search, syrup_of, value_of
from jugcore.errors import BadDocument
from jugcore.figures import shown
from jugcore.method.kitchen import Kitchen
from jugcore.method.stages import Boil
from jugcore.method.walk import walk
from jugcore.physics import boiling, sucrose
from jugcore.physics.boiling import pressure_at_altitude_pa
from jugcore.reading.readings.cold import clear_down_to_c

_SUGAR = Field("sugar", "Sweetened with", "white_sugar", kind="ingredient")


def _syrup(sugar: str, sugar_g: float, water_g: float = 1000.0) -> dict[str, Any]:
    return {
        "name": "Syrup",
        "family": "syrup",
        "vessels": [{"id": "pot", "name": "Pot"}],
        "stages": [adding("pot", ("water", "water", grams(water_g)), ("sugar", sugar, grams(sugar_g)))],
    }


class SugarRatio(Calculator):
    """Ratio of sugar to water ⇄ °Brix ⇄ grams in a litre."""

    id = "ratio"
    title = "Ratio, °Brix, g per litre"
    what = "A recipe says 1.5 : 1 and the refractometer 60: what that is by weight, by cups and per litre."
    fields = (
        _SUGAR,
        Field("ratio", "Sugar to water, by weight", 1.0, ": 1", 3, high=20, two_way=True),
        Field("brix", "°Brix", 50.0, "°Bx", 1, high=85, two_way=True),
        Field("g_l", "Sugars per litre", 615.0, "g/l", 0, high=1210, two_way=True),
        Field("cups", "Sugar to water, by cups", 1.18, ": 1", 2, high=25, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        substance = given.substance("sugar")
        water = 0.998  # g/ml, a cup of it
        method = given.method(_syrup(substance.id, 1000.0))
        if given.typed == "brix":
            sugar_g = search(method, "lines.sugar.grams", reads("brix"), given.number("brix"), 1e-6, 20_000)
        elif given.typed == "g_l":
            sugar_g = search(method, "lines.sugar.grams", reads("sugar_g_l"), given.number("g_l"), 1e-6, 20_000)
        elif given.typed == "cups":
            sugar_g = 1000 * given.number("cups") * substance.density_g_ml / water
        else:
            sugar_g = 1000 * given.number("ratio")
        if not math.isfinite(sugar_g):
            raise BadDocument(given.typed, f"{substance.title} and water never come to that.", "Ask for less, or take another sugar.")
        document = _syrup(substance.id, sugar_g)
        walked = walk(given.method(document))
        values = {
            "ratio": sugar_g / 1000,
            "brix": value_of("brix", walked),
            "g_l": value_of("sugar_g_l", walked),
            "cups": sugar_g / 1000 * water / substance.density_g_ml,
        }
        spread = substance.density_spread
        low, high = (values["cups"] * factor for factor in (1 - spread, 1 + spread))
        words = (
            [f"By cups it depends on how the sugar lies: {low:.2f} to {high:.2f} cups to one of water weigh the same. Weigh it."]
            if spread > 0.02 and high > 0
            else []
        )
        return Answer(
            {k: v for k, v in values.items() if math.isfinite(v)},
            [
                Line("Density at 20 °C", value_of("density", walked), "g/ml", 3),
                Line("Sweet as", value_of("sweetness", walked), "g of sucrose in 100 g", 1),
            ],
            words,
            document,
        )


class CookDown(Calculator):
    """Water to boil off a syrup, and what is left, for a °Brix."""

    id = "cook-down"
    title = "Cook down"
    what = "How much water must go, and what is left, to bring a syrup to a °Brix by boiling."
    fields = (
        Field("have_g", "Weight now", 2000.0, "g", low=1, high=200_000),
        Field("have_brix", "Strength now", 50.0, "°Bx", 1, high=84),
        Field("want_brix", "Boil to", 64.0, "°Bx", 1, high=85, two_way=True),
        Field("left_g", "Weight after", 1562.0, "g", 0, high=200_000, two_way=True),
        Field("off_g", "Water boiled off", 438.0, "g", 0, high=200_000, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        have, brix = given.number("have_g"), given.number("have_brix")
        end: dict[str, float]
        if given.typed == "left_g":
            end = {"mass_g": given.number("left_g")}
        elif given.typed == "off_g":
            end = {"off_g": given.number("off_g")}
        else:
            end = {"brix": given.number("want_brix")}
        sugar = sucrose_g(have, brix)
        document = _syrup("white_sugar", sugar, have - sugar)
        document["vessels"] = [{"id": "pot", "name": "Pot", **({"pot": given.kitchen.pots[0].id} if given.kitchen.pots else {})}]
        document["stages"].append({"id": "boil", "kind": "boil", "vessel": "pot", "vigour": "simmer", "until": end})
        walked = walk(given.method(document))
        if walked.faults:
            fault = walked.faults[0]
            raise BadDocument(given.typed, fault.message, fault.remedy)
        step = next(step for _, step in walked.each(Boil))
        off = float(step.figures["off_g"][0])
        pot = given.kitchen.pot(None)
        minutes = step.duration_s[0] / 60
        return Answer(
            {"want_brix": value_of("brix", walked), "left_g": float(walked.product.total_g[0]), "off_g": off},
            [
                Line(f"{pot.name[:1].upper()}{pot.name[1:]} then reads", float(step.figures["pot_reads_g"][0]), "g", 0),
                Line("Probe, a rough guide", float(step.figures["probe_c"][0]), "°C", 1),
                Line("At a simmer in that pot", float(minutes[1]), "min", 0, float(minutes[0]), float(minutes[2])),
                Line("Litres left, cold", value_of("yield_l", walked), "l", 2),
            ],
            ["The weight stops the cook, the refractometer confirms, the probe only warns."],
            document,
        )


def sucrose_g(total_g: float, brix: float) -> float:
    """Grams of white sugar in so much syrup; the sugar's own moisture is made up by its weight."""
    return total_g * brix / 100


class Dilute(Calculator):
    """Water or sugar that brings a syrup to another °Brix without boiling."""

    id = "dilute"
    title = "Dilute or enrich"
    what = "How much water thins a syrup, or how much sugar strengthens it, without boiling."
    fields = (
        Field("have_g", "Weight now", 1000.0, "g", low=1, high=200_000),
        Field("have_brix", "Strength now", 66.0, "°Bx", 1, high=84),
        Field("want_brix", "Wanted", 60.0, "°Bx", 1, high=84, two_way=True),
        Field("add_g", "Add water, or sugar to make it stronger", 100.0, "g", 0, low=-200_000, high=200_000, two_way=True, help="Minus for sugar."),
    )

    def work(self, given: Given) -> Answer:
        have, brix = given.number("have_g"), given.number("have_brix")
        sugar = sucrose_g(have, brix)
        typed_add = given.typed == "add_g"
        thinner = given.number("add_g") >= 0 if typed_add else given.number("want_brix") <= brix
        what = "water" if thinner else "white_sugar"
        document = _syrup("white_sugar", sugar, have - sugar)
        document["stages"].append({**adding("pot", ("more", what, "1 g")), "id": "stir-in", "name": "Stir in"})
        if typed_add:
            more = abs(given.number("add_g"))
        else:
            more = search(given.method(document), "lines.more.grams", reads("brix"), given.number("want_brix"), 0.0, 100 * have)
            if not math.isfinite(more):
                raise BadDocument("want_brix", "Stirring something in cannot reach that.", "Ask for less, or boil it down.")
        document["stages"][-1]["lines"][0]["amount"] = grams(more)
        walked = walk(given.method(document))
        what_words = "of water" if thinner else "of sugar"
        return Answer(
            {"want_brix": value_of("brix", walked), "add_g": more if thinner else -more},
            [
                Line(f"Stir in, {what_words}", more, "g", 0),
                Line("Makes", float(walked.product.total_g[0]), "g", 0),
                Line("Litres, cold", value_of("yield_l", walked), "l", 2),
            ],
            [] if thinner else ["Warm it until the sugar is gone: cold syrup above 60 °Bx takes it up slowly."],
            document,
        )


class BoilingPoint(Calculator):
    """The temperature at which a syrup boils at this altitude ⇄ its °Brix."""

    id = "boiling"
    title = "Boiling point and altitude"
    what = "What the probe reads when a syrup of a °Brix boils up here, and the other way round."
    fields = (
        Field("altitude_m", "Altitude", 0.0, "m", low=-430, high=5000),
        Field("brix", "°Brix", 65.0, "°Bx", 1, high=90, two_way=True),
        Field("probe_c", "Boils at", 103.8, "°C", 1, low=70, high=135, two_way=True),
    )

    def starts(self, kitchen: Kitchen) -> dict[str, float | str]:
        return {**super().starts(kitchen), "altitude_m": kitchen.altitude_m}

    def work(self, given: Given) -> Answer:
        pressure = pressure_at_altitude_pa(given.number("altitude_m"))
        brixes = np.linspace(0, 90, 1801)
        temperatures = np.asarray(boiling.boiling_point_c(brixes, pressure))
        if given.typed == "probe_c":
            probe = given.number("probe_c")
            if not temperatures[0] <= probe <= temperatures[-1]:
                low, high = (shown(round(float(t), 1)) for t in (temperatures[0], temperatures[-1]))
                raise BadDocument(
                    "probe_c", f"At this height a sugar solution boils between {low} and {high} °C.", "Write a temperature between them."
                )
            brix = float(np.interp(probe, temperatures, brixes))
        else:
            brix = given.number("brix")
            probe = float(boiling.boiling_point_c(brix, pressure))
        slope = float(np.interp(brix, brixes[1:], np.diff(temperatures) / np.diff(brixes)))
        doubt = 0.5 / slope if slope > 0 else float("inf")
        words = [
            f"Half a degree is {doubt:.1f} °Bx here: let the weight stop the cook." if doubt < 40 else "The probe says nothing about a thin syrup."
        ]
        return Answer(
            {"brix": brix, "probe_c": probe},
            [
                Line("Water boils here at", float(temperatures[0]), "°C", 1),
                Line("A degree more is", 1 / slope if slope > 0 else float("nan"), "°Bx", 1),
            ],
            words,
            syrup_of(0.6 * brix, {"id": "boil", "kind": "boil", "vessel": "pot", "until": {"brix": round(brix, 2)}}) if brix > 5 else None,
        )


class ColdLimit(Calculator):
    """How strong a sugar syrup may be at a temperature before it crystallises ⇄ how cold one may stand."""

    id = "cold-limit"
    title = "Cold limit"
    what = "How strong a sugar syrup may be before it crystallises in the fridge, and how cold it may be kept."
    fields = (
        Field("fridge_c", "Stored at", 4.0, "°C", 1, high=90, two_way=True),
        Field("brix", "Stays clear up to", 64.8, "°Bx", 1, low=1, high=85, two_way=True),
        Field("have_brix", "Strength of the syrup", 66.7, "°Bx", 1, high=85),
    )

    def starts(self, kitchen: Kitchen) -> dict[str, float | str]:
        return {**super().starts(kitchen), "fridge_c": kitchen.fridge_c}

    def work(self, given: Given) -> Answer:
        if given.typed == "brix":
            limit = given.number("brix")
            t = np.linspace(0, 90, 9001)
            keeps = np.asarray(sucrose.solubility_brix(t))
            if limit > keeps[-1]:
                raise BadDocument("brix", "That stays clear at no temperature below 90 °C.", "Write less.")
            fridge = float(np.interp(limit, keeps, t))
        else:
            fridge = given.number("fridge_c")
            limit = float(sucrose.solubility_brix(fridge))
        have = given.number("have_brix")
        kitchen = given.kitchen.model_copy(update={"fridge_c": min(fridge, 20.0)})
        walked = walk(given.method(_syrup("white_sugar", 1000 * have / (100 - have))), kitchen)
        lines = [Line("Sugar that a gram of water then holds", float(sucrose.ratio_from_brix(limit)), "g", 2)]
        words = []
        if fridge <= 20:
            drop = value_of("crystals", walked)
            lines.append(Line(f"May crystallise at {have:g} °Bx, per kg", drop, "g", 0))
            clear = clear_down_to_c(walked.product)
            if drop > 0 and clear is not None:
                words.append(
                    f"It is clear again at {clear:.0f} °C. Splashed walls and seeded bottles start crystals; left alone it may stay clear for weeks."
                )
        return Answer({"fridge_c": fridge, "brix": limit}, lines, words, syrup_of(limit))
