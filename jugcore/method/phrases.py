"""Short phrases that sentences about a walk are made of."""

from __future__ import annotations

from jugcore.figures import Floats, shown
from jugcore.method.kitchen import Kitchen
from jugcore.method.scales import resolution_g


def capital(text: str) -> str:
    """The text with its first letter large."""
    return text[:1].upper() + text[1:]


def grams_of(kitchen: Kitchen, grams: float, title: str) -> str:
    """“430 g of pear juice”, and “79 g more water” of what is called more of something."""
    if title[:5].lower() == "more ":
        return f"{grams_text(kitchen, grams)} {title[:1].lower()}{title[1:]}"
    return f"{grams_text(kitchen, grams)} of {title}"


def grams_text(kitchen: Kitchen, grams: float) -> str:
    """Grams as the kitchen's scale for that weight can show them: “3.44 g”."""
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


#: A year. What takes longer, or never ends (a burner of no power), is said so and shown as this. [s]
LONGEST_S = 3.2e7


def spelt_span(duration_s: Floats) -> str:
    """The first case of a (K, 3) duration as “20–27 min”, “3 min” or “2–5 h”."""
    if not float(duration_s[0, 2]) < LONGEST_S:
        return "longer than anybody waits"
    low, high = float(duration_s[0, 0]) / 60, float(duration_s[0, 2]) / 60
    unit = "min"
    if 0 < high < 1.75:
        low, high, unit = 60 * low, 60 * high, "s"
    if low >= 120:
        low, high, unit = low / 60, high / 60, "h"
    return f"{low:,.0f}–{high:,.0f} {unit}" if round(low) != round(high) else f"{low:,.0f} {unit}"


def spelt_minutes(minutes: float) -> str:
    """“20 min”, “12 h”, “90 s”."""
    return f"{60 * minutes:g} s" if minutes < 2 else f"{minutes:g} min" if minutes < 180 else f"{minutes / 60:.3g} h"
