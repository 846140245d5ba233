"""How long the server took, on every answer."""

from __future__ import annotations

import time
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class ServerTiming:
    """Outermost middleware: the whole time between the request's arrival and its answer."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        began = time.perf_counter()
        response = self.get_response(request)
        response["Server-Timing"] = f"total;dur={1000 * (time.perf_counter() - began):.2f}"
        return response
