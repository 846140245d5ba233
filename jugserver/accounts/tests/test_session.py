"""Signing in and out, CSRF, throttling, and what the demo shows."""

from __future__ import annotations

import json
import subprocess
import sys
from io import StringIO
from unittest import mock

from django.conf import settings
from django.core.management import CommandError, call_command
from django.test import Client, override_settings

from jugserver.accounts import policies, throttle
from jugserver.accounts.models import Role, Site, User
from jugserver.config.tests.shop import PASSWORD, ShopCase
from jugserver.demo.load import load
from jugserver.formulas.models import Formula


class Session(ShopCase):
    def test_an_answer_to_a_session_of_before_leaves_the_cookie_alone(self) -> None:
        """What was under way while a tablet changed hands must not sign the next one out; signing out takes it away."""
        name = settings.SESSION_COOKIE_NAME
        client = self.signed_in("prep")
        client.cookies[name] = "a-session-that-is-no-more"
        late = client.get("/api/v1/batches")
        self.assertEqual(late.status_code, 401)
        self.assertNotIn(name, late.cookies)
        out = self.signed_in("prep").delete("/api/v1/session")
        self.assertEqual(out.cookies[name]["max-age"], 0)

    def test_in_and_out(self) -> None:
        client = self.signed_in(None)
        answer = self.send(client, "POST", "/api/v1/session", {"username": "prep", "password": PASSWORD})
        person = json.loads(answer.content)["person"]
        self.assertEqual(
            (person["role"], person["site"], person["may"]),
            ("prep", "Weir kitchen", ["cook", "keep_lots", "move_stock", "read", "see_stock", "taste", "walk"]),
        )
        self.assertEqual(client.get("/api/v1/formulas").status_code, 200)
        self.send(client, "DELETE", "/api/v1/session")
        self.assertEqual(client.get("/api/v1/formulas").status_code, 401)

    def test_a_wrong_password_says_nothing_of_which_was_wrong(self) -> None:
        client = self.signed_in(None)
        known = self.send(client, "POST", "/api/v1/session", {"username": "lead", "password": "no"})
        unknown = self.send(client, "POST", "/api/v1/session", {"username": "nobody-at-all", "password": "no"})
        self.assert_problem(known, 401, field="password")
        self.assertEqual(known.content, unknown.content)

    def test_csrf_is_checked_before_anyone_is_signed_in(self) -> None:
        client = Client(enforce_csrf_checks=True, HTTP_HOST="127.0.0.1")
        body = {"username": "lead", "password": PASSWORD}
        self.assert_problem(self.send(client, "POST", "/api/v1/session", body), 403, word="Reload")
        client.get("/")
        token = client.cookies["oakenjug_csrf"].value
        answer = client.generic("POST", "/api/v1/session", json.dumps(body), content_type="application/json", headers={"X-CSRFToken": token})
        self.assertEqual(answer.status_code, 200)
        walked = self.send(client, "POST", "/api/v1/walk", self.raw())
        self.assertEqual(walked.status_code, 403)

    def attempt(self, username: str, password: str, address: str) -> int:
        client = Client(HTTP_HOST="127.0.0.1", REMOTE_ADDR=address)
        return self.send(client, "POST", "/api/v1/session", {"username": username, "password": password}).status_code

    def test_guessing_locks_a_name_at_an_address_only(self) -> None:
        attempt = self.attempt
        for _ in range(4):
            self.assertEqual(attempt("lead", "guess", "10.0.0.1"), 401)
        self.assertEqual(attempt("lead", "guess", "10.0.0.1"), 429)
        self.assertEqual(attempt("lead", PASSWORD, "10.0.0.1"), 429)
        self.assertEqual(attempt("lead", PASSWORD, "10.0.0.2"), 200)
        self.assertEqual(attempt("prep", PASSWORD, "10.0.0.1"), 200)

    def test_many_names_from_one_address_are_stopped_but_not_who_is_known_there(self) -> None:
        self.assertEqual(self.attempt("prep", PASSWORD, "10.0.0.3"), 200)
        with mock.patch.object(throttle, "MOST_FROM_AN_ADDRESS", 6):
            for n in range(5):
                self.assertEqual(self.attempt(f"name-{n}", "guess", "10.0.0.3"), 401)
            self.assertEqual(self.attempt("name-6", "guess", "10.0.0.3"), 429)
            self.assertEqual(self.attempt("lead", PASSWORD, "10.0.0.3"), 429)
            self.assertEqual(self.attempt("prep", PASSWORD, "10.0.0.3"), 200)
            self.assertEqual(self.attempt("lead", PASSWORD, "10.0.0.4"), 200)

    def test_one_name_from_many_addresses_is_stopped_but_not_where_it_is_known(self) -> None:
        self.assertEqual(self.attempt("lead", PASSWORD, "10.0.0.5"), 200)
        with mock.patch.object(throttle, "MOST_FOR_A_NAME", 6):
            for n in range(5):
                self.assertEqual(self.attempt("lead", "guess", f"10.0.1.{n}"), 401)
            self.assertEqual(self.attempt("lead", "guess", "10.0.1.9"), 429)
            self.assertEqual(self.attempt("lead", PASSWORD, "10.0.2.1"), 429)
            self.assertEqual(self.attempt("lead", PASSWORD, "10.0.0.5"), 200)

    def test_a_person_without_a_site_may_nothing(self) -> None:
        drifter = User.objects.create_user("drifter", password=PASSWORD, role=Role.LEAD)
        client = self.signed_in(drifter)
        for path in ("/api/v1/formulas", "/api/v1/kitchen", "/api/v1/substances"):
            self.assert_problem(client.get(path), 403)
        self.assertFalse(any(policies.may(drifter, deed) for deed in policies.MAY))


