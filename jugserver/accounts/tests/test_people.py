"""Who may sign in, for how long, and from where: accounts over HTTP and by the command."""

from __future__ import annotations

import io
import json
from datetime import timedelta
from typing import Any
from unittest import mock

from django.core.management import CommandError, call_command
from django.db import IntegrityError, transaction
from django.test import Client, override_settings
from django.utils import timezone

from jugserver.accounts.models import Role, Session, Site, User
from jugserver.accounts.pin import hashed
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import PASSWORD, ShopCase

SESSION = "/api/v1/session"


class _Accounts(ShopCase):
    def at_a_browser(self, username: str = "prep", password: str = PASSWORD) -> Client:
        """Somebody who signs in as people do."""
        client = Client(HTTP_HOST="127.0.0.1", HTTP_USER_AGENT="A kitchen's tablet")
        answer = self.send(client, "POST", SESSION, {"username": username, "password": password})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return client

    def person(self, client: Client) -> dict[str, Any] | None:
        found: dict[str, Any] | None = json.loads(client.get(SESSION).content)["person"]
        return found


class OnTheScreen(_Accounts):
    def test_who_is_deactivated_is_signed_out_everywhere_and_comes_back_with_the_same_password(self) -> None:
        lead, prep = self.signed_in("lead"), self.at_a_browser()
        self.assertEqual(self.send(lead, "POST", "/api/v1/people/prep/deactivate").status_code, 204)
        self.assertIsNone(self.person(prep))
        self.assert_problem(self.send(Client(HTTP_HOST="127.0.0.1"), "POST", SESSION, {"username": "prep", "password": PASSWORD}), 401)
        self.assertFalse(next(each for each in json.loads(lead.get("/api/v1/people").content)["items"] if each["username"] == "prep")["is_active"])
        self.assertEqual(self.send(lead, "POST", "/api/v1/people/prep/reactivate").status_code, 204)
        self.at_a_browser()

    def test_a_lead_cannot_lock_the_kitchen_out_nor_touch_another(self) -> None:
        lead = self.signed_in("lead")
        self.assert_problem(self.send(lead, "POST", "/api/v1/people/lead/deactivate"), 422, word="That is you")
        for deed in ("deactivate", "reactivate"):
            self.assert_problem(self.send(lead, "POST", f"/api/v1/people/stranger/{deed}"), 404)
            self.assert_problem(self.send(self.signed_in("prep"), "POST", f"/api/v1/people/lead/{deed}"), 403)
        self.assertTrue(User.objects.get(username="stranger").is_active)

    def test_sessions_are_listed_without_what_opens_them_and_ended(self) -> None:
        prep, elsewhere, lead = self.at_a_browser(), self.at_a_browser(), self.at_a_browser("lead")
        listed = json.loads(lead.get("/api/v1/session/all").content)["items"]
        self.assertEqual(sorted(each["username"] for each in listed), ["lead", "prep", "prep"])
        self.assertEqual({each["browser"] for each in listed}, {"A kitchen's tablet"})
        self.assertTrue(all(each["began_at"] and each["seen_at"] and each["address"] for each in listed))
        keys = set(Session.objects.values_list("session_key", flat=True))
        self.assertFalse([key for key in keys if key in json.dumps(listed)])
        own = json.loads(prep.get("/api/v1/session/all").content)["items"]
        self.assertEqual([each["username"] for each in own], ["prep", "prep"])
        other = next(each["id"] for each in own if not each["this_one"])
        self.assertEqual(self.send(prep, "DELETE", f"/api/v1/session/all/{other}").status_code, 204)
        self.assertIsNone(self.person(elsewhere))
        self.assertIsNotNone(self.person(prep))
        of_lead = next(each["id"] for each in listed if each["username"] == "lead")
        self.assert_problem(self.send(prep, "DELETE", f"/api/v1/session/all/{of_lead}"), 404)
        self.assertEqual(json.loads(self.signed_in(self.stranger).get("/api/v1/session/all").content)["items"][0]["username"], "stranger")

    def test_names_are_one_person_whatever_their_case(self) -> None:
        self.at_a_browser("PREP")
        self.at_a_browser("Prep")
        with self.assertRaises(IntegrityError), transaction.atomic():
            User.objects.create_user("PREP", password=PASSWORD, site=self.site, role=Role.PREP)
        # And wrong passwords are counted for one person.
        client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR="192.0.2.7")
        statuses = [
            self.send(client, "POST", SESSION, {"username": name, "password": "wrong"}).status_code
            for name in ("prep", "PREP", "Prep", "pREP", "prEP", "preP")
        ]
        self.assertEqual(statuses[0], 401)
        self.assertEqual(statuses[-1], 429)


