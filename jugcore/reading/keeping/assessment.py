"""What a walk says of keeping: its class or what must be asked first, the days, the culprit. Never more than is known."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np
from pydantic import BaseModel, Field

from jugcore import components as c
from jugcore.editing.keeping_answers import Answer, rests_on, standing_answers
from jugcore.keeping.assess import Assessment, Class, Known, Question, assess
from jugcore.keeping.days import Limit, earliest
from jugcore.matter.substance import Content, Made, Substance
from jugcore.method.document import KeepingDoc, RestsOn
from jugcore.method.kitchen import USUAL_CHILLED_DAYS, USUAL_HOLDING_C
from jugcore.method.phrases import capital
from jugcore.method.stages import Aerate
from jugcore.method.walk import Walk, once
from jugcore.reading.catalogue import readings
from jugcore.reading.consequence import Consequence
from jugcore.reading.keeping.cooling_stages import CoolingReport
from jugcore.reading.keeping.growth_time import NOTHING, between_of
from jugcore.reading.keeping.heat_reached import HEATED_C, Heated, heated, heated_words_of
from jugcore.reading.readings.base import Reading
from jugcore.reading.readings.water import over_crystals

#: A meter just calibrated is good to this.
PH_SPREAD = 0.1
#: Kinds whose own life counts even when they were heated: practice keeps them to the earliest date all the same.
_ALWAYS = frozenset({"dairy", "plant"})
#: Below this share of water it is a powder or a paste, and the tables say nothing of it; a damp cake is none.
_DRY = 0.12
#: Water that wet parts bring to something dry: up to this share it is flavouring, beyond it there are damp places in it (estimate).
_DAMP = 0.01
#: What was this hot after the last wet part went in has lost all but a sixth of its water: nothing grows at what is left (a = p ÷ p_sat). [°C]
_BOILED_DRY_C = 110.0
#: Lives longer than this never decide over a week.
_LONG_DAYS = 30.0


class KeepingQuestion(BaseModel):
    """What must be answered before a verdict: a code for the screen, and the question."""

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
    cautious_days: int = Field(
        description="Days a label gives where no table does: the local rule's, of what is dry the shortest life of its parts once opened."
    )
    frozen: bool
    between_min: float = Field(
        description="Minutes it is between cold and hot holding, likely, its way down by the two-stage rule apart unless that takes over 6 h."
    )
    between_stop: bool = Field(description="So long that it is thrown away.")
    between_words: str = Field(description="What to say of that; empty where it is short.")
    cooling: CoolingReport | None = Field(None, description="The way down from 57 °C, of what is held by time and temperature.")
    words: str
    fallen: list[Answer] = Field(description="Answers that no longer stand, since what they rested on was changed.")
    fallen_words: str = Field(description="That in words; empty where all stand.")
    rests_on: RestsOn = Field(description="To be kept with an answer that is given now.")


@once
def keeping_of(walk: Walk) -> KeepingReport:
    """What may be said of the keeping of a walk's product, and what must be asked."""
    read = {reading.id: reading for reading in readings(walk)}
    answers = standing_answers(walk)
    told = answers.told
    dry = _is_dry(walk)
    band, liquor = _water_activity(walk, read)
    ph, measured = _ph(told, read)
    heat = heated(walk)
    seen = heat.whole
    heated_words = heated_words_of(walk, heat)
    believed = None if told is None or (told.heat_treated and not seen) else told.heat_treated
    known = Known(band, ph, believed, told.packaged if told else None)
    found = Assessment("not_controlled", (), "It is dry.") if dry else assess(known)
    contradicted = told is not None and bool(told.heat_treated) and not seen
    frozen = any(stage.freezes for stage in walk.stages)
    limits = list(_limits(walk, found, dry, heat))
    first = earliest(limits)
    between = NOTHING if dry or found.verdict == "not_controlled" else between_of(walk)
    because = found.because if not liquor or dry else f"{found.because} That is of the liquor over sugar that may crystallise in the fridge."
    return KeepingReport(
        between_min=between.minutes, between_stop=between.stop, between_words=between.words,
        verdict=found.verdict, dry=dry, because=because,
        questions=[KeepingQuestion(code=q.code, words=_asked_words(q, contradicted, heated_words)) for q in found.questions],
        heated_words=heated_words, heated_seen=seen, aw_low=band[0] if band else None, aw_high=band[1] if band else None,
        ph_low=ph[0] if ph else None, ph_high=ph[1] if ph else None, ph_measured=measured,
        dated=_dated(walk, heat),
        limits=[KeepingLimit(title=x.title, days=x.days, kind=x.kind, decides=x is first, extends=x.extends) for x in limits],
        cooling=between.cooling, days=first.days if first else None, cautious_days=_cautious_days(walk, dry), frozen=frozen,
        words=_words(walk, found, first, dry, frozen),
        fallen=list(answers.fallen), fallen_words=_fallen_words(answers.fallen), rests_on=rests_on(walk),
    )  # fmt: skip


