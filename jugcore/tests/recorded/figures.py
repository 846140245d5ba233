"""The physics along its range, the bounds of what may be given, and a walk of several cases."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.matter import infusion, mixtures
from jugcore.matter.matter import Matter
from jugcore.method.compile import parse_document
from jugcore.method.parameters import KITCHEN, bounds_of
from jugcore.method.stages.aerate import MIX_NAMES
from jugcore.method.walk import walk
from jugcore.physics import acidity, boiling, evaporation, sucrose, thermal, water
from jugcore.physics.foam import SECONDS, TOOL_NAMES, Tool, coffee_is, floats_on, foam
from jugcore.physics.sweetness import sweetness_g
from jugcore.physics.water_activity import water_activity
from jugcore.reading.catalogue import readings
from jugcore.tests.recorded.documents import Doc, pears

#: Functions of the physics by their edges: what is given beside, the name, the least and the most (None: no end).
EDGES: tuple[tuple[Callable[..., Any], Doc, str, float | None, float | None], ...] = (
    (sucrose.density_kg_m3, {}, "brix", 0, 85), (sucrose.density_kg_m3, {"brix": 40}, "temperature_c", 0, 100),
    (sucrose.refractive_index, {}, "brix", 0, 85), (sucrose.refractive_index, {"brix": 40}, "temperature_c", 10, 40),
    (sucrose.brix_from_refractive_index, {}, "n", 1.33299, 1.50388), (sucrose.brix_from_refractive_index, {"n": 1.4}, "temperature_c", 10, 40),
    (sucrose.solubility_brix, {}, "temperature_c", 0, 90), (sucrose.viscosity_mpa_s, {"temperature_c": 20}, "brix", 0, 75),
    (sucrose.viscosity_mpa_s, {"brix": 50}, "temperature_c", 0, 80), (sucrose.ratio_from_brix, {}, "brix", 0, None),
    (sucrose.brix_from_ratio, {}, "sugar_to_water", 0, None), (boiling.boiling_point_c, {}, "brix", 0, 90),
    (boiling.boiling_point_c, {"brix": 50}, "pressure_pa", 50_000, 110_000), (water.density_kg_m3, {}, "temperature_c", 0, 150),
    (water.vapour_pressure_pa, {}, "temperature_c", 0, 150), (water.viscosity_mpa_s, {}, "temperature_c", 0, 100),
    (water.latent_heat_j_g, {}, "temperature_c", 0, 130), (boiling.pressure_at_altitude_pa, {}, "metres", -430, 5000),
    (thermal.heat_capacity_j_gk, {"temperature_c": 20}, "brix", 0, 70), (thermal.heat_capacity_j_gk, {"brix": 50}, "temperature_c", 0, 110),
    (evaporation.boil_off_kg_h, {"power_w": 2000}, "efficiency", 1e-9, 1), (evaporation.boil_off_kg_h, {"power_w": 2000, "efficiency": 1}, "temperature_c", 0, 130),
)  # fmt: skip


def physics() -> Any:
    """Every function along its range, and ten grams of every component in a hundred of water."""
    found: Doc = {}
    for function, beside, name, low, high in EDGES:
        along = np.linspace(low or 0.0, 60.0 if high is None else high, 13)
        found[f"{function.__name__} {name} {json.dumps(beside)}"] = [float(function(**beside, **{name: x})) for x in along]
    for component in c.NAMES:
        mass = {"water": 100.0, component: 10.0} if component != "water" else {"water": 110.0}
        grams = np.zeros((1, c.COUNT))
        for each, g in mass.items():
            grams[0, c.INDEX[each]] += g
        held = Matter(grams, thermal.enthalpy_j(grams, np.array([60.0])), np.zeros((1, 0)), np.zeros((1, 0)), np.zeros(1))
        found[component] = {
            "enthalpy": float(held.enthalpy_j[0]), "volume": float(held.volume_ml(20.0)[0]), "brix": float(held.brix[0]),
            "activity": float(water_activity(mass, 25.0)) if component != "dissolved_gas" else None,
            "boils": float(mixtures.boiling_point(grams, np.array([93_870.0]))[0]),
        }  # fmt: skip
    return found


def _cup(**grams: float) -> Any:
    """One case of these grams of components."""
    mass = np.zeros((1, c.COUNT))
    for name, g in grams.items():
        mass[0, c.INDEX[name]] = g
    return mass


def foams() -> Any:
    """What becomes of cream by its fat, gum, warmth and the tool, of coffee by how much of it there is, and of a plant's; how long each tool takes."""
    found: Doc = {}

    def foamed(name: str, mass: Any, celsius: float, tool: Tool, coffee: float, plant: bool, gum: float) -> None:
        made = foam(mass, np.array([celsius]), tool, coffee_g=np.array([coffee]), plant=plant, gum_g=np.array([gum]))
        found[f"{tool} {name}"] = [made.overrun[0].tolist(), made.verdict, made.why, made.of_coffee]

    for tool in TOOL_NAMES:
        for fat in (0.0, 3.0, 6.5, 9.0, 15.0, 25.0, 33.0, 44.0, 60.0):
            cream = _cup(milk_fat=fat, protein=3.0, lactose=4.0, water=93.0 - fat)
            foamed(f"{fat:g} % fat", cream, 4.0, tool, 0.0, False, 0.0)
            foamed(f"{fat:g} % fat, warm", cream, 20.0, tool, 0.0, False, 0.0)
            foamed(f"{fat:g} % fat, gum", cream, 4.0, tool, 0.0, False, 0.11)
            foamed(f"{fat:g} % of a plant's", _cup(other_fat=fat, protein=1.0, sucrose=4.0, water=95.0 - fat), 4.0, tool, 0.0, True, 0.0)
        found[f"{tool}, seconds"] = SECONDS[tool]
    for coffee, sugar in ((1.0, 30.0), (4.0, 22.0), (8.0, 16.0), (10.0, 40.0), (9.0, 90.0)):
        foamed(
            f"{coffee:g} g of coffee, {sugar:g} g of sugar",
            _cup(other_soluble_carbohydrate=coffee, sucrose=sugar, water=50.0),
            20.0,
            "hand_mixer",
            coffee,
            False,
            0.0,
        )
    for mixer in MIX_NAMES:
        water = {"id": "in", "kind": "add", "vessel": "jug", "lines": [{"id": "milk", "substance": "whole_milk", "amount": "300 g"}]}
        mixed = walk(parse_document({"stages": [water, {"id": "mix", "kind": "mix", "vessel": "jug", "tool": mixer}]}))
        found[f"mixed by {mixer}"] = [mixed.steps[-1].duration_s.tolist(), mixed.steps[-1].hands_s.tolist()]
    found["minutes"] = [coffee_is(seconds) for seconds in range(0, 240, 15)]
    found["floats"] = [floats_on(float(light), 1000.0) for light in range(300, 1100, 35)]
    return found


