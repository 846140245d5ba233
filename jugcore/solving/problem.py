"""What may be asked of a solve, and what comes of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from jugcore.figures import Floats
from jugcore.method.document import MethodDocument
from jugcore.method.walk import Walk
from jugcore.solving.linearise import Target, Variable
from jugcore.solving.program import Change

#: A target counts as met by the exact figures within this share of its last shown digit.
EXACT = 0.01
#: Curvature may add this much to what rounding explains.
_CURVATURE = 1.1
Status = Literal["solved", "infeasible", "not_proven"]


@dataclass(frozen=True)
class Problem:
    """What is asked of a solve.

    ``targets`` windows for readings or lines · ``locks`` lines whose grams must not
    change · ``bounds`` {line: (least, most)} · ``free`` the paths that may change, else
    every written line and every boil · ``change`` few edits, or spread over all ·
    ``prices`` {line: price a kilogram}: if given, least cost instead of least change.
    """

    targets: tuple[Target, ...]
    locks: tuple[str, ...] = ()
    bounds: Mapping[str, tuple[float | None, float | None]] = field(default_factory=dict)
    free: tuple[str, ...] | None = None
    change: Change = "few"
    prices: Mapping[str, float] = field(default_factory=dict)
    #: Whether to look for what collides where there is no answer; that takes a while.
    explain: bool = True


@dataclass(frozen=True)
class Met:
    """A target after the last walk: what it came to, how far off, and how much of that rounding explains."""

    target: Target
    title: str
    unit: str
    digits: int
    before: float
    value: float
    off_by: float
    rounding: float

    @property
    def met(self) -> bool:
        return self.off_by <= self.rounding * _CURVATURE + EXACT * 10.0**-self.digits


@dataclass(frozen=True)
class Changed:
    """One figure that moved: path, from, to, in its unit."""

    path: str
    before: float
    after: float
    unit: str


@dataclass(frozen=True)
class Infeasibility:
    """The smallest set that cannot hold together, in words, and how near the nearest formula comes."""

    targets: tuple[Target, ...]
    limits: tuple[str, ...]
    words: str


@dataclass(frozen=True)
class Timing:
    """Seconds in walks, in solvers, and altogether."""

    walks_s: float
    solver_s: float
    total_s: float


@dataclass(frozen=True)
class Solution:
    """What came of it. ``document`` meets the targets if ``status`` is solved, else it is the nearest found."""

    status: Status
    document: MethodDocument
    walk: Walk
    changes: tuple[Changed, ...]
    targets: tuple[Met, ...]
    infeasibility: Infeasibility | None
    rounds: int
    timing: Timing
    x: Floats
    variables: tuple[Variable, ...]
