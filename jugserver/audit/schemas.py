"""What is told of changes."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema
from pydantic import Field


class Differs(Schema):
    """One figure or word that is another now."""

    name: str
    before: str
    after: str


class ChangeOut(Schema):
    """That somebody changed something: who, from where, what."""

    at: datetime
    by: str = Field(description="Who did it; the command that did, where nobody was signed in.")
    how: str = Field(description="By password, PIN or a command.")
    address: str | None
    kind: str = Field(description="What it is: formula, pot, lot …")
    what: str = Field(description="What it is called.")
    deed: Literal["added", "changed", "removed", "password set", "PIN set or cleared"]
    differs: list[Differs]
    more: int = Field(description="How many more figures differ than are told.")


class ChangesOut(Schema):
    """A page of changes, the newest first."""

    items: list[ChangeOut]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")
