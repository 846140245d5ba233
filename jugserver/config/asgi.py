"""The ASGI application."""

import gc
import os
import threading
from importlib import import_module

import django
from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIHandler
from django.core.handlers.base import BaseHandler
from django.http import HttpRequest
from django.http.response import HttpResponseBase


class OneThread(ASGIHandler):
    """Django's ASGI handler with the middleware and the view of a request in one thread.

    Django's own runs every middleware that could be asynchronous on the event loop and
    hops to a thread and back for each of its methods; a dozen hops cost more than a walk.
    """

    def __init__(self) -> None:
        BaseHandler.__init__(self)
        self.load_middleware(is_async=False)

    async def get_response_async(self, request: HttpRequest) -> HttpResponseBase:
        return await sync_to_async(self.get_response, thread_sensitive=True)(request)


os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jugserver.config.settings")
django.setup()
application = OneThread()

# A walk makes a few thousand short-lived objects; without this every third walk
# would have the collector look through all of Django again.
from jugserver.config import urls as urls  # noqa: E402

# The solver's library is large and loads lazily: neither the first person to ask should wait for it nor who opens the first page.
_loading = threading.Timer(5.0, import_module, args=("scipy.optimize",))
_loading.daemon = True
_loading.start()

gc.collect()
gc.freeze()
gc.set_threshold(50_000, 20, 50)
