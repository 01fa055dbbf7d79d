"""Curves of several sets against each other: do they differ in their final strength, in their speed?"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import inf, isfinite
from types import MappingProxyType
from typing import Final

import numpy as np
from scipy import optimize

from adhaero.core.stats.breaks import Outcome
from adhaero.core.stats.curves import FORMS, Curve, Point, Shape, fit_curve
from adhaero.core.stats.laws import beyond_f
from adhaero.core.stats.scatter import Floats


@dataclass(frozen=True)
class CurveTest:
    """Whether curves of several sets differ in one thing; F test of the sums of squares."""

    what: str
    statistic: float
    df: tuple[float, float]
    p: float


@dataclass(frozen=True)
class CurveComparison:
    """A curve for each set, and in what they differ: `final` strength, `speed`, or (straight) `height` and `slope`."""

    curves: Mapping[str, Curve]
    tests: tuple[CurveTest, ...]


_TESTED: Final[Mapping[Shape, Mapping[str, tuple[int, ...]]]] = MappingProxyType(
    {
        Shape.CURE: {"final": (0,), "speed": (1, 2)},
        Shape.GAP: {"final": (0,), "speed": (1,)},
        Shape.STRAIGHT: {"height": (0,), "slope": (1,)},
    }
)


def compare_curves(points: Sequence[Point], shape: Shape) -> CurveComparison:
    """Fit each set's curve, and test whether they could share their final strength, or their speed.

    The sum of squares of separate curves is held against that of curves that share the parameter (extra sum of squares,
    F; Bates and Watts, Nonlinear Regression Analysis, 1988, 3.10). Only pieces that broke.
    """
    levels = list(dict.fromkeys(one.level for one in points))
    curves = {level: fit_curve([one for one in points if one.level == level], shape) for level in levels}
    if len(levels) < 2:
        return CurveComparison(curves, ())
    sse = sum(one.residual_sd**2 * one.df for one in curves.values())
    df = sum(one.df for one in curves.values())
    tests = []
    for what, shared in _TESTED[shape].items():
        free = tuple(
            at for at in shared if all(one.parameters[FORMS[shape].names[at]].se is not None for one in curves.values())
        )
        more = len(free) * (len(levels) - 1)
        if sse <= 0 or not free:
            continue
        common = _fit_sharing(points, curves, shape, free)
        statistic = max(0.0, (common - sse) / more / (sse / df))
        tests.append(CurveTest(what, statistic, (float(more), float(df)), beyond_f(statistic, more, df)))
    return CurveComparison(curves, tuple(tests))


def _fit_sharing(points: Sequence[Point], curves: Mapping[str, Curve], shape: Shape, shared: tuple[int, ...]) -> float:
    """Return the least sum of squares when all sets have some parameters in common."""
    form, levels = FORMS[shape], list(curves)
    thetas = np.array([[one.value for one in curves[level].parameters.values()] for level in levels])
    own = [at for at in range(len(form.names)) if at not in shared]
    data = []
    for level in levels:
        used = [one for one in points if one.level == level and one.excluded is None and one.outcome is Outcome.BROKE]
        data.append((np.array([one.x for one in used]), np.array([one.value or 0.0 for one in used])))
    positive = shape is not Shape.STRAIGHT
    start = np.concatenate([thetas[:, list(shared)].mean(axis=0), thetas[:, own].ravel()])

    def misfit(packed: Floats) -> Floats:
        values = np.exp(np.clip(packed, -60, 60)) if positive else packed
        parts = []
        for index, (x, y) in enumerate(data):
            theta = np.empty(len(form.names))
            theta[list(shared)] = values[: len(shared)]
            theta[own] = values[len(shared) + index * len(own) : len(shared) + (index + 1) * len(own)]
            parts.append(form.value(x, theta) - y)
        return np.concatenate(parts)

    fit = optimize.least_squares(misfit, np.log(start) if positive else start, method="lm", xtol=1e-12, ftol=1e-12)
    return 2 * float(fit.cost) if isfinite(fit.cost) else inf
