"""Starch in hot sweet water: where it swells and bursts, and how fast an enzyme then cuts it.

Indicative throughout: orders and ranges of the kitchen, no figure to certify anything by.
"""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats

#: Kelvin that a °Bx of sugar raises gelatinising by: low, typical, high (starch texts, from memory, unsure).
SUGAR_RAISES_K = (0.1, 0.25, 0.45)
#: How much sooner or later than the table says starch may burst, relative.
GEL_SPREAD = (0.6, 1.0, 1.6)
#: Minutes at its best in which the sheet's dose leaves a fifth of the starch uncut (10 to 30 min: common practice).
THIN_MINUTES = (10.0, 20.0, 30.0)
#: What is left once it counts as thinned; below this it no longer gels overnight (common practice, no source).
THINNED_LEFT = 0.2
#: Minutes that a half of the enzyme lives where its sheet says it is lost within minutes.
LOST_HALF_MINUTES = (1.5, 3.0, 6.0)
#: Kelvin that make a tenth of an enzyme's life. From the activation energy of malt's, 10 K at 70 °C.
_Z_K = 10.0
#: Kelvin below its best in which an enzyme works half as fast.
_HALVES_K = 10.0


def gelatinising_c(from_c: Floats, to_c: Floats, brix: Floats, typical: float = SUGAR_RAISES_K[1]) -> tuple[Floats, Floats]:
    """Where starch begins and ends to gelatinise in a syrup. [°C]

    Formula: the range in plain water, raised by 0.25 K (0.1 to 0.45) for every °Bx. Range: 0 to 60 °Bx.
    Source: starch texts, from memory, unsure; table t15 for the ranges in water. Accuracy: 5 K, indicative.
    """
    raised = typical * np.nan_to_num(brix)
    return np.asarray(from_c + raised), np.asarray(to_c + raised)


def can_gelatinise(temperature_c: Floats, from_c: Floats, to_c: Floats) -> Floats:
    """The share of starch that bursts in the end at a temperature [°C].

    Formula: none below its range, all above, a straight line between. Source: starch texts. Accuracy: indicative.
    """
    width = np.maximum(to_c - from_c, 1.0)
    return np.asarray(np.clip((temperature_c - from_c) / width, 0.0, 1.0))


def bursts_in(seconds: Floats, minutes: Floats) -> Floats:
    """Of what can burst at a temperature and has not yet, the share that does within a time [s].

    Formula: 1 − e^(−t/τ); τ 5 min (3 to 8) in cocoa, 1 min of starch by itself. Range: any.
    Source: cocoa 10 to 20 min at a simmer, a slurry a minute or two: common practice.
    Accuracy: half to twice the time; its slow and fast ends are run.
    """
    return np.asarray(1.0 - np.exp(-seconds / (60.0 * np.maximum(minutes, 0.05))))


def half_life_s(temperature_c: Floats, dies_c: Floats, at_dies: float = LOST_HALF_MINUTES[1]) -> Floats:
    """Seconds in which half of an enzyme is lost to heat.

    Formula: 3 min (1.5 to 6) where its sheet says it is lost within minutes, ten times as long for every 10 K less.
    Range: 40 to 110 °C. Source: the slope from malt's activation energy (Brandam 2003, from memory), the foot from the
    word of the sheet. Accuracy: a factor of three, indicative.
    """
    return np.asarray(60.0 * at_dies * 10.0 ** np.clip((dies_c - temperature_c) / _Z_K, -6.0, 6.0))


def works_at(temperature_c: Floats, best_c: Floats, dies_c: Floats) -> Floats:
    """How fast an enzyme works against its best (0 to 1) at a temperature [°C].

    Formula: half as fast for every 10 K below its best, not at all where it is lost at once.
    Source: the usual doubling in ten kelvin, common practice. Accuracy: an order, indicative.
    """
    rate = 2.0 ** np.minimum((temperature_c - best_c) / _HALVES_K, 0.0)
    return np.asarray(np.where(temperature_c > dies_c + _Z_K, 0.0, rate))


def thinning_rate_s(dose: Floats, minutes: float = THIN_MINUTES[1]) -> Floats:
    """Share of the burst starch cut in a second by ``dose`` times what the sheet asks for, at its best. [1/s]

    Formula: the sheet's dose leaves a fifth after 20 min (10 to 30). Source: common practice.
    Accuracy: half to one and a half times the time, indicative.
    """
    return np.asarray(dose * -np.log(THINNED_LEFT) / (60.0 * minutes))


#: Grams of water taken up where starch is cut to dextrins about ten sugars long, a gram of starch.
WATER_TAKEN = 18.015 / 1621.4
