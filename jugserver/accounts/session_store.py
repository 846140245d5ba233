"""Sessions kept in rows that say whose they are, so that they can be listed and ended."""

from __future__ import annotations

from typing import Any

from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.utils.dateparse import parse_datetime


class SessionStore(DatabaseStore):
    """Django's own store, with whose session a row is beside what it holds."""

    @classmethod
    def get_model_class(cls) -> Any:
        from jugserver.accounts.models import Session

        return Session

    def create_model_instance(self, data: dict[str, Any]) -> Any:
        row: Any = super().create_model_instance(data)
        person = data.get("_auth_user_id")
        row.user_id = int(person) if person is not None else None
        row.by_pin = bool(data.get("by_pin"))
        row.address, row.browser = data.get("address"), str(data.get("browser", ""))[:300]
        row.began_at = parse_datetime(data["began"]) if "began" in data else None
        row.seen_at = parse_datetime(data["seen"]) if "seen" in data else None
        return row
