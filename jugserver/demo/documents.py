"""The demo's formulas as they are written."""

from __future__ import annotations

import json
from pathlib import Path

from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document

_FOLDER = Path(__file__).parent / "formulas"


def demo_document(name: str) -> MethodDocument:
    """One of the demo's formulas as a document."""
    return load_document(json.loads((_FOLDER / f"{name}.json").read_text(encoding="utf-8")))
