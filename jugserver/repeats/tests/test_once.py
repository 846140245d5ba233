"""What is sent again with its key is done once."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from uuid import uuid4

from django.http import HttpResponse
from django.test import Client, TransactionTestCase
from django.utils import timezone

from jugserver.accounts.models import Role, Site, User
from jugserver.config.tests.at_once import at_once
from jugserver.config.tests.shop import ShopCase, described
from jugserver.demo.documents import demo_document
from jugserver.formulas.models import Formula
from jugserver.repeats.models import Answered


class Once(ShopCase):
    def made(self, client: Client, key: str, **changes: Any) -> HttpResponse:
        body = {"document": self.raw(**changes)}
        answer: Any = client.post("/api/v1/formulas", body, content_type="application/json", headers={"Idempotency-Key": key})
        return answer

    def test_sent_again_it_is_made_once_and_answered_as_before(self) -> None:
        lead, key = self.signed_in("lead"), str(uuid4())
        first, second = (self.made(lead, key) for _ in range(2))
        self.assertEqual((first.status_code, second.status_code), (201, 201))
        self.assertEqual(first.content, second.content)
        self.assertEqual((first.get("Idempotent-Replay"), second.get("Idempotent-Replay")), (None, "true"))
        self.assertEqual(Formula.objects.count(), 1)

    def test_the_key_of_one_is_no_key_of_another(self) -> None:
        key = str(uuid4())
        self.made(self.signed_in("lead"), key)
        answer = self.made(self.signed_in(self.stranger), key)
        self.assertEqual(answer.status_code, 201)
        self.assertEqual(Formula.objects.count(), 2)

    def test_with_something_else_it_is_refused(self) -> None:
        lead, key = self.signed_in("lead"), str(uuid4())
        self.made(lead, key)
        self.assert_problem(self.made(lead, key, name="Another"), 409)
        self.assertEqual(Formula.objects.count(), 1)

    def test_what_was_refused_may_be_sent_again_put_right(self) -> None:
        lead, key = self.signed_in("lead"), str(uuid4())
        self.assertEqual(self.made(lead, key, name=" ").status_code, 422)
        self.assertEqual(self.made(lead, key).status_code, 201)

    def test_a_day_later_it_is_forgotten(self) -> None:
        lead, key = self.signed_in("lead"), str(uuid4())
        self.made(lead, key)
        Answered.objects.update(at=timezone.now() - timedelta(hours=25))
        self.assertEqual(self.made(lead, key).status_code, 422, "it is made anew, and that name is taken")

    def test_a_key_nobody_can_keep_is_refused(self) -> None:
        for key in ("", "x" * 101, "é"):
            with self.subTest(key=key):
                self.assert_problem(self.made(self.signed_in("lead"), key), 422)

    def test_whatever_makes_something_says_that_it_takes_one(self) -> None:
        for path, methods in described()["paths"].items():
            post = methods.get("post", {"responses": {}})
            takes = any(each["name"] == "Idempotency-Key" for each in post.get("parameters", ()))
            self.assertEqual(takes, "201" in post["responses"], path)


class AtOnce(TransactionTestCase):
    def test_ten_at_once_are_one(self) -> None:
        site = Site.objects.create(name="Weir kitchen")
        lead = User.objects.create_user("lead", site=site, role=Role.LEAD)
        client = Client(HTTP_HOST="127.0.0.1")
        client.force_login(lead, backend="jugserver.accounts.backends.PersonBackend")
        cookies, key = client.cookies, str(uuid4())
        document = demo_document("weir-simple").model_dump(mode="json")

        def make() -> tuple[int, str]:
            mine = Client(HTTP_HOST="127.0.0.1")
            mine.cookies = cookies
            answer: Any = mine.post("/api/v1/formulas", {"document": document}, content_type="application/json", headers={"Idempotency-Key": key})
            return answer.status_code, answer.json()["id"]

        came = at_once(10, make)
        self.assertEqual(len(set(came)), 1, came)
        self.assertEqual(Formula.objects.count(), 1)
