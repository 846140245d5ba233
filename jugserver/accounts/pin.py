"""PINs: a quick change of hands at a tablet where somebody is signed in already.

A PIN is short, so it opens nothing by itself: it only passes a running session on to
another cook of the same site, and not what needs a password. Wrong PINs lock that PIN for a
while, never the person, never the tablet, never anybody else.
"""

from __future__ import annotations

import re
from datetime import timedelta

from django.contrib.auth import authenticate
from django.contrib.auth.hashers import check_password, make_password
from django.db import transaction
from django.http import Http404, HttpRequest
from django.utils import timezone

from jugcore.errors import BadDocument, DomainError
from jugserver.accounts import policies
from jugserver.accounts.models import Role, Site, User
from jugserver.accounts.schemas import PersonAtTablet, SessionOut
from jugserver.accounts.services import begin, session_of
from jugserver.accounts.throttle import require_may_try
from jugserver.http.problems import Locked

MOST_WRONG = 5
LOCKED_FOR = timedelta(minutes=10)
_STEPS = "01234567890 09876543210"


class WrongPin(DomainError):
    """The PIN is not this person's."""

    code = "wrong_pin"


def people_at_tablet(site: Site) -> list[PersonAtTablet]:
    """Who may take over at a tablet of this site: cooks and leads, and whether they have a PIN."""
    cooks = User.objects.filter(site=site, is_active=True, role__in=[Role.LEAD, Role.PREP]).order_by("display_name")
    return [PersonAtTablet(username=user.username, name=str(user), has_pin=bool(user.pin)) for user in cooks]


def clear_pin(*, actor: User, username: str) -> None:
    """Take somebody's PIN away: a tablet is passed on to them by it no more. They can set another with their password.

    Raises Http404 for nobody of this site.
    """
    policies.require(actor, "look_after_people")
    _change(actor, username, pin="", pin_failures=0, pin_locked_until=None)


def unlock_pin(*, actor: User, username: str) -> None:
    """Let a PIN that was locked by wrong tries be tried again at once. Raises Http404 for nobody of this site."""
    policies.require(actor, "look_after_people")
    _change(actor, username, pin_failures=0, pin_locked_until=None)


def _change(actor: User, username: str, **fields: object) -> None:
    if not User.objects.filter(site=actor.site, username__iexact=username).update(**fields):
        raise Http404


def set_pin(request: HttpRequest, *, actor: User, password: str, pin: str) -> None:
    """Give oneself a PIN; the password says that it is oneself.

    Wrong passwords count as they do where one signs in. Raises Locked after too many, BadDocument for a PIN that is none
    or is too easy to guess.
    """
    require_may_try(request, actor.username)
    if authenticate(request, username=actor.username, password=password) != actor:
        require_may_try(request, actor.username)
        raise WrongPin("password", "That is not your password.", "Type the password you sign in with.")
    User.objects.filter(pk=actor.pk).update(pin=hashed(pin), pin_failures=0, pin_locked_until=None)


def hashed(pin: str) -> str:
    """A PIN as it is kept. Raises BadDocument for one that is not a PIN or is too easy to guess."""
    if not re.fullmatch(r"[0-9]{4,8}", pin):
        raise BadDocument("pin", "A PIN has four to eight digits.", "Use digits only.")
    if len(set(pin)) == 1 or pin in _STEPS:
        raise BadDocument("pin", "That PIN is too easy to guess.", "Use digits that are not in a row and do not repeat.")
    return make_password(pin)


def switch(request: HttpRequest, *, actor: User, username: str, pin: str) -> SessionOut:
    """Pass the session on to another cook of the site.

    Raises WrongPin for a PIN that is not theirs or a person who has none here, Locked after
    too many. The session of the person at the tablet goes on either way.
    """
    with transaction.atomic():
        # Locked, so that many tries at once are counted one by one.
        cooks = User.objects.select_for_update(of=("self",)).filter(site=actor.site, is_active=True, role__in=[Role.LEAD, Role.PREP])
        other = cooks.filter(username__iexact=username).first()
        now = timezone.now()
        if other is not None and other.pin_locked_until is not None and other.pin_locked_until > now:
            raise Locked("pin", "Too many wrong PINs for this name.", "Sign in with the password, or wait ten minutes. The tablet goes on as it is.")
        right = other is not None and bool(other.pin) and check_password(pin, other.pin)
        if other is not None:
            wrong = 0 if right else other.pin_failures + 1
            locked = now + LOCKED_FOR if wrong >= MOST_WRONG else None
            User.objects.filter(pk=other.pk).update(pin_failures=0 if locked else wrong, pin_locked_until=locked)
    if other is None or not right:
        raise WrongPin("pin", "That PIN is wrong.", "Try again, or sign in with the password.")
    begin(request, other, by_pin=True)
    return session_of(request)
