"""What the core said of some formulas on the day it was written down, and how to write it down anew.

Recorded, not derived: where a figure should lie is the business of the tests that hold a
source. These notice what nobody meant to change, in words as in figures, and where it
was meant the difference shows in review. ``python -m jugcore.tests.recorded_cases`` writes them.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from jugcore.errors import DomainError
from jugcore.formula.asks import OvershotAsk, ScaleAsk, SolveAsk, overshot_report, scale_report, solve_report, ways_report
from jugcore.formula.compare import Side, compare
from jugcore.formula.report import report
from jugcore.method.document import Method, parse_document
from jugcore.method.walk import walk

FOLDER = Path(__file__).parent / "recorded"
EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples"
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


def _figures(found: Any) -> Any:
    """Figures to nine digits."""
    if isinstance(found, dict):
        return {key: _figures(value) for key, value in found.items()}
    if isinstance(found, list):
        return [_figures(value) for value in found]
    return float(f"{found:.9g}") if isinstance(found, float) else found


def _walked(document: Doc) -> Any:
    found = report(walk(parse_document(document))).model_dump(mode="json")
    for stage in found["stages"]:
        # Of a long curve its ends and its middle.
        stage["trace"] = stage["trace"] and {name: [curve[i] for i in (0, len(curve) // 2, -1)] for name, curve in stage["trace"].items()}
    return found


def _boil(document: Doc) -> Any:
    """What is said of the boil itself."""
    found = _walked(document)
    return {
        "stage": found["stages"][1],
        "consequences": found["consequences"],
        "readings": {r["id"]: [r["low"], r["value"], r["high"]] for r in found["readings"]},
    }


def _less(found: Any) -> Any:
    """An answer without the document it carries, the seconds it took, and how many rounds."""
    if isinstance(found, dict):
        return {key: _less(value) for key, value in found.items() if key not in ("document", "timing", "rounds")}
    return [_less(value) for value in found] if isinstance(found, list) else found


def _asked(answer: Callable[[Method], Any], document: Doc) -> Any:
    try:
        return _less(answer(parse_document(document)).model_dump(mode="json"))
    except DomainError as refused:
        return {"field": refused.field, "message": refused.message, "remedy": refused.remedy}


def _ways(document: Doc, *typed: tuple[str, float]) -> Any:
    return {f"{reading} {value:g}": _asked(lambda m, r=reading, v=value: ways_report(m, r, v), document) for reading, value in typed}  # type: ignore[misc]


def _scaled(document: Doc, *asks: Doc) -> Any:
    return {json.dumps(ask): _asked(lambda m, a=ask: scale_report(m, ScaleAsk.model_validate(a)), document) for ask in asks}  # type: ignore[misc]


def _solved(document: Doc, *asks: Doc) -> Any:
    return {json.dumps(ask): _asked(lambda m, a=ask: solve_report(m, SolveAsk.model_validate(a)), document) for ask in asks}  # type: ignore[misc]


def _compared(*documents: Doc) -> Any:
    sides = [Side(f"Side {n}", walk(parse_document(document))) for n, document in enumerate(documents, start=1)]
    return compare(sides).model_dump(mode="json")


FERRYMAN, WEIR, CREAM = "ferrymans-spice", "weir-simple", "fennel-sweet-cream"
CASES: dict[str, Callable[[], Any]] = {
    **{f"walk-{path.stem}": (lambda stem=path.stem: _walked(example(stem))) for path in sorted(EXAMPLES.glob("*.json"))},
    "walk-pears": lambda: _walked(pears()),
    "walk-dust": lambda: _walked(dust()),
    "walk-boils": lambda: {
        json.dumps(end): _boil(boiled(end, vigour, minutes=25 if vigour == "full" else None))
        for end, vigour in (({"temperature_c": 102.5}, "simmer"), ({"mass_g": 1700}, "steady"), ({"minutes": 20}, "full"), ({"brix": 78}, "steady"), ({"brix": 87}, "steady"))
    },
    "ways-simple": lambda: _ways(
        example(WEIR), ("brix", 62), ("brix", 40), ("yield_g", 3000), ("cold_margin", 3), ("water_activity", 0.9), ("viscosity", 100), ("brix", 99), ("fat", 3)
    ),
    "ways-spiced": lambda: _ways(example(FERRYMAN), ("brix", 60), ("brix", 68), ("spice_started", 15), ("spice_finished", 25), ("yield_l", 2), ("sucrose", 55)),
    "ways-cream": lambda: _ways(example(CREAM), ("fat", 12), ("brix", 30), ("sugars_100g", 10)),
    "scale-spiced": lambda: _scaled(
        example(FERRYMAN), {"by": "bottles", "value": 12, "size_ml": 350}, {"by": "factor", "value": 0.25}, {"by": "line", "line": "juice", "value": 300},
        {"by": "litres", "value": 5}, {"by": "pot"}, {"by": "grams", "value": 1e6},
    ),
    "scale-pears": lambda: _scaled(
        pears(), {"by": "line", "line": "press", "value": 430}, {"by": "pot"}, {"by": "factor", "value": 3}, {"by": "line", "line": "x", "value": 3}
    ),
    "solve": lambda: _solved(
        example(FERRYMAN), {"targets": [{"reading": "brix", "equals": 66}, {"reading": "yield_g", "equals": 2000}]},
        {"targets": [{"reading": "brix", "at_least": 80}, {"reading": "cold_margin", "at_least": 10}]},
        {"targets": [{"reading": "yield_g", "equals": 2500}], "locks": ["juice"], "bounds": {"sugar": {"high": 700}}, "change": "spread"},
    ),
    "overshot": lambda: _asked(lambda m: overshot_report(m, OvershotAsk(line="clove", poured_g=2.2)), dust()),
    "compare": lambda: {
        "two": _compared(example(FERRYMAN), {**example(FERRYMAN), "stages": example(FERRYMAN)["stages"][:-2]}),
        "three": _compared(example(WEIR), boiled({"brix": 64}), pears()),
        "same": _compared(example(WEIR), example(WEIR)),
    },
}  # fmt: skip


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, made in CASES.items():
        text = json.dumps(_figures(made()), indent=1, ensure_ascii=False, sort_keys=True)
        (FOLDER / f"{name}.json").write_text(text + "\n", encoding="utf-8")
        print(f"{name}: {len(text):,}")


if __name__ == "__main__":
    main()
