"""What bottles lost beside what was served: strokes that give more than the dose, spills, tastes, what clings to the bottle.

Served is cups × dose, exact as far as cups were counted. Lost is read off the ledger: between two weighings of a bottle nobody knows
when it was poured, so that what lies across the beginning or end of the time is shared out by hours and its doubt is kept.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Literal

from jugcore.figures import shown
from jugcore.stock import movements as m

#: A weighing of a bottle is wrong by so much, one standard deviation. Estimate for a bench scale of 1 g and a wet bottle. [g]
_WEIGHING_G = 2.0
#: A dose of strokes or spoons gives so much more or less than written, one standard deviation as a share. Estimate; grams on a scale are nearer.
DOSE_DOUBT = 0.03
#: Bounds of a 90 % interval, in standard deviations.
_WIDE = 1.645
#: Of what was served so much has to be seen leaving bottles, and at most so much more; otherwise not every bottle is in the ledger.
_LEAST_SEEN, _MOST_SEEN = 0.6, 2.0
#: Below this nothing is said. [g]
_LEAST_SERVED_G = 50.0


@dataclass(frozen=True)
class Level:
    """What was in a bottle at a time [g]; ``served`` is whether what went since the level before was served, and not taken or poured away."""

    at: datetime
    mass_g: float
    served: bool


@dataclass(frozen=True)
class OverPour:
    """What bottles lost in a time beside what was served [g], between what it lies (90 %), and what that says.

    ``verdict`` is "over" or "under" where the whole interval lies on that side, "even" where it holds nothing, "unknown" where too little is seen.
    """

    served_g: float
    lost_g: float
    low_g: float
    high_g: float
    verdict: Literal["over", "under", "even", "unknown"]
    words: str

    @property
    def over_g(self) -> float:
        """What was lost more than served."""
        return self.lost_g - self.served_g


@dataclass(frozen=True)
class Open:
    """A bottle that was opened, or weighed last, at a time and of which nobody has said since what is left."""

    at: datetime
    mass_g: float


def levels_of(filled_g: float, opened_at: datetime, entries: Sequence[m.Movement]) -> tuple[list[Level], Open | None]:
    """What was in a bottle when, from when it was opened on, by its movements in order of time; and what is open of it still, if anything."""
    mass, levels, gone = filled_g, [Level(opened_at, filled_g, served=False)], False
    for entry in entries:
        served = False
        match entry.what:
            case m.WeighedEntry() as what:
                mass, served, gone = what.mass_g, True, False
            case m.EmptiedEntry():
                mass, served, gone = 0.0, True, True
            case m.TakenEntry() as what:
                mass = max(mass - what.mass_g, 0.0)
            case m.PouredAwayEntry() as what:
                mass = 0.0 if what.mass_g is None else max(mass - what.mass_g, 0.0)
                gone = gone or what.mass_g is None
            case m.CountedEntry() as what:
                gone = gone or not what.there
                continue
            case _:
                continue
        levels.append(Level(max(entry.at, opened_at), mass, served))
    return levels, None if gone or mass <= 0 else Open(levels[-1].at, mass)


def lost_between(bottles: Sequence[Sequence[Level]], still_open: Sequence[Open], begin: datetime, end: datetime) -> tuple[float, float]:
    """(grams served out of bottles in a time, their variance).

    Of what went between two levels that lie across an end of the time, the share by hours f is taken; it may have gone all at once, so
    that its variance is f(1 − f)/3 of its square. Of a bottle that is open still anything between nothing and all may be gone: half of
    it, with the variance of a twelfth of its square.
    """
    grams = variance = 0.0
    for levels in bottles:
        inside = False
        for before, after in pairwise(levels):
            went = before.mass_g - after.mass_g
            if not after.served or went <= 0 or after.at <= begin or before.at >= end:
                continue
            whole = max((after.at - before.at).total_seconds(), 1.0)
            within = (min(after.at, end) - max(before.at, begin)).total_seconds()
            share = min(max(within / whole, 0.0), 1.0)
            grams += share * went
            variance += went**2 * share * (1.0 - share) / 3.0
            inside = True
        if inside:  # weighings between cancel out: the first and the last stay
            variance += 2.0 * _WEIGHING_G**2
    for each in still_open:
        if begin <= each.at < end:
            grams += each.mass_g / 2.0
            variance += each.mass_g**2 / 12.0
    return grams, variance


def over_pour(served_g: float, lost_g: float, variance: float, dose_doubt: float = 0.0) -> OverPour:
    """What bottles lost beside what was served.

    Parameters: cups × dose [g]; what bottles lost [g] and its variance; ``dose_doubt``: one standard deviation of the dose itself, as a share
    of it, where it is written in spoons or strokes nobody weighed.
    """
    spread = (variance + (dose_doubt * served_g) ** 2) ** 0.5
    low, high = lost_g - served_g - _WIDE * spread, lost_g - served_g + _WIDE * spread
    if served_g < _LEAST_SERVED_G:
        return OverPour(served_g, lost_g, low, high, "unknown", "Too little was sold to say.")
    if not _LEAST_SEEN * served_g <= lost_g <= _MOST_SEEN * served_g:
        seen = f"Bottles account for {shown(round(100 * lost_g / served_g))} % of what was sold"
        return OverPour(served_g, lost_g, low, high, "unknown", f"{seen}: not every bottle is weighed or emptied in time.")
    share = 100 * (lost_g - served_g) / served_g
    if low > 0:
        return OverPour(served_g, lost_g, low, high, "over", f"{shown(round(share))} % more left the bottles than the doses sold.")
    if high < 0:
        return OverPour(served_g, lost_g, low, high, "under", f"{shown(round(-share))} % less left the bottles than the doses sold.")
    return OverPour(served_g, lost_g, low, high, "even", "As the doses say, as far as the weighings show.")
