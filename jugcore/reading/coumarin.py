"""Coumarin of cassia and tonka in a serving: a range, since barks differ and a sieve leaves some of it behind."""

from __future__ import annotations

from dataclasses import dataclass

from jugcore.method.walk import Walk

#: mg in a gram of it, least and most. Cassia 2 to 7, tonka 10 to 40; true cinnamon next to none: food-authority surveys, from memory.
MG_G: dict[str, tuple[float, float]] = {
    "cassia": (2.0, 7.0), "whole_cassia": (2.0, 7.0), "tonka_bean": (10.0, 40.0),
}  # fmt: skip
#: A serving of syrup in a drink of 240 ml (common practice, no source). [g]
SERVING_G = 20.0
#: EFSA 2008: a tolerable daily intake of 0.1 mg a kilogram of body weight; of 60 kg. [mg]
DAY_MG = 6.0
#: Less than this of a day is not worth a line, share.
_LEAST_SHARE = 0.05


@dataclass(frozen=True)
class Coumarin:
    """Milligrams in a serving: the least and the most; which ingredients bring it."""

    low_mg: float
    high_mg: float
    of: tuple[str, ...]

    @property
    def words(self) -> str:
        """“0.8 to 2.8 mg of coumarin in 20 g, from cassia: EFSA names 6 mg a day for 60 kg.”"""
        share = f"{100 * self.high_mg / DAY_MG:.0f} % of the" if self.high_mg < DAY_MG else "more than the"
        names = " and ".join(self.of)
        return (
            f"A serving of {SERVING_G:.0f} g may hold {self.low_mg:.1f} to {self.high_mg:.1f} mg of coumarin, from {names}: up to {share} "
            f"{DAY_MG:.0f} mg a day that EFSA names for 60 kg. The softer bark has next to none; local codes may limit it."
        )


def coumarin(walk: Walk) -> Coumarin | None:
    """Coumarin of a serving of the first case's product; None where that is next to none.

    Formula: Σ grams × mg a gram ÷ product × serving; the least counts none of what a sieve may keep.
    Range: any. Source: food-authority surveys of barks, EFSA 2008, from memory. Accuracy: the range; weigh and ask a laboratory to know.
    """
    total = float(walk.product.total_g[0])
    found = [
        (
            each.where.lower() if each.within else walk.method.short_titles[id],
            float(walk.end.lines[id][0]) * each.grams_per_g * MG_G[each.substance][0],
            float(walk.end.lines[id][0]) * each.grams_per_g * MG_G[each.substance][1],
        )
        for id in walk.method.lines
        if id in walk.product.touched
        for each in walk.method.contents_of(id)
        if each.substance in MG_G
    ]
    # Nobody takes a serving of a dry blend.
    if not found or not total > 0 or not walk.product.is_liquid[0]:
        return None
    strained = any(step.kind in ("strain", "press") for step in walk.stages)
    high = sum(most for *_, most in found) * SERVING_G / total
    low = 0.0 if strained else sum(least for _, least, _ in found) * SERVING_G / total
    if high < _LEAST_SHARE * DAY_MG:
        return None
    return Coumarin(low, high, tuple(name for name, _, most in found if most > 0.1 * sum(m for *_, m in found)))
