"""What a way says: its title, and what is different at the hob, in grams."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from jugcore.figures import shown
from jugcore.method.amounts import All
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.phrases import apart, capital, grams_text, spelt_span
from jugcore.method.scales import resolution_g
from jugcore.method.stages import Boil, Join
from jugcore.method.walk import Walk
from jugcore.solving.problem import Solution


class Wording:
    """Sentences about a method that was walked, and what a way makes of it."""

    def __init__(self, method: Method, kitchen: Kitchen, first: Walk) -> None:
        self.method, self.kitchen, self.first = method, kitchen, first
        self.titles = method.short_titles

    def todo(self, after: Walk, but: Collection[str] = ()) -> Iterator[str]:
        """What is different at the hob, in grams, in the order of the method; ``but`` are lines that are told of elsewhere."""
        titles = {**after.method.short_titles, **self.titles}
        for stage, step in zip(after.stages, after.steps, strict=True):
            for line in stage.ingredients:
                if line.id in but:
                    continue
                now = float(after.end.lines[line.id][0])
                was = float(self.first.end.lines[line.id][0]) if line.id in self.first.end.lines else None
                if was is None:
                    name = capital(line.name or self.substance(line.substance))
                    yield f"{name}: {grams_text(self.kitchen, now)}{'' if name.startswith('More ') else ', new'}"
                elif abs(now - was) >= 0.5 * resolution_g(self.kitchen, max(now, was)):
                    yield f"{capital(titles[line.id])}: {apart(self.kitchen, now, was)}"
            if isinstance(stage, Join):
                yield from self._join_todo(after, stage)
            elif isinstance(stage, Boil):
                yield from self._boil_todo(after, stage, float(step.figures["off_g"][0]))
        gone = [stage for stage in self.first.stages if stage.id not in {s.id for s in after.stages}]
        for stage in gone:
            yield f"{capital(stage.called)}: left out"

    def _join_todo(self, after: Walk, stage: Join) -> Iterator[str]:
        """How much of what another vessel holds is brought over, where it was all of it and is not any more."""
        if isinstance(after.method.amounts[stage.id], All) or not isinstance(self.method.amounts.get(stage.id), All):
            return
        there = float(after.step(stage.id).after.vessels[stage.source].total_g[0])
        now, what = grams_text(self.kitchen, float(after.end.lines[stage.id][0])), after.method.vessel_name(stage.source)
        yield f"{capital(stage.called)}: {now} of {what} instead of all of it; {grams_text(self.kitchen, there)} is kept for another time"

    def _boil_todo(self, after: Walk, stage: Boil, off: float) -> Iterator[str]:
        step = after.step(stage.id)
        was = next((float(s.figures["off_g"][0]) for b, s in zip(self.first.stages, self.first.steps, strict=True) if b.id == stage.id), None)
        if was is not None and abs(off - was) < 0.05:
            return
        digits = 0 if was is None or abs(off - was) >= 1 else 1
        pot = self.kitchen.pot(after.method.pot_id(stage.vessel))
        reads = float(step.figures["pot_reads_g"][0])
        weight = f"the pot reads {shown(round(reads))} g" if pot.tare_g else f"it weighs {shown(round(reads))} g without the pot"
        instead = "" if was is None else f" instead of {shown(round(was, digits))}"
        yield f"{capital(stage.called)}: {shown(round(off, digits))} g of water off{instead}; stop when {weight}, {spelt_span(step.duration_s)}"

    def tie(self, id: str) -> str:
        return f"{self.titles[id]} {self.method.amount_texts[id]}"

    def substance(self, id: str) -> str:
        substance = self.method.substances.get(id)
        return substance.title.split(",")[0].lower() if substance else "water"

    def line_title(self, solution: Solution, id: str) -> str:
        before, after = (float(w.end.lines[id][0]) for w in (self.first, solution.walk))
        word = "More" if after > before else "Less"
        return f"{word} {self.titles[id]}: {apart(self.kitchen, after, before)}"

    def untie_title(self, solution: Solution, id: str) -> str:
        return f"{self.line_title(solution, id)}, no longer {self.method.amount_texts[id]}"

    def stir_title(self, solution: Solution, line: str, substance: str, where: str) -> str:
        return f"Stir in {grams_text(self.kitchen, float(solution.walk.end.lines[line][0]))} of {self.substance(substance)} {where}"

    def end_title(self, solution: Solution, stage: Boil) -> str:
        after = next(s for s in solution.document.stages if s.id == stage.id)
        assert isinstance(after, Boil)
        unit = {"brix": "°Bx", "mass_g": "g", "off_g": "g off", "temperature_c": "°C", "minutes": "min"}[stage.until.kind]
        verb = "after" if stage.until.kind == "minutes" else "at"
        return f"End {stage.called} {verb} {shown(after.until.value)} {unit} instead of {shown(stage.until.value)}"

    def swap_title(self, solution: Solution) -> str:
        return f"Keep the yield: {' and '.join(self._all_moved(solution))}"

    def held_title(self, solution: Solution) -> str:
        return capital(", ".join(self._all_moved(solution)))

    def _all_moved(self, solution: Solution) -> list[str]:
        return [words for change in solution.changes if (words := self._moved(change.path, solution))]

    def _moved(self, path: str, solution: Solution) -> str:
        """A figure that moved, in a few words; nothing where the scale does not show it."""
        kind, id, _ = path.split(".")
        if kind == "stages":
            stage = next(s for s in self.method.stages if s.id == id)
            assert isinstance(stage, Boil)
            title = self.end_title(solution, stage)
            return title[:1].lower() + title[1:]
        more = float(solution.walk.end.lines[id][0]) - float(self.first.end.lines[id][0])
        if abs(more) < 0.5 * resolution_g(self.kitchen, abs(more)):
            return ""
        return f"{grams_text(self.kitchen, abs(more))} {'more' if more > 0 else 'less'} {self.titles[id]}"
