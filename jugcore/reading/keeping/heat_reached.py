"""How hot every line of a vessel has been, by every flow of a walk: joins, strains, presses and pours, at any depth."""

from __future__ import annotations

from dataclasses import dataclass

from jugcore.method.stages import StageBase
from jugcore.method.walk import Walk, once

#: Heat that destroys vegetative cells (milk's pasteurisation, 15 s; FDA and PMO). [°C]
HEATED_C = 72.0
#: What only meets something hot has been heated where both together are at least this warm (FDA Food Code 2022, 3-403.11: at once). [°C]
AT_ONCE_C = 74.0
#: A stage that makes it no more than this much hotter than one before is not the one that heated it. [°C]
_HOTTER_C = 0.1


@dataclass(frozen=True)
class Heated:
    """The hottest that each line of the product was, all of it, since it went in [°C]; and the hottest stage on its way."""

    lines: dict[str, float]
    by: str
    by_c: float

    @property
    def raw(self) -> tuple[str, ...]:
        """Lines of which some was never brought to 72 °C."""
        return tuple(id for id, warm in self.lines.items() if warm < HEATED_C)

    @property
    def whole(self) -> bool:
        """Whether all of the product was."""
        return bool(self.lines) and not self.raw


def heated(walk: Walk) -> Heated:
    """The first case's history of heat. A line that came two ways counts by its colder part, and keeps that until all of it is heated."""
    along, hottest = _along(walk)
    by_c, by = hottest.get(walk.method.product, (0.0, ""))
    lines = along[-1].get(walk.method.product, {}) if along else {}
    return Heated({id: warm for id, warm in lines.items() if id in walk.method.lines}, by, by_c)


def heat_along(walk: Walk) -> list[dict[str, dict[str, float]]]:
    """Vessel → line → the hottest that all of it has been [°C], behind each stage."""
    return _along(walk)[0]


@once
def _along(walk: Walk) -> tuple[list[dict[str, dict[str, float]]], dict[str, tuple[float, str]]]:
    """Behind each stage the hottest of every line in every vessel; and at the end, of every vessel the hottest stage on its way."""
    behind: list[dict[str, dict[str, float]]] = []
    seen: dict[str, dict[str, float]] = {
        vessel: {id: float(held.warmth_c[0]) for id in held.touched} for vessel, held in walk.start.vessels.items()
    }  # fmt: skip
    hottest: dict[str, tuple[float, str]] = {}
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        arrived: dict[str, dict[str, float]] = {}
        for flow in step.flows:
            kind, _, target = flow.target.partition(":")
            if kind != "vessel" or not float(flow.mass_g[0].sum()) > 0:
                continue
            source_kind, _, source = flow.source.partition(":")
            came = {source: 0.0} if source_kind == "line" else seen.get(source, {})
            if source_kind == "line" or source != target:
                _pour(arrived.setdefault(target, {}), came)
            if source_kind == "vessel" and source != target and source in hottest:
                hottest[target] = max(hottest.get(target, (-1.0, "")), hottest[source])
        for target, came in arrived.items():
            _pour(seen.setdefault(target, {}), came)
        written = stage.writes()
        held = step.after.vessels.get(written)
        if held is None or not float(held.total_g[0]) > 0:
            behind.append({vessel: dict(lines) for vessel, lines in seen.items()})
            continue
        warm = _brought_to(stage, float(held.warmth_c[0]), 0.0 if step.trace is None else float(step.trace.temperature_c[0].max()))
        seen[written] = {id: max(was, warm) for id, was in seen.get(written, {}).items()}
        if warm > hottest.get(written, (-1.0, ""))[0] + _HOTTER_C:
            hottest[written] = (warm, stage.name or stage.title)
        behind.append({vessel: dict(lines) for vessel, lines in seen.items()})
    return behind, hottest


def _pour(into: dict[str, float], came: dict[str, float]) -> None:
    """Lines arrive: of one that is there already the colder part counts."""
    for id, warm in came.items():
        into[id] = min(into.get(id, warm), warm)


def _brought_to(stage: StageBase, ends_c: float, on_the_way_c: float) -> float:
    """How warm a stage made all that it left in its vessel; what is only mixed together must be at once."""
    mixing = stage.brings_in or stage.writes() != stage.vessel
    if mixing and ends_c < AT_ONCE_C:
        return min(ends_c, HEATED_C - 0.1)
    return max(ends_c, on_the_way_c)


def heated_words_of(walk: Walk, found: Heated) -> str:
    """What the walk saw of heat, in words."""
    if found.by_c < HEATED_C:
        return f"The method never brings it to {HEATED_C:.0f} °C."
    if found.raw:
        names = list(dict.fromkeys(walk.method.short_titles[id] for id in walk.method.lines if id in found.raw))
        return f"“{found.by}” brings it to {found.by_c:.0f} °C, and {_few(names)} went in unheated."
    return f"“{found.by}” brings it to {found.by_c:.0f} °C, and nothing goes in unheated after that."


def _few(names: list[str]) -> str:
    """“A”, “A and B”, “A, B and 3 more”."""
    if len(names) > 3:
        return f"{', '.join(names[:2])} and {len(names) - 2} more"
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
