"""Reading and changing what a site counts in, what energy and hands cost it, when it is open and where it serves."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from jugcore.errors import BadDocument
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.accounts.site_time import zone_of
from jugserver.http.problems import Conflict
from jugserver.kitchen.models import SiteBusiness
from jugserver.kitchen.schemas import Business, BusinessOut
from jugserver.kitchen.signals import site_time_changed
from jugserver.process.time_zone import is_known


def business_of(site: Site) -> BusinessOut:
    """A site's business; one that says nothing until somebody sets it."""
    row = SiteBusiness.objects.filter(site=site).select_related("site").first()
    if row is None:
        return BusinessOut(number=0, business=Business.model_validate({}))
    found = {name: getattr(row, name) for name in Business.model_fields if name != "time_zone"}
    return BusinessOut(number=row.number, business=Business.model_validate({**found, "time_zone": row.site.time_zone}))


@transaction.atomic
def save_business(*, actor: User, number: int, business: Business) -> BusinessOut:
    """Replace the business of the actor's site, if nobody changed it since ``number``.

    Days come in their order, each once. Raises BadDocument where two places share a name and for a time zone that is none, Conflict where
    somebody was first.
    """
    policies.require(actor, "edit_kitchen")
    site = actor.site
    assert site is not None  # the policy refuses people without one
    places = [place.strip() for place in business.places]
    if "" in places:
        raise BadDocument("business.places", "A place has no name.", "Name it, or remove it.")
    twice = next((place for place in places if [each.casefold() for each in places].count(place.casefold()) > 1), None)
    if twice is not None:
        raise BadDocument("business.places", f"The place “{twice}” is there twice.", "Give each its own name.")
    if business.time_zone and not is_known(business.time_zone):
        raise BadDocument("business.time_zone", f"No time zone is called “{business.time_zone}”.", "Choose one of the list, as Europe/Dublin.")
    # Locked, so that two saves at once cannot both see the old number.
    locked = Site.objects.select_for_update().get(pk=site.pk)
    now = business_of(site)
    if now.number != number:
        raise Conflict(
            "business", "Somebody changed the business while you were at it.", "Look at theirs, then save yours again.",
            theirs=now.model_dump(mode="json"),
        )  # fmt: skip
    values = {**business.model_dump(exclude={"time_zone"}), "places": places, "opening_days": sorted(set(business.opening_days))}
    SiteBusiness.objects.update_or_create(site=site, defaults={**values, "number": number + 1})
    if locked.time_zone != business.time_zone:
        site.time_zone = locked.time_zone = business.time_zone
        locked.save(update_fields=["time_zone"])
        timezone.activate(zone_of(locked))
        site_time_changed.send(Site, site=locked)
    return business_of(site)
