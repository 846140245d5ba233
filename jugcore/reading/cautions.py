"""Cautions at a stage: what is done there, what goes in, and what is in the vessel can do to somebody or to the batch.

Each in two lines of a tablet at most, and none twice.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cached_property

from jugcore.keeping.two_stage_cooling import FROM_C
from jugcore.matter.matter import Matter
from jugcore.matter.substance import Content
from jugcore.matter.substance_hazards import HAZARDS
from jugcore.method.stages import Holding, StageBase, Steep
from jugcore.method.walk import Walk
from jugcore.reading.keeping.heat_reached import heat_along
from jugcore.reading.processes.outcomes import before

#: As many characters as stand in two lines of a tablet held upright.
TWO_LINES = 180
#: Above this what flashes off does so at once. [°C]
_FLASHES_C = 50.0
#: Above the first what is wet spits as it goes in cold, above the second it erupts. [°C]
_SPITS_C, _ERUPTS_C = 90.0, 110.0
#: What goes in colder than this is cold to a hot syrup, and not warmed for a caramel. [°C]
_COLD_C, _WARMED_C = 40.0, 55.0
#: Brought to this it has been boiled, and its enzymes are gone (common practice, no source). [°C]
_BOILED_C = 85.0
#: A steep as short as this gives germs no time. [min]
_SHORT_MIN = 15.0
_FRIDGE_KINDS = frozenset({"dairy", "plant"})
_ERUPTS = (
    "It erupts: off the heat, a pot at least four times the volume, poured slowly at arm's length, stirred with a long dry spoon. Steam burns too."
)
_SPITS = "Something cold into hot syrup spits and climbs: off the heat, a little at a time down the side, face and arms away."
_FRIDGE = "Out of the fridge only to be weighed or poured, then straight back: four hours out of the cold in total, and it is thrown away."
_INTO_FRIDGE = "Into the fridge at once, with room around it: four hours out of the cold in total, and it is thrown away."
_STEEP_HOT = "Between the cold and 57 °C germs grow: steep it at 57 °C or above, or in the fridge."
_COCOA = "Cocoa catches on the floor of the pot and climbs as it boils: stir to the bottom all the time, in a pot with twice the room."
_NUTS = "The pressed nuts: date them, keep them cold, use them as a nut ingredient within days; or bin them. They are an allergen as before."


def still_a_hazard(code: str, was_c: float) -> bool:
    """Whether a hazard of an ingredient is one of what was made with it, the hottest that all of it was being ``was_c``."""
    return HAZARDS[code].stays and not (code == "protease" and was_c >= _BOILED_C)


class Cautions:
    """The cautions of a walked method, stage by stage."""

    def __init__(self, walk: Walk) -> None:
        self.walk = walk

    def at(self, stage: StageBase) -> list[str]:
        """A stage's cautions, the grave first, none twice. Pouring is only warned of where it is hot."""
        found = [*stage.warnings(self._after_c(stage)), *self._into_hot(stage), *self._of_what_goes_in(stage), *self._of_what_is_there(stage)]
        return list(dict.fromkeys(found))

    @cached_property
    def _heat(self) -> list[dict[str, dict[str, float]]]:
        return heat_along(self.walk)

    @cached_property
    def _places(self) -> dict[str, int]:
        return {stage.id: place for place, stage in enumerate(self.walk.stages)}

    def _after(self, stage: StageBase) -> Matter | None:
        return self.walk.step(stage.id).after.vessels.get(stage.writes())

    def _after_c(self, stage: StageBase) -> float:
        held = self._after(stage)
        return 0.0 if held is None else float(held.warmth_c[0])

    @cached_property
    def _went_in(self) -> list[tuple[str, Content]]:
        """Lines with what they are of as bought, of those of which anything went in."""
        method, grams = self.walk.method, self.walk.end.lines
        return [(id, each) for id in method.lines if id in grams and float(grams[id][0]) > 0 for each in method.contents_of(id)]

    def _contents(self, touched: frozenset[str]) -> list[tuple[str, Content]]:
        """The same, of those that really went in there."""
        return [(id, each) for id, each in self._went_in if id in touched]

    def _held(self, stage: StageBase) -> frozenset[str]:
        held = before(self.walk, stage).vessels.get(stage.vessel)
        return frozenset() if held is None else held.touched

    def _into_hot(self, stage: StageBase) -> Iterator[str]:
        """Something wet into hot sugar: it erupts, and more so where it is cold."""
        figures = self.walk.step(stage.id).figures
        into_c = float(figures["into_c"][0]) if "into_c" in figures else 0.0
        if not into_c > _SPITS_C:
            return
        cold = self._cold_and_wet(stage)
        if into_c > _ERUPTS_C:
            if cold:
                yield f"Warm {_listed([name for name, _ in cold])} to 60–80 °C first: as it stands it goes in at {min(c for _, c in cold):.0f} °C."
            yield _ERUPTS
        elif any(warm < _COLD_C for _, warm in cold):
            yield _SPITS

    def _cold_and_wet(self, stage: StageBase) -> list[tuple[str, float]]:
        """What is wet and goes in colder than it should: its name and its temperature."""
        source = stage.reads()
        if source is not None:
            held = before(self.walk, stage).vessels.get(source)
            wet = held is not None and float(held.water_g[0]) > 0.1 * float(held.total_g[0])
            if held is None or not wet or float(held.warmth_c[0]) >= _WARMED_C:
                return []
            return [(self.walk.method.vessel_name(source), float(held.warmth_c[0]))]
        method, kitchen = self.walk.method, self.walk.kitchen
        found = []
        for line in stage.ingredients:
            book = method.substances[line.substance]
            stored = kitchen.fridge_c if book.storage == "chilled" else kitchen.room_c
            warm = line.temperature_c if line.temperature_c is not None else stored
            if warm < _WARMED_C and float(book.mass_fraction[0]) > 0.1 and float(self.walk.end.lines[line.id][0]) > 0:
                found.append((method.short_titles[line.id], warm))
        return found

    # what goes in ---------------------------------------------------------------

    def _of_what_goes_in(self, stage: StageBase) -> Iterator[str]:
        """Hazards of its ingredients, each once, the grave first; what flashes off only where it is hot, what curdles where it meets milk."""
        found: dict[str, list[str]] = {}
        for line in stage.ingredients:
            for each in self.walk.method.contents_of(line.id):
                for code in each.book.hazards:
                    over = bool(each.within) and not still_a_hazard(code, each.was_c)
                    if code != "protease" and not over and (code != "late" or self._after_c(stage) > _FLASHES_C):
                        found.setdefault(code, []).append(each.where)
        if meets := self._raw_meets_milk(stage):
            found["protease"] = meets
        for code, titles in sorted(found.items(), key=lambda pair: not HAZARDS[pair[0]].grave):
            yield f"{_listed(list(dict.fromkeys(titles)))}: {_small(HAZARDS[code].words)}"

    def _raw_meets_milk(self, stage: StageBase) -> list[str]:
        """Raw fruit and root that curdle milk, where they and milk, or gelatine, first stand in one vessel."""
        held = self._after(stage)
        if held is None or not any("protease" in each.book.hazards for _, each in self._contents(held.touched)):
            return []
        index = self._places[stage.id]
        earlier = before(self.walk, stage).vessels.get(stage.writes())
        heat = self._heat[index].get(stage.writes(), {})

        def both(touched: frozenset[str]) -> tuple[list[str], bool]:
            there = self._contents(touched)
            raw = [each.where for id, each in there if "protease" in each.book.hazards and max(each.was_c, heat.get(id, 0.0)) < _BOILED_C]
            return raw, any("milk" in each.book.allergens or each.substance.startswith("gelatin") for _, each in there)

        raw, milk = both(held.touched)
        was_raw, was_milk = both(earlier.touched) if earlier is not None else ([], False)
        if not raw or not milk or (was_milk and set(raw) <= set(was_raw)):
            return []
        return raw

    # what is there --------------------------------------------------------------

    def _of_what_is_there(self, stage: StageBase) -> Iterator[str]:
        held = self._after(stage)
        there = [each for _, each in self._contents(self._held(stage) | (held.touched if held is not None else frozenset()))]
        chilled = any(each.book.kind in _FRIDGE_KINDS for each in there)
        warm = self._after_c(stage)
        if stage.catches and any(each.book.kind == "cocoa" for each in there):
            yield _COCOA
        if stage.drains and any(each.book.kind == "nut" and "nuts" in each.book.allergens and not each.within for each in there):
            yield _NUTS
        if isinstance(stage, Holding) and self._lukewarm(stage) and (chilled or isinstance(stage, Steep)):
            yield _STEEP_HOT
        if warm < FROM_C and any(self._from_the_fridge(line.id, line.substance) for line in stage.ingredients):
            yield _FRIDGE
        if chilled and warm < FROM_C and stage is self._last:
            yield _INTO_FRIDGE

    @cached_property
    def _last(self) -> StageBase | None:
        """The stage the product is ready after; none where that puts it into the freezer."""
        trunk = [stage for stage in self.walk.stages if stage.id in self.walk.method.trunk]
        return trunk[-1] if trunk and not trunk[-1].freezes else None

    def _from_the_fridge(self, line: str, substance: str) -> bool:
        method = self.walk.method
        return method.substances[substance].storage == "chilled" and any(each.book.kind in _FRIDGE_KINDS for each in method.contents_of(line))

    def _lukewarm(self, stage: Holding) -> bool:
        """Whether a hold spends more than a short while between the cold and hot holding."""
        trace = self.walk.step(stage.id).trace
        if trace is None:
            return False
        cold = self.walk.kitchen.holding_c + 1.0
        between = (trace.temperature_c[0] > cold) & (trace.temperature_c[0] < FROM_C)
        return float(between.mean()) * stage.for_min > _SHORT_MIN


def _listed(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _small(words: str) -> str:
    return words[:1].lower() + words[1:]
