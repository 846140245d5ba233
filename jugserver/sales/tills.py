"""Asking a till over HTTP what it sold. It is asked only at hosts that whoever installed the app allows, follows no redirect, and takes little."""

from __future__ import annotations

import base64
from datetime import date, timedelta
from http.client import HTTPException
from urllib.error import HTTPError, URLError
from urllib.parse import urlencode, urlsplit
from urllib.request import HTTPRedirectHandler, ProxyHandler, Request, build_opener

from django.conf import settings
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugcore.planning.sales.table import MOST_BYTES
from jugserver.accounts import policies
from jugserver.accounts.models import User
from jugserver.process.connections import give_back
from jugserver.sales.models import Till
from jugserver.sales.schemas import FetchedOut

_WAIT_S = 15.0
#: From a till that was never asked so many days are taken; from one that was, those since and a few before, in case they were not over.
_FIRST_DAYS, _AGAIN_DAYS = 63, 3


class _NoRedirect(HTTPRedirectHandler):
    """Where it points to may be anywhere."""

    def redirect_request(self, *_: object, **__: object) -> None:
        return None


def fetch(*, actor: User, id: int) -> FetchedOut:
    """What a till says it sold, up to yesterday, as a CSV to be looked at.

    It is asked for ``{address}?from=2031-05-01&to=2031-05-31`` and answers with a table. Raises Http404, and BadDocument where it may not
    be asked, does not answer, or answers with too much.
    """
    policies.require(actor, "plan")
    till = Till.objects.filter(site=actor.site, pk=id, archived_at__isnull=True).first()
    if till is None:
        raise Http404
    until = timezone.localdate() - timedelta(days=1)
    since = until - timedelta(days=_FIRST_DAYS - 1) if till.fetched_at is None else _day(till) - timedelta(days=_AGAIN_DAYS)
    name, address = till.name, till.address
    give_back()  # nothing of the database is held while another machine thinks
    data = _asked(
        f"{address}{'&' if urlsplit(address).query else '?'}{urlencode({'from': min(since, until).isoformat(), 'to': until.isoformat()})}", name
    )
    return FetchedOut(name=name, base64=base64.b64encode(data).decode())


def _day(till: Till) -> date:
    assert till.fetched_at is not None
    return timezone.localdate(till.fetched_at)


def _asked(address: str, name: str) -> bytes:
    parts = urlsplit(address)
    allowed = {host.strip().casefold() for host in settings.TILL_HOSTS} - {""}
    if (parts.hostname or "").casefold() not in allowed:
        raise BadDocument(
            "address", f"This app may not ask {parts.hostname or 'that address'}.", "Whoever installed it allows hosts with OAKENJUG_TILL_HOSTS."
        )
    try:
        opener = build_opener(ProxyHandler({}), _NoRedirect())
        with opener.open(Request(address, headers={"Accept": "text/csv"}), timeout=_WAIT_S) as answer:
            data: bytes = answer.read(MOST_BYTES + 1)
    except HTTPError as error:
        raise BadDocument("address", f"{name} answered with {error.code}.", "Look at its address, or at the till.") from None
    except (URLError, HTTPException, OSError, ValueError):
        raise BadDocument("address", f"{name} does not answer.", "See whether it is on and its address is right, then fetch again.") from None
    if len(data) > MOST_BYTES:
        raise BadDocument("address", f"{name} sent more than {MOST_BYTES / 1e6:.1f} MB.", "Export a month from it and import the file.")
    return data
