"""Recomputes a plan's cost and whether it can be done from its JSON alone. It imports nothing of the planner."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

#: Grams and minutes are compared within this, and money within a cent in a hundred thousand.
_GRAMS, _MINUTES = 0.02, 1e-6
#: What is left over and good is worth this share of what it cost in a full cook: as docs/models.md says.
KEPT_WORTH = 0.97


def check(problem: dict[str, Any], plan: dict[str, Any]) -> tuple[float, list[str]]:
    """(cost, everything that is wrong with a plan)."""
    wrong: list[str] = []
    products = {each["id"]: each for each in problem["products"]}
    days = len(problem["days"])
    served: dict[tuple[str, int], float] = defaultdict(float)
    beyond: dict[str, float] = defaultdict(float)
    made: dict[tuple[str, int], float] = defaultdict(float)
    hands: dict[int, float] = defaultdict(float)
    burner: dict[int, float] = defaultdict(float)
    in_fridge: dict[int, float] = defaultdict(float)
    cost = 0.0

    def stays(product: dict[str, Any], first: int, used: dict[int, float], kept: float, waste: float, last: int) -> None:
        """What of it stands in the fridge in the evening of each day."""
        litres = product["chill_l_kg"] / 1000
        for day in range(first, days):
            later = sum(grams for use, grams in used.items() if use > day)
            in_fridge[day] += litres * (later + kept + (waste if day <= last else 0.0))

    for cook in plan["cooks"]:
        product, day = products[cook["product"]], cook["day"]
        name = f"{cook['product']} on day {day}"
        if problem["days"][day]["closed"] and cook["cooks"]:
            wrong.append(f"{name}: made on a closed day")
        if cook["cooks"] > product["cook"]["a_day"]:
            wrong.append(f"{name}: too many cooks")
        if cook["grams"] > cook["cooks"] * product["cook"]["most_g"] + _GRAMS:
            wrong.append(f"{name}: more than its pots take")
        if cook["grams"] < cook["cooks"] * product["cook"]["least_g"] - _GRAMS:
            wrong.append(f"{name}: less than is worth a cook")
        used = {each["day"]: each["grams"] for each in cook["used"]}
        if abs(sum(used.values()) + cook["kept_g"] + cook["waste_g"] - cook["grams"]) > _GRAMS:
            wrong.append(f"{name}: grams do not add up")
        for use, grams in used.items():
            if not day + product["ready_days"] <= use <= day + product["life_days"] - 1:
                wrong.append(f"{name}: used on day {use}, when it is not good")
            served[cook["product"], use] += grams
            cost += product["hold_g"] * grams * (use - day)
        if cook["kept_g"] > _GRAMS and day + product["life_days"] - 1 < days:
            wrong.append(f"{name}: kept beyond its life")
        beyond[cook["product"]] += cook["kept_g"]
        made[cook["product"], day] += cook["grams"]
        hands[day] += cook["cooks"] * product["cook"]["hands_min"]
        burner[day] += cook["cooks"] * product["cook"]["burner_min"]
        cost += cook["cooks"] * (product["cook"]["money"] + problem["days"][day]["more"]) + cook["grams"] * product["cook"]["money_g"]
        cost += cook["waste_g"] * product["waste_g"] + product["hold_g"] * cook["kept_g"] * (days - day)
        cost -= KEPT_WORTH * cook["kept_g"] * (product["cook"]["money_g"] + product["cook"]["money"] / product["cook"]["most_g"])
        stays(product, day, used, cook["kept_g"], cook["waste_g"], day + product["life_days"] - 1)
    for of in plan["from_stock"]:
        stock = problem["stock"][of["stock"]]
        product = products[stock["product"]]
        used = {each["day"]: each["grams"] for each in of["used"]}
        if abs(sum(used.values()) + of["kept_g"] + of["waste_g"] - stock["grams"]) > _GRAMS:
            wrong.append(f"stock {of['stock']}: grams do not add up")
        for use, grams in used.items():
            if not stock["first_day"] <= use <= stock["last_day"]:
                wrong.append(f"stock {of['stock']}: used on day {use}, when it is not good")
            served[stock["product"], use] += grams
            cost += product["hold_g"] * grams * use
        if of["kept_g"] > _GRAMS and stock["last_day"] < days:
            wrong.append(f"stock {of['stock']}: kept beyond its day")
        beyond[stock["product"]] += of["kept_g"]
        cost += product["hold_g"] * of["kept_g"] * days
        cost -= KEPT_WORTH * of["kept_g"] * (product["cook"]["money_g"] + product["cook"]["money"] / product["cook"]["most_g"])
        stays(product, 0, used, of["kept_g"], of["waste_g"], stock["last_day"])
    short = {(each["product"], each["day"]): each["grams"] for each in plan["short"]}
    for id, product in products.items():
        margin = product["margin_g"] or [0.0] * days
        for day in range(days):
            wants = product["needs_g"][day] + margin[day]
            wants += sum(other["parts"].get(id, 0.0) * made[parent, day] for parent, other in products.items())
            lacks = short.get((id, day), 0.0)
            if abs(served[id, day] + lacks - wants) > _GRAMS:
                wrong.append(f"{id} on day {day}: {served[id, day]:.2f} g served and {lacks:.2f} short of {wants:.2f}")
            if lacks > product["needs_g"][day] + margin[day] + _GRAMS:
                wrong.append(f"{id} on day {day}: short of what goes into other products")
            cost += lacks * product["short_g"]
        if beyond[id] > sum(product["beyond_g"]) + _GRAMS:
            wrong.append(f"{id}: kept more than is wanted later")
    for day, room in enumerate(problem["days"]):
        if room["hands_min"] is not None and hands[day] > room["hands_min"] + _MINUTES:
            wrong.append(f"day {day}: {hands[day]:.0f} min of hands")
        if room["burner_min"] is not None and burner[day] > room["burner_min"] + _MINUTES:
            wrong.append(f"day {day}: {burner[day]:.0f} min of burners")
        if problem["chill_l"] is not None and in_fridge[day] > problem["chill_l"] + 0.01:
            wrong.append(f"day {day}: {in_fridge[day]:.2f} l in the fridge")
    cooks = {(each["product"], each["day"]): each["cooks"] for each in plan["cooks"]}
    for pin in problem["pins"]:
        many = cooks.get((pin["product"], pin["day"]), 0)
        if many < pin["cooks"] or (pin["kind"] == "exactly" and many != pin["cooks"]):
            wrong.append(f"{pin['product']} on day {pin['day']}: {many} cooks and not {pin['cooks']}")
    return cost, wrong
