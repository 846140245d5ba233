"""Drinks that tests pour: a latte over four sizes, and what they are put together of."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from jugcore.drinks.cup import cup_of
from jugcore.drinks.document import load_drink
from jugcore.drinks.poured import Poured, pour
from jugcore.drinks.readings import read
from jugcore.matter.library import library
from jugcore.matter.substance import Used
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.reading.substance_from_walk import substance_from_walk

SIZES = [("short", 180, 166), ("regular", 270, 256), ("long", 360, 346), ("iced", 450, 436)]


def drink(*components: dict[str, Any], sizes: list[tuple[str, int, int]] = SIZES, **more: Any) -> dict[str, Any]:
    return {
        "name": "A drink",
        "sizes": [{"id": id, "name": id.capitalize(), "cup_ml": cup, "fill_ml": fill, "price": 3.0 + cup / 200} for id, cup, fill in sizes],
        "components": list(components),
        **more,
    }


def part(id: str, substance: str, amounts: str | dict[str, str], role: str = "other", **more: Any) -> dict[str, Any]:
    each = amounts if isinstance(amounts, dict) else dict(zip([id for id, _, _ in SIZES], amounts.split(" | "), strict=False))
    return {"id": id, "substance": substance, "role": role, "amounts": {size: text for size, text in each.items() if text}, **more}


def syrup(name: str = "Plain") -> dict[str, Any]:
    """A syrup made here, equal parts of sugar and water, as a substance; the sugar costs 1.20 a kilogram."""
    return made("syrup", name, ("white_sugar", "500 g", 1.2), ("water", "500 g", 0.0))


def made(id: str, name: str, *lines: tuple[str, str, float], substances: dict[str, Any] | None = None) -> dict[str, Any]:
    carried = dict(substances or {})
    for substance, _, price in lines:
        if substance in library():
            carried[substance] = as_document(replace(library()[substance], price_per_kg=price)).model_dump(mode="json", exclude_none=True)
    stage = {
        "id": "all", "kind": "add", "vessel": "pot",
        "lines": [{"id": f"l{n}", "substance": substance, "amount": amount} for n, (substance, amount, _) in enumerate(lines)],
    }  # fmt: skip
    walked = walk(parse_document({"name": name, "stages": [stage], "substances": carried}))
    return as_document(substance_from_walk(walked, Used(f"{id}-formula", 1, name, "f" * 64), id)).model_dump(mode="json", exclude_none=True)


def latte(**more: Any) -> dict[str, Any]:
    """Syrup, espresso and milk to the line, the last size over ice."""
    return drink(
        part("dose", "syrup", "10 g | 15 g | 20 g | 25 g", "dose"),
        part("shot", "espresso", "30 g | 30 g | 60 g | 60 g", "coffee"),
        part("milk", "whole_milk", "to the line | to the line | to the line | to the line", "milk"),
        part("ice", "water", " |  |  | 110 g", "ice", name="Ice"),
        substances={"syrup": syrup(), **{id: priced(id, price) for id, price in (("espresso", 2.0), ("whole_milk", 1.1))}},
        **more,
    )


def priced(id: str, price: float) -> dict[str, Any]:
    return as_document(replace(library()[id], price_per_kg=price)).model_dump(mode="json", exclude_none=True)


def poured(raw: dict[str, Any]) -> Poured:
    return pour(cup_of(load_drink(raw)))


def likely(found: Poured, reading: str) -> list[float]:
    return [float(each) for each in read(found, reading).likely]
