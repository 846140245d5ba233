"""The energy that a method takes on the hob, read off its walk: the heat that went into each pot, by how much of the burner's reaches it."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.method.stages import Boil, Caramelise, Heat, Holding, StageBase, Step
from jugcore.method.stages.hold import LOSS, surface_m2
from jugcore.method.walk import Walk
from jugcore.physics import thermal, water

#: What a microwave turns into heat in the food, least, likely, most (estimates).
_MICROWAVE = (0.45, 0.55, 0.65)
_J_PER_KWH = 3.6e6


def energy_kwh(walk: Walk) -> Floats:
    """Kilowatt-hours (K, 3) that heating, boiling, caramelising and keeping warm on the hob take: least, likely, most.

    Formula: Σ over the stages on a burner of the heat its pot took up (what is warmer than before, and what left as steam) ÷ the
    share of the burner's power that reaches the pot; that is power × time wherever the burner is what limits. Range: what the walk
    heats. Source: energy balance of the walk. Accuracy: that of the efficiency, which is an estimate until it is learned; ovens,
    fridges and hot water are not in it.
    """
    total = np.zeros((walk.cases, 3))
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        if not isinstance(stage, Heat | Boil | Caramelise | Holding):
            continue
        heat = _heat_j(walk, stage, step)
        total = total + heat[:, None] / _efficiency(walk, stage) / _J_PER_KWH
    return total


def _efficiency(walk: Walk, stage: StageBase) -> Floats:
    """The share of the energy that reaches the pot, (3,), so that dividing by it gives least, likely, most."""
    if isinstance(stage, Heat) and stage.by == "microwave":
        return np.array(_MICROWAVE[::-1])
    burner = next((id for kind, id in stage.named_equipment() if kind == "burner"), None)
    fire = walk.kitchen.burner(burner)
    spread = walk.kitchen.efficiency_spread
    return np.minimum(fire.efficiency * np.array([1 + spread, 1.0, 1 - spread]), 1.0)


def _heat_j(walk: Walk, stage: StageBase, step: Step) -> Floats:
    """Heat (K,) that went into the pot at a stage [J]; none where it only cooled."""
    if isinstance(stage, Holding):
        if stage.where != "hob":
            return np.zeros(walk.cases)
        held = walk.before(stage.id).vessels.get(stage.vessel)
        if held is None:
            return np.zeros(walk.cases)
        # What the burner makes good is what the pot would lose as it stands.
        loss = LOSS["air"] * surface_m2(held, walk.kitchen.pot(walk.method.pot_id(stage.vessel)).diameter_cm)
        return np.asarray(np.maximum(held.warmth_c - walk.of_kitchen("room_c"), 0.0) * loss * 60.0 * stage.for_min)
    before, after = walk.before(stage.id).vessels.get(stage.vessel), step.after.vessels.get(stage.vessel)
    had = np.zeros(walk.cases) if before is None else before.enthalpy_j
    has = np.zeros(walk.cases) if after is None else after.enthalpy_j
    ends = np.full(walk.cases, 100.0) if after is None else after.warmth_c
    steam = np.zeros(walk.cases)
    for flow in step.flows:
        if flow.target.startswith("away:"):
            latent = water._latent_heat_j_g(np.clip(ends, 0.0, 130.0))
            steam = steam + thermal.enthalpy_j(flow.mass_g, ends) + flow.mass_g[:, c.WATER] * latent
    return np.asarray(np.maximum(has - had + steam, 0.0))
