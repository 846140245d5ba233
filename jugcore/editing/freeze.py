"""A document that needs nothing but itself: with its kitchen, its substances and its references as they were."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Collection, Mapping
from typing import Any

from jugcore.editing.edits import with_references_by_id
from jugcore.editing.keeping_answers import with_basis
from jugcore.matter.library import library
from jugcore.matter.substance_document import as_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method


def freeze(method: Method) -> MethodDocument:
    """The method's document with everything it reads written into it, so that it walks the same for ever.

    Cups go by the frozen kitchen's measures; what a table later corrects stays as it was.
    """
    method = with_basis(method)
    used = {line.substance for line in method.lines.values()}
    return with_references_by_id(method).model_copy(
        update={
            "kitchen": method.document.kitchen or Kitchen(),
            "substances": {id: as_document(method.substances[id]) for id in sorted(used)},
        }
    )


def thaw(document: MethodDocument, pantry: Collection[str] = ()) -> MethodDocument:
    """A frozen document as a draft again: in the kitchen and by the tables of today, of which ``pantry`` are those beside
    the library; what none of them knows stays with it.
    """
    own = {id: substance for id, substance in document.substances.items() if id not in library() and id not in pantry}
    return document.model_copy(update={"kitchen": None, "substances": own})


def fingerprint(document: MethodDocument) -> str:
    """SHA-256 of a document's JSON with its keys in order: the same document has the same, whoever wrote it down."""
    return fingerprint_of(document.model_dump(mode="json", exclude_none=True))


def fingerprint_of(kept: Mapping[str, Any]) -> str:
    """The fingerprint of a document as it was kept: what a later release would read into it makes no difference."""
    return hashlib.sha256(json.dumps(kept, sort_keys=True, ensure_ascii=False, separators=(",", ":")).encode()).hexdigest()
