"""What a calculator is: fields that can be typed, and what follows from the one typed last."""

from __future__ import annotations

import re
from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, ClassVar, Literal

import numpy as np

from jugcore.errors import BadDocument, OutOfRange
from jugcore.figures import Floats, shown
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.substance import Substance
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.compile import parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.scales import rounded_g
from jugcore.method.walk import Walk, walk
from jugcore.reading.catalogue import READING_OF


@dataclass(frozen=True)
class Choice:
    """One of the answers a field may be given: its value, and what it is called."""

    value: str
    title: str


@dataclass(frozen=True)
class Field:
    """One field of a calculator. ``two_way`` ones follow when another is typed; the rest are only asked."""

    id: str
    title: str
    start: float | str
    unit: str = ""
    digits: int = 0
    kind: Literal["number", "choice", "ingredient", "text"] = "number"
    low: float = 0.0
    high: float = 1e6
    choices: tuple[Choice, ...] = ()
    two_way: bool = False
    help: str = ""


@dataclass(frozen=True)
class Line:
    """Something that comes out and cannot be typed: a title, a value, how far it goes."""

    title: str
    value: float
    unit: str = ""
    digits: int = 0
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True)
class Answer:
    """Values of the fields that follow, what else comes out, sentences, and a document to carry into a formula."""

    values: Mapping[str, float | str] = field(default_factory=dict)
    lines: Sequence[Line] = ()
    words: Sequence[str] = ()
    document: dict[str, Any] | None = None
    #: Corners and middle of the mixing square, where it is one: fat of one, of the other, wanted, parts of each.
    square: tuple[float, float, float, float, float] | None = None


@dataclass(frozen=True)
class Given:
    """What was typed: values by field, which of them last, in which kitchen, and substances beside the library."""

    values: Mapping[str, float | str]
    typed: str
    kitchen: Kitchen
    substances: Mapping[str, SubstanceDoc] = field(default_factory=dict)

    def number(self, id: str) -> float:
        return float(self.values[id])

    def text(self, id: str) -> str:
        return str(self.values[id])

    def substance(self, id: str) -> Substance:
        """The ingredient a field names. Raises BadDocument for one nobody knows."""
        key = self.text(id)
        if key in self.substances:
            return load_substance(key, self.substances[key])
        if key not in library():
            raise BadDocument(id, "The pantry has no such ingredient.", "Choose another.")
        return library()[key]

    def method(self, document: Mapping[str, Any]) -> Method:
        """A document in this kitchen, with what it names of the site's own pantry in it."""
        own = {key: doc.model_dump(mode="json", exclude_none=True) for key, doc in self.substances.items()}
        return parse_document({**document, "kitchen": self.kitchen.model_dump(mode="json"), "substances": own})


class Calculator(ABC):
    """A calculator: what it is for, its fields, and how they follow from one another."""

    id: ClassVar[str]
    title: ClassVar[str]
    #: When one needs it.
    what: ClassVar[str]
    fields: ClassVar[tuple[Field, ...]]

    @abstractmethod
    def work(self, given: Given) -> Answer:
        """What follows. Raises what the core raises for figures that cannot be."""

    def starts(self, kitchen: Kitchen) -> dict[str, float | str]:
        """What stands in the fields at first; a calculator may know better from the kitchen."""
        return {each.id: each.start for each in self.fields}


def calculate(
    which: Calculator, kitchen: Kitchen, values: Mapping[str, Any], typed: str, substances: Mapping[str, SubstanceDoc] | None = None
) -> Answer:
    """Calculate.

    ``values`` are what stands in its fields, as typed; what is missing is as at the start. ``typed`` is the field typed last.
    Raises OutOfRange at a field whose number is none or cannot be, BadDocument for a choice that is none.
    """
    standing: dict[str, float | str] = which.starts(kitchen)
    for each in which.fields:
        if each.id not in values:
            continue
        raw = values[each.id]
        if each.kind == "number":
            standing[each.id] = _number(each, raw)
        else:
            standing[each.id] = str(raw)[:300]
            if each.choices and standing[each.id] not in {choice.value for choice in each.choices}:
                raise BadDocument(each.id, f"“{str(raw)[:40]}” is not a choice here.", "Choose one of those offered.")
    if typed not in {each.id for each in which.fields}:
        typed = which.fields[0].id
    return which.work(Given(standing, typed, kitchen, substances or {}))


