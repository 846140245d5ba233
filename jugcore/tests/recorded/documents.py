"""Documents that the recorded answers are of."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

EXAMPLES = Path(__file__).resolve().parents[3] / "docs" / "examples"
Doc = dict[str, Any]
KITCHEN: Doc = {
    "altitude_m": 640,
    "pots": [
        {"id": "wide-8l", "name": "Wide 8 l pot", "tare_g": 1243, "diameter_cm": 28, "capacity_ml": 8000},
        {"id": "small", "name": "Small pot", "tare_g": 0, "diameter_cm": 16, "capacity_ml": 1600},
    ],
    "burners": [{"id": "gas", "name": "Gas", "power_w": 3500, "efficiency": 0.4}, {"id": "plate", "name": "Plate", "power_w": 3000, "efficiency": 0.85}],
    "scales": [
        {"id": "bench", "name": "the bench scale", "capacity_g": 5000, "resolution_g": 1},
        {"id": "spice", "name": "the spice scale", "capacity_g": 200, "resolution_g": 0.01},
    ],
    "sieves": [{"id": "drum", "name": "Drum sieve", "mesh_um": 90}],
    "simmer_kg_m2h": {"low": 12, "typical": 14, "high": 16},
}  # fmt: skip
#: With one scale, too coarse for spice.
ONE_SCALE: Doc = {**KITCHEN, "scales": KITCHEN["scales"][:1]}


def example(name: str, kitchen: Doc = KITCHEN) -> Doc:
    found: Doc = json.loads((EXAMPLES / f"{name}.json").read_text(encoding="utf-8"))
    return {**found, "kitchen": kitchen}


def pears(**fill: Any) -> Doc:
    """As bought, trimmed, pressed, spiced whole and ground, boiled hard in a pot too small, cooled in water, bottled."""
    lines = [
        {"id": "water", "substance": "water", "amount": "as the juice"},
        {"id": "sugar", "substance": "white_sugar", "amount": "as both"},
        {"id": "honey", "substance": "honey", "amount": "2 tbsp"},
        {"id": "clove", "substance": "whole_clove", "amount": "20 cloves"},
    ]
    return {
        "kitchen": KITCHEN,
        "vessels": [{"id": "bowl", "name": "Bowl"}, {"id": "small", "name": "Small pot", "pot": "small"}, {"id": "jug", "name": "Jug"}],
        "stages": [
            {"id": "in", "kind": "add", "vessel": "bowl", "lines": [{"id": "pear", "substance": "pear_flesh", "amount": "1.5 to 1.7 kg"}]},
            {"id": "trim", "kind": "trim", "vessel": "bowl", "yield_fraction": 0.8, "yield_low": 0.75, "yield_high": 0.85},
            {"id": "press", "kind": "press", "vessel": "bowl", "into": "small", "yield_fraction": 0.5, "yield_low": 0.45},
            {"id": "rest", "kind": "add", "vessel": "small", "lines": lines},
            {"id": "warm", "kind": "heat", "vessel": "small", "to_c": 70, "burner": "plate"},
            {"id": "boil", "kind": "boil", "name": "Down", "vessel": "small", "until": {"off_g": 300}, "vigour": "full", "burner": "plate"},
            {"id": "strain", "kind": "strain", "vessel": "small", "into": "jug", "sieve": "drum", "pressed": True},
            {"id": "cool", "kind": "cool", "vessel": "jug", "to_c": 40, "how": "cold_water", "minutes": 12},
            {"id": "fill", "kind": "fill", "vessel": "jug", "into": "bottles", "size_ml": 350, **fill},
        ],
    }  # fmt: skip


def dust(kitchen: Doc = ONE_SCALE) -> Doc:
    """A dry blend by parts, ground twice through a sieve."""
    parts = {"cassia": "10 parts", "ground_ginger": "6 parts", "clove": "1 part", "nutmeg": "3 parts"}
    return {
        "kitchen": kitchen,
        "stages": [
            {
                "id": "b",
                "kind": "blend",
                "vessel": "mortar",
                "total": "25 g",
                "lines": [{"id": s, "substance": s, "amount": a} for s, a in parts.items()],
            },
            {"id": "m", "kind": "mill", "vessel": "mortar", "loss_fraction": 0.03, "coarse_fraction": 0.2, "passes": 2},
        ],
    }


def boiled(end: Doc, vigour: str = "steady", **more: Any) -> Doc:
    lines = [
        {"id": "w", "substance": "water", "amount": "1 kg"},
        {"id": "s", "substance": "white_sugar", "amount": "1 kg"},
        {"id": "m", "substance": "mace", "amount": "8 g per kg started"},
    ]
    stages = [
        {"id": "add", "kind": "add", "vessel": "pot", "lines": lines},
        {"id": "boil", "kind": "boil", "vessel": "pot", "until": end, "vigour": vigour, **more},
        {"id": "strain", "kind": "strain", "vessel": "pot", "into": "jug"},
    ]
    return {"kitchen": KITCHEN, "vessels": [{"id": "pot", "pot": "wide-8l"}], "stages": stages}


def without(document: Doc, *path: str | int) -> Doc:
    """A copy with one thing left out."""
    copy: Doc = json.loads(json.dumps(document))
    place: Any = copy
    for step in path[:-1]:
        place = place[step]
    del place[path[-1]]
    return copy


def with_(document: Doc, value: Any, *path: str | int) -> Doc:
    """A copy with one thing put otherwise."""
    copy: Doc = json.loads(json.dumps(document))
    place: Any = copy
    for step in path[:-1]:
        place = place[step]
    place[path[-1]] = value
    return copy
