"""What a boil, a filling, a blend, a hold and their like come to, as data."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from jugcore.figures import Floats, first_or_none
from jugcore.method.phrases import LONGEST_S
from jugcore.method.stages import Adding, Aerate, Boil, Caramelise, Fill, Holding, Mill, StageBase, Steep, Step, Yielding
from jugcore.method.stages.fill import containers_of
from jugcore.method.walk import Walk, walk
from jugcore.reading.blend import Premix, dominant, premix, strength_shares
from jugcore.reading.equipment.pots import FOAM_FACTOR
from jugcore.reading.processes.outcomes import caramel_report, drawn, foam_report, hold_report
from jugcore.reading.schema import (
    BlendReport,
    BoilReport,
    FillReport,
    MillReport,
    PremixReport,
    Span,
    StrengthReport,
    YieldReport,
)


def span_of(seconds: Floats) -> Span:
    """Low, typical and high seconds of the first case of a (K, 3) duration, none above a year [s]."""
    low, typical, high = (min(float(x), LONGEST_S) for x in seconds[0])
    return Span(low_s=low, typical_s=typical, high_s=high)


def _fill(walk: Walk, stage: Fill, step: Step) -> FillReport:
    return FillReport(
        containers=int(step.figures["containers"][0]),
        words=containers_of(step, stage.size_ml).words,
        per_container_g=first_or_none(step.figures["per_container_g"]),
        left_over_g=float(step.figures["left_over_g"][0]),
        size_ml=stage.size_ml,
        fill_c=first_or_none(step.figures["fill_c"]),
        cold_ml=first_or_none(step.figures["cold_ml"]),
    )


def _mill(walk: Walk, stage: Mill, step: Step) -> MillReport:
    return MillReport(**{name: float(step.figures[name][0]) for name in MillReport.model_fields})


def probe_doubt_brix(step: Step) -> float | None:
    """What half a degree of the probe makes in °Bx where a boil ends; None where it does not rise."""
    trace = step.trace
    if trace is None:
        return None
    rise = float(trace.temperature_c[0, -1] - trace.temperature_c[0, -2])
    gain = float(trace.brix[0, -1] - trace.brix[0, -2])
    return 0.5 * gain / rise if rise > 1e-9 and gain > 0 else None


def _boil(walk: Walk, stage: Boil, step: Step) -> BoilReport:
    pot = walk.kitchen.pot(walk.method.pot_id(stage.vessel))
    return BoilReport(
        off_g=float(step.figures["off_g"][0]),
        stop_g=float(step.figures["stop_g"][0]),
        pot_reads_g=float(step.figures["pot_reads_g"][0]),
        pot_name=pot.name,
        pot_tare_g=pot.tare_g,
        probe_c=float(step.figures["probe_c"][0]),
        probe_doubt_brix=probe_doubt_brix(step),
        first_boil_c=first_or_none(step.figures["first_boil_c"]),
        heat_up=span_of(step.figures["heat_up_s"]),
        boil=span_of(step.figures["boil_s"]),
        headroom_ml=pot.capacity_ml / FOAM_FACTOR,
    )


def _blend(walk: Walk, stage: Adding) -> BlendReport | None:
    """A stage as a blend: where it puts together two things or more whose strength is known, or says what it makes in total."""
    shares = strength_shares(walk, stage)
    if not shares and stage.total is None:
        return None
    loudest, larger = dominant(shares), premix(walk, stage)
    return BlendReport(
        total_g=sum(float(walk.end.lines[line.id][0]) for line in stage.lines),
        total_text=walk.method.amount_texts.get(stage.id),
        shares=[StrengthReport(line=s.line, title=s.title, mass_share=s.mass_share, low=s.low, high=s.high) for s in shares],
        dominant=None if loudest is None else loudest.line,
        premix=None if larger is None else premix_report(larger),
    )


def premix_report(larger: Premix) -> PremixReport:
    """A premix as data."""
    return PremixReport(**{name: getattr(larger, name) for name in PremixReport.model_fields})


def _gives(walked: Walk, stage: Yielding) -> YieldReport:
    """What a trimming or pressing gives, and what comes of the least and the most it may: one walk of four cases more."""
    step = walked.step(stage.id)
    gives, product = float(walked.end.lines[stage.id][0]), float(walked.product.total_g[0])
    of = gives + float(step.figures["cake_g"][0])
    yields = [each for each, _ in walked.each(Yielding)]
    if all(each.ends[0] == each.ends[1] for each in yields):
        return YieldReport(
            of_g=of, gives_g=gives, low_g=gives, high_g=gives, product_low_g=product, product_high_g=product, all_low_g=product, all_high_g=product
        )
    # Its own least and most beside the others as they are, then all at their least and all at their most.
    given = {each.path("yield_fraction"): np.array([*(each.ends if each is stage else [each.yield_fraction] * 2), *each.ends]) for each in yields}
    around = walk(walked.method, walked.kitchen, given)
    mine, products = around.end.lines[stage.id], around.product.total_g
    return YieldReport(
        of_g=of, gives_g=gives, low_g=float(mine[0]), high_g=float(mine[1]),
        product_low_g=float(products[:2].min()), product_high_g=float(products[:2].max()),
        all_low_g=float(products[2:].min()), all_high_g=float(products[2:].max()),
    )  # fmt: skip


#: What the report tells of stages of one class besides: its field, the class, and what reads it.
_OUTCOMES: tuple[tuple[str, type[StageBase], Callable[[Walk, Any, Step], object]], ...] = (
    ("boil", Boil, _boil),
    ("fill", Fill, _fill),
    ("blend", Adding, lambda walk, stage, step: _blend(walk, stage)),
    ("gives", Yielding, lambda walk, stage, step: _gives(walk, stage)),
    ("mill", Mill, _mill),
    ("hold", Holding, hold_report),
    ("drawn", Steep, lambda walk, stage, step: drawn(walk, stage)),
    ("caramel", Caramelise, lambda walk, stage, step: caramel_report(stage, step)),
    ("foam", Aerate, foam_report),
)


def outcomes(walk: Walk, stage: StageBase, step: Step) -> dict[str, Any]:
    """What a boil, a filling, a blend, a hold and their like come to, by the fields of :class:`StageReport`; empty for other stages."""
    return {field: read(walk, stage, step) for field, kind, read in _OUTCOMES if isinstance(stage, kind)}
