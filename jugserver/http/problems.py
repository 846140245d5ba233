"""Every refusal is application/problem+json with field, message and remedy."""

from __future__ import annotations

import json
import logging
from collections.abc import Callable
from typing import Any

from django.core.exceptions import PermissionDenied, RequestDataTooBig
from django.db import IntegrityError, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, UnreadablePostError
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from psycopg.errors import DiskFull
from pydantic import Field

from jugcore.errors import DomainError, NotUnderstood, SeveralProblems
from jugcore.method.schema_messages import explain
from jugserver.process.disk import nearly_full

logger = logging.getLogger(__name__)


class ProblemItem(Schema):
    """One thing that is wrong, where, and what to do."""

    code: str
    field: str = Field(description="Path of the field, e.g. lines.juice.amount; empty for the whole request.")
    message: str
    remedy: str
    at: tuple[int, int] | None = Field(None, description="Where in a text the word that stopped it begins and ends.")
    choices: list[str] = Field([], description="Texts that may have been meant, each of which can be read.")


class Problem(Schema):
    """RFC 9457 problem details with a list of what is wrong."""

    type: str = "about:blank"
    title: str
    status: int
    code: str
    problems: list[ProblemItem]


class Conflict(DomainError):
    """Somebody else changed it first; ``theirs`` is what it is now."""

    code = "conflict"

    def __init__(self, field: str, message: str, remedy: str, theirs: dict[str, Any] | None = None) -> None:
        super().__init__(field, message, remedy)
        self.theirs = theirs or {}

    def __reduce__(self) -> tuple[type, tuple[Any, ...]]:
        return type(self), (self.field, self.message, self.remedy, self.theirs)


class NotAllowed(DomainError):
    """The role does not cover this."""

    code = "not_allowed"


class Locked(DomainError):
    """Too many failed sign-ins."""

    code = "locked"


_STATUS = {"conflict": 409, "not_allowed": 403, "locked": 429, "sign_in_failed": 401, "resting": 401, "busy": 503, "left": 499}
_TITLES = {
    400: "The request could not be read", 401: "Sign in first", 403: "Not allowed", 404: "Not found", 405: "Method not allowed",
    409: "Changed by somebody else", 422: "Something does not add up", 423: "Locked", 429: "Too many tries",
    413: "Too large", 499: "Nobody waits", 503: "Busy",
}  # fmt: skip


def problem_body(status: int, items: list[ProblemItem]) -> dict[str, Any]:
    """The problem as it is sent."""
    return Problem(title=_TITLES.get(status, "Problem"), status=status, code=items[0].code, problems=items).model_dump()


def problem_response(status: int, items: list[ProblemItem], **extra: Any) -> HttpResponse:
    return HttpResponse(json.dumps({**problem_body(status, items), **extra}), status=status, content_type="application/problem+json")


def _writable(text: str) -> str:
    """The text with what no encoding can write replaced: half a surrogate pair, quoted back."""
    return text.encode("utf-8", "replace").decode()


def _items(error: DomainError) -> list[ProblemItem]:
    each = error.problems if isinstance(error, SeveralProblems) else [error]
    return [
        ProblemItem(
            code=e.code, field=_writable(e.field), message=_writable(e.message), remedy=_writable(e.remedy),
            at=e.at if isinstance(e, NotUnderstood) else None, choices=list(e.choices) if isinstance(e, NotUnderstood) else [],
        )
        for e in each
    ]  # fmt: skip


def one_problem(code: str, message: str, remedy: str, field: str = "") -> list[ProblemItem]:
    return [ProblemItem(code=code, field=field, message=message, remedy=remedy, at=None, choices=[])]


