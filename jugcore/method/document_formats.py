"""The formats a document was ever written in, and the way from each to the next."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jugcore.formats import Format

#: What a piece of equipment said in the first format, and says in the second.
_OF_A_PIECE = {"gear": "kind", "saw": "allergens_met", "met": "met_at_batches"}


def _equipment(raw: Mapping[str, Any]) -> dict[str, Any]:
    """The first format called a kitchen's equipment ``shared``."""
    kitchen = raw.get("kitchen")
    if not isinstance(kitchen, Mapping) or "shared" not in kitchen:
        return dict(raw)
    pieces = kitchen["shared"]
    if isinstance(pieces, list | tuple):
        pieces = [{_OF_A_PIECE.get(name, name): value for name, value in piece.items()} if isinstance(piece, Mapping) else piece for piece in pieces]
    return {**raw, "kitchen": {**{name: value for name, value in kitchen.items() if name != "shared"}, "equipment": pieces}}


METHOD = Format("oakenjug.method", (_equipment,))
