"""Substances over HTTP. They come from the core's library; nothing is stored yet."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Query, Router

from jugcore.matter.substance import Substance, library
from jugserver.accounts import policies
from jugserver.config.problems import Problem
from jugserver.config.session import signed_in
from jugserver.pantry.schemas import PieceOut, SubstanceOut

router = Router()


@router.get("", response={200: list[SubstanceOut], 401: Problem, 403: Problem}, operation_id="substances_list")
def list_substances(request: HttpRequest, q: str = Query("", max_length=100)) -> list[SubstanceOut]:
    """All substances, or those whose name has a word that starts with ``q``."""
    user, _ = signed_in(request)
    policies.require(user, "read")
    return [_shape(s) for s in library().values() if _matches(s, q.strip().lower())]


def _matches(substance: Substance, words: str) -> bool:
    names = " ".join((substance.title, *substance.also_called)).lower()
    return all(any(part.startswith(word) for part in names.replace(",", " ").split()) for word in words.split())


def _shape(s: Substance) -> SubstanceOut:
    return SubstanceOut(
        id=s.id,
        title=s.title,
        kind=s.kind,
        basis=s.basis,  # type: ignore[arg-type]
        source=s.source,
        note=s.note,
        storage=s.storage,  # type: ignore[arg-type]
        density_g_ml=s.density_g_ml,
        density_spread=s.density_spread,
        allergens=list(s.allergens),
        check_pack_for=list(s.check_pack_for),
        also_called=list(s.also_called),
        is_ground=s.is_ground,
        other_form=s.other_form or None,
        pieces=[PieceOut(word=word, grams=piece.grams, spread=piece.spread) for word, piece in s.pieces.items()],
        composition_g_per_100g=s.composition_g_per_100g(),
    )
