"""The catalogue of readings: numbers read off a walk, each with its working.

A reading is ``num / den`` over the walk where that makes sense, so that a solver
can hold it; all carry a band, what the band means, and where the model ends. Each is
one function in ``readings/``, a file a subject, and :func:`~jugcore.reading.readings.base.reading` lists it.
"""

from __future__ import annotations

from jugcore.method.walk import Walk, once
from jugcore.reading.readings import cold, content, flow, made, size, spice, sugar, taste, water
from jugcore.reading.readings.base import GROUPS, LISTED, Group, MakeReading, Reading

#: The files that list readings; one that is not imported here lists none.
FILES = (cold, content, flow, made, size, spice, sugar, taste, water)

_IN_ORDER = sorted(LISTED.values(), key=lambda each: (list(GROUPS).index(each.group), each.place))
#: Every reading, under its heading and in the order they are shown.
READINGS: tuple[MakeReading, ...] = tuple(each.read for each in _IN_ORDER)
#: Readings by their id.
READING_OF: dict[str, MakeReading] = {each.id: each.read for each in _IN_ORDER}
#: The heading of each reading.
GROUP_OF: dict[str, Group] = {each.id: each.group for each in _IN_ORDER}


@once
def readings(walk: Walk) -> tuple[Reading, ...]:
    """Every reading that means something for this walk, its product's first case; none where there is no product."""
    if not float(walk.product.total_g[0]) > 0:
        return ()
    return tuple(each.read(walk) for each in _IN_ORDER if each.means(walk))
