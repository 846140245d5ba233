"""Verbs on what is made and stands somewhere: enter movements, look, name places."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any, Literal, cast
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugcore.stock import movements as m
from jugcore.stock.on_hand import Held, first_to_expire, on_hand
from jugcore.stock.standing import Gone
from jugserver.accounts import policies
from jugserver.accounts.models import Role, Site, User
from jugserver.batches.files import File, label_of
from jugserver.batches.schemas import LabelRequest
from jugserver.batches.states import bring_up_to_date
from jugserver.exchange.tables import csv_text
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.http.problems import Conflict
from jugserver.stock.models import BarPlace, Container, Movement, Place, ProductDose
from jugserver.stock.schemas import (
    BarOut,
    ContainerOut,
    ContainersOut,
    ContainerWhole,
    MovementIn,
    MovementOut,
    MovementsKept,
    OnHandOut,
    PlaceIn,
    PlaceOut,
    StockOut,
)  # fmt: skip
from jugserver.stock.standing import COLUMNS, WHAT, stand

#: On a page.
PAGE = 100


def _site_of(actor: User) -> Site:
    assert actor.site is not None  # the policies refuse people without one
    return actor.site


@transaction.atomic
def enter(*, actor: User, entries: Sequence[MovementIn]) -> MovementsKept:
    """Keep entries about containers, each once whatever was sent before. None that is well formed is refused.

    Raises Http404 for a container of another site, BadDocument for a place that is not there, Conflict for an id that belongs to another entry.
    """
    policies.require(actor, "move_stock")
    site = _site_of(actor)
    ids = sorted({entry.container for entry in entries})
    # Locked in one order, so that no two phones wait for each other for ever.
    rows_there = {row.pk: row for row in Container.objects.filter(site=site, pk__in=ids).select_for_update().order_by("pk")}
    if len(rows_there) != len(ids):
        raise Http404
    places = {str(id) for id in Place.objects.filter(site=site).values_list("pk", flat=True)}
    rows: dict[UUID, list[Movement]] = {id: [] for id in ids}
    known: dict[UUID, Movement] = {}
    for row in Movement.objects.filter(container__in=ids):
        rows[row.container_id].append(row)
        known[row.pk] = row
    new: list[Movement] = []
    now = timezone.now()
    for entry in entries:
        movement = entry.movement
        before = known.get(movement.id)
        written = WHAT.dump_python(movement.what, mode="json")
        if before is not None:
            if before.container_id != entry.container or before.what != written:
                raise Conflict("entries", f"The id {movement.id} belongs to another entry.", "Give every entry an id of its own.")
            continue
        if movement.what.kind == "filled":
            raise BadDocument("entries", "What was filled is entered in the log of its batch.", "Enter it at the hob.")
        place = getattr(movement.what, "place", None)
        if place is not None and place not in places:
            raise BadDocument("entries", "There is no such place here.", "Choose one of the list.")
        at = m.read_at(movement.at, now)
        row = Movement(
            id=movement.id, container_id=entry.container, seq=len(rows[entry.container]) + 1, kind=movement.what.kind, what=written,
            place_id=None if place is None else int(place), at=at, by=actor,
        )  # fmt: skip
        rows[entry.container].append(row)
        known[movement.id] = row
        new.append(row)
    try:
        with transaction.atomic():
            Movement.objects.bulk_create(new)
    except IntegrityError:
        raise Conflict("entries", "An id belongs to an entry about something else.", "Give every entry an id of its own.") from None
    for id, container in rows_there.items():
        stand(container, rows[id])
        container.last_seq = len(rows[id])
    Container.objects.bulk_update(rows_there.values(), list(COLUMNS))
    found = Container.objects.filter(pk__in=ids).select_related("batch", "formula").defer("batch__document")
    return MovementsKept(containers=[container_out(row, timezone.localdate()) for row in found])


def there(site: Site) -> Any:
    """The containers of a site that are there."""
    return Container.objects.filter(site=site, gone="", voided_at__isnull=True).select_related("batch", "formula").defer("batch__document")


def stock_of(site: Site, user: User) -> StockOut:
    """What a site has on hand, and what must be thrown away or used today, by what was filled and entered up to now; to a bar what stands there."""
    bring_up_to_date(site)
    today = timezone.localdate()
    here = place_of_bar(user)
    rows = {str(row.pk): row for row in (there(site) if here is None else there(site).filter(place=here))}
    doses = dict(ProductDose.objects.filter(site=site).values_list("formula", "likely_g"))
    mine = [held(row, None if row.stage else doses.get(row.formula_id)) for row in rows.values()]
    sums = on_hand(mine, today)
    product = {held(row).product: row for row in rows.values()}
    must = [each for each in first_to_expire(mine) if each.haste(today) in ("throw", "today")]
    return StockOut(
        today=today, here=here, places=places_of(site), must_go=[container_out(rows[each.id], today) for each in must],
        on_hand=sorted(
            (
                OnHandOut(
                    formula=row.formula_id, stage=row.stage, name=row.called, place=None if each.place is None else int(each.place),
                    containers=each.containers, rests=each.rests, mass_g=each.mass_g, doses=each.doses,
                    dose_g=None if row.stage else doses.get(row.formula_id), frozen_g=each.frozen_g, throw=each.throw, first=each.first,
                )
                for each, row in ((each, product[each.product]) for each in sums)
            ),
            key=lambda each: (each.name.lower(), each.place or 0),
        ),
    )  # fmt: skip


def containers_of(
    site: Site, *, batch: UUID | None = None, formula: UUID | None = None, stage: str | None = None, place: int | None = None, cursor: str = ""
) -> ContainersOut:
    """A page of the containers that are there, first to expire first; with ``stage`` what that step left, empty what is the product."""
    bring_up_to_date(site)
    rows = there(site)
    for name, value in (("batch", batch), ("formula", formula), ("stage", stage), ("place", place)):
        rows = rows if value is None else rows.filter(**{name: value})
    found = {str(row.pk): row for row in rows}
    order = [each.id for each in first_to_expire(held(row) for row in found.values())]
    after = cursor_at(cursor, tuple[str])
    start = order.index(after[0]) + 1 if after is not None and after[0] in order else 0
    page = order[start : start + PAGE]
    today = timezone.localdate()
    items = [container_out(found[id], today) for id in page]
    return ContainersOut(items=items, places=places_of(site), next=cursor_of(page[-1]) if len(order) > start + PAGE else None)


def container_of(site: Site, id: UUID) -> ContainerWhole:
    """One container with all that was entered about it. Raises Http404 for another site's."""
    row = Container.objects.filter(site=site, pk=id).select_related("batch", "formula").defer("batch__document").first()
    if row is None:
        raise Http404
    movements = row.movements.select_related("by").order_by("at", "seq")
    return ContainerWhole(
        container=container_out(row, timezone.localdate()), places=places_of(site),
        movements=[MovementOut(id=each.pk, at=each.at, by=str(each.by), what=WHAT.validate_python(each.what)) for each in movements],
    )  # fmt: skip


