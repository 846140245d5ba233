"""The ASGI application."""

import gc
import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jugserver.config.settings")
application = get_asgi_application()

# A walk makes a few thousand short-lived objects; without this every third walk
# would have the collector look through all of Django again.
from jugserver.config import urls as urls  # noqa: E402

gc.collect()
gc.freeze()
gc.set_threshold(50_000, 20, 50)
