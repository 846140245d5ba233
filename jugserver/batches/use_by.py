"""The last day of a batch: the earliest of the local rule, of each part's life once opened, and of the dates of the lots it was made of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime

from django.db.models import Q
from django.utils import timezone

from jugcore.batch.shapes import FrozenSpan
from jugcore.formula.keeping import DEFERS, KeepingReport
from jugcore.keeping.days import Frozen, paused, use_by
from jugcore.keeping.opened import good_until
from jugcore.matter.substance import Opened
from jugcore.method.carried import substance_of
from jugserver.accounts.models import Site
from jugserver.pantry.models import Lot
from jugserver.pantry.placing import as_priced

_ASKED = {"heat": "heat", "packaging": "packaging", "ph": "pH", "ph_close": "pH", "water_activity": "water activity"}


@dataclass(frozen=True)
class UseBy:
    """The last day and what decides it; without a day, what stands there instead.

    ``left`` days once it is thawed, while it is frozen.
    """

    day: date | None
    words: str
    why: str
    left: int | None = None


def use_by_of(site: Site, keeping: KeepingReport, made: date, frozen: Sequence[FrozenSpan] = ()) -> UseBy:
    """Until when a batch made on a day may be used, and why; times in the freezer pause its days."""
    found = _unfrozen(site, keeping, made)
    if found.day is None or not frozen:
        return found
    spans = [Frozen(_day(span.since), None if span.until is None else _day(span.until)) for span in frozen]
    then = paused(found.day, spans)
    times = f"Frozen {'twice or more' if len(spans) > 1 else f'{spans[-1].since:%d %b}'}: that pauses its days and never resets them. "
    if len(spans) > 1:
        times += "What was thawed is usually not frozen again. "
    if then.too_late:
        why = f"It was good until {found.day:%d %b %Y} and frozen after that: throw it away. {DEFERS}"
        return UseBy(None, "past its day when it was frozen", why)
    if then.left is not None:
        words = "use it the day it is thawed" if then.left <= 1 else f"{then.left} days once thawed, that day being day one"
        return UseBy(None, words, times + found.why, then.left)
    return UseBy(then.day, "", times + found.why)


def _day(at: datetime) -> date:
    return timezone.localtime(at).date()


def _unfrozen(site: Site, keeping: KeepingReport, made: date) -> UseBy:
    """Until when it may be used if it was never frozen, and why."""
    if keeping.verdict == "ask":
        asked = ", ".join(_ASKED[question.code] for question in keeping.questions)
        return UseBy(None, f"not assessed: {asked}", keeping.words)
    first = next((limit for limit in keeping.limits if limit.decides), None)
    by_rule = use_by(made, keeping.days) if keeping.days is not None else None
    lot = _first_lot(site, keeping.dated, made)
    if lot is not None and lot[0] < made:
        return UseBy(None, "not assessed: a part past its date", f"{lot[1]} was good until {lot[0]:%d %b %Y}, before this was made. {DEFERS}")
    if lot is not None and (by_rule is None or lot[0] < by_rule):
        return UseBy(lot[0], "", f"{lot[1]} decides. {DEFERS}")
    if by_rule is None or first is None:
        return UseBy(None, "by your own shelf trial: __________", keeping.words)
    return UseBy(by_rule, "", f"{first.title[:1].upper()}{first.title[1:]}, decides. {first.extends} {DEFERS}")


def _first_lot(site: Site, keys: list[str], made: date) -> tuple[date, str] | None:
    """The earliest date of the lots of some ingredients that were there on a day: of the open ones, else of all."""
    there = Q(used_up_on__isnull=True) | Q(used_up_on__gte=made)
    came = Q(received_on__isnull=True) | Q(received_on__lte=made)
    found: list[tuple[date, str]] = []
    rows = Lot.objects.filter(there, came, ingredient__site=site, ingredient__key__in=keys).select_related("ingredient")
    by_key: dict[str, list[Lot]] = {}
    for lot in rows:
        by_key.setdefault(lot.ingredient.key, []).append(lot)
    for lots in by_key.values():
        dates = [
            (day, f"{lot.ingredient.title}, lot {lot.code}: {why[:1].lower()}{why[1:].rstrip('.')}")
            for lot in ([lot for lot in lots if lot.opened_on is not None and lot.opened_on <= made] or lots)
            for day, why in [good_until(_opened(lot), opened_on=lot.opened_on, best_before=lot.best_before)]
            if day is not None
        ]
        # One that was past its date is taken to have been left alone, if there was another.
        found += [each for each in dates if each[0] >= made] or dates
    return min(found, default=None)


def _opened(lot: Lot) -> Opened | None:
    return substance_of(lot.ingredient.key, as_priced(lot.ingredient)).opened
