"""The one written form of a substance: rows of the library, rows of a pantry and what a document carries are read and written here.

:func:`jugcore.matter.load_substance.load_substance` is the door: it also reads what was written before rows said what an
ingredient brings besides its composition.
"""

from __future__ import annotations

from dataclasses import asdict
from datetime import date
from typing import Annotated, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from jugcore.errors import BadDocument
from jugcore.fields import MOST_CONTENTS, Id, Part, Text, Title, number
from jugcore.figures import Floats
from jugcore.matter.matter import EXTENTS, FAT_KNOWN, OWN_SALT, TRACERS
from jugcore.matter.substance import (
    EU_ALLERGENS,
    UNKNOWN,
    CellOil,
    Content,
    Contributions,
    Enzyme,
    KnownBy,
    Made,
    Opened,
    Piece,
    Range,
    Saturates,
    Span,
    Starch,
    Substance,
    Sweetness,
    Used,
    Work,
    substance_from_composition,
    times,
)
from jugcore.matter.substance_hazards import HAZARDS


class PieceDoc(Part):
    """What one of something weighs: a pod, a tin."""

    grams: float = number(..., unit="g", gt=0, le=100_000, description="One of them")
    spread: float = number(0.2, unit="1", ge=0, le=0.9, description="Relative uncertainty of that, ±")


class _InOrder(Part):
    """Two figures, the lower one first."""

    low: float
    high: float

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.low > self.high:
            raise ValueError("The least is above the most.\nGive the lower figure first.")
        return self


class StrengthDoc(_InOrder):
    """How loud a gram is against a gram of sweet bark: an order, never a figure to reckon with."""

    low: float = Field(gt=0, le=1000)
    high: float = Field(gt=0, le=1000)


class ShareDoc(_InOrder):
    """A share of a mass, from least to most."""

    low: float = Field(gt=0, le=1)
    high: float = Field(gt=0, le=1)


class WindowDoc(_InOrder):
    """A window of temperature or pH."""

    low: float = Field(ge=0, le=150)
    high: float = Field(ge=0, le=150)


class OpenedDoc(_InOrder):
    """Days it keeps once opened, least and most, and where."""

    low: float = Field(ge=0, le=10_000)
    high: float = Field(ge=0, le=10_000)
    storage: Literal["ambient", "chilled"]


class DoseDoc(_InOrder):
    """Grams for a kilogram, from least to most."""

    low: float = Field(gt=0, le=1000)
    high: float = Field(gt=0, le=1000)


class EnzymeDoc(Part):
    """What a data sheet says of an enzyme."""

    source: Title
    works_c: WindowDoc | None = None
    dies_c: float | None = number(None, unit="°C", ge=0, le=150, description="Where it is lost within minutes")
    ph: WindowDoc | None = None
    activity: float | None = Field(None, gt=0, le=1e12, description="The maker's figure, in the maker's unit.")
    activity_unit: Title | None = None
    sheet: Title | None = Field(None, description="Which data sheet says so.")
    dose_g_kg: DoseDoc | None = Field(None, description="Grams of it for a kilogram of starch, by the sheet.")


class StarchDoc(Part):
    """Starch that is free to swell."""

    gels_c: WindowDoc = Field(description="Where it gelatinises in plain water [°C]")
    minutes: float = number(..., unit="min", gt=0, le=1000, description="Until all but a third of it has")
    pregelled: bool = Field(False, description="Swollen already by its maker.")


class _LeastLikelyMost(Part):
    """Three figures in order."""

    low: float = Field(ge=0, le=10)
    likely: float = Field(ge=0, le=10)
    high: float = Field(ge=0, le=10)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if not self.low <= self.likely <= self.high:
            raise ValueError("Low, likely and high are not in that order.\nGive the lowest first and the highest last.")
        return self


class CellOilDoc(_LeastLikelyMost):
    """The share of its oil and protein that runs through a sieve with the liquid, where its cells hold the rest."""

    high: float = Field(ge=0, le=1)


class SweetnessDoc(_LeastLikelyMost):
    """Published sweetness against sucrose, gram for gram."""

    of: Literal["dry", "whole"] = Field("whole", description="Of its dry matter, or of the whole.")


