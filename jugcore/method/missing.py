"""What a method names that the kitchen does not have: another is taken, and that is said."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jugcore.method.context import Fault
from jugcore.method.document import Method
from jugcore.method.kitchen import Kitchen


def missing_here(method: Method, kitchen: Kitchen, cases: int) -> list[Fault]:
    """A fault for every pot, burner and sieve by name that is none of the kitchen's.

    A kitchen that lists none of a kind has nothing to be held to.
    """
    everywhere = np.ones(cases, bool)
    found = []
    for field, kind, id, names, instead, stage in _named(method, kitchen):
        if names and id is not None:
            remedy = f"Choose one of its own: {', '.join(names)}."
            found.append(Fault("not_in_this_kitchen", field, f"This kitchen has no {kind} “{id}”{instead}.", remedy, everywhere, stage))
    return found


def _named(method: Method, kitchen: Kitchen) -> Iterator[tuple[str, str, str | None, list[str], str, str | None]]:
    """Each thing that is not there: its field, what it is, what it was called, what there is, what is taken instead, and its stage."""
    kinds = {
        "pot": ({each.id for each in kitchen.pots}, [each.name for each in kitchen.pots]),
        "burner": ({each.id for each in kitchen.burners}, [each.name for each in kitchen.burners]),
        "sieve": ({each.id for each in kitchen.sieves}, [each.name for each in kitchen.sieves]),
    }
    for vessel in sorted(method.vessel_ids):
        ids, names = kinds["pot"]
        if (pot := method.pot_id(vessel)) not in ids:
            yield f"vessels.{vessel}.pot", "pot", pot, names, f"; {names[0]} is reckoned with" if names else "", None
    for stage in method.stages:
        for kind in ("burner", "sieve"):
            ids, names = kinds[kind]
            if (named := getattr(stage, kind, None)) not in ids:
                instead = f"; {names[0]} is reckoned with" if names and kind == "burner" else ""
                yield stage.path(kind), kind, named, names, instead, stage.id