def held(row: Container, dose_g: float | None = None) -> Held:
    """A container as the core sees it; with what a dose of it weighs, where that is asked."""
    return Held(
        id=str(row.pk), product=f"{row.formula_id} {row.stage}".strip(), place=None if row.place_id is None else str(row.place_id), mass_g=row.mass_g,
        good_until=row.good_until, opened=row.opened_at is not None, frozen=row.frozen, too_late=row.too_late, made=row.made_on,
        number=row.number, batch=str(row.batch_id), dose_g=dose_g, rest=row.kind != "bottle",
    )  # fmt: skip


def container_out(row: Container, today: date) -> ContainerOut:
    """A container as plain data."""
    return ContainerOut(
        id=row.pk, name=row.called, batch=row.batch_id, batch_number=row.batch.number, number=row.number, 
        kind=cast(Literal["bottle", "rest", "aside"], row.kind),
        made_on=row.made_on, filled_g=row.filled_g, mass_g=row.mass_g, place=row.place_id, opened_at=row.opened_at, frozen=row.frozen,
        gone=cast(Gone, row.gone), good_until=row.good_until, left_days=row.left_days, why=row.why, haste=held(row).haste(today),
    )  # fmt: skip


def place_of_bar(user: User) -> int | None:
    """The place a bar's own sign-in stands at; None for everybody else, and for a bar nobody placed yet."""
    found = BarPlace.objects.filter(user=user, place__archived_at__isnull=True).first() if user.role == Role.BAR else None
    return None if found is None else found.place_id


def bars_of(site: Site) -> list[BarOut]:
    """Who signs in as a bar, and where each stands."""
    rows = User.objects.filter(site=site, role=Role.BAR, is_active=True).select_related("bar_place").order_by("display_name", "username")
    return [BarOut(username=row.username, name=str(row), place=_placed(row)) for row in rows]


def _placed(user: User) -> int | None:
    try:
        return user.bar_place.place_id
    except BarPlace.DoesNotExist:
        return None


