"""Amounts: what a line says, how references among lines are followed.

A line's amount is one of eight forms. Where a person typed text, :func:`understand`
turns it into a form, with the names in it resolved to lines of this document.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from jugcore.errors import CyclicAmounts, NotUnderstood
from jugcore.fields import NO_NUL, Id, Part
from jugcore.measures.parsing import EXAMPLES, Everything, Likeness, Parts, Quantity, Rate, Total, TotalVolume, parse_amount
from jugcore.method.schema_messages import explain


class Written(Part):
    """A quantity in the words it was written in: “1 1/2 cups”."""

    kind: Literal["written"] = "written"
    text: str = Field(max_length=120, pattern=NO_NUL)


class AsMuchAs(Part):
    """As much as other lines together, times a factor: “as the juice”, “twice both”."""

    kind: Literal["as_much_as"] = "as_much_as"
    lines: tuple[Id, ...] = Field(min_length=1, max_length=100)
    factor: float = Field(1.0, gt=0, le=10_000)


class PerKg(Part):
    """Grams per kilogram of something.

    ``of``: ``pot_now`` what the vessel holds when this goes in · ``lines`` the lines
    named · ``started`` the starting mixture: what is in the pot before its first boil,
    seasoning not counted · ``after`` the vessel when a stage ends · ``finished`` the product.
    """

    kind: Literal["per_kg"] = "per_kg"
    grams: float = Field(gt=0, le=100_000)
    of: Literal["pot_now", "lines", "started", "after", "finished"] = "pot_now"
    lines: tuple[Id, ...] = Field((), max_length=100)
    stage: Id | None = None


class PartsOf(Part):
    """Parts, by weight, of the total its stage says it makes; ``percent`` where written so."""

    kind: Literal["parts"] = "parts"
    parts: float = Field(gt=0, le=1_000_000)
    percent: bool = False


class UpTo(Part):
    """Made up to a total mass in its vessel: “6 g made up to 100 g”."""

    kind: Literal["up_to"] = "up_to"
    total_g: float = Field(gt=0, le=1_000_000)


class UpToVolume(Part):
    """Made up to a volume, with the air in it and with ice that floats in it: “up to 1 l”.

    ``stage`` is the one behind which it must stand at that; None for the stage of the line itself.
    """

    kind: Literal["up_to_volume"] = "up_to_volume"
    ml: float = Field(gt=0, le=1_000_000)
    stage: Id | None = None


class All(Part):
    """All that the source vessel holds."""

    kind: Literal["all"] = "all"


Amount = Annotated[Written | AsMuchAs | PerKg | PartsOf | UpTo | UpToVolume | All, Field(discriminator="kind")]


@dataclass(frozen=True)
class Named:
    """A line or join as amounts may refer to it."""

    id: str
    title: str
    words: tuple[str, ...]
    vessel: str
    stage: str
    #: Its stage says what all of it together comes to, so parts and bare percents are of that.
    in_total: bool = False
    #: What it stands for from here on: the fruit as bought, once it is trimmed.
    instead_of: tuple[str, ...] = ()

    @cached_property
    def spoken(self) -> tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]]:
        """Its title and other words in lower case: as they are, without commas, and up to the first comma."""
        words = (self.title.lower(), *(word.lower() for word in self.words))
        return words, tuple(word.replace(",", "") for word in words), tuple(word.split(",")[0] for word in words)


@dataclass(frozen=True)
class Portion:
    """What a line in parts is a share of: the total of its stage, less its stage's other lines."""

    stage: str
    share: float
    others: tuple[str, ...]


_FACTOR_WORDS = {2.0: "twice", 0.5: "half", 1 / 3: "a third of", 0.25: "a quarter of"}
_COUNTED = {"both": 2, "all three": 3, "all four": 4}


def understand(text: str, *, own: Named, named: Sequence[Named], stages: Mapping[str, str]) -> Amount:
    """Turn typed text into an amount form.

    ``named`` are all lines and joins in order, this one among them; ``stages`` maps a
    lower-case stage title to its id. Raises NotUnderstood with the word that is no
    line's name or fits several, or for a figure that no amount can have.
    """
    try:
        return _understood(text, own=own, named=named, stages=stages)
    except ValidationError as error:
        wrong = explain(error.errors(include_url=False)[0], {})
        raise NotUnderstood("amount", wrong.message, wrong.remedy) from None
    except NotUnderstood as refusal:
        raise _pointing(refusal, text) from None


def _pointing(refusal: NotUnderstood, text: str) -> NotUnderstood:
    """The refusal with the place of the word it quotes, its choices put in that place; as it is where it points already."""
    quoted = re.search("“(.+?)”", refusal.message)
    at = text.lower().find(quoted[1].lower()) if quoted and refusal.at is None else -1
    if quoted is None or at < 0:
        return refusal
    end = at + len(quoted[1])
    choices = tuple(text[:at] + choice + text[end:] for choice in refusal.choices)
    return NotUnderstood(refusal.field, refusal.message, refusal.remedy, at=(at, end), choices=choices)


