"""Starting methods and starting stages, read from the data beside this file."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

from pydantic import BaseModel, Field

from jugcore.method.document import MethodDocument


class StarterMethod(BaseModel):
    """A method to start a new formula from, with what it trades off."""

    id: str
    title: str
    trade_off: str
    document: MethodDocument


class StarterStage(BaseModel):
    """What a new stage of a kind starts as; ``into`` and ``new_vessel`` name a vessel to make."""

    kind: str
    title: str
    words: str
    into: str | None = None
    new_vessel: str | None = None
    document: dict[str, Any] = Field(description="Fields of the stage but its id, kind and vessels.")


class Starters(BaseModel):
    """Everything a new formula or stage may start from."""

    methods: list[StarterMethod]
    stages: list[StarterStage]


@cache
def starters() -> Starters:
    """The starters that ship with the tool."""
    file = Path(__file__).parent / "starters.json"
    return Starters.model_validate(json.loads(file.read_text(encoding="utf-8")))
