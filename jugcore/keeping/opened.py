"""Until when a lot is good: what the pack says, and what it keeps once opened."""

from __future__ import annotations

from datetime import date, timedelta

from jugcore.matter.substance import Opened


def good_until(opened: Opened | None, *, opened_on: date | None, best_before: date | None) -> tuple[date | None, str]:
    """The earlier of a pack's date and what it keeps once opened, by the least days, and which of the two it is.

    ``opened`` is what the ingredient keeps once opened (common practice; the day of opening is day one). None and a
    reason where nothing says anything.
    """
    by_opening = opened_on + timedelta(days=max(int(opened.days.low) - 1, 0)) if opened and opened_on else None
    if by_opening is not None and opened is not None and (best_before is None or by_opening < best_before):
        days = f"{opened.days.low:g}" if opened.days.low == opened.days.high else f"{opened.days.low:g} to {opened.days.high:g}"
        cold = ", chilled" if opened.storage == "chilled" else ""
        return by_opening, f"Opened; keeps {days} days{cold}, common practice. The pack and your local rule come first."
    if best_before is not None:
        return best_before, "The pack's date."
    if opened_on is not None:
        return None, "Nothing says how long it keeps once opened: read the pack."
    return None, "No date was written down."
