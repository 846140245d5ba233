"""Recalls: from a lot to every batch and container, from a batch back to every lot, and which lots the hob offers."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any
from uuid import UUID

from django.http import Http404
from django.utils import timezone

from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugcore.stock.lots_offered import LotThere, offered_lots
from jugcore.stock.recall import LotTimes, TakenFrom, WentIn, code_key, reached, recall_words, same_code, sources
from jugserver.accounts.models import Site
from jugserver.batches.models import Batch
from jugserver.batches.states import bring_up_to_date
from jugserver.exchange.tables import Cell, csv_text
from jugserver.pantry.models import Lot
from jugserver.pantry.pantry_overlay import titles_of
from jugserver.stock.models import Container, LotUse, Movement
from jugserver.stock.schemas import OpenLot, OriginBatch, OriginLot, OriginOut, RecalledBatch, RecalledContainer, RecallOut
from jugserver.stock.services import container_out, places_of


def recall_of(site: Site, ingredient: str, code: str) -> RecallOut:
    """From a lot to every batch and container it is in or may be in. Raises Http404 where neither pantry nor log knows the ingredient."""
    bring_up_to_date(site)
    lot = next((each for each in _lots(site, [ingredient]) if same_code(each.code, code)), None)
    uses = list(LotUse.objects.filter(site=site, ingredient=ingredient))
    title = titles_of(site, [ingredient]).get(ingredient) or (uses[0].title if uses else "")
    if not title:
        raise Http404
    times = LotTimes(lot.received_on, lot.used_up_on) if lot is not None else LotTimes()
    went = [WentIn(str(row.batch_id), row.ingredient, row.code, row.grams, row.on) for row in uses]
    found = reached(ingredient, code, times, went, _taken(site))
    rows = {str(row.pk): row for row in Batch.objects.filter(site=site, pk__in=[each.batch for each in found]).defer("document")}
    batches = [
        RecalledBatch(
            id=UUID(each.batch), number=rows[each.batch].number, name=rows[each.batch].name, started_at=rows[each.batch].started_at, sure=each.sure,
            how=each.how, grams=each.grams, via=rows[each.via].number if each.via in rows else None,
        )
        for each in found
        if each.batch in rows
    ]  # fmt: skip
    containers = _containers(site, {each.batch: each.sure for each in found})
    there = sum(not each.container.gone for each in containers)
    return RecallOut(
        ingredient=ingredient, title=title, lot=code, known=lot is not None, supplier=str(lot.supplier or "") if lot else "",
        supplier_contact=lot.supplier.contact if lot and lot.supplier else "",
        received_on=lot.received_on if lot else None, used_up_on=lot.used_up_on if lot else None, mass_g=lot.mass_g if lot else None,
        weighed_g=sum(row.grams for row in uses if row.code and same_code(row.code, code)), batches=batches, containers=containers,
        places=places_of(site), there=there, gone=len(containers) - there, words=recall_words(found, there),
    )  # fmt: skip


def _lots(site: Site, keys: Sequence[str]) -> Any:
    return Lot.objects.filter(ingredient__site=site, ingredient__key__in=keys).select_related("ingredient", "supplier")


def _taken(site: Site) -> list[TakenFrom]:
    """What went out of a batch's containers into another batch."""
    rows = Movement.objects.filter(container__site=site, kind="taken").values_list("container__batch", "what")
    return [TakenFrom(str(source), str(what["batch"]), float(what["mass_g"])) for source, what in rows]


def _containers(site: Site, sure: dict[str, bool]) -> list[RecalledContainer]:
    rows = (
        Container.objects.filter(site=site, batch__in=list(sure), voided_at__isnull=True).select_related("batch", "formula").defer("batch__document")
    )
    today = timezone.localdate()
    found = [
        RecalledContainer(sure=sure[str(row.batch_id)], served_g=row.served_g, poured_g=row.poured_g, container=container_out(row, today))
        for row in rows
    ]
    return sorted(found, key=lambda each: (bool(each.container.gone), not each.sure, each.container.batch_number, each.container.number))


