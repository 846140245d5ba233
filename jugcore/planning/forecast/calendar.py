"""The days of a place: what goes on, and when it is closed."""

from __future__ import annotations

from jugcore.planning.forecast.request import ForecastAsk, PlaceDoc
from jugcore.planning.forecast.series import Day


def days_of(ask: ForecastAsk, place: PlaceDoc) -> tuple[Day, ...]:
    """Every day of a forecast at a place. Of several events of a day the one that begins last is meant; one of the place goes before one of all."""
    events = sorted((each for each in ask.events if each.place in (None, place.id)), key=lambda each: (each.place is not None, each.first))
    shut = [each for each in ask.closed if each.place in (None, place.id)]
    found = []
    for on in ask.days():
        event = next((each.name for each in reversed(events) if each.first <= on <= each.last), "")
        closed = on.weekday() not in place.open_on or any(each.first <= on <= each.last for each in shut)
        found.append(Day(on, event, closed))
    return tuple(found)


def stated(ask: ForecastAsk) -> dict[str, float]:
    """What somebody says that events do to sales, by name; the newest that says so."""
    return {each.name: each.times for each in sorted(ask.events, key=lambda each: each.first) if each.times is not None}
