"""Formats of what is kept: a name with a number, and the way from each number to the next.

What is kept is never rewritten. It is read through a door (:func:`jugcore.method.load_document.load_document`,
:func:`jugcore.batch.log.load_event.load_event`) that brings it to the newest number first.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from jugcore.errors import BadDocument

#: From one number to the next: plain data in, plain data out, nothing changed in place.
Upcaster = Callable[[Mapping[str, Any]], dict[str, Any]]


@dataclass(frozen=True)
class Format:
    """A format and what brings each of its numbers to the next; the first upcaster takes 1 to 2."""

    name: str
    upcasters: tuple[Upcaster, ...] = ()

    @property
    def newest(self) -> int:
        return len(self.upcasters) + 1

    @property
    def tag(self) -> str:
        """How it is written: ``oakenjug.method/1``."""
        return f"{self.name}/{self.newest}"

    def current(self, raw: Mapping[str, Any]) -> dict[str, Any]:
        """What was kept, as of the newest number. What says no format is of the first.

        Raises BadDocument for a format that is none of this name, or later than this release knows.
        """
        said = raw.get("format", f"{self.name}/1")
        name, _, number = str(said).partition("/")
        if name != self.name or not number.isdecimal() or not 1 <= int(number) <= self.newest:
            raise BadDocument("format", f"“{str(said)[:40]}” is not a format known here.", f"Bring in {self.tag}, or update this program.")
        found = dict(raw)
        for upcaster in self.upcasters[int(number) - 1 :]:
            found = upcaster(found)
        return {**found, "format": self.tag} if "format" in raw or found != dict(raw) else found
