"""The document: a method with its kitchen and inline substances, as JSON.

:func:`parse_document` checks it and gives a :class:`Method` ready to walk. Every
problem found is reported with the field it is at (``lines.<id>.amount``,
``stages.<id>.until``) and with what to do.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, Self

import numpy as np
from pydantic import Field, ValidationError, model_validator

from jugcore import components as c
from jugcore.errors import BadDocument, DomainError, Floats, NotUnderstood, SeveralProblems
from jugcore.matter.library import library
from jugcore.matter.substance import Substance
from jugcore.measures.density import Weighed, grams_of
from jugcore.measures.parsing import Quantity, parse_amount
from jugcore.method.amounts import (
    All,
    Amount,
    AsMuchAs,
    Named,
    PartsOf,
    PerKg,
    Portion,
    Written,
    require_acyclic,
    said,
    short_names,
    understand,
)
from jugcore.method.brings import extents_of, tracers_of
from jugcore.method.carried import SubstanceDoc, substance_of
from jugcore.method.context import Context
from jugcore.method.explain import explain
from jugcore.method.fields import MOST_LINES, MOST_STAGES, Id, Part, Text, Title, number
from jugcore.method.kitchen import Kitchen
from jugcore.method.stages import Adding, Join, LineDoc, Press, Stage, StageBase, Strain, Trim, cake_of
from jugcore.method.trunk import starting_mixture, trunk_of


class VesselDoc(Part):
    """A vessel of the method; ``pot`` names one of the kitchen's pots."""

    id: Id
    name: Title | None = None
    pot: Id | None = None
    film_g: float | None = number(None, unit="g", ge=0, le=1000, description="What stays on its wall; else the kitchen's")


class RestsOn(Part):
    """What answers about keeping rest on: they fall away when it changes."""

    heat: str = Field(max_length=64, description="A mark of the stages, their heat and their lines.")
    made: str = Field(max_length=64, description="A mark of the stages that change what is in it.")
    shares: dict[Id, float] = Field({}, max_length=500, description="What went in, by substance, as a share of all.")
    brix: float | None = Field(None, ge=0, le=100, description="Dissolved solids of the product, where it is liquid [°Bx]")


class KeepingDoc(Part):
    """What somebody answered or measured about keeping; what nobody said is None."""

    heat_treated: bool | None = Field(None, description="All of it was brought to 72 °C or more, with nothing put in after.")
    packaged: bool | None = Field(None, description="Filled and closed at once, so that nothing gets in after the heat.")
    ph: float | None = Field(None, ge=0, le=14, description="As measured with a calibrated meter, at room temperature.")
    rests_on: RestsOn | None = Field(None, description="What they were answered of; without it, the document as it stands.")


class MethodDocument(Part):
    """One formula as a method."""

    format: Literal["oakenjug.method/1"] = "oakenjug.method/1"
    name: Title = ""
    family: Title = ""
    school: Title = ""
    notes: Text = ""
    measures: Literal["metric", "us", "imperial", "australian"] | None = Field(
        None, description="Whose cups, spoons and pints its amounts are in; else the kitchen's."
    )
    vessels: tuple[VesselDoc, ...] = Field((), max_length=50)
    stages: tuple[Stage, ...] = Field(max_length=MOST_STAGES)
    finished: Id | None = Field(None, description="The vessel that ends with the product; else the last one written.")
    substances: dict[Id, SubstanceDoc] = Field({}, max_length=2 * MOST_LINES)
    kitchen: Kitchen | None = None
    keeping: KeepingDoc | None = None

    @model_validator(mode="after")
    def _of_a_size(self) -> Self:
        lines = sum(len(stage.lines) for stage in self.stages if isinstance(stage, Adding))
        if lines > MOST_LINES:
            raise ValueError(
                f"This formula has {lines} ingredients; at most {MOST_LINES} are worked out together.\nMake a part of it a formula of its own."
            )
        return self


Line = LineDoc


