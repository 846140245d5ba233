"""Calculators on measuring: the refractometer, spoons and grams, what a scale can resolve."""

from __future__ import annotations

import math

import numpy as np

from jugcore.calculators.base import Answer, Calculator, Field, Given, Line, adding, grams, syrup_of
from jugcore.errors import BadDocument, NotUnderstood
from jugcore.figures import shown
from jugcore.measures.density import grams_of
from jugcore.measures.parsing import Quantity, parse_amount
from jugcore.measures.systems import VOLUME_ML
from jugcore.method.kitchen import Kitchen
from jugcore.method.scales import COARSE_SHARE
from jugcore.physics import sucrose


class Refractometer(Calculator):
    """A refractometer's reading at another temperature ⇄ °Brix at 20 °C."""

    id = "refractometer"
    title = "Refractometer, corrected"
    what = "What a drop at another temperature than 20 °C really is."
    fields = (
        Field("at_c", "Temperature of the drop", 30.0, "°C", 1, low=10, high=40),
        Field("reads", "Refractometer shows", 60.0, "°Bx", 1, high=70, two_way=True),
        Field("brix", "Corrected to 20 °C", 60.8, "°Bx", 1, high=72, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        t = given.number("at_c")
        shows = np.linspace(0, 70, 1401)
        true = np.asarray(sucrose.corrected_reading(shows, t))
        if given.typed == "brix":
            brix = given.number("brix")
            if not true[0] <= brix <= true[-1]:
                raise BadDocument(
                    "brix",
                    "The correction ends there.",
                    f"Write {shown(round(float(true[0]), 1))} to {shown(round(float(true[-1]), 1))} °Bx.",
                )
            reads = float(np.interp(brix, true, shows))
        else:
            reads = given.number("reads")
            brix = float(sucrose.corrected_reading(reads, t))
        doubt = 0.1 if t > 30 else 0.02
        words = ["A drop off a hot syrup cools on the prism within half a minute: wait, and read it near 20 °C."] if t > 30 else []
        lines = [Line("Correction", brix - reads, "°Bx", 2, brix - reads - doubt, brix - reads + doubt)]
        return Answer({"reads": reads, "brix": brix}, lines, words, syrup_of(brix))


class Spoons(Calculator):
    """An amount as people write it ⇄ grams of one ingredient, with how sure that is."""

    id = "spoons"
    title = "Spoons, cups and grams"
    what = "What an amount as people write it weighs, of this ingredient, and how sure that is."
    fields = (
        Field("of", "Ingredient", "instant_coffee", kind="ingredient"),
        Field("amount", "Amount", "2 tbsp", kind="text", two_way=True),
        Field("grams", "Weighs", 6.3, "g", 2, high=1e6, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        substance, kitchen = given.substance("of"), given.kitchen
        if given.typed == "grams":
            weight = given.number("grams")
            text = _as_spoons(weight / substance.density_g_ml, kitchen) if weight > 0 else "0 g"
        else:
            text = given.text("amount")
            try:
                parsed = parse_amount(text)
                if not isinstance(parsed, Quantity):
                    raise NotUnderstood("amount", f"“{text}” is not a quantity.", "Write, for example, 2 tbsp.")
                weighed = grams_of(parsed, substance, kitchen.measures, pump_ml=kitchen.pump_ml, asks=True)
            except NotUnderstood as error:
                raise error.at_field("amount") from None
            return Answer(
                {"amount": text, "grams": weighed.grams},
                [Line("Between", weighed.grams, "g", 2, weighed.low_g, weighed.high_g)],
                [f"Read as {weighed.reading}."],
                {"name": "", "stages": [adding("bowl", ("line", substance.id, text))]},
            )
        spread = substance.density_spread
        words = [f"Spoons differ: that may be {100 * spread:.0f} % more or less. Weigh it."] if spread >= 0.08 else []
        return Answer({"amount": text, "grams": weight}, [], words, {"name": "", "stages": [adding("bowl", ("line", substance.id, grams(weight)))]})


def _as_spoons(ml: float, kitchen: Kitchen) -> str:
    """Millilitres in the largest measure of this kitchen of which there is one, in quarters."""
    sizes = VOLUME_ML[kitchen.measures]
    unit = next((name for name in ("cup", "tbsp", "tsp") if ml >= 0.95 * sizes[name]), "tsp")
    quarters = max(round(4 * ml / sizes[unit]), 1)
    whole, part = divmod(quarters, 4)
    fraction = {0: "", 1: "1/4", 2: "1/2", 3: "3/4"}[part]
    number = " ".join(word for word in (str(whole) if whole else "", fraction) if word)
    return f"{number} {unit}{'s' if unit == 'cup' and quarters > 4 else ''}"


class ScaleStep(Calculator):
    """How wrong a small weighing may be on a scale, and how much to mix instead."""

    id = "scale-step"
    title = "What the scale can resolve"
    what = "How wrong a small weighing may be on this scale, and how much to mix instead."
    fields = (
        Field("grams", "To weigh", 0.75, "g", 2, low=0.001, high=100_000),
        Field("step", "Scale reads to", 1.0, "g", 3, low=0.0001, high=100, two_way=True),
        Field("error", "May be wrong by", 66.7, "%", 1, low=0.01, high=1000, two_way=True),
    )

    def work(self, given: Given) -> Answer:
        weight = given.number("grams")
        step = given.number("error") / 100 * weight * 2 if given.typed == "error" else given.number("step")
        error = 0.5 * step / weight
        least = 0.5 * step / COARSE_SHARE
        lines = [Line("Within 5 % from", least, "g", 2)]
        words = []
        if error > COARSE_SHARE:
            times = math.ceil(COARSE_SHARE**-1 * 0.5 * step / weight)
            words.append(f"Mix {times} times as much of the blend it goes into, and take one part in {times} of it: then it is within 5 %.")
            finer = next(
                (scale for scale in sorted(given.kitchen.scales, key=lambda s: s.resolution_g) if 0.5 * scale.resolution_g <= COARSE_SHARE * weight),
                None,
            )
            if finer is not None and finer.resolution_g < step:
                words.append(f"Or weigh it on {finer.name}.")
        return Answer({"step": step, "error": 100 * error}, lines, words)
