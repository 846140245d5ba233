"""What a hold, a steep, a caramel and a foam come to, read off the walk. Indicative, and said so.

Ranges come from the slow and fast ends of each model, run over the same history.
"""

from __future__ import annotations

from typing import Literal

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats, shown
from jugcore.matter import infusion
from jugcore.matter.matter import AMYLASE, ENZYME_BEST, ENZYME_DIES, FREE_STARCH, MILLED, STARCH_IN, Matter
from jugcore.matter.substance import Substance
from jugcore.method.context import Context
from jugcore.method.reactions import in_the_heat
from jugcore.method.stages import Aerate, Caramelise, Holding, StageBase, Steep, Step
from jugcore.method.stages.hold import LOSS_FACTORS
from jugcore.method.state import State
from jugcore.method.walk import Walk, once
from jugcore.physics import caramel, starch
from jugcore.physics.foam import COFFEE_STAGES, TOOL_NAMES, VERDICTS, coffee_is, floats_on, foam_density_kg_m3, past_its_best, too_long_s
from jugcore.reading.processes.schema import CaramelReport, DrawnReport, EnzymeReport, FoamReport, HoldReport, RangeReport

#: How long a topped-up dose is given. [min]
_TOP_UP_MIN = 20.0


def before(walk: Walk, stage: StageBase) -> State:
    """The state a stage began with."""
    return walk.before(stage.id)


def _held(walk: Walk, stage: StageBase) -> Matter | None:
    return before(walk, stage).vessels.get(stage.vessel)


def _three(low: float, likely: float, high: float) -> RangeReport:
    return RangeReport(low=min(low, likely), likely=likely, high=max(high, likely))


def histories(walk: Walk, stage: Holding) -> list[tuple[Floats, Floats]]:
    """Seconds and temperatures of a hold as it loses heat slowly, as expected and fast."""
    return _histories(walk).get(stage.id, [])


@once
def _histories(walk: Walk) -> dict[str, list[tuple[Floats, Floats]]]:
    ctx = Context(walk.method, walk.kitchen, walk.cases, walk.given, {})
    holds = ((stage, _held(walk, stage)) for stage in walk.stages if isinstance(stage, Holding))
    return {stage.id: [stage.history(held, ctx, factor) for factor in LOSS_FACTORS] for stage, held in holds if held is not None}


def hold_report(walk: Walk, stage: Holding, step: Step) -> HoldReport | None:
    """A hold with the range of temperatures it may end at, and what an enzyme in it gets done."""
    ran = histories(walk, stage)
    if not ran:
        return None
    ends = [float(temperature[0, -1]) for _, temperature in ran]
    return HoldReport(
        where=stage.where, for_min=float(ran[1][0][0, -1]) / 60.0, starts_c=float(ran[1][1][0, 0]),
        ends_c=_three(min(ends), ends[1], max(ends)), enzyme=_enzyme(walk, stage, step, ran),
    )  # fmt: skip


def enzymes_in(walk: Walk, held: Matter) -> list[tuple[str, Substance]]:
    """Lines that brought an enzyme to what a vessel holds; none where no starch is there to cut."""
    method = walk.method
    books = [(id, each.book) for id in method.lines if id in held.touched for each in method.contents_of(id)]
    return [(id, book) for id, book in books if book.enzyme is not None and float(walk.end.lines[id][0]) > 0]


def why_no_promise(book: Substance) -> str:
    """What is missing of an enzyme before anything is promised of it; empty where nothing is."""
    enzyme = book.enzyme
    if enzyme is None or enzyme.is_known:
        return ""
    missing = [
        words
        for words, there in (
            ("where it works", enzyme.works_c), ("where it dies", enzyme.dies_c), ("activity", enzyme.activity and enzyme.activity_unit),
            ("dose", enzyme.dose_g_kg), ("the sheet's name", enzyme.sheet),
        )
        if not there
    ]  # fmt: skip
    return f"No figures for {book.title} yet: its data sheet is needed ({', '.join(missing)}). Enter it in the pantry."


