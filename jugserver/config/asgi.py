"""The ASGI application."""

import asyncio
import gc
import logging
import os
import threading

import django
from asgiref.sync import sync_to_async
from django.conf import settings
from django.core.handlers.asgi import ASGIHandler
from django.core.handlers.base import BaseHandler
from django.db import DatabaseError
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from jugserver.computing.pool import Asking, asking, pool
from jugserver.config.bodies import bounded
from jugserver.process.connections import give_back


class OneThread(ASGIHandler):
    """Django's ASGI handler with the middleware and the view of a request in one thread.

    Django's own runs every middleware that could be asynchronous on the event loop and
    hops to a thread and back for each of its methods; a dozen hops cost more than a walk.
    """

    def __init__(self) -> None:
        BaseHandler.__init__(self)
        self.load_middleware(is_async=False)

    async def get_response_async(self, request: HttpRequest) -> HttpResponseBase:
        here = Asking()
        token = asking.set(here)
        try:
            answering = asyncio.ensure_future(sync_to_async(self.get_response, thread_sensitive=True)(request))
        finally:
            asking.reset(token)
        try:
            return await asyncio.shield(answering)
        except asyncio.CancelledError:
            # Whoever asked has left. A thread cannot be cancelled: what it waits for is told, and ends.
            here.leave()
            await answering
            raise


os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jugserver.config.settings")
django.setup()
application = bounded(OneThread(), settings.DATA_UPLOAD_MAX_MEMORY_SIZE)

# A walk makes a few thousand short-lived objects; without this every third walk
# would have the collector look through all of Django again.
from jugserver.batches.states import catch_up as catch_up_batches  # noqa: E402
from jugserver.config import urls as urls  # noqa: E402
from jugserver.drinks.served import catch_up as catch_up_doses  # noqa: E402
from jugserver.formulas.made_here import catch_up as catch_up_made_here  # noqa: E402
from jugserver.formulas.states import catch_up as catch_up_formulas  # noqa: E402


def _warm() -> None:
    """Have the computing processes ready before the first person asks, but not while the first page is opened."""
    processes = pool()
    if processes is not None:
        processes.warm()
    try:
        catch_up_made_here()
        catch_up_formulas()
        catch_up_batches()
        catch_up_doses()
    except DatabaseError:  # it says so itself at every request; what is behind is read when it is asked for
        logging.getLogger(__name__).warning("What lists show could not be looked through", exc_info=True)
    finally:
        give_back()


_warming = threading.Timer(2.0, _warm)
_warming.daemon = True
_warming.start()

gc.collect()
gc.freeze()
gc.set_threshold(50_000, 20, 50)