@dataclass(frozen=True)
class Method:
    """A checked document: substances found, amounts understood, order known."""

    document: MethodDocument
    substances: dict[str, Substance]
    amounts: dict[str, Amount]
    weighed: dict[str, Weighed]
    named: tuple[Named, ...]
    started: tuple[str, ...]
    product: str
    trunk: frozenset[str]
    portions: dict[str, Portion]
    _vessels: dict[str, VesselDoc] = field(repr=False)

    @property
    def stages(self) -> tuple[StageBase, ...]:
        return self.document.stages

    @cached_property
    def lines(self) -> dict[str, LineDoc]:
        return {line.id: line for stage in self.stages if isinstance(stage, Adding) for line in stage.lines}

    @cached_property
    def started_set(self) -> frozenset[str]:
        return frozenset(self.started)

    @cached_property
    def vessel_ids(self) -> frozenset[str]:
        """Every vessel that is listed or that a stage touches."""
        touched = {vessel for stage in self.stages for vessel in (stage.vessel, stage.writes(), stage.reads()) if vessel}
        return frozenset(touched | self._vessels.keys())

    def vessel_name(self, vessel: str) -> str:
        """What a sentence calls a vessel."""
        if vessel.startswith("cake:"):
            return "the trimmings" if any(isinstance(s, Trim) and cake_of(s.id) == vessel for s in self.stages) else "the cake"
        held = self._vessels.get(vessel)
        return (held.name if held and held.name else vessel) or "the vessel"

    def pot_id(self, vessel: str) -> str | None:
        held = self._vessels.get(vessel)
        return held.pot if held else None

    def film_g(self, vessel: str, ctx: Context) -> Floats:
        """Grams (K,) that stay on a vessel's wall: its own figure, else the kitchen's."""
        held = self._vessels.get(vessel)
        own = None if held is None else held.film_g
        of_kitchen = ctx.value("kitchen.film_g", ctx.kitchen.film_g)
        given = ctx.given(f"vessels.{vessel}.film_g")
        if given is not None:
            return given
        return of_kitchen if own is None else ctx.full(own)

    def line_title(self, line: LineDoc) -> str:
        return line.name or self.substances[line.substance].title

    @cached_property
    def titles(self) -> dict[str, str]:
        """What people call each line, join and pour."""
        return {each.id: each.title for each in self.named}

    @cached_property
    def _places(self) -> dict[str, str]:
        """What an amount calls each stage: its title, or its number where titles are shared."""
        titles = [s.name or s.title for s in self.stages]
        often = Counter(title.lower() for title in titles)
        return {s.id: title if often[title.lower()] == 1 else _numbered(i) for i, (s, title) in enumerate(zip(self.stages, titles, strict=True))}

    @cached_property
    def short_titles(self) -> dict[str, str]:
        """What a sentence calls each line, join and pour, as short as tells them apart."""
        return short_names(self.titles, {each.id: self._places[each.stage] for each in self.named})

    @cached_property
    def amount_texts(self) -> dict[str, str]:
        """The text twin of every amount."""
        return {id: said(amount, self.short_titles, self._places) for id, amount in self.amounts.items()}

    def fraction_of(self, substance: str, ctx: Context) -> Floats:
        """Composition (C,) or (K, C): the book's, or with a given component, water making up.

        Given as ``substances.<id>.<component>`` in grams per 100 g: a juice weaker
        than assumed, a lot with more acid.
        """
        book = self.substances[substance].mass_fraction
        prefix = f"substances.{substance}."
        if not ctx.gives(prefix):
            return book
        changed = [(name, ctx.given(prefix + name)) for name in c.NAMES if ctx.given(prefix + name) is not None]
        mass = np.repeat(book[None, :], ctx.cases, axis=0)
        for name, grams in changed:
            assert grams is not None
            mass[:, c.WATER] += mass[:, c.INDEX[name]] - grams / 100.0
            mass[:, c.INDEX[name]] = grams / 100.0
        ctx.fault(
            "no_room_for_water",
            field=f"substances.{substance}",
            message=f"The parts given for {self.substances[substance].title} leave less than no water.",
            remedy="Give less of them.",
            cases=mass[:, c.WATER] < 0,
        )
        return np.where(mass[:, c.WATER, None] < 0, book[None, :], mass)

    def tracers_of(self, substance: str, fraction: Floats) -> Floats:
        """Grams (T,) or (K, T) a gram of a substance brings of what is traced."""
        return tracers_of(self.substances[substance], fraction)

    def line_temperature_c(self, line: LineDoc, ctx: Context) -> Floats:
        if line.temperature_c is not None:
            return ctx.full(line.temperature_c)
        if self.substances[line.substance].storage == "chilled":
            return ctx.value("kitchen.fridge_c", ctx.kitchen.fridge_c)
        return ctx.value("kitchen.room_c", ctx.kitchen.room_c)

    def extents_of(self, lines: Sequence[LineDoc], grams: Floats) -> Floats:
        """Extents (K, R) of what lines bring together, (K, L) grams: each the mean over what it describes."""
        return extents_of([self.substances[line.substance] for line in lines], grams)


