"""The person behind a request, typed."""

from __future__ import annotations

from django.http import HttpRequest

from jugserver.accounts.models import Site, User
from jugserver.config.problems import NotAllowed


def signed_in(request: HttpRequest) -> tuple[User, Site]:
    """The signed-in person and their site. Raises NotAllowed for a person without one."""
    user = request.user
    if not isinstance(user, User) or user.site is None:
        raise NotAllowed("", "This account belongs to no site.", "Ask a lead to add it to one.")
    user.by_pin = bool(request.session.get("by_pin"))
    return user, user.site
