"""A batch made from bottles of ours: the first to expire offered first, the one taken lends what was measured of it and its day."""

from __future__ import annotations

import json
from datetime import timedelta
from io import BytesIO
from typing import Any
from uuid import uuid4

from django.utils import timezone
from pypdf import PdfReader

from jugcore.batch.log.events import Event
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.services import start_batch
from jugserver.batches.states import keep_state
from jugserver.batches.tests.kitchen import entry
from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.made_here import made_key
from jugserver.stock.models import Container, Movement, Place


class FromBottles(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client_ = self.signed_in("lead")
        Place.objects.create(site=self.site, name="Kitchen", kitchen=True)
        self.simple = self.kept(
            "Bridge Simple",
            [("water", "500 g"), ("white_sugar", "500 g")],
            {"id": "fill", "kind": "fill", "vessel": "pot", "into": "bottles", "size_ml": 500},
        )
        self.cream = self.kept("Bridge Cream", [("heavy_cream", "300 g"), (made_key(self.simple, 1), "200 g")])

    def ask(self, method: str, path: str, body: Any = None, status: int | None = None) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertEqual(answer.status_code, status or answer.status_code, answer.content[:400])
        self.assertLess(answer.status_code, 300 if status is None else 600, answer.content[:500])
        return json.loads(answer.content)

    def kept(self, name: str, lines: list[tuple[str, str]], *more: dict[str, Any]) -> str:
        listed = [{"id": f"l{n}", "substance": key, "amount": amount} for n, (key, amount) in enumerate(lines)]
        stages = [{"id": "mixed", "kind": "add", "vessel": "pot", "lines": listed}, *more]
        made = self.ask("POST", "/api/v1/formulas", {"document": {"name": name, "vessels": [], "stages": stages}})
        self.ask("POST", f"/api/v1/formulas/{made['id']}/versions", {"draft": 1, "note": "First."})
        return str(made["id"])

    def bottles(self, sugar_g: float = 500.0, count: int = 2, each_g: float = 150.0, days_ago: int = 0) -> list[Container]:
        """Bottles of a batch of the syrup, with so much sugar in it."""
        at = timezone.now() - timedelta(days=days_ago)
        batch = start_batch(actor=self.people["lead"], formula_id=self.simple, version=1, at=at)  # type: ignore[arg-type]
        whats: list[dict[str, Any]] = [
            {"kind": "weighed", "line": "l1", "reads_g": sugar_g, "tare_g": 0.0, "more": False},
            {"kind": "bottled", "stage": "fill", "count": count, "each_g": each_g},
        ]
        append(actor=self.people["lead"], batch_id=batch.pk, events=[Event.model_validate(entry(what, by="lead")) for what in whats])
        keep_state(Batch.objects.in_full().get(pk=batch.pk))
        return list(Container.objects.filter(batch=batch).order_by("number"))

    def needs(self, times: float = 1.0) -> Any:
        return self.ask("GET", f"/api/v1/stock/needs?formula={self.cream}&version=1&times={times}")

    def start(self, *containers: Container, line: str = "l1", status: int = 201, **more: Any) -> Any:
        takes = [{"line": line, "containers": [str(each.pk) for each in containers]}]
        return self.ask("POST", "/api/v1/stock/batches", {"formula": self.cream, "version": 1, "takes": takes, **more}, status)

    def test_the_bottles_there_are_come_first_to_expire_first_and_what_is_missing_must_be_made(self) -> None:
        self.assertEqual([(each["name"], each["bottles"], each["short_g"]) for each in self.needs()], [("Bridge Simple", [], 200.0)])
        new = self.bottles()
        old = self.bottles(days_ago=3)
        (need,) = self.needs()
        self.assertEqual([each["id"] for each in need["bottles"]], [str(each.pk) for each in (*old, *new)])
        self.assertEqual((need["mass_g"], need["short_g"]), (200.0, 0.0))
        self.assertEqual(self.needs(5)[0]["short_g"], 400.0)

    def test_the_bottle_taken_lends_what_was_measured_of_it_and_its_day(self) -> None:
        weak = self.bottles(sugar_g=250.0, days_ago=5)
        batch = self.start(*weak)
        document = batch["document"]
        line = document["stages"][0]["lines"][1]
        made = document["substances"][line["substance"]]
        # 250 g of sugar in 750 g and not 500 in 1,000: a third, whatever the version says.
        self.assertAlmostEqual(made["composition_g_per_100g"]["sucrose"], 100 / 3, delta=0.1)
        self.assertEqual(made["made_from"]["lot"], f"batch {weak[0].batch.number:04d}, bottles 1 and 2")
        self.assertEqual(batch["use_by"], str(weak[0].good_until))
        self.assertIn("Bridge Simple", batch["use_by_why"])
        # 150 g out of the first and 50 g out of the second.
        self.assertEqual([row.mass_g for row in Container.objects.filter(batch=weak[0].batch).order_by("number")], [0.0, 100.0])
        taken = Movement.objects.filter(kind="taken")
        self.assertEqual({each.what["batch"] for each in taken}, {batch["id"]})

    def test_started_twice_it_is_one_batch_and_taken_once(self) -> None:
        bottles, id = self.bottles(each_g=300.0), str(uuid4())
        first, second = (self.start(bottles[0], id=id)["id"] for _ in range(2))
        self.assertEqual(first, second)
        self.assertEqual(Container.objects.get(pk=bottles[0].pk).mass_g, 100.0)

    def test_what_cannot_go_in_is_refused_and_nothing_is_started(self) -> None:
        bottles, others = self.bottles(), self.bottles()
        before = Batch.objects.count()
        for containers, word in (
            (bottles[:1], "what was chosen holds 150 g"), ((bottles[0], others[0]), "of two batches"),
        ):  # fmt: skip
            problem = self.start(*containers, status=422)["problems"][0]
            self.assertEqual(problem["field"], "takes.l1")
            self.assertIn(word, problem["message"])
        Container.objects.filter(pk=bottles[0].pk).update(good_until=timezone.localdate() - timedelta(days=1))
        self.assertIn("past its day", self.start(*bottles, status=422)["problems"][0]["message"])
        self.assertIn("is not what goes in there", self.start(*others, line="l0", status=422)["problems"][0]["message"])
        self.assertEqual((Batch.objects.count(), Movement.objects.filter(kind="taken").count()), (before, 0))

    def test_without_bottles_it_is_made_as_its_version_says(self) -> None:
        batch = self.ask("POST", "/api/v1/stock/batches", {"formula": self.cream, "version": 1, "takes": []}, 201)
        line = batch["document"]["stages"][0]["lines"][1]
        self.assertEqual(line["substance"], made_key(self.simple, 1))
        # The run sheet says what must be there first, on screen and on paper, until it is weighed in.
        told = ["Make first: 200 g of Bridge Simple, version 1. No bottle of it was taken for this batch."]
        self.assertEqual(batch["report"]["sheet"]["made_first"], told)
        paper = PdfReader(BytesIO(self.client_.get(f"/api/v1/batches/{batch['id']}/run-sheet.pdf").content)).pages[0].extract_text()
        self.assertIn("Make first: 200 g of Bridge Simple", paper)
        weighed = {"kind": "weighed", "line": "l1", "reads_g": 200.0, "tare_g": 0.0, "more": False}
        append(actor=self.people["lead"], batch_id=batch["id"], events=[Event.model_validate(entry(weighed, by="lead"))])
        self.assertEqual(self.ask("GET", f"/api/v1/batches/{batch['id']}")["report"]["sheet"]["made_first"], [])
        taken = self.start(*self.bottles())
        self.assertEqual(taken["report"]["sheet"]["made_first"], [])