def recall_csv(site: Site, ingredient: str, code: str) -> str:
    """The containers of a recall as a table: what is still there first."""
    found = recall_of(site, ingredient, code)
    places = {each.id: each.name for each in found.places}
    head = [
        "ingredient",
        "lot",
        "product",
        "batch",
        "container",
        "made on",
        "sure",
        "where",
        "state",
        "grams left",
        "grams served",
        "grams poured away",
    ]
    rows: list[list[Cell]] = []
    for each in found.containers:
        row = each.container
        state = row.gone or ("frozen" if row.frozen else "opened" if row.opened_at else "closed")
        rows.append(
            [found.title, found.lot, row.name, row.batch_number, row.number, row.made_on, "sure" if each.sure else "may be",
             "" if row.gone or row.place is None else places.get(row.place, ""), state, round(row.mass_g, 1), round(each.served_g, 1),
             round(each.poured_g, 1)]
        )  # fmt: skip
    return csv_text(head, rows)


def origin_of(site: Site, batch: UUID) -> OriginOut:
    """Back from a batch to every lot, through whatever it was made with. Raises Http404."""
    if not Batch.objects.of_site(site).filter(pk=batch).exists():
        raise Http404
    bring_up_to_date(site)
    order = sources(str(batch), _taken(site))
    rows = {str(row.pk): row for row in Batch.objects.filter(site=site, pk__in=order).defer("document")}
    uses: dict[str, list[LotUse]] = {}
    for use in LotUse.objects.filter(batch__in=list(rows)).order_by("title", "code"):
        uses.setdefault(str(use.batch_id), []).append(use)
    keys = {use.ingredient for each in uses.values() for use in each}
    suppliers = {(lot.ingredient.key, code_key(lot.code)): str(lot.supplier or "") for lot in _lots(site, sorted(keys))}
    return OriginOut(
        batches=[
            OriginBatch(
                id=UUID(id), number=rows[id].number, name=rows[id].name, started_at=rows[id].started_at,
                lots=[
                    OriginLot(
                        ingredient=use.ingredient, title=use.title, code=use.code, grams=use.grams,
                        supplier=suppliers.get((use.ingredient, code_key(use.code)), ""),
                    )
                    for use in uses.get(id, [])
                ],
            )
            for id in order
            if id in rows
        ]
    )  # fmt: skip


def origin_of_container(site: Site, id: UUID) -> OriginOut:
    """Back from a container to every lot. Raises Http404."""
    row = Container.objects.filter(site=site, pk=id).only("batch_id").first()
    if row is None:
        raise Http404
    return origin_of(site, row.batch_id)


def origin_csv(site: Site, batch: UUID) -> str:
    """What went into a batch, and into those it was made with, as a table."""
    head = ["batch", "product", "started", "ingredient", "lot", "supplier", "grams"]
    return csv_text(head, _origin_rows(origin_of(site, batch)))


def _origin_rows(found: OriginOut) -> Iterator[list[Cell]]:
    for batch in found.batches:
        for lot in batch.lots:
            yield [
                batch.number,
                batch.name,
                timezone.localtime(batch.started_at),
                lot.title,
                lot.code or "not noted",
                lot.supplier,
                round(lot.grams, 1),
            ]


def open_lots(site: Site, batch: UUID) -> dict[str, list[OpenLot]]:
    """By line of a batch, the lots that may be what stands open: opened ones first, the last used of those first. Raises Http404."""
    row = Batch.objects.of_site(site).filter(pk=batch).first()
    if row is None:
        raise Http404
    lines = _bought_lines(load_document(row.document))
    lots: dict[str, list[Lot]] = {}
    for lot in _lots(site, sorted(set(lines.values()))).filter(used_up_on__isnull=True):
        lots.setdefault(lot.ingredient.key, []).append(lot)
    noted = LotUse.objects.filter(site=site, ingredient__in=list(lots)).exclude(code="").order_by("ingredient", "on", "id")
    last = dict(noted.values_list("ingredient", "code"))
    return {line: _offered(lots[key], last.get(key, "")) for line, key in lines.items() if key in lots}


def _offered(lots: Sequence[Lot], last: str) -> list[OpenLot]:
    found = offered_lots([LotThere(lot.code, lot.opened_on is not None, lot.best_before) for lot in lots], last)
    return [OpenLot(**vars(each.lot), last_used=each.last_used, chosen=each.chosen) for each in found]


def _bought_lines(document: MethodDocument) -> dict[str, str]:
    """Line → the ingredient it is bought as; a stronger lot of something is that."""
    found = {}
    for stage in document.stages:
        for line in stage.ingredients:
            carried = document.substances.get(line.substance)
            if carried is None or carried.made_from is None:
                found[line.id] = (carried.of if carried is not None else None) or line.substance
    return found
