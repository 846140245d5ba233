"""Who signs in at a site, who no longer does, and where they are signed in."""

from __future__ import annotations

import hashlib
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Q, QuerySet
from django.db.models.functions import Coalesce
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugserver.accounts import policies
from jugserver.accounts.models import Session, User
from jugserver.accounts.schemas import PeopleOut, PersonHere, SessionsOut, SignedIn
from jugserver.http.paging import cursor_at, cursor_of

#: On a page.
PAGE = 50


def people_here(*, actor: User, cursor: str = "") -> PeopleOut:
    """A page of who signs in at the actor's site, and how their PINs stand."""
    policies.require(actor, "look_after_people")
    now = timezone.now()
    found = User.objects.filter(site=actor.site)
    after = cursor_at(cursor, tuple[bool, str, str])
    if after is not None:
        active, name, username = after
        behind = Q(is_active=active) & (Q(display_name__gt=name) | Q(display_name=name, username__gt=username))
        found = found.filter(behind | Q(is_active=False) if active else behind)
    users = list(found.order_by("-is_active", "display_name", "username")[: PAGE + 1])
    items = [
        PersonHere.model_validate({
            "username": user.username, "name": str(user), "role": user.role, "is_active": user.is_active, "has_pin": bool(user.pin),
            "pin_locked_until": user.pin_locked_until if user.pin_locked_until is not None and user.pin_locked_until > now else None,
        })
        for user in users[:PAGE]
    ]  # fmt: skip
    last = users[PAGE - 1] if len(users) > PAGE else None
    return PeopleOut(items=items, next=None if last is None else cursor_of(last.is_active, last.display_name, last.username))


@transaction.atomic
def deactivate(*, actor: User, username: str) -> None:
    """Somebody signs in here no more, and every session of theirs ends. What they entered stays theirs.

    Raises BadDocument for oneself, so that a lead is always left; Http404 for nobody of this site.
    """
    policies.require(actor, "look_after_people")
    person = _person(actor, username)
    if person.pk == actor.pk:
        raise BadDocument("username", "That is you.", "Have another lead do it.")
    deactivated(person)


def deactivated(person: User) -> None:
    """Take somebody's sign-in and sessions away."""
    User.objects.filter(pk=person.pk).update(is_active=False)
    Session.objects.filter(user=person).delete()


@transaction.atomic
def reactivate(*, actor: User, username: str) -> None:
    """Let somebody sign in again, with the password they had. Raises Http404 for nobody of this site."""
    policies.require(actor, "look_after_people")
    User.objects.filter(pk=_person(actor, username).pk).update(is_active=True)


def _person(actor: User, username: str) -> User:
    found = User.objects.select_for_update().filter(site=actor.site, username__iexact=username).first()
    if found is None:
        raise Http404
    return found


def signed_in_here(*, actor: User, session_key: str | None, cursor: str = "") -> SessionsOut:
    """A page of sessions that hold: of all of the site for who looks after people, else one's own. The newest first."""
    found = _seen_by(actor).annotate(since=Coalesce("began_at", "expire_date"))
    after = cursor_at(cursor, tuple[datetime])
    if after is not None:
        found = found.filter(since__lt=after[0])
    rows = list(found.order_by("-since")[: PAGE + 1])
    items = [
        SignedIn.model_validate({
            "id": _id(row), "username": row.user.username, "name": str(row.user), "by_pin": row.by_pin, "began_at": row.began_at,
            "seen_at": row.seen_at, "address": row.address, "browser": row.browser, "this_one": row.session_key == session_key,
        })
        for row in rows[:PAGE]
    ]  # fmt: skip
    return SessionsOut(items=items, next=cursor_of(rows[PAGE - 1].since.isoformat()) if len(rows) > PAGE else None)


def end_session(*, actor: User, id: str) -> None:
    """End a session; whoever is at it signs in anew. Raises Http404 for none of those the actor sees."""
    for row in _seen_by(actor):
        if _id(row) == id:
            row.delete()
            return
    raise Http404


def _seen_by(actor: User) -> QuerySet[Any]:
    policies.require(actor, "read")
    rows: QuerySet[Any] = Session.objects.filter(expire_date__gt=timezone.now(), user__site=actor.site).select_related("user")
    return rows if policies.may(actor, "look_after_people") else rows.filter(user=actor)


def _id(row: Session) -> str:
    """What a session is called by outside: its key opens it, and is told to nobody."""
    return hashlib.sha256(row.session_key.encode()).hexdigest()[:24]
