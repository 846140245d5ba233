"""Whose an entry is: a mark that a session gives its person, and that what is entered then bears.

A tablet passes from hand to hand, and what one entered without a network is sent by the next. The mark says who
it was, signed by the server; without one, whoever sends an entry entered it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta
from typing import Any, Self

from django.core import signing

from jugserver.accounts import policies
from jugserver.accounts.models import User

_SALT = "oakenjug.entered-by"
#: What waited longer on a tablet is its sender's.
_HOLDS = timedelta(days=30)


@dataclass(frozen=True)
class Author:
    """Who entered something, and whether they may say what is served: a lead, by password."""

    username: str
    lead: bool

    @classmethod
    def of(cls, user: User) -> Self:
        """The person of a session."""
        return cls(user.username, policies.may(user, "mark_ready"))


def mark_of(user: User) -> str:
    """The mark of this person's session."""
    return signing.dumps([user.pk, user.by_pin], salt=_SALT)


def authors_of(actor: User, marks: Mapping[Any, str]) -> dict[Any, Author]:
    """Who bears each mark, as far as it is one of a person who may cook at the actor's site."""
    read = {key: bearer for key, mark in marks.items() if (bearer := _read(mark)) is not None}
    users = {user.pk: user for user in User.objects.filter(site=actor.site_id, pk__in={pk for pk, _ in read.values() if pk != actor.pk})}
    found: dict[Any, Author] = {}
    for key, (pk, by_pin) in read.items():
        user = users.get(pk)
        if user is not None:
            user.by_pin = by_pin
            if policies.may(user, "cook"):
                found[key] = Author.of(user)
    return found


def _read(mark: str) -> tuple[int, bool] | None:
    try:
        pk, by_pin = signing.loads(mark, salt=_SALT, max_age=_HOLDS)
    except (signing.BadSignature, ValueError, TypeError):
        return None  # no mark: it is the sender's
    return pk, by_pin
