"""Sets of pieces that passed or failed, compared: shares, their bounds, and every pair."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from math import ceil, inf, log

import numpy as np
from numpy.typing import NDArray
from scipy import special

from adhaero.core.errors import DataError
from adhaero.core.stats.laws import find_beta, find_normal
from adhaero.core.stats.scatter import Floats

Counts = NDArray[np.intp]

_TWO_SIDED, _ONE_SIDED = 0.975, 0.95
_GRID = 2001
_ZOOMS = 3
_FEW = 5


@dataclass(frozen=True)
class ShareOf:
    """How many of n pieces passed.

    Attributes
    ----------
    ci95 : two-sided, at_least, at_most : one-sided 95 % bounds of Clopper and Pearson (Biometrika 26, 1934).
    """

    n: int
    passed: int
    share: float
    ci95: tuple[float, float]
    at_least: float
    at_most: float


@dataclass(frozen=True)
class PassGroup(ShareOf):
    """One set, and the same by the values of `over`."""

    level: str
    over: Mapping[str, ShareOf]


@dataclass(frozen=True)
class PassPair:
    """Two sets: the difference of their shares (Newcombe's interval), and the chance (Boschloo), made Holm's."""

    a: str
    b: str
    difference: float
    difference_ci95: tuple[float, float]
    p: float
    p_adjusted: float


@dataclass(frozen=True)
class PassComparison:
    """Sets of pieces that passed or failed; `pieces_needed` : so many, all passing, claim the wanted share."""

    groups: tuple[PassGroup, ...]
    pairs: tuple[PassPair, ...]
    pieces_needed: int | None
    warnings: tuple[str, ...]


def find_share(passed: int, n: int) -> ShareOf:
    """Return the share that passed, with its bounds; `n` is 1 or more."""

    def low(sure: float) -> float:
        return find_beta(1 - sure, passed, n - passed + 1) if passed else 0.0

    def high(sure: float) -> float:
        return find_beta(sure, passed + 1, n - passed) if passed < n else 1.0

    return ShareOf(n, passed, passed / n, (low(_TWO_SIDED), high(_TWO_SIDED)), low(_ONE_SIDED), high(_ONE_SIDED))


def count_needed(share: float) -> int:
    """Return the fewest pieces of which all must pass for a one-sided 95 % bound of at least `share` (0 to 1)."""
    n = max(1, ceil(log(1 - _ONE_SIDED) / log(share) - 1e-9))
    while n > 1 and find_share(n - 1, n - 1).at_least >= share:
        n -= 1
    while find_share(n, n).at_least < share:
        n += 1
    return n


def compare_passes(
    pieces: Sequence[tuple[str, str | None, bool]], levels: Sequence[str], share_pct: float | None = None
) -> PassComparison:
    """Compare sets by the share of their pieces that passed.

    Parameters
    ----------
    pieces : set, value to count by under it, whether it passed; those that count. levels : the sets in order.
    share_pct : the share to be claimed, percent.

    Raises
    ------
    DataError : a set without a piece that counts.
    """
    groups = []
    for level in levels:
        mine = [(over, passed) for name, over, passed in pieces if name == level]
        if not mine:
            raise DataError(f"No usable piece in {level}.", "Each set needs at least one piece that counts.")
        values = list(dict.fromkeys(over for over, _ in mine if over is not None))
        over = {value: _share_of([passed for at, passed in mine if at == value]) for value in values}
        whole = _share_of([passed for _, passed in mine])
        groups.append(PassGroup(**vars(whole), level=level, over=over))
    few = [f"{one.level} ({one.n})" for one in groups if one.n < _FEW]
    return PassComparison(
        tuple(groups),
        _compare(groups),
        None if share_pct is None else count_needed(share_pct / 100),
        (f"Fewer than {_FEW} pieces in {', '.join(few)}: little can be said of such a set.",) if few else (),
    )


def _share_of(passed: Sequence[bool]) -> ShareOf:
    return find_share(sum(passed), len(passed))


def _compare(groups: Sequence[PassGroup]) -> tuple[PassPair, ...]:
    found = [
        PassPair(a.level, b.level, a.share - b.share, _newcombe(a, b), p := find_boschloo(a, b), p)
        for a, b in combinations(groups, 2)
    ]
    order = sorted(range(len(found)), key=lambda at: found[at].p)
    adjusted, least = [0.0] * len(found), 0.0
    for rank, at in enumerate(order):
        least = min(1.0, max(least, found[at].p * (len(found) - rank)))
        adjusted[at] = least
    return tuple(
        PassPair(one.a, one.b, one.difference, one.difference_ci95, one.p, p)
        for one, p in zip(found, adjusted, strict=True)
    )


def _newcombe(a: ShareOf, b: ShareOf) -> tuple[float, float]:
    """Return the interval of a difference of shares (Newcombe, Statistics in Medicine 17, 1998, method 10)."""
    (low_a, high_a), (low_b, high_b) = _wilson(a), _wilson(b)
    shift = a.share - b.share
    down = ((a.share - low_a) ** 2 + (high_b - b.share) ** 2) ** 0.5
    up = ((high_a - a.share) ** 2 + (b.share - low_b) ** 2) ** 0.5
    return shift - down, shift + up


def _wilson(one: ShareOf) -> tuple[float, float]:
    z2, n, p = find_normal(_TWO_SIDED) ** 2, one.n, one.share
    middle = (p + z2 / (2 * n)) / (1 + z2 / n)
    far = (z2 * (p * (1 - p) / n + z2 / (4 * n**2))) ** 0.5 / (1 + z2 / n)
    return max(0.0, middle - far), min(1.0, middle + far)


def find_boschloo(a: ShareOf, b: ShareOf) -> float:
    """Return the two-sided p of two shares by Boschloo's exact test: twice the smaller one-sided one, at most 1.

    Boschloo (Statistica Neerlandica 24, 1970): the chance, at the common share where it is largest, of tables whose
    Fisher p is no larger than that of what was seen.
    """
    return min(1.0, 2 * min(_one_sided(a.passed, a.n, b.passed, b.n), _one_sided(b.passed, b.n, a.passed, a.n)))


@lru_cache(maxsize=256)
def _one_sided(more: int, n: int, fewer: int, m: int) -> float:
    """Return the chance to see the first do so much better."""
    x, y = np.arange(n + 1)[:, None], np.arange(m + 1)[None, :]
    fisher = np.array([[_fisher(i, n, j, m) for j in range(m + 1)] for i in range(n + 1)])
    extreme = fisher <= fisher[more, fewer] * (1 + 1e-9)
    log_ways = _log_choose(n, x) + _log_choose(m, y)
    total = (x + y)[extreme]
    ways = np.bincount(total, np.exp(log_ways[extreme]), n + m + 1)
    low, high, best = 0.0, 1.0, 0.0
    for _ in range(_ZOOMS):
        grid = np.linspace(low, high, _GRID)
        successes = np.arange(n + m + 1)
        with np.errstate(divide="ignore", invalid="ignore"):
            logs = (
                np.log(ways)
                + special.xlogy(successes, grid[:, None])
                + special.xlog1py(n + m - successes, -grid[:, None])
            )
        chance = np.exp(np.where(np.isnan(logs), -inf, logs)).sum(axis=1)
        at = int(np.argmax(chance))
        best = max(best, float(chance[at]))
        low, high = float(grid[max(0, at - 1)]), float(grid[min(_GRID - 1, at + 1)])
    return min(1.0, best)


@lru_cache(maxsize=65536)
def _fisher(x: int, n: int, y: int, m: int) -> float:
    """Return Fisher's one-sided p that the first of two did no better."""
    total = x + y
    seen = np.arange(x, min(n, total) + 1)
    logs = _log_choose(n, seen) + _log_choose(m, total - seen) - _log_choose(n + m, np.array(total))
    return float(np.exp(logs).sum())


def _log_choose(n: int, k: Counts) -> Floats:
    return np.asarray(special.gammaln(n + 1) - special.gammaln(k + 1) - special.gammaln(n - k + 1))
