"""Of which type a file or a stream is that an operation hands out."""

from __future__ import annotations

from typing import Any

#: Where an operation says so; the description takes it from there.
MEDIA = "x-media"


def media(type: str) -> dict[str, Any]:
    """For an operation that hands out a file or a stream: of which type it is."""
    return {MEDIA: type}
