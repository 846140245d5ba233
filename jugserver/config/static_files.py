"""The app's own files, each answered whole."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from whitenoise.middleware import WhiteNoiseMiddleware


class StaticFiles(WhiteNoiseMiddleware):
    """Answers with a file read whole instead of handed on in pieces.

    They are small. Handed on in pieces, which are read without waiting, they hold up everybody else's answers, and the server
    complains of it on the terminal of whoever started it.
    """

    @staticmethod
    def serve(static_file: Any, request: HttpRequest) -> HttpResponse:
        """A file, a part of it, or that it is the one which is there already; with its own headers and no others."""
        found = static_file.get_response(request.method, request.META)
        content = b""
        if found.file is not None:
            with found.file as opened:
                content = opened.read()
        answer = HttpResponse(content, status=int(found.status))
        del answer["content-type"]
        for name, value in found.headers:
            answer[name] = value
        return answer
