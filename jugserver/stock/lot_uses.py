"""What went into a batch and of which lot, by its log. The log stays what counts."""

from __future__ import annotations

from collections.abc import Iterator

from django.db import transaction

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.stock.recall import weighed_by_lot
from jugserver.batches.models import Batch
from jugserver.stock.models import LotUse
from jugserver.stock.standing import day_of


def lots_were_read(sender: object, batch: Batch, found: ActualBatch, **_: object) -> None:
    """A batch was read: what is known of its lots is what its log says."""
    keep_lot_uses(batch, found)


def keep_lot_uses(batch: Batch, found: ActualBatch) -> None:
    """Write down what went into a batch and of which lot, where that is another than is written."""
    day = day_of(batch.started_at)
    uses: dict[tuple[str, str], LotUse] = {}
    for key, title, code, grams in _uses(found):
        before = uses.get((key, code))
        if before is not None:
            before.grams += grams
            continue
        uses[key, code] = LotUse(site_id=batch.site_id, batch=batch, ingredient=key[:64], title=title[:200], code=code, grams=grams, on=day)
    with transaction.atomic():
        Batch.objects.only("pk").select_for_update(of=("self",)).get(pk=batch.pk)  # read by two at once it would be written twice
        there = {(row.ingredient, row.code): row for row in LotUse.objects.filter(batch=batch)}
        if {key: row.grams for key, row in there.items()} == {key: row.grams for key, row in uses.items()}:
            return
        LotUse.objects.filter(batch=batch).delete()
        LotUse.objects.bulk_create(uses.values())


def _uses(found: ActualBatch) -> Iterator[tuple[str, str, str, float]]:
    """Key and title of an ingredient, code of its lot, grams: of every line that is bought, weighed or as it is planned.

    An entry that another replaced still says which lot stood there: what may have gone in counts.
    """
    method = found.walk.method
    said: dict[str, dict[str, float]] = {}
    for _, what in found.record.of(e.Weighed):
        if what.lot:
            lots = said.setdefault(what.line, {})
            lots[what.lot] = lots.get(what.lot, 0.0) + what.mass_g if what.more else max(what.mass_g, lots.get(what.lot, 0.0))
    for id, line in method.lines.items():
        book = method.substances[line.substance]
        grams = float(found.walk.end.lines[id][0])
        if book.made is not None or book.kind == "water" or not grams > 0:
            continue
        for code, each in weighed_by_lot(said.get(id, {}), grams):
            yield book.of or line.substance, book.title, code, max(each, 0.0)
