"""Pages of a list by a cursor: where the last page ended, so that the next begins there whatever came in above meanwhile."""

from __future__ import annotations

import base64
import binascii
import json
from typing import Annotated, Any

from ninja import Query
from pydantic import TypeAdapter, ValidationError

from jugcore.errors import BadDocument

#: How a cursor is asked for. What stands in it is the server's own.
Cursor = Annotated[str, Query(max_length=400, description="Where the page before ended, as it was told; the first page without.")]


def cursor_of(*where: Any) -> str:
    """A cursor that says where a page ended."""
    return base64.urlsafe_b64encode(json.dumps(where, default=str, separators=(",", ":")).encode()).decode().rstrip("=")


def cursor_at(cursor: str, shape: Any) -> Any:
    """Where a page ended, as a tuple of ``shape``; None for the first page. Raises BadDocument for a cursor that was told by nobody."""
    if not cursor:
        return None
    try:
        found = base64.urlsafe_b64decode(cursor.encode("ascii") + b"=" * (-len(cursor) % 4))
        return TypeAdapter(shape).validate_json(found)
    except (binascii.Error, UnicodeError, ValidationError, ValueError):
        raise BadDocument("cursor", "That is not where a page of this list ended.", "Begin with its first page.") from None
