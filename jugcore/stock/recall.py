"""A recall: from a lot to every batch and container it is in or may be in, through whatever was made out of those; and back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal


@dataclass(frozen=True)
class LotTimes:
    """When a lot was there: the day it came, the day it was used up; None where nobody wrote it down."""

    received_on: date | None = None
    used_up_on: date | None = None

    def was_there(self, on: date) -> bool:
        """Whether what was taken on a day may have been of it. A day that nobody wrote down rules nothing out."""
        return (self.received_on is None or on >= self.received_on) and (self.used_up_on is None or on <= self.used_up_on)


@dataclass(frozen=True)
class WentIn:
    """An ingredient in a batch: which, and of which lot; empty where nobody said. ``on`` is the day of the batch."""

    batch: str
    ingredient: str
    lot: str
    grams: float
    on: date


@dataclass(frozen=True)
class TakenFrom:
    """Something made here went from a batch into another."""

    source: str
    into: str
    grams: float


@dataclass(frozen=True)
class Reached:
    """A batch that a lot reached. ``how``: “weighed” of it, “not said” which lot went in, “made with” a batch that it reached, ``via``.

    ``sure`` is False where it only may have: a lot nobody noted, or made with a batch that only may have.
    """

    batch: str
    sure: bool
    how: Literal["weighed", "not said", "made with"]
    grams: float
    via: str = ""


def reached(ingredient: str, lot: str, times: LotTimes, went_in: Iterable[WentIn], taken: Iterable[TakenFrom]) -> list[Reached]:
    """Every batch that a lot is in or may be in, those it went into first, then what was made with those.

    Parameters: ingredient and code of the lot, compared by their letters and figures alone; when it was there; what went into batches;
    what went from batch to batch. A batch counts as “may be” where the ingredient went in while the lot was there and nobody said of which lot:
    a recall errs towards care. What was made with a sure batch is sure. Each batch once, sure before may be.
    """
    found: dict[str, Reached] = {}
    for each in went_in:
        if each.ingredient != ingredient:
            continue
        if each.lot and same_code(each.lot, lot):
            _put(found, Reached(each.batch, True, "weighed", each.grams))
        elif not each.lot and times.was_there(each.on):
            _put(found, Reached(each.batch, False, "not said", each.grams))
    by_source: dict[str, list[TakenFrom]] = {}
    for move in taken:
        by_source.setdefault(move.source, []).append(move)
    # Sure ones first: what they reach is sure, whatever else may have reached it.
    for sure in (True, False):
        waiting = [each.batch for each in found.values() if each.sure is sure]
        while waiting:
            source = waiting.pop(0)
            for move in by_source.get(source, ()):
                if _put(found, Reached(move.into, sure, "made with", move.grams, source)):
                    waiting.append(move.into)
    return sorted(found.values(), key=lambda each: (not each.sure, each.how == "made with"))


def recall_words(found: Sequence[Reached], there: int) -> str:
    """In how many batches it is, in how many it may be, and how many containers of those are still there, in a sentence."""
    sure, maybe = sum(each.sure for each in found), sum(not each.sure for each in found)
    if not found:
        return "It is in no batch that this log knows."
    said = f"It is in {_count(sure, 'batch', 'batches')}" if sure else "It is in no batch for sure"
    if maybe:
        said += f", and may be in {f'{maybe} more' if sure else maybe} where nobody noted the lot"
    return f"{said}; {_count(there, 'container', 'containers')} of that {'is' if there == 1 else 'are'} still here."


def _count(count: int, one: str, more: str) -> str:
    return f"{count} {one if count == 1 else more}"


def _put(found: dict[str, Reached], each: Reached) -> bool:
    """Have a batch among those found, a sure one in place of one that may be; whether that is new."""
    before = found.get(each.batch)
    if before is None or (each.sure and not before.sure):
        found[each.batch] = each
        return True
    if before.how == each.how != "made with" and before.sure == each.sure:
        # Weighed twice: both count.
        found[each.batch] = Reached(each.batch, each.sure, each.how, before.grams + each.grams)
    return False


def same_code(one: str, other: str) -> bool:
    """Whether two codes name one lot (:func:`code_key`)."""
    return code_key(one) == code_key(other)


def code_key(code: str) -> str:
    """What of a code counts: its letters and figures. Capitals, blanks and dashes are copied in many ways, and a recall errs towards care."""
    return "".join(each for each in code if each.isalnum()).casefold() or code.strip()


def sources(batch: str, taken: Iterable[TakenFrom]) -> list[str]:
    """A batch and every batch that something in it came out of, the nearest first."""
    into: dict[str, list[str]] = {}
    for move in taken:
        into.setdefault(move.into, []).append(move.source)
    found, waiting = [batch], [batch]
    while waiting:
        for source in into.get(waiting.pop(0), ()):
            if source not in found:
                found.append(source)
                waiting.append(source)
    return found


def weighed_by_lot(lots: Mapping[str, float], total_g: float) -> list[tuple[str, float]]:
    """What went in of a line by the lots that were said, and what is left of it under no lot: (code, grams), without a rest of rounding."""
    rest = total_g - sum(lots.values())
    return [*lots.items(), *([("", rest)] if rest > max(0.005 * total_g, 0.01) or not lots else [])]
