"""A formula for other programs: a schema.org recipe and a table of lines, and what each of them cannot hold.

The document itself (``oakenjug.method/2``) is the only form that holds everything.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from jugcore.method.scales import resolution_g
from jugcore.method.stages import StageBase
from jugcore.method.walk import Walk
from jugcore.reading.catalogue import readings
from jugcore.reading.line_shares import shares_of_all
from jugcore.reading.readings.base import Reading

#: What is lost on the way, in words for whoever saves one.
RECIPE_LOSES = "Grams as they are today and steps in words: no ties between lines, no vessels, no composition, no kitchen, nothing to walk again."
LINES_LOSE = "Lines and their grams: no stages' figures, no ties, no composition, no kitchen, nothing to walk again."


def _grams(walk: Walk, grams: float) -> str:
    step = resolution_g(walk.kitchen, grams)
    return f"{round(round(grams / step) * step, 3):g} g"


def _step(walk: Walk, stage: StageBase) -> str:
    """A stage in one sentence: what goes in, or what is asked."""
    title = stage.name or stage.title
    if stage.ingredients:
        parts = ", ".join(f"{_grams(walk, float(walk.end.lines[line.id][0]))} {walk.method.titles[line.id]}" for line in stage.ingredients)
        return f"{title}: {parts} into {walk.method.vessel_name(stage.vessel)}."
    asked = stage.setting(walk.at(stage))
    note = f" {stage.note}" if stage.note else ""
    return f"{title}{f': {asked}' if asked else ''}.{note}"


def recipe(walk: Walk) -> dict[str, Any]:
    """The first case as a schema.org Recipe (JSON-LD). What it cannot hold is :data:`RECIPE_LOSES`; it says so itself."""
    document = walk.method.document
    read = {reading.id: reading for reading in readings(walk)}
    minutes = round(float(walk.end.ready_at_s[walk.method.product][0, 1]) / 60) if walk.method.product in walk.end.ready_at_s else 0
    litres = read.get("yield_l")
    makes = f"{float(walk.product.total_g[0]):.0f} g" + (f", {float(litres.value[0]):.2f} l" if _has(litres) and litres is not None else "")
    return {
        "@context": "https://schema.org", "@type": "Recipe", "name": document.name or "Untitled", "recipeCategory": document.family,
        "keywords": document.school, "description": document.notes, "recipeYield": makes, "totalTime": f"PT{minutes}M",
        "recipeIngredient": [
            f"{_grams(walk, float(walk.end.lines[line.id][0]))} {walk.method.titles[line.id]}" for line in walk.method.lines.values()
        ],
        "recipeInstructions": [{"@type": "HowToStep", "name": s.name or s.title, "text": _step(walk, s)} for s in walk.stages],
        "nutrition": {"@type": "NutritionInformation", "servingSize": "100 g", **dict(_nutrition(read))},
        "disambiguatingDescription": RECIPE_LOSES,
    }  # fmt: skip


def _has(reading: Reading | None) -> bool:
    return reading is not None and bool(reading.value[0] == reading.value[0])


def _nutrition(read: dict[str, Reading]) -> Iterator[tuple[str, str]]:
    for id, name in (("sugars_100g", "sugarContent"), ("fat", "fatContent")):
        reading = read.get(id)
        if reading is not None and _has(reading):
            yield name, f"{float(reading.value[0]):.1f} g"


def lines_table(walk: Walk) -> tuple[tuple[str, ...], list[tuple[str | float, ...]]]:
    """A head and a row for every line: where it goes in, what it is, how much as written and in grams."""
    head = ("stage", "vessel", "line", "ingredient", "ingredient id", "amount", "grams", "share of all")
    shares = shares_of_all(walk)
    rows: list[tuple[str | float, ...]] = []
    for stage in walk.stages:
        for line in stage.ingredients:
            grams = float(walk.end.lines[line.id][0])
            rows.append((
                stage.name or stage.title, walk.method.vessel_name(stage.vessel), line.id, walk.method.titles[line.id], line.substance,
                walk.method.amount_texts[line.id], round(grams, 3), shares.get(line.id, 0.0),
            ))  # fmt: skip
    return head, rows
