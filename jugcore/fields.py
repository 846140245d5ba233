"""Shared field types of the document, with their units and bounds."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

ID_PATTERN = r"^[A-Za-z0-9_-]{1,64}$"
Id = Annotated[str, Field(pattern=ID_PATTERN, description="Stable name; carries no meaning.")]
VesselId = Annotated[str, Field(pattern=r"^(cake:)?[A-Za-z0-9_-]{1,64}$", description="A vessel; cake:<stage> is what a stage kept back.")]
#: The one character no database and no label can hold.
NO_NUL = r"^[^\x00]*$"
Title = Annotated[str, Field(max_length=200, pattern=NO_NUL)]
Text = Annotated[str, Field(max_length=4000, pattern=NO_NUL)]

#: No formula of a shop has more; what it costs to work one out grows with the square of its lines.
MOST_LINES, MOST_STAGES = 120, 60
#: Ingredients of something made here, through everything made here in it.
MOST_CONTENTS = 500


class Part(BaseModel):
    """A piece of the document: frozen, and nothing it does not know is let through."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


def number(default: Any, *, unit: str, description: str, ge: float | None = None, gt: float | None = None, le: float | None = None) -> Any:
    """A numeric parameter with its unit in the published schema."""
    return Field(default, ge=ge, gt=gt, le=le, description=f"{description} [{unit}]", json_schema_extra={"unit": unit})