class SaturatesDoc(_LeastLikelyMost):
    """The share of a fat that is saturated."""

    high: float = Field(ge=0, le=1)


class ContributionsDoc(Part):
    """What an ingredient brings besides the masses of its components."""

    minerals_osmol_per_g: float = Field(ge=0, le=0.0343, description="What a gram of its other ash sets free; table salt 0.0342 [osmol/g]")
    starch: StarchDoc | None = None
    cell_oil: CellOilDoc | None = None
    sweetness: SweetnessDoc | None = None
    sugars_added: bool = Field(True, description="A juice's or a fruit's own sugars are free and not added.")
    strong_gum: bool = Field(False, description="Its gum thickens like what is sold to thicken with.")
    saturates: SaturatesDoc | None = Field(None, description="The share of its other fat that is saturated; else what is usual of its name and kind.")
    salt_of_ash: float | None = Field(
        None, ge=0, le=1, description="What a label calls salt, 2.5 × sodium, in a gram of its other ash; else what is usual [g/g]"
    )
    source: Text = ""


class UsedDoc(Part):
    """A version of a formula that stands in something."""

    formula: Id
    version: int = Field(ge=1)
    name: Title
    fingerprint: str = Field(max_length=64, description="SHA-256 of its frozen document.")


class ContentDoc(Part):
    """An ingredient of what was made here."""

    substance: Id
    title: Title
    within: Title = Field(description="The formula of ours it stands in.")
    grams_per_g: float = number(..., unit="g/g", ge=0, le=1000, description="Weighed in for a gram of product")
    was_c: float = number(0.0, unit="°C", ge=0, le=300, description="The hottest that all of it was")
    facts: SubstanceDoc
    through: tuple[Id, ...] | None = Field(None, max_length=MOST_CONTENTS, description="The formulas of ours it came through, from the outermost.")


class SpanDoc(Part):
    """Least, likely, most."""

    low: float = Field(ge=0, le=1_000_000)
    likely: float = Field(ge=0, le=1_000_000)
    high: float = Field(ge=0, le=1_000_000)


class WorkDoc(Part):
    """What making a kilogram takes besides ingredients, at one of the formulas that stand in it."""

    through: tuple[Id, ...] = Field(max_length=MOST_CONTENTS, description="The formulas it came through, from the outermost.")
    kwh_per_kg: SpanDoc
    hands_min_per_kg: SpanDoc
    containers_per_kg: float = Field(ge=0, le=1_000_000)


class MadeDoc(Part):
    """What travels along with a gram of what was made here, and what it was made of: as its version's walk gave it."""

    version: UsedDoc
    tracers_g_per_g: dict[Title, float] = Field({}, description="Massless strengths that run with the liquid.")
    extents: dict[Title, float] = Field({}, description="What describes a part of it: shares, or °C that belong to it.")
    air_ml_per_g: float = Field(0.0, ge=0, le=100)
    contents: tuple[ContentDoc, ...] = Field((), max_length=MOST_CONTENTS)
    uses: tuple[UsedDoc, ...] = Field((), max_length=MOST_CONTENTS, description="Versions that stand in it, at any depth.")
    days: int | None = Field(None, ge=1, le=10_000, description="What its own keeping allows; the day of making is day one.")
    days_by: Text = ""
    work: tuple[WorkDoc, ...] | None = Field(None, max_length=MOST_CONTENTS, description="What making it takes; none where nobody wrote that down.")
    lot: Title = Field("", description="Which bottle it came out of; empty of a version as such.")
    last_day: date | None = Field(None, description="The last day of that bottle.")


