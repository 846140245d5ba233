"""A least-change program built from the JSON of a document alone: no import of the core, so that the core cannot vouch for itself.

One pot, lines in grams or tied with a factor to earlier ones, nothing lost: then what is in
the pot is a sum over lines, and a share of sugars is a linear row.
"""

from __future__ import annotations

import csv
from pathlib import Path
from typing import Any

import numpy as np
from scipy.optimize import linprog

_SUBSTANCES = Path(__file__).resolve().parent.parent / "matter" / "data" / "substances"
_SUGARS = ("sucrose", "glucose", "fructose", "lactose", "galactose", "maltose")


def _compositions() -> dict[str, dict[str, float]]:
    """Grams per gram, by substance and component."""
    found = {}
    for path in _SUBSTANCES.glob("*.csv"):
        for row in csv.DictReader(path.read_text(encoding="utf-8").splitlines()):
            grams = {name: float(g) for name, g in (part.split() for part in row["composition"].split(";"))}
            total = sum(grams.values())
            found[row["id"]] = {name: g / total for name, g in grams.items()}
    return found


def least_change(document: dict[str, Any], share: float, total_g: float, *, least_g: float) -> float | None:
    """The smallest sum of relative changes of the written lines so that sugars are ``share`` of a total of ``total_g``.

    None where there is none. A line counts against its size or a hundredth of the pot.
    """
    composition = _compositions()
    lines = document["stages"][0]["lines"]
    free = [line["id"] for line in lines if line["amount"]["kind"] == "written"]
    start = {line["id"]: float(line["amount"]["text"].split()[0]) for line in lines if line["amount"]["kind"] == "written"}
    # Each line as a combination of the free ones, in order.
    of: dict[str, np.ndarray[Any, np.dtype[np.float64]]] = {}
    for line in lines:
        if line["id"] in start:
            of[line["id"]] = np.eye(len(free))[free.index(line["id"])]
        else:
            of[line["id"]] = line["amount"]["factor"] * sum((of[other] for other in line["amount"]["lines"]), np.zeros(len(free)))
    x0 = np.array([start[id] for id in free])
    pot = float(sum(of[line["id"]] @ x0 for line in lines))
    scale = np.maximum(x0, pot / 100)
    mass = sum((of[line["id"]] for line in lines), np.zeros(len(free)))
    part = sum((sum(composition[line["substance"]].get(name, 0.0) for name in _SUGARS) * of[line["id"]] for line in lines), np.zeros(len(free)))
    n = len(free)
    equal = np.zeros((2, 2 * n))
    equal[0, :n], equal[1, :n] = mass, part
    bound = np.zeros((2 * n, 2 * n))
    bound[:n, :n], bound[:n, n:] = np.diag(1 / scale), -np.eye(n)
    bound[n:, :n], bound[n:, n:] = -np.diag(1 / scale), -np.eye(n)
    found = linprog(
        np.concatenate([np.zeros(n), np.ones(n)]), A_ub=bound, b_ub=np.concatenate([x0 / scale, -x0 / scale]),
        A_eq=equal, b_eq=[total_g, share * total_g], bounds=[(least_g, None)] * n + [(0, None)] * n,
    )  # fmt: skip
    return float(found.fun) if found.status == 0 else None