_NAMED: dict[Answer, str] = {"heat_treated": "heat", "packaged": "packaging", "ph": "pH"}


def _fallen_words(fallen: Sequence[Answer]) -> str:
    if not fallen:
        return ""
    names = [_NAMED[each] for each in fallen]
    listed = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
    return f"The formula has changed since the answers on {listed}: answer again."


def _is_dry(walk: Walk) -> bool:
    """Whether it is dry in every part: too little water, and none that a wet part brought, unless that was boiled away."""
    held = walk.product
    if bool(held.is_liquid[0]) or not float(held.water_g[0]) < _DRY * float(held.total_g[0]):
        return False
    wet_g, last = 0.0, -1
    for index, stage in enumerate(walk.stages):
        for line in stage.ingredients:
            water = float(walk.method.substances[line.substance].mass_fraction[c.WATER])
            grams = float(walk.end.lines[line.id][0])
            if line.id in held.touched and grams > 0 and water >= _DRY:
                wet_g, last = wet_g + water * grams, index
    if wet_g <= _DAMP * float(held.total_g[0]):
        return True
    return any(
        stage.id in walk.method.trunk
        and (after := step.after.vessels.get(stage.writes())) is not None
        and max(float(after.warmth_c[0]), 0.0 if step.trace is None else float(step.trace.temperature_c[0].max())) >= _BOILED_DRY_C
        for stage, step in zip(walk.stages[last + 1 :], walk.steps[last + 1 :], strict=True)
    )


def _water_activity(walk: Walk, read: Mapping[str, Reading]) -> tuple[tuple[float, float] | None, bool]:
    """The band that decides, and whether it is that of the liquor over crystals: where sugar drops, what is left over it is wetter."""
    aw = read.get("water_activity")
    if aw is None or not np.isfinite(aw.value[0]):
        return None, False
    low, high = float(aw.low[0]), float(aw.high[0])
    least, most = (float(end[0]) for end in over_crystals(walk))
    if np.isfinite(least):
        return (max(low, least), max(high, most, least)), True
    return (low, high), bool(np.isfinite(most))


def _ph(told: KeepingDoc | None, read: Mapping[str, Reading]) -> tuple[tuple[float, float] | None, bool]:
    if told is not None and told.ph is not None:
        return (told.ph - PH_SPREAD, told.ph + PH_SPREAD), True
    ph = read.get("ph")
    if ph is not None and np.isfinite(ph.value[0]):
        return (float(ph.low[0]), float(ph.high[0])), False
    return None, False


def _asked_words(question: Question, contradicted: bool, heated_words: str) -> str:
    """A question; where an answer stands against what the walk sees, both, and what to do."""
    if question.code != "heat" or not contradicted:
        return question.words
    return f"You answered that all of it was heated. {heated_words} Put in a stage that heats all of it to {HEATED_C:.0f} °C, or answer no."


#: The day a foam is beaten is its only one (families' own word: the day, hours, at once; common practice, no source).
FOAM_DAYS = 1


def _limits(walk: Walk, found: Assessment, dry: bool, heat: Heated) -> Iterator[Limit]:
    kitchen = walk.kitchen
    if not dry and found.verdict != "not_controlled":
        yield Limit(
            f"the local {_count(kitchen.chilled_days)}-day mark", kitchen.chilled_days, "rule",
            "Freezing pauses its days and never resets them; or make it sour or sugary enough that the tables do not ask for cold.",
        )  # fmt: skip
    beaten = [stage for stage in walk.stages if isinstance(stage, Aerate)]
    if float(walk.product.air_ml[0]) > 0 and beaten and beaten[-1].tool != "siphon":
        # A foam drains within the day, whatever it is made of; out of a siphon it is fresh each time, and the cream's date counts.
        yield Limit("the foam, which drains", FOAM_DAYS, "part", "Keep what it is beaten from, cold, and beat it when it is wanted.")
    method = walk.method
    for id, line in method.lines.items():
        book = method.substances[line.substance]
        if id not in walk.product.touched or not float(walk.end.lines[id][0]) > 0:
            continue
        if book.made is not None and book.made.days is not None and any(_counts(each, id, heat) for each in method.contents_of(id)):
            yield _own_limit(book.made)
        if book.made is not None or not _own_date_counts(book, id not in heat.raw):
            continue
        if book.opened is None or book.opened.days.low > _LONG_DAYS:
            continue
        title = method.short_titles[id]
        yield Limit(
            f"{title}, once opened", max(int(book.opened.days.low), 1), "part",
            f"{capital(title)} that keeps longer once opened, or from a fresh pack, by what that pack says; or leave it out until service.",
        )  # fmt: skip


