"""What a walk says of keeping: its class or what must be asked first, the days, the culprit. Never more than is known."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np
from pydantic import BaseModel, Field

from jugcore.formula.consequence import Consequence
from jugcore.formula.cooling import CoolingReport, cooling_report
from jugcore.formula.reading import Reading
from jugcore.keeping.assess import Assessment, Class, Known, assess
from jugcore.keeping.days import Limit, earliest
from jugcore.matter.substance import Substance
from jugcore.method.stages import Adding, Freeze, Holding
from jugcore.method.walk import Walk

#: Heat that destroys vegetative cells (milk's pasteurisation, 15 s; FDA and PMO). [°C]
HEATED_C = 72.0
#: A meter just calibrated is good to this.
PH_SPREAD = 0.1
#: Kinds whose own life counts even when they were heated: practice keeps them to the earliest date all the same.
_ALWAYS = frozenset({"dairy", "plant"})
#: Below this share of water it is a powder or a paste, and the tables say nothing of it; a damp cake is none.
_DRY = 0.12
#: Between cold holding and this, germs grow; so long may it stand there in all (FDA Food Code 2022, 3-501.19, time as control). [°C], [min]
_HOT_HOLDING_C, _STANDS_MIN, _DISCARD_MIN = 57.0, 120.0, 240.0
#: Lives longer than this never decide over a week.
_LONG_DAYS = 30.0


class KeepingQuestion(BaseModel):
    code: str
    words: str


class KeepingLimit(BaseModel):
    """Days something allows."""

    title: str
    days: int
    kind: str
    decides: bool
    extends: str = Field(description="What would lengthen it.")


class KeepingReport(BaseModel):
    """Class, questions, days and culprit. Defers to the local food code and a qualified person."""

    verdict: Class
    dry: bool = Field(description="A powder or a paste without water to speak of: the tables say nothing of it.")
    because: str
    questions: list[KeepingQuestion]
    heated_words: str = Field(description="What the walk saw of heat, for whoever answers.")
    heated_seen: bool
    aw_low: float | None
    aw_high: float | None
    ph_low: float | None
    ph_high: float | None
    ph_measured: bool
    limits: list[KeepingLimit]
    dated: list[str] = Field(description="Substances whose own dates count: chilled parts that were not heated, and dairy and plant in any case.")
    days: int | None = Field(description="Days it may be kept, the day of making being day one; none where only the shop's own trial says.")
    frozen: bool
    between_min: float = Field(description="Minutes it is held or steeped between cold holding and 57 °C, of what is held by time and temperature.")
    between_words: str = Field(description="What to say of that; empty where it is short.")
    cooling: CoolingReport | None = Field(None, description="The way down from 57 °C, of what is held by time and temperature.")
    words: str


def keeping_report(walk: Walk, read: Mapping[str, Reading]) -> KeepingReport:
    """What may be said of keeping, and what must be asked."""
    told = walk.method.document.keeping
    aw = read.get("water_activity")
    total = float(walk.product.total_g[0])
    dry = not bool(walk.product.is_liquid[0]) and float(walk.product.water_g[0]) < _DRY * total
    band = (float(aw.low[0]), float(aw.high[0])) if aw is not None and np.isfinite(aw.value[0]) else None
    ph, measured = _ph(walk, read)
    seen, heated_words = _heat(walk)
    known = Known(band, ph, told.heat_treated if told else None, told.packaged if told else None)
    found = Assessment("not_controlled", (), "It is dry.") if dry else assess(known)
    frozen = any(isinstance(stage, Freeze) for stage in walk.stages)
    limits = list(_limits(walk, found, dry))
    first = earliest(limits)
    between = 0.0 if dry or found.verdict == "not_controlled" else _between_min(walk)
    return KeepingReport(
        between_min=between, between_words=_between_words(walk, between),
        verdict=found.verdict, dry=dry, because=found.because, questions=[KeepingQuestion(code=q.code, words=q.words) for q in found.questions],
        heated_words=heated_words, heated_seen=seen, aw_low=band[0] if band else None, aw_high=band[1] if band else None,
        ph_low=ph[0] if ph else None, ph_high=ph[1] if ph else None, ph_measured=measured,
        dated=_dated(walk),
        limits=[KeepingLimit(title=x.title, days=x.days, kind=x.kind, decides=x is first, extends=x.extends) for x in limits],
        cooling=cooling_report(walk) if found.verdict != "not_controlled" else None, days=first.days if first else None, frozen=frozen,
        words=_words(walk, found, first, dry, frozen),
    )  # fmt: skip


def _between_min(walk: Walk) -> float:
    """Minutes that holds and steeps spend between cold holding and 57 °C, likely."""
    total = 0.0
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        if isinstance(stage, Holding) and step.trace is not None:
            seconds, warm = step.trace.seconds[0], step.trace.temperature_c[0]
            middle = 0.5 * (warm[1:] + warm[:-1])
            total += float((np.diff(seconds) * ((middle > walk.kitchen.holding_c + 1.0) & (middle < _HOT_HOLDING_C))).sum()) / 60.0
    return total


def _between_words(walk: Walk, minutes: float) -> str:
    if minutes < _STANDS_MIN:
        return ""
    limits = f"between {walk.kitchen.holding_c:g} and {_HOT_HOLDING_C:g} °C"
    long = f"{minutes / 60:.1f} h"
    if minutes > _DISCARD_MIN:
        return f"It stands {long} {limits}: after four hours there it is discarded. Steep it at {_HOT_HOLDING_C:g} °C or above, or in the fridge."
    return f"It stands {long} {limits}: germs grow there. Keep that short, or steep it at {_HOT_HOLDING_C:g} °C or above, or in the fridge."


def _ph(walk: Walk, read: Mapping[str, Reading]) -> tuple[tuple[float, float] | None, bool]:
    told = walk.method.document.keeping
    if told is not None and told.ph is not None:
        return (told.ph - PH_SPREAD, told.ph + PH_SPREAD), True
    ph = read.get("ph")
    if ph is not None and np.isfinite(ph.value[0]):
        return (float(ph.low[0]), float(ph.high[0])), False
    return None, False


def _heat(walk: Walk) -> tuple[bool, str]:
    """Whether the walk saw all of the product brought to 72 °C with nothing put in after, in words."""
    hottest, by, at = -1.0, "", -1
    for index, (stage, step) in enumerate(zip(walk.stages, walk.steps, strict=True)):
        held = step.after.vessels.get(stage.writes())
        if stage.id in walk.method.trunk and held is not None and float(held.total_g[0]) > 0:
            warm = max(float(held.warmth_c[0]), float(step.trace.temperature_c[0].max()) if step.trace is not None else 0.0)
            if warm >= HEATED_C:
                at = index
                if warm > hottest:
                    hottest, by = warm, stage.name or stage.title
    if at < 0:
        return False, f"The method never brings it to {HEATED_C:.0f} °C."
    late = _after(walk, at)
    if late:
        return False, f"“{by}” brings it to {hottest:.0f} °C, and after that {', '.join(late[:3])} went in unheated."
    return True, f"“{by}” brings it to {hottest:.0f} °C, and nothing goes in after that."


def _after(walk: Walk, at: int) -> list[str]:
    """What went in after a stage, by its short name."""
    later = [line.id for stage in walk.stages[at + 1 :] if isinstance(stage, Adding) and stage.id in walk.method.trunk for line in stage.lines]
    return [walk.method.short_titles[id] for id in later if float(walk.end.lines[id][0]) > 0]


def _limits(walk: Walk, found: Assessment, dry: bool) -> Iterator[Limit]:
    kitchen = walk.kitchen
    if not dry and found.verdict != "not_controlled":
        yield Limit(
            f"the local {_count(kitchen.chilled_days)}-day mark", kitchen.chilled_days, "rule",
            "Freezing pauses it, and never resets it; or make it so sour or so sugared that the tables let it go.",
        )  # fmt: skip
    method = walk.method
    seen, _ = _heat(walk)
    for id, line in method.lines.items():
        book = method.substances[line.substance]
        if id not in walk.product.touched or not float(walk.end.lines[id][0]) > 0 or not _own_date_counts(book, seen):
            continue
        if book.opened is None or book.opened.days.low > _LONG_DAYS:
            continue
        title = method.short_titles[id]
        yield Limit(
            f"{title}, once opened", max(int(book.opened.days.low), 1), "part",
            f"A {title} with a longer life once opened, or freshly opened and its pack's own word; or leave it out until service.",
        )  # fmt: skip


def _own_date_counts(book: Substance, heated: bool) -> bool:
    """Whether a part's own dates bound the product: of what is kept cold once opened, unless heat came after; of dairy and plant always."""
    cold = book.storage == "chilled" or (book.opened is not None and book.opened.storage == "chilled")
    return cold and (book.kind in _ALWAYS or not heated)