def parse_document(raw: Mapping[str, Any]) -> Method:
    """Check a document and make it ready to walk.

    Raises SeveralProblems (or the single DomainError) listing everything wrong.
    """
    try:
        document = MethodDocument.model_validate(raw)
    except ValidationError as error:
        raise _together([explain(e, raw) for e in error.errors(include_url=False)]) from None
    return compile_document(document)


def compile_document(document: MethodDocument, *, asks: bool = False) -> Method:
    """A checked document to a Method: substances, amounts, references, order.

    ``asks`` where somebody is at it who can answer: what may be read in two ways is a problem then.
    """
    problems: list[DomainError] = []
    _check_shape(document, problems)
    substances = _substances(document, problems)
    if problems:
        raise _together(problems)
    vessels = {v.id: v for v in document.vessels}
    named = _named(document, substances, vessels)
    amounts = _amounts(document, named, problems)
    weighed = _weigh(document, substances, amounts, problems, asks)
    _check_totals(document, amounts, problems)
    order = [f"lines.{n.id}.amount" for n in named]
    problems.sort(key=lambda p: order.index(p.field) if p.field in order else len(order))
    _check_references(document, amounts, named, problems)
    _refuse_all_of_an_ingredient(document, amounts, problems)
    if problems:
        raise _together(problems)
    product = document.finished or document.stages[-1].writes()
    trunk = trunk_of(document.stages, product, amounts)
    started = starting_mixture(document.stages, trunk, substances)
    titles = {n.id: n.title for n in named}
    portions = _portions(document, amounts)
    require_acyclic(amounts, started, titles, portions)
    return Method(document, substances, amounts, weighed, tuple(named), started, product, trunk.stages, portions, vessels)


def _together(problems: list[DomainError]) -> DomainError:
    return problems[0] if len(problems) == 1 else SeveralProblems(problems)


def _check_shape(document: MethodDocument, problems: list[DomainError]) -> None:
    if not document.stages:
        problems.append(BadDocument("stages", "There is no stage yet.", "Add the first: what goes into the pot."))
        return
    seen: set[str] = set()
    lines = [line for stage in document.stages if isinstance(stage, Adding) for line in stage.lines]
    for kind, ids in (("stages", [s.id for s in document.stages]), ("lines", [line.id for line in lines])):
        for id in ids:
            if id in seen:
                problems.append(BadDocument(f"{kind}.{id}", f"The id “{id}” is used twice.", "Give every line and stage its own id."))
            seen.add(id)
    vessels = [v.id for v in document.vessels]
    for id in dict.fromkeys(v for v in vessels if vessels.count(v) > 1):
        problems.append(BadDocument(f"vessels.{id}", f"The vessel “{id}” is listed twice.", "Remove one."))
    for stage in document.stages:
        if stage.writes() != stage.vessel and stage.writes().startswith("cake:"):
            problems.append(BadDocument(f"stages.{stage.id}.into", "A cake is not a vessel to pour into.", "Name another vessel."))
        into = getattr(stage, "into", None)
        if stage.reads() == stage.vessel or into == stage.vessel:
            problems.append(BadDocument(f"stages.{stage.id}.vessel", "It pours a vessel into itself.", "Name two different vessels."))
    written: set[str] = set()
    for stage in document.stages:
        written |= {stage.vessel, stage.writes(), cake_of(stage.id)}
    if document.finished is not None and document.finished not in written:
        problems.append(BadDocument("finished", f"No stage puts anything into “{document.finished}”.", "Name a vessel that a stage writes to."))


