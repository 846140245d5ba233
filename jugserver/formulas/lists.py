"""Formulas in lists: a page at a time by indexed columns."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db.models import Count, Max, OuterRef, Q, Subquery

from jugcore.families.family import family_of
from jugserver.accounts.models import Site
from jugserver.formulas.models import DraftSave, Formula, FormulaState, Readiness, Version
from jugserver.formulas.schemas import FormulaCard, FormulasOut
from jugserver.formulas.states import bring_up_to_date
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.process.planned import planned_anew
from jugserver.process.words import has_word

#: On a page, if nothing else is asked for.
PAGE = 50


@dataclass(frozen=True)
class Filter:
    """Which formulas are asked for; nothing asks for all."""

    words: str = ""
    troubled: bool = False
    ids: Sequence[UUID] | None = None
    family: str = ""
    state: str = ""


def page_of(site: Site, chosen: Filter | None = None, cursor: str = "", most: int = PAGE) -> FormulasOut:
    """A page of a site's formulas, lately touched first, those that are asked for."""
    bring_up_to_date(site)
    asked = chosen or Filter()
    after = cursor_at(cursor, tuple[datetime, UUID])
    found = FormulaState.objects.filter(site=site, archived=False)
    for word in asked.words.lower().split():
        found = found.filter(has_word(word))
    if asked.troubled:
        found = found.filter(trouble__isnull=False)
    if asked.ids is not None:
        found = found.filter(pk__in=asked.ids)
    if asked.family:
        found = found.filter(formula__family__iexact=asked.family)
    if asked.state:
        found = found.filter(_STATES[asked.state]())
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
    used = _used([row.pk for row in rows[:most]])
    after_last = cursor_of(rows[most - 1].touched_at, rows[most - 1].pk) if more else None
    return FormulasOut(items=[_card(row, used[row.pk]) for row in rows[:most]], next=after_last)


def _ready() -> Any:
    """Versions that may be served: what was said of them last holds."""
    said = Readiness.objects.filter(version=OuterRef("pk")).order_by("-id")
    return Version.objects.annotate(may_be_served=Subquery(said.values("ready")[:1])).filter(may_be_served=True)


#: Which formulas are in a state.
_STATES: dict[str, Callable[[], Q]] = {
    "draft": lambda: Q(formula__versions__isnull=True),
    "ready": lambda: Q(formula__in=_ready().values("formula")),
    "on_hob": lambda: Q(formula__in=Formula.objects.filter(batches__state__status="running").values("pk")),
}


def _used(ids: Sequence[UUID]) -> dict[UUID, dict[str, Any]]:
    """Of some formulas: the newest version, the newest that may be served, and how often and when each was cooked."""
    on_hob, finished = Q(batches__state__status="running"), Q(batches__state__status="finished")
    found: Any = Formula.objects.filter(pk__in=ids).values("pk").annotate(
        on_hob=Count("batches", filter=on_hob), cooked=Count("batches", filter=finished), cooked_at=Max("batches__started_at", filter=finished)
    )  # fmt: skip
    used: dict[UUID, dict[str, Any]] = {row.pop("pk"): row for row in found}
    for name, versions in (("version", Version.objects.all()), ("ready", _ready())):
        newest = versions.filter(formula__in=ids).order_by().values("formula").annotate(newest=Max("number"))
        for row in newest:
            used[row["formula"]][name] = row["newest"]
    return used


def _card(row: Any, used: dict[str, Any]) -> FormulaCard:
    formula = row.formula
    family = family_of(formula.family)
    return FormulaCard.model_validate({
        "id": formula.pk, "name": formula.name, "family": formula.family, "school": formula.school, "draft": formula.draft,
        "touched_at": formula.touched_at, "saved_by": row.saved_by_name, "mark": row.mark, "trouble": row.trouble,
        "purpose": family.words if family is not None else "", **used,
    })  # fmt: skip
