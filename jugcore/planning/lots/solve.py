"""Solving a plan: products that share nothing each by themselves, the whole where a day has not room for all; bound and gap always told."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.lots.model import KEPT_WORTH, Columns, Program, program_of, value_g
from jugcore.planning.lots.plan import CookOut, FromStockOut, LotsPlan, MoneyOut, ShortOut, Status, UsedOut
from jugcore.planning.lots.problem import LotsProblem, PinDoc, ProductDoc
from jugcore.planning.lots.search import Answer, day_by_day, fits, part_by_part, solved
from jugcore.solving.stopwatch import Clock

#: What part of the time goes to products each alone, and of the rest to the whole at once: where it is small, and where it is not; and of
#: what is left then to going through the days. What remains betters what stands.
_ALONE, _WHOLE, _DAY_BY_DAY = (0.3, 0.05), (0.8, 0.12), 0.85
#: So many days × products are small.
_SMALL = 90
#: A plan is called the best when none can be cheaper by more than this share.
PROVEN = 1e-4
_NOTHING_G = 1e-4


def solve(problem: LotsProblem, seconds: float, clock: Clock, gap: float = PROVEN) -> LotsPlan:
    """The cheapest plan that can be found in some seconds, with its bound.

    Parameters: the problem; how long it may take; a clock, which is handed in since the core reads none; the gap within which a plan
    counts as proven. First every group of products that share parts is solved alone: where the whole of it fits what days have room
    for, it is the best there is; else the whole is solved, with the sum of the groups as a bound beside its own, and
    bettered part by part.
    """
    began = clock()
    blamed = _impossible(problem)
    if blamed:
        return _nothing("impossible", blamed, (clock() - began))
    groups = _groups(problem)
    limited = problem.chill_l is not None or any(day.hands_min is not None or day.burner_min is not None for day in problem.days)
    bound, hard = 0.0, False
    parts: list[tuple[Program, Answer]] = []
    large = len(problem.products) * len(problem.days) > _SMALL
    until = (_ALONE[large] if limited else 1.0) * seconds
    for n, group in enumerate(groups):
        program = program_of(problem, group, coupled=False)
        if hard:
            bound += _relaxed(program)
            continue
        left = until - (clock() - began)
        # One alone may take half of what is left: most take next to nothing, and one that is hard should not starve for them.
        answer = solved(program, max(left / 2, left / (len(groups) - n)), gap / 2)
        below = answer.bound if math.isfinite(answer.bound) else _relaxed(program)
        bound += below
        parts.append((program, answer))
        # What is hard alone is not easier for being many: of the others only what they cost at least is looked for.
        hard = answer.values is None or not _proven(program, answer.values, below, gap)
    whole = program_of(problem)
    joined = _joined(whole, parts) if len(parts) == len(groups) else None
    if joined is not None and fits(whole, joined):
        return _told(problem, whole, joined, bound, gap, clock() - began)
    left = seconds - (clock() - began)
    answer = solved(whole, _WHOLE[large] * left, gap / 2)
    bound, values = max(bound, answer.bound), answer.values
    if values is None or not _proven(whole, values, bound, gap):
        left = seconds - (clock() - began)
        found = day_by_day(whole, _DAY_BY_DAY * left, clock)
        values = _cheaper(whole, values, found)
        if values is None:
            values = _nothing_made(whole)
        if values is None:
            return _nothing("too slow", [], clock() - began)
        values = part_by_part(whole, values, seconds - (clock() - began), clock, bound, gap)
    return _told(problem, whole, values, bound, gap, clock() - began)


def _relaxed(program: Program) -> float:
    """What a program costs at least, cooks in parts allowed: found at once."""
    return solved(program, 5.0, 1e-6, whole=np.zeros(len(program.cost))).bound


def _proven(program: Program, values: Floats, bound: float, gap: float) -> bool:
    cost = float(program.cost @ values)
    return cost - bound <= gap * max(abs(cost), 1e-9)


def _cheaper(program: Program, one: Floats | None, other: Floats | None) -> Floats | None:
    """The cheaper of two plans that keep every row, where there is one."""
    good = [each for each in (one, other) if each is not None and fits(program, each)]
    return min(good, key=lambda each: float(program.cost @ each)) if good else None


def _groups(problem: LotsProblem) -> list[list[ProductDoc]]:
    """Products that go into one another, together; parts first."""
    order = problem.in_order()
    root = {each.id: each.id for each in order}

    def find(id: str) -> str:
        while root[id] != id:
            id = root[id]
        return id

    for each in order:
        for inner in each.parts:
            root[find(inner)] = find(each.id)
    found: dict[str, list[ProductDoc]] = {}
    for each in order:
        found.setdefault(find(each.id), []).append(each)
    return list(found.values())


def _places(columns: Columns) -> dict[tuple[object, ...], int]:
    """Every variable by what it is, whatever program it stands in."""
    found: dict[tuple[object, ...], int] = {}
    for name in ("cooks", "used", "kept", "waste", "stock_used", "stock_kept", "stock_waste", "short"):
        for key, place in getattr(columns, name).items():
            found[name, key] = place
    return found


def _joined(whole: Program, parts: Sequence[tuple[Program, Answer]]) -> Floats | None:
    """The plans of groups as one; None where one has none."""
    values = np.zeros(len(whole.cost))
    places = _places(whole.columns)
    for program, answer in parts:
        if answer.values is None:
            return None
        for key, place in _places(program.columns).items():
            values[places[key]] = answer.values[place]
    return values


def _nothing_made(program: Program) -> Floats | None:
    """A plan that makes only what is pinned: found at once, and better than none."""
    most = np.where(program.whole > 0, program.least, program.most)
    return solved(program, 5.0, 1e-4, most=most).values


def _impossible(problem: LotsProblem) -> list[int]:
    """Places of the fewest pins that cannot be kept together; empty where all can.

    A pin cannot be kept on a closed day, and several not together where they take more hands or burners than a day has. What is short
    or thrown away is never forbidden, so that nothing else can stand in the way of a plan but the fridge and two pins of one cook.
    """
    for day, each in enumerate(problem.days):
        pins = [(n, pin) for n, pin in enumerate(problem.pins) if pin.day == day]
        for n, pin in pins:
            if pin.cooks and each.closed:
                return [n]
            if pin.cooks > _product(problem, pin).cook.a_day:
                return [n]
            clash = next((m for m, other in pins if m != n and other.product == pin.product and _contradict(pin, other)), None)
            if clash is not None:
                return sorted((n, clash))
        for room, takes in ((each.hands_min, "hands_min"), (each.burner_min, "burner_min")):
            if room is None:
                continue
            load = sorted(((float(getattr(_product(problem, pin).cook, takes)) * pin.cooks, n) for n, pin in pins if pin.cooks), reverse=True)
            if sum(minutes for minutes, _ in load) <= room + 1e-9:
                continue
            # The largest first: the fewest of them that are too many.
            total, found = 0.0, []
            for minutes, n in load:
                total += minutes
                found.append(n)
                if total > room + 1e-9:
                    return sorted(found)
    return []


def _contradict(one: PinDoc, other: PinDoc) -> bool:
    exact, least = (one, other) if one.kind == "exactly" else (other, one)
    return exact.kind == "exactly" and (least.cooks > exact.cooks if least.kind == "at least" else least.cooks != exact.cooks)


def _product(problem: LotsProblem, pin: PinDoc) -> ProductDoc:
    return next(each for each in problem.products if each.id == pin.product)


def _nothing(status: Status, blamed: list[int], seconds: float) -> LotsPlan:
    none = MoneyOut(cooks=0, ingredients=0, holding=0, short=0, waste=0, kept=0)
    return LotsPlan(status=status, cost=0, bound=0, gap=0, money=none, cooks=[], from_stock=[], short=[], blamed=blamed, seconds=round(seconds, 3))


def _to_whole_bottles(product: ProductDoc, grams: float, cooks: int) -> float:
    """What fills the last bottle of cooks, where the pot has it; it is counted as thrown away, since nobody is known to want it.

    Where the fridge is short of room, and of what takes other products, the last bottle is filled in part: both were counted to the gram.
    """
    bottle = product.cook.bottle_g
    if bottle is None or grams < _NOTHING_G:
        return 0.0
    spare = math.ceil(grams / bottle - 1e-9) * bottle - grams
    return spare if grams + spare <= cooks * product.cook.most_g + _NOTHING_G else 0.0


def _told(problem: LotsProblem, program: Program, values: Floats, bound: float, gap: float, seconds: float) -> LotsPlan:
    """A plan read off the variables of its program."""
    names = program.columns
    cooks: list[CookOut] = []
    money = {"cooks": 0.0, "ingredients": 0.0, "holding": 0.0, "short": 0.0, "waste": 0.0, "kept": 0.0}
    for each in problem.products:
        for day in range(len(problem.days)):
            many = round(float(values[names.cooks[each.id, day]]))
            used = {use: float(values[place]) for (id, made, use), place in names.used.items() if id == each.id and made == day}
            kept = sum(float(values[place]) for (id, made, _), place in names.kept.items() if id == each.id and made == day)
            waste = float(values[names.waste[each.id, day]])
            grams = sum(used.values()) + kept + waste
            spare = 0.0 if problem.chill_l is not None or each.parts else _to_whole_bottles(each, grams, many)
            waste, grams = waste + spare, grams + spare
            if not many and grams < _NOTHING_G:
                continue
            cooks.append(CookOut(
                product=each.id, day=day, cooks=many, grams=round(grams, 3), kept_g=round(kept, 3), waste_g=round(waste, 3),
                used=[UsedOut(day=use, grams=round(of, 3)) for use, of in sorted(used.items()) if of > _NOTHING_G],
            ))  # fmt: skip
            money["cooks"] += many * (each.cook.money + problem.days[day].more)
            money["holding"] += each.hold_g * (sum(of * (use - day) for use, of in used.items()) + kept * (len(problem.days) - day))
            money["ingredients"] += grams * each.cook.money_g
            money["waste"] += waste * each.waste_g
            money["kept"] += kept * KEPT_WORTH * value_g(each)
    by_id = {each.id: each for each in problem.products}
    from_stock = []
    for number, stock in enumerate(problem.stock):
        used = {use: float(values[place]) for (of, use), place in names.stock_used.items() if of == number}
        kept = sum(float(values[place]) for (of, _), place in names.stock_kept.items() if of == number)
        waste = float(values[names.stock_waste[number]])
        from_stock.append(FromStockOut(
            stock=number, kept_g=round(kept, 3), waste_g=round(waste, 3),
            used=[UsedOut(day=use, grams=round(of, 3)) for use, of in sorted(used.items()) if of > _NOTHING_G],
        ))  # fmt: skip
        hold = by_id[stock.product].hold_g
        money["holding"] += hold * (sum(of * use for use, of in used.items()) + kept * len(problem.days))
        money["kept"] += kept * KEPT_WORTH * value_g(by_id[stock.product])
    short = []
    for (id, day), place in sorted(names.short.items(), key=lambda each: (each[0][1], each[0][0])):
        grams = float(values[place])
        if grams > _NOTHING_G:
            short.append(ShortOut(product=id, day=day, grams=round(grams, 3)))
            money["short"] += grams * by_id[id].short_g
    whole = MoneyOut(**{name: round(of, 6) for name, of in money.items()})
    cost = whole.whole
    missed = max(cost - bound, 0.0) / max(abs(cost), 1e-9) if math.isfinite(bound) else 1.0
    return LotsPlan(
        status="optimal" if missed <= gap else "feasible", cost=round(cost, 6), bound=round(bound, 6) if math.isfinite(bound) else -1e18,
        gap=round(missed, 6), money=whole, cooks=cooks, from_stock=from_stock, short=short, seconds=round(seconds, 3),
    )  # fmt: skip
