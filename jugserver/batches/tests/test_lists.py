"""Lists of batches: pages without gap or double, nothing worked out, searched and narrowed by columns."""

from __future__ import annotations

import csv
from datetime import date, timedelta
from io import StringIO
from typing import Any
from unittest import mock
from uuid import uuid4

from django.utils import timezone

from jugserver.batches.models import Batch, BatchState
from jugserver.batches.states import bring_up_to_date, keep_state
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import say_ready
from jugserver.pantry.schemas import LotIn
from jugserver.pantry.services import save_lot


class Lists(ShopCase):
    def setUp(self) -> None:
        self.batch = begun_batch(self.people["lead"], "weir-simple")
        self.client_ = self.signed_in("prep")

    def copies(self, many: int) -> None:
        """Batches beside it, some of one moment."""
        state = BatchState.objects.get(batch=self.batch)
        for n in range(many):
            batch = Batch.objects.get(pk=self.batch.pk)
            batch.pk, batch.number, batch.started_at, batch.behind = uuid4(), 1000 + n, self.batch.started_at - timedelta(hours=n // 7), False
            batch.save(force_insert=True)
            state.pk, state.batch, state.number, state.started_at = batch.pk, batch, batch.number, batch.started_at
            state.save(force_insert=True)

    def page(self, ask: str = "") -> dict[str, Any]:
        answer = self.client_.get(f"/api/v1/batches?{ask}")
        self.assertEqual(answer.status_code, 200, answer.content)
        found: dict[str, Any] = answer.json()
        return found

    def numbers(self, ask: str = "") -> list[int]:
        return [card["number"] for card in self.page(ask)["items"]]

    def test_pages_follow_without_gap_or_double_whatever_comes_in_above(self) -> None:
        self.copies(123)
        seen: list[int] = []
        cursor: str | None = ""
        while cursor is not None:
            found = self.page(f"cursor={cursor}")
            seen += [card["number"] for card in found["items"]]
            cursor = found["next"]
            begun_batch(self.people["lead"], "weir-simple", at=timezone.now())
        self.assertEqual(len(seen), len(set(seen)))
        self.assertEqual({n for n in seen if n >= 1000}, set(range(1000, 1123)))
        rows = list(csv.DictReader(StringIO(self.client_.get("/api/v1/batches/table.csv").getvalue().decode("utf-8-sig"))))
        self.assertEqual(len(rows), Batch.objects.count())

    def test_a_list_works_nothing_out_where_nothing_moved(self) -> None:
        self.copies(3)
        with (
            mock.patch("jugserver.batches.states.reckoned", side_effect=AssertionError("a log was read")),
            mock.patch("jugserver.batches.reading.log_of_batch", side_effect=AssertionError("a log was read")),
        ):
            self.assertEqual(len(self.page()["items"]), 4)

    def test_a_moment_later_is_read_what_moved(self) -> None:
        with mock.patch("jugserver.batches.states.by_and_by") as beside:
            self.send(
                self.client_, "POST", f"/api/v1/batches/{self.batch.pk}/entries", {"events": [entry({"kind": "noted", "text": "a kingfisher"})]}
            )
        (_, deed), _ = beside.call_args
        self.assertTrue(Batch.objects.get(pk=self.batch.pk).behind)
        deed()
        self.assertFalse(Batch.objects.get(pk=self.batch.pk).behind)
        self.assertEqual(self.numbers("q=kingfisher"), [self.batch.number])

    def test_what_was_read_further_stays(self) -> None:
        old = Batch.objects.in_full().get(pk=self.batch.pk)
        self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.pk}/entries", {"events": [entry({"kind": "noted", "text": "a kingfisher"})]})
        keep_state(Batch.objects.in_full().get(pk=self.batch.pk))
        keep_state(old)  # somebody slower, who read it before
        self.assertEqual(BatchState.objects.get(pk=self.batch.pk).seq, 1)
        self.assertEqual(self.numbers("q=kingfisher"), [self.batch.number])

    def test_short_words_begin_a_word_and_figures_are_numbers_too(self) -> None:
        self.copies(20)
        self.assertEqual(self.numbers("q=1007"), [1007])
        self.assertEqual(self.numbers("q=eir"), self.numbers("q=weir"))
        self.assertEqual(self.numbers("q=we"), self.numbers("q=weir"))
        self.assertEqual(self.numbers("q=ir"), [])

    def test_narrowed_by_the_last_day_and_that_follows_the_lots(self) -> None:
        last = date.fromisoformat(self.page()["items"][0]["use_by"])
        self.assertEqual(self.numbers(f"use_by={last}"), [self.batch.number])
        self.assertEqual(self.numbers(f"use_by={last - timedelta(days=1)}"), [])
        state = BatchState.objects.get(pk=self.batch.pk)
        BatchState.objects.filter(pk=state.pk).update(dated=["white_sugar"])
        save_lot(actor=self.people["prep"], key="white_sugar", lot_id=None, lot=LotIn(code="L1"))
        self.assertTrue(Batch.objects.get(pk=self.batch.pk).behind, "its last day may rest on that lot")

    def test_a_cursor_that_nobody_told_is_refused_in_words(self) -> None:
        self.assert_problem(self.client_.get("/api/v1/batches?cursor=W10"), 422, word="where a page of this list ended")


class Formulas(ShopCase):
    """What the list of formulas shows of their versions and batches."""

    def setUp(self) -> None:
        self.batch = begun_batch(self.people["lead"], "weir-simple")
        self.client_ = self.signed_in("lead")

    def cards(self, ask: str = "") -> list[dict[str, Any]]:
        answer = self.client_.get(f"/api/v1/formulas?{ask}")
        self.assertEqual(answer.status_code, 200, answer.content)
        found: list[dict[str, Any]] = answer.json()["items"]
        return found

    def test_a_card_says_how_far_it_is_and_how_often_it_is_cooked(self) -> None:
        [card] = self.cards()
        self.assertEqual((card["version"], card["ready"], card["on_hob"], card["cooked"], card["cooked_at"]), (1, None, 1, 0, None))
        self.assertIn("Sugar and water", card["purpose"])
        self.assertEqual([each["id"] for each in self.cards("state=on_hob")], [card["id"]])
        self.assertEqual(self.cards("state=ready") + self.cards("state=draft") + self.cards("family=caramel"), [])
        say_ready(actor=self.people["lead"], id=self.batch.formula_id, number=1, ready=True, reason="The sheet is by the fridge.")
        closed = {"events": [entry({"kind": "closed", "outcome": "finished"})]}
        self.assertEqual(self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", closed).status_code, 200)
        bring_up_to_date(self.batch.site)  # in use it is read a moment later, beside the requests
        [card] = self.cards("state=ready&family=Simple%20syrup")
        self.assertEqual((card["version"], card["ready"], card["on_hob"], card["cooked"]), (1, 1, 0, 1))
        self.assertEqual(self.cards("state=on_hob"), [])
        # What was said last holds.
        say_ready(actor=self.people["lead"], id=self.batch.formula_id, number=1, ready=False, reason="")
        self.assertEqual(self.cards("state=ready"), [])

    def test_a_formula_without_a_version_is_a_draft(self) -> None:
        start_formula(actor=self.people["lead"], document=demo_document("weir-simple").model_copy(update={"name": "Only a draft"}))
        [card] = self.cards("state=draft")
        self.assertEqual((card["name"], card["version"], card["cooked"]), ("Only a draft", None, 0))
        self.assertEqual(self.client_.get("/api/v1/formulas?state=somewhere").status_code, 422)
