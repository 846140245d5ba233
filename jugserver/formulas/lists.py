"""Formulas in lists: a page at a time by indexed columns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db.models import OuterRef, Q, Subquery

from jugserver.accounts.models import Site
from jugserver.formulas.models import DraftSave, FormulaState
from jugserver.formulas.schemas import FormulaCard, FormulasOut
from jugserver.formulas.states import bring_up_to_date
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.process.planned import planned_anew
from jugserver.process.words import has_word

#: On a page, if nothing else is asked for.
PAGE = 50


@dataclass(frozen=True)
class Problem:
    """Which formulas are asked for; nothing asks for all."""

    words: str = ""
    troubled: bool = False
    ids: Sequence[UUID] | None = None


def page_of(site: Site, wanted: Problem | None = None, cursor: str = "", most: int = PAGE) -> FormulasOut:
    """A page of a site's formulas, lately touched first, those that are asked for."""
    bring_up_to_date(site)
    asked = wanted or Problem()
    after = cursor_at(cursor, tuple[datetime, UUID])
    found = FormulaState.objects.filter(site=site, archived=False)
    for word in asked.words.lower().split():
        found = found.filter(has_word(word))
    if asked.troubled:
        found = found.filter(trouble__isnull=False)
    if asked.ids is not None:
        found = found.filter(pk__in=asked.ids)
    if after is not None:
        at, id = after
        found = found.filter(touched_at__lte=at).filter(Q(touched_at__lt=at) | Q(pk__lt=id))
    saved = DraftSave.objects.filter(formula=OuterRef("pk"), number=OuterRef("formula__draft"))
    found = found.select_related("formula").annotate(saved_by_name=Subquery(saved.values("saved_by__display_name")[:1]))
    ordered = found.order_by("-touched_at", "-formula_id")[: most + 1]
    if asked.words:
        with planned_anew():
            rows = list(ordered)
    else:
        rows = list(ordered)
    more = len(rows) > most
    return FormulasOut(items=[_card(row) for row in rows[:most]], next=cursor_of(rows[most - 1].touched_at, rows[most - 1].pk) if more else None)


def _card(row: Any) -> FormulaCard:
    formula = row.formula
    return FormulaCard.model_validate({
        "id": formula.pk, "name": formula.name, "family": formula.family, "school": formula.school, "draft": formula.draft,
        "touched_at": formula.touched_at, "saved_by": row.saved_by_name, "mark": row.mark, "trouble": row.trouble,
    })  # fmt: skip