def _enzyme(walk: Walk, stage: Holding, step: Step, ran: list[tuple[Floats, Floats]]) -> EnzymeReport | None:
    held = _held(walk, stage)
    if held is None or not float(held.tracer[0, STARCH_IN]) > 0:
        return None
    there = enzymes_in(walk, held)
    if not there:
        return None
    unknown = next((words for _, book in there if (words := why_no_promise(book))), "")
    if unknown:
        return EnzymeReport(promised=False, why_not=unknown, words=unknown)
    went_in = float(held.tracer[0, STARCH_IN])
    # The slow end: it cools fast and the enzyme is slow; the fast end the other way round.
    done = [in_the_heat(held, *ran[2 - i], pace).matter for i, pace in enumerate(("slow", "typical", "fast"))]
    left = [float(m.tracer[0, FREE_STARCH]) / went_in for m in done]
    thinned = _three(1 - left[0], 1 - left[1], 1 - left[2])
    live, was = float(done[1].tracer[0, AMYLASE]), float(held.tracer[0, AMYLASE])
    target = 1 - starch.THINNED_LEFT
    enough: Literal["yes", "maybe", "no"] = "yes" if thinned.low >= target else "no" if thinned.high < target else "maybe"
    more, top_up, words = _what_would_do(walk, done[1], float(ran[1][1][0, -1]), left[1], there[0][1], enough)
    before = 1 - float(held.tracer[0, FREE_STARCH]) / went_in
    leaves = _leaves_window_min(*ran[1], there[0][1])
    told = [_on_the_way(before, 1 - left[1]), _too_soon_cold(leaves, float(ran[1][0][0, -1]) / 60.0, there[0][1]), words]
    return EnzymeReport(
        promised=True, thinned=thinned, before=before, leaves_window_min=leaves, alive=live / was if was > 0 else 0.0, enough=enough, more_min=more,
        top_up_g=top_up, words=" ".join(each for each in told if each),
    )  # fmt: skip


def _on_the_way(before: float, after: float) -> str:
    """What was cut before the hold, where that is much of it, and what in it."""
    if before < 0.05:
        return ""
    return f"{100 * before:.0f} % was cut on the way here, {100 * max(after - before, 0.0):.0f} % in this hold."


def _leaves_window_min(seconds: Floats, temperature: Floats, book: Substance) -> float | None:
    """Minutes after which a course is colder than where an enzyme works; None where it never is, or was from the start."""
    works = book.enzyme.works_c if book.enzyme is not None else None
    course = temperature[0]
    if works is None or course[0] < works.low or course[-1] >= works.low:
        return None
    return float(np.interp(-works.low, -course, seconds[0])) / 60.0


def _too_soon_cold(leaves: float | None, lasts_min: float, book: Substance) -> str:
    if leaves is None or leaves > lasts_min / 3 or book.enzyme is None or book.enzyme.works_c is None:
        return ""
    window = f"{shown(book.enzyme.works_c.low)} to {shown(book.enzyme.works_c.high)} °C"
    minutes = shown(max(round(leaves), 1))
    return f"It is colder than {window} after {minutes} min: what is cut is cut on the way there, and the rest of the hold does nothing."


def _what_would_do(walk: Walk, after: Matter, end_c: float, left: float, book: Substance, enough: str) -> tuple[float | None, float | None, str]:
    """Minutes more, grams more of the enzyme, and what to say."""
    if enough == "yes":
        return None, None, "Thinned: test how it flows tomorrow, cold."
    went_in, live = float(after.tracer[0, STARCH_IN]), float(after.tracer[0, AMYLASE])
    best, dies = float(after.extent[0, ENZYME_BEST]), float(after.extent[0, ENZYME_DIES])
    needed = float(np.log(max(left, 1e-9) / starch.THINNED_LEFT))
    enzyme = book.enzyme
    assert enzyme is not None and enzyme.dose_g_kg is not None and enzyme.works_c is not None
    window = f"{shown(enzyme.works_c.low)} to {shown(enzyme.works_c.high)} °C"
    if needed <= 0:
        return 0.0, None, "Probably thinned by then, and a slow enzyme may not be done: hold it longer, or test it cold on a plate."
    at = np.array([end_c])
    half = float(starch.half_life_s(at, np.array([dies]))[0])
    rate = float(starch.thinning_rate_s(np.array([live / went_in]))[0] * starch.works_at(at, np.array([best]), np.array([dies]))[0])
    most = rate * half / np.log(2.0)  # all that the living enzyme can still do, however long it is left
    if most > needed:
        minutes = -half / np.log(2.0) * float(np.log(1 - needed / most)) / 60.0
        if minutes <= 8 * 60:
            return minutes, None, f"About {shown(round(minutes))} min more at {end_c:.0f} °C would thin it; warmer, within {window}, sooner."
    whole = float(starch.thinning_rate_s(np.array([1.0]))[0]) * 60.0 * _TOP_UP_MIN
    best_half = float(starch.half_life_s(np.array([best]), np.array([dies]))[0]) / 60.0
    lasts = best_half / np.log(2.0) * (1 - 0.5 ** (_TOP_UP_MIN / best_half)) / _TOP_UP_MIN
    grams = needed / (whole * lasts) * went_in / 1000.0 * enzyme.dose_g_kg.middle
    cool = f"bring it to {window} first, " if end_c > best + 2 else "warm it into that window, " if end_c < enzyme.works_c.low - 2 else ""
    dead = "The heat has destroyed the enzyme, and waiting does not help" if live < 0.05 * went_in else "What still works is too little to wait for"
    return None, grams, f"{dead}: {cool}stir in {shown(float(f'{grams:.2g}'))} g more of it and hold 20 min at {window}."


