"""What becomes of cream, milk, plant drinks and whipped coffee when air is beaten in.

Indicative: overrun (air against liquid, by volume) as a range, what it looks like, how long a tool takes.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats

Tool = Literal["blender", "frother", "weak_frother", "hand_mixer", "whisk", "jar", "siphon"]
#: Seconds each takes to foam cream of a cold foam as far as it will mound: low, typical, high (common practice, no source).
SECONDS: dict[Tool, tuple[float, float, float]] = {
    "blender": (10, 12, 15), "frother": (30, 45, 60), "weak_frother": (90, 120, 150), "hand_mixer": (40, 60, 120), "whisk": (120, 240, 420),
    "jar": (45, 60, 120), "siphon": (5, 10, 20),
}  # fmt: skip
TOOL_NAMES: dict[Tool, str] = {
    "blender": "a blender", "frother": "a good frother", "weak_frother": "a weak frother", "hand_mixer": "a hand mixer at full speed",
    "whisk": "a whisk by hand", "jar": "a lidded jar, shaken", "siphon": "a siphon",
}  # fmt: skip

#: Fat (%) against overrun (%) of whipped cream and cold foam: low, typical, high. Whipping cream doubles, double cream
#: of 48 % less (table t16); milk froths by its protein; between them cold foam (common practice, no source).
_FAT = np.array([0.0, 4.0, 8.0, 12.0, 20.0, 30.0, 40.0, 48.0])
_OVERRUN = np.array([
    [40, 90, 180], [30, 70, 150], [20, 45, 90], [20, 40, 80], [30, 55, 95], [60, 90, 120], [80, 100, 120], [50, 60, 80],
], dtype=float)  # fmt: skip
#: Out of a siphon (table t16: 200 to 400 %), cream of 25 % fat and more; thinner cream comes out wetter.
_SIPHON = (200.0, 300.0, 400.0)
_SIPHON_LEAST_FAT = 20.0
#: Coconut and other plant cream that sets in the cold (table t16, unsure).
_PLANT = (40.0, 60.0, 90.0)
#: Gum in percent from which a thin foam stands (0.1 to 0.3 % of xanthan is used: common practice). [%]
_GUM_STANDS = 0.1
#: Whipped coffee.
_COFFEE = (150.0, 250.0, 350.0)
#: Dairy fat whips at most this warm (dairy texts); beaten warmer it turns to butter or stays flat. [°C]
WARMEST_C = 8.0
#: Whipped coffee holds from so much dissolved coffee against water, and from so much dissolved in all (°Bx): 10 : 100 : 60
#: does, espresso, at 0.1 and 9 °Bx, does not (common practice, no source).
COFFEE_LEAST, COFFEE_BRIX = 0.12, 45.0
#: Whole minutes of a hand mixer on whipped coffee and what it is by then (common practice, ±20 s).
COFFEE_STAGES: tuple[tuple[float, str], ...] = (
    (30, "a mousse"), (60, "floats"), (90, "soft peaks"), (120, "stiff"), (180, "very thick"),
)  # fmt: skip

Verdict = Literal["froth", "runs", "mounds", "peaks", "stiff", "whips", "flat"]
VERDICTS: dict[Verdict, str] = {
    "froth": "a coarse froth that drains within minutes",
    "runs": "loose: it spreads and sinks",
    "mounds": "mounds and still pours",
    "peaks": "soft peaks: spoon it, it will not mix in",
    "stiff": "whips stiff: stop early, or it will not pour",
    "whips": "whips up stiff, to be spooned on",
    "flat": "stays flat",
}


@dataclass(frozen=True)
class Foam:
    """What a liquid foams to: overrun (K, 3) low, typical, high [%], and the first case's verdict and why.

    Formula: that of :func:`foam`.
    """

    overrun: Floats
    verdict: Verdict
    why: str
    of_coffee: bool = False


def coffee_share(mass_g: Floats, coffee_g: Floats) -> Floats:
    """Dissolved coffee against water, (K,) [g/g]. Formula: a quotient. Source: a definition. Accuracy: exact."""
    water = mass_g[:, c.WATER]
    return np.asarray(np.where(water > 0, coffee_g / np.where(water > 0, water, 1.0), 0.0))


def coffee_is(seconds: float, tool: Tool = "hand_mixer") -> str:
    """What whipped coffee is after so many seconds [s]; a slower tool takes as much longer as with cream.

    Formula: the last of ``COFFEE_STAGES`` reached. Source: common practice. Accuracy: ± 20 s.
    """
    as_mixer = seconds * SECONDS["hand_mixer"][1] / SECONDS[tool][1]
    reached = [words for at, words in COFFEE_STAGES if as_mixer >= at]
    return reached[-1] if reached else "still liquid"


def foam(mass_g: Floats, temperature_c: Floats, tool: Tool, *, coffee_g: Floats, plant: bool, gum_g: Floats | None = None) -> Foam:
    """How far a liquid foams.

    Parameters: masses (K, C) [g]; temperature (K,) [°C]; the tool; grams of instant coffee in it (K,); whether its
    fat is a plant's, and then that of coconut or a whipping cream, which sets in the cold. Range: 0 to 48 % fat, 0 to 25 °C.

    Gum (K,) [g] thickens: from a tenth of a percent a foam of too little fat stands as well, and takes a fifth less air.

    Formula: straight lines between what whipping cream, double cream, cold foam and frothed milk come to, by fat;
    too warm for fat to hold, a tenth of that; thick whipped coffee by its coffee against its water.
    Source: table t16 and common practice. Accuracy: the range, indicative.
    """
    total = np.maximum(mass_g.sum(axis=1), 1e-12)
    fat: Floats = 100 * (mass_g @ c.FAT) / total
    dairy = 100 * mass_g[:, c.INDEX["milk_fat"]] / total
    protein = 100 * mass_g[:, c.INDEX["protein"]] / total
    share = coffee_share(mass_g, coffee_g)
    brix = 100 * (mass_g @ c.DISSOLVED) / np.maximum(mass_g @ c.DISSOLVED + mass_g[:, c.WATER], 1e-12)
    whipped = (share > 0.02) & (fat < 1)
    overrun = np.stack([np.interp(fat, _FAT, _OVERRUN[:, i]) for i in range(3)], axis=1)
    if plant:
        overrun = np.where((dairy < 0.5 * fat)[:, None], np.clip(fat / 20.0, 0.0, 1.0)[:, None] * np.array(_PLANT), overrun)
    if tool == "siphon":
        overrun = np.clip(fat / 25.0, 0.2, 1.0)[:, None] * np.array(_SIPHON)
    # Fat that is not cold enough neither clumps nor holds; without fat it is protein that carries the bubbles.
    warm = (temperature_c > WARMEST_C) & (fat > 6)
    bare = (protein < 0.5) & (fat < 6)
    overrun = np.where((warm | bare)[:, None], 0.1 * overrun, overrun)
    overrun = overrun * (1.0 - _lost_warm(fat, temperature_c))[:, None]
    thick = np.zeros_like(fat) if gum_g is None else 100 * gum_g / total
    overrun = np.where((thick >= _GUM_STANDS)[:, None], 0.8 * overrun, overrun)
    # Each case is what it is: one of cream beside one of coffee.
    strength = np.clip(share / COFFEE_LEAST, 0.0, 1.0) * np.clip((brix - 20.0) / (COFFEE_BRIX - 20.0), 0.0, 1.0)
    overrun = np.where(whipped[:, None], strength[:, None] * np.array(_COFFEE), overrun)
    if whipped[0]:
        return Foam(overrun, *_of_coffee(float(share[0]), float(brix[0])), of_coffee=True)
    return Foam(overrun, *_verdict(float(fat[0]), float(temperature_c[0]), float(protein[0]), tool, float(thick[0])))


def _lost_warm(fat: Floats, temperature_c: Floats) -> Floats:
    """Share of its foam that milk loses by being warm: its fat half melted breaks bubbles, worst from about 25 °C; skimmed loses less.

    Hot it stays at what steamed milk comes to, some 40 % (table t16), against 100 % cold.
    """
    return np.asarray(np.where(fat < 6, np.interp(temperature_c, [8.0, 25.0], [0.0, 0.55]) * np.interp(fat, [0.1, 1.5], [0.6, 1.0]), 0.0))


def kept_when_beaten(seconds: Floats, tool: Tool) -> Floats:
    """Share of its air (K,) that a foam still has after so many seconds [s]: all of it until twice the slow end of the tool, then less.

    Formula: 1 down to 0.3, a straight line over as long again. Range: any tool. Source: common practice. Accuracy: an order, indicative.
    """
    too_long = too_long_s(tool)
    return np.asarray(np.interp(seconds, [too_long, 2 * too_long], [1.0, 0.3]))


def too_long_s(tool: Tool) -> float:
    """From when a foam only loses [s]. Formula: twice what the slowest takes. Source: common practice.
    Accuracy: an order."""
    return 2.0 * SECONDS[tool][2]


def past_its_best(verdict: Verdict, of_coffee: bool) -> str:
    """What beating too long does, in words; of coffee, of a froth, of fat. Formula: by what it is a foam of [a verdict].
    Source: common practice. Accuracy: no figure."""
    if of_coffee:
        return "beaten past its best: so thick that it will not stir in"
    if verdict in ("froth", "flat"):
        return "beaten past its best: it takes no more air, coarsens and drains"
    return "beaten past its best: grainy, and then it is butter"


def _of_coffee(share: float, brix: float) -> tuple[Verdict, str]:
    thin = []
    if share < COFFEE_LEAST:
        thin.append(f"{100 * share:.0f} g of coffee to 100 g of water, where it takes {100 * COFFEE_LEAST:.0f}")
    if brix < COFFEE_BRIX:
        thin.append(f"{brix:.0f} °Bx in total, where it takes {COFFEE_BRIX:.0f}")
    if thin:
        return "flat", f"It is too thin to hold: {' and '.join(thin)}."
    return "whips", "Coffee thick enough to whip: sugar keeps it up."


def _verdict(fat: float, t: float, protein: float, tool: Tool, gum: float) -> tuple[Verdict, str]:
    if fat > 6 and t > WARMEST_C:
        return "flat", f"At {t:.0f} °C its fat is too soft to hold air: {WARMEST_C:.0f} °C at most."
    if fat < 6:
        if protein < 0.5:
            return "flat", "It has neither the fat nor the protein to hold air."
        warm = f", and at {t:.0f} °C less than cold: half-melted fat breaks its bubbles" if t > 12 else ""
        return "froth", f"With {fat:.1f} % fat only protein carries it{warm}."
    if tool == "siphon":
        if fat < _SIPHON_LEAST_FAT:
            return "runs", f"With {fat:.0f} % fat it leaves the siphon wet: {_SIPHON_LEAST_FAT:.0f} % and more stands."
        return "peaks", "Gas dissolves in the fat and swells it as it leaves."
    if fat < 11 and gum >= _GUM_STANDS:
        return "mounds", f"{fat:.0f} % fat is little, but {gum:.2f} % of gum holds it up."
    if fat < 11:
        return "runs", f"{fat:.0f} % fat is too little to hold a foam: add a little cream."
    if fat < 24:
        return "mounds", f"{fat:.0f} % fat, cold: thick enough to float, thin enough to mix in."
    if fat < 30:
        return "peaks", f"{fat:.0f} % fat soon gets too stiff to pour."
    return "stiff", f"{fat:.0f} % fat is whipping cream."


def foam_density_kg_m3(density_kg_m3: Floats, overrun: Floats) -> Floats:
    """Density of a foam from that of its liquid and its overrun [%]. Formula: ρ/(1 + overrun/100).
    Source: the definition of overrun. Accuracy: exact."""
    return np.asarray(density_kg_m3 / (1.0 + overrun / 100.0))


#: What coffee and the foam of steamed milk weigh a litre (table t16 and the densities of both). [kg/m³]
_COFFEE_KG, _MILK_FOAM_KG = 1000.0, 500.0


def floats_on(light: float, heavy: float) -> str:
    """What something between two densities [kg/m³] floats on and sinks in, in words. Formula: what weighs less a litre floats.
    Source: Archimedes. Accuracy: that of the densities."""
    if heavy < 0.97 * _COFFEE_KG:
        return "floats on coffee and tea" + ("; sinks into milk foam" if light > _MILK_FOAM_KG else "")
    if light < 0.97 * _COFFEE_KG:
        return "floats on coffee only if it holds its air"
    return "sinks: it holds too little air"


def overrun_by_weighing(liquid_g: float, foam_g: float) -> float:
    """Overrun [%] from what the same cup holds of the liquid and of its foam, as weighed.

    Formula: 100·(liquid − foam)/foam. Source: the definition of overrun. Accuracy: exact for what was weighed.

    >>> overrun_by_weighing(250, 125)
    100.0
    """
    return 100.0 * (liquid_g - foam_g) / foam_g
