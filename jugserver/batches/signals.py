"""What others hang on: sent in the transaction of what it tells of."""

from __future__ import annotations

from django.dispatch import Signal

#: A batch was read up to its newest entry: ``batch``, and ``found``, the batch as it was.
batch_read = Signal()
