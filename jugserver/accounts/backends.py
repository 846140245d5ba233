"""Finding the person of a session."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.backends import ModelBackend

from jugserver.accounts.models import User


class PersonBackend(ModelBackend):
    """Django's own, but the person's site comes along in the one query."""

    def get_user(self, user_id: Any) -> User | None:
        user = User.objects.select_related("site").filter(pk=user_id).first()
        return user if user is not None and self.user_can_authenticate(user) else None
