"""Shapes of the session."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import Field

from jugcore.fields import NO_NUL


class PersonOut(Schema):
    """Who is signed in."""

    name: str
    username: str
    role: Literal["lead", "prep", "view", "bar"]
    site: str
    by_pin: bool = Field(False, description="Whether the tablet was passed on by a PIN: what needs a password is not open then.")
    resting: bool = Field(False, description="Whether nobody did anything here for a while: what changes something asks for a PIN first.")
    may: list[str] = Field(description="Deeds this role may do.")
    mark: str = Field("", description="What entries made in this session bear, so that they stay this person's whoever sends them.")


class PersonAtTablet(Schema):
    """Somebody who may take over at a tablet."""

    username: str
    name: str
    has_pin: bool


class PersonHere(Schema):
    """Somebody who signs in at this site, as a lead sees them. A PIN itself can be seen by nobody."""

    username: str
    name: str
    role: Literal["lead", "prep", "view", "bar"]
    is_active: bool
    has_pin: bool
    pin_locked_until: datetime | None = Field(None, description="Too many wrong PINs: until then this PIN does not pass a tablet on.")


class SignedIn(Schema):
    """A session: whose, from where, and when somebody last did something in it."""

    id: str
    username: str
    name: str
    by_pin: bool
    began_at: datetime | None
    seen_at: datetime | None
    address: str | None
    browser: str
    this_one: bool = Field(description="Whether it is the one that asks.")


class PeopleOut(Schema):
    """A page of people, who signs in first, then by name."""

    items: list[PersonHere]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class SessionsOut(Schema):
    """A page of sessions, the newest first."""

    items: list[SignedIn]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class PinSet(Schema):
    """A new PIN of one's own."""

    password: str = Field(min_length=1, max_length=200, pattern=NO_NUL)
    pin: str = Field(min_length=1, max_length=20, pattern=NO_NUL)


class PinSwitch(Schema):
    """Who takes over."""

    username: str = Field(min_length=1, max_length=150, pattern=NO_NUL)
    pin: str = Field(min_length=1, max_length=20, pattern=NO_NUL)


class DemoSignIn(Schema):
    """A sign-in of the demo, shown in demo mode only."""

    username: str
    password: str
    pin: str = Field(description="For passing a tablet on; empty where there is none.")
    name: str
    role: str


class SessionOut(Schema):
    """The session: a person, or nobody."""

    person: PersonOut | None
    demo_sign_ins: list[DemoSignIn]


class SignIn(Schema):
    username: str = Field(min_length=1, max_length=150, pattern=NO_NUL)
    password: str = Field(min_length=1, max_length=200, pattern=NO_NUL)
