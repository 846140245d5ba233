"""Containers by what was filled, and the ledger of what became of them: nothing lost, nothing twice, nothing changed behind it."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from threading import Barrier, Thread
from typing import Any
from uuid import UUID, uuid4

from django.db import DatabaseError, connections, transaction
from django.test import TransactionTestCase
from django.utils import timezone

from jugcore.batch.log.events import Event
from jugcore.stock import movements as m
from jugserver.accounts.models import Role, Site, User
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.states import keep_state
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.stock.models import Container, Movement, Place
from jugserver.stock.schemas import MovementIn
from jugserver.stock.services import enter
from jugserver.stock.standing import COLUMNS, stand

FILL = {"kind": "bottled", "stage": "fill", "count": 3, "each_g": 420.0}


def _enter(batch: Batch, by: User, *whats: dict[str, Any], id: UUID | None = None) -> list[UUID]:
    events = [Event.model_validate(entry(what, by=by.username, id=id)) for what in whats]
    append(actor=by, batch_id=batch.pk, events=events)
    keep_state(Batch.objects.in_full().get(pk=batch.pk))
    return [event.id for event in events]


class Stock(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.lead = self.people["lead"]
        self.client_ = self.signed_in("prep")
        self.kitchen = Place.objects.create(site=self.site, name="Kitchen", kitchen=True)
        self.bar = Place.objects.create(site=self.site, name="Kiln Lane")
        self.batch = begun_batch(self.lead, "weir-simple")

    def ask(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return json.loads(answer.content)

    def said(self, container: Container | UUID, *whats: dict[str, Any], status: int = 200, id: UUID | None = None) -> Any:
        pk = container.pk if isinstance(container, Container) else container
        now = datetime.now(UTC).isoformat()
        entries = [{"container": str(pk), "movement": {"id": str(id or uuid4()), "at": now, "what": what}} for what in whats]
        return self.ask("POST", "/api/v1/stock/entries", {"entries": entries}, status)

    def filled(self) -> list[Container]:
        _enter(self.batch, self.lead, FILL)
        return list(Container.objects.order_by("number"))

    def test_what_is_filled_at_the_hob_stands_in_the_kitchen(self) -> None:
        bottles = self.filled()
        self.assertEqual([(b.number, b.mass_g, b.place, b.kind) for b in bottles], [(n, 420.0, self.kitchen, "bottle") for n in (1, 2, 3)])
        self.assertEqual(bottles[0].good_until, bottles[0].made_on + timedelta(days=6))
        _enter(self.batch, self.lead, {"kind": "left_over", "stage": "fill", "mass_g": 80.0, "fate": "kept"})
        rest = Container.objects.get(kind="rest")
        self.assertEqual((rest.number, rest.mass_g), (4, 80.0))
        keep_state(Batch.objects.in_full().get(pk=self.batch.pk))  # read again it is the same
        self.assertEqual((Container.objects.count(), Movement.objects.count()), (4, 4))
        stock = self.ask("GET", "/api/v1/stock")
        self.assertEqual([(each["containers"], each["mass_g"]) for each in stock["on_hand"]], [(4, 1340.0)])

    def test_a_filling_that_is_taken_back_leaves_no_bottle(self) -> None:
        (fill,) = _enter(self.batch, self.lead, FILL)
        _enter(self.batch, self.lead, {"kind": "undone", "entry": str(fill)})
        self.assertEqual(Container.objects.filter(voided_at__isnull=True).count(), 0)
        self.assertEqual(self.ask("GET", "/api/v1/stock")["on_hand"], [])

    def test_a_bottle_s_life(self) -> None:
        bottle = self.filled()[0]
        self.said(bottle, {"kind": "moved", "place": str(self.bar.pk)}, {"kind": "opened"}, {"kind": "weighed", "mass_g": 212})
        found = self.ask("GET", f"/api/v1/stock/containers/{bottle.pk}")
        self.assertEqual((found["container"]["place"], found["container"]["mass_g"]), (self.bar.pk, 212))
        self.assertEqual([each["what"]["kind"] for each in found["movements"]], ["filled", "moved", "opened", "weighed"])
        by_place = {each["place"]: (each["containers"], each["mass_g"]) for each in self.ask("GET", "/api/v1/stock")["on_hand"]}
        self.assertEqual(by_place, {self.kitchen.pk: (2, 840.0), self.bar.pk: (1, 212.0)})
        (now,) = self.said(bottle, {"kind": "emptied"})["containers"]
        self.assertEqual((now["gone"], now["mass_g"]), ("emptied", 0))
        self.assertEqual(Container.objects.get(pk=bottle.pk).served_g, 420.0)
        listed = self.ask("GET", f"/api/v1/stock/containers?batch={self.batch.pk}")["items"]
        self.assertEqual({each["number"] for each in listed}, {2, 3})

    def test_what_must_go_is_told_with_why(self) -> None:
        bottles = self.filled()
        past = timezone.localdate() - timedelta(days=1)
        Container.objects.filter(pk=bottles[0].pk).update(good_until=past)
        Container.objects.filter(pk=bottles[1].pk).update(good_until=timezone.localdate())
        must = self.ask("GET", "/api/v1/stock")["must_go"]
        self.assertEqual([(each["number"], each["haste"]) for each in must], [(1, "throw"), (2, "today")])
        self.assertIn("seven-day mark decides", must[0]["why"])
        self.said(bottles[0], {"kind": "poured_away", "reason": "past its day"})
        self.assertEqual([each["number"] for each in self.ask("GET", "/api/v1/stock")["must_go"]], [2])

    def test_what_is_sent_twice_is_kept_once_and_an_id_is_of_one_entry(self) -> None:
        bottle, other, _ = self.filled()
        id = uuid4()
        for _ in range(2):
            self.said(bottle, {"kind": "weighed", "mass_g": 300}, id=id)
        self.assertEqual(Movement.objects.filter(kind="weighed").count(), 1)
        self.said(bottle, {"kind": "weighed", "mass_g": 200}, id=id, status=409)
        self.said(other, {"kind": "weighed", "mass_g": 300}, id=id, status=409)

    def test_what_cannot_be_is_refused(self) -> None:
        bottle = self.filled()[0]
        self.said(bottle, {"kind": "filled", "mass_g": 1}, status=422)
        self.said(bottle, {"kind": "moved", "place": "999999"}, status=422)
        self.said(bottle, {"kind": "weighed", "mass_g": -1}, status=422)
        self.said(uuid4(), {"kind": "opened"}, status=404)

    def test_the_database_keeps_the_ledger(self) -> None:
        bottle = self.filled()[0]
        for attempt in (
            lambda: Movement.objects.update(kind="opened"), Movement.objects.all().delete, lambda: Container.objects.update(filled_g=1.0),
            lambda: Container.objects.update(number=9), Container.objects.all().delete, lambda: Container.objects.update(mass_g=-1.0),
            lambda: Container.objects.update(gone="emptied", gone_at=timezone.now()),
        ):  # fmt: skip
            with self.assertRaises(DatabaseError), transaction.atomic():
                attempt()
        self.assertEqual(Container.objects.get(pk=bottle.pk).filled_g, 420.0)

    def test_where_it_stands_can_be_made_again_from_its_movements(self) -> None:
        bottle = self.filled()[0]
        self.said(bottle, {"kind": "moved", "place": str(self.bar.pk)}, {"kind": "weighed", "mass_g": 212}, {"kind": "frozen"})
        row = Container.objects.get(pk=bottle.pk)
        before = {name: getattr(row, name) for name in COLUMNS}
        for name in ("mass_g", "poured_g", "served_g"):
            setattr(row, name, 0.0)
        stand(row, list(row.movements.all()))
        self.assertEqual({name: getattr(row, name) for name in COLUMNS}, before)

    def test_whoever_only_looks_enters_nothing_and_another_site_sees_nothing(self) -> None:
        bottle = self.filled()[0]
        body = {
            "entries": [{"container": str(bottle.pk), "movement": {"id": str(uuid4()), "at": "2026-03-02T08:00:00Z", "what": {"kind": "opened"}}}]
        }
        self.assertEqual(self.send(self.signed_in("view"), "POST", "/api/v1/stock/entries", body).status_code, 403)
        self.assertEqual(self.send(self.signed_in("view"), "GET", "/api/v1/stock").status_code, 200)
        stranger = self.signed_in(self.stranger)
        self.assertEqual(self.send(stranger, "POST", "/api/v1/stock/entries", body).status_code, 404)
        self.assertEqual(self.send(stranger, "GET", f"/api/v1/stock/containers/{bottle.pk}").status_code, 404)
        self.assertEqual(json.loads(self.send(stranger, "GET", "/api/v1/stock").content)["on_hand"], [])

    def test_bottles_of_before_are_not_brought_back(self) -> None:
        old = begun_batch(self.lead, "damson-bay", at=timezone.now() - timedelta(days=40))
        events = [Event.model_validate({**entry(FILL, by="lead"), "at": (timezone.now() - timedelta(days=40)).isoformat()})]
        append(actor=self.lead, batch_id=old.pk, events=events)
        keep_state(Batch.objects.in_full().get(pk=old.pk))
        self.assertFalse(Container.objects.filter(batch=old).exists())

    def test_places_are_named_renamed_and_archived_once_nothing_stands_there(self) -> None:
        lead = self.signed_in("lead")
        made = json.loads(self.send(lead, "POST", "/api/v1/places", {"name": "Weir Bridge"}).content)
        bridge = next(each["id"] for each in made if each["name"] == "Weir Bridge")
        self.assert_problem(self.send(lead, "POST", "/api/v1/places", {"name": "Kiln Lane"}), 422, field="name", word="already a place")
        bottle = self.filled()[0]
        self.said(bottle, {"kind": "moved", "place": str(bridge)})
        self.assert_problem(self.send(lead, "DELETE", f"/api/v1/places/{bridge}"), 422, field="place", word="One container stands at Weir Bridge")
        self.said(bottle, {"kind": "moved", "place": str(self.bar.pk)})
        left = json.loads(self.send(lead, "DELETE", f"/api/v1/places/{bridge}").content)
        self.assertNotIn("Weir Bridge", [each["name"] for each in left])
        renamed = json.loads(self.send(lead, "PUT", f"/api/v1/places/{self.bar.pk}", {"name": "Kiln", "kitchen": True}).content)
        self.assertEqual([(each["name"], each["kitchen"]) for each in renamed], [("Kiln", True), ("Kitchen", False)])


class AtOnce(TransactionTestCase):
    """Twenty phones at one ledger."""

    def test_nothing_is_lost_or_doubled(self) -> None:
        site = Site.objects.create(name="Weir kitchen")
        lead = User.objects.create_user("lead", password="a-long-test-password", site=site, role=Role.LEAD, display_name="Lead")
        batch = begun_batch(lead, "weir-simple")
        _enter(batch, lead, FILL)
        bottles = list(Container.objects.values_list("pk", flat=True))
        gate, failed = Barrier(20), []

        def phone(n: int) -> None:
            try:
                gate.wait()
                for i in range(5):
                    entries = [
                        MovementIn(
                            container=pk,
                            movement=m.Movement(id=UUID(int=n * 1000 + i * 10 + k), at=timezone.now(), what=m.WeighedEntry(mass_g=400 - i)),
                        )
                        for k, pk in enumerate(bottles if n % 2 else reversed(bottles))
                    ]
                    enter(actor=lead, entries=entries)
                    enter(actor=lead, entries=entries)  # as where the answer was lost
            except BaseException as error:
                failed.append(error)
            finally:
                connections.close_all()

        phones = [Thread(target=phone, args=(n,)) for n in range(1, 21)]
        for each in phones:
            each.start()
        for each in phones:
            each.join()
        self.assertEqual(failed, [])
        for pk in bottles:
            self.assertEqual(list(Movement.objects.filter(container=pk).values_list("seq", flat=True)), list(range(1, 102)))
            self.assertEqual(Container.objects.get(pk=pk).last_seq, 101)
