"""The session over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router
from ninja.security import APIKeyCookie

from jugserver.accounts import services
from jugserver.accounts.schemas import SessionOut, SignIn
from jugserver.config.problems import Problem

router = Router()


class Anyone(APIKeyCookie):
    """No sign-in needed, but the CSRF token is still checked."""

    param_name = "oakenjug_session"

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        return "anyone"


@router.get("", response=SessionOut, auth=None, operation_id="session_get")
def get_session(request: HttpRequest) -> SessionOut:
    """Who is signed in."""
    return services.session_of(request)


@router.post("", response={200: SessionOut, 401: Problem, 422: Problem, 429: Problem}, auth=Anyone(), operation_id="session_begin")
def begin(request: HttpRequest, payload: SignIn) -> SessionOut:
    """Sign in."""
    return services.sign_in(request, username=payload.username, password=payload.password)


@router.delete("", response=SessionOut, auth=Anyone(), operation_id="session_end")
def end(request: HttpRequest) -> SessionOut:
    """Sign out."""
    return services.sign_out(request)
