"""The report of one walk, as plain data: what every screen, shell and file reads.

The first case is reported. Units stand in the field names.
"""

from __future__ import annotations

import math

import numpy as np

from jugcore import __version__
from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.matter import Matter
from jugcore.matter.substance import ALLERGEN_LISTS, EU_ALLERGENS
from jugcore.method.method import Method
from jugcore.method.phrases import LONGEST_S
from jugcore.method.stages import Adding, Aerate, Boil, Caramelise, Holding, Mill, StageBase, Steep, Step, Yielding
from jugcore.method.stages.fill import containers_of
from jugcore.method.walk import Walk, walk
from jugcore.physics import sucrose, water
from jugcore.reading.blend import Premix, dominant, premix, strength_shares
from jugcore.reading.catalogue import GROUP_OF, readings
from jugcore.reading.cautions import Cautions
from jugcore.reading.consequences import consequences
from jugcore.reading.equipment.cross_contact import CLEAN, carried
from jugcore.reading.equipment.pots import FOAM_FACTOR
from jugcore.reading.keeping.assessment import keeping_report
from jugcore.reading.line_shares import shares_of_all
from jugcore.reading.processes.outcomes import caramel_report, drawn, foam_report, hold_report
from jugcore.reading.readings.base import GROUPS, Reading
from jugcore.reading.readings.cold import own_cold_limit_brix
from jugcore.reading.readings.flow import curve
from jugcore.reading.schema import (
    AllergenReport,
    BandMass,
    BlendReport,
    BoilReport,
    ConsequenceReport,
    FaultReport,
    FillReport,
    FlowReport,
    InputReport,
    Landmark,
    LineReport,
    MatterReport,
    MillReport,
    PremixReport,
    ReadingReport,
    Span,
    StageReport,
    StrengthReport,
    SweetLineReport,
    ThicknessReport,
    TraceReport,
    VesselReport,
    WalkReport,
    YieldReport,
)
from jugcore.reading.windows import family_report


def report(walk: Walk) -> WalkReport:
    """Read a walk's first case into plain data."""
    product = walk.product
    nothing = Matter.nothing(walk.cases)
    held = [(s.writes(), step.after.vessels.get(s.writes(), nothing)) for s, step in zip(walk.stages, walk.steps, strict=True)]
    *behind, hot = _vessels(walk, [*held, (walk.method.product, product)])
    cautions = Cautions(walk)
    stages = [_stage(walk, s, step, after, cautions) for s, step, after in zip(walk.stages, walk.steps, behind, strict=True)]
    read = readings(walk)
    keeping = keeping_report(walk, {reading.id: reading for reading in read})
    ready = walk.end.ready_at_s.get(walk.method.product, np.zeros((walk.cases, 3)))
    return WalkReport(
        core_version=__version__,
        product=hot,
        cold_product=_vessels(walk, [(walk.method.product, product)], float(walk.of_kitchen("fridge_c")[0]))[0],
        lines=_lines(walk),
        stages=stages,
        readings=[_reading(r) for r in read],
        consequences=[
            ConsequenceReport(id=x.id, tone=x.tone, text=x.text, because=x.because, about=x.about) for x in consequences(walk, read, keeping)
        ],
        keeping=keeping,
        family=family_report(walk, {reading.id: reading for reading in read}),
        thickness=[ThicknessReport(temperature_c=t, low=low, value=value, high=high) for t, low, value, high in curve(walk)],
        sweet_line=_sweet_line(walk),
        allergens=allergens_of(walk),
        allergen_list=ALLERGEN_LISTS["eu"][0],
        shared=carried(walk),
        shared_advice=CLEAN,
        faults=faults_of(walk, None),
        duration=span_of(ready),
        matter=_matter(walk),
        passes=walk.passes,
    )


def _matter(walk: Walk) -> MatterReport:
    def grams(mass_g: Floats) -> dict[str, float]:
        return {c.NAMES[i]: float(mass_g[0, i]) for i in np.flatnonzero(mass_g[0])}

    return MatterReport(
        came_in=grams(walk.came_in_g()),
        made={cause: grams(mass_g) for cause, mass_g in walk.end.made.items()},
        vessels={vessel: grams(held.mass_g) for vessel, held in walk.end.vessels.items()},
        away={cause: grams(mass_g) for cause, mass_g in walk.end.away.items()},
    )


