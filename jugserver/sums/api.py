"""Sums over HTTP. Nothing here is kept."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from jugcore.calculators.base import Field as SumField
from jugcore.calculators.catalogue import SUMS, SumCard, SumReport, sum_cards, sum_report
from jugcore.errors import BadDocument
from jugcore.fields import Text
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.http.problems import Problem
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.pantry_overlay import own_of

router = Router()

_REFUSALS = {401: Problem, 403: Problem}


class SumIn(Schema):
    """What stands in the fields of a sum, as typed, and which was typed last."""

    values: dict[str, float | Text] = Field({}, max_length=30)
    typed: Text = ""


@router.get("", response={200: list[SumCard], **_REFUSALS}, operation_id="sums_list")
def list_sums(request: HttpRequest) -> list[SumCard]:
    """Every sum there is, and when one needs it."""
    user, _ = signed_in(request)
    policies.require(user, "read")
    return sum_cards()


@router.post("/{sum_id}", response={200: SumReport, **_REFUSALS, 422: Problem}, operation_id="sums_work")
def work_sum(request: HttpRequest, sum_id: Annotated[str, Path(max_length=40)], payload: SumIn) -> SumReport:
    """Work a sum out in the site's kitchen, from what was typed last."""
    user, site = signed_in(request)
    policies.require(user, "walk")
    named = {str(payload.values[f.id]) for f in _fields(sum_id) if f.id in payload.values}
    return sum_report(sum_id, kitchen_of(site).kitchen, payload.values, payload.typed, own_of(site, named))


def _fields(sum_id: str) -> list[SumField]:
    """Fields of a sum that name an ingredient."""
    if sum_id not in SUMS:
        raise BadDocument("sum", f"“{sum_id}” is no sum here.", f"Use one of: {', '.join(SUMS)}.")
    return [f for f in SUMS[sum_id].fields if f.kind == "ingredient"]
