"""Every small sum: as it opens, with each of its figures typed over, by each of its choices, and beyond its ends."""

from __future__ import annotations

from typing import Any

from jugcore.calculators.catalogue import CALCULATORS, calculator_report
from jugcore.method.kitchen import Kitchen
from jugcore.tests.recorded.answers import or_refused
from jugcore.tests.recorded.documents import KITCHEN

#: What is typed over a figure, as a share of what stands there.
SHARES = (0.6, 1.05, 1.5)


def _said(id: str, values: dict[str, Any], typed: str) -> Any:
    return or_refused(lambda: calculator_report(id, Kitchen.model_validate(KITCHEN), values, typed))


def _lines(said: Any) -> Any:
    """What came of it, without what every field says of itself."""
    return said if "fields" not in said else {**said, "fields": {field["id"]: field["value"] for field in said["fields"]}}


def sums() -> dict[str, Any]:
    """The answers of all sums, by what was typed."""
    found: dict[str, Any] = {}
    for id, one in CALCULATORS.items():
        opened = found[id] = _said(id, {}, "")
        stands = {field["id"]: field["value"] for field in opened["fields"]}
        for field in one.fields:
            value = stands[field.id]
            if field.kind == "choice":
                found |= {f"{id} {field.id} {each.value}": _lines(_said(id, {field.id: each.value}, field.id)) for each in field.choices}
            elif isinstance(value, int | float):
                # The figure an end refuses begins right behind it.
                ends = [end * (1 + by) for end, by in ((field.low, -1e-6), (field.low, 0.0), (field.high, 0.0), (field.high, 1e-6))]
                for typed in (*(value * share for share in SHARES), *ends):
                    found[f"{id} {field.id} {typed:.9g}"] = _lines(_said(id, {field.id: typed}, field.id))
    return found
