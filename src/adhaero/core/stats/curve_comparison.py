"""Curves of several sets against each other: do they differ in their final strength, in where they are half way?"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import exp, isfinite, log, sqrt
from types import MappingProxyType
from typing import Final

import numpy as np

from adhaero.core.stats.curves import Curve, Point, Reached, fit_curve
from adhaero.core.stats.families import all_pairs
from adhaero.core.stats.laws import LIKELY, beyond_f, find_t
from adhaero.core.stats.linear import OverallTest
from adhaero.core.stats.shape import Shape


@dataclass(frozen=True)
class CurveTest(OverallTest):
    """Whether curves of several sets differ in one thing (Welch's test)."""

    what: str


@dataclass(frozen=True)
class CurvePair:
    """Two curves in one thing: the ratio of what is above 0, the difference of slopes; simultaneous 95 % ranges."""

    what: str
    a: str
    b: str
    ratio: float | None
    ratio_ci95: tuple[float, float] | None
    difference: float | None
    difference_ci95: tuple[float, float] | None
    p_adjusted: float | None


@dataclass(frozen=True)
class CurveComparison:
    """A curve for each set, and in what they differ: `S` and `half` (where half of S is reached or left), or `b`."""

    curves: Mapping[str, Curve]
    tests: tuple[CurveTest, ...]
    pairs: tuple[CurvePair, ...]


_TESTED: Final[Mapping[Shape, tuple[str, ...]]] = MappingProxyType(
    {Shape.CURE: ("S", "half"), Shape.GAP: ("S", "half"), Shape.STRAIGHT: ("b",)}
)


@dataclass(frozen=True)
class _Known:
    """One thing of one curve: its value (a logarithm but for slopes), its standard error and degrees of freedom."""

    value: float
    se: float
    df: int


def compare_curves(points: Sequence[Point], shape: Shape) -> CurveComparison:
    """Fit each set's curve by its own scatter, and compare their final strength and where they are half way.

    Welch's test, pairs by Games and Howell, on the logarithm of what is above 0 (a standard error over its value) and
    on the slopes of straight lines as they are. Only pieces that broke.
    """
    levels = list(dict.fromkeys(one.level for one in points))
    curves = {level: fit_curve([one for one in points if one.level == level], shape) for level in levels}
    tests, pairs = [], list[CurvePair]()
    if len(levels) > 1:
        for what in _TESTED[shape]:
            known = {level: one for level, curve in curves.items() if (one := _find(curve, what)) is not None}
            test = _test(what, list(known.values()))
            if test is not None:
                tests.append(test)
            pairs += _compare(what, known, len(levels))
    return CurveComparison(curves, tuple(tests), tuple(pairs))


def _find(curve: Curve, what: str) -> _Known | None:
    if what == "half":
        reached: Reached | None = curve.half or next((one for one in curve.reach or () if one.pct == 50), None)
        if reached is None or reached.ci95 is None or reached.x <= 0:
            return None
        se = (reached.ci95[1] - reached.ci95[0]) / 2 / find_t(LIKELY, curve.df)
        return _Known(log(reached.x), se / reached.x, curve.df) if se > 0 and isfinite(se) else None
    one = curve.parameters[what]
    if one.se is None or not one.se > 0 or not isfinite(one.se):
        return None
    if what == "b":
        return _Known(one.value, one.se, curve.df)
    return _Known(log(one.value), one.se / one.value, curve.df) if one.value > 0 else None


def _test(what: str, known: Sequence[_Known]) -> CurveTest | None:
    """Return Welch's test with w = 1/se² (see `sets`)."""
    k = len(known)
    if k < 2:
        return None
    weights = np.array([1 / one.se**2 for one in known])
    value, df = np.array([one.value for one in known]), np.array([float(one.df) for one in known])
    share = weights / weights.sum()
    lack = float(((1 - share) ** 2 / df).sum())
    between = float(weights @ (value - float(share @ value)) ** 2) / (k - 1)
    statistic = between / (1 + 2 * (k - 2) / (k**2 - 1) * lack)
    rest = (k**2 - 1) / (3 * lack)
    return CurveTest("welch", statistic, (float(k - 1), rest), beyond_f(statistic, k - 1, rest), what)


def _compare(what: str, known: Mapping[str, _Known], groups: int) -> list[CurvePair]:
    family, found = all_pairs(groups), []
    for a, b in combinations(known, 2):
        first, second = known[a], known[b]
        shift, variance = first.value - second.value, first.se**2 + second.se**2
        df = np.array([variance**2 / (first.se**4 / first.df + second.se**4 / second.df)])
        far = float(family.compute_quantile(0.95, df)[0]) / sqrt(2) * sqrt(variance)
        p = float(family.compute_sf(np.array([abs(shift) / sqrt(variance) * sqrt(2)]), df)[0])
        ends = (shift - far, shift + far)
        if what == "b":
            found.append(CurvePair(what, a, b, None, None, shift, ends, p))
        else:
            ratio_ends = (exp(max(-700.0, ends[0])), exp(min(700.0, ends[1])))
            found.append(CurvePair(what, a, b, exp(shift), ratio_ends, None, None, p))
    return found
