"""What a method names that the kitchen does not have: another is taken, and that is said."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from jugcore.method.context import Fault
from jugcore.method.kitchen import Burner, Kitchen, Pot, Sieve
from jugcore.method.method import Method


def missing_here(method: Method, kitchen: Kitchen, cases: int) -> list[Fault]:
    """A fault for every pot, burner and sieve by name that is none of the kitchen's.

    A kitchen that lists none of a kind has nothing to be held to.
    """
    found: list[Fault] = []
    for field, kind, id, stage in _named(method):
        there: Sequence[Pot | Burner | Sieve] = kitchen.pots if kind == "pot" else kitchen.burners if kind == "burner" else kitchen.sieves
        if there and id not in [each.id for each in there]:
            instead = "" if kind == "sieve" else f"; {there[0].name} is used instead"
            remedy = f"Choose one of its own: {', '.join(each.name for each in there)}."
            found.append(Fault("not_in_this_kitchen", field, f"This kitchen has no {kind} “{id}”{instead}.", remedy, np.ones(cases, bool), stage))
    return found


def _named(method: Method) -> Iterator[tuple[str, str, str, str | None]]:
    """Each pot, burner and sieve by name: its field, what it is, what it is called, and its stage."""
    for vessel in method.document.vessels:
        if vessel.pot is not None:
            yield f"vessels.{vessel.id}.pot", "pot", vessel.pot, None
    for stage in method.stages:
        for kind, id in stage.named_equipment():
            yield stage.path(kind), kind, id, stage.id
