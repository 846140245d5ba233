"""Files of sales: shown before they are kept, kept once however often they come, taken out again by one press."""

from __future__ import annotations

from datetime import date
from uuid import UUID

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugcore.planning.sales.report import SalesReport, read_file
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.computing.pool import work_out
from jugserver.sales.known import asked_of, drinks_sold, remember
from jugserver.sales.models import SaleChange, SaleCount, SalesDay, SalesImport, Till
from jugserver.sales.schemas import ChangedCount, NameMeans, SalesFileIn, SalesImportIn, SalesImportOut, SalesPreview
from jugserver.stock.models import Place

#: Of what would change so much is shown.
_SHOWN = 50
#: Place, day, drink, size.
_Key = tuple[int, date, UUID, str]


def preview(*, actor: User, file: SalesFileIn) -> SalesPreview:
    """What a file says and what it would change. Nothing is kept. Raises BadDocument for what is no table."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    _require_ours(site, file)
    report = _read(actor, site, file)
    return _shown(site, file, report)


def _read(actor: User, site: Site, file: SalesFileIn) -> SalesReport:
    return SalesReport.model_validate_json(work_out(actor.pk, read_file, asked_of(site, file)))


def import_sales(*, actor: User, file: SalesImportIn) -> SalesImportOut:
    """Keep what a file says. What it repeats changes nothing; what somebody corrected stays unless the file is said to know better.

    Raises BadDocument where columns or names are open, or rows are wrong and nobody said to leave them out.
    """
    policies.require(actor, "plan")
    site = _site_of(actor)
    _require_ours(site, file)
    report = _read(actor, site, file)
    if report.lacking:
        raise BadDocument(report.lacking_field, report.lacking, report.lacking_remedy)
    if report.ask_order:
        raise BadDocument("columns.order", "The days of this file may be read in two ways.", "Say whether the day or the month comes first.")
    if report.items or report.places:
        name = (report.items or report.places)[0]
        raise BadDocument("items", f"Nobody has said what “{' '.join((name.drink, name.size)).strip()}” means.", "Choose the drink, or leave it out.")
    if not report.covered:
        raise BadDocument("file", "Nothing in this file was sold here.", "Choose another file, or say what its names mean.")
    if report.wrong and not file.leave_wrong:
        raise BadDocument("file", f"{report.wrong} rows are not understood.", "Correct them in the file, or leave them out.")
    with transaction.atomic():
        return _kept(actor, site, file, report)


def _kept(actor: User, site: Site, file: SalesImportIn, report: SalesReport) -> SalesImportOut:
    Site.objects.select_for_update().get(pk=site.pk)  # so that two files at once are kept one after the other
    there, covered = _there(site, report)
    new: list[SaleCount] = []
    other: list[SaleCount] = []
    changes: list[SaleChange] = []
    same = 0
    on = [each.on for each in report.covered]
    imported = SalesImport(
        site=site, name=file.name or "Sales", origin=file.origin, fingerprint=report.fingerprint, rows=report.rows, left_out=report.left_out,
        by=actor, first_on=min(on, default=None), last_on=max(on, default=None), added=0, changed=0, same=0,
    )  # fmt: skip
    for place, day, drink, size, count in _counts(report):
        row = there.get((place, day, drink, size))
        if row is not None and (row.count == count or (row.by_hand and not file.over_corrections)):
            same += 1
            continue
        before = None if row is None else row.count
        changes.append(
            SaleChange(site=site, place_id=place, drink_id=drink, size=size, on=day, before=before, after=count, imported=imported, by=actor)
        )
        if row is None:
            new.append(SaleCount(site=site, place_id=place, drink_id=drink, size=size, on=day, count=count))
        else:
            row.count, row.by_hand, row.sold_out = count, False, False
            other.append(row)
    days = [SalesDay(site=site, place_id=int(each.place), on=each.on) for each in report.covered if (int(each.place), each.on) not in covered]
    imported.added, imported.changed, imported.same = len(new), len(other), same
    remember(site, report.labels, report.columns, file.items, file.places)
    if file.origin == "till":
        Till.objects.filter(site=site, name=file.name, archived_at__isnull=True).update(fetched_at=timezone.now())
    if not changes and not days:  # nothing that was not known: there is nothing to undo later
        return import_out(imported, None)
    imported.save()
    for each in days:
        each.imported = imported
    SalesDay.objects.bulk_create(days)
    SaleCount.objects.bulk_create(new, batch_size=2000)
    SaleCount.objects.bulk_update(other, ["count", "by_hand", "sold_out"], batch_size=2000)
    SaleChange.objects.bulk_create(changes, batch_size=2000)
    return import_out(imported, imported.pk)


def _there(site: Site, report: SalesReport) -> tuple[dict[_Key, SaleCount], set[tuple[int, date]]]:
    """What is kept of the days and places a file tells of."""
    on = {each.on for each in report.covered}
    if not on:
        return {}, set()
    between = {"site": site, "on__gte": min(on), "on__lte": max(on)}
    tells = {(int(each.place), each.on) for each in report.covered}
    rows = {(row.place_id, row.on, row.drink_id, row.size): row for row in SaleCount.objects.filter(**between) if (row.place_id, row.on) in tells}
    return rows, set(SalesDay.objects.filter(**between).values_list("place", "on")) & tells


def _counts(report: SalesReport) -> list[tuple[int, date, UUID, str, int]]:
    """Every count that a file says, once. What it does not name stays as it is kept: another till of the place may have sold it."""
    return [(int(each.place), each.on, UUID(each.drink), each.size, each.count) for each in report.counts]


def _shown(site: Site, file: SalesFileIn, report: SalesReport) -> SalesPreview:
    there, _ = _there(site, report)
    names = {each.id: (each.name, {size.id: size.name for size in each.sizes}) for each in drinks_sold(site)}
    places = dict(Place.objects.filter(site=site).values_list("pk", "name"))
    changes: list[ChangedCount] = []
    added = changed = same = corrected = 0
    for place, day, drink, size, count in _counts(report):
        row = there.get((place, day, drink, size))
        if row is None:
            added += 1
        elif row.count == count:
            same += 1
        else:
            changed, corrected = changed + 1, corrected + row.by_hand
            if len(changes) < _SHOWN:
                title, sizes = names.get(drink, ("a drink that was archived", {}))
                changes.append(ChangedCount(
                    on=day, place=places[place], drink=title, size=sizes.get(size, size), before=row.count, after=count, by_hand=row.by_hand,
                ))  # fmt: skip
    on = [each.on for each in report.covered]
    return SalesPreview(
        name=file.name, labels=report.labels, sample=report.sample, columns=report.columns, remembered=report.remembered,
        lacking=report.lacking, lacking_remedy=report.lacking_remedy, lacking_field=report.lacking_field,
        ask_order=report.ask_order, rows=report.rows, cups=sum(each.count for each in report.counts),
        first_on=min(on, default=None), last_on=max(on, default=None), days=len(on), left_out=report.left_out, wrong=report.wrong,
        problems=report.problems, items=report.items, places=report.places, added=added, changed=changed, same=same, corrected=corrected,
        changes=changes, whole=not (report.lacking or report.ask_order or report.wrong or report.items or report.places),
    )  # fmt: skip


@transaction.atomic
def undo_import(*, actor: User, id: UUID) -> None:
    """Take out what the newest import brought: what it added goes, what it changed is as before; what was changed since stays.

    Raises Http404, and BadDocument where a later import stands on it.
    """
    policies.require(actor, "plan")
    site = _site_of(actor)
    Site.objects.select_for_update().get(pk=site.pk)
    row = SalesImport.objects.filter(site=site, pk=id).first()
    if row is None:
        raise Http404
    if row.pk != newest_of(site):
        raise BadDocument("id", "Another file was imported after this one.", "Undo that one first.")
    counts = {
        (each.place_id, each.on, each.drink_id, each.size): each
        for each in SaleCount.objects.filter(site=site, on__gte=row.first_on, on__lte=row.last_on)
    }
    gone: list[int] = []
    back: list[SaleCount] = []
    for change in row.changes.all():
        count = counts.get((change.place_id, change.on, change.drink_id, change.size))
        if count is None or count.by_hand or count.count != change.after:
            continue
        if change.before is None:
            gone.append(count.pk)
        else:
            count.count = change.before
            back.append(count)
    SaleCount.objects.filter(pk__in=gone).delete()
    SaleCount.objects.bulk_update(back, ["count"], batch_size=2000)
    row.days.all().delete()
    row.undone_at = timezone.now()
    row.save(update_fields=["undone_at"])


def newest_of(site: Site) -> UUID | None:
    """The newest import that is not undone."""
    return SalesImport.objects.filter(site=site, undone_at__isnull=True).order_by("-at").values_list("pk", flat=True).first()


def import_out(row: SalesImport, newest: UUID | None) -> SalesImportOut:
    """An import as it is shown."""
    return SalesImportOut.model_validate({
        "id": row.pk, "name": row.name, "origin": row.origin, "rows": row.rows, "added": row.added, "changed": row.changed, "same": row.same,
        "left_out": row.left_out, "first_on": row.first_on, "last_on": row.last_on, "by": str(row.by), "at": row.at, "undone_at": row.undone_at,
        "may_undo": row.pk == newest,
    })  # fmt: skip


def _require_ours(site: Site, file: SalesFileIn) -> None:
    """Raise BadDocument where a name is said to mean a drink, size or place that is none of this site."""
    sizes = {each.id: {size.id for size in each.sizes} for each in drinks_sold(site)}
    for item in file.items:
        if not item.left_out and (item.drink not in sizes or item.size not in sizes[item.drink]):
            raise BadDocument("items", f"“{_words(item)}” is said to be a drink or size that is not there.", "Choose one of the list.")
    places = set(Place.objects.filter(site=site, archived_at__isnull=True).values_list("pk", flat=True))
    at = file.columns.place_id if file.columns is not None else None
    if any(each.place not in places for each in file.places) or (at is not None and at not in {str(place) for place in places}):
        raise BadDocument("places", "There is no such place here.", "Choose one of the list.")


def _words(item: NameMeans) -> str:
    return item.key.replace("|", " ").strip()


def _site_of(actor: User) -> Site:
    assert actor.site is not None  # the policies refuse people without one
    return actor.site
