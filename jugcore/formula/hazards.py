"""What the ingredients of a stage can do to somebody or to the batch, said at the stage where they go in."""

from __future__ import annotations

from jugcore.matter.hazards import HAZARDS
from jugcore.method.document import Method
from jugcore.method.stages import Adding, StageBase

#: Above this what flashes off does so at once. [°C]
_FLASHES_C = 50.0


def hazards_at(method: Method, stage: StageBase, after_c: float | None) -> list[str]:
    """Words for the hazards of what goes in at a stage, each once; what flashes off only where it is hot.

    ``after_c`` is how warm the vessel is behind the stage, None where nobody knows.
    """
    found: dict[str, list[str]] = {}
    for line in stage.lines if isinstance(stage, Adding) else ():
        for code in method.substances[line.substance].hazards:
            if code != "late" or (after_c is not None and after_c > _FLASHES_C):
                found.setdefault(code, []).append(method.titles[line.id])
    return [f"{' and '.join(dict.fromkeys(titles))}: {_small(HAZARDS[code].words)}" for code, titles in found.items()]


def _small(words: str) -> str:
    return words[:1].lower() + words[1:]
