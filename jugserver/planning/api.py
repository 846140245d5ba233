"""What days to come will bring, over HTTP."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Query, Router, Status

from jugcore.planning.forecast.request import MOST_AHEAD
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.accounts.signed_in import signed_in
from jugserver.http.problems import Problem
from jugserver.planning import services
from jugserver.planning.forecasting import forecast_of
from jugserver.planning.needs import needs_of, over_pours_of
from jugserver.planning.schemas import ForecastOut, LikeIn, NeedsOut, OverPoursOut, OverrideIn, PlanIn, PlanSettingsDoc, PlanWeekOut
from jugserver.planning.week import plan_of, save_settings

router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_COMPUTED = {422: Problem, 503: Problem}
_Ahead = Annotated[int, Query(ge=1, le=MOST_AHEAD)]


@router.get("/forecast", response={200: ForecastOut, **_REFUSALS, **_COMPUTED}, operation_id="forecast")
def get_forecast(request: HttpRequest, ahead: _Ahead = 7) -> ForecastOut:
    """What the days from today on will bring: every drink and size at every place, with its band."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return forecast_of(actor=user, site=site, ahead=ahead)


@router.get("/needs", response={200: NeedsOut, **_REFUSALS, **_COMPUTED}, operation_id="needs")
def get_needs(request: HttpRequest, ahead: _Ahead = 7) -> NeedsOut:
    """What the days from today on need of every product, by day and place, and of what is bought."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return needs_of(actor=user, site=site, ahead=ahead)


@router.get("/over-pours", response={200: OverPoursOut, **_REFUSALS, **_COMPUTED}, operation_id="over_pours")
def get_over_pours(request: HttpRequest) -> OverPoursOut:
    """What bottles lost beside what was served, by product and week."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return over_pours_of(actor=user, site=site)


@router.post("/week", response={200: PlanWeekOut, **_REFUSALS, **_COMPUTED}, operation_id="plan_week")
def post_week(request: HttpRequest, payload: PlanIn) -> PlanWeekOut:
    """A plan for the next seven days: what to make, how much, on which day, with what it costs and how near to the best it is. Nothing is kept."""
    user, site = signed_in(request)
    return plan_of(actor=user, site=site, pins=payload.pins)


@router.put("/settings", response={200: PlanSettingsDoc, **_REFUSALS, 422: Problem}, operation_id="plan_save_settings")
def put_settings(request: HttpRequest, payload: PlanSettingsDoc) -> PlanSettingsDoc:
    """Say how much room for hands and burners a day has."""
    user, _ = signed_in(request)
    return save_settings(actor=user, settings=payload)


@router.post("/overrides", response={201: ForecastOut, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="forecast_override")
def post_override(request: HttpRequest, payload: OverrideIn, ahead: _Ahead = 7) -> Status[ForecastOut]:
    """Say what days to come will bring, and why."""
    user, site = signed_in(request)
    services.override(actor=user, told=payload)
    return Status(201, _again(user, site, ahead))


@router.delete("/overrides/{int:id}", response={200: ForecastOut, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="forecast_undo_override")
def undo_override(request: HttpRequest, id: Annotated[int, Path(ge=1, le=9_000_000_000)], ahead: _Ahead = 7) -> ForecastOut:
    """What was said of days to come does nothing any more."""
    user, site = signed_in(request)
    services.undo_override(actor=user, id=id)
    return _again(user, site, ahead)


@router.put("/likes", response={200: ForecastOut, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="forecast_like")
def put_like(request: HttpRequest, payload: LikeIn, ahead: _Ahead = 7) -> ForecastOut:
    """Take a new drink to sell as a share of another."""
    user, site = signed_in(request)
    services.take_like(actor=user, told=payload)
    return _again(user, site, ahead)


@router.delete("/likes/{uuid:drink_id}", response={200: ForecastOut, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="forecast_stop_like")
def stop_like(request: HttpRequest, drink_id: UUID, ahead: _Ahead = 7) -> ForecastOut:
    """A drink is taken to sell like no other."""
    user, site = signed_in(request)
    services.stop_like(actor=user, drink=drink_id)
    return _again(user, site, ahead)


def _again(user: User, site: Site, ahead: int) -> ForecastOut:
    return forecast_of(actor=user, site=site, ahead=ahead)