class SubstanceDoc(Part):
    """A substance as it is written. What came later is None where nobody said, so that older documents stay the same."""

    title: Title
    kind: Title = "other"
    basis: KnownBy = "estimate"
    composition_g_per_100g: dict[Title, float]
    free_sugars_g_per_100g: float | None = Field(None, ge=0, le=100)
    density_g_ml: float = number(1.0, unit="g/ml", gt=0, le=25, description="As a spoon or cup meets it")
    density_spread: float = number(0.1, unit="1", ge=0, le=0.9, description="Relative uncertainty of that, ±")
    storage: Literal["ambient", "chilled"] = "ambient"
    is_ground: bool = False
    allergens: tuple[Title, ...] = ()
    check_pack_for: tuple[Title, ...] = ()
    also_called: tuple[Title, ...] = ()
    strength: StrengthDoc | None = None
    pieces: dict[Annotated[str, Field(pattern=r"^[a-z]{1,40}$")], PieceDoc] = Field({}, description="What one weighs, by the word people count it by")
    source: Text = ""
    note: Text = ""
    other_form: Id | None = Field(None, description="The same ground, of something whole; the same whole, of something ground.")
    character: Text | None = Field(None, description="How it tastes and colours, in a few words.")
    hazards: tuple[Title, ...] | None = Field(None, description="What it can do, by code.")
    opened: OpenedDoc | None = None
    edible_portion: ShareDoc | None = Field(None, description="Left of what is bought, once peeled, cored, stoned.")
    juice_yield: ShareDoc | None = Field(None, description="Of that, what a press gives.")
    enzyme: EnzymeDoc | None = None
    contributions: ContributionsDoc | None = Field(None, description="What it brings besides; else what is usual of its name and kind.")
    ph: float | None = Field(None, ge=0, le=14, description="As measured, at room temperature.")
    price_per_kg: float | None = Field(None, ge=0, le=1_000_000, description="In the site's currency.")
    of: Id | None = Field(None, description="The ingredient of which this is a stronger or weaker lot; its lots and dates are that one's.")
    made_from: MadeDoc | None = Field(None, description="Of what was made here: the version it is, and all that comes with it.")


def substance_from(id: str, doc: SubstanceDoc, contributions: Contributions | None = None) -> Substance:
    """A substance as it is written, checked; ``contributions`` are those of one that does not say them itself.

    Raises what its composition raises, and BadDocument for an allergen or a hazard that is none.
    """
    for field, codes, known in (("allergens", doc.allergens, EU_ALLERGENS), ("hazards", doc.hazards or (), tuple(HAZARDS))):
        unknown = [code for code in codes if code not in known]
        if unknown:
            one = field[:-1]
            raise BadDocument(f"substances.{id}.{field}", f"“{unknown[0]}” is not one of the {one}s listed here.", f"Use: {', '.join(known)}.")
    made = None if doc.made_from is None else _made(id, doc.made_from, doc.composition_g_per_100g.get("other_ash", 0.0) / 100)
    return substance_from_composition(
        id=id,
        title=doc.title,
        kind=doc.kind,
        basis=doc.basis,
        composition_g_per_100g=doc.composition_g_per_100g,
        free_sugars_g_per_100g=doc.free_sugars_g_per_100g,
        density_g_ml=doc.density_g_ml,
        density_spread=doc.density_spread,
        storage=doc.storage,
        is_ground=doc.is_ground,
        allergens=doc.allergens,
        check_pack_for=doc.check_pack_for,
        also_called=doc.also_called,
        strength=(doc.strength.low, doc.strength.high) if doc.strength else None,
        pieces={word: Piece(piece.grams, piece.spread) for word, piece in doc.pieces.items()},
        source=doc.source,
        note=doc.note,
        other_form=doc.other_form or "",
        character=doc.character or "",
        hazards=doc.hazards or (),
        opened=Opened(Range(doc.opened.low, doc.opened.high), doc.opened.storage) if doc.opened else None,
        edible_portion=_range(doc.edible_portion),
        juice_yield=_range(doc.juice_yield),
        enzyme=_enzyme(doc.enzyme),
        contributions=contributions_from(doc.contributions) if doc.contributions is not None else contributions or UNKNOWN,
        ph=doc.ph,
        price_per_kg=doc.price_per_kg if made is None else made.price_per_kg,
        of=doc.of or "",
        made=made,
        where=f"substances.{id}",
    )


#: What travels with a component, and was not traced from the first release on.
_TRACED_SINCE = (("other_ash", TRACERS[OWN_SALT]), ("other_fat", TRACERS[FAT_KNOWN]))


def says_all(doc: SubstanceDoc) -> bool:
    """Whether what was made here says all that a release of today writes of it: what making it takes, what of its fat is saturated, its salt."""
    made = doc.made_from
    if made is None or "work" not in made.model_fields_set:
        return made is None
    return all(tracer in made.tracers_g_per_g for component, tracer in _TRACED_SINCE if doc.composition_g_per_100g.get(component))


