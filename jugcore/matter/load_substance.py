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
    return substance_from(id, doc, None if doc.contributions is not None else usual_contributions(id, doc.kind))


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
    return replace(usual, starch=starch, cell_oil=own.cell_oil, sweetness=own.sweetness)
