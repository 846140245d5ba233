"""From a document to a method ready to walk.

Every problem is reported with the field it is at (``lines.<id>.amount``, ``stages.<id>.until``) and with what to do.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jugcore.errors import BadDocument, DomainError, NotUnderstood, together
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
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
    UpToVolume,
    Written,
    require_acyclic,
    stage_by_number,
    understand,
)
from jugcore.method.document import MethodDocument, VesselDoc
from jugcore.method.kitchen import Kitchen
from jugcore.method.load_document import load_document
from jugcore.method.method import Method
from jugcore.method.stages import Naming, StageBase, cake_of
from jugcore.method.trunk import starting_mixture, trunk_of


def parse_document(raw: Mapping[str, Any]) -> Method:
    """Check a document and make it ready to walk.

    Raises SeveralProblems (or the single DomainError) listing everything wrong.
    """
    return compile_document(load_document(raw))


def compile_document(document: MethodDocument, *, asks: bool = False, known: Mapping[str, Substance] | None = None) -> Method:
    """A checked document to a Method: substances, amounts, references, order.

    ``asks`` where somebody is at it who can answer: what may be read in two ways is a problem then. ``known`` are substances beside
    those it carries and the library.
    """
    problems: list[DomainError] = []
    _check_shape(document, problems)
    substances = _substances(document, known or {}, problems)
    if problems:
        raise together(problems)
    vessels = {v.id: v for v in document.vessels}
    named = _named(document, substances, vessels)
    amounts = _amounts(document, named, problems)
    weighed = _weigh(document, substances, amounts, problems, asks)
    _check_totals(document, amounts, problems)
    _refuse_parts_of_nothing(document, amounts, problems)
    order = [f"lines.{n.id}.amount" for n in named]
    problems.sort(key=lambda p: order.index(p.field) if p.field in order else len(order))
    _check_references(document, amounts, named, problems)
    _refuse_all_of_an_ingredient(document, amounts, problems)
    if problems:
        raise together(problems)
    product = document.finished or document.stages[-1].writes()
    trunk = trunk_of(document.stages, product, amounts)
    started = starting_mixture(document.stages, trunk, substances)
    titles = {n.id: n.title for n in named}
    portions = _portions(document, amounts)
    require_acyclic(amounts, started, titles, portions)
    return Method(document, substances, amounts, weighed, tuple(named), started, product, trunk.stages, portions, vessels)


def _check_shape(document: MethodDocument, problems: list[DomainError]) -> None:
    if not document.stages:
        problems.append(BadDocument("stages", "There is no stage yet.", "Add the first: what goes into the pot."))
        return
    seen: set[str] = set()
    lines = [line for stage in document.stages for line in stage.ingredients]
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


def _substances(document: MethodDocument, more: Mapping[str, Substance], problems: list[DomainError]) -> dict[str, Substance]:
    known = {**library(), **more}
    found: dict[str, Substance] = {}
    for id, doc in document.substances.items():
        try:
            found[id] = load_substance(id, doc)
        except DomainError as error:
            problems.append(error)
    for stage in document.stages:
        for line in stage.ingredients:
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

    joined = frozenset(source for stage in document.stages if (source := stage.reads()) is not None)
    found: list[Named] = []
    for stage in document.stages:
        found += stage.names(Naming(substances, called, joined, found))
    return found


def _amounts(document: MethodDocument, named: list[Named], problems: list[DomainError]) -> dict[str, Amount]:
    stage_ids = {stage_by_number(i): s.id for i, s in enumerate(document.stages)} | {(s.name or s.title).lower(): s.id for s in document.stages}
    by_id = {n.id: n for n in named}
    for stage in document.stages:
        if stage.ingredients and stage.id in stage.amounts():  # the total itself may refer to lines, and no line to it
            by_id[stage.id] = Named(stage.id, stage.name or stage.title, (), stage.vessel, stage.id)
    amounts: dict[str, Amount] = {}
    for stage in document.stages:
        for id, amount in stage.amounts().items():
            if not isinstance(amount, str):
                amounts[id] = amount
                continue
            try:
                # A total stands behind its own lines, which it may not refer to.
                is_total = id == stage.id and stage.ingredients
                others = [*(n for n in named if n.stage != id), by_id[id]] if is_total else named
                amounts[id] = understand(amount, own=by_id[id], named=others, stages=stage_ids)
            except NotUnderstood as error:
                problems.append(error.at_field(_amount_field(stage, id)))
    return amounts


def _amount_field(stage: StageBase, id: str) -> str:
    """Where an amount stands in the document: a line's, a join's, or what a stage makes in total."""
    return f"stages.{id}.total" if stage.ingredients and id == stage.id else f"lines.{id}.amount"


def _portions(document: MethodDocument, amounts: Mapping[str, Amount]) -> dict[str, Portion]:
    """What each line in parts is a share of."""
    found: dict[str, Portion] = {}
    for stage in document.stages:
        parts = {line.id: amount.parts for line in stage.ingredients if isinstance(amount := amounts[line.id], PartsOf)}
        others = tuple(line.id for line in stage.ingredients if line.id not in parts)
        for id, part in parts.items():
            found[id] = Portion(stage.id, part / sum(parts.values()), others)
    return found


def _check_totals(document: MethodDocument, amounts: Mapping[str, Amount], problems: list[DomainError]) -> None:
    """Parts want a total; a total is one that is known before the stage begins, and wants parts."""
    for stage in document.stages:
        if not stage.ingredients:
            continue
        parts = any(isinstance(amounts.get(line.id), PartsOf) for line in stage.ingredients)
        total = amounts.get(stage.id)
        known = isinstance(total, Written | AsMuchAs) or (isinstance(total, PerKg) and total.of in ("lines", "started"))
        wrong: tuple[str, str] | None = None
        if parts and stage.id not in stage.amounts():
            wrong = "Some of its lines are in parts, and what it makes in total is not said.", "Give its total."
        elif total is not None and not known:
            wrong = "What a stage makes in total must be known before it.", "Give grams, a share of lines, or g per kg started."
        elif total is not None and not parts:
            wrong = "None of its lines is in parts of what it makes in total.", "Write a line in parts or percent, or clear the total."
        if wrong is not None:
            problems.append(BadDocument(f"stages.{stage.id}.total", *wrong))


def _refuse_parts_of_nothing(document: MethodDocument, amounts: Mapping[str, Amount], problems: list[DomainError]) -> None:
    """Parts are shares of what a stage makes in total of its lines: what is brought over from another vessel is none of those."""
    for stage in document.stages:
        if not stage.ingredients and isinstance(amounts.get(stage.id), PartsOf):
            problems.append(
                BadDocument(
                    _amount_field(stage, stage.id), "What is brought over from another vessel is not in parts: it has no total.",
                    "Give grams, a share of other lines, or “all”.",
                )
            )  # fmt: skip


def _refuse_all_of_an_ingredient(document: MethodDocument, amounts: Mapping[str, Amount], problems: list[DomainError]) -> None:
    """“All” is for what a vessel holds; of an ingredient there is no end."""
    for stage in document.stages:
        for line in stage.ingredients:
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
        items = [(line.id, substances[line.substance], line.name or "") for line in stage.ingredients]
        if stage.id in stage.amounts():
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
        if isinstance(amount, UpToVolume) and amount.stage is not None and amount.stage not in stages:
            problems.append(BadDocument(f"lines.{id}.amount", "It refers to a stage that is no longer here.", "Name another, or give grams."))
        for other in wanted:
            if other not in lines:
                problems.append(BadDocument(f"lines.{id}.amount", "It refers to a line that is no longer here.", "Name another, or give grams."))
        if isinstance(amount, PerKg):
            if amount.of == "after" and amount.stage not in stages:
                problems.append(BadDocument(f"lines.{id}.amount", "It refers to a stage that is no longer here.", "Name another, or give grams."))
            if amount.of == "lines" and not amount.lines:
                problems.append(BadDocument(f"lines.{id}.amount", "It is per kilogram of lines but names none.", "Name the lines."))