def _understood(text: str, *, own: Named, named: Sequence[Named], stages: Mapping[str, str]) -> Amount:
    parsed = parse_amount(text)
    match parsed:
        case Quantity():
            return Written(text=text.strip())
        case Parts():
            if not own.in_total:
                raise NotUnderstood("amount", "Parts need a total.", "Say what the stage makes in total, or give grams.")
            return PartsOf(parts=parsed.parts)
        case Rate(of=None, percent=True) if own.in_total:
            return PartsOf(parts=parsed.grams_per_kg / 10, percent=True)
        case Total():
            return UpTo(total_g=parsed.grams)
        case TotalVolume():
            return UpToVolume(ml=parsed.ml)
        case Everything():
            return All()
        case Rate():
            return _rate(parsed, own=own, named=named, stages=stages)
        case Likeness():
            # A line's name may itself hold “and” or a comma: try it whole first.
            plain = parsed.whole.replace(",", "")
            whole = [line for line in named if line.id != own.id and line.title.lower().replace(",", "") == plain]
            names = (parsed.whole,) if len(whole) == 1 else parsed.names
            return AsMuchAs(lines=_lines(names, own=own, named=named, stages=stages), factor=parsed.factor)


def _rate(rate: Rate, *, own: Named, named: Sequence[Named], stages: Mapping[str, str]) -> PerKg:
    of = (rate.of or "").strip()
    if of in ("", "pot", "the pot", "pot now", "what is in the pot"):
        return PerKg(grams=rate.grams_per_kg)
    if of in ("started", "the start", "starting mixture"):
        return PerKg(grams=rate.grams_per_kg, of="started")
    if of in ("finished", "the finish", "product", "the product"):
        return PerKg(grams=rate.grams_per_kg, of="finished")
    if of.startswith("after "):
        stage = stages.get(of.removeprefix("after ").removeprefix("the ").strip())
        if stage is None:
            raise NotUnderstood("amount", f"No stage is called “{of.removeprefix('after ')}”.", f"Stages: {_listed(stages)}.")
        return PerKg(grams=rate.grams_per_kg, of="after", stage=stage)
    names = parse_amount(f"as {of}")
    if not isinstance(names, Likeness):
        raise NotUnderstood("amount", f"“{of}” names no line.", "Name lines of this formula, or write per kg started.")
    return PerKg(grams=rate.grams_per_kg, of="lines", lines=_lines(names.names, own=own, named=named, stages=stages))


def _listed(stages: Mapping[str, str]) -> str:
    """Stages by the names people gave them, without those by number."""
    return ", ".join(title for title in stages if not _is_numbered(title))


def _is_numbered(title: str) -> bool:
    return title.removeprefix("stage ").isdigit()


def _lines(names: Iterable[str], *, own: Named, named: Sequence[Named], stages: Mapping[str, str]) -> tuple[str, ...]:
    others = [line for line in named if line.id != own.id]
    found: list[str] = []
    for name in names:
        if name in _COUNTED or name in ("all", "all so far", "everything so far"):
            earlier = named[: next(i for i, line in enumerate(named) if line.id == own.id)]
            gone = {id for line in earlier for id in line.instead_of}
            same_vessel = [line for line in earlier if line.vessel == own.vessel and line.id not in gone]
            count = _COUNTED.get(name, len(same_vessel))
            if len(same_vessel) < count or not same_vessel:
                raise NotUnderstood("amount", f"“{name}” needs {count or 'some'} lines before this one.", "Name the lines instead.")
            found += [line.id for line in same_vessel[-count:]]
            continue
        if not _hits(name, others) and _hits(name, [own]):
            raise NotUnderstood("amount", f"“{name}” is this line itself.", "Name another line, or give grams.")
        found.append(_one(name, others, stages))
    return tuple(dict.fromkeys(found))


def _one(name: str, others: Sequence[Named], stages: Mapping[str, str]) -> str:
    """The line meant by a name: exact words first, then words it starts with or contains.

    Where two lines share a name, “sugar in dissolve” says which by its stage.
    """
    hits = _hits(name, others)
    if not hits and " in " in name:
        ingredient, _, place = name.rpartition(" in ")
        stage = stages.get(place.removeprefix("the ").strip())
        hits = _hits(ingredient, [line for line in others if line.stage == stage])
    if len(hits) == 1:
        return hits[0].id
    titles_of = {id: title for title, id in stages.items()}  # its number, unless its title says it
    if hits:
        alike = len({line.title for line in hits}) < len(hits)
        titles = tuple(dict.fromkeys(f"{line.title} in {titles_of.get(line.stage, line.stage)}" if alike else line.title for line in hits))
        choices = tuple(title.replace(",", "").lower() for title in titles[:4])
        raise NotUnderstood("amount", f"“{name}” may mean several lines: {', '.join(titles)}.", "Write more of the name.", choices=choices)
    known = ", ".join(dict.fromkeys(line.title for line in others)) or "none yet"
    raise NotUnderstood("amount", f"“{name}” is neither an amount known here nor another line.", f"{EXAMPLES} Other lines: {known}.")


