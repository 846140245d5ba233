"""The person behind a request, typed."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone

from jugserver.accounts.models import Site, User
from jugserver.accounts.resting import require_awake
from jugserver.accounts.site_time import zone_of
from jugserver.http.problems import NotAllowed


def signed_in(request: HttpRequest, *, resting: bool = False) -> tuple[User, Site]:
    """The signed-in person and their site; from here on days and hours are those of the site.

    Raises NotAllowed for a person without one, and Resting where something is to be changed in a session that rests,
    unless ``resting`` says that this is what wakes it.
    """
    user = request.user
    if not isinstance(user, User) or user.site is None:
        raise NotAllowed("", "This account belongs to no site.", "Ask a lead to add it to one.")
    user.by_pin = bool(request.session.get("by_pin"))
    if not resting:
        require_awake(request)
    timezone.activate(zone_of(user.site))
    return user, user.site
