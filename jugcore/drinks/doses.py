"""What a dose of a product weighs in what is served."""

from __future__ import annotations

from collections.abc import Hashable, Iterable
from statistics import median
from typing import TypeVar

_Product = TypeVar("_Product", bound=Hashable)


def doses_by_product(in_cups: Iterable[tuple[_Product, Iterable[float]]]) -> dict[_Product, tuple[float, float, float]]:
    """Grams of a dose by product: least, in the middle, most, over every size of every drink it goes into.

    Parameters: products, each with the grams of it in the sizes of a drink; a size without it says nothing.
    """
    found: dict[_Product, list[float]] = {}
    for product, grams in in_cups:
        found.setdefault(product, []).extend(each for each in grams if each > 0)
    return {product: (min(each), median(each), max(each)) for product, each in found.items() if each}
