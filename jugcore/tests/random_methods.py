"""Random methods from a seed: every stage, every end of a boil, every form of amount."""

from __future__ import annotations

from typing import Any

import numpy as np

BULK = ("water", "white_sugar", "pear_juice", "whole_milk", "honey", "demerara_sugar", "maple_syrup", "cocoa_low_fat", "orange_juice")
SPICE = ("green_cardamom", "mace", "star_anise", "cassia", "fennel_seed", "smoked_tea")
LATE = ("vanilla_extract", "citric_acid", "salt", "blossom_water", "lactic_acid_80")
FRUIT = ("pear_flesh", "damson_puree", "fresh_ginger")
#: An enzyme of which everything is known.
AMYLASE = {
    "title": "Alpha-amylase", "kind": "enzyme", "composition_g_per_100g": {"water": 6, "dextrin": 94},
    "enzyme": {
        "source": "bacterial", "works_c": {"low": 63, "high": 72}, "dies_c": 85, "ph": {"low": 5.5, "high": 7}, "activity": 3000,
        "activity_unit": "units a gram", "sheet": "a sheet", "dose_g_kg": {"low": 3, "high": 6},
    },
}  # fmt: skip
#: Stages whose masses are stated and so must be tripled with the lines.
Doc = dict[str, Any]


