"""Strength along something that is measured: curing, a gap, years. Curves fitted to the breaks as they are."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import inf, log, sqrt
from types import MappingProxyType
from typing import Final

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Outcome
from adhaero.core.stats.censored import Bounds, fit_censored
from adhaero.core.stats.design import Design
from adhaero.core.stats.laws import CLEAR, LIKELY, beyond_f, find_t
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.shape import Shape

REACHED: Final = (50, 75, 90, 95)
TORN_FROM: Final = 75.0
_LEAST_X_FOR_K = 5
_MOSTLY = 0.5
_ROUNDS = 100
_STILL = 1e-10


@dataclass(frozen=True)
class Point:
    """One specimen of a curve: x and the response, and what happened at it (see `breaks.Specimen`)."""

    label: str
    x: float
    value: float | None
    outcome: Outcome = Outcome.BROKE
    held_value: float | None = None
    excluded: str | None = None
    level: str = ""
    wood_failure_pct: float | None = None


@dataclass(frozen=True)
class Parameter:
    """A parameter and its standard error; `ci95` where the contract gives one."""

    value: float
    se: float | None
    ci95: tuple[float, float] | None = None


@dataclass(frozen=True)
class Reached:
    """Where the curve reaches a share of its final strength; `beyond` the largest x that was tested."""

    pct: int
    x: float
    ci95: tuple[float, float] | None
    beyond: bool = False


@dataclass(frozen=True)
class LeftOut:
    """A piece that the least-squares curve does not use, and why."""

    specimen: str
    reason: str


@dataclass(frozen=True)
class LackOfFit:
    """Whether the averages at each x lie off the curve more than pieces at one x scatter: F, its df and p."""

    statistic: float
    df: tuple[float, float]
    p: float


@dataclass(frozen=True)
class Curve:
    """A fitted curve. The fields are those of the `curve` contract; those of other shapes are None.

    Attributes
    ----------
    change_ci95 : of `change_pct_per_unit`, by the delta method.
    lack_of_fit : None where no x has several pieces, or the shape passes through all averages.
    most_x : the largest x; wood_at_end : half the pieces or more there tore: the plateau is the wood's.
    with_bounds : the parameters when the pieces that are bounds count as bounds (likelihood, docs/method); None where
        there are none, or it has no maximum.
    """

    shape: Shape
    n: int
    r2: float | None
    residual_sd: float
    parameters: Mapping[str, Parameter]
    reach: tuple[Reached, ...] | None
    half: Reached | None
    change_pct_per_unit: float | None
    change_ci95: tuple[float, float] | None
    left_out: tuple[LeftOut, ...]
    with_bounds: Mapping[str, Parameter] | None
    covariance: tuple[tuple[float, ...], ...]
    df: int
    lack_of_fit: LackOfFit | None = None
    most_x: float = 0.0
    wood_at_end: bool = False

    @property
    def fits(self) -> bool:
        """Return whether the pieces at the same x do not contradict the shape: else nothing is read off it."""
        return self.lack_of_fit is None or self.lack_of_fit.p >= CLEAR

    def at(self, x: Floats) -> tuple[Floats, Floats]:
        """Return the curve at (m,) x and how far its 95 % band of the mean reaches to either side."""
        form = FORMS[self.shape]
        theta = np.array([one.value for one in self.parameters.values()])
        slopes = form.slopes(x, theta)
        spread = ((slopes @ np.array(self.covariance)) * slopes).sum(axis=1)
        far = find_t(LIKELY, self.df) if self.df > 0 else 0.0
        return form.value(x, theta), far * np.sqrt(np.maximum(spread, 0.0))


@dataclass(frozen=True)
class Form:
    """A shape in formulas: its parameters, its value and slopes at (n,) x; where a search starts, nowhere if linear."""

    names: tuple[str, ...]
    words: str
    value: Callable[[Floats, Floats], Floats]
    slopes: Callable[[Floats, Floats], Floats]
    starts: Callable[[Floats], list[tuple[float, ...]]]


def _cure(x: Floats, theta: Floats) -> Floats:
    final, tau, k = theta
    value: Floats = final * -np.expm1(-_power(x, tau, k)[0])
    return value


def _power(x: Floats, tau: float, k: float) -> tuple[Floats, Floats]:
    """Return (x/τ)^k and log(x/τ), 0 at x = 0, without an overflow on the way of a search."""
    with np.errstate(divide="ignore"):
        logs = np.log(x / tau)
    power = np.exp(np.clip(np.where(x > 0, k * logs, -np.inf), -1e300, 300.0))
    return power, np.where(x > 0, logs, 0.0)


def _cure_slopes(x: Floats, theta: Floats) -> Floats:
    final, tau, k = theta
    power, logs = _power(x, tau, k)
    left = np.exp(-power)
    return np.column_stack([1 - left, -final * left * power * k / tau, final * left * power * logs])


def _cure_starts(x: Floats) -> list[tuple[float, ...]]:
    times = np.geomspace(float(x[x > 0].min()) / 4, float(x.max()), 9)
    return [(1.0, float(tau), k) for tau in times for k in (0.5, 1.0, 2.0)]


FORMS: Final[Mapping[Shape, Form]] = MappingProxyType(
    {
        Shape.CURE: Form(("S", "tau", "k"), "S · (1 − exp(−(x/τ)^k))", _cure, _cure_slopes, _cure_starts),
        Shape.GAP: Form(
            ("S", "lambda"),
            "S · exp(−x/λ)",
            lambda x, theta: theta[0] * np.exp(-x / theta[1]),
            lambda x, theta: np.column_stack(
                [np.exp(-x / theta[1]), theta[0] * np.exp(-x / theta[1]) * x / theta[1] ** 2]
            ),
            lambda x: [(1.0, float(one)) for one in np.geomspace(float(x.max()) / 20, float(x.max()) * 50, 12)],
        ),
        Shape.STRAIGHT: Form(
            ("a", "b"),
            "a + b · x",
            lambda x, theta: theta[0] + theta[1] * x,
            lambda x, _: np.column_stack([np.ones_like(x), x]),
            lambda _: [],
        ),
    }
)


def fit_curve(points: Sequence[Point], shape: Shape) -> Curve:
    """Fit a curve by least squares to the pieces that broke; those that are bounds are listed, and fitted beside it.

    Parameters
    ----------
    points : all pieces, excluded ones included, in the order of the file.
    shape : how strength goes with x.

    Raises
    ------
    DataError : too few pieces or values of x, x below zero where the shape begins there, or no such curve in the data.
    """
    used = [one for one in points if one.excluded is None and one.outcome is Outcome.BROKE and one.value is not None]
    form = FORMS[shape]
    x, y = np.array([one.x for one in used]), np.array([one.value or 0.0 for one in used])
    distinct = np.unique(x).size
    fixed_k = shape is Shape.CURE and distinct < _LEAST_X_FOR_K
    count = len(form.names) - fixed_k
    _check(points, x, distinct, count, shape)
    theta: Floats = _search(form, x, y, fixed_k=fixed_k)
    slopes = form.slopes(x, theta)[:, :count]
    residual = y - form.value(x, theta)
    df = x.size - count
    sse, sst = float(residual @ residual), float(((y - y.mean()) ** 2).sum())
    covariance = np.zeros((len(theta), len(theta)))
    covariance[:count, :count] = sse / df * _inverse(slopes, shape)
    far = find_t(LIKELY, df)
    names = {name: index for index, name in enumerate(form.names)}
    ends = {name: None if fixed_k and name == "k" else sqrt(covariance[at, at]) for name, at in names.items()}
    parameters = {
        name: Parameter(
            float(theta[at]),
            ends[name],
            _around(float(theta[at]), far * (ends[name] or 0.0)) if (shape, name) == (Shape.STRAIGHT, "b") else None,
        )
        for name, at in names.items()
    }
    change, change_ci = _find_change(theta, covariance, far) if shape is Shape.STRAIGHT else (None, None)
    most = float(x.max())
    return Curve(
        shape=shape,
        n=x.size,
        r2=1 - sse / sst if sst > 0 else None,
        residual_sd=sqrt(sse / df),
        parameters=parameters,
        reach=tuple(_find_reach(pct, theta, covariance, far, most) for pct in REACHED) if shape is Shape.CURE else None,
        half=_find_half(theta, covariance, far, most) if shape is Shape.GAP else None,
        change_pct_per_unit=change,
        change_ci95=change_ci,
        left_out=tuple(LeftOut(one.label, one.excluded or one.outcome.value) for one in points if one not in set(used)),
        with_bounds=_fit_with_bounds(points, form, theta, count) if shape is not Shape.GAP else None,
        covariance=tuple(tuple(row) for row in covariance.tolist()),
        df=df,
        lack_of_fit=_find_lack(x, y, sse, count),
        most_x=most,
        wood_at_end=_is_wood(points, max(one.x for one in points if one.excluded is None)),
    )


def _find_lack(x: Floats, y: Floats, sse: float, count: int) -> LackOfFit | None:
    """Return F of what the averages at each x lie off the curve against the pure error of pieces at one x."""
    places, at = np.unique(x, return_inverse=True)
    more, rest = places.size - count, x.size - places.size
    if more < 1 or rest < 1:
        return None
    means = np.bincount(at, y) / np.bincount(at)
    pure = float(((y - means[at]) ** 2).sum())
    if pure <= 0:
        return None
    statistic = max(0.0, (sse - pure) / more / (pure / rest))
    return LackOfFit(statistic, (float(more), float(rest)), beyond_f(statistic, more, rest))


def _is_wood(points: Sequence[Point], most: float) -> bool:
    """Return whether at the largest x half the judged pieces or more tore in the wood."""
    torn = [
        one.wood_failure_pct >= TORN_FROM
        for one in points
        if one.excluded is None and one.x == most and one.wood_failure_pct is not None
    ]
    return bool(torn) and sum(torn) >= _MOSTLY * len(torn)


def _check(points: Sequence[Point], x: Floats, distinct: int, count: int, shape: Shape) -> None:
    if any(one.x < 0 for one in points) and shape is not Shape.STRAIGHT:
        raise DataError("Some x are below zero.", f"The shape {shape} begins at zero.", "Use straight.", field="x")
    places = 3 if shape is Shape.CURE else 2
    if x.size <= count or distinct < places or (shape is not Shape.STRAIGHT and x.max() <= 0):
        raise DataError(
            f"{x.size} {'piece' if x.size == 1 else 'pieces'} broke, at {distinct} "
            f"{'value' if distinct == 1 else 'values'} of x.",
            f"The shape {shape} needs at least {count + 1} pieces, at {places} different values or more.",
            "Break more pieces, or use straight.",
            field="x",
        )


def _inverse(slopes: Floats, shape: Shape) -> Floats:
    normal: Floats = slopes.T @ slopes
    if not np.isfinite(normal).all() or np.linalg.cond(normal) > 1e18:
        raise _no_curve(shape)
    return np.asarray(np.linalg.inv(normal), dtype=np.float64)


def _no_curve(shape: Shape) -> DataError:
    return DataError(
        f"These pieces show no curve of the shape {shape}.",
        "Strength rises towards a final value (cure), or falls from the first (gap).",
        "Use straight, or break pieces at other x.",
        field="shape",
    )


def _search(form: Form, x: Floats, y: Floats, *, fixed_k: bool) -> Floats:
    """Return the least-squares parameters: straight at once, else from the best of several starts."""
    if not (starts := form.starts(x)):
        return np.asarray(np.linalg.lstsq(form.slopes(x, np.zeros(2)), y, rcond=None)[0], dtype=np.float64)

    def full(logs: Floats) -> Floats:
        theta = np.exp(np.clip(logs, -60, 60))
        return np.append(theta, 1.0) if fixed_k else theta

    def misfit(logs: Floats) -> Floats:
        return form.value(x, full(logs)) - y

    def slopes(logs: Floats) -> Floats:
        theta = full(logs)
        return (form.slopes(x, theta) * theta)[:, : logs.size]

    from scipy import optimize  # the slowest part of SciPy to load, and a straight line does without

    found = []
    for start in starts:
        shape_only = form.value(x, np.array(start))
        height = float(shape_only @ y / (shape_only @ shape_only)) if shape_only.any() else 0.0
        if height > 0 and not (fixed_k and start[-1] != 1.0):
            theta = (height, *start[1:])[: len(start) - fixed_k]
            found.append(np.log(theta))
    found.sort(key=lambda one: float((misfit(one) ** 2).sum()))
    fits = [optimize.least_squares(misfit, one, slopes, method="lm", xtol=1e-14, ftol=1e-14) for one in found[:3]]
    if not fits:
        raise _no_curve(next(shape for shape, one in FORMS.items() if one is form))
    best = full(min(fits, key=lambda one: float(one.cost)).x)
    if best[1] > 1e4 * float(x.max()) or best[1] < 1e-6 * float(x[x > 0].min()):
        raise _no_curve(next(shape for shape, one in FORMS.items() if one is form))
    return best


def _around(value: float, far: float) -> tuple[float, float]:
    return value - far, value + far


def trace_curve(curve: Curve, x_max: float, steps: int = 60) -> list[tuple[float, float, float, float]]:
    """Return a curve as points from 0 to `x_max`: x, strength, and the ends of the 95 % band of the mean."""
    x = np.linspace(0.0, x_max, steps + 1)
    y, far = curve.at(x)
    return [(float(a), float(b), float(b - c), float(b + c)) for a, b, c in zip(x, y, far, strict=True)]


def _find_reach(pct: int, theta: Floats, covariance: Floats, far: float, most: float) -> Reached:
    """Return x at a share of the final strength: τ (−ln(1−p))^(1/k), its interval by the delta method."""
    _, tau, k = theta
    base = -log(1 - pct / 100)
    x = tau * base ** (1 / k)
    slope = np.array([0.0, x / tau, -x * log(base) / k**2])
    return Reached(pct, float(x), _around(float(x), far * sqrt(float(slope @ covariance @ slope))), bool(x > most))


def _find_half(theta: Floats, covariance: Floats, far: float, most: float) -> Reached:
    """Return x at half strength: λ ln 2."""
    x = float(theta[1]) * log(2)
    return Reached(50, x, _around(x, far * log(2) * sqrt(covariance[1, 1])), bool(x > most))


def _find_change(theta: Floats, covariance: Floats, far: float) -> tuple[float | None, tuple[float, float] | None]:
    """Return 100 b/a and its interval by the delta method; None where the line begins at zero."""
    a, b = theta
    if a == 0:
        return None, None
    slope = np.array([-100 * b / a**2, 100 / a])
    return float(100 * b / a), _around(float(100 * b / a), far * sqrt(float(slope @ covariance @ slope)))


def _fit_with_bounds(points: Sequence[Point], form: Form, theta: Floats, count: int) -> Mapping[str, Parameter] | None:
    """Fit the same curve with normal scatter where held, stepped and fallen-apart pieces count as bounds.

    The curve is made linear at its present parameters and the censored linear model fitted, until nothing moves
    (Gauss and Newton's way); the standard errors are those of the last linear model.
    """
    counted = [one for one in points if one.excluded is None]
    if all(one.outcome is Outcome.BROKE for one in counted):
        return None
    bounds = _bounds(counted)
    x = np.array([one.x for one in counted])
    theta = theta.copy()
    for _ in range(_ROUNDS):
        slopes = form.slopes(x, theta)[:, :count]
        rest = form.value(x, theta) - slopes @ theta[:count]
        fit = fit_censored(Design(slopes, np.arange(len(slopes))), Bounds(bounds.lower - rest, bounds.upper - rest))
        if fit is None or not np.isfinite(fit.coefficients).all():
            return None
        step = fit.coefficients - theta[:count]
        length = 1.0
        while form.names[0] == "S" and (theta[:count] + length * step <= 0).any():
            length /= 2
        theta[:count] += length * step
        if float(np.max(np.abs(step) / (np.abs(theta[:count]) + 1e-12))) < _STILL:
            ends = np.sqrt(np.diag(fit.covariance))
            return {
                name: Parameter(float(theta[at]), float(ends[at]) if at < count else None)
                for at, name in enumerate(form.names)
            }
    return None


def _bounds(counted: Sequence[Point]) -> Bounds:
    lower, upper = [], []
    smallest = min((one.value for one in counted if one.value), default=0.0)
    for one in counted:
        value = one.value or smallest
        match one.outcome:
            case Outcome.BROKE:
                ends = (value, value)
            case Outcome.HELD:
                ends = (value, inf)
            case Outcome.STEP:
                ends = (one.held_value or 0.0, value)
            case Outcome.FELL_APART:
                ends = (-inf, value)
        lower.append(ends[0])
        upper.append(ends[1])
    return Bounds(np.array(lower), np.array(upper))
