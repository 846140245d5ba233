"""Everything about a drink over its sizes, as plain data: reads of its one walk."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from jugcore.dosing.strokes import EVEN
from jugcore.drinks.cautions import drink_cautions
from jugcore.drinks.contains import Contains, contains_of
from jugcore.drinks.cup import Cup
from jugcore.drinks.document import DrinkDocument, SizeDoc, drink_as_sent
from jugcore.drinks.even_out import Doses, even_out, with_doses
from jugcore.drinks.layers import PouredLayer, layers_of, words_of
from jugcore.drinks.poured import Poured, Ranged, pour
from jugcore.drinks.readings import DrinkReading, likely_of, read, readings_of
from jugcore.drinks.schema import (
    ComponentInSize,
    ComponentOut,
    DrinkAllergen,
    DrinkFault,
    DrinkFigure,
    DrinkSizesReport,
    DrinkWayOut,
    DrinkWaysReport,
    DrinkWaysRequest,
    EvenDoses,
    Evenness,
    EvenOutReport,
    EvenOutRequest,
    LayerOut,
    LevelOut,
    MovedOut,
    RangedOut,
    SizeOut,
    SwapChange,
    SwapOut,
    SwapsReport,
    SwapsRequest,
)
from jugcore.drinks.search import without_ranges
from jugcore.drinks.swaps import MILKS, Level, levels_of, swaps
from jugcore.drinks.ways import ways_to
from jugcore.drinks.wording import pouring_order
from jugcore.figures import Floats, shown

#: Sugars in 100 ml that ice takes away within ten minutes are told from here on. [g]
_THINS_BY = 0.2


def drink_sizes_report(cup: Cup) -> DrinkSizesReport:
    """A drink over its sizes: what is in each, every reading with its range, evenness, allergens, and what to look after."""
    poured = pour(cup)
    layers = layers_of(poured)
    contained = contains_of(poured)
    readings = readings_of(poured)
    said_of = drink_cautions(poured)
    return DrinkSizesReport(
        name=cup.drink.name,
        sizes=[_size(poured, layers, contained, said_of, index) for index in range(poured.sizes)],
        components=_components(poured, layers),
        readings=[_figure(each) for each in readings],
        allergens=[DrinkAllergen(**{**vars(each), "brought_by": list(each.brought_by)}) for each in contained.allergens],
        evenness=evenness_of(poured),
        pouring=[*_order(poured), *words_of(poured, layers)],
        notes=list(_notes(poured, readings)),
        uncertain=[each.why for each in cup.uncertain],
        levels=[_level(each) for each in levels_of(cup)],
        faults=_faults(poured),
    )  # fmt: skip


def _level(level: Level) -> LevelOut:
    return LevelOut(
        name=level.name, title=level.title, sugars_100ml=_list(level.sugars_100ml), share=_list(level.share), fills_ml=_list(level.fills_ml)
    )  # fmt: skip


def even_out_report(cup: Cup, ask: EvenOutRequest, asked: DrinkDocument) -> EvenOutReport:
    """A reading made the same in every size, as plain data. ``asked`` is the drink as it was sent, before a pantry was put to it."""
    found = even_out(cup, ask.component, ask.reading, ask.target)
    return EvenOutReport(
        reading=found.reading, component=found.component, target=found.target, not_reached=list(found.not_reached),
        in_grams=_doses(cup, found.component, found.in_grams, asked), in_strokes=_doses(cup, found.component, found.in_strokes, asked),
        best=_doses(cup, found.component, found.best, asked), words=list(found.words),
    )  # fmt: skip


def drink_ways_report(cup: Cup, ask: DrinkWaysRequest, asked: DrinkDocument) -> DrinkWaysReport:
    """Ways to bring a reading of one size to a value, as plain data. ``asked`` is the drink as it was sent."""
    ways = ways_to(cup, ask.size, ask.reading, ask.value)
    index = [size.id for size in cup.sizes].index(ask.size)
    now = likely_of(pour(without_ranges(cup)), ask.reading)[index]
    return DrinkWaysReport(
        size=ask.size, reading=ask.reading, value=ask.value, now=_or_none(now),
        ways=[
            DrinkWayOut(words=way.words, comes_to=way.comes_to, moved=[MovedOut(**vars(each)) for each in way.moved],
                        cautions=list(way.cautions), drink=drink_as_sent(way.drink, asked))
            for way in ways
        ],
    )  # fmt: skip


def asked_for(ask: SwapsRequest) -> tuple[str, ...]:
    """What is poured in place of a component: what was named, and the milks a bar offers where those are asked for or nothing is named."""
    return tuple(dict.fromkeys((*ask.others, *(MILKS if ask.milks or not ask.others else ()))))


def swaps_report(cup: Cup, ask: SwapsRequest, asked: DrinkDocument) -> SwapsReport:
    """Other things in place of one component, as plain data. ``asked`` is the drink as it was sent."""
    found = swaps(cup, ask.component, asked_for(ask), same_fat=ask.same_fat)
    return SwapsReport(
        component=ask.component,
        swaps=[
            SwapOut(
                substance=each.substance, title=each.title, gains=list(each.gains), loses=list(each.loses), words=list(each.words),
                changes=[
                    SwapChange(reading=c.reading, title=c.title, unit=c.unit, digits=c.digits, before=_list(c.before), after=_list(c.after))
                    for c in each.changes
                ],
                drink=drink_as_sent(each.drink, asked),
            )
            for each in found
        ],
    )  # fmt: skip


def evenness_of(poured: Poured) -> Evenness:
    """Sugars in 100 ml over the sizes, against the shop's window."""
    sizes, window = poured.cup.sizes, poured.cup.drink.sugars_window
    values = read(poured, "sugars_100ml").likely
    known = values[np.isfinite(values)]
    spread = float(known.max() / known.min() - 1) if len(known) > 1 and known.min() > 0 else None
    outside = [] if window is None else [s.id for s, v in zip(sizes, values, strict=True) if np.isfinite(v) and not window.low <= v <= window.high]
    if window is not None:
        named = {size.id: size.name for size in sizes}
        words = f"All within the shop's window of {shown(window.low)} to {shown(window.high)} g."
        if outside:
            words = f"{', '.join(named[id] for id in outside)} outside the shop's window of {shown(window.low)} to {shown(window.high)} g."
    elif len(known) < 2:
        words = "Only one size."
    elif spread is None:
        words = "Some sizes have none at all."
    elif spread <= EVEN:
        words = "Nobody tells the sizes apart by it."
    elif spread < 1:
        words = f"The sweetest has {100 * spread:.0f} % more than the least sweet."
    else:
        words = f"The sweetest has {1 + spread:.1f} times as much as the least sweet."
    return Evenness(
        reading="sugars_100ml", low=window.low if window else None, high=window.high if window else None, spread=spread, outside=outside, words=words
    )  # fmt: skip