class Demo(ShopCase):
    def test_sign_ins_are_shown_in_demo_mode_only(self) -> None:
        client = self.signed_in(None)
        self.assertEqual(json.loads(client.get("/api/v1/session").content)["demo_sign_ins"], [])
        with override_settings(DEMO_MODE=True):
            shown = json.loads(client.get("/api/v1/session").content)["demo_sign_ins"]
        self.assertEqual([who["role"] for who in shown], ["lead", "prep", "prep", "view", "bar"])

    def test_loading_twice_changes_nothing(self) -> None:
        load()
        before = list(Formula.objects.values_list("id", "draft").order_by("id"))
        load()
        self.assertEqual(list(Formula.objects.values_list("id", "draft").order_by("id")), before)
        self.assertGreaterEqual(len(before), 7)


class Person(ShopCase):
    def test_adding_a_person(self) -> None:
        out = StringIO()
        with mock.patch.object(sys, "stdin", StringIO("quite-a-long-one\n")):
            call_command("person", "nora", name="Nora", role="prep", site="Weir kitchen", stdout=out)
        nora = User.objects.get(username="nora")
        self.assertTrue(nora.check_password("quite-a-long-one"))
        self.assertEqual((nora.role, nora.site), ("prep", self.site))
        self.assertEqual(Site.objects.filter(name="Weir kitchen").count(), 1)

    def test_a_weak_password_is_refused(self) -> None:
        with mock.patch.object(sys, "stdin", StringIO("12345\n")), self.assertRaises(CommandError):
            call_command("person", "nora", name="Nora", role="prep", site="Weir kitchen", stdout=StringIO())
        self.assertFalse(User.objects.filter(username="nora").exists())


class Start(ShopCase):
    def test_without_a_secret_it_does_not_start(self) -> None:
        done = subprocess.run(
            [sys.executable, "manage.py", "check"], env={"PATH": "/usr/bin", "OAKENJUG_MODE": "shop"}, capture_output=True, text=True, check=False
        )
        self.assertNotEqual(done.returncode, 0)
        self.assertIn("./jug start", done.stderr)
