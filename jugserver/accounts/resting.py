"""A session that nobody did anything in for a while rests: what changes something waits for a PIN; reading goes on.

A tablet by the hob is left for as long as a pot boils, and its sheet must stay readable. So it is not signed out: a
PIN, of its person or of another cook, wakes it.
"""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from jugcore.errors import DomainError

#: When somebody last did something, in the session.
SEEN = "seen"
#: That is written down no oftener than this: every request of a busy tablet would be a write.
_OFTEN = timedelta(minutes=1)
_READS = frozenset({"GET", "HEAD", "OPTIONS"})


class Resting(DomainError):
    """The session rests."""

    code = "resting"


def rests(request: HttpRequest) -> bool:
    """Whether the session of a request rests."""
    seen = parse_datetime(request.session.get(SEEN) or "")
    return settings.RESTS_AFTER is not None and seen is not None and timezone.now() - seen > settings.RESTS_AFTER


def require_awake(request: HttpRequest) -> None:
    """Raise Resting where something is to be changed in a session that rests; else note that somebody is there."""
    if request.method in _READS:
        return
    if rests(request):
        raise Resting("", "Nobody was here for a while.", "Type your PIN, or sign in, to go on. What you entered is kept here until then.")
    wake(request)


def wake(request: HttpRequest) -> None:
    """Somebody is there."""
    now = timezone.now()
    seen = parse_datetime(request.session.get(SEEN) or "")
    if seen is None or now - seen > _OFTEN:
        request.session[SEEN] = now.isoformat()
