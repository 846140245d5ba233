"""Shapes of the report of a walk: the published form of everything read off it.

Units stand in the field names; the JSON Schema is docs/schema/report.schema.json.
"""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from jugcore.method.amounts import Amount
from jugcore.reading.equipment.cross_contact import CrossContact
from jugcore.reading.flow_trials import FlowExpected
from jugcore.reading.keeping.assessment import KeepingReport
from jugcore.reading.processes.schema import CaramelReport, DrawnReport, FoamReport, HoldReport
from jugcore.reading.windows import FamilyReport


class BandMass(BaseModel):
    """Grams of one band of the picture, and the volume it takes of the whole."""

    band: str
    title: str
    mass_g: float
    volume_ml: float | None = None


class VesselReport(BaseModel):
    """What a vessel holds."""

    vessel: str
    name: str
    mass_g: float
    temperature_c: float | None
    brix: float | None
    volume_ml: float | None
    bands: list[BandMass]


class FlowReport(BaseModel):
    """Mass that moved in a stage."""

    source: str
    target: str
    mass_g: float
    bands: list[BandMass]


class Span(BaseModel):
    """Low, typical and high, in seconds."""

    low_s: float
    typical_s: float
    high_s: float


class TraceReport(BaseModel):
    """A boil over time."""

    seconds: list[float]
    mass_g: list[float]
    temperature_c: list[float]
    brix: list[float | None] = Field(description="None where the pot holds nothing that flows.")


class FaultReport(BaseModel):
    """Something a stage could not do."""

    code: str
    field: str
    message: str
    remedy: str
    stage: str | None = None


class BoilReport(BaseModel):
    """What the cook needs at a boil."""

    off_g: float
    stop_g: float
    pot_reads_g: float
    pot_name: str
    pot_tare_g: float
    probe_c: float
    probe_doubt_brix: float | None
    first_boil_c: float | None
    heat_up: Span
    boil: Span
    headroom_ml: float


class FillReport(BaseModel):
    """How the product divides into containers."""

    containers: int = Field(description="Full ones.")
    words: str = Field(description="“2 × 500 ml and 240 ml in a third”.")
    per_container_g: float | None
    left_over_g: float
    size_ml: float
    fill_c: float | None = Field(description="What it is filled at.")
    cold_ml: float | None = Field(description="What one container holds once cold, if filled to its size.")


class StrengthReport(BaseModel):
    """A line's share of a blend by mass, and of its strength at the least and at the most: an estimate, an order."""

    line: str
    title: str
    mass_share: float
    low: float
    high: float


class PremixReport(BaseModel):
    """A line below what the scale can resolve, and the larger blend to dose from."""

    title: str
    grams: float
    scale: str
    error: float
    times: int
    make_g: float
    take_g: float
    error_then: float


class BlendReport(BaseModel):
    """What a stage puts together, as a blend."""

    total_g: float
    total_text: str | None = Field(description="What the stage says it makes in total, as it was understood.")
    shares: list[StrengthReport]
    dominant: str | None
    premix: PremixReport | None


class YieldReport(BaseModel):
    """What a knife or a press gives, with its range, and what the product comes to at its ends."""

    of_g: float = Field(description="What goes in.")
    gives_g: float
    low_g: float
    high_g: float
    product_low_g: float
    product_high_g: float
    all_low_g: float = Field(description="The product where every such yield of the method is at its least.")
    all_high_g: float = Field(description="The product where every such yield of the method is at its most.")


class MillReport(BaseModel):
    """What a grinding gives: through the sieve, still on it after the last pass, and lost as dust."""

    through_g: float
    coarse_g: float
    dust_g: float


class StageReport(BaseModel):
    """One stage after it has been walked."""

    id: str
    kind: str
    name: str
    summary: str
    trunk: bool
    after: VesselReport
    flows: list[FlowReport]
    duration: Span
    hands: Span
    cautions: list[str]
    faults: list[FaultReport]
    trace: TraceReport | None = None
    boil: BoilReport | None = None
    fill: FillReport | None = None
    blend: BlendReport | None = None
    gives: YieldReport | None = None
    mill: MillReport | None = None
    hold: HoldReport | None = None
    drawn: list[DrawnReport] = []
    caramel: CaramelReport | None = None
    foam: FoamReport | None = None