def drawn(walk: Walk, stage: Steep) -> list[DrawnReport]:
    """What is in a steep, against how long people leave such things in. No figure of what comes out."""
    held = _held(walk, stage)
    step = walk.step(stage.id)
    if held is None or step.trace is None:
        return []
    seconds, temperature = step.trace.seconds[:1], step.trace.temperature_c[:1]
    ground = float(held.extent[0, MILLED]) > 0.5
    medium = infusion.medium_of(held.mass_g[0] * ~c.INSOLUBLE.astype(bool), float(held.brix[0]))
    found = []
    for id, line in walk.method.lines.items():
        book = walk.method.substances[line.substance]
        if id not in held.touched or book.kind not in infusion.KINDS or not float(held.insoluble_g[0]) > 0:
            continue
        if float(book.mass_fraction @ c.INSOLUBLE) < 0.05:
            continue
        usual = infusion.steeping_of(book, ground=ground or book.is_ground)
        if usual is None:
            continue
        least, most = infusion.usual_minutes(usual, temperature[:, 0])
        early, late = (float(x[0]) for x in infusion.drawn_against_usual(usual, temperature, seconds))
        found.append(
            DrawnReport(
                line=id, title=walk.method.short_titles[id], least_min=float(least[0]), most_min=float(most[0]), of_least=early, of_most=late,
                verdict="early" if early < 0.999 else "past" if late > 1.001 else "usual", past=usual.past,
                medium=medium, medium_words=infusion.what_it_draws(book.kind, medium),
            )
        )  # fmt: skip
    return found


def caramel_report(stage: Caramelise, step: Step) -> CaramelReport | None:
    """A caramel's colour, with the lightest and darkest it may be."""
    share = step.figures["browned_share"][0]
    if not np.isfinite(step.figures["to_c"][0]):
        return None
    likely = float(share[1])
    # A climb faster or slower than usual lies within what a lagging probe leaves open.
    low, high = 1 - (1 - likely) ** (1 / caramel.SPREAD), 1 - (1 - likely) ** caramel.SPREAD
    lightest, darkest = caramel.colour(low), caramel.colour(high)
    climb = step.figures["climb_s"][0]
    return CaramelReport(
        to_c=float(step.figures["to_c"][0]), share=_three(low, likely, high), colour=caramel.colour(likely),
        colours=lightest if lightest == darkest else f"{lightest} to {darkest}", water_off_g=float(step.figures["boiled_off_g"][0]),
        browning_off_g=float(step.figures["browning_off_g"][0]), climb_low_s=float(climb[0]), climb_high_s=float(climb[2]),
    )  # fmt: skip


def foam_report(walk: Walk, stage: Aerate, step: Step) -> FoamReport | None:
    """A foam's air, volume and weight, and what it floats on."""
    held, state = _held(walk, stage), before(walk, stage)
    liquid = float(step.figures["liquid_ml"][0])
    if held is None or not np.isfinite(liquid) or liquid <= 0:
        return None
    ctx = Context(walk.method, walk.kitchen, walk.cases, walk.given, {})
    found = stage.foamed(held, state, ctx)
    low, likely, high = (float(x) for x in step.figures["overrun"][0])
    weigh = 1000.0 * float(held.total_g[0]) / liquid
    heavy, middle, light = (float(x) for x in foam_density_kg_m3(np.full(3, weigh), np.array([low, likely, high])))
    needs = step.figures["needs_s"][0]
    # Whipped coffee beaten for a time is what it is by then.
    words = (
        coffee_is(stage.seconds, stage.tool)
        if found.of_coffee and found.verdict == "whips" and stage.seconds is not None
        else VERDICTS[found.verdict]
    )
    too_long = too_long_s(stage.tool)
    over = stage.seconds is not None and stage.seconds > too_long
    if over:
        words = past_its_best(found.verdict, found.of_coffee)
    return FoamReport(
        tool=TOOL_NAMES[stage.tool], verdict=found.verdict, words=words, why=found.why, of_coffee=found.of_coffee,
        overrun=_three(low, likely, high), air=_three(*(100 * each / (100 + each) for each in (low, likely, high))),
        liquid_ml=liquid, foam_ml=_three(*(liquid * (1 + x / 100) for x in (low, likely, high))), density_kg_m3=_three(light, middle, heavy),
        needs_low_s=float(needs[0]), needs_high_s=float(needs[2]), too_long_s=too_long, over=over, floats=floats_on(light, heavy),
        stages=[f"{at:g} s: {words}" for at, words in COFFEE_STAGES] if found.of_coffee and found.verdict == "whips" else [],
    )  # fmt: skip