def tastes() -> Any:
    """How sweet every component is, pH and acid of five grams of each acid in a hundred of water, how long a steep takes from cold to hot."""
    found: Doc = {f"sweet {name}": [float(each) for each in sweetness_g({"water": 100.0, name: 10.0})] for name in c.NAMES if name != "water"}
    for acid in (name for i, name in enumerate(c.NAMES) if c.ACIDS[i]):
        mass = {"water": 100.0, acid: 5.0}
        found[acid] = [float(acidity.ph(mass)), float(acidity.titratable_as(mass)), float(acidity.ph({**mass, "sucrose": 100.0}))]
    warmths = np.array([0.0, 4.0, 20.0, 45.0, 70.0, 90.0, 100.0])
    held, seconds = np.repeat(warmths[:, None], 2, axis=1), np.array([[0.0, 900.0]] * 7)
    for (kind, form), steeping in infusion._table().items():
        least, most = infusion.usual_minutes(steeping, warmths)
        drawn = infusion.drawn_against_usual(steeping, held, seconds)
        found[f"{kind}, {form}"] = [each.tolist() for each in (least, most, *drawn)]
    return found


def bounds() -> Any:
    """The range of every figure that may be given to a walk of the pears."""
    method = parse_document(pears())
    kitchen = method.document.kitchen
    assert kitchen is not None
    names = [f"lines.{id}.grams" for id in method.amounts]
    for stage in method.stages:
        names += [stage.path(name) for name in (*type(stage).model_fields, "brix", "mass_g", "temperature_c", "minutes", "off_g")]
    names += [f"kitchen.{name}" for name in KITCHEN] + [f"vessels.{v}.film_g" for v in sorted(method.vessel_ids)]
    names += [
        "burners.gas.power_w",
        "burners.gas.efficiency",
        "burners.sun.power_w",
        "substances.honey.glucose",
        "substances.honey.water",
        "substances.rum.water",
    ]
    found = {name: bounds_of(method, kitchen, name) for name in names}
    return {name: None if b is None else [b.low, b.high, b.unit, b.open_low] for name, b in found.items()}


def learned() -> Any:
    """What figures learned of the kitchen do to a walk: several cases at once, bad ones among them."""
    given = {
        "kitchen.cake_uptake_g_per_g": [1.1, 2.0, 0.5, -1.0], "kitchen.film_g": [5, 0, 20, 5], "kitchen.altitude_m": [640, 0, 2000, 640],
        "kitchen.simmer_kg_m2h": [14, 10, 20, 14], "lines.pear.grams": [1600, 1500, 1700, 1600], "stages.press.yield_fraction": [0.5, 0.45, 0.5, 0.5],
        "substances.honey.glucose": [30, 30, 30, 30], "burners.plate.efficiency": [0.8, 0.7, 0.9, 2.0],
    }  # fmt: skip
    walked = walk(parse_document(pears()), given={name: np.array(values, dtype=float) for name, values in given.items()})
    return {
        "mass": walked.product.total_g.tolist(), "brix": walked.product.brix.tolist(), "lines": {id: g.tolist() for id, g in walked.end.lines.items()},
        "faults": [[f.code, f.field, f.message, f.cases.tolist()] for f in walked.faults],
        "stages": {stage.id: [step.duration_s.tolist(), step.hands_s.tolist()] for stage, step in zip(walked.stages, walked.steps, strict=True)},
        "readings": {r.id: [r.low.tolist(), r.high.tolist()] for r in readings(walked)},
    }  # fmt: skip
