"""Methods within methods from a seed, each in two forms: what was made earlier as an ingredient, and the same stages as a branch."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

import numpy as np

from jugcore.editing.freeze import fingerprint, freeze
from jugcore.matter.substance import Used
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.reading.substance_from_walk import substance_from_walk
from jugcore.tests.random_methods import random_method

Doc = dict[str, Any]
#: Everything is made in one kitchen, whose pots keep nothing back.
KITCHEN: Doc = {
    "altitude_m": 640.0, "film_g": 0.0,
    "pots": [{"id": "wide", "name": "Wide", "tare_g": 1243.0, "diameter_cm": 28.0, "capacity_ml": 8000.0}],
    "burners": [{"id": "gas", "name": "Gas", "power_w": 3500.0, "efficiency": 0.4}],
}  # fmt: skip
#: What goes in warmer is cooled first: nothing is stored as it boils. [°C]
_STORED_BELOW_C = 90.0


@dataclass(frozen=True)
class Nested:
    """One method in both forms, by the depth of what stands in it."""

    made: Doc
    branch: Doc
    depth: int


def nested(seed: int, depth: int) -> Nested:
    """A random method that takes a part of what another gave, which took of another, ``depth`` times."""
    rng = np.random.default_rng(seed + 50_000)
    inner = nested(seed + 1_000, depth - 1) if depth else None
    own = _plain(random_method(seed))
    if inner is None:
        return Nested(own, own, 0)
    gave = _stored(inner)
    product = walk(parse_document(gave.made)).product
    grams = round(float(product.total_g[0]) * float(rng.uniform(0.1, 0.6)), 3)
    warm = float(product.warmth_c[0])
    key = f"made-{seed}"
    line = {"id": f"of-{seed}", "substance": key, "amount": f"{grams:.3f} g", "temperature_c": warm}
    at = next(i for i, stage in enumerate(own["stages"]) if stage["kind"] == "add" and stage["vessel"] == "pot")
    first = own["stages"][at]
    later = {
        **own,
        "stages": [*own["stages"][: at + 1], {"id": f"takes-{seed}", "kind": "add", "vessel": "pot", "lines": [line]}, *own["stages"][at + 1 :]],
    }
    made = {**later, "substances": {**own["substances"], key: as_ingredient(gave.made, f"Inner {seed}", key)}}
    below = _prefixed(gave.branch, f"d{depth}-")
    join = {"id": f"takes-{seed}", "kind": "join", "vessel": "pot", "source": below["finished"], "amount": f"{grams:.3f} g"}
    stages = [*own["stages"][:at], first, *below["stages"], join, *own["stages"][at + 1 :]]
    branch = {
        **own, "vessels": [*own["vessels"], *below["vessels"]], "stages": stages, "substances": {**own["substances"], **below["substances"]},
    }  # fmt: skip
    return Nested(made, branch, depth)


def as_ingredient(document: Doc, name: str, key: str) -> Doc:
    """What a document gives, as another document carries it: through its written form and back."""
    method = parse_document(document)
    found = substance_from_walk(walk(method), Used(f"f-{key}", 1, name, fingerprint(freeze(method))), key)
    written: Doc = json.loads(as_document(found).model_dump_json(exclude_none=True))
    return written


def _plain(document: Doc) -> Doc:
    """A document whose amounts are the grams they came to and that is not frozen, in the one kitchen.

    Of a branch “per kilo started” would be of what both start with.
    """
    document = {**document, "kitchen": KITCHEN, "stages": [stage for stage in document["stages"] if stage["kind"] not in ("freeze", "fill")]}
    method = parse_document(document)
    found = walk(method)
    stages = [_in_grams(stage, found) for stage in document["stages"]]
    return {**document, "stages": stages, "finished": method.product}


def _in_grams(stage: Doc, found: Walk) -> Doc:
    if "lines" in stage:
        lines = [{**line, "amount": f"{float(found.end.lines[line['id']][0]):.9f} g"} for line in stage["lines"]]
        return {**stage, "lines": lines}
    if stage["kind"] == "join" and stage["amount"] != {"kind": "all"}:
        return {**stage, "amount": f"{float(found.end.lines[stage['id']][0]):.9f} g"}
    return stage


def _stored(inner: Nested) -> Nested:
    """The same, cooled where it is too hot to store."""
    if float(walk(parse_document(inner.made)).product.warmth_c[0]) < _STORED_BELOW_C:
        return inner
    made, branch = (
        {**doc, "stages": [*doc["stages"], {"id": "stored", "kind": "cool", "vessel": doc["finished"], "to_c": 60.0, "how": "air"}]}
        for doc in (inner.made, inner.branch)
    )
    return Nested(made, branch, inner.depth)


_IDS = frozenset({"id", "vessel", "into", "source", "stage", "finished"})


def _prefixed(document: Doc, prefix: str) -> Doc:
    """A document with every id of its own under another name; pots, burners and substances stay."""

    def new(old: str) -> str:
        return f"cake:{prefix}{old[5:]}" if old.startswith("cake:") else f"{prefix}{old}"

    def through(value: Any, key: str = "") -> Any:
        if isinstance(value, dict):
            return {k: through(v, k) for k, v in value.items()}
        if isinstance(value, list):
            return [through(v, key) for v in value]
        return new(value) if key in _IDS and isinstance(value, str) else value

    return {**through({k: document[k] for k in ("vessels", "stages", "finished")}), "substances": document["substances"]}
