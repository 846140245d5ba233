"""What the making of what was made here costs, where it goes into something else: energy, hands, bottles, and what of it is poured away."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats
from jugcore.matter.substance import Work
from jugcore.method.walk import Walk
from jugcore.money.rates import Rates
from jugcore.reading.carried import carried
from jugcore.reading.work import lines_made_here

NO_TARIFF = "What a kilowatt-hour costs is not entered."
NO_WAGE = "What an hour of work costs is not entered."
NO_BOTTLE = "What a bottle costs is not entered."
NO_LABEL = "What a label costs is not entered."


@dataclass(frozen=True)
class Making:
    """What it costs (K, 3), least, likely, most, in a site's currency: the work, and what is poured away; what is not in it is in ``missing``."""

    work: Floats
    wasted: Floats
    missing: tuple[str, ...]

    @property
    def total(self) -> Floats:
        """Both together (K, 3)."""
        return np.asarray(self.work + self.wasted)


def making_of(walk: Walk, rates: Rates) -> Making:
    """What the making of a walk's lines costs that are formulas of ours, through any depth.

    Formula: Σ grams of each line × (kWh × tariff + hours × wage + bottles × (bottle + label)) of each formula that stands in it; and of
    that and of its ingredients as much more as was poured away on the way (:meth:`Rates.made_for_one`). Everything that goes in counts,
    in the product or kept back. Range: what a walk holds. Source: the site's prices and its log; times as the walks of those formulas
    state them. What nobody entered is told in ``missing``, and not counted as nothing.
    """
    work, wasted = np.zeros((walk.cases, 3)), np.zeros((walk.cases, 3))
    missing: list[str] = []
    for line, known in lines_made_here(walk):
        grams = walk.end.lines[line]
        if known is None:
            made = walk.method.substances[walk.method.lines[line].substance].made
            assert made is not None
            missing.append(
                f"What making {made.version.name} takes was not written down with version {made.version.version}: save a new version of it."
            )
            continue
        for each in known:
            cost = grams[:, None] * at_rates(each, rates)
            missing += _missing(each, rates)
            work = work + cost
            wasted = wasted + cost * (rates.made_for_one(each.through) - 1.0)
    for _, grams_in, price, through in ingredients(walk):
        if through:
            wasted = wasted + (grams_in * price * (rates.made_for_one(through) - 1.0))[:, None]
    return Making(work, wasted, tuple(dict.fromkeys(missing)))


def ingredients(walk: Walk) -> Iterator[tuple[str, Floats, float, tuple[str, ...]]]:
    """Title, grams (K,) and price a gram of everything bought that goes in, and the formulas it came through; what has no price is left out."""
    behind: dict[str, Floats] = {}
    for lines in carried(walk).values():
        for line, grams in lines.items():
            behind[line] = behind[line] + grams if line in behind else grams
    for line, content in walk.method.all_contents:
        if line in behind and content.book.price_per_kg is not None:
            yield content.book.title, behind[line] * content.grams_per_g, content.book.price_per_kg / 1e3, content.through


def at_rates(work: Work, rates: Rates) -> Floats:
    """What the work of a gram costs (3,); what nobody entered counts nothing here."""
    kwh, hours = np.array(work.kwh_per_g), np.array(work.hands_s_per_g) / 3600.0
    bottles = work.containers_per_g * ((rates.container or 0.0) + (rates.label or 0.0))
    return np.asarray(kwh * (rates.energy_kwh or 0.0) + hours * (rates.wage_h or 0.0) + bottles)


def _missing(work: Work, rates: Rates) -> Iterator[str]:
    if work.kwh_per_g[1] > 0 and rates.energy_kwh is None:
        yield NO_TARIFF
    if work.hands_s_per_g[1] > 0 and rates.wage_h is None:
        yield NO_WAGE
    if work.containers_per_g > 0:
        yield from (words for price, words in ((rates.container, NO_BOTTLE), (rates.label, NO_LABEL)) if price is None)
