"""Requests drawn from the API's own description: whatever it allows, and some of what it does not.

The draw is the same each time for a description, so it is made once and kept: drawing takes longer than asking.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import time
from importlib.metadata import version
from pathlib import Path
from typing import Any, NamedTuple

from jugtool.places import data_home

#: What nobody has asked for so long is of a description that is no more. [s]
_UNUSED_S = 7 * 24 * 3600.0


class Drawn(NamedTuple):
    """A request as it was drawn; ``body`` is JSON as it is sent."""

    method: str
    #: With its parameters still named.
    path: str
    parameters: dict[str, Any]
    query: dict[str, Any]
    body: str


def requests(description: dict[str, Any], examples: int) -> dict[str, list[Drawn]]:
    """By operation (“GET /api/v1/formulas”), up to so many requests each."""
    kept = data_home() / "made-for-tests" / f"drawn-{_mark(description, examples)}"
    with contextlib.suppress(OSError):
        found = json.loads(kept.read_text(encoding="ascii"))
        os.utime(kept)
        return {label: [Drawn(*each) for each in drawn] for label, drawn in found.items()}
    made = _draw(description, examples)
    kept.parent.mkdir(parents=True, exist_ok=True)
    for old in kept.parent.glob("drawn-*"):
        with contextlib.suppress(OSError):  # another run may have been quicker
            if time.time() - old.stat().st_mtime > _UNUSED_S:
                old.unlink()
    new = kept.with_suffix(f".{os.getpid()}")
    new.write_text(json.dumps(made), encoding="ascii")
    new.replace(kept)
    return made


def _mark(description: dict[str, Any], examples: int) -> str:
    """Stands for all that decides what is drawn."""
    drawn_by = [version("schemathesis"), version("hypothesis"), examples, Path(__file__).read_text(encoding="utf-8")]
    return hashlib.sha256(json.dumps([description, drawn_by], sort_keys=True).encode()).hexdigest()[:20]


def _draw(description: dict[str, Any], examples: int) -> dict[str, list[Drawn]]:
    import schemathesis  # only where something is drawn: it takes a second to load

    operations = [found.ok() for found in schemathesis.openapi.from_dict(description).get_all_operations()]
    return {operation.label: _draw_one(operation, examples) for operation in operations}


def _draw_one(operation: Any, examples: int) -> list[Drawn]:
    from hypothesis import HealthCheck, Phase, given, settings

    drawn: list[Drawn] = []

    @given(case=operation.as_strategy())
    @settings(max_examples=examples, derandomize=True, deadline=None, database=None, phases=[Phase.generate], suppress_health_check=list(HealthCheck))
    def keep(case: Any) -> None:
        body = case.body if isinstance(case.body, dict | list | str | int | float | bool) else None
        drawn.append(Drawn(case.method, case.path, dict(case.path_parameters or {}), dict(case.query or {}), json.dumps(body)))

    keep()
    return drawn
