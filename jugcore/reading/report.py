"""The report of one walk, as plain data: what every screen, shell and file reads.

The first case is reported. Units stand in the field names.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jugcore import __version__
from jugcore import components as c
from jugcore.figures import Floats, finite_or_none, first_or_none
from jugcore.matter.matter import Matter
from jugcore.matter.substance import ALLERGEN_LISTS, EU_ALLERGENS
from jugcore.method.method import Method
from jugcore.method.stages import StageBase, Step, Trace
from jugcore.method.walk import Walk
from jugcore.physics import sucrose, water
from jugcore.reading.catalogue import GROUP_OF, readings
from jugcore.reading.cautions import Cautions
from jugcore.reading.consequences import consequences
from jugcore.reading.equipment.cross_contact import CLEAN, cross_contact
from jugcore.reading.keeping.assessment import keeping_consequence, keeping_of
from jugcore.reading.line_shares import shares_of_all
from jugcore.reading.readings.base import GROUPS, Reading
from jugcore.reading.readings.cold import own_cold_limit_brix
from jugcore.reading.readings.flow import curve
from jugcore.reading.schema import (
    AllergenReport,
    BandMass,
    ConsequenceReport,
    FaultReport,
    FlowReport,
    InputReport,
    Landmark,
    LineReport,
    MadeHereReport,
    MatterReport,
    ReadingReport,
    StageReport,
    SweetLineReport,
    ThicknessReport,
    TraceReport,
    VesselReport,
    WalkReport,
)
from jugcore.reading.stage_outcomes import outcomes, span_of
from jugcore.reading.windows import family_report


def report(walk: Walk) -> WalkReport:
    """Read a walk's first case into plain data."""
    product = walk.product
    nothing = Matter.nothing(walk.cases)
    held = [(s.writes(), step.after.vessels.get(s.writes(), nothing)) for s, step in zip(walk.stages, walk.steps, strict=True)]
    at_end = (walk.method.product, product)
    fridge_c = float(walk.of_kitchen("fridge_c")[0])
    *behind, hot, cold = _vessels(walk, [*held, at_end, at_end], [*([None] * (len(held) + 1)), fridge_c])
    cautions = Cautions(walk)
    stages = [_stage(walk, s, step, after, cautions) for s, step, after in zip(walk.stages, walk.steps, behind, strict=True)]
    read = readings(walk)
    keeping = keeping_of(walk)
    # Keeping is said besides: nothing louder may push it out.
    said = [*consequences(walk), *keeping_consequence(keeping)] if float(product.total_g[0]) > 0 else []
    ready = walk.end.ready_at_s.get(walk.method.product, np.zeros((walk.cases, 3)))
    return WalkReport(
        core_version=__version__,
        product=hot,
        cold_product=cold,
        lines=_lines(walk),
        stages=stages,
        readings=[_reading(r) for r in read],
        consequences=[ConsequenceReport(id=x.id, tone=x.tone, text=x.text, because=x.because, about=x.about) for x in said],
        keeping=keeping,
        family=family_report(walk, {reading.id: reading for reading in read}),
        thickness=[ThicknessReport(temperature_c=t, low=low, value=value, high=high) for t, low, value, high in curve(walk)],
        sweet_line=_sweet_line(walk),
        allergens=allergens_of(walk),
        allergen_list=ALLERGEN_LISTS["eu"][0],
        cross_contact=cross_contact(walk),
        cross_contact_advice=CLEAN,
        made_here=made_here_of(walk.method),
        faults=faults_of(walk, None),
        duration=span_of(ready),
        matter=_matter(walk),
        passes=walk.passes,
    )


def made_here_of(method: Method) -> list[MadeHereReport]:
    """The lines that are formulas of ours."""
    found = []
    for id, line in method.lines.items():
        made = method.substances[line.substance].made
        if made is not None:
            within = list(dict.fromkeys(used.name for used in made.uses))
            found.append(
                MadeHereReport(
                    line=id, substance=line.substance, formula=made.version.formula, name=made.version.name, version=made.version.version,
                    within=within,
                )
            )  # fmt: skip
    return found


