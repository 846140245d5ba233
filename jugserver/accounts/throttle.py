"""How many wrong passwords are let through: for a name at an address, for an address, for a name."""

from __future__ import annotations

from datetime import timedelta

from axes.handlers.proxy import AxesProxyHandler
from axes.helpers import get_client_ip_address
from axes.models import AccessAttempt, AccessLog
from django.conf import settings
from django.db.models import Q, Sum
from django.http import HttpRequest
from django.utils import timezone

from jugserver.http.problems import Locked

#: Wrong passwords within the cool-off, over all names from one address.
MOST_FROM_AN_ADDRESS = 30
#: The same for one name, over all addresses.
MOST_FOR_A_NAME = 30
#: A person who signed in from an address within this time is known there.
KNOWN_FOR = timedelta(days=60)


def require_may_try(request: HttpRequest, username: str) -> None:
    """Raise Locked where too many wrong passwords were given lately.

    A name at an address has few tries. Many names from one address, or one name from
    many addresses, are stopped too, but never a person at an address where that person
    has signed in before: guessing from elsewhere, or by somebody else at the shared
    tablet, must not lock the kitchen out.
    """
    if not AxesProxyHandler.is_allowed(request, {"username": username}):
        raise Locked("username", "Too many wrong passwords for this name from here.", "Wait ten minutes, or ask a lead.")
    address = get_client_ip_address(request)
    now = timezone.now()
    if AccessLog.objects.filter(username=username, ip_address=address, attempt_time__gte=now - KNOWN_FOR).exists():
        return
    lately = AccessAttempt.objects.filter(Q(ip_address=address) | Q(username=username), attempt_time__gte=now - settings.AXES_COOLOFF_TIME)
    failures = lately.aggregate(
        address=Sum("failures_since_start", filter=Q(ip_address=address)), name=Sum("failures_since_start", filter=Q(username=username))
    )
    if (failures["address"] or 0) >= MOST_FROM_AN_ADDRESS:
        raise Locked("username", "Too many wrong passwords from this address.", "Wait ten minutes and try again.")
    if (failures["name"] or 0) >= MOST_FOR_A_NAME:
        raise Locked("username", "Too many wrong passwords for this name.", "Wait ten minutes, or sign in where you have before.")