def number_or_none(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _first(array: Floats) -> float | None:
    return number_or_none(float(array[0]))


def span_of(seconds: Floats) -> Span:
    low, typical, high = (min(float(x), LONGEST_S) for x in seconds[0])
    return Span(low_s=low, typical_s=typical, high_s=high)


_MASKS = np.stack([mask for _, _, mask in c.BANDS], axis=1)  # (C, B)
_ML_PER_G = 1e3 / c.DENSITY
_WATER_BAND = [band for band, _, _ in c.BANDS].index("water")


def _bands(mass_g: Floats) -> list[BandMass]:
    """Masses by band."""
    masses = mass_g @ _MASKS
    return [BandMass(band=band, title=title, mass_g=m) for (band, title, _), m in zip(c.BANDS, masses.tolist(), strict=True)]


def _band_volumes(mass_g: Floats, volume_ml: Floats, temperature_c: Floats) -> Floats:
    """Partial volumes (K, B) that add up to ``volume_ml``; NaN where there is none.

    Fat and solids take their own volume and water its own; what the liquid
    occupies beyond its water goes to the dissolved solids, by mass.
    """
    undissolved = mass_g * (1 - c.SUGAR_LIKE)
    undissolved[:, c.WATER] = 0.0
    own = (undissolved * _ML_PER_G) @ _MASKS
    water_ml = mass_g[:, c.WATER] / (water._density_kg_m3(np.nan_to_num(temperature_c)) / 1e3)
    dissolved = mass_g @ c.SUGAR_LIKE
    per_g = (volume_ml - own.sum(axis=1) - water_ml) / np.where(dissolved > 0, dissolved, np.inf)
    volumes = own + per_g[:, None] * ((mass_g * c.SUGAR_LIKE) @ _MASKS)
    volumes[:, _WATER_BAND] = np.where(np.isnan(volume_ml), np.nan, water_ml)
    return np.asarray(volumes)


def _vessels(walk: Walk, held: list[tuple[str, Matter]], at_c: float | None = None) -> list[VesselReport]:
    """Reports of many vessels at once: their first cases become the cases of one matter."""
    if not held:
        return []
    zero = np.zeros(len(held))
    together = Matter(
        np.stack([m.mass_g[0] for _, m in held]),
        np.array([m.enthalpy_j[0] for _, m in held]),
        np.zeros((len(held), 0)), np.zeros((len(held), 0)), zero,
    )  # fmt: skip
    t = together.temperature_c if at_c is None else np.full(len(held), at_c)
    volume = together.volume_ml(t)
    volumes = _band_volumes(together.mass_g, volume, t)
    masses = together.mass_g @ _MASKS
    brix, total = np.where(together.is_liquid, together.brix, np.nan), together.total_g
    return [
        VesselReport(
            vessel=vessel,
            name=walk.method.vessel_name(vessel),
            mass_g=float(total[i]),
            temperature_c=number_or_none(float(t[i])),
            brix=number_or_none(float(brix[i])),
            volume_ml=number_or_none(float(volume[i])),
            bands=[
                BandMass(band=band, title=title, mass_g=m, volume_ml=number_or_none(v))
                for (band, title, _), m, v in zip(c.BANDS, masses[i].tolist(), volumes[i].tolist(), strict=True)
            ],
        )
        for i, (vessel, _) in enumerate(held)
    ]


def faults_of(walk: Walk, stage: str | None) -> list[FaultReport]:
    return [
        FaultReport(code=f.code, field=f.field, message=f.message, remedy=f.remedy, stage=f.stage)
        for f in walk.faults
        if bool(f.cases[0]) and (stage is None or f.stage == stage)
    ]


def _stage(walk: Walk, stage: StageBase, step: Step, after: VesselReport, cautions: Cautions) -> StageReport:
    flows = [
        FlowReport(source=f.source, target=f.target, mass_g=float(f.mass_g[0].sum()), bands=_bands(f.mass_g[0]))
        for f in step.flows
        if not f.source.startswith("line:")
    ]
    trace = step.trace
    boil = _boil(walk, stage, step) if isinstance(stage, Boil) else None
    fill = None
    if "containers" in step.figures:
        fill = FillReport(
            containers=int(step.figures["containers"][0]),
            words=containers_of(step, float(getattr(stage, "size_ml", 0.0))).words,
            per_container_g=_first(step.figures["per_container_g"]),
            left_over_g=float(step.figures["left_over_g"][0]),
            size_ml=float(getattr(stage, "size_ml", 0.0)),
            fill_c=_first(step.figures["fill_c"]),
            cold_ml=_first(step.figures["cold_ml"]),
        )
    return StageReport(
        id=stage.id,
        kind=stage.kind,
        name=stage.name or stage.title,
        summary=stage.summary(walk.at(stage)),
        trunk=stage.id in walk.method.trunk,
        after=after,
        flows=flows,
        duration=span_of(step.duration_s),
        hands=span_of(step.hands_s),
        cautions=cautions.at(stage),
        faults=faults_of(walk, stage.id),
        trace=None
        if trace is None
        else TraceReport(
            seconds=trace.seconds[0].tolist(),
            mass_g=trace.mass_g[0].tolist(),
            temperature_c=trace.temperature_c[0].tolist(),
            brix=[number_or_none(brix) for brix in trace.brix[0].tolist()],
        ),
        boil=boil,
        fill=fill,
        blend=_blend(walk, stage) if isinstance(stage, Adding) else None,
        gives=_gives(walk, stage) if isinstance(stage, Yielding) else None,
        mill=MillReport(**{name: float(step.figures[name][0]) for name in MillReport.model_fields}) if isinstance(stage, Mill) else None,
        hold=hold_report(walk, stage, step) if isinstance(stage, Holding) else None,
        drawn=drawn(walk, stage) if isinstance(stage, Steep) else [],
        caramel=caramel_report(stage, step) if isinstance(stage, Caramelise) else None,
        foam=foam_report(walk, stage, step) if isinstance(stage, Aerate) else None,
    )


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
        first_boil_c=_first(step.figures["first_boil_c"]),
        heat_up=span_of(step.figures["heat_up_s"]),
        boil=span_of(step.figures["boil_s"]),
        headroom_ml=pot.capacity_ml / FOAM_FACTOR,
    )


