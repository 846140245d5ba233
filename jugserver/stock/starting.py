"""A batch made from bottles of ours: which there are, and that the bottle taken lends what is measured of it and its day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from uuid import UUID, uuid5

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugcore.figures import shown
from jugcore.matter.substance import Substance, Used
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugcore.method.walk import walk
from jugcore.reading.substance_from_walk import substance_from_walk
from jugcore.scaling.schema import ScaleRequest
from jugcore.stock import movements as m
from jugcore.stock.on_hand import first_to_expire
from jugcore.stock.taking import offered, shares_g
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.batches.models import Batch
from jugserver.batches.reading import walked
from jugserver.batches.services import resolved, start_batch
from jugserver.batches.states import bring_up_to_date
from jugserver.formulas.models import Formula, Version
from jugserver.stock.models import Container
from jugserver.stock.schemas import MovementIn, NeedOut, StartIn, TakeIn
from jugserver.stock.services import container_out, enter, held, there


def needs_of(site: Site, formula: UUID, version: int, scale: ScaleRequest | None) -> list[NeedOut]:
    """What a batch of a version would take of what is made here, with the bottles that may still be served. Raises Http404."""
    document = _version(site, formula, version)
    if not _made_lines(document):
        return []
    bring_up_to_date(site)
    resolved_document, _ = resolved(document, site, scale)
    method = compile_document(resolved_document)
    grams = walk(method).end.lines
    today = timezone.localdate()
    found = []
    for id, line in method.lines.items():
        made = method.substances[line.substance].made
        if made is None:
            continue
        rows = {str(row.pk): row for row in there(site).filter(formula=UUID(made.version.formula), stage="")}
        order = [each for each in first_to_expire(held(row) for row in rows.values()) if each.haste(today) not in ("throw", "frozen")]
        wanted = float(grams[id][0])
        found.append(
            NeedOut(
                line=id, formula=UUID(made.version.formula), name=made.version.name, version=made.version.version, mass_g=wanted,
                bottles=[container_out(rows[each.id], today) for each in order], offered=[UUID(id) for id in offered(order, wanted)],
                short_g=max(wanted - sum(each.mass_g for each in order), 0.0),
            )
        )  # fmt: skip
    return found


def _version(site: Site, formula: UUID, number: int) -> MethodDocument:
    row = Version.objects.filter(formula__in=Formula.objects.of_site(site), formula=formula, number=number).first()
    if row is None:
        raise Http404
    return load_document(row.document)


def _made_lines(document: MethodDocument) -> dict[str, str]:
    """Line → the substance of what is made here."""
    made = {id for id, each in document.substances.items() if each.made_from is not None}
    return {line.id: line.substance for stage in document.stages for line in stage.ingredients if line.substance in made}


@transaction.atomic
def start(*, actor: User, ask: StartIn) -> Batch:
    """Start a batch; what is made here comes out of the bottles named, as they were measured, and is taken out of them.

    Raises BadDocument for a bottle of something else, of two batches, past its day, or that holds too little.
    """
    policies.require(actor, "cook")
    site = actor.site
    assert site is not None
    known = Batch.objects.of_site(site).filter(pk=ask.id).first() if ask.id is not None else None
    if known is not None:
        return known
    if ask.practice and ask.takes:
        raise BadDocument("takes", "Nothing is taken out of bottles to practise.", "Start it without them.")
    taken = {take.line: _bottles(site, take) for take in ask.takes}
    batch = start_batch(
        actor=actor, formula_id=ask.formula, version=ask.version, scale=ask.scale, id=ask.id, practice=ask.practice,
        of=lambda document: _made_from(document, taken),
    )  # fmt: skip
    grams = walk(compile_document(load_document(batch.document))).end.lines
    entries = [entry for line, bottles in taken.items() for entry in _taken(batch, line, float(grams[line][0]), bottles)]
    if entries:
        enter(actor=actor, entries=entries)
    return batch


def _bottles(site: Site, take: TakeIn) -> list[Container]:
    rows = {row.pk: row for row in there(site).filter(pk__in=take.containers, stage="").select_for_update(of=("self",))}
    bottles = [rows[id] for id in take.containers if id in rows]
    field, today = f"takes.{take.line}", timezone.localdate()
    if len(bottles) != len(set(take.containers)):
        raise BadDocument(field, "One of these bottles is not there any more.", "Choose another.")
    if len({row.batch_id for row in bottles}) > 1:
        raise BadDocument(field, "These bottles are of two batches.", "Choose bottles of one batch.")
    late = next((row for row in bottles if held(row).haste(today) in ("throw", "frozen")), None)
    if late is not None:
        why = "is in the freezer" if late.frozen else "is past its day"
        raise BadDocument(field, f"{late.formula.name}, {_called(late)} {why}.", "Choose another.")
    return bottles


def _called(row: Container) -> str:
    return f"batch {row.batch.number:04d}, {'kept rest' if row.kind == 'rest' else f'bottle {row.number}'}"


def _made_from(document: MethodDocument, taken: dict[str, list[Container]]) -> MethodDocument:
    """A version's document, each line of ours by the batch its bottles are of, as that was measured."""
    lines = _made_lines(document)
    substances, renamed = dict(document.substances), dict[str, str]()
    for line, bottles in taken.items():
        made = substances[lines[line]].made_from if line in lines else None
        if made is None or UUID(made.version.formula) != bottles[0].formula_id:
            raise BadDocument(f"takes.{line}", f"{bottles[0].formula.name} is not what goes in there.", "Choose a bottle of what the line names.")
        renamed[line] = f"{lines[line]}-b{bottles[0].batch.number}"
        substances[renamed[line]] = as_document(_as_measured(bottles, renamed[line]))
    stages = tuple(
        stage.with_ingredients(tuple(line.model_copy(update={"substance": renamed.get(line.id, line.substance)}) for line in stage.ingredients))
        if any(line.id in renamed for line in stage.ingredients) else stage
        for stage in document.stages
    )  # fmt: skip
    return document.model_copy(update={"stages": stages, "substances": substances})


