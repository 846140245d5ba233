"""What the ingredients of a stage can do to somebody or to the batch, said at the stage where they go in."""

from __future__ import annotations

from jugcore.matter.hazards import HAZARDS
from jugcore.method.document import Method
from jugcore.method.stages import Adding, Aerate, Heat, Join, Mix, StageBase

#: Above this what flashes off does so at once. [°C]
_FLASHES_C = 50.0
#: Above this a closed blender or jar is blown open by steam. [°C]
_BLOWS_OPEN_C = 60.0
#: Above this what is wet erupts as it goes in. [°C]
_ERUPTS_C = 110.0
_SIPHON = (
    "A siphon is under pressure: its maker's fill line, food-grade chargers only and no more of them than it is made for. Strain first. "
    "Never open it before all the gas is out, fill nothing hot unless it is made for that, and never breathe the gas."
)
_ERUPTS = (
    "It erupts: off the heat, a pot at least four times the volume, what goes in warmed to 60–80 °C and poured slowly at arm's length, "
    "then stirred with a long dry spoon. Steam burns too."
)


def of_the_deed(stage: StageBase, after_c: float | None, into_c: float | None) -> list[str]:
    """Cautions of what is done rather than of what it is done with: gas, steam in a closed vessel, what is wet into hot sugar."""
    hot = (after_c or 0.0) > _BLOWS_OPEN_C
    match stage:
        case Aerate(tool="siphon"):
            return [_SIPHON]
        case Aerate(tool="blender" | "jar") | Mix(tool="blender" | "jar") if hot:
            return ["Hot in a closed vessel: steam blows the lid off. Fill it a third, lid ajar under a folded cloth, start slow; or let it cool."]
        case Aerate(tool="blender" | "hand_mixer") | Mix(tool="blender" | "stick_blender"):
            return ["Blades: unplug it before anything goes near them. A blender or pot that has seen nuts or sesame carries them on."]
        case Heat(by="microwave"):
            return ["In a microwave it boils over without warning when it is moved: a wide jug half full, stir it between bursts, dry gloves."]
        case Adding() | Join() if (into_c or 0.0) > _ERUPTS_C:
            return [_ERUPTS]
        case _:
            return []


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
