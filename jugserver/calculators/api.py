"""Calculators over HTTP. Nothing here is kept."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from jugcore.calculators.base import Field as CalculatorField
from jugcore.calculators.catalogue import CALCULATORS, CalculatorCard, CalculatorReport, calculator_cards, calculator_report
from jugcore.errors import BadDocument
from jugcore.fields import Text
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.http.problems import Problem
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.pantry_overlay import own_substances

router = Router()

_REFUSALS = {401: Problem, 403: Problem}


class CalculatorIn(Schema):
    """What stands in the fields of a calculator, as typed, and which was typed last."""

    values: dict[str, float | Text] = Field({}, max_length=30)
    typed: Text = ""


@router.get("", response={200: list[CalculatorCard], **_REFUSALS}, operation_id="calculators_list")
def list_calculators(request: HttpRequest) -> list[CalculatorCard]:
    """Every calculator there is, and when one needs it."""
    user, _ = signed_in(request)
    policies.require(user, "read")
    return calculator_cards()


@router.post("/{calculator_id}", response={200: CalculatorReport, **_REFUSALS, 422: Problem}, operation_id="calculators_work")
def calculate(request: HttpRequest, calculator_id: Annotated[str, Path(max_length=40)], payload: CalculatorIn) -> CalculatorReport:
    """Calculate in the site's kitchen, from what was typed last."""
    user, site = signed_in(request)
    policies.require(user, "walk")
    named = {str(payload.values[f.id]) for f in _fields(calculator_id) if f.id in payload.values}
    return calculator_report(calculator_id, kitchen_of(site).kitchen, payload.values, payload.typed, own_substances(site, named))


def _fields(calculator_id: str) -> list[CalculatorField]:
    """Fields of a calculator that name an ingredient."""
    if calculator_id not in CALCULATORS:
        raise BadDocument("calculator", f"“{calculator_id}” is not a calculator here.", f"Use one of: {', '.join(CALCULATORS)}.")
    return [f for f in CALCULATORS[calculator_id].fields if f.kind == "ingredient"]