def _substances(document: MethodDocument, problems: list[DomainError]) -> dict[str, Substance]:
    known = library()
    found: dict[str, Substance] = {}
    for id, doc in document.substances.items():
        try:
            found[id] = substance_of(id, doc)
        except DomainError as error:
            problems.append(error)
    for stage in document.stages:
        for line in stage.lines if isinstance(stage, Adding) else ():
            if line.substance in document.substances:
                continue
            if line.substance in known:
                found[line.substance] = known[line.substance]
            else:
                problems.append(
                    BadDocument(
                        f"lines.{line.id}.substance", f"No substance has the id “{line.substance}”.",
                        "Choose one from the pantry, or carry it in the document.",
                    )
                )  # fmt: skip
    return found


def _named(document: MethodDocument, substances: Mapping[str, Substance], vessels: Mapping[str, VesselDoc]) -> list[Named]:
    """Everything an amount may refer to: lines, joins, what is trimmed, and what is strained or pressed into a vessel.

    “As the juice” is what a press gave, “as the trimmed pear” what the knife left. Where
    a vessel is joined into another, the join brings it and bears its name.
    """

    def called(vessel: str) -> str:
        held = vessels.get(vessel)
        return held.name if held and held.name else vessel

    joined = {stage.source for stage in document.stages if isinstance(stage, Join)}
    found: list[Named] = []
    for stage in document.stages:
        if isinstance(stage, Adding):
            for line in stage.lines:
                substance = substances[line.substance]
                words = (substance.title, *substance.also_called)
                found.append(Named(line.id, line.name or substance.title, words, stage.vessel, stage.id, stage.total is not None))
        elif isinstance(stage, Join):
            title = stage.name or called(stage.source)
            found.append(Named(stage.id, title, (title,), stage.vessel, stage.id))
        elif isinstance(stage, Trim):
            whole = [n for n in found if n.vessel == stage.vessel and n.id not in {id for other in found for id in other.instead_of}]
            title = stage.name or (f"Trimmed {whole[0].title.split(',')[0].lower()}" if len(whole) == 1 else "What was trimmed")
            found.append(Named(stage.id, title, (title, "trimmed"), stage.vessel, stage.id, instead_of=tuple(n.id for n in whole)))
        elif isinstance(stage, Strain | Press) and stage.into not in joined:
            title = called(stage.into)
            words = (title, stage.name or stage.title, *(("juice",) if isinstance(stage, Press) else ()))
            found.append(Named(stage.id, title, words, stage.into, stage.id))
    return found


def _numbered(index: int) -> str:
    """What an amount may call a stage by its place."""
    return f"stage {index + 1}"


def _amounts(document: MethodDocument, named: list[Named], problems: list[DomainError]) -> dict[str, Amount]:
    stage_ids = {_numbered(i): s.id for i, s in enumerate(document.stages)} | {(s.name or s.title).lower(): s.id for s in document.stages}
    by_id = {n.id: n for n in named}
    for stage in document.stages:
        if isinstance(stage, Adding) and stage.total is not None:  # the total itself may refer to lines, and no line to it
            by_id[stage.id] = Named(stage.id, stage.name or stage.title, (), stage.vessel, stage.id)
    amounts: dict[str, Amount] = {}
    for stage in document.stages:
        wanted: list[tuple[str, Amount | str]] = []
        if isinstance(stage, Adding):
            wanted = [(line.id, line.amount) for line in stage.lines]
            if stage.total is not None:
                wanted.append((stage.id, stage.total))
        elif isinstance(stage, Join):
            wanted = [(stage.id, stage.amount)]
        for id, amount in wanted:
            if not isinstance(amount, str):
                amounts[id] = amount
                continue
            try:
                # A total stands behind its own lines, which it may not refer to.
                others = named if id != stage.id or isinstance(stage, Join) else [*(n for n in named if n.stage != id), by_id[id]]
                amounts[id] = understand(amount, own=by_id[id], named=others, stages=stage_ids)
            except NotUnderstood as error:
                problems.append(error.at_field(_amount_field(stage, id)))
    return amounts


def _amount_field(stage: StageBase, id: str) -> str:
    """Where an amount stands in the document: a line's, a join's, or what a stage makes in all."""
    return f"stages.{id}.total" if isinstance(stage, Adding) and id == stage.id else f"lines.{id}.amount"


