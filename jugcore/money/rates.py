"""What a site pays besides ingredients, and how much of what it makes is poured away."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import Field

from jugcore.fields import Id, Part

#: More than this is not taken for what will be poured away next time, however much was: what is left would cost without end.
_MOST_WASTE = 0.9


class Rates(Part):
    """What a site pays, in its currency: None where nobody said.

    ``waste`` is by formula, of what has left its containers by the log, the share that was poured away.
    """

    energy_kwh: float | None = Field(None, ge=0, le=1_000_000)
    wage_h: float | None = Field(None, ge=0, le=1_000_000)
    container: float | None = Field(None, ge=0, le=1_000_000)
    label: float | None = Field(None, ge=0, le=1_000_000)
    least_margin: float | None = Field(None, ge=0, lt=100, description="What should be left of a drink's price [%].")
    waste: dict[Id, float] = Field({}, max_length=10_000)

    def made_for_one(self, through: Iterable[str]) -> float:
        """How much is made of something for each gram of it that is served, having come through some formulas: 1 / Π (1 − share poured away)."""
        much = 1.0
        for formula in through:
            much /= 1.0 - min(self.waste.get(formula, 0.0), _MOST_WASTE)
        return much
