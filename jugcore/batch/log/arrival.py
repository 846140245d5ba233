"""How an entry came to be kept: who sent it, when it arrived, and which time it is read with.

A tablet stamps its entries with the server's clock as it learnt it. With every sending it says what that clock
shows, so that a clock that was wrong is told from a time that cannot be.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated

from pydantic import AwareDatetime, Field

from jugcore.fields import NO_NUL, Part

#: A tablet's clock that is off by less is right, and an entry that arrives so much before its time was sent at once.
NEAR = timedelta(seconds=60)
#: An entry that arrives later than this after its time waited on its tablet.
WAITED = timedelta(minutes=2)


class Arrival(Part):
    """How the server kept an entry."""

    received_at: AwareDatetime
    sent_by: Annotated[str, Field(max_length=150, pattern=NO_NUL)] = Field("", description="Whose session sent it.")
    said_by: Annotated[str, Field(max_length=150, pattern=NO_NUL)] = Field("", description="Whom it named instead of who entered it.")
    said_at: AwareDatetime | None = Field(None, description="The tablet's own time, where it is read with another.")
    cannot_be: bool = Field(False, description="Whether that time is further off than the tablet's clock explains.")
    by_lead: bool = Field(False, description="Whether who entered it may say what is served.")


def read_at(at: datetime, *, received: datetime, started: datetime, clock: datetime | None = None) -> tuple[datetime, bool]:
    """The time an entry is read with, and whether its own cannot be.

    ``clock`` is what the tablet's clock showed as it sent the entry, at ``received``: what that is off, the entry's time is off too.
    No entry was made after it arrived or before its batch was started; one that says so is read with the nearest time that can be.
    """
    off = received - clock if clock is not None else timedelta(0)
    meant = _moved(at, off) if abs(off) > NEAR else at
    if meant > received + NEAR:
        return received, True
    if meant < started - NEAR:
        return started, True
    return meant, False


def waited(arrival: Arrival, at: datetime) -> bool:
    """Whether an entry waited on its tablet before it arrived."""
    return arrival.received_at - at > WAITED


def _moved(at: datetime, by: timedelta) -> datetime:
    try:
        return at + by
    except OverflowError:
        return at
