"""Has a table's changes kept by triggers, beside it, whoever makes them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import reduce
from operator import and_, or_
from typing import TypeVar

import pghistory
import pgtrigger
from django.db import models

_Model = TypeVar("_Model", bound=type[models.Model])


def tracked(
    *also: pghistory.Tracker,
    exclude: Sequence[str] = (),
    fields: Sequence[str] | None = None,
    only_with: str = "",
    added_only: bool = False,
    but: tuple[str, str] | None = None,
) -> Callable[[_Model], _Model]:
    """Keep every row that is added, changed or taken out, as it is after it, with who did it and from where.

    ``exclude`` are columns that are not kept and whose change is none, ``fields`` those that are. Rows without a value in the
    column ``only_with`` are nobody's; ``added_only`` is for tables whose rows are only ever added. Rows with a value in a column, ``but``,
    follow what is kept elsewhere.
    """

    def decorate(model: _Model) -> _Model:
        kept = list(fields) if fields is not None else [field.name for field in model._meta.local_fields if field.name not in exclude]
        trackers: list[pghistory.Tracker] = [pghistory.InsertEvent(condition=_has(only_with, "new", but))]
        if not added_only:
            trackers.append(pghistory.UpdateEvent(condition=_changed(kept, only_with, but)))
            trackers.append(pghistory.DeleteEvent(condition=_has(only_with, "old", but)))
        keep: Callable[[_Model], _Model] = pghistory.track(
            *trackers, *also, fields=kept,
            context_field=pghistory.ContextJSONField(),
            obj_field=pghistory.ObjForeignKey(related_name="changes"), model_name=f"{model.__name__}Change",
            meta={"indexes": [models.Index(fields=["-pgh_created_at"]), models.Index(fields=["pgh_obj", "-pgh_id"])]},
        )  # fmt: skip
        return keep(model)

    return decorate


def _has(column: str, row: str, but: tuple[str, str] | None) -> pgtrigger.Q | None:
    has = [pgtrigger.Q(**{f"{row}__{column}__isnull": False})] if column else []
    has += [~pgtrigger.Q(**{f"{row}__{but[0]}": but[1]})] if but else []
    return reduce(and_, has) if has else None


def _changed(kept: Sequence[str], only_with: str, but: tuple[str, str] | None) -> pgtrigger.Q:
    changed = reduce(or_, (pgtrigger.Q(**{f"new__{name}__df": pgtrigger.F(f"old__{name}")}) for name in kept))
    has = _has(only_with, "new", but)
    return changed if has is None else changed & has
