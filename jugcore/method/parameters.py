"""What may be given to a walk: paths to figures of a document, each with its bounds.

A path is ``lines.<id>.grams``, ``lines.<id>.up_to_ml``, ``stages.<id>.<parameter>``, ``kitchen.<field>``,
``vessels.<id>.film_g``, ``burners.<id>.efficiency`` or ``power_w``, or
``substances.<id>.<component>`` (g per 100 g, water making up).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.figures import Bools, Floats, shown
from jugcore.method.amounts import UpToVolume
from jugcore.method.context import Fault
from jugcore.method.document import VesselDoc
from jugcore.method.kitchen import PLAIN_BURNER, Burner, Kitchen
from jugcore.method.method import Method
from jugcore.method.stages import StageBase

#: Fields of the kitchen that a walk reads and that may be given.
KITCHEN = ("altitude_m", "room_c", "fridge_c", "film_g", "cake_uptake_g_per_g", "simmer_kg_m2h", "steady_kg_m2h")
#: Nothing in a kitchen is larger, whatever it is measured in.
_MOST = 1e9


@dataclass(frozen=True)
class Bounds:
    """The range of a parameter; ``low`` itself is outside where ``open_low``."""

    low: float
    high: float
    unit: str = ""
    open_low: bool = False

    def outside(self, values: Floats) -> Bools:
        """Where (K,) a value lies outside, NaN among them."""
        above = values > self.low if self.open_low else values >= self.low
        return np.asarray(~(above & (values <= self.high)))

    def nearest(self, values: Floats) -> Floats:
        """The values with those outside moved to the nearest that fits; NaN to the lowest."""
        least = max(self.low, 0.0) + 1e-9 if self.open_low else self.low
        return np.clip(np.where(np.isnan(values), least, values), least, self.high)


def _of_field(field: Any) -> Bounds | None:
    """Bounds of a model's field; None for what is no number."""
    unit = (field.json_schema_extra or {}).get("unit") if isinstance(field.json_schema_extra, dict) else None
    limits = {name: float(getattr(m, name)) for m in field.metadata for name in ("ge", "gt", "le") if getattr(m, name, None) is not None}
    if not limits:
        return None
    return Bounds(limits.get("ge", limits.get("gt", -_MOST)), limits.get("le", _MOST), unit or "", "gt" in limits)


def bounds_of(method: Method, kitchen: Kitchen, path: str) -> Bounds | None:
    """The bounds of the parameter a path names; None where it names none of this method's."""
    kind, _, rest = path.partition(".")
    id, _, parameter = rest.rpartition(".")
    match kind:
        case "lines" if id in method.amounts and parameter == "grams":
            return Bounds(0.0, _MOST, "g")
        case "lines" if isinstance(method.amounts.get(id), UpToVolume) and parameter == "up_to_ml":
            return Bounds(0.0, _MOST, "ml", open_low=True)
        case "stages":
            stage = next((s for s in method.stages if s.id == id), None)
            return None if stage is None else _of_stage(stage, parameter)
        case "kitchen" if rest in KITCHEN:
            band = rest.endswith("_kg_m2h")
            return Bounds(0.0, 1000.0, "kg/(m²·h)", open_low=True) if band else _of_field(Kitchen.model_fields[rest])
        case "vessels" if parameter == "film_g" and (id in method.vessel_ids):
            return _of_field(VesselDoc.model_fields["film_g"])
        case "burners" if parameter in ("power_w", "efficiency") and id in {b.id for b in (*kitchen.burners, PLAIN_BURNER)}:
            return _of_field(Burner.model_fields[parameter])
        case "substances" if id in method.substances and parameter in c.INDEX and parameter != "water":
            return Bounds(0.0, 100.0, "g/100 g")
        case _:
            return None


def _of_stage(stage: StageBase, parameter: str) -> Bounds | None:
    until = getattr(stage, "until", None)
    for model in (until, stage):
        field = type(model).model_fields.get(parameter) if model is not None else None
        if field is not None:
            return _of_field(field)
    return None


def checked(method: Method, kitchen: Kitchen, given: Mapping[str, Floats]) -> tuple[dict[str, Floats], list[Fault]]:
    """Given values made fit to walk with, and a fault for the cases in which they were not.

    A value outside its parameter's bounds is replaced by the nearest inside, so that
    one bad case neither ends the walk nor upsets the others. Raises BadDocument for a
    path that names nothing here.
    """
    fit: dict[str, Floats] = {}
    faults: list[Fault] = []
    for path, values in given.items():
        bounds = bounds_of(method, kitchen, path)
        if bounds is None:
            raise BadDocument(f"given.{path}", f"“{path}” names no parameter here.", "Use a path such as lines.<id>.grams.")
        wrong = bounds.outside(values)
        fit[path] = values
        if bool(wrong.any()):
            fit[path] = bounds.nearest(values)
            first = int(np.argmax(wrong))
            stage = path.split(".")[1] if path.startswith("stages.") else None
            unit = f" {bounds.unit}" if bounds.unit else ""
            word = "above" if bounds.open_low else "at least"
            faults.append(
                Fault(
                    "out_of_range", path, f"{shown(float(values[first]))}{unit} is not possible here; {shown(float(fit[path][first]))} was used.",
                    f"Give {word} {shown(bounds.low)} and at most {shown(bounds.high)}{unit}.", wrong, stage,
                )
            )  # fmt: skip
    return fit, faults
