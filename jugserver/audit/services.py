"""What changed at a site, read from what the triggers kept."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db.models import ForeignKey, OuterRef, Q, Subquery

from jugserver.accounts import policies
from jugserver.accounts.models import User
from jugserver.audit.schemas import ChangeOut, ChangesOut, Differs
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.tracking.who import tracked_models

#: On a page.
MOST = 20
#: Of one change at most so many figures are told.
_MOST_TOLD = 12
_LABELS = {"insert": "added", "update": "changed", "delete": "removed", "password": "password set", "pin": "PIN set or cleared"}
#: By what column a table's rows are a site's.
_OF_SITE = (
    "site",
    "kitchen__site",
    "ingredient__site",
    "formula__site",
    "version__formula__site",
    "drink__site",
    "drink_version__drink__site",
    "pgh_obj",
)
_UNITS = {"g": "g", "c": "°C", "m": "m", "cm": "cm", "ml": "ml", "w": "W", "um": "µm", "days": "days"}
_NAMES = ("display_name", "name", "title", "code")


def changes_of(*, actor: User, cursor: str = "") -> ChangesOut:
    """A page of what changed at the actor's site, the newest first."""
    policies.require(actor, "see_changes")
    after = cursor_at(cursor, tuple[datetime, str, int])
    found: list[tuple[tuple[datetime, str, int], Any]] = []
    for table, model in tracked_models().items():
        rows = model.objects.filter(**{_path(model): actor.site_id}).exclude(pgh_label="there")
        if after is not None:
            at, last_table, last_id = after
            same = Q(pgh_created_at=at) if table < last_table else Q(pgh_created_at=at, pgh_id__lt=last_id) if table == last_table else Q(pk=None)
            rows = rows.filter(Q(pgh_created_at__lt=at) | same)
        before = model.objects.filter(pgh_obj=OuterRef("pgh_obj"), pgh_id__lt=OuterRef("pgh_id")).order_by("-pgh_id")
        rows = rows.annotate(before_id=Subquery(before.values("pgh_id")[:1])).order_by("-pgh_created_at", "-pgh_id")[: MOST + 1]
        found += [((row.pgh_created_at, table, row.pgh_id), row) for row in rows]
    found.sort(key=lambda each: each[0], reverse=True)
    page = found[:MOST]
    befores = _befores([row for _, row in page])
    people = dict(User.objects.filter(site=actor.site).values_list("username", "display_name"))
    items = [_told(row, befores.get((type(row), row.before_id)), people) for _, row in page]
    return ChangesOut(items=items, next=cursor_of(*page[-1][0]) if len(found) > MOST else None)


def _path(model: Any) -> str:
    names = {field.name for field in model._meta.fields}
    return next(path for path in _OF_SITE if path.split("__")[0] in names)


def _befores(rows: list[Any]) -> dict[tuple[Any, int], Any]:
    """The rows as they were before, in one query a table."""
    wanted: dict[Any, set[int]] = {}
    for row in rows:
        if row.before_id is not None:
            wanted.setdefault(type(row), set()).add(row.before_id)
    return {(model, pk): row for model, ids in wanted.items() for pk, row in model.objects.in_bulk(list(ids)).items()}


def _told(row: Any, before: Any, people: dict[str, str]) -> ChangeOut:
    who = row.pgh_context or {}
    differs = _differences(row, before) if row.pgh_label == "update" and before is not None else []
    by = who.get("by")
    return ChangeOut.model_validate({
        "at": row.pgh_created_at, "by": people.get(by, by) if by else who.get("how") or "the app itself", "how": who.get("how") or "",
        "address": who.get("address"), "kind": str(type(row).pgh_tracked_model._meta.verbose_name), "what": _called(row),
        "deed": _LABELS[row.pgh_label], "differs": differs[:_MOST_TOLD], "more": max(len(differs) - _MOST_TOLD, 0),
    })  # fmt: skip


def _called(row: Any) -> str:
    """What the changed thing is called: its own name, and that of what it belongs to."""
    if hasattr(row, "drink_version_id"):
        return f"{row.drink_version.drink}, version {row.drink_version.number}"
    if hasattr(row, "drink_id"):
        return f"{row.drink}, version {row.number}"
    if hasattr(row, "version_id"):
        return f"{row.version.formula}, version {row.version.number}"
    if hasattr(row, "formula_id"):
        return f"{row.formula}, version {row.number}"
    own = next((str(value) for name in _NAMES if (value := getattr(row, name, ""))), "")
    return f"{row.ingredient}, {own}" if hasattr(row, "ingredient_id") else own


def _differences(row: Any, before: Any) -> list[Differs]:
    found: list[Differs] = []
    for field in row._meta.fields:
        if field.name.startswith("pgh_") or field.primary_key:
            continue
        name = str(field.verbose_name) if field.name != "draft" else "save of its draft"
        old, new = (_value(each, field) for each in (before, row))
        found += [_differs(" ".join((name, *path)), a, b) for path, a, b in _leaves(old, new)]
    return found


def _differs(name: str, old: Any, new: Any) -> Differs:
    """“tare: 1243 → 1263 g” of what is kept as “tare g”."""
    words, _, last = name.rpartition(" ")
    unit = _UNITS.get(last, "") if words and any(isinstance(each, int | float) for each in (old, new)) else ""
    return Differs(name=words if unit else name, before=_shown(old), after=f"{_shown(new)}{f' {unit}' if unit else ''}")


def _value(row: Any, field: Any) -> Any:
    return str(getattr(row, field.name)) if isinstance(field, ForeignKey) and getattr(row, field.attname) is not None else getattr(row, field.attname)


def _leaves(old: Any, new: Any, path: tuple[str, ...] = ()) -> list[tuple[tuple[str, ...], Any, Any]]:
    """Where two values differ: of documents the paths of what does."""
    if isinstance(old, dict) and isinstance(new, dict):
        names = [*old, *(name for name in new if name not in old)]
        return [each for name in names for each in _leaves(old.get(name), new.get(name), (*path, str(name).replace("_", " ")))]
    return [] if old == new else [(path, old, new)]


def _shown(value: Any) -> str:
    if value is None or value in ("", [], {}):
        return "nothing"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:g}"
    return str(value)[:200]