def _dated(walk: Walk) -> list[str]:
    """Ids of the substances whose own dates count, each once."""
    seen, _ = _heat(walk)
    ids = [line.substance for id, line in walk.method.lines.items() if id in walk.product.touched and float(walk.end.lines[id][0]) > 0]
    return [id for id in dict.fromkeys(ids) if _own_date_counts(walk.method.substances[id], seen)]


def _count(days: int) -> str:
    names = {1: "one", 2: "two", 3: "three", 4: "four", 5: "five", 6: "six", 7: "seven", 8: "eight", 9: "nine", 10: "ten", 14: "fourteen"}
    return names.get(days, str(days))


def _words(walk: Walk, found: Assessment, first: Limit | None, dry: bool, frozen: bool) -> str:
    cold = f"at {walk.kitchen.holding_c:g} °C or below"
    warm = walk.kitchen.fridge_c > walk.kitchen.holding_c
    cold += f" (this kitchen's fridge is at {walk.kitchen.fridge_c:g} °C: too warm for that)" if warm else ""
    if dry:
        return "Dry: it keeps as its parts do, cool, dark and closed. " + DEFERS
    days = "" if first is None else f", {first.days} day{'s' if first.days != 1 else ''}, the day of making being day one: {first.title} decides"
    paused = " Freezing pauses these days." if frozen else ""
    if found.verdict == "controlled":
        return f"Keep chilled {cold}{days}.{paused} {DEFERS}"
    if found.verdict == "ask":
        return f"No verdict on keeping yet: {_asks(found)}. Until then keep it chilled {cold}{days}.{paused} {DEFERS}"
    if first is not None:
        return f"By the tables it need not be held cold; yet keep it chilled{days}.{paused} {DEFERS}"
    return (
        f"By the tables it need not be held cold. How long it stays good no table says: only your own shelf trial does. Moulds still grow. {DEFERS}"
    )


_ASKED = {"heat": "heat treatment", "packaging": "packaging", "ph": "its pH", "ph_close": "its pH", "water_activity": "its water activity"}


def _asks(found: Assessment) -> str:
    names = list(dict.fromkeys(_ASKED[question.code] for question in found.questions))
    return f"{names[0] if len(names) == 1 else ', '.join(names[:-1]) + ' and ' + names[-1]} must be known"


DEFERS = "Your local food code and a qualified person decide."


def keeping_consequence(report: KeepingReport) -> Iterator[Consequence]:
    """Keeping as a plain consequence, with its working."""
    if report.between_words:
        tone = "stop" if report.between_min > _DISCARD_MIN else "look"
        yield Consequence(
            "between", tone, report.between_words, "Time in which germs grow, of holds and steeps. FDA Food Code 2022, 3-501.19.", None, 0
        )
    if not report.dry:
        yield Consequence("keeping", "look" if report.verdict == "ask" else "fine", report.words, report.because, "water_activity", 2)
