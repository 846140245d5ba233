"""Money over HTTP."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import Router

from jugcore.drinks.money_schema import PriceChangesReport
from jugcore.money.schema import MakeOrBuyReport, PurchasesReport
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.http.as_json import as_json
from jugserver.http.media import media
from jugserver.http.problems import Problem
from jugserver.money import prices, services
from jugserver.money.schemas import MakeOrBuyIn, PacksIn, PricesIn, PricesOut, SideBySideIn, SideBySideOut

router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_COMPUTED = {422: Problem, 503: Problem}


@router.get("/prices", response={200: PricesOut, **_REFUSALS}, operation_id="prices_list")
def list_prices(request: HttpRequest) -> PricesOut:
    """Every ingredient that is used or has a price, with the pack that gives it: those used without one first."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return prices.prices_of(site)


@router.put("/prices", response={200: PricesOut, **_REFUSALS, 422: Problem}, operation_id="prices_save")
def save_prices(request: HttpRequest, payload: PricesIn) -> PricesOut:
    """Enter prices of many ingredients at once: all of them are kept, or none."""
    user, _ = signed_in(request)
    return prices.save_prices(actor=user, rows=payload.rows)


@router.get("/prices.csv", response={200: bytes, **_REFUSALS}, operation_id="prices_csv", openapi_extra=media("text/csv"))
def get_prices_csv(request: HttpRequest) -> HttpResponse:
    """Every price as a table for other programs."""
    user, site = signed_in(request)
    policies.require(user, "read")
    answer = HttpResponse(prices.prices_csv(site), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="prices.csv"'
    return answer


@router.get("/changes", response={200: PriceChangesReport, **_REFUSALS, **_COMPUTED}, operation_id="money_changes")
def get_changes(request: HttpRequest) -> HttpResponse:
    """What prices have changed since versions were kept, and the drinks they push below their margin."""
    user, _ = signed_in(request)
    return as_json(services.changes_of(actor=user))


@router.post("/side-by-side", response={200: SideBySideOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="money_side_by_side")
def post_side_by_side(request: HttpRequest, payload: SideBySideIn) -> SideBySideOut:
    """Formulas and bought packs side by side: per litre, kilogram, dose, and in a drink. Nothing is kept."""
    user, _ = signed_in(request)
    return services.side_by_side(actor=user, asked=payload)


@router.post("/make-or-buy", response={200: MakeOrBuyReport, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="money_make_or_buy")
def post_make_or_buy(request: HttpRequest, payload: MakeOrBuyIn) -> HttpResponse:
    """A formula against a bought pack, and from which batch on making pays. Nothing is kept."""
    user, _ = signed_in(request)
    return as_json(services.make_or_buy(actor=user, asked=payload))


@router.post("/packs", response={200: PurchasesReport, **_REFUSALS, 422: Problem}, operation_id="money_packs")
def post_packs(request: HttpRequest, payload: PacksIn) -> HttpResponse:
    """What to buy for a document in whole packs, what is left over, and whether it keeps. Nothing is kept."""
    user, _ = signed_in(request)
    return as_json(services.packs_for(actor=user, asked=payload))
