"""A batch and entries for it, for tests."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any
from uuid import UUID, uuid4

from jugcore.method.document import KeepingDoc
from jugcore.method.kitchen import Kitchen
from jugserver.accounts.models import User
from jugserver.batches.models import Batch
from jugserver.batches.services import start_batch
from jugserver.demo.documents import demo_document
from jugserver.demo.load import demo_kitchen
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import save_version
from jugserver.kitchen.services import kitchen_of, save_kitchen


def entry(what: dict[str, Any], *, by: str = "prep", device: str = "tablet-1", seen: int = 0, id: UUID | None = None) -> dict[str, Any]:
    """An entry as a tablet sends it."""
    return {
        "id": str(id or uuid4()), "at": datetime.now(UTC).isoformat(), "by": by, "device": device, "seen": seen, "what": what,
    }  # fmt: skip


def letters(id: UUID) -> str:
    """An id in letters only, for a name that no number is found in."""
    return id.hex.translate(str.maketrans("0123456789", "ghijklmnop"))


def begun_batch(
    lead: User, formula: str = "ferrymans-spice", kitchen: Kitchen | None = None, keeping: KeepingDoc | None = None, at: datetime | None = None
) -> Batch:
    """A batch of one of the demo's formulas, started by a lead in the demo's kitchen, now or at an earlier time."""
    assert lead.site is not None
    save_kitchen(actor=lead, number=kitchen_of(lead.site).number, kitchen=kitchen or demo_kitchen())
    document = demo_document(formula)
    if keeping is not None:
        document = document.model_copy(update={"keeping": keeping})
    kept = start_formula(actor=lead, document=document.model_copy(update={"name": f"{document.name} {letters(uuid4())}"}))
    save_version(actor=lead, id=kept.id, draft=1, note="First.")
    return start_batch(actor=lead, formula_id=kept.id, version=1, at=at)
