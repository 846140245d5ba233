"""The time of the kitchen: that of the machine it is served from, which stands in it."""

from __future__ import annotations

import os
from pathlib import Path
from zoneinfo import ZoneInfo

_ZONES = "zoneinfo/"


def machine_time_zone(localtime: Path = Path("/etc/localtime"), named: Path = Path("/etc/timezone")) -> str:
    """The machine's time zone by its name, “Europe/Dublin”; UTC where it has none that is known.

    ``TZ`` comes first, then where ``localtime`` points, then what ``named`` says.
    """
    candidates = [os.environ.get("TZ", "").removeprefix(":")]
    target = str(localtime.resolve()) if localtime.exists() else ""
    if _ZONES in target:
        candidates.append(target.split(_ZONES, 1)[1])
    if named.is_file():
        candidates.append(named.read_text(encoding="utf-8").strip())
    return next((name for name in candidates if name and is_known(name)), "UTC")


def is_known(name: str) -> bool:
    """Whether a time zone of that name is known here."""
    try:
        ZoneInfo(name)
    except (OSError, ValueError, KeyError):  # what is not found is a KeyError
        return False
    return True
