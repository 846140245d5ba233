"""Sessions whose cookie only signing out takes away."""

from __future__ import annotations

from django.conf import settings
from django.contrib.sessions import middleware
from django.http import HttpRequest, HttpResponse


class SessionMiddleware(middleware.SessionMiddleware):
    """Django's own, but that an answer to a session that is no more leaves the browser's cookie alone.

    A tablet that passes from hand to hand changes its session; what was under way with the old one is answered after
    it, and would take the new cookie away again. An unknown cookie by itself opens nothing.
    """

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        answer = super().process_response(request, response)
        cookie = answer.cookies.get(settings.SESSION_COOKIE_NAME)
        if cookie is not None and cookie["max-age"] == 0 and request.method != "DELETE":
            del answer.cookies[settings.SESSION_COOKIE_NAME]
        return answer
