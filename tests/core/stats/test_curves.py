"""Strength along what is measured: the fits against SciPy's own, bounds, bands, comparisons and what cannot be."""

import numpy as np
import pytest
from scipy import optimize, stats

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Outcome
from adhaero.core.stats.curve_comparison import compare_curves
from adhaero.core.stats.curve_words import say_curve, say_number, say_tests
from adhaero.core.stats.curves import Point, Shape, fit_curve, trace_curve

HOURS = np.repeat([0.25, 0.5, 1.0, 2.0, 4.0, 8.0], 5)


def cured(seed: int, final: float = 60.0, tau: float = 1.2, level: str = "", noise: float = 2.0) -> list[Point]:
    rng = np.random.default_rng(seed)
    y = final * (1 - np.exp(-(HOURS / tau))) + rng.normal(0, noise, HOURS.size)
    return [
        Point(f"{level}{n}", float(x), float(v), level=level) for n, (x, v) in enumerate(zip(HOURS, y, strict=True))
    ]


def test_a_cure_is_the_curve_that_scipy_fits() -> None:
    points = cured(1)
    x, y = (np.array([getattr(one, name) for one in points]) for name in ("x", "value"))
    fit = fit_curve(points, Shape.CURE)
    theirs, covariance = optimize.curve_fit(
        lambda t, s, tau, k: s * (1 - np.exp(-((t / tau) ** k))), x, y, p0=(60, 1, 1), xtol=1e-12, ftol=1e-12
    )
    assert [fit.parameters[name].value for name in ("S", "tau", "k")] == pytest.approx(theirs, rel=1e-5)
    assert [fit.parameters[name].se for name in ("S", "tau", "k")] == pytest.approx(
        np.sqrt(np.diag(covariance)), rel=1e-3
    )


def test_a_straight_line_is_linear_regression_with_its_change_in_percent() -> None:
    rng = np.random.default_rng(3)
    x = np.linspace(0, 9, 20)
    y = 50 - 0.6 * x + rng.normal(0, 1, 20)
    fit = fit_curve(
        [Point(str(n), float(a), float(b)) for n, (a, b) in enumerate(zip(x, y, strict=True))], Shape.STRAIGHT
    )
    theirs = stats.linregress(x, y)
    b = fit.parameters["b"]
    assert (b.value, b.se) == pytest.approx((theirs.slope, theirs.stderr))
    assert fit.change_pct_per_unit == pytest.approx(100 * theirs.slope / theirs.intercept)
    assert fit.change_ci95 is not None
    assert fit.change_ci95[0] < fit.change_pct_per_unit < fit.change_ci95[1] < 0
    words = say_curve(fit, "years", "MPa")[0]
    assert "For each year: −0." in words
    assert words.endswith("of the start.")


def test_the_band_is_that_of_the_mean_and_the_trace_begins_at_nothing() -> None:
    fit = fit_curve(cured(2), Shape.CURE)
    points = trace_curve(fit, 8.0, steps=4)
    assert points[0][:2] == (0.0, 0.0)
    _, y, low, high = points[-1]
    assert low < y < high
    assert (high - low) / 2 == pytest.approx(stats.t.ppf(0.975, 27) * (fit.parameters["S"].se or 0), rel=0.35)


def test_pieces_that_held_raise_the_curve_that_counts_them_and_are_named() -> None:
    points = [
        Point(one.label, one.x, min(one.value or 0, 55.0), Outcome.HELD if (one.value or 0) > 55 else Outcome.BROKE)
        for one in cured(4)
    ]
    fit = fit_curve(points, Shape.CURE)
    assert fit.with_bounds is not None
    assert fit.with_bounds["S"].value > fit.parameters["S"].value
    assert {one.reason for one in fit.left_out} == {"held"}
    assert any(words.startswith("With the pieces that are bounds") for words in say_curve(fit, "hours", "MPa"))
    plain = fit_curve(cured(4), Shape.CURE)
    assert plain.with_bounds is None


def test_curves_that_differ_in_one_thing_are_told_apart_in_that_one() -> None:
    slow = compare_curves([*cured(5, level="Heron"), *cured(6, tau=2.4, level="Wren")], Shape.CURE)
    tests = {one.what: one for one in slow.tests}
    assert tests["speed"].p < 0.001
    assert tests["final"].p > 0.05
    weak = compare_curves([*cured(5, level="Heron"), *cured(6, final=48, level="Wren")], Shape.CURE)
    assert next(one for one in weak.tests if one.what == "final").p < 0.001
    assert say_tests(weak)[0].startswith("Heron and Wren differ in their final strength (chance alone")


def test_lines_are_compared_as_an_analysis_of_covariance_compares_them() -> None:
    import pandas as pd
    import statsmodels.formula.api as smf

    rng = np.random.default_rng(8)
    points = [
        Point(f"{level}{n}", float(x), 40 - slope * x + rng.normal(0, 1), level=level)
        for level, slope in (("Heron", 0.4), ("Wren", 1.2))
        for n, x in enumerate(np.linspace(0, 6, 12))
    ]
    ours = next(one for one in compare_curves(points, Shape.STRAIGHT).tests if one.what == "slope")
    frame = pd.DataFrame([{"y": one.value, "x": one.x, "g": one.level} for one in points])
    f, p, _ = smf.ols("y ~ x * g", frame).fit().compare_f_test(smf.ols("y ~ x + g", frame).fit())
    assert (ours.statistic, ours.p) == pytest.approx((f, p), rel=1e-5)


@pytest.mark.parametrize(
    ("points", "shape", "words"),
    [
        ([Point("a", -1.0, 5.0)], Shape.CURE, "below zero"),
        ([Point("a", 1.0, 5.0), Point("b", 2.0, 6.0)], Shape.CURE, "2 pieces broke, at 2 values"),
        ([Point(str(n), 2.0, 5.0 + n) for n in range(6)], Shape.STRAIGHT, "at 1 values of x"),
        ([Point(str(n), float(n + 1), 50.0 - 6 * n) for n in range(7)], Shape.CURE, "show no curve of the shape cure"),
    ],
)
def test_what_is_no_curve_is_refused_with_its_reason(points: list[Point], shape: Shape, words: str) -> None:
    with pytest.raises(DataError, match=words):
        fit_curve(points, shape)


def test_the_unit_of_x_scales_times_and_nothing_else() -> None:
    hours = fit_curve(cured(9), Shape.CURE)
    minutes = fit_curve([Point(one.label, one.x * 60, one.value) for one in cured(9)], Shape.CURE)
    assert minutes.parameters["S"].value == pytest.approx(hours.parameters["S"].value, rel=1e-6)
    assert minutes.reach is not None
    assert hours.reach is not None
    for long, short in zip(minutes.reach, hours.reach, strict=True):
        assert long.x == pytest.approx(60 * short.x, rel=1e-5)


def test_numbers_have_the_digits_that_their_spread_allows() -> None:
    assert [say_number(3.7836, 0.77), say_number(1234.6, 88.0), say_number(-0.012345)] == ["3.78", "1235", "−0.0123"]
