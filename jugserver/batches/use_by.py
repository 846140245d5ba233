"""The last day of a batch: the core's rule, with the dates of the lots that this site had."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime

from django.utils import timezone

from jugcore.batch.sheet.schema import FrozenSpan
from jugcore.keeping.days import Frozen
from jugcore.keeping.lots import Lot, LotDate, lot_dates
from jugcore.matter.load_substance import load_substance
from jugcore.reading.keeping.assessment import KeepingReport
from jugcore.reading.keeping.use_by import UseBy, last_day
from jugserver.accounts.models import Site
from jugserver.pantry.models import Lot as LotRow
from jugserver.pantry.pantry_overlay import as_priced


def use_by_of(site: Site, keeping: KeepingReport, made: date, frozen: Sequence[FrozenSpan] = (), bottles: Sequence[LotDate] = ()) -> UseBy:
    """Until when a batch made on a day may be used, and why; times in the freezer pause its days. ``bottles`` of ours are in it."""
    spans = [Frozen(_day(span.since), None if span.until is None else _day(span.until)) for span in frozen]
    return last_day(keeping, made, [*lot_dates(_lots(site, keeping.dated), made), *bottles], spans)


def _day(at: datetime) -> date:
    return timezone.localtime(at).date()


def _lots(site: Site, keys: list[str]) -> list[Lot]:
    """The lots of some ingredients, each with what its ingredient keeps once it is open."""
    rows = LotRow.objects.filter(ingredient__site=site, ingredient__key__in=keys).select_related("ingredient")
    opened = {row.ingredient.key: load_substance(row.ingredient.key, as_priced(row.ingredient)).opened for row in rows}
    return [
        Lot(
            ingredient=row.ingredient.key, title=row.ingredient.title, code=row.code, opened=opened[row.ingredient.key], received_on=row.received_on,
            opened_on=row.opened_on, best_before=row.best_before, used_up_on=row.used_up_on,
        )
        for row in rows
    ]  # fmt: skip
