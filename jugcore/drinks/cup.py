"""A drink as a method in a cup: what is written of its components as stages, and its sizes as cases of one walk."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from jugcore.drinks.brewed import Doubt, brewed
from jugcore.drinks.document import ComponentDoc, DrinkDocument, SizeDoc
from jugcore.errors import BadDocument, DomainError, NotUnderstood, together
from jugcore.figures import Floats, shown
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.substance import Substance
from jugcore.measures.density import Weighed, grams_of
from jugcore.measures.parsing import Quantity, TotalVolume, parse_amount
from jugcore.method.compile import compile_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.load_document import load_document
from jugcore.method.method import Method
from jugcore.physics.steam import steam_share

CUP = "cup"
#: What coffee and tea are poured at where nobody said (estimate). [°C]
BREWED_C = 70.0
#: How cold ice is, least, likely, most: out of a freezer, out of a bin, wet (estimates). [°C]
ICE_C = (-18.0, -4.0, 0.0)
#: What is written for “as much as brings the cup to its fill line”.
TO_THE_LINE = ("to the line", "to the fill line", "fill", "top up", "to line")
_SECONDS = re.compile(r"^\s*(\d+(?:[.,]\d+)?)\s*(?:s|sec|secs|second|seconds)\s*$")


@dataclass(frozen=True)
class Written:
    """An amount of a component in a size: grams, or the millilitres that the cup comes to with it; and how it was read."""

    grams: float | None
    up_to_ml: float | None
    low_g: float = 0.0
    high_g: float = 0.0
    reading: str = ""
    strokes: float | None = None


@dataclass(frozen=True)
class Uncertain:
    """Something about a drink that is a range: the paths it is given at, and the least, likely and most of each."""

    why: str
    paths: dict[str, tuple[float, float, float]]


@dataclass(frozen=True)
class Cup:
    """A drink ready to walk: its method, what is given in each size, and what is uncertain about it."""

    drink: DrinkDocument
    method: Method
    kitchen: Kitchen
    #: What of the drink is in the cup of at least one size, in the order of pouring.
    components: tuple[ComponentDoc, ...]
    #: By component and size.
    written: dict[tuple[str, str], Written] = field(repr=False)
    uncertain: tuple[Uncertain, ...] = ()
    #: What its components are of before they are brewed, and what its levels of sweetness are of, by id.
    books: dict[str, Substance] = field(default_factory=dict, repr=False)

    @property
    def sizes(self) -> tuple[SizeDoc, ...]:
        return self.drink.sizes

    def substance_of(self, component: str) -> Substance:
        """What pours of a component."""
        return self.method.substances[self.method.lines[component].substance]

    def stroke_ml(self, component: ComponentDoc) -> float:
        """What a stroke of a component's pump gives [ml]."""
        return component.stroke_ml if component.stroke_ml is not None else self.kitchen.pump_ml

    def stroke_g(self, component: ComponentDoc) -> float:
        """What a stroke of a component's pump weighs [g]."""
        return self.stroke_ml(component) * self.substance_of(component.id).density_g_ml

    def given(self, *, cases_of: int) -> dict[str, Floats]:
        """What a walk is given, every figure (sizes × cases_of,): amounts by size, likely figures of what is uncertain."""
        found: dict[str, Floats] = {}
        for component in self.components:
            each = [self.written.get((component.id, size.id)) for size in self.sizes]
            if any(one is not None and one.up_to_ml is not None for one in each):
                # A size without it is asked to stand at next to nothing: none of it goes in.
                found[f"lines.{component.id}.up_to_ml"] = np.tile([one.up_to_ml if one and one.up_to_ml else 1e-9 for one in each], cases_of)
            else:
                found[f"lines.{component.id}.grams"] = np.tile([one.grams if one and one.grams else 0.0 for one in each], cases_of)
        return found


def cup_of(drink: DrinkDocument) -> Cup:
    """A drink ready to walk.

    Substances are those it carries, else the library's; its kitchen says measures and strokes. Raises SeveralProblems (or the single
    DomainError) with everything that is wrong, each at ``components.<id>.…``.
    """
    kitchen = drink.kitchen or Kitchen()
    problems: list[DomainError] = []
    books = _substances(drink, problems)
    if problems:
        raise together(problems)
    there = [each for each in drink.components if any(text.strip() for text in each.amounts.values())]
    if not there:
        raise BadDocument("components", "There is nothing in the cup yet.", "Add what goes in, and how much in at least one size.")
    poured: dict[str, tuple[Substance, Doubt | None]] = {}
    written: dict[tuple[str, str], Written] = {}
    for component in there:
        try:
            poured[component.id] = brewed(component, books[component.substance], f"brew-{component.id}")
        except DomainError as error:
            problems.append(error)
            continue
        written |= _written(drink, component, poured[component.id][0], kitchen, problems)
    _one_way_to_the_line(there, written, problems)
    if problems:
        raise together(problems)
    document = _document(drink, there, {id: book for id, (book, _) in poured.items()}, written, kitchen)
    method = compile_document(load_document(document).model_copy(update={"kitchen": kitchen}), known={book.id: book for book, _ in poured.values()})
    doubts = {id: doubt for id, (_, doubt) in poured.items() if doubt is not None}
    return Cup(drink, method, kitchen, tuple(there), written, tuple(_uncertain(there, method, doubts)), books)


