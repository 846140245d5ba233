"""Every answer that is recorded, by the name of its file."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import partial
from typing import Any

from jugcore.families.family import families
from jugcore.suggesting.schema import OvershotRequest, overshot_report
from jugcore.tests.recorded.answers import asked, boil, compared, scaled, solved, walk_example, walked, ways
from jugcore.tests.recorded.cups import cups
from jugcore.tests.recorded.documents import EXAMPLES, boiled, dust, example, pears
from jugcore.tests.recorded.figures import bounds, foams, learned, physics, tastes
from jugcore.tests.recorded.kinds import schools
from jugcore.tests.recorded.labels import benchmarks, labels
from jugcore.tests.recorded.logs import logs, rescues, sheets
from jugcore.tests.recorded.sums import sums
from jugcore.tests.recorded.texts import amounts, refusals

FERRYMAN, WEIR, CREAM = "ferrymans-spice", "weir-simple", "fennel-sweet-cream"
CASES: dict[str, Callable[[], Any]] = {
    **{f"walk-{path.stem}": partial(walk_example, path.stem) for path in sorted(EXAMPLES.glob("*.json"))},
    **{f"family-{one.id.replace('_', '-')}": partial(schools, one) for one in families()},
    "physics": physics,
    "foams": foams,
    "tastes": tastes,
    "sums": sums,
    "labels": labels,
    "benchmarks": benchmarks,
    "cups": cups,
    "logs": logs,
    "sheets": sheets,
    "rescues": rescues,
    "amounts": amounts,
    "refusals": refusals,
    "bounds": bounds,
    "learned": learned,
    "walk-pears": lambda: walked(pears()),
    "walk-dust": lambda: walked(dust()),
    "walk-boils": lambda: {
        json.dumps(end): boil(boiled(end, vigour, minutes=25 if vigour == "full" else None))
        for end, vigour in (({"temperature_c": 102.5}, "simmer"), ({"mass_g": 1700}, "steady"), ({"minutes": 20}, "full"), ({"brix": 78}, "steady"), ({"brix": 87}, "steady"))
    },
    "ways-simple": lambda: ways(
        example(WEIR), ("brix", 62), ("brix", 40), ("yield_g", 3000), ("cold_margin", 3), ("water_activity", 0.9), ("viscosity", 100), ("brix", 99), ("fat", 3)
    ),
    "ways-spiced": lambda: ways(example(FERRYMAN), ("brix", 60), ("brix", 68), ("spice_started", 15), ("spice_finished", 25), ("yield_l", 2), ("sucrose", 55)),
    "ways-cream": lambda: ways(example(CREAM), ("fat", 12), ("brix", 30), ("sugars_100g", 10)),
    "scale-spiced": lambda: scaled(
        example(FERRYMAN), {"by": "bottles", "value": 12, "size_ml": 350}, {"by": "factor", "value": 0.25}, {"by": "line", "line": "juice", "value": 300},
        {"by": "litres", "value": 5}, {"by": "pot"}, {"by": "grams", "value": 1e6},
    ),
    "scale-pears": lambda: scaled(
        pears(), {"by": "line", "line": "press", "value": 430}, {"by": "pot"}, {"by": "factor", "value": 3}, {"by": "line", "line": "x", "value": 3}
    ),
    "solve": lambda: solved(
        example(FERRYMAN), {"targets": [{"reading": "brix", "equals": 66}, {"reading": "yield_g", "equals": 2000}]},
        {"targets": [{"reading": "brix", "at_least": 80}, {"reading": "cold_margin", "at_least": 10}]},
        {"targets": [{"reading": "yield_g", "equals": 2500}], "locks": ["juice"], "bounds": {"sugar": {"high": 700}}, "change": "spread"},
    ),
    "overshot": lambda: asked(lambda m: overshot_report(m, OvershotRequest(line="clove", poured_g=2.2)), dust()),
    "compare": lambda: {
        "two": compared(example(FERRYMAN), {**example(FERRYMAN), "stages": example(FERRYMAN)["stages"][:-2]}),
        "three": compared(example(WEIR), boiled({"brix": 64}), pears()),
        "same": compared(example(WEIR), example(WEIR)),
    },
}  # fmt: skip
