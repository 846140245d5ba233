"""The one page of the app, with a fresh style nonce, and a health check."""

from __future__ import annotations

from django.conf import settings
from django.db import connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from jugcore import __version__
from jugserver.config.ready import state

_PLACEHOLDER = "__STYLE_NONCE__"


@never_cache
@ensure_csrf_cookie
def app_page(request: HttpRequest) -> HttpResponse:
    """The front end's page; its routes are all served by it."""
    file = settings.WEB_DIST / "index.html"
    if not file.is_file():
        return HttpResponse("The screens are not built yet. Run ./jug start, which builds them.", status=503, content_type="text/plain")
    nonce = str(request.csp_nonce)  # type: ignore[attr-defined]
    return HttpResponse(file.read_text(encoding="utf-8").replace(_PLACEHOLDER, nonce))


@never_cache
def service_worker(request: HttpRequest) -> HttpResponse:
    """What lets a tablet open the app without a network. It must stand at the root to cover the whole app."""
    file = settings.WEB_DIST / "sw.js"
    if not file.is_file():
        return HttpResponse("The screens are not built yet.", status=404, content_type="text/plain")
    return HttpResponse(file.read_text(encoding="utf-8"), content_type="text/javascript")


@never_cache
def ready(request: HttpRequest) -> JsonResponse:
    """Whether the app can do its work, check by check; 503 where it cannot."""
    found = state()
    return JsonResponse({"ready": not any(found.values()), "checks": found}, status=503 if any(found.values()) else 200)


@never_cache
def health(request: HttpRequest) -> JsonResponse:
    """Whether the database answers."""
    with connection.cursor() as cursor:
        cursor.execute("select 1")
    return JsonResponse({"ok": True, "version": __version__})