def _hits(name: str, others: Sequence[Named]) -> list[Named]:
    """The lines a name fits, by the strictest of five ways in which any fits: what a line is called comes before what it is of."""
    plain = name.replace(",", "")

    def fits(line: Named, how: int) -> bool:
        words, plainly, shortly = line.spoken
        match how:
            case -1:
                return plain == plainly[0]
            case 0:
                return plain in plainly
            case 1:
                return name in shortly
            case 2:
                return any(word.startswith(name) for word in words)
            case _:
                return any(name in word for word in words)

    for how in range(-1, 4):
        hits = [line for line in others if fits(line, how)]
        if hits:
            return hits
    return []


def references(amount: Amount | None, started: Sequence[str], own: str, portion: Portion | None = None) -> tuple[str, ...]:
    """The lines whose grams this amount needs before the walk reaches it."""
    match amount:
        case PartsOf():
            return () if portion is None else (portion.stage, *portion.others)
        case AsMuchAs():
            return amount.lines
        case PerKg(of="lines"):
            return amount.lines
        case PerKg(of="started"):
            return tuple(line for line in started if line != own)
        case _:
            return ()


def require_acyclic(
    amounts: Mapping[str, Amount], started: Sequence[str], titles: Mapping[str, str], portions: Mapping[str, Portion] | None = None
) -> None:
    """Raise CyclicAmounts naming the lines of the first circle of references."""
    done: set[str] = set()
    for first in amounts:
        path: list[str] = []
        trail: list[tuple[str, list[str]]] = [(first, [])]
        while trail:
            line, _ = trail[-1]
            if line in done or line not in amounts:
                trail.pop()
                continue
            if not path or path[-1] != line:
                path.append(line)
                trail[-1] = (line, [r for r in references(amounts[line], started, line, (portions or {}).get(line)) if r not in done])
            waiting = trail[-1][1]
            if not waiting:
                done.add(line)
                path.pop()
                trail.pop()
                continue
            nxt = waiting.pop()
            if nxt in path:
                circle = [*path[path.index(nxt) :], nxt]
                words = " → ".join(titles.get(i, i) for i in circle)
                raise CyclicAmounts(
                    f"lines.{line}.amount",
                    f"These amounts refer to one another in a circle: {words}.",
                    "Give one of them grams.",
                )
            trail.append((nxt, []))


def short_names(titles: Mapping[str, str], stage_of: Mapping[str, str]) -> dict[str, str]:
    """What a sentence calls each line: its title up to the comma if no other shares that, else all
    of it, and with its stage where even that is shared. Each reads back as the same line,
    unless two of one name stand in one stage: then one of them wants a name of its own.
    """
    full = {id: title.replace(",", "").lower() for id, title in titles.items()}
    first = {id: title.split(",")[0].lower() for id, title in titles.items()}
    firsts, fulls = Counter(first.values()), Counter(full.values())

    def name(id: str) -> str:
        if firsts[first[id]] == 1:
            return first[id]
        return full[id] if fulls[full[id]] == 1 else f"{full[id]} in {stage_of[id].lower()}"

    return {id: name(id) for id in titles}


def amount_to_text(amount: Amount, names: Mapping[str, str], stage_titles: Mapping[str, str]) -> str:
    """The text twin of an amount: what a person would write, and what reads back as the same amount.

    ``names`` are those of :func:`short_names`.
    """
    match amount:
        case Written():
            return amount.text
        case AsMuchAs():
            named = " and ".join(names[line] for line in amount.lines)
            if amount.factor == 1:
                return f"as {named}"
            return f"{_FACTOR_WORDS.get(amount.factor) or f'{amount.factor:g} x'} {named}"
        case PerKg(of="lines") if amount.grams >= 50:
            return f"{amount.grams / 10:g} % of " + " and ".join(names[line] for line in amount.lines)
        case PerKg(of="lines"):
            return f"{amount.grams:g} g per kg of " + " and ".join(names[line] for line in amount.lines)
        case PerKg(of="started"):
            return f"{amount.grams:g} g per kg started"
        case PerKg(of="finished"):
            return f"{amount.grams:g} g per kg finished"
        case PerKg(of="after"):
            return f"{amount.grams:g} g per kg after {stage_titles.get(amount.stage or '', amount.stage or '')}"
        case PerKg():
            return f"{amount.grams:g} g per kg"
        case PartsOf():
            return f"{amount.parts:g} %" if amount.percent else f"{amount.parts:g} part{'' if amount.parts == 1 else 's'}"
        case UpTo():
            return f"up to {amount.total_g:g} g"
        case UpToVolume():
            return f"up to {amount.ml:g} ml"
        case All():
            return "all"


def stage_by_number(index: int) -> str:
    """What an amount may call a stage by its place."""
    return f"stage {index + 1}"