def _as_measured(bottles: Sequence[Container], key: str) -> Substance:
    """What is in bottles, by their batch as it was."""
    batch = Batch.objects.in_full().get(pk=bottles[0].batch_id)
    found, _ = walked(batch)
    used = Used(str(batch.formula_id), batch.version.number, batch.name, batch.version.fingerprint)
    book = substance_from_walk(found.walk, used, key)
    days = [row.good_until for row in bottles if row.good_until is not None]
    numbers = " and ".join(str(row.number) for row in bottles)
    lot = _called(bottles[0]) if len(bottles) == 1 else f"batch {batch.number:04d}, bottles {numbers}"
    assert book.made is not None
    return replace(book, title=f"{batch.name}, {lot}", made=replace(book.made, lot=lot, last_day=min(days, default=None)))


def _taken(batch: Batch, line: str, grams: float, bottles: list[Container]) -> list[MovementIn]:
    """Out of the first what it holds, out of the next what is left to take."""
    shares, lacks_g = shares_g([bottle.mass_g for bottle in bottles], grams)
    if lacks_g:
        holds = sum(bottle.mass_g for bottle in bottles)
        raise BadDocument(
            f"takes.{line}", f"That takes {shown(round(grams))} g, and what was chosen holds {shown(round(holds))} g.",
            "Choose more of that batch, make more first, or make less.",
        )  # fmt: skip
    now = timezone.now()
    return [
        MovementIn(
            container=bottle.pk,
            movement=m.Movement(id=uuid5(batch.pk, f"{line} {bottle.pk}"), at=now, what=m.TakenEntry(mass_g=out, batch=batch.pk)),
        )
        for bottle, out in zip(bottles, shares, strict=True)
        if out > 0
    ]
