"""What draws at random: it is handed in, since the core makes no randomness of its own. NumPy's generators do."""

from __future__ import annotations

from typing import Any, Protocol


class Randomness(Protocol):
    """Draws arrays of figures."""

    def gamma(self, shape: Any, scale: Any = 1.0, size: Any = None) -> Any:
        """Of a gamma distribution."""

    def negative_binomial(self, n: Any, p: Any, size: Any = None) -> Any:
        """Of a negative binomial one: how often none came before the nth that did."""
