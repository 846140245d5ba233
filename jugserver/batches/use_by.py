"""The last day of a batch: the core's rule, with the dates of the lots that this site had."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime

from django.db.models import Q
from django.utils import timezone

from jugcore.batch.shapes import FrozenSpan
from jugcore.formula.keeping import KeepingReport
from jugcore.formula.use_by import LotDate, UseBy, last_day
from jugcore.keeping.days import Frozen
from jugcore.keeping.opened import good_until
from jugcore.matter.substance import Opened
from jugcore.method.carried import substance_of
from jugserver.accounts.models import Site
from jugserver.pantry.models import Lot
from jugserver.pantry.placing import as_priced


def use_by_of(site: Site, keeping: KeepingReport, made: date, frozen: Sequence[FrozenSpan] = ()) -> UseBy:
    """Until when a batch made on a day may be used, and why; times in the freezer pause its days."""
    spans = [Frozen(_day(span.since), None if span.until is None else _day(span.until)) for span in frozen]
    return last_day(keeping, made, _lots(site, keeping.dated, made), spans)


def _day(at: datetime) -> date:
    return timezone.localtime(at).date()


def _lots(site: Site, keys: list[str], made: date) -> list[LotDate]:
    """The dates of the lots of some ingredients that were there on a day: of the open ones, else of all."""
    there = Q(used_up_on__isnull=True) | Q(used_up_on__gte=made)
    came = Q(received_on__isnull=True) | Q(received_on__lte=made)
    found: list[LotDate] = []
    rows = Lot.objects.filter(there, came, ingredient__site=site, ingredient__key__in=keys).select_related("ingredient")
    by_key: dict[str, list[Lot]] = {}
    for lot in rows:
        by_key.setdefault(lot.ingredient.key, []).append(lot)
    for lots in by_key.values():
        dates = [
            LotDate(day, f"{lot.ingredient.title}, lot {lot.code}: {why[:1].lower()}{why[1:].rstrip('.')}")
            for lot in ([lot for lot in lots if lot.opened_on is not None and lot.opened_on <= made] or lots)
            for day, why in [good_until(_opened(lot), opened_on=lot.opened_on, best_before=lot.best_before)]
            if day is not None
        ]
        # One that was past its date is taken to have been left alone, if there was another.
        found += [each for each in dates if each.day >= made] or dates
    return found


def _opened(lot: Lot) -> Opened | None:
    return substance_of(lot.ingredient.key, as_priced(lot.ingredient)).opened
