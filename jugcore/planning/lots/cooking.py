"""What one cook of a version takes in a kitchen, read off its walk: how much at most, hands, burner, energy, bottles, and how long it keeps."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from pydantic import BaseModel, Field

from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.stages import Fill
from jugcore.method.walk import Walk
from jugcore.money.packs import needs_of
from jugcore.reading.energy import energy_kwh
from jugcore.reading.keeping.assessment import keeping_of
from jugcore.reading.keeping.use_by import last_day
from jugcore.reading.work import containers, hands_s
from jugcore.scaling.batch_split import most_in_one
from jugcore.scaling.scale import scale_by

#: Where neither pots nor scales set a bound, so many times the formula are one cook (common practice, no source).
_MOST_TIMES = 12.0
#: Less than this share of a full pot is not worth a cook (common practice, no source).
LEAST_SHARE = 0.25
#: Any day does to count how many a product keeps.
_A_DAY = date(2031, 1, 1)


class CookReport(BaseModel):
    """One full cook of a product, and a gram of it."""

    product: str
    times: float = Field(description="Of the formula as it is written.")
    most_g: float
    least_g: float
    hands_min: float
    burner_min: float = Field(description="Of its pots on burners, one after another.")
    whole_min: float = Field(description="From the first step to the last, one after another.")
    energy_kwh: float
    bottle_g: float | None = Field(description="What a bottle takes; none where it is not filled into any.")
    bottles: float
    life_days: int | None = Field(description="Its day of making is day one; none where only the shop's own trial says.")
    open: list[str] = Field(description="What about its keeping nobody has answered: until then it is counted as held by time and temperature.")
    bought_g: dict[str, float] = Field(description="Grams that are bought, for a gram of it.")
    parts_g: dict[str, float] = Field(description="Grams of other products, for a gram of it.")
    ml_per_g: float


class CooksReport(BaseModel):
    """Cooks of products; those whose walk gives nothing are named."""

    cooks: list[CookReport]
    nothing: list[str]


def cooks_of(versions: Sequence[tuple[str, MethodDocument]], kitchen: Kitchen | None = None) -> CooksReport:
    """Full cooks of products in a kitchen, or each in its own.

    Parameters: ids of products with frozen documents; the kitchen of today. A cook is as large as its pots and scales take.
    """
    found: list[CookReport] = []
    nothing: list[str] = []
    for product, document in versions:
        report = _cook(product, document, kitchen)
        if report is None:
            nothing.append(product)
        else:
            found.append(report)
    return CooksReport(cooks=found, nothing=nothing)


def _cook(product: str, document: MethodDocument, kitchen: Kitchen | None) -> CookReport | None:
    method = compile_document(document)
    times = min(most_in_one(method, kitchen), _MOST_TIMES)
    walk = scale_by(method, times, kitchen).walk
    grams = float(walk.product.total_g[0])
    if not grams > 0:
        return None
    bought, made = needs_of(walk)
    parts: dict[str, float] = {}
    for each in made:
        parts[each.formula] = parts.get(each.formula, 0.0) + each.needs_g / grams
    keeping = keeping_of(walk)
    until = last_day(keeping, _A_DAY)
    return CookReport(
        product=product, times=times, most_g=grams, least_g=LEAST_SHARE * grams, hands_min=float(hands_s(walk)[0, 1]) / 60.0,
        burner_min=_minutes(walk, on_hob=True), whole_min=_minutes(walk), energy_kwh=float(energy_kwh(walk)[0, 1]), bottle_g=_bottle(walk),
        bottles=float(containers(walk)[0]), life_days=None if until.day is None else (until.day - _A_DAY).days + 1,
        open=[question.words for question in keeping.questions], bought_g={id: each / grams for id, (_, each) in bought.items()}, parts_g=parts,
        ml_per_g=float(walk.product.volume_ml(walk.of_kitchen("fridge_c"))[0]) / grams,
    )  # fmt: skip


def _minutes(walk: Walk, *, on_hob: bool = False) -> float:
    """Likely minutes of all stages, or of those whose pot stands on a burner."""
    steps = zip(walk.stages, walk.steps, strict=True)
    return sum(float(step.duration_s[0, 1]) for stage, step in steps if stage.on_hob or not on_hob) / 60.0


def _bottle(walk: Walk) -> float | None:
    """Grams in a full bottle of the last filling."""
    found = None
    for _, step in walk.each(Fill):
        found = float(step.figures["per_container_g"][0])
    return found
