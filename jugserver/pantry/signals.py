"""What others hang on: sent in the transaction of what it tells of."""

from __future__ import annotations

from django.dispatch import Signal

#: What an ingredient of a site is made of was changed: ``site``, ``key``, and whether its allergens are others (``allergens``).
ingredient_saved = Signal()
#: The dates of a lot were written down: ``site``, ``key`` of its ingredient.
lot_saved = Signal()
