"""What may happen to a container: each entry says one thing, at a time, and none is ever changed."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from jugcore.fields import NO_NUL, Id, Part, number

#: No container of a coffee bar holds more. [g]
MOST_G = 100_000.0
Reason = Annotated[str, Field(min_length=1, max_length=500, pattern=NO_NUL)]


class FilledEntry(Part):
    """It was filled and stands at a place."""

    kind: Literal["filled"] = "filled"
    mass_g: float = number(..., unit="g", gt=0, le=MOST_G, description="What is in it, the container not counted")
    place: Id | None = None


class MovedEntry(Part):
    """It was brought to another place."""

    kind: Literal["moved"] = "moved"
    place: Id


class OpenedEntry(Part):
    """It was opened: from now on its opened life counts too."""

    kind: Literal["opened"] = "opened"


class WeighedEntry(Part):
    """What is left in it."""

    kind: Literal["weighed"] = "weighed"
    mass_g: float = number(..., unit="g", ge=0, le=MOST_G, description="What is in it, the container not counted")


class TakenEntry(Part):
    """So much of it went into something made here."""

    kind: Literal["taken"] = "taken"
    mass_g: float = number(..., unit="g", gt=0, le=MOST_G, description="Taken out")
    batch: UUID


class EmptiedEntry(Part):
    """All of it was served."""

    kind: Literal["emptied"] = "emptied"


class PouredAwayEntry(Part):
    """It was thrown away, all that was left of it or so much, and why."""

    kind: Literal["poured_away"] = "poured_away"
    mass_g: float | None = number(None, unit="g", gt=0, le=MOST_G, description="Thrown away; none for all that was left")
    reason: Reason


class CountedEntry(Part):
    """A count found it at a place, or found that it is not there."""

    kind: Literal["counted"] = "counted"
    there: bool = True
    place: Id | None = None


class FrozenEntry(Part):
    """It went into the freezer: its days wait."""

    kind: Literal["frozen"] = "frozen"


class ThawedEntry(Part):
    """It came out of the freezer: its days go on."""

    kind: Literal["thawed"] = "thawed"


def read_at(said: datetime, arrived: datetime) -> datetime:
    """The time an entry is read with: its own, but never one that has not come yet, whatever the clock of the phone said.

    Parameters: the time it says, and when it arrived, both aware. An entry made without a network keeps its own time, however long ago.
    """
    return min(said, arrived)


What = Annotated[
    FilledEntry | MovedEntry | OpenedEntry | WeighedEntry | TakenEntry | EmptiedEntry | PouredAwayEntry | CountedEntry | FrozenEntry | ThawedEntry,
    Field(discriminator="kind"),
]


class Movement(Part):
    """An entry about a container; its id was made where it was typed, so that sending it twice keeps it once."""

    id: UUID
    at: datetime
    what: What