def register(api: NinjaAPI) -> None:
    """Hang the handlers on an API."""

    @api.exception_handler(DomainError)
    def domain(request: HttpRequest, error: DomainError) -> HttpResponse:
        status = _STATUS.get(error.code, 422)
        extra = {"theirs": error.theirs} if isinstance(error, Conflict) else {}
        return problem_response(status, _items(error), **extra)

    @api.exception_handler(ValidationError)
    def validation(request: HttpRequest, error: ValidationError) -> HttpResponse:
        raw = _raw_body(request)
        found = []
        for each in error.errors:
            location = [part for part in each.get("loc", ()) if part not in ("body", "query", "path")]
            if location and location[0] in ("payload", "document") and (not isinstance(raw, dict) or location[0] not in raw):
                location = location[1:]
            found += _items(explain({**each, "loc": location, "input": _at(raw, location)}, raw))
        return problem_response(422, found)

    @api.exception_handler(AuthenticationError)
    def unauthenticated(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return problem_response(401, one_problem("signed_out", "Nobody is signed in.", "Sign in and try again."))

    @api.exception_handler(PermissionDenied)
    def denied(request: HttpRequest, error: PermissionDenied) -> HttpResponse:
        return problem_response(403, one_problem("not_allowed", "This is not allowed.", "Ask a lead."))

    @api.exception_handler(Http404)
    def missing(request: HttpRequest, error: Http404) -> HttpResponse:
        return problem_response(404, one_problem("not_found", "There is nothing here.", "Go back and choose again; it may be gone."))

    @api.exception_handler(HttpError)
    def http(request: HttpRequest, error: HttpError) -> HttpResponse:
        code = "csrf" if error.status_code == 403 else "bad_request"
        remedy = "Reload the page and try again." if code == "csrf" else "Check what was sent."
        return problem_response(error.status_code, one_problem(code, f"{str(error).rstrip('.')}.", remedy))

    @api.exception_handler(IntegrityError)
    def contradicts(request: HttpRequest, error: IntegrityError) -> HttpResponse:
        """What the database refuses to keep: by the name of the rule, which is one of ours."""
        rule = getattr(getattr(error.__cause__, "diag", None), "constraint_name", None) or "a rule of what is kept"
        logger.warning("Refused by %s at %s %s", rule, request.method, request.path)
        words = f"That contradicts what is kept: {rule.replace('_', ' ')}."
        return problem_response(409, one_problem("conflict", words, "Somebody may have changed it a moment before. Look again, and try once more."))

    @api.exception_handler(OperationalError)
    @api.exception_handler(InterfaceError)
    def away(request: HttpRequest, error: Exception) -> HttpResponse:
        return database_is_away(request, error)

    @api.exception_handler(Exception)
    def bug(request: HttpRequest, error: Exception) -> HttpResponse:
        logger.exception("Unhandled error at %s %s", request.method, request.path)
        return problem_response(500, one_problem("bug", "Something went wrong on our side.", "Nothing you typed is lost; try again."))


_MAKE_ROOM = "Make room on it; then it goes on by itself. What tablets entered waits on them until then."


def database_is_away(request: HttpRequest, error: Exception) -> HttpResponse:
    """The database does not answer, or cannot keep anything: what that means for whoever asked."""
    logger.warning("The database at %s %s: %s", request.method, request.path, str(error).strip().splitlines()[:1])
    if isinstance(error.__cause__, DiskFull):
        words, remedy = "The server's disk is full: nothing more can be kept there.", _MAKE_ROOM
    elif (left := nearly_full()) != "":
        # PostgreSQL itself ends where its journal no longer fits, and cannot say so.
        words, remedy = f"The database does not answer, and its disk is nearly full: {left}.", _MAKE_ROOM
    else:
        words, remedy = (
            "The database does not answer.",
            "It is started again by itself; nothing you typed is lost. If it stays away, run ./jug doctor.",
        )
    return problem_response(503, one_problem("database", words, remedy))


def _at(raw: Any, location: list[Any]) -> Any:
    """What was sent at a location; discriminator tags in it are no keys and are passed over."""
    here = raw
    for part in location:
        if (isinstance(here, list) and isinstance(part, int) and part < len(here)) or (isinstance(here, dict) and part in here):
            here = here[part]
    return here


class ProblemsOnly:
    """Middleware: what the framework refuses by itself under /api/ becomes problem+json too."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        return database_is_away(request, error) if isinstance(error, OperationalError | InterfaceError) else None

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            # Read once, whoever asks for it later; nothing here is a form or a file.
            _ = request.body if request.path.startswith("/api/") else b""
        except RequestDataTooBig:
            return problem_response(413, one_problem("too_large", "What was sent is larger than this takes.", "Send less at once."))
        except UnreadablePostError:
            return problem_response(400, one_problem("bad_request", "The request broke off.", "Send it again."))
        response = self.get_response(request)
        if response.status_code >= 400 and request.path.startswith("/api/") and response["Content-Type"].startswith("text/html"):
            words = {405: "This address does not take that method."}.get(response.status_code, "The request could not be read.")
            return problem_response(response.status_code, one_problem("bad_request", words, "Check the address and what is sent; see /api/v1/docs."))
        return response


def _raw_body(request: HttpRequest) -> Any:
    try:
        return json.loads(request.body)
    except (ValueError, UnicodeDecodeError):
        return None


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return problem_response(403, one_problem("csrf", "This page is stale.", "Reload the page and try again."))


def missing_path(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return problem_response(404, one_problem("not_found", "There is nothing at this address.", "Check it, or start from Today."))
