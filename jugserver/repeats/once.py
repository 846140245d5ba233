"""What makes something is done once, however often it is sent: a request that bears the key of one before gets its answer."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import timedelta

from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from jugserver.accounts.models import User
from jugserver.http.problems import one_problem, problem_response
from jugserver.repeats.models import Answered

HEADER, MOST_LONG = "Idempotency-Key", 100
#: What was answered so long ago is forgotten.
KEPT = timedelta(days=1)


class DoneOnce:
    """Middleware: a POST with a key is done and its answer kept in one transaction; with the same key again that answer is given.

    What was refused is not kept: it made nothing, and may be right the next time. Two at once wait for each other.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        key = request.headers.get(HEADER)
        if key is None or request.method != "POST" or not isinstance(request.user, User):
            return self.get_response(request)
        if not 1 <= len(key) <= MOST_LONG or not key.isascii() or not key.isprintable():
            return problem_response(422, one_problem("out_of_range", f"{HEADER} is 1 to {MOST_LONG} plain characters.", "Send another.", HEADER))
        what = hashlib.sha256(b"\0".join((request.get_full_path().encode(), request.body))).hexdigest()
        try:
            return self._done(request, request.user, key, what)
        except IntegrityError:
            return _as_before(request.user, key, what)

    def _done(self, request: HttpRequest, user: User, key: str, what: str) -> HttpResponse:
        with transaction.atomic():
            Answered.objects.filter(user=user, at__lt=timezone.now() - KEPT).delete()
            # Whoever sends the same meanwhile waits here until this is kept.
            row = Answered.objects.create(user=user, key=key, what=what)
            response = self.get_response(request)
            if response.streaming or response.status_code >= 400:
                transaction.set_rollback(True)
            else:
                row.status, row.body, row.type = response.status_code, response.content, response["Content-Type"]
                row.save(update_fields=["status", "body", "type"])
            return response


def _as_before(user: User, key: str, what: str) -> HttpResponse:
    row = Answered.objects.filter(user=user, key=key).first()
    if row is None or row.what != what:
        words = "That key was sent with something else before." if row is not None else "The request before it was just refused."
        return problem_response(409, one_problem("conflict", words, "Send it with another key.", HEADER))
    response = HttpResponse(bytes(row.body), status=row.status, content_type=row.type)
    response["Idempotent-Replay"] = "true"
    return response
