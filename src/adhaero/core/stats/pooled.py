"""The scatter within groups of breaks, pooled: what a plan of the same kind may expect."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log, sqrt
from typing import Final

FEWEST: Final = 10
FEWEST_DF: Final = 5


@dataclass(frozen=True)
class PooledScatter:
    """A coefficient of variation in percent, and from how many pieces it is known."""

    cv_pct: float
    pieces: int


def pool_scatter(groups: Sequence[Sequence[float]]) -> PooledScatter | None:
    """Return the scatter within groups of strengths above 0; None below ten pieces or five degrees of freedom.

    The pooled standard deviation σ of logarithms, as a coefficient of variation √(exp(σ²) − 1) of a lognormal law.
    """
    used = [[log(one) for one in group] for group in groups if len(group) > 1]
    df = sum(len(group) - 1 for group in used)
    pieces = sum(len(group) for group in used)
    if pieces < FEWEST or df < FEWEST_DF:
        return None
    squares = sum(sum((value - sum(group) / len(group)) ** 2 for value in group) for group in used)
    return PooledScatter(100 * sqrt(exp(squares / df) - 1), pieces)