class Throttled(_Accounts):
    def test_a_password_is_not_guessed_where_a_pin_is_set(self) -> None:
        client = self.at_a_browser()
        body = {"password": "wrong", "pin": "2580"}
        statuses = [self.send(client, "PUT", "/api/v1/session/pin", body).status_code for _ in range(6)]
        self.assertEqual(statuses[0], 422)
        self.assertEqual(statuses[-1], 429)
        self.assert_problem(self.send(client, "PUT", "/api/v1/session/pin", {**body, "password": PASSWORD}), 429)

    def test_a_header_says_nothing_of_where_somebody_is(self) -> None:
        client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR="192.0.2.9")
        for n in range(6):
            answer: Any = client.generic(
                "POST", SESSION, json.dumps({"username": "prep", "password": "wrong"}), content_type="application/json",
                HTTP_X_FORWARDED_FOR=f"198.51.100.{n}", HTTP_X_REAL_IP=f"198.51.100.{n}", HTTP_FORWARDED=f"for=198.51.100.{n}",
            )  # fmt: skip
        self.assertEqual(answer.status_code, 429)


class Rests(_Accounts):
    def setUp(self) -> None:
        User.objects.filter(username__in=["prep", "lead"]).update(pin=hashed("2580"))

    def later(self, minutes: float) -> Any:
        return mock.patch("jugserver.accounts.resting.timezone.now", return_value=timezone.now() + timedelta(minutes=minutes))

    @override_settings(RESTS_AFTER=timedelta(minutes=60))
    def test_a_tablet_nobody_was_at_asks_for_a_pin_and_goes_on_reading(self) -> None:
        batch = begun_batch(self.people["lead"])
        client = self.at_a_browser()
        path = f"/api/v1/batches/{batch.id}/entries"
        event = {"events": [entry({"kind": "noted", "text": "x"})]}
        with self.later(59):
            self.assertEqual(self.send(client, "POST", path, event).status_code, 200)
        with self.later(118):  # what was entered then counts as being there
            self.assertEqual(self.send(client, "POST", SESSION + "/here").status_code, 204)
        with self.later(200):
            self.assertEqual(client.get(f"/api/v1/batches/{batch.id}").status_code, 200)
            self.assertTrue((self.person(client) or {})["resting"])
            refused = self.assert_problem(self.send(client, "POST", path, {"events": [entry({"kind": "noted", "text": "x"})]}), 401)
            self.assertEqual(refused["code"], "resting")
            self.assert_problem(self.send(client, "POST", SESSION + "/here"), 401)
            self.assert_problem(self.send(client, "POST", SESSION + "/switch", {"username": "prep", "pin": "1470"}), 422)
        answer = self.send(client, "POST", SESSION + "/switch", {"username": "PREP", "pin": "2580"})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        person = json.loads(answer.content)["person"]
        self.assertEqual((person["resting"], person["by_pin"], person["username"]), (False, True, "prep"))
        self.assertEqual(self.send(client, "POST", path, event).status_code, 200)

    @override_settings(RESTS_AFTER=None)
    def test_it_may_be_turned_off(self) -> None:
        client = self.at_a_browser()
        with self.later(10_000):
            self.assertFalse((self.person(client) or {})["resting"])