def random_method(seed: int, *, film: bool = True, minutes: bool = True, scale: float = 1.0) -> Doc:
    """One document; the same seed with another ``scale`` is the same method with all grams scaled."""
    rng = np.random.default_rng(seed)
    more = np.random.default_rng(seed + 10_000)  # of its own, so that what came later leaves the methods before it as they were
    stages: list[Doc] = []
    count = {"line": 0, "stage": 0}

    def new(kind: str) -> str:
        count[kind] += 1
        return f"{kind}{count[kind]}"

    def grams(low: float, high: float) -> Doc:
        return {"kind": "written", "text": f"{round(float(rng.uniform(low, high)), 2) * scale:.6f} g"}

    def line(substance: str, amount: Doc) -> Doc:
        return {"id": new("line"), "substance": substance, "amount": amount}

    def stage(kind: str, **rest: Any) -> Doc:
        doc = {"id": new("stage"), "kind": kind, **rest}
        stages.append(doc)
        return doc

    pressed = rng.random() < 0.4
    spiced = rng.random() < 0.6
    if pressed:
        stage("add", vessel="bowl", lines=[line(str(rng.choice(FRUIT)), grams(300, 900))])
        if rng.random() < 0.3:
            stage("trim", vessel="bowl", yield_fraction=float(rng.uniform(0.6, 0.95)))
        if rng.random() < 0.5:
            stage("mill", vessel="bowl", loss_fraction=float(rng.uniform(0, 0.05)))
        stage("press", vessel="bowl", into="cup", yield_fraction=float(rng.uniform(0.2, 0.7)))
    first = line("water", grams(200, 900))
    second = line(str(rng.choice(BULK[1:4])), grams(100, 600))
    bulk = [first, second]
    for _ in range(int(rng.integers(1, 4))):
        forms: list[Doc] = [
            grams(20, 400),
            {"kind": "as_much_as", "lines": [bulk[-1]["id"]], "factor": round(float(rng.uniform(0.3, 1.5)), 3)},
            {"kind": "as_much_as", "lines": [first["id"], second["id"]], "factor": 0.5},
            {"kind": "per_kg", "grams": 80.0, "of": "pot_now"},
            {"kind": "per_kg", "grams": 50.0, "of": "lines", "lines": [first["id"]]},
        ]
        bulk.append(line(str(rng.choice(BULK)), forms[int(rng.integers(len(forms)))]))
    if spiced:
        spices = [
            line(str(s), {"kind": "per_kg", "grams": round(float(rng.uniform(1, 12)), 2), "of": "started"})
            for s in rng.choice(SPICE, 3, replace=False)
        ]
        stage("blend", vessel="mortar", lines=spices)
        if rng.random() < 0.7:
            stage("mill", vessel="mortar", loss_fraction=0.02)
    stage("add", vessel="pot", lines=bulk)
    if pressed:
        amount: Doc = {"kind": "all"} if rng.random() < 0.6 else grams(20, 80)
        stage("join", vessel="pot", source="cup", amount=amount)
    if rng.random() < 0.6:
        stage("heat", vessel="pot", to_c=float(rng.uniform(45, 80)))
    if spiced:
        stage("join", vessel="pot", source="mortar", amount={"kind": "all"})
    if more.random() < 0.3:
        stage("add", vessel="pan", lines=[line("white_sugar", grams(80, 200)), line("water", grams(10, 40))])
        stage("caramelise", vessel="pan", to_c=float(more.uniform(160, 185)), for_min=float(more.uniform(0, 2)))
        stage("join", vessel="pot", source="pan", amount={"kind": "all"})
    if more.random() < 0.4:
        stage("mix", vessel="pot", tool=str(more.choice(["spoon", "whisk", "stick_blender", "jar"])))
    if minutes and more.random() < 0.4:
        stage("add", vessel="pot", lines=[line("cocoa_low_fat", grams(20, 90)), line("amylase", grams(0.05, 0.3))])
    if rng.random() < 0.8:
        ends: list[Doc] = [
            {"brix": float(rng.uniform(50, 70))},
            {"mass_g": float(rng.uniform(500, 900)) * scale},
            {"temperature_c": float(rng.uniform(100.5, 106))},
            {"off_g": float(rng.uniform(50, 250)) * scale},
        ]
        if minutes:
            ends.append({"minutes": float(rng.uniform(3, 20))})
        stage(
            "boil", vessel="pot", until=ends[int(rng.integers(len(ends)))],
            vigour=str(rng.choice(["simmer", "steady", "full"])),
        )  # fmt: skip
    if rng.random() < 0.5:
        stage("cool", vessel="pot", to_c=float(rng.uniform(30, 60)), how=str(rng.choice(["air", "cold_water", "fridge"])))
    if more.random() < 0.5:
        kept = str(more.choice(["hob", "wrapped", "flask", "air", "fridge"])) if minutes else "hob"
        stage(str(more.choice(["hold", "steep"])), vessel="pot", for_min=float(more.uniform(2, 90)), where=kept)
    where = "pot"
    if spiced or rng.random() < 0.4:
        stage("strain", vessel="pot", into="jug", pressed=bool(rng.random() < 0.5))
        where = "jug"
        if rng.random() < 0.3:
            stage("press", vessel=f"cake:{stages[-1]['id']}", into="jug", yield_fraction=0.1)
    if rng.random() < 0.5:
        late = str(rng.choice(LATE))
        forms = [
            grams(1, 8),
            {"kind": "per_kg", "grams": 5.0, "of": "finished"},
            {"kind": "per_kg", "grams": 4.0, "of": "after", "stage": stages[-1]["id"]},
        ]
        stage("add", vessel=where, lines=[line(late, forms[int(rng.integers(3))])])
    if more.random() < 0.3:
        stage("aerate", vessel=where, tool=str(more.choice(["frother", "blender", "siphon"])))
    if seed % 23 == 7:
        stage("ice", vessel=where, lines=[line("water", grams(30, 300))])
    if more.random() < 0.2:
        stage("cool", vessel=where, to_c=22.0, how="fridge")
        stage("freeze", vessel=where)
    if rng.random() < 0.7:
        stage("fill", vessel=where, into="bottles", size_ml=350.0)
    film_g = 5.0 if film else 0.0
    return {
        "format": "oakenjug.method/1",
        "vessels": [{"id": v, "name": v.title(), "pot": "wide" if v == "pot" else None} for v in ("pot", "pan", "bowl", "cup", "mortar", "jug", "bottles")],
        "stages": stages,
        "substances": {"amylase": AMYLASE},
        "kitchen": {
            "altitude_m": float(rng.uniform(0, 2000)), "film_g": film_g,
            "pots": [{"id": "wide", "name": "Wide", "tare_g": 1243.0, "diameter_cm": 28.0, "capacity_ml": 8000.0}],
            "burners": [{"id": "gas", "name": "Gas", "power_w": 3500.0, "efficiency": 0.4}],
        },
    }  # fmt: skip


def renamed(document: Doc) -> Doc:
    """The same method with every id and name changed, and nothing else."""
    new: dict[str, str] = {}

    def give(old: str | None) -> str | None:
        if old is None:
            return None
        if old.startswith("cake:"):
            return f"cake:{give(old[5:])}"
        return new.setdefault(old, f"q{len(new)}x")

    def through(value: Any, key: str = "") -> Any:
        if isinstance(value, dict):
            return {k: through(v, k) for k, v in value.items()}
        if isinstance(value, list):
            return [give(v) if key == "lines" and isinstance(v, str) else through(v, key) for v in value]
        if key in ("id", "vessel", "into", "source", "stage", "pot", "burner", "sieve", "finished"):
            return give(value)
        if key == "name":
            return "Nameless"
        return value

    return dict(through(document))
