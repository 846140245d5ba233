"""Headers, pages, local docs, and that nothing breaks it: a fuzz from the API's own schema."""

from __future__ import annotations

import json
import re
from typing import Any

import numpy as np
from django.conf import settings
from django.core.management import call_command
from django.test import Client
from pydantic import BaseModel

from jugcore.tests.depth import often
from jugcore.tests.test_mutated_documents import mutated
from jugserver.config.tests import drawn
from jugserver.config.tests.as_described import not_as_described
from jugserver.config.tests.shop import PASSWORD, ShopCase, described
from jugserver.demo.documents import demo_document
from jugserver.formulas.services import start_formula
from jugtool.testing.noted import noted

EXAMPLES_PER_ENDPOINT = often(40, daily=10)


class Headers(ShopCase):
    def test_strict_policy_with_a_fresh_style_nonce(self) -> None:
        if not (settings.WEB_DIST / "index.html").is_file():
            self.fail("The screens are not built; ./jug test browser builds them.")
        seen = set()
        for _ in range(2):
            page = Client(HTTP_HOST="127.0.0.1").get("/")
            policy = page["Content-Security-Policy"]
            for directive in ("default-src 'none'", "script-src 'self'", "frame-ancestors 'none'", "base-uri 'none'"):
                self.assertIn(directive, policy)
            self.assertNotIn("unsafe", policy)
            nonce = re.search(r"style-src 'self' 'nonce-([^']+)'", policy)
            assert nonce is not None
            self.assertIn(f'content="{nonce[1]}"', page.content.decode())
            seen.add(nonce[1])
        self.assertEqual(len(seen), 2)

    def test_other_headers(self) -> None:
        answer = Client(HTTP_HOST="127.0.0.1").get("/api/health")
        self.assertEqual(json.loads(answer.content)["ok"], True)
        self.assertEqual((answer["X-Frame-Options"], answer["X-Content-Type-Options"]), ("DENY", "nosniff"))
        self.assertRegex(answer["Server-Timing"], r"total;dur=\d")

    def test_a_foreign_host_is_refused(self) -> None:
        self.assertEqual(Client(HTTP_HOST="evil.example.com").get("/api/health").status_code, 400)

    def test_an_unknown_address_is_a_problem(self) -> None:
        self.assert_problem(Client(HTTP_HOST="127.0.0.1").get("/api/nowhere"), 404)

    def test_api_docs_are_served_from_here(self) -> None:
        page = self.signed_in("view").get("/api/v1/docs").content.decode()
        self.assertNotRegex(page, r"https?://(?!127\.0\.0\.1)")
        self.assertIn("/static/ninja/", page)

    def test_no_two_of_its_shapes_have_one_name(self) -> None:
        """Of two the description would keep the last, and tell the other's answers by it."""
        named: dict[str, set[str]] = {}
        waiting: list[type[BaseModel]] = [BaseModel]
        while waiting:
            for shape in waiting.pop().__subclasses__():
                waiting.append(shape)
                if shape.__module__.startswith(("jugcore.", "jugserver.")) and ".tests." not in shape.__module__:
                    named.setdefault(shape.__name__, set()).add(shape.__module__)
        self.assertGreater(len(named), 200)
        self.assertEqual({name: sorted(modules) for name, modules in named.items() if len(modules) > 1}, {})

    def test_no_migration_is_missing(self) -> None:
        call_command("makemigrations", check=True, dry_run=True, verbosity=0)

    def test_django_finds_nothing_to_warn_of(self) -> None:
        call_command("check", fail_level="WARNING", databases=["default"])


