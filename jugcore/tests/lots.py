"""Random plans to be made, from a seed: a kitchen whose days are tight."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.lots.problem import LotsProblem

FIRST = date(2031, 5, 5)


def random_problem(seed: int, products: int, days: int, *, tight: float = 0.9, nested: bool = True, limited: bool = True) -> LotsProblem:
    """Products of a coffee bar with two to twenty-eight days of life, needs of 0.3 to 2 kg a day, cooks of 1.5 to 6 kg.

    ``tight`` is how much room a day has for hands and burners, beside what a plan that makes everything every few days takes on average.
    """
    random = np.random.default_rng(seed)
    week = np.array([0.85, 0.9, 1.0, 1.0, 1.25, 1.3, 0.7])
    rows: list[dict[str, Any]] = []
    for n in range(products):
        level = float(np.exp(random.uniform(np.log(300), np.log(2000))))
        needs = level * week[np.arange(days) % 7] * random.gamma(20, 1 / 20, days)
        life = int(random.choice([2, 3, 3, 5, 7, 7, 14, 28]))
        most = float(np.clip(level * min(life, 4) * random.uniform(0.6, 1.6), 1200, 8000))
        price = float(random.uniform(0.003, 0.012))
        rows.append({
            "id": f"p{n}", "title": f"Product {n}", "needs_g": [round(float(g), 1) for g in needs], "life_days": life,
            "beyond_g": [round(level, 1)] * min(life - 1, 7), "short_g": price * 6, "waste_g": 0.001, "chill_l_kg": 0.9,
            "cook": {
                "most_g": round(most), "least_g": round(0.25 * most), "money": round(float(random.uniform(5, 14)), 2), "money_g": round(price, 5),
                "hands_min": round(float(random.uniform(12, 40))), "burner_min": round(float(random.uniform(0, 45))), "a_day": 3,
            },
        })  # fmt: skip
    if nested and products > 3:
        rows[1]["parts"] = {"p0": 0.3}
        rows[3]["parts"] = {"p2": 0.2}
    hands = sum(
        sum(row["needs_g"]) / min(row["cook"]["most_g"], sum(row["needs_g"]) / days * min(row["life_days"], 4)) * row["cook"]["hands_min"]
        for row in rows
    )
    burner = hands * sum(row["cook"]["burner_min"] for row in rows) / sum(row["cook"]["hands_min"] for row in rows)
    room = {"hands_min": round(tight * hands / days), "burner_min": round(tight * 1.1 * burner / days)} if limited else {}
    return LotsProblem.model_validate({
        "days": [{"on": FIRST + timedelta(days=n), **room, "closed": bool(limited and n % 7 == 6 and seed % 3 == 0)} for n in range(days)], "products": rows,
        "stock": [{"product": row["id"], "grams": round(row["needs_g"][0] * float(random.uniform(0, 2))), "last_day": int(random.integers(0, row["life_days"]))}
                  for row in rows if random.random() < 0.6],
    })  # fmt: skip


def draws_of(problem: LotsProblem, seed: int, many: int = 2000) -> dict[str, Floats]:
    """Weeks (K, T) of what each product's drinks need by day: good and bad days for all, good and bad weeks for each, and scatter."""
    random = np.random.default_rng(seed + 100)
    days, products = len(problem.days), len(problem.products)
    day, week = random.gamma(200, 1 / 200, (many, days)), random.gamma(60, 1 / 60, (many, products))
    return {each.id: random.gamma(25, np.array(each.needs_g) * day * week[:, n : n + 1] / 25) for n, each in enumerate(problem.products)}
