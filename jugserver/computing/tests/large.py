"""The largest formula that is let through, and what may be asked of it that takes longest."""

from __future__ import annotations

from typing import Any

#: A solve that takes seconds.
SOLVE = {"targets": [{"reading": reading, "equals": value} for reading, value in (("brix", 72), ("yield_g", 3000), ("fat", 1.0))]}
_READINGS = (("brix", 72), ("yield_g", 3000), ("fat", 1.0), ("sucrose", 10), ("sugars_100g", 80), ("water_activity", 0.3), ("cold_margin", 5))
#: As many targets as may be, which clash in more ways than can be tried.
CLASH = {"targets": [
    *({"reading": reading, "equals": value} for reading, value in _READINGS), *({"reading": f"line:l{i}", "equals": 1000 * i} for i in range(13)),
]}  # fmt: skip


def large(lines: int = 120) -> dict[str, Any]:
    """A formula as large as may be: lines in add after add, and a boil."""
    substances = ("white_sugar", "water", "whole_milk", "pear_juice", "mace", "green_cardamom", "demerara_sugar", "honey")
    rows = [{"id": f"l{i}", "substance": substances[i % 8], "amount": f"{50 + i} g"} for i in range(lines)]
    adds = [{"id": f"s{k}", "kind": "add", "vessel": "pot", "lines": rows[k : k + 3]} for k in range(0, lines, 3)]
    boil = {"id": "boil", "kind": "boil", "vessel": "pot", "until": {"brix": 70}}
    return {"name": "Large", "stages": [*adds, boil, {"id": "fill", "kind": "fill", "vessel": "pot", "into": "b", "size_ml": 500}]}


def heavy(lines: int = 120) -> dict[str, Any]:
    """That formula, to be solved."""
    return {"document": large(lines), "ask": SOLVE}