class Fuzz(ShopCase):
    """Whatever the schema allows, and some of what it does not: never a 5xx."""

    def test_every_endpoint_survives(self) -> None:
        formula = start_formula(actor=self.people["lead"], document=self.document)
        operations = drawn.requests(described(), EXAMPLES_PER_ENDPOINT)
        self.assertGreaterEqual(len(operations), 12)
        for label, requests in operations.items():
            if label == "DELETE /api/v1/session":
                continue
            self.assertGreaterEqual(len(requests), 1, label)
            self._attempt(requests, str(formula.id))

    def _attempt(self, requests: list[drawn.Drawn], formula: str) -> None:
        client = self.signed_in("lead")
        for number, each in enumerate(requests, 1):
            # Every other time the formula that is there, else whatever was made up.
            id = formula if number % 2 else str(each.parameters.get("formula_id", "x"))
            path = re.sub(r"[^A-Za-z0-9/_.%-]", "x", each.path.replace("{formula_id}", id))
            response = client.generic(each.method, path, each.body, content_type="application/json", query_params=each.query)
            noted(
                {"requests drawn from the description": 1, "requests drawn from the description, answered with 5xx": int(response.status_code >= 500)}
            )
            self.assertLess(response.status_code, 500, f"{each.method} {path}: {each.body[:600]}")
            if path.startswith("/api/v1/") and response.status_code not in (404, 405):
                self.assertEqual(not_as_described(each.method, each.path, response), "", f"{each.method} {path}: {each.body[:600]}")
            elif response.status_code >= 400:
                self.assertEqual(response["Content-Type"], "application/problem+json", f"{response.status_code} {each.method} {path}")

    def test_mutated_documents_are_walked_kept_or_refused(self) -> None:
        """Documents that nearly make sense, which a schema alone would never write."""
        client = self.signed_in("lead")
        rng = np.random.default_rng(5)
        seen: dict[int, int] = {}
        for number in range(150):
            raw = mutated(self.raw(name=f"M {number}") if number % 2 else demo_document("ferrymans-spice").model_dump(mode="json"), rng)
            asks: list[tuple[str, Any]] = [("/api/v1/walk", raw), ("/api/v1/formulas", {"document": raw})]
            if number % 5 == 0:
                reading, value = str(rng.choice(["brix", "yield_g", "water_activity", "colour"])), float(rng.choice([-1.0, 0.0, 60.0, 1e9]))
                asks.append(("/api/v1/suggestions", {"document": raw, "reading": reading, "value": value}))
                asks.append(("/api/v1/scale", {"document": raw, "ask": {"by": "grams", "value": abs(value) + 1}}))
                asks.append(("/api/v1/solve", {"document": raw, "ask": {"targets": [{"reading": reading, "equals": value}]}}))
            for path, body in asks:
                answer = client.generic("POST", path, json.dumps(body), content_type="application/json")
                seen[answer.status_code] = seen.get(answer.status_code, 0) + 1
                noted({"mutated documents": 1, "mutated documents, answered with 5xx": int(answer.status_code >= 500)})
                with self.subTest(number=number, path=path):
                    self.assertIn(answer.status_code, (200, 201, 422), answer.content[:300])
                    self.assertEqual(not_as_described("POST", path, answer), "")
        self.assertEqual(set(seen), {200, 201, 422})
        # Whatever was kept can be listed and opened again.
        cards, cursor = [], ""
        while cursor is not None:
            page = json.loads(client.get(f"/api/v1/formulas?cursor={cursor}").content)
            cards += page["items"]
            cursor = page["next"]
        self.assertEqual(len(cards), seen[201])
        for card in cards:
            self.assertEqual(client.get(f"/api/v1/formulas/{card['id']}").status_code, 200)

    def test_broken_bodies(self) -> None:
        client = self.signed_in("lead")
        for body in ("", "{", "null", "[]", '"x"', "1e999", '{"document": null}', "\x00", '{"stages": [{"kind": null}]}', '{"stages": {"a": 1}}'):
            for method, path in (("POST", "/api/v1/walk"), ("POST", "/api/v1/formulas"), ("PUT", "/api/v1/kitchen"), ("POST", "/api/v1/session")):
                with self.subTest(path=path, body=body):
                    answer = client.generic(method, path, body, content_type="application/json")
                    self.assertIn(answer.status_code, (400, 422))
                    self.assertEqual(answer["Content-Type"], "application/problem+json")

    def test_a_nul_is_refused_wherever_it_stands(self) -> None:
        client = self.signed_in("lead")
        own = {"name": "x", "title": "x", "composition_g_per_100g": {"water": 100}}
        asks: list[tuple[str, str, Any, str]] = [
            ("GET", "/api/v1/substances?q=su%00gar", None, "q"),
            ("GET", "/api/v1/substances?kind=%00", None, "kind"),
            ("GET", "/api/v1/substances/titles?ids=water,%00", None, "ids"),
            ("GET", "/api/v1/substances/typed?text=2+g+%00", None, "text"),
            ("DELETE", "/api/v1/people/a%00b/pin", None, ""),
            ("POST", "/api/v1/calculators/a%00b", {"values": {}}, ""),
            ("POST", "/api/v1/formulas", {"document": {**self.raw(), "substances": {"a\0": own}}}, "document.substances.a"),
            ("POST", "/api/v1/formulas", {"document": {**self.raw(), "notes": "a\0"}}, "document.notes"),
            ("POST", "/api/v1/import/read", {"name": "a", "text": "2 g su\0gar"}, "text"),
            ("POST", "/api/v1/suggestions", {"document": self.raw(), "reading": "brix", "value": 60, "hold": ["fat", "\0"]}, "hold.1"),
        ]
        for method, path, body, field in asks:
            for encoding in ("utf-8", "utf-16") if body else ("utf-8",):  # a body may come in either
                with self.subTest(path=path, encoding=encoding):
                    sent = json.dumps(body).encode(encoding) if body else b""
                    answer = client.generic(method, path, sent, content_type="application/json")
                    self.assert_problem(answer, 422)
                    self.assertEqual(json.loads(answer.content)["problems"][0]["field"], field)
        for spelled in ("\\u0000", "100 %00"):  # the words for it are no NUL
            kept = client.generic(
                "POST", "/api/v1/formulas", json.dumps({"document": {**self.raw(name=spelled), "notes": spelled}}), content_type="application/json"
            )
            self.assertEqual(kept.status_code, 201, kept.content)

    def test_password_is_never_sent_back(self) -> None:
        answer = self.send(self.signed_in(None), "POST", "/api/v1/session", {"username": "lead", "password": PASSWORD})
        self.assertEqual(answer.status_code, 200)
        self.assertNotIn(PASSWORD, answer.content.decode())
