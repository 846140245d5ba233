"""The door for substances: whatever release wrote it, and whether or not its row says what it brings besides its composition."""

from __future__ import annotations

from dataclasses import replace

from jugcore.matter.kinds import contributions_of_kind
from jugcore.matter.library import library
from jugcore.matter.substance import Contributions, Substance
from jugcore.matter.substance_document import SubstanceDoc, substance_from


def load_substance(id: str, doc: SubstanceDoc) -> Substance:
    """A substance as a document or a pantry carries it, checked.

    Raises BadDocument for a composition that does not add up, and for an allergen, a kind or a hazard that is none.
    """
    if doc.contributions is None:
        return substance_from(id, doc, usual_contributions(id, doc.kind))
    missing = {name for name in ("saturates", "salt_of_ash") if getattr(doc.contributions, name) is None}
    if not missing:
        return substance_from(id, doc)
    # Written before these were known.
    found, usual = substance_from(id, doc), usual_contributions(id, doc.kind)
    return replace(found, contributions=replace(found.contributions, **{name: getattr(usual, name) for name in missing}))


def usual_contributions(id: str, kind: str) -> Contributions:
    """What an ingredient brings whose row does not say: by its kind, and what the library says of that name alone.

    Rows written before rows said so, and ingredients that somebody types, are read with this.
    """
    usual = contributions_of_kind(kind)
    of_library = library().get(id)
    if of_library is None:
        return usual
    own, of_its_kind = of_library.contributions, contributions_of_kind(of_library.kind)
    # What a name of the library has for its kind alone goes by the kind that is written here.
    starch = own.starch if own.starch is not None and own.starch != of_its_kind.starch else usual.starch
    salt = own.salt_of_ash if own.salt_of_ash != of_its_kind.salt_of_ash else usual.salt_of_ash
    saturates = own.saturates if own.saturates != of_its_kind.saturates else usual.saturates
    return replace(usual, starch=starch, cell_oil=own.cell_oil, sweetness=own.sweetness, saturates=saturates, salt_of_ash=salt)
