"""Out of which bottles what is made here goes into something: of one batch, the first to expire first, and how much of each."""

from __future__ import annotations

from collections.abc import Sequence

from jugcore.stock.on_hand import Held

#: Weighed out to the gram: bottles that hold a little less by their labels are enough. [g]
NEAR_G = 1.0


def offered(held: Sequence[Held], wanted_g: float) -> list[str]:
    """Ids of the bottles to take for so many grams: the fewest, in their order, of the first batch that holds enough; none where none does.

    ``held`` are in the order they are to be used. Bottles of one batch are one matter, measured together.
    """
    for batch in dict.fromkeys(each.batch for each in held):
        taken, left = [], wanted_g
        for each in (each for each in held if each.batch == batch):
            if left <= NEAR_G:
                break
            taken.append(each.id)
            left -= each.mass_g
        if taken and left <= NEAR_G:
            return taken
    return []


def shares_g(holding_g: Sequence[float], wanted_g: float) -> tuple[list[float], float]:
    """Grams out of each of some bottles, out of the first what it holds and out of the next what is left to take; and what they lack [g].

    What they lack within a gram is nothing.
    """
    shares, left = [], wanted_g
    for holds in holding_g:
        out = min(max(left, 0.0), holds)
        shares.append(out)
        left -= out
    return shares, left if left > NEAR_G else 0.0
