"""What a plain consequence is."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Consequence:
    """One sentence, how loudly to say it, and the reading it rests on."""

    id: str
    tone: str  # "fine", "look" or "stop"
    text: str
    because: str
    about: str | None = None
    rank: int = 5
