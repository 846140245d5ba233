"""How it will flow tomorrow, from the shop's own funnel: bracketed between trials, never reckoned past them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, Field

from jugcore.figures import shown
from jugcore.matter.matter import STARCH_IN
from jugcore.method.walk import Walk
from jugcore.reading.catalogue import READING_OF

#: Trials of syrups further away in °Brix say nothing of this one (common practice, no source).
_NEAR_BRIX = 6.0
_MOST_NAMED = 3


class FlowTrial(BaseModel):
    """One batch through a funnel, cold, the day after: seconds, or that it did not run."""

    batch: str = Field(description="What the trial is called.")
    cooked_starch: float = Field(description="Cooked starch in 100 g of water, by the batch's walk [g].")
    brix: float
    seconds: float
    stuck: bool
    funnel: str


class FlowExpected(BaseModel):
    """Seconds between which it should run through the same funnel tomorrow, and the trials that say so."""

    funnel: str
    at_least_s: float | None
    at_most_s: float | None
    sticks: bool = Field(description="A trial with no more starch than this already did not run.")
    trials: list[str]
    words: str


def flow_expected(walk: Walk, trials: Sequence[FlowTrial]) -> FlowExpected | None:
    """Between which of the shop's trials a formula lies: more cooked starch never runs faster.

    Trials through the funnel used last, within 6 °Bx. None where there is no free starch, or no trial. Source: the shop's own log.
    """
    if not float(walk.product.tracer[0, STARCH_IN]) > 0 or not trials:
        return None
    mine = float(READING_OF["cooked_starch"](walk).value[0])
    brix = float(READING_OF["brix"](walk).value[0])
    if not np.isfinite(mine) or not np.isfinite(brix):
        return None
    funnel = trials[-1].funnel
    near = [t for t in trials if t.funnel == funnel and abs(t.brix - brix) <= _NEAR_BRIX]
    if not near:
        return None
    less = [t for t in near if t.cooked_starch <= mine + 1e-9]
    more = [t for t in near if t.cooked_starch >= mine - 1e-9]
    sticks = any(t.stuck for t in less)
    least = max((t.seconds for t in less if not t.stuck), default=None)
    most = min((t.seconds for t in more if not t.stuck), default=None)
    named = sorted({t.batch for t in [*less[-_MOST_NAMED:], *more[:_MOST_NAMED]]})
    return FlowExpected(
        funnel=funnel, at_least_s=least, at_most_s=None if sticks else most, sticks=sticks, trials=named,
        words=f"By your own trials ({', '.join(named)}) {_words(least, most, sticks)} through {funnel}, cold.",
    )  # fmt: skip


def _words(least: float | None, most: float | None, sticks: bool) -> str:
    if sticks:
        return "it will not run tomorrow: one with no more starch did not"
    if least is not None and most is not None:
        low, high = sorted((round(least), round(most)))
        return f"tomorrow it runs in {shown(low)} to {shown(high)} s" if low != high else f"tomorrow it runs in about {shown(low)} s"
    if least is not None:
        return f"tomorrow it takes {shown(round(least))} s and more; none with more starch was tried"
    assert most is not None or not sticks
    return f"tomorrow it takes {shown(round(most))} s at most" if most is not None else "it may run: those with more starch did not"