class LineReport(BaseModel):
    """One line (or join) with the grams it came to and how it was read."""

    id: str
    stage: str
    title: str
    kind: str
    mass_g: float
    low_g: float
    high_g: float
    share_started: float | None = Field(description="Against the starting mixture, by which spice is dosed.")
    share: float | None = Field(None, description="Of all that goes in; all lines' together are 1. None of what joins: it is in its lines.")
    text: str
    understood: str
    tied: bool
    amount: Amount


class InputReport(BaseModel):
    """One of the figures a reading was worked out from."""

    name: str
    value: float | None
    unit: str


class ReadingReport(BaseModel):
    """A reading with its working."""

    id: str
    group: str = Field(description="The heading it stands under.")
    title: str
    unit: str
    digits: int
    value: float | None
    low: float | None
    high: float | None
    why_not: str
    formula: str
    inputs: list[InputReport]
    source: str
    valid: str
    error: str
    band: str


class ConsequenceReport(BaseModel):
    """What the figures mean, in a sentence, how serious it is, and why."""

    id: str
    tone: Literal["fine", "look", "stop"]
    text: str
    because: str
    about: str | None


class Landmark(BaseModel):
    """A mark on the sweet line."""

    id: str
    title: str
    brix: float


class SweetLineReport(BaseModel):
    """The path the cook takes over °Brix, and what decides along it.

    ``path_brix`` runs through every stage; ``starts_brix`` is where cooking takes over
    from mixing: the pot as its first boil begins, or the end where nothing is boiled.
    """

    path_brix: list[float]
    starts_brix: float | None
    landmarks: list[Landmark]


class ThicknessReport(BaseModel):
    """Thickness at a temperature: least, likely, most. [mPa·s]"""

    temperature_c: float
    low: float
    value: float
    high: float


class AllergenReport(BaseModel):
    """An allergen, the lines that bring it, and which lists name it."""

    allergen: str
    lines: list[str]
    certain: bool
    lists: list[str] = Field(description="eu: Regulation 1169/2011, Annex II; us: FALCPA and FASTER.")


class MatterReport(BaseModel):
    """Grams of every component: what came in, and where all of it is at the end.

    ``came_in`` and what ``made`` adds and takes equal the sum over ``vessels`` and ``away``,
    component by component. Components that are absent are left out.
    """

    came_in: dict[str, float]
    made: dict[str, dict[str, float]] = Field(description="What each reaction made, less what it used up: adds up to nothing.")
    vessels: dict[str, dict[str, float]]
    away: dict[str, dict[str, float]]


class MadeHereReport(BaseModel):
    """A line that is a formula of ours."""

    line: str
    substance: str
    formula: str
    name: str
    version: int
    within: list[str] = Field(description="What else of ours stands in it, at any depth.")
    newest: int | None = Field(None, description="Its newest version, where that is known and another.")
    newest_substance: str | None = Field(None, description="The ingredient to take for that.")


class WalkReport(BaseModel):
    """Everything read off one walk."""

    core_version: str
    product: VesselReport
    cold_product: VesselReport
    lines: list[LineReport]
    stages: list[StageReport]
    readings: list[ReadingReport]
    consequences: list[ConsequenceReport]
    flow: FlowExpected | None = Field(None, description="How it will flow tomorrow, by the site's own trials; the server's to add.")
    keeping: KeepingReport = Field(description="Class, questions, days and culprit.")
    family: FamilyReport | None = Field(None, description="The family it names, and where it stands in it.")
    thickness: list[ThicknessReport] = Field(description="Thickness over temperature, where it has one.")
    sweet_line: SweetLineReport
    allergens: list[AllergenReport]
    allergen_list: str
    cross_contact_advice: str = Field("", description="What to do about that, said once.")
    cross_contact: list[CrossContact] = Field([], description="Allergens that are not in it and may come in by equipment.")
    made_here: list[MadeHereReport] = Field([], description="Lines that are a formula of ours, each at the version it is pinned to.")
    faults: list[FaultReport]
    duration: Span
    matter: MatterReport
    passes: int
