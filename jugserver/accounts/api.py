"""The session over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status
from ninja.security import APIKeyCookie

from jugserver.accounts import people, pin, policies, services
from jugserver.accounts.schemas import PeopleOut, PersonAtTablet, PinSet, PinSwitch, SessionOut, SessionsOut, SignIn
from jugserver.accounts.signed_in import signed_in
from jugserver.http.paging import Cursor
from jugserver.http.problems import Problem

router = Router()
people_router = Router()


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


@router.get("/people", response={200: list[PersonAtTablet], 401: Problem, 403: Problem}, operation_id="session_people")
def at_tablet(request: HttpRequest) -> list[PersonAtTablet]:
    """Who may take over at this tablet."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return pin.people_at_tablet(site)


@router.post("/switch", response={200: SessionOut, 401: Problem, 403: Problem, 422: Problem, 429: Problem}, operation_id="session_switch")
def switch(request: HttpRequest, payload: PinSwitch) -> SessionOut:
    """Pass the tablet on to another cook, by their PIN."""
    user, _ = signed_in(request, resting=True)
    return pin.switch(request, actor=user, username=payload.username, pin=payload.pin)


@router.put("/pin", response={204: None, 401: Problem, 403: Problem, 422: Problem, 429: Problem}, operation_id="session_set_pin")
def set_pin(request: HttpRequest, payload: PinSet) -> Status[None]:
    """Give oneself a PIN."""
    user, _ = signed_in(request)
    pin.set_pin(request, actor=user, password=payload.password, pin=payload.pin)
    return Status(204, None)


@people_router.get("", response={200: PeopleOut, 401: Problem, 403: Problem, 422: Problem}, operation_id="people_list")
def list_people(request: HttpRequest, cursor: Cursor = "") -> PeopleOut:
    """Everybody who signs in at this site, and how their PINs stand."""
    user, _ = signed_in(request)
    return people.people_here(actor=user, cursor=cursor)


@people_router.delete("/{username}/pin", response={204: None, 401: Problem, 403: Problem, 404: Problem}, operation_id="people_clear_pin")
def clear_pin(request: HttpRequest, username: str) -> Status[None]:
    """Take somebody's PIN away."""
    user, _ = signed_in(request)
    pin.clear_pin(actor=user, username=username)
    return Status(204, None)


@people_router.post("/{username}/unlock-pin", response={204: None, 401: Problem, 403: Problem, 404: Problem}, operation_id="people_unlock_pin")
def unlock_pin(request: HttpRequest, username: str) -> Status[None]:
    """Let a PIN that was locked by wrong tries be tried again."""
    user, _ = signed_in(request)
    pin.unlock_pin(actor=user, username=username)
    return Status(204, None)


@people_router.post(
    "/{username}/deactivate", response={204: None, 401: Problem, 403: Problem, 404: Problem, 422: Problem}, operation_id="people_deactivate"
)
def deactivate(request: HttpRequest, username: str) -> Status[None]:
    """Somebody signs in here no more; their sessions end."""
    user, _ = signed_in(request)
    people.deactivate(actor=user, username=username)
    return Status(204, None)


@people_router.post("/{username}/reactivate", response={204: None, 401: Problem, 403: Problem, 404: Problem}, operation_id="people_reactivate")
def reactivate(request: HttpRequest, username: str) -> Status[None]:
    """Somebody signs in here again."""
    user, _ = signed_in(request)
    people.reactivate(actor=user, username=username)
    return Status(204, None)


@router.get("/all", response={200: SessionsOut, 401: Problem, 403: Problem, 422: Problem}, operation_id="sessions_list")
def list_sessions(request: HttpRequest, cursor: Cursor = "") -> SessionsOut:
    """Where people of this site are signed in; for who does not look after people, where they are themselves."""
    user, _ = signed_in(request)
    return people.signed_in_here(actor=user, session_key=request.session.session_key, cursor=cursor)


@router.delete("/all/{session_id}", response={204: None, 401: Problem, 403: Problem, 404: Problem}, operation_id="sessions_end")
def end_session(request: HttpRequest, session_id: str) -> Status[None]:
    """End a session: whoever is at it signs in anew."""
    user, _ = signed_in(request)
    people.end_session(actor=user, id=session_id)
    return Status(204, None)


@router.post("/here", response={204: None, 401: Problem, 403: Problem}, operation_id="session_here")
def here(request: HttpRequest) -> Status[None]:
    """Somebody is at the tablet: its session does not rest yet."""
    signed_in(request)
    return Status(204, None)


@router.delete("", response=SessionOut, auth=Anyone(), operation_id="session_end")
def end(request: HttpRequest) -> SessionOut:
    """Sign out."""
    return services.sign_out(request)