def _size(poured: Poured, layers: list[PouredLayer], contained: Contains, said_of: list[list[str]], index: int) -> SizeOut:
    size = poured.cup.sizes[index]
    titles = poured.walk.method.titles
    iced = [step.figures["melted_g"] for stage, step in zip(poured.walk.stages, poured.walk.steps, strict=True) if stage.id == "on-ice"]
    return SizeOut(
        id=size.id, name=size.name, cup_ml=size.cup_ml, fill_ml=size.fill_ml, price=size.price, fills_ml=_or_none(poured.fills_ml[index]),
        ice_g=float(poured.ice.total_g[index]), melted_g=float(iced[0][index]) if iced else 0.0,
        layers=[
            LayerOut(component=each.component.id, title=titles[each.component.id], role=each.component.role, ml=float(each.ml[index]))
            for each in layers if each.ml[index] > 0
        ],
        curdling=contained.curdling[index], cautions=said_of[index],
    )  # fmt: skip


def _components(poured: Poured, layers: list[PouredLayer]) -> list[ComponentOut]:
    cup, titles = poured.cup, poured.walk.method.titles
    ml = {layer.component.id: layer.ml for layer in layers}
    found = []
    for component in cup.components:
        made = cup.substance_of(component.id).made
        in_sizes = []
        for index, size in enumerate(cup.sizes):
            one = cup.written.get((component.id, size.id))
            if one is not None:
                volume = _or_none(ml[component.id][index]) if component.id in ml else None
                in_sizes.append(
                    ComponentInSize(
                        size=size.id, grams=float(poured.grams(component.id)[index]), ml=volume, reading=one.reading, strokes=one.strokes,
                        fills_up=one.up_to_ml is not None,
                    )
                )  # fmt: skip
        found.append(
            ComponentOut(
                id=component.id, title=titles[component.id], role=component.role, substance=component.substance,
                version=made.version.version if made else None, formula=made.version.formula if made else None,
                stroke_ml=cup.stroke_ml(component), stroke_g=cup.stroke_g(component), in_sizes=in_sizes,
            )
        )  # fmt: skip
    return found


