"""From a cup to everything that stands in it: products, what these are made of here, what is bought."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from jugcore.errors import BadDocument

#: Products within products; deeper is a circle.
_DEEPEST = 12


@dataclass(frozen=True)
class Recipe:
    """A gram of a product: grams of other products and of what is bought, each by id."""

    products: Mapping[str, float]
    bought: Mapping[str, float]


def grams_in(product: str, recipes: Mapping[str, Recipe]) -> dict[str, float]:
    """Grams of every product that a gram of one takes to make, itself as 1, through any depth.

    Sweet cream of which 225 g/kg are syrup, in a foam of which 958 g/kg are sweet cream: a gram of foam takes 1 of foam, 0.958 of sweet
    cream, 0.216 of syrup. Raises BadDocument where a product stands in itself.
    """
    found: dict[str, float] = {}

    def add(id: str, grams: float, way: tuple[str, ...]) -> None:
        if id in way or len(way) > _DEEPEST:
            raise BadDocument("products", "A product stands in itself.", "Take it out where it stands.")
        found[id] = found.get(id, 0.0) + grams
        for inner, share in recipes[id].products.items() if id in recipes else ():
            add(inner, grams * share, (*way, id))

    add(product, 1.0, ())
    return found


def depth(product: str, recipes: Mapping[str, Recipe]) -> int:
    """How many products deep one is: 0 where nothing of ours goes in, else one more than the deepest of what does."""
    inner = recipes[product].products if product in recipes else {}
    return 1 + max(depth(id, recipes) for id in inner) if inner else 0