def _substances(drink: DrinkDocument, problems: list[DomainError]) -> dict[str, Substance]:
    known = library()
    found: dict[str, Substance] = {}
    wanted = [(f"components.{each.id}.substance", each.substance) for each in drink.components]
    wanted += [(f"levels.{each.id}.substance", each.substance) for each in drink.levels]
    for where, id in wanted:
        try:
            if id in drink.substances:
                found[id] = load_substance(id, drink.substances[id])
            elif id in known:
                found[id] = known[id]
            else:
                raise BadDocument("substance", f"No ingredient has the id “{id}”.", "Choose one from the pantry.")
        except DomainError as error:
            problems.append(error.at_field(where))
    return found


def _written(
    drink: DrinkDocument, component: ComponentDoc, book: Substance, kitchen: Kitchen, problems: list[DomainError]
) -> dict[tuple[str, str], Written]:  # fmt: skip
    found: dict[tuple[str, str], Written] = {}
    for size in drink.sizes:
        text = component.amounts.get(size.id, "").strip()
        if not text or text in ("0", "0 g", "none", "—", "-"):
            continue
        try:
            found[component.id, size.id] = understood(text, component, size, book, kitchen)
        except DomainError as error:
            problems.append(error.at_field(f"components.{component.id}.amounts.{size.id}"))
    return found


def understood(text: str, component: ComponentDoc, size: SizeDoc, book: Substance, kitchen: Kitchen) -> Written:
    """An amount of a component in a size, as written.

    Raises NotUnderstood for what is no amount, BadDocument where the fill line or the siphon's flow is not known.
    """
    if text.lower() in TO_THE_LINE:
        if size.fill_ml is None:
            raise BadDocument("amount", f"{size.name} has no fill line.", "Say where its line is, or give millilitres.")
        return Written(None, size.fill_ml, reading=f"to the line at {shown(size.fill_ml)} ml")
    seconds = _SECONDS.match(text)
    if seconds is not None:
        if component.siphon_g_s is None:
            raise BadDocument("amount", "What the siphon gives in a second is not said.", "Weigh what ten seconds give, and enter a tenth of it.")
        grams = float(seconds[1].replace(",", ".")) * component.siphon_g_s
        return Written(grams, None, grams, grams, f"{seconds[1]} s of {shown(component.siphon_g_s)} g a second")
    parsed = parse_amount(text)
    if isinstance(parsed, TotalVolume):
        return Written(None, parsed.ml, reading=f"until the cup holds {shown(parsed.ml)} ml")
    if not isinstance(parsed, Quantity):
        raise NotUnderstood("amount", f"“{text}” is not an amount of a drink.", "Write, for example, 15 g, 2 strokes, 180 ml or to the line.")
    stroke = component.stroke_ml if component.stroke_ml is not None else kitchen.pump_ml
    weighed = grams_of(parsed, book, kitchen.measures, pump_ml=stroke, called=component.name or "", asks=True)
    strokes = sum(portion.middle for portion in parsed.portions) if all(portion.unit == "pump" for portion in parsed.portions) else None
    return _as_written(weighed, strokes)


def _as_written(weighed: Weighed, strokes: float | None) -> Written:
    return Written(weighed.grams, None, weighed.low_g, weighed.high_g, weighed.reading, strokes)


def _one_way_to_the_line(components: list[ComponentDoc], written: dict[tuple[str, str], Written], problems: list[DomainError]) -> None:
    """At most one component fills the cup up, and in all of its sizes."""
    filling = [each for each in components if any(one.up_to_ml is not None for (id, _), one in written.items() if id == each.id)]
    for component in filling:
        if any(one.up_to_ml is None for (id, _), one in written.items() if id == component.id):
            problems.append(
                BadDocument(
                    f"components.{component.id}.amounts", "It fills some sizes to a line and is measured in others.",
                    "Write it in one way for all sizes.",
                )
            )  # fmt: skip
    for component in filling[1:]:
        problems.append(
            BadDocument(f"components.{component.id}.amounts", "Two things cannot both fill the cup up.", "Measure one of them.")
        )  # fmt: skip
    for component in filling:
        if component.role == "ice" or component.air is not None:
            problems.append(
                BadDocument(f"components.{component.id}.amounts", "Ice and what is frothed cannot fill a cup to a line.", "Measure it.")
            )  # fmt: skip


