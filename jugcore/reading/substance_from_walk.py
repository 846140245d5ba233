"""What a walk gave as an ingredient of another method: its whole matter, and all it was made of."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jugcore.editing.keeping_answers import standing_answers
from jugcore.errors import BadDocument
from jugcore.matter.matter import FREE_SUGAR
from jugcore.matter.substance import EU_ALLERGENS, MADE, Content, Made, Opened, Range, Substance, Used
from jugcore.method.walk import Walk
from jugcore.reading.carried import carried
from jugcore.reading.cautions import still_a_hazard
from jugcore.reading.keeping.assessment import KeepingReport, keeping_of
from jugcore.reading.keeping.heat_reached import heated
from jugcore.reading.work import work_per_gram

#: How far a spoon of it may miss what the walk says of its density: estimate.
_DENSITY_SPREAD = 0.03
#: Density where the walk knows no volume (dry, or above 85 °Bx): common practice, no source. [g/ml]
_DRY_G_ML, _DRY_SPREAD = 0.7, 0.3


def substance_from_walk(walk: Walk, version: Used, id: str) -> Substance:
    """A version's product as a substance: per gram its components, tracers, extents and air, and every line that ever touched it.

    Takes the first case. What it is kept at is for the method it enters to say: chilled, unless the tables say that it need not be.

    Raises
    ------
    BadDocument
        Nothing comes out of its last stage.
    """
    product = walk.product
    total = float(product.total_g[0])
    if not total > 0:
        raise BadDocument("made_from", f"Nothing comes out of {version.name}, version {version.version}.", "Use another version.")
    keeping = keeping_of(walk)
    contents = tuple(_contents(walk, version, total))
    stored = _storage(keeping)
    volume = float(product.foam_ml(float(walk.of_kitchen("fridge_c" if stored == "chilled" else "room_c")[0]))[0])
    wet = bool(np.isfinite(volume)) and volume > 0
    decides = next((limit.title for limit in keeping.limits if limit.decides), "")
    made = Made(
        version=version, tracer=product.tracer[0] / total, extent=product.extent[0].copy(), air_ml_per_g=float(product.air_ml[0]) / total,
        contents=contents, uses=tuple(_uses(walk)), days=keeping.days, days_by=decides,
        work=work_per_gram(walk, version.formula),
    )  # fmt: skip
    sure = {allergen for each in contents for allergen in each.book.allergens}
    maybe = {allergen for each in contents for allergen in each.book.check_pack_for} - sure
    return Substance(
        id=id, title=version.name, kind=MADE, basis="estimate", mass_fraction=product.mass_g[0] / total,
        density_g_ml=total / volume if wet else _DRY_G_ML, density_spread=_DENSITY_SPREAD if wet else _DRY_SPREAD,
        storage=stored, allergens=_in_order(sure), check_pack_for=_in_order(maybe),
        free_sugar_fraction=float(product.tracer[0, FREE_SUGAR]) / total, ph=_ph(walk),
        hazards=tuple(dict.fromkeys(code for each in contents for code in each.book.hazards if still_a_hazard(code, each.was_c))),
        opened=None if keeping.days is None else Opened(Range(keeping.days, keeping.days), stored),
        price_per_kg=made.price_per_kg, made=made, source=f"Made here: version {version.version}.",
    )  # fmt: skip


def _contents(walk: Walk, version: Used, total: float) -> Iterator[Content]:
    """Every ingredient as bought that ever touched it. What was made here itself stands as what that was made of."""
    method = walk.method
    weighed = carried(walk).get(method.product, {})
    hot = heated(walk).lines
    for line in method.lines:
        if line not in walk.product.touched or not float(walk.end.lines[line][0]) > 0:
            continue
        grams = float(weighed[line][0]) / total if line in weighed else 0.0
        for each in method.contents_of(line):
            yield Content(
                each.substance, each.title, each.within or version.name, each.grams_per_g * grams, max(each.was_c, hot.get(line, 0.0)), each.book,
                (version.formula, *each.through),
            )  # fmt: skip


def _uses(walk: Walk) -> Iterator[Used]:
    """The versions that stand in it, at any depth, each once."""
    seen: set[Used] = set()
    for line in walk.method.lines.values():
        made = walk.method.substances[line.substance].made
        for used in () if made is None else (made.version, *made.uses):
            if used not in seen:
                seen.add(used)
                yield used


def _storage(keeping: KeepingReport) -> str:
    """Chilled, unless the tables say it need not be kept cold and nothing in it must."""
    return "ambient" if keeping.verdict == "not_controlled" and keeping.days is None else "chilled"


def _ph(walk: Walk) -> float | None:
    """As somebody measured it of this formula, and nothing else."""
    told = standing_answers(walk).told
    return None if told is None else told.ph


def _in_order(allergens: set[str]) -> tuple[str, ...]:
    return tuple(allergen for allergen in EU_ALLERGENS if allergen in allergens)