def _portions(document: MethodDocument, amounts: Mapping[str, Amount]) -> dict[str, Portion]:
    """What each line in parts is a share of."""
    found: dict[str, Portion] = {}
    for stage in document.stages:
        if not isinstance(stage, Adding):
            continue
        parts = {line.id: amount.parts for line in stage.lines if isinstance(amount := amounts[line.id], PartsOf)}
        others = tuple(line.id for line in stage.lines if line.id not in parts)
        for id, part in parts.items():
            found[id] = Portion(stage.id, part / sum(parts.values()), others)
    return found


def _check_totals(document: MethodDocument, amounts: Mapping[str, Amount], problems: list[DomainError]) -> None:
    """Parts want a total; a total is one that is known before the stage begins, and wants parts."""
    for stage in document.stages:
        if not isinstance(stage, Adding):
            continue
        parts = any(isinstance(amounts.get(line.id), PartsOf) for line in stage.lines)
        total = amounts.get(stage.id)
        known = isinstance(total, Written | AsMuchAs) or (isinstance(total, PerKg) and total.of in ("lines", "started"))
        wrong: tuple[str, str] | None = None
        if parts and stage.total is None:
            wrong = "Some of its lines are in parts, and what it makes in all is not said.", "Say what it makes in all."
        elif total is not None and not known:
            wrong = "What a stage makes in all must be known before it.", "Give grams, a share of lines, or g per kg started."
        elif total is not None and not parts:
            wrong = "None of its lines is in parts of what it makes in all.", "Write a line in parts or percent, or clear the total."
        if wrong is not None:
            problems.append(BadDocument(f"stages.{stage.id}.total", *wrong))


def _refuse_all_of_an_ingredient(document: MethodDocument, amounts: Mapping[str, Amount], problems: list[DomainError]) -> None:
    """“All” is for what a vessel holds; of an ingredient there is no end."""
    for stage in document.stages:
        for line in stage.lines if isinstance(stage, Adding) else ():
            if isinstance(amounts.get(line.id), All):
                problems.append(
                    BadDocument(f"lines.{line.id}.amount", "“All” fits what a vessel holds, not an ingredient.", "Give grams or another amount.")
                )


def _weigh(
    document: MethodDocument, substances: Mapping[str, Substance], amounts: Mapping[str, Amount], problems: list[DomainError], asks: bool
) -> dict[str, Weighed]:
    kitchen = document.kitchen or Kitchen()
    measures = document.measures or kitchen.measures
    weighed: dict[str, Weighed] = {}
    plain = library()["water"]
    for stage in document.stages:
        items = [(line.id, substances[line.substance], line.name or "") for line in stage.lines] if isinstance(stage, Adding) else []
        if isinstance(stage, Join) or (isinstance(stage, Adding) and stage.total is not None):
            items.append((stage.id, plain, ""))
        for id, substance, called in items:
            amount = amounts.get(id)
            if not isinstance(amount, Written):
                continue
            try:
                parsed = parse_amount(amount.text)
                if not isinstance(parsed, Quantity):
                    raise NotUnderstood("amount", f"“{amount.text}” is not a quantity.", "Write, for example, 430 g.")
                weighed[id] = grams_of(parsed, substance, measures, pump_ml=kitchen.pump_ml, called=called, asks=asks)
            except NotUnderstood as error:
                problems.append(error.at_field(_amount_field(stage, id)))
    return weighed


def _check_references(document: MethodDocument, amounts: Mapping[str, Amount], named: list[Named], problems: list[DomainError]) -> None:
    lines = {n.id for n in named}
    stages = {s.id for s in document.stages}
    for id, amount in amounts.items():
        wanted = amount.lines if isinstance(amount, AsMuchAs | PerKg) else ()
        for other in wanted:
            if other not in lines:
                problems.append(BadDocument(f"lines.{id}.amount", "It refers to a line that is no longer here.", "Name another, or give grams."))
        if isinstance(amount, PerKg):
            if amount.of == "after" and amount.stage not in stages:
                problems.append(BadDocument(f"lines.{id}.amount", "It refers to a stage that is no longer here.", "Name another, or give grams."))
            if amount.of == "lines" and not amount.lines:
                problems.append(BadDocument(f"lines.{id}.amount", "It is per kilogram of lines but names none.", "Name the lines."))
