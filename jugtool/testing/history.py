"""How long each test took when it last ran, and what failed last.

Kept in the clone, outside version control. A new clone goes by ``seconds.json`` beside this file, which is
written by ``./jug test --keep-times``; where neither knows a test, its suite's usual time counts. Times only
order the work: wrong ones cost a little waiting and nothing else.
"""

from __future__ import annotations

import json
import os
from dataclasses import dataclass, field
from pathlib import Path

from jugtool.places import ROOT

KEPT = ROOT / ".jug-test.json"
HINTS = Path(__file__).parent / "seconds.json"
#: What is quicker needs no hint. [s]
_WORTH_A_HINT_S = 1.0


def key(suite: str, name: str) -> str:
    return f"{suite} {name}"


def split(key: str) -> tuple[str, str]:
    """The suite and the name of a :func:`key`."""
    suite, _, name = key.partition(" ")
    return suite, name


@dataclass
class History:
    """By :func:`key`."""

    seconds: dict[str, float] = field(default_factory=dict)
    failed: list[str] = field(default_factory=list)

    def suite_s(self, suite: str) -> float:
        """What a whole suite took, as far as is known."""
        return sum(seconds for name, seconds in self.seconds.items() if name.startswith(f"{suite} "))


def _read(path: Path) -> dict[str, object]:
    try:
        found = json.loads(path.read_text(encoding="utf-8"))
    except (OSError, ValueError):  # none yet, or an unfinished one: only the order suffers
        return {}
    return found if isinstance(found, dict) else {}


def load() -> History:
    hints, kept = _read(HINTS), _read(KEPT)
    seconds = {**hints, **(kept.get("seconds") or {})}  # type: ignore[dict-item]
    return History({str(name): float(s) for name, s in seconds.items()}, list(kept.get("failed") or []))  # type: ignore[arg-type, call-overload]


def keep(ran: dict[str, float], failed: list[str], *, whole: bool) -> None:
    """Keep what ran and what failed; what did not run keeps its time, and stays failed if it was.

    Another run may have written meanwhile, so what is there is read again. ``whole``: everything ran, and what
    is not among it is no longer there.
    """
    before = load()
    seconds = ran if whole else {**before.seconds, **ran}
    still = [] if whole else [name for name in before.failed if name not in ran]
    _write(KEPT, {"seconds": dict(sorted(seconds.items())), "failed": sorted({*still, *failed})})


def keep_hints() -> int:
    """Write the committed times anew from this clone's; how many there are."""
    kept: dict[str, float] = _read(KEPT).get("seconds") or {}  # type: ignore[assignment]
    hints = {name: round(s, 1) for name, s in sorted(kept.items()) if s >= _WORTH_A_HINT_S}
    _write(HINTS, hints)
    return len(hints)


def _write(path: Path, what: object) -> None:
    new = path.with_name(f"{path.name}.{os.getpid()}")
    new.write_text(json.dumps(what, indent=0, ensure_ascii=False) + "\n", encoding="utf-8")
    new.replace(path)