@transaction.atomic
def place_bar(*, actor: User, username: str, place: int | None) -> list[BarOut]:
    """Say at which place a bar's sign-in stands, or at none. Raises Http404 for somebody else, BadDocument for a place that is not there."""
    policies.require(actor, "edit_kitchen")
    site = _site_of(actor)
    user = User.objects.filter(site=site, role=Role.BAR, username=username).first()
    if user is None:
        raise Http404
    if place is None:
        BarPlace.objects.filter(user=user).delete()
    elif not Place.objects.filter(site=site, pk=place, archived_at__isnull=True).exists():
        raise BadDocument("place", "There is no such place here.", "Choose one of the list.")
    else:
        BarPlace.objects.update_or_create(user=user, defaults={"place_id": place})
    return bars_of(site)


def keep_doses(site: Site, doses: Mapping[UUID, tuple[float, float, float]]) -> None:
    """Have it known what a dose of each product weighs in what is served, by formula: least, in the middle, most."""
    ProductDose.objects.filter(site=site).exclude(formula__in=list(doses)).delete()
    for formula, (low, likely, high) in doses.items():
        ProductDose.objects.update_or_create(formula_id=formula, defaults={"site": site, "low_g": low, "likely_g": likely, "high_g": high})


def opened_label(site: Site, id: UUID, address: str) -> File:
    """The second label of a container: when it was opened and until when it is good then. Raises Http404 for another site's.

    What was kept aside, not opened yet, has its first.
    """
    row = Container.objects.filter(site=site, pk=id).first()
    if row is None:
        raise Http404
    ask = LabelRequest.model_validate({"which": "opened" if row.opened_at or not row.stage else "made"})
    good_until = row.good_until if row.opened_at else None
    return label_of(site, row.batch_id, ask, address, opened_at=row.opened_at, good_until=good_until, stage=row.stage)


def stock_csv(site: Site) -> str:
    """Every container that is there, first to expire first, as a table for other programs."""
    bring_up_to_date(site)
    rows = {str(row.pk): row for row in there(site)}
    places = {place.id: place.name for place in places_of(site)}
    today = timezone.localdate()
    head = ["product", "batch", "container", "kind", "made on", "where", "state", "grams", "use by", "what to do", "why"]
    order = [container_out(rows[each.id], today) for each in first_to_expire(held(row) for row in rows.values())]
    cells = [
        [each.name, each.batch_number, each.number, each.kind, each.made_on, places.get(each.place or 0, ""),
         "frozen" if each.frozen else "opened" if each.opened_at else "closed", round(each.mass_g, 1), each.good_until, each.haste, each.why]
        for each in order
    ]  # fmt: skip
    return csv_text(head, cells)


def places_of(site: Site) -> list[PlaceOut]:
    """The places of a site that are in use, the kitchen first."""
    rows = Place.objects.filter(site=site, archived_at__isnull=True)
    return [PlaceOut(id=row.pk, name=row.name, kitchen=row.kitchen) for row in rows]


@transaction.atomic
def save_place(*, actor: User, id: int | None, place: PlaceIn) -> list[PlaceOut]:
    """Name a place, or rename one; there is one kitchen. Raises BadDocument for a name that is taken."""
    policies.require(actor, "edit_kitchen")
    site = _site_of(actor)
    row = Place(site=site) if id is None else Place.objects.filter(site=site, pk=id, archived_at__isnull=True).select_for_update().first()
    if row is None:
        raise Http404
    row.name, row.kitchen = place.name.strip(), place.kitchen
    if not row.name:
        raise BadDocument("name", "The place has no name yet.", "Type one.")
    if place.kitchen:
        Place.objects.filter(site=site, kitchen=True).exclude(pk=row.pk).update(kitchen=False)
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError:
        raise BadDocument("name", f"There is already a place called {row.name}.", "Choose another name.") from None
    return places_of(site)


@transaction.atomic
def archive_place(*, actor: User, id: int) -> list[PlaceOut]:
    """Take a place out of the lists. Raises BadDocument while something stands there."""
    policies.require(actor, "edit_kitchen")
    site = _site_of(actor)
    row = Place.objects.filter(site=site, pk=id, archived_at__isnull=True).select_for_update().first()
    if row is None:
        raise Http404
    standing = there(site).filter(place=row).count()
    if standing:
        count = "One container stands" if standing == 1 else f"{standing} containers stand"
        raise BadDocument("place", f"{count} at {row.name}.", "Move them to another place first.")
    row.archived_at = timezone.now()
    row.save(update_fields=["archived_at"])
    return places_of(site)
