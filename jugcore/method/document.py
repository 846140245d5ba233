"""The shape of a document: a method with its kitchen and the substances it carries, as JSON."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal, Self

from pydantic import Field, model_validator

from jugcore.fields import MOST_LINES, MOST_STAGES, Id, Part, Text, Title, number
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.document_formats import METHOD
from jugcore.method.kitchen import Kitchen
from jugcore.method.stages import Stage


class VesselDoc(Part):
    """A vessel of the method; ``pot`` names one of the kitchen's pots."""

    id: Id
    name: Title | None = None
    pot: Id | None = None
    film_g: float | None = number(None, unit="g", ge=0, le=1000, description="What stays on its wall; else the kitchen's")


class RestsOn(Part):
    """What answers about keeping rest on: they fall away when it changes."""

    heat: str = Field(max_length=64, description="A mark of the stages, their heat and their lines.")
    made: str = Field(max_length=64, description="A mark of the stages that change what is in it.")
    shares: dict[Id, float] = Field({}, max_length=500, description="What went in, by substance, as a share of all.")
    brix: float | None = Field(None, ge=0, le=100, description="Dissolved solids of the product, where it is liquid [°Bx]")


class KeepingDoc(Part):
    """What somebody answered or measured about keeping; what nobody said is None."""

    heat_treated: bool | None = Field(None, description="All of it was brought to 72 °C or more, with nothing put in after.")
    packaged: bool | None = Field(None, description="Filled and closed at once, so that nothing gets in after the heat.")
    ph: float | None = Field(None, ge=0, le=14, description="As measured with a calibrated meter, at room temperature.")
    opened_days: int | None = Field(
        None, ge=1, le=365, description="What it keeps once opened, the day of opening being day one; never past its own last day."
    )
    rests_on: RestsOn | None = Field(None, description="What they were answered of; without it, the document as it stands.")


class MethodDocument(Part):
    """One formula as a method."""

    format: Literal["oakenjug.method/2"] = "oakenjug.method/2"
    name: Title = ""
    family: Title = ""
    school: Title = ""
    notes: Text = ""
    measures: Literal["metric", "us", "imperial", "australian"] | None = Field(
        None, description="Whose cups, spoons and pints its amounts are in; else the kitchen's."
    )
    vessels: tuple[VesselDoc, ...] = Field((), max_length=50)
    stages: tuple[Stage, ...] = Field(max_length=MOST_STAGES)
    finished: Id | None = Field(None, description="The vessel that ends with the product; else the last one written.")
    substances: dict[Id, SubstanceDoc] = Field({}, max_length=2 * MOST_LINES)
    kitchen: Kitchen | None = None
    keeping: KeepingDoc | None = None

    @model_validator(mode="before")
    @classmethod
    def _of_any_format(cls, raw: Any) -> Any:
        """Whatever a document stands in (an entry, a request, a file), it is brought to the newest format first."""
        return METHOD.current(raw) if isinstance(raw, Mapping) else raw

    @model_validator(mode="after")
    def _of_a_size(self) -> Self:
        lines = sum(len(stage.ingredients) for stage in self.stages)
        if lines > MOST_LINES:
            raise ValueError(
                f"This formula has {lines} ingredients; at most {MOST_LINES} are worked out together.\nMake a part of it a formula of its own."
            )
        return self
