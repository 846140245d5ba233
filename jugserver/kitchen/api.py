"""The kitchen over HTTP."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.http.problems import Problem
from jugserver.kitchen import business, services
from jugserver.kitchen.schemas import BusinessIn, BusinessOut, KitchenIn, KitchenOut

router = Router()
business_router = Router()


@router.get("", response={200: KitchenOut, 401: Problem, 403: Problem}, operation_id="kitchen_get")
def get_kitchen(request: HttpRequest) -> KitchenOut:
    """The site's kitchen."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.kitchen_of(site)


@router.put("", response={200: KitchenOut, 401: Problem, 403: Problem, 409: Problem, 422: Problem}, operation_id="kitchen_save")
def save_kitchen(request: HttpRequest, payload: KitchenIn) -> KitchenOut:
    """Replace the site's kitchen."""
    user, _ = signed_in(request)
    return services.save_kitchen(actor=user, number=payload.number, kitchen=payload.kitchen)


@router.post(
    "/equipment/{key}/cleaned", response={200: KitchenOut, 401: Problem, 403: Problem, 404: Problem}, operation_id="kitchen_equipment_cleaned"
)
def gear_cleaned(request: HttpRequest, key: str) -> KitchenOut:
    """Log that a piece of equipment was washed by the site's allergen clean."""
    user, _ = signed_in(request)
    return services.clean_gear(actor=user, key=key)


@business_router.get("", response={200: BusinessOut, 401: Problem, 403: Problem}, operation_id="business_get")
def get_business(request: HttpRequest) -> BusinessOut:
    """What the site counts in, what energy and hands cost it, when it is open and where it serves."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return business.business_of(site)


@business_router.put("", response={200: BusinessOut, 401: Problem, 403: Problem, 409: Problem, 422: Problem}, operation_id="business_save")
def save_business(request: HttpRequest, payload: BusinessIn) -> BusinessOut:
    """Replace the site's business."""
    user, _ = signed_in(request)
    return business.save_business(actor=user, number=payload.number, business=payload.business)
