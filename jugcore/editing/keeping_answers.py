"""What somebody answered or measured about keeping, and whether it still stands: an answer falls with the stages and lines it rests on."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cache
from typing import Literal

import numpy as np

from jugcore.method.document import KeepingDoc, RestsOn
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.stages import Boil, StageBase
from jugcore.method.walk import Walk, walk

Answer = Literal["heat_treated", "packaged", "ph"]
#: A share may move by so much, of itself, before what was measured of the whole falls: rounding to a scale is no change.
_SHARE = 0.10
#: What is less of it than this is seasoning; of acids every trace counts.
_LEAST_SHARE = 0.002
_SOUR = frozenset({"acid", "juice", "fruit", "dairy", "plant"})
#: °Brix by which a product may differ and be the one that was measured.
_BRIX = 3.0
#: What of a stage decides how hot it gets, and where its matter goes.
_HEATS = ("to_c", "at_c", "where", "how", "by", "source", "into")


@dataclass(frozen=True)
class Standing:
    """The answers that still stand, and those that fell with what they rested on."""

    told: KeepingDoc | None
    fallen: tuple[Answer, ...]


def standing_answers(walk: Walk) -> Standing:
    """The answers of a walked document. One that says not what it rests on rests on the document as it stands."""
    told = walk.method.document.keeping
    if told is None or told.rests_on is None:
        return Standing(told, ())
    now, then = rests_on(walk), told.rests_on
    fallen: list[Answer] = []
    if now.heat != then.heat:
        fallen += [answer for answer in ("heat_treated", "packaged") if getattr(told, answer) is not None]
    if told.ph is not None and not _the_same(walk, now, then):
        fallen.append("ph")
    return Standing(told.model_copy(update=dict.fromkeys(fallen)), tuple(fallen))


def rests_on(walk: Walk) -> RestsOn:
    """What answers given to this walk rest on: its stages and lines, and what went in against what."""
    method = walk.method
    grams = {id: float(walk.end.lines[id][0]) for id in method.lines if id in walk.product.touched and id in walk.end.lines}
    total = sum(grams.values())
    shares: dict[str, float] = {}
    for id, each in grams.items():
        if total > 0 and each > 0:
            shares[method.lines[id].substance] = shares.get(method.lines[id].substance, 0.0) + each / total
    brix = float(walk.product.brix[0]) if bool(walk.product.is_liquid[0]) else float("nan")
    return RestsOn(
        heat=_digest(_heat_of(stage) for stage in method.stages),
        made=_digest([_made_of(method), *([s.id, s.kind] for s in method.stages if s.changes_contents)]),
        shares={id: round(share, 6) for id, share in shares.items()},
        brix=round(brix, 3) if np.isfinite(brix) else None,
    )  # fmt: skip


def with_basis(method: Method, kitchen: Kitchen | None = None) -> Method:
    """A method whose answers say what they rest on, before something changes it."""
    told = method.document.keeping
    if told is None or told.rests_on is not None or (told.heat_treated is None and told.packaged is None and told.ph is None):
        return method
    kept = told.model_copy(update={"rests_on": rests_on(walk(method, kitchen))})
    return replace(method, document=method.document.model_copy(update={"keeping": kept}))


@cache
def _heats(kind: type[StageBase]) -> tuple[tuple[str, bool], ...]:
    """What decides how hot a stage gets, and whether this kind of stage has it."""
    return tuple((name, name in kind.model_fields or hasattr(kind, name)) for name in _HEATS)


def _heat_of(stage: StageBase) -> list[object]:
    """What an answer about heat and packaging rests on, of one stage: no amounts, times or names."""
    found: list[object] = [stage.id, stage.kind, stage.vessel, *(getattr(stage, name) if has else None for name, has in _heats(type(stage)))]
    if isinstance(stage, Boil):
        found += [stage.until.kind, stage.until.value if stage.until.kind == "temperature_c" else None]
    return found + sorted([line.id, line.substance, line.temperature_c or 0] for line in stage.ingredients)


def _made_of(method: Method) -> list[object]:
    """What its ingredients are made of, rounded: another composition under the same name is another ingredient."""
    used = sorted({line.substance for line in method.lines.values()})
    return [[id, method.substances[id].composition_2dp] for id in used]


def _digest(what: Iterable[object]) -> str:
    return hashlib.sha256(json.dumps(list(what), ensure_ascii=False, default=str).encode()).hexdigest()[:16]


def _the_same(walk: Walk, now: RestsOn, then: RestsOn) -> bool:
    """Whether what a pH was measured of is still what it was."""
    if now.made != then.made or (now.brix is None) != (then.brix is None):
        return False
    if now.brix is not None and then.brix is not None and abs(now.brix - then.brix) > _BRIX:
        return False
    return all(_close(walk, id, now.shares.get(id, 0.0), then.shares.get(id, 0.0)) for id in {*now.shares, *then.shares})


def _close(walk: Walk, id: str, now: float, then: float) -> bool:
    book = walk.method.substances.get(id)
    counts = max(now, then) >= _LEAST_SHARE or book is None or book.kind in _SOUR
    return not counts or abs(now - then) <= _SHARE * max(now, then)
