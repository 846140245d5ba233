"""Verbs on sessions."""

from __future__ import annotations

from typing import Any

from axes.helpers import get_client_ip_address
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.utils import timezone

from jugcore.errors import DomainError
from jugserver.accounts.demo import DEMO_PASSWORD, DEMO_PEOPLE
from jugserver.accounts.marks import mark_of
from jugserver.accounts.models import User
from jugserver.accounts.policies import MAY, may
from jugserver.accounts.resting import SEEN, rests
from jugserver.accounts.schemas import DemoSignIn, PersonOut, SessionOut
from jugserver.accounts.throttle import require_may_try

#: What a session is marked with that was passed on by a PIN.
BY_PIN = "by_pin"


class SignInFailed(DomainError):
    """The name and the password do not belong together."""

    code = "sign_in_failed"


def sign_in(request: HttpRequest, *, username: str, password: str) -> SessionOut:
    """Check a password and begin a session; repeated failures lock the name at this address."""
    # As it is kept, whatever its case here: tries are counted for the person.
    username = User.objects.filter(username__iexact=username).values_list("username", flat=True).first() or username
    require_may_try(request, username)
    user = authenticate(request, username=username, password=password)
    if user is None:
        require_may_try(request, username)  # the last try is answered with what comes next: waiting
        raise SignInFailed("password", "Wrong name or password.", "Check both and try again.")
    begin(request, user, by_pin=False)
    return session_of(request)


def begin(request: HttpRequest, user: Any, *, by_pin: bool) -> None:
    """A session of this person, by password or passed on by a PIN, and from where."""
    login(request, user, backend=None if hasattr(user, "backend") else "jugserver.accounts.backends.PersonBackend")
    request.session.pop(BY_PIN, None)  # the same session may have been passed on by a PIN before
    if by_pin:
        request.session[BY_PIN] = True
    now = timezone.now().isoformat()
    request.session.update({
        "began": now, SEEN: now, "address": get_client_ip_address(request), "browser": request.headers.get("User-Agent", "")[:300],
    })  # fmt: skip


def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    return session_of(request)


def session_of(request: HttpRequest) -> SessionOut:
    """Who is signed in, and in demo mode which sign-ins there are."""
    demo = []
    if settings.DEMO_MODE:
        demo = [DemoSignIn(username=p.username, password=DEMO_PASSWORD, pin=p.pin, name=p.name, role=p.role) for p in DEMO_PEOPLE]
    user = request.user
    if not isinstance(user, User) or not user.is_authenticated or user.site is None:
        return SessionOut(person=None, demo_sign_ins=demo)
    user.by_pin = bool(request.session.get(BY_PIN))
    person = PersonOut(
        by_pin=user.by_pin,
        resting=rests(request),
        name=str(user),
        username=user.username,
        role=user.role,  # type: ignore[arg-type]
        site=user.site.name,
        may=sorted(deed for deed in MAY if may(user, deed)),
        mark=mark_of(user),
    )
    return SessionOut(person=person, demo_sign_ins=demo)
