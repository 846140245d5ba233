"""A pack's label as JSON, and what it comes to: a substance to keep, with its ranges and what was assumed."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from jugcore.fields import Part, Text, Title, number
from jugcore.matter.label import FIGURES, Label, read_label
from jugcore.matter.substance import KINDS


class LabelDoc(Part):
    """What a pack says, figures as they are printed."""

    title: Title = ""
    kind: Title = Field("other", description=f"One of: {', '.join(KINDS)}.")
    figures: dict[Title, Text] = Field(max_length=len(FIGURES), description=f"As printed: 5, 5.2, <0.5. Of: {', '.join(FIGURES)}.")
    per: Literal["100 g", "100 ml", "serving"] = "100 g"
    serving_g: float | None = number(None, unit="g", gt=0, le=5000, description="A serving by weight")
    serving_ml: float | None = number(None, unit="ml", gt=0, le=5000, description="A serving by volume")
    density_g_ml: float | None = number(None, unit="g/ml", gt=0.3, le=2, description="Weighed, if it was")
    with_milk: bool = False
    sugars_are: dict[Title, float] | None = Field(None, max_length=6, description="Which sugars, as shares; else those usual of its kind.")
    rules: Literal["as typed", "us"] = Field("as typed", description="us: rounded in steps, fibre counted as carbohydrate.")


class LabelRange(BaseModel):
    """Least, likeliest, most; grams in 100 g."""

    low: float
    likely: float
    high: float


class LabelReport(BaseModel):
    """What a label comes to."""

    composition_g_per_100g: dict[str, float]
    free_sugars_g_per_100g: float
    ranges: dict[str, LabelRange] = Field(description="Of each component: hard bounds under what was assumed.")
    totals: dict[str, LabelRange] = Field(description="Sugars, added sugars, fat, water.")
    density_g_ml: LabelRange
    assumptions: list[str]
    says_little: list[str] = Field(description="Where rounding leaves more than a tenth open.")


def label_of(doc: LabelDoc) -> Label:
    """A label as it is used instead."""
    return Label(
        figures=doc.figures, per=doc.per, serving_g=doc.serving_g, serving_ml=doc.serving_ml, density_g_ml=doc.density_g_ml,
        kind=doc.kind, with_milk=doc.with_milk, sugars_are=doc.sugars_are, rules=doc.rules,
    )  # fmt: skip


def label_report(doc: LabelDoc) -> LabelReport:
    """Reconcile a label, as plain data. Raises what :func:`read_label` raises."""
    found = read_label(label_of(doc))
    return LabelReport(
        composition_g_per_100g=found.composition_g_per_100g,
        free_sugars_g_per_100g=found.free_sugars_g_per_100g,
        ranges={
            name: LabelRange(low=low, likely=found.composition_g_per_100g.get(name, 0.0), high=high) for name, (low, high) in found.ranges.items()
        },
        totals={name: LabelRange(low=low, likely=middle, high=high) for name, (low, middle, high) in found.totals.items()},
        density_g_ml=LabelRange(low=found.density_g_ml[0], likely=found.density_g_ml[1], high=found.density_g_ml[2]),
        assumptions=list(found.assumptions),
        says_little=list(found.says_little),
    )
