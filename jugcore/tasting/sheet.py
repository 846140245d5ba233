"""A benchmark as plain data: a label, a pack, and what was tasted, as people write it down."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from jugcore.fields import Part, Text, Title, number
from jugcore.method.label_document import LabelDoc
from jugcore.tasting.attributes import attribute_of


class Tasted(Part):
    """One thing tasted: against ours (−2 clearly less … 2 clearly more), or as much as in a cup of water, or in words."""

    attribute: Annotated[str, Field(max_length=80)]
    than_ours: int | None = Field(None, ge=-2, le=2, description="−2 clearly less, −1 a little less, 0 the same, 1 a little more, 2 clearly more.")
    cup: float | None = number(None, unit="g/100 g", ge=0, le=80, description="As much as a cup of water with this many grams in 100 g")
    words: Text = ""

    @model_validator(mode="after")
    def _known(self) -> Self:
        found = attribute_of(self.attribute)
        if found is None:
            raise ValueError(f"“{self.attribute[:40]}” is nothing on the tasting sheet.\nUse one of those listed, or spice: and a line of ours.")
        if self.cup is not None and not found.cup:
            raise ValueError(f"{found.title} has no cup to be likened to.\nSay how it is against ours, or use words.")
        return self

    @property
    def says_something(self) -> bool:
        return self.than_ours is not None or self.cup is not None or bool(self.words.strip())


class Sheet(Part):
    """What one person tasted."""

    by: Title = ""
    on: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = Field("", description="The day, as 2026-11-26.")
    in_parts: float = number(1.0, unit="g/g", ge=1, le=100, description="Grams tasted a gram of it: 1 neat, 8 in a drink")
    score: float | None = Field(None, ge=0, le=10, description="How much it was liked: 0 not at all, 10 very much.")
    tasted: tuple[Tasted, ...] = Field((), max_length=60)


class Pack(Part):
    """What it is bought in: how much, for how much."""

    size: float = Field(gt=0, le=1_000_000)
    unit: Literal["g", "ml"] = "ml"
    price: float | None = Field(None, ge=0, le=1_000_000, description="In the site's currency.")


class OfOurs(Part):
    """A version of a formula of ours."""

    formula: Annotated[str, Field(pattern=r"^[0-9a-fA-F-]{36}$")]
    version: int = Field(ge=1, le=2_147_483_647)


class BenchmarkDoc(Part):
    """Something known to aim for: what its label states, what was tasted, or which version of ours it is."""

    name: Title
    what: Literal["bought", "another bar", "ours"] = "bought"
    family: Title = Field("", description="Which family it would be, as formulas name theirs.")
    label: LabelDoc | None = None
    pack: Pack | None = None
    ingredients: Text = Field("", description="In the order of the label.")
    version: OfOurs | None = Field(None, description="What it is, if it is a version of ours.")
    beside: OfOurs | None = Field(None, description="What it was tasted beside: “sweeter than ours” means than this.")
    sheets: tuple[Sheet, ...] = Field((), max_length=20)
    note: Text = ""
