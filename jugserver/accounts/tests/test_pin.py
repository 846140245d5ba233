"""PINs at a shared tablet: quick, short, and opening nothing by themselves."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from io import StringIO
from typing import Any
from unittest import mock

from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone

from jugserver.accounts.models import Role, User
from jugserver.accounts.pin import MOST_WRONG
from jugserver.config.tests.shop import PASSWORD, ShopCase


class Pins(ShopCase):
    def setUp(self) -> None:
        self.tablet = self.signed_in("prep")
        self.assertEqual(self.put(self.signed_in("lead"), "2580").status_code, 204)
        self.other = User.objects.create_user("rafe", password=PASSWORD, site=self.site, role=Role.PREP, display_name="Rafe")

    def put(self, client: Client, pin: str, password: str = PASSWORD) -> Any:
        return self.send(client, "PUT", "/api/v1/session/pin", {"password": password, "pin": pin})

    def switch(self, username: str, pin: str, client: Client | None = None) -> Any:
        return self.send(client or self.tablet, "POST", "/api/v1/session/switch", {"username": username, "pin": pin})

    def who(self) -> dict[str, Any]:
        found: dict[str, Any] = json.loads(self.tablet.get("/api/v1/session").content)["person"]
        return found

    def test_a_pin_passes_the_tablet_on(self) -> None:
        answer = self.switch("lead", "2580")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual((self.who()["username"], self.who()["by_pin"]), ("lead", True))

    def test_a_pin_does_not_open_what_needs_a_password(self) -> None:
        self.switch("lead", "2580")
        self.assertNotIn("edit_formulas", self.who()["may"])
        self.assertIn("cook", self.who()["may"])
        self.assert_problem(self.send(self.tablet, "POST", "/api/v1/formulas", {"document": self.raw(name="By pin")}), 403, word="password")
        self.send(self.tablet, "POST", "/api/v1/session", {"username": "lead", "password": PASSWORD})
        self.assertIn("edit_formulas", self.who()["may"])

    def test_a_pin_opens_nothing_without_a_session(self) -> None:
        self.assertEqual(self.switch("lead", "2580", self.signed_in(None)).status_code, 401)

    def test_nobody_of_another_site_and_nobody_who_only_looks(self) -> None:
        self.put(self.signed_in("view"), "1397")
        self.put(self.signed_in(self.stranger), "1397")
        for username in ("view", "stranger", "nobody-here"):
            self.assert_problem(self.switch(username, "1397"), 422, field="pin")
        self.assertEqual(self.who()["username"], "prep")

    def test_wrong_pins_lock_that_pin_and_nothing_else(self) -> None:
        self.put(self.signed_in(self.other), "4826")
        for _ in range(MOST_WRONG):
            self.assert_problem(self.switch("lead", "0000"), 422)
        self.assert_problem(self.switch("lead", "2580"), 429, word="The tablet goes on")
        self.assertEqual(self.who()["username"], "prep")  # the kitchen goes on
        self.assertEqual(self.switch("rafe", "4826").status_code, 200)  # and so does everybody else
        fresh = self.signed_in(None)
        fresh.get("/")
        answer = self.send(fresh, "POST", "/api/v1/session", {"username": "lead", "password": PASSWORD})
        self.assertEqual(answer.status_code, 200)  # with a password at once
        User.objects.filter(username="lead").update(pin_locked_until=timezone.now() - timedelta(seconds=1))
        self.assertEqual(self.switch("lead", "2580").status_code, 200)

    def test_a_right_pin_forgets_the_wrong_ones(self) -> None:
        for _ in range(3):
            for _ in range(MOST_WRONG - 1):
                self.switch("lead", "0000")
            self.assertEqual(self.switch("lead", "2580").status_code, 200)

    def test_what_is_no_pin_is_refused_with_a_sentence(self) -> None:
        client = self.signed_in(self.other)
        for pin in ("123", "123456789", "12a4", "1111", "1234", "9876", " 258"):
            with self.subTest(pin=pin):
                self.assert_problem(self.put(client, pin), 422, field="pin")
        self.assert_problem(self.put(client, "2581", "not-it"), 422, field="password")
        self.other.refresh_from_db()
        self.assertEqual(self.other.pin, "")

    def test_who_may_take_over(self) -> None:
        found = json.loads(self.tablet.get("/api/v1/session/people").content)
        self.assertEqual([(p["username"], p["has_pin"]) for p in found], [("rafe", False), ("lead", True), ("prep", False)])

    def test_a_lead_sees_how_pins_stand_and_takes_one_away(self) -> None:
        lead = self.signed_in("lead")
        self.put(self.signed_in(self.other), "4826")
        for _ in range(MOST_WRONG):
            self.switch("rafe", "0000")
        found = {p["username"]: p for p in json.loads(lead.get("/api/v1/people").content)["items"]}
        self.assertEqual(set(found), {"bar", "lead", "prep", "rafe", "view"})  # nobody of another site
        self.assertTrue(found["rafe"]["has_pin"] and found["rafe"]["pin_locked_until"])
        self.assertNotIn("4826", str(found))
        self.assertEqual(self.send(lead, "POST", "/api/v1/people/rafe/unlock-pin", None).status_code, 204)
        self.assertEqual(self.switch("rafe", "4826").status_code, 200)
        self.assertEqual(self.send(lead, "DELETE", "/api/v1/people/rafe/pin", None).status_code, 204)
        self.assert_problem(self.switch("rafe", "4826", self.signed_in("prep")), 422, field="pin")
        self.assert_problem(self.send(lead, "DELETE", "/api/v1/people/stranger/pin", None), 404)

    def test_who_came_by_a_pin_does_not_look_after_people(self) -> None:
        self.switch("lead", "2580")
        self.assert_problem(self.tablet.get("/api/v1/people"), 403, word="password")

    def test_a_pin_from_the_shell(self) -> None:
        with self.piped("4826\n"):
            call_command("person", "rafe", "--pin", stdout=StringIO())
        self.assertEqual(self.switch("rafe", "4826").status_code, 200)
        self.other.refresh_from_db()
        self.assertEqual((self.other.display_name, self.other.site), ("Rafe", self.site))  # nothing else changes
        for name, typed, word in (("nobody", "4826", "Nobody signs in"), ("rafe", "1111", "easy to guess")):
            with self.piped(f"{typed}\n"), self.assertRaisesRegex(CommandError, word):
                call_command("person", name, "--pin", stdout=StringIO())

    @contextmanager
    def piped(self, text: str) -> Iterator[None]:
        with mock.patch("sys.stdin", StringIO(text)):
            yield
