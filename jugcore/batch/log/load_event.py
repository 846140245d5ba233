"""The door for entries of a batch's log, whatever release kept them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from jugcore.batch.log.events import Event
from jugcore.errors import together
from jugcore.formats import Format
from jugcore.method.schema_messages import explain

#: No entry of the first format says so: what says no format is of the first.
EVENT = Format("oakenjug.event")


def load_event(raw: Mapping[str, Any]) -> Event:
    """An entry from plain data: brought to the newest format and checked against its shape.

    Raises SeveralProblems (or the single DomainError) listing everything wrong, each with its field.
    """
    current = EVENT.current(raw)
    try:
        return Event.model_validate({name: value for name, value in current.items() if name != "format"})
    except ValidationError as error:
        raise together([explain(each, current) for each in error.errors(include_url=False)]) from None