def _document(
    drink: DrinkDocument, there: list[ComponentDoc], poured: dict[str, Substance], written: dict[tuple[str, str], Written], kitchen: Kitchen
) -> dict[str, Any]:  # fmt: skip
    iced = [each for each in there if each.role == "ice"]
    parts = [each for each in there if each.role != "ice"]
    if not parts:
        raise BadDocument("components", "There is only ice in the cup.", "Add what the ice cools.")
    # What is poured one after the other is one stage: as many lines cost little, as many stages much.
    poured_in = list(_poured_in(parts))
    last = "on-ice" if iced else f"pour-{poured_in[-1][-1].id}"
    stages: list[dict[str, Any]] = []
    for together_ in poured_in:
        stages += _stages(together_, poured, written, kitchen, last)
    if iced:
        lines = [_line(each, poured[each.id], written, last) for each in iced]
        stages.append({"id": "on-ice", "kind": "ice", "vessel": CUP, "ice_c": ICE_C[1], "lines": lines})
    vessels = [{"id": CUP, "name": "the cup", "film_g": 0.0}]
    vessels += [{"id": f"air-{each.id}", "name": each.name or poured[each.id].title, "film_g": 0.0} for each in there if each.air is not None]
    return {"name": drink.name, "stages": stages, "finished": CUP, "vessels": vessels}


def _poured_in(parts: list[ComponentDoc]) -> Iterator[list[ComponentDoc]]:
    """Components in the order of pouring, those between two that are frothed together."""
    plain: list[ComponentDoc] = []
    for component in parts:
        if component.air is None:
            plain.append(component)
            continue
        if plain:
            yield plain
        yield [component]
        plain = []
    if plain:
        yield plain


def _line(component: ComponentDoc, book: Substance, written: dict[tuple[str, str], Written], last: str) -> dict[str, Any]:
    first = next((one for (id, _), one in written.items() if id == component.id), None)
    up_to = first is not None and first.up_to_ml is not None
    amount = {"kind": "up_to_volume", "ml": first.up_to_ml, "stage": last} if first is not None and up_to else {"kind": "written", "text": "1 g"}
    line: dict[str, Any] = {"id": component.id, "substance": book.id, "amount": amount}
    if component.name:
        line["name"] = component.name
    if component.role != "ice" and (warm := _poured_c(component, book)) is not None:
        line["temperature_c"] = warm
    return line


def _poured_c(component: ComponentDoc, book: Substance) -> float | None:
    if component.steamed_c is not None:
        return component.steamed_c
    if component.poured_c is not None:
        return component.poured_c
    return BREWED_C if component.role in ("coffee", "tea") and book.storage == "ambient" else None


def _stages(
    components: list[ComponentDoc], poured: dict[str, Substance], written: dict[tuple[str, str], Written], kitchen: Kitchen, last: str
) -> Iterator[dict[str, Any]]:  # fmt: skip
    """Components that go into the cup one after the other; one that is frothed by itself, in a vessel of its own, before it joins them."""
    lines = [line for each in components for line in _lines(each, poured[each.id], written, kitchen, last)]
    of = components[-1]
    if of.air is None:
        yield {"id": f"pour-{of.id}", "kind": "add", "vessel": CUP, "lines": lines}
        return
    vessel = f"air-{of.id}"
    yield {"id": f"into-{of.id}", "kind": "add", "vessel": vessel, "lines": lines}
    yield {"id": f"froth-{of.id}", "kind": "aerate", "vessel": vessel, "overrun": of.air.likely}
    yield {"id": f"pour-{of.id}", "kind": "join", "vessel": CUP, "source": vessel}


def _lines(
    component: ComponentDoc, book: Substance, written: dict[tuple[str, str], Written], kitchen: Kitchen, last: str
) -> Iterator[dict[str, Any]]:  # fmt: skip
    """A component as a line, and the water that steam leaves in it as another."""
    yield _line(component, book, written, last)
    if component.steamed_c is None:
        return
    cold = kitchen.fridge_c if book.storage == "chilled" else kitchen.room_c
    begins = min(component.poured_c if component.poured_c is not None else cold, component.steamed_c)
    share = steam_share(book.mass_fraction, begins, component.steamed_c)
    if share > 0:
        steam = {"kind": "as_much_as", "lines": [component.id], "factor": share}
        yield {"id": f"steam-{component.id}", "substance": "water", "name": "Steam", "amount": steam, "temperature_c": component.steamed_c}


def _uncertain(there: list[ComponentDoc], method: Method, doubts: dict[str, Doubt]) -> Iterator[Uncertain]:
    """What about a drink is a range: strength of what is brewed, caffeine of the rest, how cold the ice is, air in what is frothed."""
    caffeine: dict[str, tuple[float, float, float]] = {}
    for component in there:
        doubt = doubts.get(component.id)
        if doubt is None:
            continue
        key = method.lines[component.id].substance
        paths = {f"substances.{key}.{name}": band for name, band in doubt.figures.items()}
        if set(doubt.figures) == {"caffeine"}:
            caffeine |= paths
        else:
            yield Uncertain(doubt.why, paths)
    if caffeine:
        yield Uncertain("how much caffeine is in it", caffeine)
    if any(stage.id == "on-ice" for stage in method.stages):
        yield Uncertain("how cold the ice is", {"stages.on-ice.ice_c": ICE_C})
    for component in there:
        air = component.air
        if air is not None and air.low < air.high:
            yield Uncertain("how much air is beaten in", {f"stages.froth-{component.id}.overrun": (air.low, air.likely, air.high)})