class ByCommand(_Accounts):
    def run_command(self, *arguments: str, typed: str = "") -> str:
        out = io.StringIO()
        with mock.patch("sys.stdin", io.StringIO(typed)):
            call_command("person", *arguments, stdout=out)
        return out.getvalue()

    def test_a_new_password_changes_nothing_else(self) -> None:
        before = User.objects.get(username="prep")
        self.run_command("PREP", typed="another-long-password\n")
        after = User.objects.get(username="prep")
        self.assertEqual((after.role, after.display_name, after.site_id), (before.role, before.display_name, before.site_id))
        self.at_a_browser("prep", "another-long-password")
        self.assertEqual(Site.objects.count(), 2)

    def test_what_is_said_changes_and_the_rest_stays(self) -> None:
        client = self.at_a_browser()
        self.run_command("prep", "--role", "view", "--keep-password")
        after = User.objects.get(username="prep")
        self.assertEqual((after.role, after.display_name, after.site), ("view", "The prep", self.site))
        self.assertIsNone(self.person(client), "a session of another role goes on")
        self.at_a_browser()

    def test_a_pin_changes_only_the_pin(self) -> None:
        self.run_command("lead", "--pin", typed="2580\n")
        self.assertEqual(User.objects.get(username="lead").role, Role.LEAD)
        self.at_a_browser("lead")

    def test_it_takes_sign_in_away_gives_it_back_lists_and_ends_sessions(self) -> None:
        client = self.at_a_browser()
        self.assertIn("A kitchen's tablet", self.run_command("prep", "--sessions"))
        self.assertIn("1 place", self.run_command("prep", "--end-sessions"))
        self.assertIsNone(self.person(client))
        client = self.at_a_browser()
        self.run_command("prep", "--deactivate")
        self.assertIsNone(self.person(client))
        self.run_command("prep", "--reactivate")
        self.at_a_browser()

    def test_somebody_new_comes_to_the_only_site_or_is_asked_which(self) -> None:
        with self.assertRaisesRegex(CommandError, "Say which"):
            self.run_command("anew", typed=PASSWORD + "\n")
        self.run_command("anew", "--site", "Weir kitchen", typed=PASSWORD + "\n")
        self.assertEqual(User.objects.get(username="anew").site, self.site)
        with self.assertRaisesRegex(CommandError, "Nobody signs in"):
            self.run_command("nobody", "--deactivate")


class Headers(_Accounts):
    def test_private_answers_are_stored_by_nobody(self) -> None:
        client = self.signed_in("lead")
        for path in ("/api/v1/session", "/api/v1/formulas", "/api/v1/batches", "/api/v1/people", "/api/nowhere"):
            self.assertIn("no-store", client.get(path)["Cache-Control"], path)

    def test_the_page_may_use_nothing_that_sees_hears_or_finds_somebody(self) -> None:
        policy = self.signed_in(None).get("/api/health")["Permissions-Policy"]
        for name in ("camera", "microphone", "geolocation"):
            self.assertIn(f"{name}=()", policy)

    def test_the_description_of_the_api_is_for_who_is_signed_in_but_in_the_demo(self) -> None:
        for path in ("/api/v1/docs", "/api/v1/openapi.json"):
            with override_settings(DEMO_MODE=False):
                self.assert_problem(self.signed_in(None).get(path), 401)
                self.assertEqual(self.signed_in("view").get(path).status_code, 200)
            with override_settings(DEMO_MODE=True):
                self.assertEqual(self.signed_in(None).get(path).status_code, 200)


class Pages(ShopCase):
    def test_people_and_sessions_come_by_pages_without_gap_or_double(self) -> None:
        for n in range(70):
            User.objects.create_user(f"cook{n}", site=self.site, role=Role.PREP, display_name=f"Cook {n % 9}", is_active=n % 3 > 0)
        lead = self.signed_in("lead")
        for _ in range(60):
            self.send(self.signed_in(None), "POST", "/api/v1/session", {"username": "lead", "password": PASSWORD})
        for path, name, many in (("/api/v1/people", "username", 73), ("/api/v1/session/all", "id", 60)):
            with self.subTest(path):
                seen: list[str] = []
                cursor: str | None = ""
                while cursor is not None:
                    page = lead.get(path, {"cursor": cursor}).json()
                    self.assertLessEqual(len(page["items"]), 50)
                    seen += [each[name] for each in page["items"]]
                    cursor = page["next"]
                self.assertEqual(len(seen), len(set(seen)))
                self.assertGreaterEqual(len(seen), many)
