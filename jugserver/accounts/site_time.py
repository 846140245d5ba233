"""The time of a site: its days begin at its own midnight, wherever the machine that serves it stands."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import tzinfo
from zoneinfo import ZoneInfo

from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from jugserver.accounts.models import Site
from jugserver.process.time_zone import is_known


def zone_of(site: Site) -> tzinfo:
    """The time zone of a site; the machine's where nobody said, or where this machine knows its name no more."""
    if is_known(site.time_zone):
        return ZoneInfo(site.time_zone)
    return timezone.get_default_timezone()


@contextmanager
def in_time_of(site: Site) -> Iterator[None]:
    """Days and hours in here are those of a site."""
    with timezone.override(zone_of(site)):
        yield


class TimeOfSite:
    """Middleware: what a request set as its site's time holds until it is answered and no longer."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            return self._get_response(request)
        finally:
            timezone.deactivate()
