"""How what there is goes into containers of one size: so many full, and the rest in one more."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jugcore.figures import shown

#: Less than this share of a container is a drip and no filling (common practice, no source).
_LEAST_SHARE = 0.02
_PLACES = ("", "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")


@dataclass(frozen=True)
class Containers:
    """Full containers of ``size_ml`` with ``each_g`` in each, and what is left for one more: ``last_g``, ``last_ml``; 0 where nothing is."""

    full: int
    size_ml: float
    each_g: float
    last_g: float
    last_ml: float

    @property
    def count(self) -> int:
        """All that are wanted, the part-filled one too."""
        return self.full + (1 if self.last_g > 0 else 0)

    @property
    def words(self) -> str:
        """“2 × 500 ml and 240 ml in a third”, “240 ml in one of 1,000 ml”."""
        return self._said(f"{shown(self.size_ml)} ml", _rounded(self.last_ml, "ml") or _rounded(self.last_g, "g"))

    @property
    def by_weight(self) -> str:
        """The same in grams: “2 × 634 g and 106 g in a third”."""
        return self._said(_rounded(self.each_g, "g"), _rounded(self.last_g, "g"))

    def _said(self, whole: str, rest: str) -> str:
        if self.full == 0:
            return f"{rest} in one of {shown(self.size_ml)} ml" if self.last_g > 0 else f"nothing for one of {shown(self.size_ml)} ml"
        if self.last_g <= 0:
            return f"{self.full} × {whole}"
        place = f"a {_PLACES[self.full + 1]}" if self.full + 1 < len(_PLACES) else "one more"
        return f"{self.full} × {whole} and {rest} in {place}"


def _rounded(value: float, unit: str) -> str:
    return f"{shown(round(value))} {unit}" if math.isfinite(value) else ""


def into_containers(grams: float, each_g: float, size_ml: float) -> Containers:
    """Grams into containers that hold ``each_g`` at what they are filled to. Formula: whole ones that fit, and what is over in one more."""
    if not (math.isfinite(each_g) and each_g > 0 and grams > 0):
        return Containers(0, size_ml, each_g, max(grams, 0.0), float("nan"))
    full = math.floor(grams / each_g + 1e-6)
    last = max(grams - full * each_g, 0.0)
    if last < _LEAST_SHARE * each_g:
        last = 0.0
    return Containers(full, size_ml, each_g, last, last / each_g * size_ml)
