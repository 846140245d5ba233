"""What is on hand, in the order in which it must go: by product and place, in containers, grams and doses."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

#: Whether it must be thrown away, used today, used tomorrow, or neither.
Haste = Literal["throw", "today", "soon", "keeps", "frozen"]
#: A product is served in whole doses: what is left below one is none.
_WHOLE = 1e-9


@dataclass(frozen=True)
class Held:
    """A container that is there, with its number within its batch. ``dose_g`` is what a dose of its product weighs, None where nobody said."""

    id: str
    product: str
    place: str | None
    mass_g: float
    good_until: date | None
    opened: bool
    frozen: bool
    too_late: bool
    made: date
    number: int = 1
    batch: str = ""
    dose_g: float | None = None
    #: A rest that was kept in something else than a bottle.
    rest: bool = False

    def haste(self, today: date) -> Haste:
        """What must become of it. A day that is past, and freezing too late, say throw it away; its own day says today."""
        if self.too_late or (self.good_until is not None and self.good_until < today and not self.frozen):
            return "throw"
        if self.frozen:
            return "frozen"
        if self.good_until is None:
            return "keeps"
        left = (self.good_until - today).days
        return "today" if left == 0 else "soon" if left == 1 else "keeps"


@dataclass(frozen=True)
class OnHand:
    """Of one product at one place: what may still be served, ``rests`` among its containers. What must be thrown away is none of it."""

    product: str
    place: str | None
    containers: int
    rests: int
    mass_g: float
    doses: int | None
    frozen_g: float
    throw: int
    first: date | None


def first_to_expire(held: Iterable[Held]) -> list[Held]:
    """In the order in which they are to be used: what is open before what is closed of the same day, what was made first, what has least in it.

    What has no day goes last, and what is frozen after that.
    """
    return sorted(
        held,
        key=lambda each: (
            each.frozen,
            each.good_until is None,
            each.good_until or date.max,
            not each.opened,
            each.made,
            each.mass_g,
            each.number,
            each.id,
        ),
    )


def on_hand(held: Sequence[Held], today: date) -> list[OnHand]:
    """Sums by product and place, in the order of their names. Doses are whole ones out of each container."""
    groups: dict[tuple[str, str | None], list[Held]] = {}
    for each in held:
        groups.setdefault((each.product, each.place), []).append(each)
    return [_sum(product, place, there, today) for (product, place), there in sorted(groups.items(), key=lambda item: (item[0][0], item[0][1] or ""))]


def _sum(product: str, place: str | None, there: Sequence[Held], today: date) -> OnHand:
    good = [each for each in there if each.haste(today) not in ("throw", "frozen")]
    doses = [int(each.mass_g / each.dose_g + _WHOLE) for each in good if each.dose_g]
    return OnHand(
        product=product, place=place, containers=len(good), rests=sum(each.rest for each in good), mass_g=sum(each.mass_g for each in good),
        doses=sum(doses) if len(doses) == len(good) and good else None,
        frozen_g=sum(each.mass_g for each in there if each.haste(today) == "frozen"),
        throw=sum(each.haste(today) == "throw" for each in there),
        first=min((each.good_until for each in good if each.good_until is not None), default=None),
    )  # fmt: skip
