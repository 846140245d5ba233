"""What was kept aside stands among the containers: a product of its own, with its own day, never poured for the product."""

from __future__ import annotations

import json
from datetime import timedelta
from io import BytesIO
from typing import Any
from uuid import uuid4

from django.db import IntegrityError, transaction
from django.utils import timezone
from pypdf import PdfReader

from jugcore.batch.log.events import Event
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.states import keep_state
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.stock.models import Container, Place
from jugserver.stock.rates import rates_of


class KeptAside(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        Place.objects.create(site=self.site, name="Kitchen", kitchen=True)
        self.batch = begun_batch(self.people["lead"], "toasted-hazelnut")
        self.prep = self.signed_in("prep")

    def enter(self, *whats: dict[str, Any]) -> list[str]:
        events = [Event.model_validate(entry(what)) for what in whats]
        append(actor=self.people["prep"], batch_id=self.batch.pk, events=events)
        keep_state(Batch.objects.in_full().get(pk=self.batch.pk))
        return [str(event.id) for event in events]

    def kept(self, grams: float = 140) -> Container:
        self.enter({"kind": "kept_aside", "stage": "strain", "mass_g": grams}, {"kind": "bottled", "stage": "fill", "count": 1, "each_g": 300})
        return Container.objects.get(batch=self.batch, kind="aside")

    def get(self, path: str) -> Any:
        answer = self.prep.get(f"/api/v1/stock{path}")
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return json.loads(answer.content)

    def test_it_is_a_product_of_its_own_with_its_own_day(self) -> None:
        row = self.kept()
        self.assertEqual((row.stage, row.title, row.filled_g), ("strain", "hazelnuts, pressed", 140))
        assert row.good_until is not None
        self.assertLessEqual(row.good_until, timezone.localdate() + timedelta(days=6))
        rows = {each["name"]: each for each in self.get("")["on_hand"]}
        aside = rows[f"{self.batch.name}: hazelnuts, pressed"]
        self.assertEqual((aside["stage"], aside["mass_g"], aside["doses"]), ("strain", 140, None))
        self.assertEqual(rows[self.batch.name]["mass_g"], 300)
        of_it = self.get(f"/containers?formula={self.batch.formula_id}&stage=strain")["items"]
        self.assertEqual([each["kind"] for each in of_it], ["aside"])
        self.assertEqual([each["kind"] for each in self.get(f"/containers?formula={self.batch.formula_id}&stage=")["items"]], ["bottle"])

    def test_it_is_not_waste_of_the_product_and_poured_away_it_is_none_either(self) -> None:
        row = self.kept()
        body = {"entries": [{"container": str(row.pk), "movement": {"id": str(row.entry), "at": timezone.now().isoformat(),
                                                                    "what": {"kind": "poured_away", "reason": "Not needed", "mass_g": None}}}]}  # fmt: skip
        self.assertEqual(self.send(self.prep, "POST", "/api/v1/stock/entries", body).status_code, 200)
        formula = str(self.batch.formula_id)
        self.assertEqual(rates_of(self.site, [formula]).waste, {}, "too little to say")
        self.enter({"kind": "bottled", "stage": "fill", "count": 4, "each_g": 900})
        for bottle, what in zip(
            Container.objects.filter(filled_g=900).order_by("number"),
            ({"kind": "emptied"}, {"kind": "emptied"}, {"kind": "poured_away", "reason": "Past its day", "mass_g": None}),
            strict=False,
        ):
            movement = {"id": str(uuid4()), "at": timezone.now().isoformat(), "what": what}
            self.send(self.prep, "POST", "/api/v1/stock/entries", {"entries": [{"container": str(bottle.pk), "movement": movement}]})
        # Two served, one poured away, one still there: a third, the pressed nuts left out.
        self.assertAlmostEqual(rates_of(self.site, [formula]).waste[formula], 1 / 3, places=9)

    def test_it_has_a_label_with_its_name_its_day_and_every_allergen(self) -> None:
        row = self.kept()
        answer = self.prep.get(f"/api/v1/stock/containers/{row.pk}/label.pdf")
        self.assertEqual(answer.status_code, 200)
        words = " ".join(PdfReader(BytesIO(b"".join(answer) if answer.streaming else answer.content)).pages[0].extract_text().split())  # type: ignore[attr-defined]
        self.assertIn("hazelnuts, pressed", words)
        self.assertIn("nuts", words.lower().split("contains")[-1])

    def test_taken_back_it_is_gone_and_never_offered_for_the_product(self) -> None:
        first, _ = self.enter(
            {"kind": "kept_aside", "stage": "strain", "mass_g": 140}, {"kind": "bottled", "stage": "fill", "count": 1, "each_g": 300}
        )
        self.enter({"kind": "undone", "entry": first})
        self.assertIsNotNone(Container.objects.get(kind="aside").voided_at)
        self.assertEqual([each["stage"] for each in self.get("")["on_hand"]], [""])

    def test_what_no_step_left_is_no_container(self) -> None:
        self.enter({"kind": "kept_aside", "stage": "fill", "mass_g": 140}, {"kind": "kept_aside", "stage": "nowhere", "mass_g": 1})
        self.assertEqual(Container.objects.filter(kind="aside").count(), 0)

    def test_the_database_wants_a_step_and_a_name_of_it_and_of_nothing_else(self) -> None:
        row = self.kept()
        for kind, stage, title in (("aside", "", ""), ("aside", "strain", ""), ("bottle", "strain", "nuts")):
            with self.subTest(kind=kind, stage=stage), self.assertRaises(IntegrityError), transaction.atomic():
                Container.objects.create(
                    site=self.site, batch=self.batch, formula=self.batch.formula, entry=row.entry, number=99, kind=kind, stage=stage, title=title,
                    made_on=row.made_on, filled_g=1, mass_g=1,
                )  # fmt: skip
