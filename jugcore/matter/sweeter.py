"""Syrups whose sweetness is published as a whole: by how much it is more than their sugars' added up."""

from __future__ import annotations

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.substance import Sweetness
from jugcore.physics.sweetness import LEAST, MOST, USUAL


def sweeter_than_its_sugars(stated: Sweetness, fraction: Floats) -> tuple[float, float, float]:
    """Grams of sucrose a gram of a substance is sweeter (less sweet below 0) than the sum of its sugars: least, usual, most.

    ``fraction`` is its composition (C,) as shares of 1.

    Formula: published range × share it is stated of − Σ mᵢ·sᵢ. Source: ``data/substances``, row by row. Accuracy: the range.
    """
    share = 1.0 - float(fraction[c.WATER]) if stated.of_dry else 1.0
    ends = zip((stated.low, stated.likely, stated.high), (LEAST, USUAL, MOST), strict=True)
    least, usual, most = (share * value - float(fraction @ sums) for value, sums in ends)
    return least, usual, most
