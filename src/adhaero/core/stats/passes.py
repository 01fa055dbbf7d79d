"""Pass or fail: how many of all such pieces would pass, from how many of a few did."""

from dataclasses import dataclass

from adhaero.core.errors import DataError
from adhaero.core.stats.laws import find_beta

SURE = 0.95
CLAIM = 0.95
_MOST = 100_000


@dataclass(frozen=True)
class PassCount:
    """Pieces that passed.

    Attributes
    ----------
    lower : with 95 % confidence at least this share of all such pieces passes (one-sided).
    more_for_claim : further pieces that must all pass before 95 % can be claimed; 0 where it can be by now.
    """

    passed: int
    n: int
    lower: float
    more_for_claim: int


def count_passes(passed: int, n: int) -> PassCount:
    """Return what a count of passes shows.

    The lower bound is that of Clopper and Pearson (Biometrika 26, 1934): the 5 % point of a beta distribution with
    `passed` and `n − passed + 1`; 0 where none passed.

    Raises
    ------
    DataError : no piece, or more passes than pieces.

    Examples
    --------
    >>> count_passes(59, 59).more_for_claim
    0
    >>> round(count_passes(9, 10).lower, 3)
    0.606
    """
    if not 0 <= passed <= n or n < 1:
        raise DataError(f"{passed} of {n} pieces cannot have passed.", "Expected a piece, and no more passes.")
    lower = _lower(passed, n)
    return PassCount(passed, n, lower, 0 if lower >= CLAIM else _count_more(passed, n))


def _lower(passed: int, n: int) -> float:
    return find_beta(1 - SURE, passed, n - passed + 1) if passed else 0.0


def _count_more(passed: int, n: int) -> int:
    low, high = 0, _MOST
    while low < high:
        middle = (low + high) // 2
        if _lower(passed + middle, n + middle) >= CLAIM:
            high = middle
        else:
            low = middle + 1
    return low


def say_passes(name: str, count: PassCount) -> str:
    """Return in words what a count of passes shows.

    Examples
    --------
    >>> say_passes("Heron", count_passes(10, 10))
    'Heron: 10 of 10 passed. So at least 74 % of such joints pass, 19 times in 20; 49 more without a failure \
would claim 95 %.'
    """
    said = f"{name}: {count.passed} of {count.n} passed."
    if count.passed == 0:
        return f"{said} Nothing can be claimed."
    least = f"So at least {int(100 * count.lower)} % of such joints pass, 19 times in 20"
    if count.more_for_claim == 0:
        return f"{said} {least}: 95 % can be claimed."
    return f"{said} {least}; {count.more_for_claim} more without a failure would claim 95 %."
