"""Short phrases that sentences about a walk are made of."""

from __future__ import annotations

from jugcore.figures import shown
from jugcore.method.kitchen import Kitchen
from jugcore.method.scales import resolution_g
from jugcore.method.stages import StageBase


def called(stage: StageBase) -> str:
    """What a sentence calls a stage."""
    return f"“{stage.name}”" if stage.name else f"the {stage.title.lower()}"


def capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def grams_of(kitchen: Kitchen, grams: float, title: str) -> str:
    """“430 g of pear juice”, and “79 g more water” of what is called more of something."""
    if title[:5].lower() == "more ":
        return f"{grams_text(kitchen, grams)} {title[:1].lower()}{title[1:]}"
    return f"{grams_text(kitchen, grams)} of {title}"


def grams_text(kitchen: Kitchen, grams: float) -> str:
    step = resolution_g(kitchen, grams)
    return f"{shown(round(round(grams / step) * step, 6))} g"


def apart(kitchen: Kitchen, now: float, was: float) -> str:
    """“3.34 g instead of 3.33 g”: as the scale shows both, with as many digits more as tell them apart."""
    one, other = grams_text(kitchen, now), grams_text(kitchen, was)
    for digits in range(1, 6):
        if one != other:
            break
        one, other = f"{shown(round(now, digits))} g", f"{shown(round(was, digits))} g"
    return f"{one} instead of {other}"
