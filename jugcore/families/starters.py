"""What a new formula or a new stage may start from: families with their schools, an empty pot, and stages by kind."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

from pydantic import BaseModel, Field

from jugcore.families.family import Family, families
from jugcore.method.document import MethodDocument


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

    families: list[Family]
    blank: MethodDocument
    stages: list[StarterStage]


@cache
def starters() -> Starters:
    """The starters that ship with the tool."""
    told = json.loads((Path(__file__).parent / "starters.json").read_text(encoding="utf-8"))
    return Starters.model_validate({**told, "families": [family.model_dump() for family in families()]})
