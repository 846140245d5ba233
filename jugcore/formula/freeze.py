"""A document that needs nothing but itself: with its kitchen, its substances and its references as they were."""

from __future__ import annotations

import hashlib
import json

from jugcore.formula.edits import settled
from jugcore.matter.substance import Substance, library
from jugcore.method.document import Method, MethodDocument, PieceDoc, StrengthDoc, SubstanceDoc
from jugcore.method.kitchen import Kitchen


def frozen(method: Method) -> MethodDocument:
    """The method's document with everything it reads written into it, so that it walks the same for ever.

    Cups go by the frozen kitchen's measures; what a table later corrects stays as it was.
    """
    used = {line.substance for line in method.lines.values()}
    return settled(method).model_copy(
        update={
            "kitchen": method.document.kitchen or Kitchen(),
            "substances": {id: as_document(method.substances[id]) for id in sorted(used)},
        }
    )


def thawed(document: MethodDocument) -> MethodDocument:
    """A frozen document as a draft again: in the kitchen and by the tables of today; what no table knows stays with it."""
    own = {id: substance for id, substance in document.substances.items() if id not in library()}
    return document.model_copy(update={"kitchen": None, "substances": own})


def as_document(substance: Substance) -> SubstanceDoc:
    """A substance as a document carries it."""
    return SubstanceDoc(
        title=substance.title, kind=substance.kind, basis=substance.basis,
        composition_g_per_100g=substance.composition_g_per_100g(), free_sugars_g_per_100g=100 * substance.free_sugar_fraction,
        density_g_ml=substance.density_g_ml, density_spread=substance.density_spread,
        storage=substance.storage,
        is_ground=substance.is_ground, allergens=substance.allergens, check_pack_for=substance.check_pack_for,
        also_called=substance.also_called, source=substance.source, note=substance.note,
        strength=StrengthDoc(low=substance.strength[0], high=substance.strength[1]) if substance.strength else None,
        pieces={word: PieceDoc(grams=piece.grams, spread=piece.spread) for word, piece in substance.pieces.items()},
    )  # fmt: skip


def fingerprint(document: MethodDocument) -> str:
    """SHA-256 of a document's JSON with its keys in order: the same document has the same, whoever wrote it down."""
    text = json.dumps(document.model_dump(mode="json", exclude_none=True), sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()
