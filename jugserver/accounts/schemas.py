"""Shapes of the session."""

from __future__ import annotations

from typing import Literal

from ninja import Schema
from pydantic import Field

from jugcore.method.fields import NO_NUL


class PersonOut(Schema):
    """Who is signed in."""

    name: str
    username: str
    role: Literal["lead", "prep", "view"]
    site: str
    may: list[str] = Field(description="Deeds this role may do.")


class DemoSignIn(Schema):
    """A sign-in of the demo, shown in demo mode only."""

    username: str
    password: str
    name: str
    role: str


class SessionOut(Schema):
    """The session: a person, or nobody."""

    person: PersonOut | None
    demo_sign_ins: list[DemoSignIn]


class SignIn(Schema):
    username: str = Field(min_length=1, max_length=150, pattern=NO_NUL)
    password: str = Field(min_length=1, max_length=200, pattern=NO_NUL)
