"""Headers on every answer: what is private is kept by nobody on the way, and the page may use no more of a device than it needs."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

#: What of a device the page may use: none of what sees, hears or finds somebody.
_USES_NONE_OF = ("accelerometer", "camera", "display-capture", "geolocation", "gyroscope", "magnetometer", "microphone", "midi", "payment", "usb")
PERMISSIONS = ", ".join(f"{name}=()" for name in _USES_NONE_OF)


class PrivateAnswers:
    """Middleware: nothing under /api/ is stored by a browser or by what stands between, unless the answer says otherwise itself."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response["Permissions-Policy"] = PERMISSIONS
        if request.path.startswith("/api/") and "Cache-Control" not in response:
            response["Cache-Control"] = "no-store"
        return response