def _figure(reading: DrinkReading) -> DrinkFigure:
    return DrinkFigure(
        id=reading.id, title=reading.title, unit=reading.unit, digits=reading.digits, basis=reading.basis, why_not=reading.why_not,
        sizes=_ranged(reading.values),
    )  # fmt: skip


def _ranged(values: Ranged) -> list[RangedOut]:
    return [RangedOut(low=_or_none(a), likely=_or_none(b), high=_or_none(d)) for a, b, d in zip(values.low, values.likely, values.high, strict=True)]


def _order(poured: Poured) -> Iterator[str]:
    """The order of pouring, as it is written; what is pulled or steamed while the rest waits is named with it."""
    titles = poured.walk.method.titles
    order = pouring_order([titles[each.id] for each in poured.cup.components])
    if order:
        yield order
    if any(each.role == "coffee" for each in poured.cup.components) and any(each.air is not None for each in poured.cup.components):
        yield "Froth first, then pull the shot: a shot waits worse than foam."


def _notes(poured: Poured, readings: list[DrinkReading]) -> Iterator[str]:
    by_id = {each.id: each.values for each in readings}
    sizes = poured.cup.sizes
    lost = by_id["sugars_100ml"].likely - by_id["sugars_100ml_later"].likely
    thin = [i for i in range(len(sizes)) if poured.ice.total_g[i] > 0 and lost[i] >= _THINS_BY]
    if thin:
        least, most = f"{min(lost[i] for i in thin):.1f}", f"{max(lost[i] for i in thin):.1f}"
        yield (
            f"{_named(sizes, thin)} {'loses' if len(thin) == 1 else 'lose'} {least if least == most else f'{least} to {most}'} g of sugars in 100 ml "
            "within ten minutes as the ice melts. Serve at once."
        )
    over = np.nan_to_num(poured.fills_ml[: len(sizes)]) - np.array([size.cup_ml for size in sizes])
    line = np.array([np.nan if size.fill_ml is None else size.fill_ml for size in sizes])
    for i, size in enumerate(sizes):
        if over[i] > 0.5:
            yield f"{size.name} runs over by {over[i]:.0f} ml: less of something, or a larger cup."
        elif poured.fills_ml[i] - line[i] > 0.5:
            yield f"{size.name} stands {poured.fills_ml[i] - line[i]:.0f} ml above its line."
    rates = poured.cup.drink.rates
    least_margin = poured.cup.drink.least_margin if poured.cup.drink.least_margin is not None or rates is None else rates.least_margin
    # With the making, where that is known: a margin it eats up is none.
    made = by_id["margin_made"].likely
    margin = np.where(np.isfinite(made), made, by_id["margin"].likely)
    poor = [i for i in range(len(sizes)) if least_margin is not None and margin[i] < least_margin]
    if poor and least_margin is not None:
        left = " and ".join(sorted({f"{margin[i]:.0f} %" for i in poor}))
        leave = "leaves" if len(poor) == 1 else "leave"
        after = "after ingredients and making" if all(np.isfinite(made[i]) for i in poor) else "after ingredients"
        yield f"{_named(sizes, poor)} {leave} {left} of the price {after}, less than the {shown(least_margin)} % the shop asks for."


def _named(sizes: Sequence[SizeDoc], which: Sequence[int]) -> str:
    names = [sizes[i].name for i in which]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _faults(poured: Poured) -> list[DrinkFault]:
    found = []
    for fault, where in poured.faults:
        sizes = [size.id for size, has in zip(poured.cup.sizes, where, strict=True) if has]
        found.append(DrinkFault(code=fault.code, field=fault.field, message=fault.message, remedy=fault.remedy, sizes=sizes))
    return found


def _doses(cup: Cup, component: str, doses: Doses, asked: DrinkDocument) -> EvenDoses:
    strokes = None if doses.strokes is None else [each or None for each in doses.strokes]
    return EvenDoses(
        grams=_list(doses.grams), strokes=strokes, stroke_ml=doses.stroke_ml, values=_list(doses.values), off=_list(doses.off),
        worst=doses.worst, even=doses.even, drink=drink_as_sent(with_doses(cup.drink, component, doses), asked),
    )  # fmt: skip


def _list(values: Floats) -> list[float | None]:
    return [_or_none(each) for each in values]


def _or_none(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None
