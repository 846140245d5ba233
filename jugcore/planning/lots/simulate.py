"""Many weeks drawn from the forecast, lived through by a policy: what runs out, what is thrown away, what it costs.

Each morning what is past its day is thrown away; then what the policy says is made, parts before what they go into, as far as hands,
burners and pots have room; then the day's drinks take what is good, first what expires first.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.lots.model import KEPT_WORTH, value_g
from jugcore.planning.lots.policies import Policy
from jugcore.planning.lots.problem import LotsProblem, ProductDoc

#: Less than this short on a day is none. [g]
_SHORT_G = 1.0


@dataclass(frozen=True)
class Lived:
    """What became of the weeks (K,): money, cooks, and by product grams made, short, thrown away, and good still at the end and needed then."""

    money: Floats
    cooks: Floats
    made_g: Mapping[str, Floats]
    short_g: Mapping[str, Floats]
    waste_g: Mapping[str, Floats]
    kept_g: Mapping[str, Floats]
    #: By product, (T,): what is made on average, what stands once it is, and in the evening.
    batch_g: Mapping[str, Floats]
    morning_g: Mapping[str, Floats]
    evening_g: Mapping[str, Floats]

    def runs_out(self, product: str) -> float:
        """The chance that a product runs out on any day."""
        return float(np.mean(self.short_g[product] > _SHORT_G))

    def one_runs_out(self) -> float:
        """The chance that a product runs out in a week, the mean over products."""
        return float(np.mean([np.mean(short > _SHORT_G) for short in self.short_g.values()])) if self.short_g else 0.0

    def anything_runs_out(self) -> float:
        """The chance that any product does."""
        return float(np.mean(np.any([short > _SHORT_G for short in self.short_g.values()], axis=0))) if self.short_g else 0.0


class _Shelf:
    """What stands of a product in every week, by the days it is good: the first, the last, grams (K,)."""

    def __init__(self, weeks: int) -> None:
        self.weeks = weeks
        self.lots: list[tuple[int, int, Floats]] = []

    def put(self, first: int, last: int, grams: Floats) -> None:
        self.lots.append((first, last, grams))
        self.lots.sort(key=lambda lot: lot[1])

    def usable(self, day: int) -> Floats:
        return sum((grams for first, last, grams in self.lots if first <= day <= last), np.zeros(self.weeks))

    def coming(self, day: int) -> Floats:
        """What is good on a day or will be."""
        return sum((grams for first, last, grams in self.lots if last >= day), np.zeros(self.weeks))

    def take(self, day: int, wanted: Floats) -> Floats:
        """Grams taken of what is wanted, first what expires first."""
        left = wanted.copy()
        for n, (first, last, grams) in enumerate(self.lots):
            if first <= day <= last:
                out = np.minimum(grams, left)
                self.lots[n] = first, last, grams - out
                left = left - out
        taken: Floats = wanted - left
        return taken

    def expire(self, day: int) -> Floats:
        """Grams thrown away in the morning of a day."""
        gone = sum((grams for _, last, grams in self.lots if last < day), np.zeros(self.weeks))
        self.lots = [lot for lot in self.lots if lot[1] >= day]
        return gone


def live(problem: LotsProblem, policy: Policy, draws: Mapping[str, Floats]) -> Lived:
    """Weeks lived through by a policy. ``draws`` (K, T) is what each product's drinks turn out to need by day [g].

    What is good after the last day is worth what the plan says it is, as far as the days after need it.
    """
    weeks = len(next(iter(draws.values())))
    order = problem.in_order()
    shelves = {each.id: _Shelf(weeks) for each in order}
    for stock in problem.stock:
        shelves[stock.product].put(stock.first_day, stock.last_day, np.full(weeks, stock.grams))
    money, cooks = np.zeros(weeks), np.zeros(weeks)
    short = {each.id: np.zeros(weeks) for each in order}
    waste = {each.id: np.zeros(weeks) for each in order}
    made = {each.id: np.zeros(weeks) for each in order}
    kept = {each.id: np.zeros(weeks) for each in order}
    batch = {each.id: np.zeros(len(problem.days)) for each in order}
    morning = {each.id: np.zeros(len(problem.days)) for each in order}
    evening = {each.id: np.zeros(len(problem.days)) for each in order}
    for day, room in enumerate(problem.days):
        for each in order:
            gone = shelves[each.id].expire(day)
            waste[each.id] += gone
            money += gone * each.waste_g
        hands = np.full(weeks, np.inf if room.hands_min is None else room.hands_min)
        burner = np.full(weeks, np.inf if room.burner_min is None else room.burner_min)
        for each in order:
            said = policy.levels.get((each.id, day))
            if said is None or room.closed:
                continue
            many, grams = _made(each, said, policy.waits, shelves, day, hands, burner)
            hands, burner = hands - many * each.cook.hands_min, burner - many * each.cook.burner_min
            money += many * (each.cook.money + room.more) + grams * each.cook.money_g
            cooks += many
            made[each.id] += grams
            batch[each.id][day] = float(grams.mean())
            for inner, share in each.parts.items():
                shelves[inner].take(day, share * grams)
            shelves[each.id].put(day + each.ready_days, day + each.life_days - 1, grams)
        for each in order:
            morning[each.id][day] = float(shelves[each.id].coming(day).mean())
            lacks = draws[each.id][:, day] - shelves[each.id].take(day, draws[each.id][:, day])
            short[each.id] += lacks
            money += lacks * each.short_g
            evening[each.id][day] = float(shelves[each.id].coming(day).mean())
    for each in order:
        left = shelves[each.id]
        for late, wants in enumerate(each.beyond_g):
            kept[each.id] += left.take(len(problem.days) + late, np.full(weeks, wants))
        money -= KEPT_WORTH * value_g(each) * kept[each.id]
        rest = sum((grams for _, _, grams in left.lots), np.zeros(weeks))
        waste[each.id] += rest
        money += rest * each.waste_g
    return Lived(money, cooks, made, short, waste, kept, batch, morning, evening)


def _made(
    product: ProductDoc, said: tuple[float, int], waits: float, shelves: Mapping[str, _Shelf], day: int, hands: Floats, burner: Floats
) -> tuple[Floats, Floats]:  # fmt: skip
    """(cooks, grams), each (K,): what lacks to the level, as far as cooks, parts, hands and burners go; none where less than a cook is worth."""
    level, most_cooks = said
    lacks = np.maximum(level - shelves[product.id].coming(day), 0.0)
    cook = product.cook
    for inner, share in product.parts.items():
        if share > 0:
            lacks = np.minimum(lacks, shelves[inner].usable(day) / share)
    lacks = np.where(lacks < waits * cook.least_g, 0.0, np.maximum(lacks, cook.least_g * (lacks > 0)))
    many = np.minimum(np.ceil(lacks / cook.most_g - 1e-9), float(most_cooks))
    if cook.hands_min > 0:
        many = np.minimum(many, np.floor(np.maximum(hands, 0.0) / cook.hands_min + 1e-9))
    if cook.burner_min > 0:
        many = np.minimum(many, np.floor(np.maximum(burner, 0.0) / cook.burner_min + 1e-9))
    grams = np.minimum(lacks, many * cook.most_g)
    for inner, share in product.parts.items():
        if share > 0:
            grams = np.minimum(grams, shelves[inner].usable(day) / share)
    return np.where(grams > 0, many, 0.0), grams
