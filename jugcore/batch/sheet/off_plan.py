"""What of a batch is off plan, in the order in which it is worth looking at."""

from __future__ import annotations

from collections.abc import Sequence

from jugcore.batch.sheet.schema import Deviation


def worth_looking_at(deviations: Sequence[Deviation]) -> list[Deviation]:
    """Deviations with where each belongs.

    Every line that was weighed off is looked at first, and of the readings the one that decides: one pot boiled too far is one thing,
    not four readings. Common practice, no source.
    """
    found: list[Deviation] = []
    reading_seen = False
    for each in deviations:
        if not each.beyond:
            found.append(each.model_copy(update={"look": "near"}))
        elif each.dealt is not None:
            found.append(each.model_copy(update={"look": "dealt"}))
        elif each.reading is None or not reading_seen:
            found.append(each.model_copy(update={"look": "first"}))
            reading_seen = reading_seen or each.reading is not None
        else:
            found.append(each.model_copy(update={"look": "besides"}))
    return found


def off_plan(deviations: Sequence[Deviation]) -> int:
    """How many things there are to look at."""
    return sum(each.look == "first" for each in deviations)