def _matter(walk: Walk) -> MatterReport:
    def grams(mass_g: Floats) -> dict[str, float]:
        return {c.NAMES[i]: float(mass_g[0, i]) for i in np.flatnonzero(mass_g[0])}

    return MatterReport(
        came_in=grams(walk.came_in_g()),
        made={cause: grams(mass_g) for cause, mass_g in walk.end.made.items()},
        vessels={vessel: grams(held.mass_g) for vessel, held in walk.end.vessels.items()},
        away={cause: grams(mass_g) for cause, mass_g in walk.end.away.items()},
    )


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


def _vessels(walk: Walk, held: Sequence[tuple[str, Matter]], at_c: Sequence[float | None]) -> list[VesselReport]:
    """Reports of many vessels at once, each as warm as it is or at a temperature: their first cases become the cases of one matter."""
    zero = np.zeros(len(held))
    together = Matter(
        np.stack([m.mass_g[0] for _, m in held]),
        np.array([m.enthalpy_j[0] for _, m in held]),
        np.zeros((len(held), 0)), np.zeros((len(held), 0)), zero,
    )  # fmt: skip
    t = np.array([own if brought is None else brought for own, brought in zip(together.temperature_c.tolist(), at_c, strict=True)])
    volume = together.volume_ml(t)
    volumes = _band_volumes(together.mass_g, volume, t)
    masses = together.mass_g @ _MASKS
    brix, total = np.where(together.is_liquid, together.brix, np.nan), together.total_g
    return [
        VesselReport(
            vessel=vessel,
            name=walk.method.vessel_name(vessel),
            mass_g=float(total[i]),
            temperature_c=finite_or_none(float(t[i])),
            brix=finite_or_none(float(brix[i])),
            volume_ml=finite_or_none(float(volume[i])),
            bands=[
                BandMass(band=band, title=title, mass_g=m, volume_ml=finite_or_none(v))
                for (band, title, _), m, v in zip(c.BANDS, masses[i].tolist(), volumes[i].tolist(), strict=True)
            ],
        )
        for i, (vessel, _) in enumerate(held)
    ]


def faults_of(walk: Walk, stage: str | None) -> list[FaultReport]:
    """The faults of the first case, at one stage or, for None, all of them."""
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
        trace=None if step.trace is None else _trace(step.trace),
        **outcomes(walk, stage, step),
    )


def _trace(trace: Trace) -> TraceReport:
    return TraceReport(
        seconds=trace.seconds[0].tolist(), mass_g=trace.mass_g[0].tolist(), temperature_c=trace.temperature_c[0].tolist(),
        brix=[finite_or_none(brix) for brix in trace.brix[0].tolist()],
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
        value=first_or_none(r.value),
        low=first_or_none(r.low),
        high=first_or_none(r.high),
        why_not=r.why_not,
        formula=r.basis.formula,
        inputs=[InputReport(name=n, value=finite_or_none(v), unit=u) for n, v, u in r.inputs],
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
        brix = None if held is None or not held.is_liquid[0] else first_or_none(held.brix)
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
        starts = first_or_none(walk.product.brix)
    return SweetLineReport(path_brix=path, starts_brix=starts, landmarks=sorted(marks, key=lambda m: m.brix))


def allergens_of(walk: Walk) -> list[AllergenReport]:
    """Allergens of everything that ever touched the product; straining removes none."""
    method = walk.method
    touched = [each for id in method.lines if id in walk.product.touched for each in method.contents_of(id)]
    found: list[AllergenReport] = []
    for allergen in EU_ALLERGENS:
        sure = [each.where for each in touched if allergen in each.book.allergens]
        maybe = [each.where for each in touched if allergen in each.book.check_pack_for]
        if sure or maybe:
            lists = [name for name, (_, named) in ALLERGEN_LISTS.items() if allergen in named]
            found.append(AllergenReport(allergen=allergen, lines=sure or maybe, certain=bool(sure), lists=lists))
    return found