#: What was kept before the salt of milk and other things was known is taken to have as much in a gram of its ash as milk: little else has more.
_MILK_SALT = 0.16


def _made(id: str, doc: MadeDoc, ash: float) -> Made:
    """What was made here, as it is written; ``ash`` is its share of other ash."""
    rows: list[Floats] = []
    for field, written, names in (("tracers_g_per_g", doc.tracers_g_per_g, TRACERS), ("extents", doc.extents, EXTENTS)):
        unknown = next((name for name in written if name not in names), None)
        if unknown is not None:
            raise BadDocument(
                f"substances.{id}.made_from.{field}", f"“{unknown}” is nothing that travels along with it.", f"Use: {', '.join(names)}."
            )  # fmt: skip
        rows.append(np.array([written.get(name, 0.0) for name in names]))
    if TRACERS[OWN_SALT] not in doc.tracers_g_per_g:
        rows[0][OWN_SALT] = _MILK_SALT * ash
    contents = []
    for each in doc.contents:
        if each.facts.made_from is not None:
            raise BadDocument(
                f"substances.{id}.made_from.contents", f"{each.title} was made here itself.", "Name what it was made of in its place."
            )  # fmt: skip
        contents.append(
            Content(
                each.substance, each.title, each.within, each.grams_per_g, each.was_c, substance_from(each.substance, each.facts),
                (doc.version.formula,) if each.through is None else each.through,
            )
        )  # fmt: skip
    return Made(
        version=_used(doc.version), tracer=rows[0], extent=rows[1], air_ml_per_g=doc.air_ml_per_g, contents=tuple(contents),
        uses=tuple(map(_used, doc.uses)), days=doc.days, days_by=doc.days_by,
        work=None if doc.work is None else tuple(map(_work, doc.work)), lot=doc.lot,
        last_day=doc.last_day,
    )  # fmt: skip


def _work(doc: WorkDoc) -> Work:
    return Work(doc.through, _span(doc.kwh_per_kg, 1e-3), _span(doc.hands_min_per_kg, _S_PER_G), doc.containers_per_kg / 1e3)


def _span(doc: SpanDoc, much: float) -> Span:
    return times((doc.low, doc.likely, doc.high), much)


def _span_doc(span: Span, much: float) -> dict[str, float]:
    return dict(zip(("low", "likely", "high"), times(span, much), strict=True))


#: A minute for a kilogram, in seconds for a gram.
_S_PER_G = 60.0 / 1e3


def _work_doc(work: Work) -> dict[str, object]:
    return {
        "through": work.through, "kwh_per_kg": _span_doc(work.kwh_per_g, 1e3),
        "hands_min_per_kg": _span_doc(work.hands_s_per_g, 1 / _S_PER_G), "containers_per_kg": 1e3 * work.containers_per_g,
    }  # fmt: skip


def _used(doc: UsedDoc) -> Used:
    return Used(doc.formula, doc.version, doc.name, doc.fingerprint)


def _made_doc(made: Made) -> dict[str, object]:
    return {
        "version": asdict(made.version),
        "tracers_g_per_g": {name: float(g) for name, g in zip(TRACERS, made.tracer, strict=True) if g},
        "extents": {name: float(x) for name, x in zip(EXTENTS, made.extent, strict=True) if x},
        "air_ml_per_g": made.air_ml_per_g,
        "contents": [
            {
                "substance": each.substance, "title": each.title, "within": each.within, "grams_per_g": each.grams_per_g, "was_c": each.was_c,
                "facts": as_document(each.book), "through": each.through or None,
            }
            for each in made.contents
        ],
        "uses": [asdict(each) for each in made.uses], "days": made.days, "days_by": made.days_by,
        "work": None if made.work is None else [_work_doc(each) for each in made.work],
        "lot": made.lot, "last_day": made.last_day,
    }  # fmt: skip


def _range(doc: _InOrder | None) -> Range | None:
    return Range(doc.low, doc.high) if doc else None


def _enzyme(doc: EnzymeDoc | None) -> Enzyme | None:
    if doc is None:
        return None
    return Enzyme(
        source=doc.source, works_c=_range(doc.works_c), dies_c=doc.dies_c, ph=_range(doc.ph), activity=doc.activity,
        activity_unit=doc.activity_unit or "", sheet=doc.sheet or "", dose_g_kg=_range(doc.dose_g_kg),
    )  # fmt: skip


