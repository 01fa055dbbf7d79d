"""The two fits of uncensored breaks, on logarithms: each set by itself, or sets and boards together."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from adhaero.core.errors import DataError


@dataclass(frozen=True)
class OverallTest:
    """Is there any difference between the sets at all?"""

    method: str
    statistic: float
    df: tuple[float, float]
    p: float


@dataclass(frozen=True)
class BlockedFit:
    """Block + treatment on logs.

    Attributes
    ----------
    effects : adjusted mean of each level less that of the first, in the order of the levels.
    covariance : of the effects over σ², the first level's row and column zero.
    sigma : residual standard deviation; df : its degrees of freedom.
    overall : the test of treatment adjusted for block; None with one level.
    """

    effects: NDArray[np.float64]
    covariance: NDArray[np.float64]
    sigma: float
    df: int
    overall: OverallTest | None

    def contrast(self, a: int, b: int) -> tuple[float, float]:
        """Return the difference of two levels on logs and its standard error."""
        scale = self.covariance[a, a] + self.covariance[b, b] - 2 * self.covariance[a, b]
        return float(self.effects[a] - self.effects[b]), self.sigma * float(np.sqrt(max(0.0, scale)))


def compute_welch(logs: Sequence[NDArray[np.float64]]) -> OverallTest | None:
    """Return Welch's one-way test of the groups that have a variance; None with fewer than two of them.

    Parameters
    ----------
    logs : logarithms of each group, any lengths.

    Notes
    -----
    Welch, B. L. (1951), On the comparison of several mean values, Biometrika 38, eq. 20 and 21.
    """
    usable = [group for group in logs if group.size > 1 and float(np.ptp(group)) > 0]
    k = len(usable)
    if k < 2:
        return None
    n = np.array([group.size for group in usable], dtype=float)
    means = np.array([group.mean() for group in usable])
    weights = n / np.array([group.var(ddof=1) for group in usable])
    centre = (weights @ means) / weights.sum()
    lack = ((1 - weights / weights.sum()) ** 2 / (n - 1)).sum()
    between = (weights @ (means - centre) ** 2) / (k - 1)
    statistic = between / (1 + 2 * (k - 2) / (k**2 - 1) * lack)
    df = (k**2 - 1) / (3 * lack)
    return OverallTest(
        "welch-anova", float(statistic), (float(k - 1), float(df)), float(stats.f.sf(statistic, k - 1, df))
    )


def fit_blocked(
    logs: NDArray[np.float64], treatment: NDArray[np.intp], block: NDArray[np.intp], levels: Sequence[str]
) -> BlockedFit:
    """Fit block and treatment effects to logs by least squares, cells missing or doubled as they are.

    Parameters
    ----------
    logs : (n,) logarithms; treatment, block : (n,) whole numbers from 0; levels : names of the treatments.

    Raises
    ------
    DataError : two treatments never meet on a board, directly or through others, or nothing is left to judge the
        scatter by.
    """
    blocks = np.eye(int(block.max()) + 1)[block]
    treatments = np.eye(len(levels))[treatment][:, 1:]
    design = np.hstack([blocks, treatments])
    rank = int(np.linalg.matrix_rank(design))
    if rank < design.shape[1]:
        raise DataError(
            "The boards do not connect the sets: some sets never share a board, directly or through others.",
            "Comparing within boards needs sets that meet on boards.",
            "Compare without boards, or break pieces of both sets from one board.",
            field="block",
        )
    df = logs.size - rank
    if df < 1:
        raise DataError(
            f"{logs.size} pieces are too few to compare {len(levels)} sets within {blocks.shape[1]} boards.",
            "At least one piece more than boards and sets together is needed.",
            "Break more pieces, or compare without boards.",
            field="block",
        )
    coefficients, residual_ss = _least_squares(design, logs)
    sigma2 = residual_ss / df
    inverse = np.linalg.inv(design.T @ design)[blocks.shape[1] :, blocks.shape[1] :]
    covariance = np.zeros((len(levels), len(levels)))
    covariance[1:, 1:] = inverse
    overall = None
    if len(levels) > 1 and sigma2 > 0:
        extra = (_least_squares(blocks, logs)[1] - residual_ss) / (len(levels) - 1)
        statistic = extra / sigma2
        p = float(stats.f.sf(statistic, len(levels) - 1, df))
        overall = OverallTest("blocked-anova", float(statistic), (float(len(levels) - 1), float(df)), p)
    effects = np.concatenate([[0.0], coefficients[blocks.shape[1] :]])
    return BlockedFit(effects, covariance, float(np.sqrt(sigma2)), int(df), overall)


def _least_squares(design: NDArray[np.float64], logs: NDArray[np.float64]) -> tuple[NDArray[np.float64], float]:
    coefficients: NDArray[np.float64] = np.linalg.lstsq(design, logs, rcond=None)[0].astype(np.float64)
    return coefficients, float(((logs - design @ coefficients) ** 2).sum())
