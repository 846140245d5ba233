"""Where a container stands, read off its movements and written beside it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime

from django.utils import timezone
from pydantic import TypeAdapter

from jugcore.stock import movements as m
from jugcore.stock.standing import Container as Known
from jugcore.stock.standing import Standing, standing
from jugserver.stock.models import Container, Movement

WHAT: TypeAdapter[m.What] = TypeAdapter(m.What)


def stand(container: Container, rows: Sequence[Movement]) -> Container:
    """Write into a container where it stands by all its movements; it is not saved."""
    entries = [m.Movement(id=row.id, at=row.at, what=WHAT.validate_python(row.what)) for row in rows]
    found = standing(Known(container.last_day, container.last_day_why, container.opened_days), entries, day_of)
    _write(container, found)
    return container


def day_of(at: datetime) -> date:
    """The day of a time where the site is."""
    return timezone.localtime(at).date()


#: The columns that say where a container stands.
COLUMNS = (
    "place", "mass_g", "opened_at", "frozen", "gone", "gone_at", "poured_g", "served_g", "good_until", "why", "left_days", "too_late", "last_seq",
)  # fmt: skip


def _write(container: Container, found: Standing) -> None:
    container.place_id = None if found.place is None else int(found.place)
    container.opened_at, container.gone_at, container.good_until = found.opened_at, found.gone_at, found.good_until
    container.mass_g, container.poured_g, container.served_g = found.mass_g, found.poured_g, found.served_g
    container.frozen, container.gone, container.too_late = found.frozen, found.gone, found.too_late
    container.why, container.left_days = found.why[:500], found.left_days
