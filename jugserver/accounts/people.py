"""Who signs in at a site, who no longer does, and where they are signed in."""

from __future__ import annotations

import hashlib
from typing import Any

from django.db import transaction
from django.db.models import QuerySet
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugserver.accounts import policies
from jugserver.accounts.models import Session, User
from jugserver.accounts.schemas import PersonHere, SignedIn


def people_here(*, actor: User) -> list[PersonHere]:
    """Everybody who signs in at the actor's site, and how their PINs stand."""
    policies.require(actor, "look_after_people")
    now = timezone.now()
    return [
        PersonHere.model_validate({
            "username": user.username, "name": str(user), "role": user.role, "is_active": user.is_active, "has_pin": bool(user.pin),
            "pin_locked_until": user.pin_locked_until if user.pin_locked_until is not None and user.pin_locked_until > now else None,
        })
        for user in User.objects.filter(site=actor.site).order_by("-is_active", "display_name", "username")
    ]  # fmt: skip


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


def signed_in_here(*, actor: User, session_key: str | None) -> list[SignedIn]:
    """Sessions that hold: all of the site for who looks after people, else one's own. The newest first."""
    return [
        SignedIn.model_validate({
            "id": _id(row), "username": row.user.username, "name": str(row.user), "by_pin": row.by_pin, "began_at": row.began_at,
            "seen_at": row.seen_at, "address": row.address, "browser": row.browser, "this_one": row.session_key == session_key,
        })
        for row in _seen_by(actor).order_by("-began_at")
    ]  # fmt: skip


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