def _blend(walk: Walk, stage: Adding) -> BlendReport | None:
    """A stage as a blend: where it puts together two things or more whose strength is known, or says what it makes in all."""
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


def _before_yields(method: Method) -> frozenset[str]:
    """Lines that are no part of the starting mixture any more: what was trimmed or pressed of them is."""
    last = max((i for i, stage in enumerate(method.stages) if stage.yields and stage.id in method.started_set), default=0)
    lines = [line for stage in method.stages[:last] for line in stage.ingredients]
    return frozenset(line.id for line in lines if not method.substances[line.substance].is_seasoning) - method.started_set


def _lines(walk: Walk) -> list[LineReport]:
    method = walk.method
    titles = method.titles
    texts = method.amount_texts
    started = sum(float(walk.end.lines[id][0]) for id in method.started if id in walk.end.lines)
    before = _before_yields(method)
    shares = shares_of_all(walk)
    found: list[LineReport] = []
    for stage in method.stages:
        for id in stage.weighed_ids:
            kind = method.substances[method.lines[id].substance].kind if id in method.lines else stage.kind
            grams = float(walk.end.lines.get(id, np.zeros(1))[0])
            weighed = method.weighed.get(id)
            given = weighed is None
            found.append(
                LineReport(
                    id=id,
                    stage=stage.id,
                    title=titles[id],
                    kind=kind,
                    mass_g=grams,
                    low_g=grams if weighed is None else weighed.low_g,
                    high_g=grams if weighed is None else weighed.high_g,
                    share=shares.get(id),
                    share_started=grams / started if started > 0 and id not in before else None,
                    text=texts[id],
                    understood=texts[id] if weighed is None else weighed.reading,
                    tied=given,
                    amount=method.amounts[id],
                )
            )
    return found


def _reading(r: Reading) -> ReadingReport:
    return ReadingReport(
        id=r.id,
        group=GROUPS[GROUP_OF[r.id]],
        title=r.title,
        unit=r.unit,
        digits=r.digits,
        value=_first(r.value),
        low=_first(r.low),
        high=_first(r.high),
        why_not=r.why_not,
        formula=r.basis.formula,
        inputs=[InputReport(name=n, value=number_or_none(v), unit=u) for n, v, u in r.inputs],
        source=r.basis.source,
        valid=r.basis.valid,
        error=r.basis.error,
        band=r.basis.band,
    )


def _sweet_line(walk: Walk) -> SweetLineReport:
    path: list[float] = []
    starts: float | None = None
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        if stage.id not in walk.method.trunk:
            continue
        if starts is None and stage.boils and path:
            starts = path[-1]
        held = step.after.vessels.get(stage.writes())
        brix = None if held is None or not held.is_liquid[0] else _first(held.brix)
        if brix is not None and brix <= 90 and (not path or abs(brix - path[-1]) > 0.005):
            path.append(brix)
    t = float(walk.of_kitchen("fridge_c")[0])
    room = float(walk.of_kitchen("room_c")[0])
    marks = [
        Landmark(id="equal", title="equal parts", brix=50.0),
        Landmark(id="cold", title=f"cold limit of sucrose, {t:g} °C", brix=float(sucrose.solubility_brix(t))),
        Landmark(id="two_to_one", title="two to one", brix=float(sucrose.brix_from_ratio(2.0))),
        Landmark(id="room", title=f"saturated at {room:g} °C", brix=float(sucrose.solubility_brix(room))),
    ]
    own = own_cold_limit_brix(walk.product, t)
    if own is not None and abs(own - marks[1].brix) > 0.05:
        marks.append(Landmark(id="own_cold", title="its own cold limit", brix=own))
    if starts is None and walk.product.is_liquid[0]:
        starts = _first(walk.product.brix)
    return SweetLineReport(path_brix=path, starts_brix=starts, landmarks=sorted(marks, key=lambda m: m.brix))


def allergens_of(walk: Walk) -> list[AllergenReport]:
    """Allergens of everything that ever touched the product; straining removes none."""
    method = walk.method
    lines = method.lines
    titles = method.titles
    touched = [id for id in lines if id in walk.product.touched]
    found: list[AllergenReport] = []
    for allergen in EU_ALLERGENS:
        sure = [titles[id] for id in touched if allergen in method.substances[lines[id].substance].allergens]
        maybe = [titles[id] for id in touched if allergen in method.substances[lines[id].substance].check_pack_for]
        if sure or maybe:
            lists = [name for name, (_, named) in ALLERGEN_LISTS.items() if allergen in named]
            found.append(AllergenReport(allergen=allergen, lines=sure or maybe, certain=bool(sure), lists=lists))
    return found