def _own_limit(made: Made) -> Limit:
    """What the own keeping of something made here allows, by what decides that."""
    name, by = made.version.name, made.days_by
    assert made.days is not None
    title = f"{by} of {name}" if by.startswith("the ") else f"{by}, in {name}"
    return Limit(title, made.days, "part", f"{name} made the same day: its own days count from when it is made.")


def _own_date_counts(book: Substance, heated: bool) -> bool:
    """Whether a part's own dates bound the product: of what is kept cold once opened, unless heat came after; of dairy and plant always."""
    cold = book.storage == "chilled" or (book.opened is not None and book.opened.storage == "chilled")
    return cold and (book.kind in _ALWAYS or not heated)


def _counts(each: Content, line: str, heat: Heated) -> bool:
    """Whether the own dates of what a line is of bound the product, whatever it was heated in."""
    return _own_date_counts(each.book, line not in heat.raw or each.was_c >= HEATED_C)


def _dated(walk: Walk, heat: Heated) -> list[str]:
    """Ids of the substances whose own dates count, each once."""
    there = [id for id in walk.method.lines if id in walk.product.touched and float(walk.end.lines[id][0]) > 0]
    found = [each for id in there for each in walk.method.contents_of(id) if _counts(each, id, heat)]
    return list(dict.fromkeys(each.book.of or each.substance for each in found))


def _cautious_days(walk: Walk, dry: bool) -> int:
    """The local rule's days; of what is dry the shortest life of a part once opened, whatever it is kept in."""
    if not dry:
        return walk.kitchen.chilled_days
    there = [each.book for id in walk.method.lines if id in walk.product.touched for each in walk.method.contents_of(id)]
    return min((max(int(book.opened.days.low), 1) for book in there if book.opened is not None), default=walk.kitchen.chilled_days)


def _count(days: int) -> str:
    names = {1: "one", 2: "two", 3: "three", 4: "four", 5: "five", 6: "six", 7: "seven", 8: "eight", 9: "nine", 10: "ten", 14: "fourteen"}
    return names.get(days, str(days))


def _words(walk: Walk, found: Assessment, first: Limit | None, dry: bool, frozen: bool) -> str:
    cold = f"at {walk.kitchen.holding_c:g} °C or below"
    unusual = walk.kitchen.holding_c > USUAL_HOLDING_C[1]
    warm = walk.kitchen.fridge_c > walk.kitchen.holding_c
    cold += f" (warmer than the usual {USUAL_HOLDING_C[0]:g} or {USUAL_HOLDING_C[1]:g} °C: check your local food code)" if unusual else ""
    cold += f" (this kitchen's fridge is at {walk.kitchen.fridge_c:g} °C: too warm for that)" if warm else ""
    if dry:
        return "Dry: it keeps as long as its ingredients do, cool, dark and closed. " + DEFERS
    days = "" if first is None else f", {first.days} day{'s' if first.days != 1 else ''}, counting the day of making, decided by {first.title}"
    if first is not None and first.kind == "rule" and first.days > USUAL_CHILLED_DAYS:
        days += f", longer than the usual {_count(USUAL_CHILLED_DAYS)}: check your local food code"
    paused = " Freezing pauses these days." if frozen else ""
    if found.verdict == "controlled":
        return f"Keep chilled {cold}{days}.{paused} {DEFERS}"
    if found.verdict == "ask":
        return f"No verdict on keeping yet: {_asks(found)}. Until then keep it chilled {cold}{days}.{paused} {DEFERS}"
    if first is not None:
        return f"By the tables it does not need to be kept cold, but keep it chilled{days}.{paused} {DEFERS}"
    return (
        "By the tables it does not need to be kept cold. "
        f"No table says how long it stays good: only your own shelf trial does. Moulds still grow. {DEFERS}"
    )


_ASKED = {"heat": "heat treatment", "packaging": "packaging", "ph": "its pH", "ph_close": "its pH", "water_activity": "its water activity"}


def _asks(found: Assessment) -> str:
    names = list(dict.fromkeys(_ASKED[question.code] for question in found.questions))
    return f"{names[0] if len(names) == 1 else ', '.join(names[:-1]) + ' and ' + names[-1]} must be known"


DEFERS = "Your local food code and a qualified person decide."


def keeping_consequence(report: KeepingReport) -> Iterator[Consequence]:
    """Keeping as a plain consequence, with its working."""
    if report.between_words:
        tone = "stop" if report.between_stop else "look"
        yield Consequence(
            "between",
            tone,
            report.between_words,
            "Time in which germs grow, over everything that ends in it. FDA Food Code 2022, 3-501.14 and 3-501.19.",
            None,
            0,
        )
    if not report.dry:
        yield Consequence("keeping", "look" if report.verdict == "ask" else "fine", report.words, report.because, "water_activity", 2)