def _number(each: Field, raw: Any) -> float:
    try:
        value = float(str(raw).strip().replace(",", "."))
    except ValueError:
        raise OutOfRange(each.id, f"{each.title}: “{str(raw).strip()[:40]}” is not a number.", "Write a number.") from None
    if not np.isfinite(value) or not each.low <= value <= each.high:
        unit = f" {each.unit}" if each.unit else ""
        raise OutOfRange(each.id, f"“{each.title}” cannot be {shown(value)}{unit}.", f"Write {shown(each.low)} to {shown(each.high)}{unit}.")
    return value


def adding(vessel: str, *lines: tuple[str, str, Any]) -> dict[str, Any]:
    """A stage that puts lines (id, substance, amount) into a vessel."""
    return {"id": f"into-{vessel}", "kind": "add", "vessel": vessel, "lines": [{"id": i, "substance": s, "amount": a} for i, s, a in lines]}


def syrup_of(brix: float, *stages: dict[str, Any], total_g: float = 1000.0) -> dict[str, Any]:
    """A plain syrup of a °Brix, with what is done to it: what a calculator on a syrup carries into a formula."""
    sugar = min(max(brix, 0.01), 99.0) / 100 * total_g
    lines = adding("pot", ("sugar", "white_sugar", grams(sugar)), ("water", "water", grams(total_g - sugar)))
    return {"name": "Syrup", "family": "syrup", "vessels": [{"id": "pot", "name": "Pot"}], "stages": [lines, *stages]}


def grams(value: float) -> str:
    """Grams as an amount of a document."""
    return f"{max(value, 1e-6):.6f}".rstrip("0").rstrip(".") + " g"


_EXACT = re.compile(r"^(up to )?(\d+(?:\.\d+)?) g$")


def as_weighed(document: dict[str, Any], kitchen: Kitchen) -> dict[str, Any]:
    """A calculator's document with its grams as the kitchen's scales show them: what is carried into a formula is weighed by somebody."""

    def shown_g(amount: Any) -> Any:
        found = _EXACT.match(amount) if isinstance(amount, str) else None
        return f"{found[1] or ''}{rounded_g(kitchen, float(found[2])):.10g} g" if found else amount

    stages = [
        {**stage, "lines": [{**line, "amount": shown_g(line["amount"])} for line in stage["lines"]]} if "lines" in stage else stage
        for stage in document["stages"]
    ]
    return {**document, "stages": stages}


def value_of(reading: str, walked: Walk) -> float:
    """A reading of the first case."""
    return float(READING_OF[reading](walked).value[0])


#: Cases of one walk, and walks, of a search: 41 cases narrow the window twentyfold.
_CASES, _ROUNDS = 41, 7


def search(
    method: Method, path: str, of: Callable[[Walk], Floats], wanted: float, low: float, high: float, given: Mapping[str, float] | None = None
) -> float:
    """The figure at ``path`` between two ends that makes something of the walk come to a value; NaN if neither end can.

    ``of`` reads (K,) off a walk and must rise or fall all the way between the ends. Each round walks many figures at once and
    keeps the two that hold the value between them.
    """
    for _ in range(_ROUNDS):
        tried = np.linspace(low, high, _CASES)
        found = of(walk(method, given={**(given or {}), path: tried}))
        good = np.isfinite(found)
        side = np.sign(found - wanted)
        crossing = [i for i in range(_CASES - 1) if good[i] and good[i + 1] and side[i] * side[i + 1] <= 0]
        if not crossing:
            return float("nan")
        at = crossing[0]
        low, high = float(tried[at]), float(tried[at + 1])
    a, b = (float(x) for x in of(walk(method, given={**(given or {}), path: np.array([low, high])})))
    return low if a == b else low + (high - low) * min(max((wanted - a) / (b - a), 0.0), 1.0)


def reads(reading: str) -> Callable[[Walk], Floats]:
    """A reading's values over all cases."""
    return lambda walked: np.asarray(READING_OF[reading](walked).value)


def choice(*pairs: tuple[str, str]) -> tuple[Choice, ...]:
    """Choices from pairs of value and title."""
    return tuple(Choice(value, title) for value, title in pairs)
