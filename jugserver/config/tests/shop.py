"""Two invented sites with people in every role, for tests."""

from __future__ import annotations

import json
from functools import cache
from typing import Any

from django.http import HttpResponse
from django.test import Client, TestCase
from django.test.client import ClientHandler

from jugcore.method.document import MethodDocument
from jugserver.accounts.models import Role, Site, User
from jugserver.demo.documents import demo_document
from jugtool.generated import OPENAPI

PASSWORD = "a-long-test-password"
#: What answers every client of a process, as one server answers every browser: its middleware looks through all static files as it starts.
_SERVER = ClientHandler(enforce_csrf_checks=False)


@cache
def described() -> dict[str, Any]:
    """The API's description as it is kept, which what is generated anew is compared with elsewhere: making it takes seconds."""
    found: dict[str, Any] = json.loads(OPENAPI.read_text(encoding="utf-8"))
    return found


class ShopCase(TestCase):
    """A test with two sites: ``self.people`` by role at the first, ``self.stranger`` at the other."""

    site: Site
    people: dict[str, User]
    stranger: User
    document: MethodDocument

    @classmethod
    def setUpTestData(cls) -> None:
        cls.site = Site.objects.create(name="Weir kitchen")
        other = Site.objects.create(name="Another kitchen")
        cls.people = {
            str(role): User.objects.create_user(str(role), password=PASSWORD, site=cls.site, role=role, display_name=f"The {role}") for role in Role
        }
        cls.stranger = User.objects.create_user("stranger", password=PASSWORD, site=other, role=Role.LEAD, display_name="Stranger")
        cls.document = demo_document("weir-simple")

    def signed_in(self, who: User | str | None) -> Client:
        client = Client(HTTP_HOST="127.0.0.1")
        client.handler = _SERVER
        if who is not None:
            user = self.people[who] if isinstance(who, str) else who
            client.force_login(user, backend="jugserver.accounts.backends.PersonBackend")
        return client

    def send(self, client: Client, method: str, path: str, body: Any = None) -> HttpResponse:
        data = "" if body is None else json.dumps(body)
        answer: Any = client.generic(method, path, data, content_type="application/json")
        return answer

    def raw(self, **changes: Any) -> dict[str, Any]:
        return {**self.document.model_dump(mode="json"), **changes}

    def assert_problem(self, response: Any, status: int, *, field: str | None = None, word: str = "") -> dict[str, Any]:
        """The answer is problem+json with this status, and a sentence and a remedy at the field."""
        self.assertEqual(response.status_code, status, response.content[:500])
        self.assertEqual(response["Content-Type"], "application/problem+json")
        body: dict[str, Any] = json.loads(response.content)
        self.assertEqual(body["status"], status)
        fields = [item["field"] for item in body["problems"]]
        if field is not None:
            self.assertTrue(any(f.startswith(field) for f in fields), fields)
        for item in body["problems"]:
            self.assertTrue(item["message"] and item["remedy"], item)
        self.assertIn(word, json.dumps(body, ensure_ascii=False))
        return body
