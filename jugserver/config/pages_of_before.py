"""Addresses without a version: pages and tablets of before there was one go on with the first."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

_ROOT, _FIRST = "/api/", "/api/v1/"
#: What is not of a version: how the app is.
_OF_NONE = ("/api/health", "/api/ready")


class PagesOfBefore:
    """Middleware: what a page kept from before asks for is answered by the first version, so that a tablet's entries find their way."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        path = request.path_info
        if path.startswith(_ROOT) and not path.startswith(_FIRST) and path not in _OF_NONE:
            request.path = request.path_info = _FIRST + path.removeprefix(_ROOT)
        return self.get_response(request)