def contributions_from(doc: ContributionsDoc) -> Contributions:
    """What an ingredient brings, as it is written."""
    starch, cells, sweet = doc.starch, doc.cell_oil, doc.sweetness
    return Contributions(
        minerals_osmol_per_g=doc.minerals_osmol_per_g,
        starch=Starch(Range(starch.gels_c.low, starch.gels_c.high), starch.minutes, starch.pregelled) if starch else None,
        cell_oil=CellOil(cells.low, cells.likely, cells.high) if cells else None,
        sweetness=Sweetness(sweet.of == "dry", sweet.low, sweet.likely, sweet.high) if sweet else None,
        sugars_added=doc.sugars_added,
        strong_gum=doc.strong_gum,
        saturates=Saturates(doc.saturates.low, doc.saturates.likely, doc.saturates.high) if doc.saturates else None,
        salt_of_ash=UNKNOWN.salt_of_ash if doc.salt_of_ash is None else doc.salt_of_ash,
        source=doc.source,
    )


def _contributions_doc(brings: Contributions) -> dict[str, object]:
    starch, cells, sweet = brings.starch, brings.cell_oil, brings.sweetness
    return {
        "minerals_osmol_per_g": brings.minerals_osmol_per_g,
        "starch": {"gels_c": _low_high(starch.gels_c), "minutes": starch.minutes, "pregelled": starch.pregelled} if starch else None,
        "cell_oil": asdict(cells) if cells else None,
        "sweetness": {"of": "dry" if sweet.of_dry else "whole", "low": sweet.low, "likely": sweet.likely, "high": sweet.high} if sweet else None,
        "sugars_added": brings.sugars_added, "strong_gum": brings.strong_gum,
        "saturates": asdict(brings.saturates) if brings.saturates else None, "salt_of_ash": brings.salt_of_ash, "source": brings.source,
    }  # fmt: skip


def as_document(substance: Substance) -> SubstanceDoc:
    """A substance as a document carries it."""
    s = substance
    return SubstanceDoc.model_validate({
        "title": s.title, "kind": s.kind, "basis": s.basis, "source": s.source, "note": s.note,
        "composition_g_per_100g": s.composition_g_per_100g(), "free_sugars_g_per_100g": 100 * s.free_sugar_fraction,
        "density_g_ml": s.density_g_ml, "density_spread": s.density_spread, "storage": s.storage, "is_ground": s.is_ground,
        "allergens": s.allergens, "check_pack_for": s.check_pack_for, "also_called": s.also_called,
        "strength": {"low": s.strength[0], "high": s.strength[1]} if s.strength else None,
        "pieces": {word: {"grams": piece.grams, "spread": piece.spread} for word, piece in s.pieces.items()},
        "other_form": s.other_form or None, "character": s.character or None, "hazards": s.hazards or None,
        "opened": {**_low_high(s.opened.days), "storage": s.opened.storage} if s.opened else None,
        "edible_portion": _low_high(s.edible_portion) if s.edible_portion else None,
        "juice_yield": _low_high(s.juice_yield) if s.juice_yield else None,
        "enzyme": _enzyme_doc(s.enzyme) if s.enzyme else None,
        "contributions": _contributions_doc(s.contributions),
        "ph": s.ph, "price_per_kg": s.price_per_kg, "of": s.of or None,
        "made_from": _made_doc(s.made) if s.made else None,
    })  # fmt: skip


def _low_high(found: Range) -> dict[str, float]:
    return {"low": found.low, "high": found.high}


def _enzyme_doc(enzyme: Enzyme) -> dict[str, object]:
    return {
        "source": enzyme.source, "works_c": _low_high(enzyme.works_c) if enzyme.works_c else None, "dies_c": enzyme.dies_c,
        "ph": _low_high(enzyme.ph) if enzyme.ph else None, "activity": enzyme.activity,
        "activity_unit": enzyme.activity_unit or None, "sheet": enzyme.sheet or None,
        "dose_g_kg": _low_high(enzyme.dose_g_kg) if enzyme.dose_g_kg else None,
    }  # fmt: skip
