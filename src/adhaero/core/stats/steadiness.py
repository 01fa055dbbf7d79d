"""Who is steadier: the scatter of sets compared, whatever their strength."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import exp, expm1, log, sqrt

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.laws import CLEAR, beyond_f
from adhaero.core.stats.linear import OverallTest
from adhaero.core.stats.words import and_join, say_chance

_LEAST = 3
_MOST_SAID = 4


@dataclass(frozen=True)
class Steady:
    """One set: pieces with a number, their scatter on logarithms as a coefficient of variation, and the worst."""

    level: str
    n: int
    cv_pct: float
    worst: float


@dataclass(frozen=True)
class SteadyPair:
    """Two sets, the steadier first: how its scatter stands to the other's, and the chance, Holm's."""

    steadier: str
    other: str
    ratio: float
    p_adjusted: float


@dataclass(frozen=True)
class Steadiness:
    """Sets by their scatter, the steadiest first, whether they differ at all, and the pairs that are clear.

    Attributes
    ----------
    left_out : sets with fewer than three numbers.
    """

    sets: tuple[Steady, ...]
    overall: OverallTest
    clear: tuple[SteadyPair, ...]
    left_out: tuple[str, ...]


def compare_steadiness(numbers: Mapping[str, Sequence[float]]) -> Steadiness:
    """Compare the scatter of sets (Brown and Forsythe, Journal of the American Statistical Association 69, 1974).

    On logarithms, so that a strong set is not called unsteady for being strong: an analysis of variance of how far each
    piece is from the median of its set; pairs the same by twos, their chances made Holm's.

    Parameters
    ----------
    numbers : above 0, by set; those of pieces that broke.

    Raises
    ------
    DataError : fewer than two sets with three numbers each, or none of them scatters.

    Examples
    --------
    >>> compare_steadiness({"a": [10, 10.1, 9.9, 10.05], "b": [8, 10, 12.5, 10.2]}).sets[0].level
    'a'
    """
    logs = {
        level: np.log(np.asarray(values, dtype=float)) for level, values in numbers.items() if len(values) >= _LEAST
    }
    if len(logs) < 2:
        raise DataError("Scatter cannot be compared.", f"Expected two sets with {_LEAST} pieces that broke.")
    far = {level: np.abs(one - np.median(one)) for level, one in logs.items()}
    overall = _test(list(far.values()))
    if overall is None:
        raise DataError("No set scatters.", "Expected numbers that differ.")
    spread = {level: float(one.std(ddof=1)) for level, one in logs.items()}
    sets = [
        Steady(level, one.size, 100 * sqrt(expm1(spread[level] ** 2)), exp(float(one.min())))
        for level, one in logs.items()
    ]
    sets.sort(key=lambda one: one.cv_pct)
    return Steadiness(
        tuple(sets), overall, _find_clear(far, spread), tuple(level for level in numbers if level not in logs)
    )


def _test(groups: Sequence[np.ndarray]) -> OverallTest | None:
    n, k = sum(one.size for one in groups), len(groups)
    mean = float(np.concatenate(groups).mean())
    between = sum(one.size * (float(one.mean()) - mean) ** 2 for one in groups)
    within = sum(float(((one - one.mean()) ** 2).sum()) for one in groups)
    if not within > 0:
        return None
    statistic = between / (k - 1) / (within / (n - k))
    return OverallTest("brown-forsythe", statistic, (float(k - 1), float(n - k)), beyond_f(statistic, k - 1, n - k))


def _find_clear(far: Mapping[str, np.ndarray], spread: Mapping[str, float]) -> tuple[SteadyPair, ...]:
    tested = [
        (a, b, test.p) for a, b in combinations(far, 2) if (test := _test([far[a], far[b]])) is not None
    ]  # fmt: skip
    tested.sort(key=lambda one: one[2])
    found, least = [], 0.0
    for turn, (a, b, p) in enumerate(tested):
        least = max(least, min(1.0, p * (len(tested) - turn)))
        if least >= CLEAR:
            break
        first, other = (a, b) if spread[a] <= spread[b] else (b, a)
        found.append(SteadyPair(first, other, spread[first] / spread[other], least))
    return tuple(found)


def say_steadiness(result: Steadiness) -> list[str]:
    """Return who is steadier, in sentences."""
    first, last = result.sets[0], result.sets[-1]
    said = [_say_pair(one) for one in result.clear[:_MOST_SAID]]
    if len(result.clear) > _MOST_SAID:
        said.append(f"So are {len(result.clear) - _MOST_SAID} more pairs.")
    if not said:
        differ = "The sets differ in their scatter, which from which is not shown" if result.overall.p < CLEAR else (
            "That one set is steadier than another is not shown"
        )  # fmt: skip
        said.append(
            f"{differ} (chance alone does as much {say_chance(result.overall.p)}): {first.level} scatters least, "
            f"{first.cv_pct:.0f} %, {last.level} most, {last.cv_pct:.0f} %."
        )
    if result.left_out:
        said.append(f"Fewer than {_LEAST} pieces that broke, and not compared: {and_join(list(result.left_out))}.")
    return said


def _say_pair(one: SteadyPair) -> str:
    return f"{one.steadier} is steadier than {one.other}: it scatters {_say_part(one.ratio)} as much."


def _say_part(ratio: float) -> str:
    """Return a share below 1 in words.

    Examples
    --------
    >>> _say_part(0.5), _say_part(0.31), _say_part(0.9)
    ('half', 'a third', '0.9 times')
    """
    parts = {1 / 2: "half", 1 / 3: "a third", 1 / 4: "a quarter", 2 / 3: "two thirds", 3 / 4: "three quarters"}
    near = min(parts, key=lambda part: abs(log(ratio / part)))
    return parts[near] if abs(log(ratio / near)) < log(1.08) else f"{ratio:.1f} times"
