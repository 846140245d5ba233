"""How a count scatters around its mean: negative binomial, variance μ + αμ²."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats

#: No spread is smaller, so that every scatter has a shape; 1e-6 is Poisson's to six digits.
LEAST_ALPHA = 1e-6
#: Nor larger: what scatters more says nothing.
MOST_ALPHA = 4.0


@dataclass(frozen=True)
class Counts:
    """Means and spreads (H,) of counts to come. A mean of 0 is surely 0."""

    mean: Floats
    alpha: Floats

    @property
    def variance(self) -> Floats:
        """(H,) of each count."""
        return self.mean + self.alpha * self.mean**2

    def quantile(self, share: float) -> Floats:
        """(H,) the least count that is not passed with a chance of ``share`` (0 to 1)."""
        from scipy.stats import nbinom

        size = 1.0 / self.alpha
        chance = size / (size + np.maximum(self.mean, 1e-12))
        return np.where(self.mean > 0, nbinom.ppf(share, size, chance), 0.0)

    def at_most(self, count: Floats) -> Floats:
        """(H,) the chance that a count is at most ``count``."""
        from scipy.stats import nbinom

        size = 1.0 / self.alpha
        chance = size / (size + np.maximum(self.mean, 1e-12))
        return np.where(self.mean > 0, nbinom.cdf(count, size, chance), np.where(count >= 0, 1.0, 0.0))

    def band(self, share: float = 0.8) -> tuple[Floats, Floats]:
        """(low, high), each (H,): the whole numbers near both tails that hold nearest to ``share`` of what may come.

        Of small counts no two whole numbers hold exactly 80 %; of the four pairs around the tails the nearest is taken,
        where two are equally near the wider.
        """
        tail = (1.0 - share) / 2.0
        low, high = self.quantile(tail), self.quantile(1.0 - tail)
        best_low, best_high = low, high
        best = np.full(low.shape, np.inf)
        for more, less in ((0, 0), (1, 0), (0, 1), (1, 1)):
            lower, upper = low + more, high - less
            held = self.at_most(upper) - self.at_most(lower - 1.0)
            miss = np.where(upper >= lower, np.abs(held - share), np.inf)
            nearer = miss < best - 1e-12
            best = np.where(nearer, miss, best)
            best_low, best_high = np.where(nearer, lower, best_low), np.where(nearer, upper, best_high)
        return best_low, best_high


def alpha_of(counts: Floats, means: Floats, weights: Floats, used: float) -> float:
    """The spread α for which weighted squares of residuals are what they should be, by bisection.

    Parameters: counts and their fitted means (N,), weights (N,), and how many parameters the fit used (in units of days).
    Solves Σ w (y−μ)²/(μ+αμ²) = Σw · (1 − used/Σw) (Pearson's statistic over its degrees of freedom); 0 spread where even
    Poisson's scatter is more than there is. Source: Breslow 1984, moment estimate of extra-Poisson variation.
    """
    total = float(weights.sum())
    free = max(total - used, 0.2 * total)
    squares = weights * (counts - means) ** 2

    def excess(alpha: float) -> float:
        return float(np.sum(squares / (means + alpha * means**2))) - free

    if total <= 0 or excess(LEAST_ALPHA) <= 0:
        return LEAST_ALPHA
    if excess(MOST_ALPHA) >= 0:
        return MOST_ALPHA
    low, high = LEAST_ALPHA, MOST_ALPHA
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if excess(middle) > 0 else (low, middle)
    return 0.5 * (low + high)
