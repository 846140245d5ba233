"""Labels of packs and what they come to; benchmarks of a label and of tongues, and ours beside them."""

from __future__ import annotations

from functools import partial
from typing import Any

from jugcore.method.compile import parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.label_document import LabelDoc, label_report
from jugcore.tasting.aim import aim_report
from jugcore.tasting.benchmark import Known, benchmark_report
from jugcore.tasting.sheet import BenchmarkDoc
from jugcore.tests.recorded.answers import less, or_refused
from jugcore.tests.recorded.documents import Doc, example

_CREAMER: Doc = {"kind": "dairy", "per": "serving", "serving_ml": 15, "figures": {"energy_kcal": "35", "fat": "1.5", "sugars": "5", "protein": "0"}}
#: Packs as they are printed, and two that contradict themselves.
PACKS: dict[str, Doc] = {
    "creamer": _CREAMER,
    "creamer, weighed": {**_CREAMER, "density_g_ml": 1.05, "rules": "us"},
    "condensed milk": {"kind": "dairy", "figures": {"fat": "8.0", "sugars": "55.0", "protein": "7.9", "salt": "0.25", "energy_kcal": "325"}},
    "cocoa sauce": {"kind": "cocoa", "with_milk": True, "figures": {"fat": "12", "carbohydrate": "52", "sugars": "48", "fibre": "4.1", "protein": "5.3", "sodium_mg": "90"}},
    "syrup": {"kind": "syrup", "per": "100 ml", "figures": {"energy_kcal": "330", "sugars": "82"}, "sugars_are": {"sucrose": 0.7, "fructose": 0.3}},
    "juice": {"kind": "juice", "per": "serving", "serving_g": 200, "figures": {"sugars": "21", "fibre": "<0.5", "protein": "trace"}},
    "oat drink": {"kind": "plant", "per": "100 ml", "figures": {"fat": "1.5", "carbohydrate": "6.7", "sugars": "3.4", "fibre": "0.8", "protein": "1.1"}, "rules": "us"},
    "liqueur": {"kind": "other", "per": "100 ml", "figures": {"alcohol_vol": "17", "sugars": "30", "fat": "13"}, "with_milk": True},
    "a pinch of a sachet": {"per": "serving", "serving_g": 5, "figures": {"sugars": "0.25", "fat": "0.1", "energy_kj": "20"}},
    "energy drink": {"per": "100 ml", "figures": {"sugars": "11", "caffeine_mg": "32", "energy_kj": "194", "salt": "0.05", "added_sugars": "11"}},
    "too much": {"figures": {"sugars": "60", "water": "60"}},
    "nothing": {"figures": {}},
}  # fmt: skip
_SHEETS: list[Doc] = [
    {"by": "A", "tasted": [{"attribute": "sweetness", "than_ours": 1}, {"attribute": "spice:fennel", "than_ours": -1}]},
    {"by": "B", "in_parts": 8, "tasted": [{"attribute": "sweetness", "cup": 22, "words": "round"}]},
]


def labels() -> Any:
    return {name: or_refused(partial(label_report, LabelDoc.model_validate(pack))) for name, pack in PACKS.items()}


def benchmarks() -> Any:
    """A bought creamer by its label and price, alone, beside ours, and ours aimed at it."""
    ours = parse_document(example("fennel-sweet-cream"))
    doc = BenchmarkDoc.model_validate({"name": "Theirs", "label": _CREAMER, "pack": {"size": 500, "unit": "g", "price": 4}})
    tasted = BenchmarkDoc.model_validate({"name": "Theirs", "sheets": _SHEETS})
    nothing = BenchmarkDoc.model_validate({"name": "Theirs"})
    return {
        "nothing known": less(benchmark_report(nothing, Known(), Kitchen()).model_dump(mode="json")),
        "alone": less(benchmark_report(doc, Known(), Kitchen()).model_dump(mode="json")),
        "beside ours": less(benchmark_report(doc, Known(), Kitchen(), ours).model_dump(mode="json")),
        "tasted": less(benchmark_report(tasted, Known(beside=ours), Kitchen(), ours).model_dump(mode="json")),
        "aimed": less(aim_report(doc, Known(), ours, ours.document).model_dump(mode="json")),
    }
