"""A checked document, ready to walk: substances found, amounts understood, order known."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.contributions import air_of, extents_of, tracers_of
from jugcore.matter.substance import Content, Substance
from jugcore.measures.density import Weighed
from jugcore.method.amounts import (
    Amount,
    Named,
    Portion,
    amount_to_text,
    short_names,
    stage_by_number,
)
from jugcore.method.context import Context
from jugcore.method.document import MethodDocument, VesselDoc
from jugcore.method.stages import LineDoc, StageBase, cake_of


@dataclass(frozen=True)
class Method:
    """A checked document: substances found, amounts understood, order known."""

    document: MethodDocument
    substances: dict[str, Substance]
    amounts: dict[str, Amount]
    weighed: dict[str, Weighed]
    named: tuple[Named, ...]
    started: tuple[str, ...]
    product: str
    trunk: frozenset[str]
    portions: dict[str, Portion]
    _vessels: dict[str, VesselDoc] = field(repr=False)

    @property
    def stages(self) -> tuple[StageBase, ...]:
        return self.document.stages

    @cached_property
    def lines(self) -> dict[str, LineDoc]:
        return {line.id: line for stage in self.stages for line in stage.ingredients}

    @cached_property
    def started_set(self) -> frozenset[str]:
        return frozenset(self.started)

    @cached_property
    def vessel_ids(self) -> frozenset[str]:
        """Every vessel that is listed or that a stage touches."""
        touched = {vessel for stage in self.stages for vessel in (stage.vessel, stage.writes(), stage.reads()) if vessel}
        return frozenset(touched | self._vessels.keys())

    def vessel_name(self, vessel: str) -> str:
        """What a sentence calls a vessel."""
        if vessel.startswith("cake:"):
            return next((stage.keeps_back for stage in self.stages if cake_of(stage.id) == vessel), "the cake")
        if vessel.startswith("ice:"):
            return "the ice"
        held = self._vessels.get(vessel)
        return (held.name if held and held.name else vessel) or "the vessel"

    def pot_id(self, vessel: str) -> str | None:
        held = self._vessels.get(vessel)
        return held.pot if held else None

    def film_g(self, vessel: str, ctx: Context) -> Floats:
        """Grams (K,) that stay on a vessel's wall: its own figure, else the kitchen's."""
        held = self._vessels.get(vessel)
        own = None if held is None else held.film_g
        of_kitchen = ctx.value("kitchen.film_g", ctx.kitchen.film_g)
        given = ctx.given(f"vessels.{vessel}.film_g")
        if given is not None:
            return given
        return of_kitchen if own is None else ctx.full(own)

    def line_title(self, line: LineDoc) -> str:
        return line.name or self.substances[line.substance].title

    @cached_property
    def titles(self) -> dict[str, str]:
        """What people call each line, join and pour."""
        return {each.id: each.title for each in self.named}

    @cached_property
    def _places(self) -> dict[str, str]:
        """What an amount calls each stage: its title, or its number where titles are shared."""
        titles = [s.name or s.title for s in self.stages]
        often = Counter(title.lower() for title in titles)
        return {
            s.id: title if often[title.lower()] == 1 else stage_by_number(i) for i, (s, title) in enumerate(zip(self.stages, titles, strict=True))
        }

    @cached_property
    def short_titles(self) -> dict[str, str]:
        """What a sentence calls each line, join and pour, as short as tells them apart."""
        return short_names(self.titles, {each.id: self._places[each.stage] for each in self.named})

    @cached_property
    def amount_texts(self) -> dict[str, str]:
        """The text twin of every amount."""
        return {id: amount_to_text(amount, self.short_titles, self._places) for id, amount in self.amounts.items()}

    def fraction_of(self, substance: str, ctx: Context) -> Floats:
        """Composition (C,) or (K, C): the book's, or with a given component, water making up.

        Given as ``substances.<id>.<component>`` in grams per 100 g: a juice weaker
        than assumed, a lot with more acid.
        """
        book = self.substances[substance].mass_fraction
        prefix = f"substances.{substance}."
        if not ctx.gives(prefix):
            return book
        changed = [(name, ctx.given(prefix + name)) for name in c.NAMES if ctx.given(prefix + name) is not None]
        mass = np.repeat(book[None, :], ctx.cases, axis=0)
        for name, grams in changed:
            assert grams is not None
            mass[:, c.WATER] += mass[:, c.INDEX[name]] - grams / 100.0
            mass[:, c.INDEX[name]] = grams / 100.0
        ctx.fault(
            "no_room_for_water",
            field=f"substances.{substance}",
            message=f"The parts given for {self.substances[substance].title} leave less than no water.",
            remedy="Give less of them.",
            cases=mass[:, c.WATER] < 0,
        )
        return np.where(mass[:, c.WATER, None] < 0, book[None, :], mass)

    def tracers_of(self, substance: str, fraction: Floats) -> Floats:
        """Grams (T,) or (K, T) a gram of a substance brings of what is traced."""
        return tracers_of(self.substances[substance], fraction)

    def line_temperature_c(self, line: LineDoc, ctx: Context) -> Floats:
        if line.temperature_c is not None:
            return ctx.full(line.temperature_c)
        if self.substances[line.substance].storage == "chilled":
            return ctx.value("kitchen.fridge_c", ctx.kitchen.fridge_c)
        return ctx.value("kitchen.room_c", ctx.kitchen.room_c)

    def extents_of(self, lines: Sequence[LineDoc], grams: Floats) -> Floats:
        """Extents (K, R) of what lines bring together, (K, L) grams: each the mean over what it describes."""
        return extents_of([self.substances[line.substance] for line in lines], grams)

    def air_of(self, lines: Sequence[LineDoc], grams: Floats) -> Floats:
        """Millilitres of air (K,) that lines bring, (K, L) grams of each."""
        return air_of([self.substances[line.substance] for line in lines], grams)

    def contents_of(self, line: str) -> tuple[Content, ...]:
        """What a line is of as bought: its own ingredient, or all that was made here is made of, through any depth."""
        return self._contents[line]

    @cached_property
    def all_contents(self) -> tuple[tuple[str, Content], ...]:
        """Lines, each beside everything it is of as bought."""
        return tuple((line, each) for line in self.lines for each in self.contents_of(line))

    @cached_property
    def _contents(self) -> dict[str, tuple[Content, ...]]:
        found: dict[str, tuple[Content, ...]] = {}
        for id, line in self.lines.items():
            book = self.substances[line.substance]
            found[id] = book.made.contents if book.made is not None else (Content(line.substance, self.titles[id], "", 1.0, 0.0, book),)
        return found
