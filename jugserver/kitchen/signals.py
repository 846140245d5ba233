"""What others hang on: sent in the transaction of what it tells of."""

from __future__ import annotations

from django.dispatch import Signal

#: A site's kitchen was changed: ``site``.
kitchen_saved = Signal()
#: The days of a site begin at another hour than before: ``site``.
site_time_changed = Signal()
