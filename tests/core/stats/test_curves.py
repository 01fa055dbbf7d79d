"""Strength along what is measured: the fits against SciPy's own, bounds, bands, comparisons and what cannot be."""

import numpy as np
import pytest
from scipy import optimize, stats

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Outcome
from adhaero.core.stats.curve_comparison import compare_curves
from adhaero.core.stats.curve_words import say_comparison, say_curve, say_number
from adhaero.core.stats.curves import Point, fit_curve, trace_curve
from adhaero.core.stats.shape import Shape

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
    assert tests["half"].p < 0.001
    assert tests["S"].p > 0.05
    weak = compare_curves([*cured(5, level="Heron"), *cured(6, final=48, level="Wren")], Shape.CURE)
    assert next(one for one in weak.tests if one.what == "S").p < 0.001
    assert say_comparison(weak)[0].startswith(
        "They differ in their final strength: Heron has the higher one than Wren ("
    )


def test_each_set_is_compared_by_its_own_scatter() -> None:
    # one scatters hardly, the other much: pooled they would look alike
    still = cured(11, final=61.0, noise=0.2, level="Heron")
    wild = cured(12, final=60.0, noise=4.0, level="Wren")
    quiet = cured(13, final=60.0, noise=0.2, level="Plover")
    found = compare_curves([*still, *wild, *quiet], Shape.CURE)
    clear = {(one.a, one.b): one.ratio_ci95[0] > 1 for one in found.pairs if one.what == "S" and one.ratio_ci95}
    assert clear["Heron", "Plover"]
    assert not clear["Heron", "Wren"]


def test_lines_are_compared_by_welchs_t_of_their_slopes() -> None:
    rng = np.random.default_rng(8)
    points = [
        Point(f"{level}{n}", float(x), 40 - slope * x + rng.normal(0, noise), level=level)
        for level, slope, noise in (("Heron", 0.4, 0.5), ("Wren", 1.2, 2.0))
        for n, x in enumerate(np.linspace(0, 6, 12))
    ]
    found = compare_curves(points, Shape.STRAIGHT)
    fits = [
        stats.linregress(*zip(*[(one.x, one.value) for one in points if one.level == level], strict=True))
        for level in ("Heron", "Wren")
    ]
    se2 = [one.stderr**2 for one in fits]
    df = sum(se2) ** 2 / sum(one**2 / 10 for one in se2)
    t = (fits[0].slope - fits[1].slope) / sum(se2) ** 0.5
    assert found.pairs[0].p_adjusted == pytest.approx(2 * stats.t.sf(abs(t), df), rel=1e-5)
    assert (found.tests[0].statistic, found.tests[0].df[1]) == pytest.approx((t**2, df), rel=1e-6)


def test_a_line_through_what_is_no_line_says_so_and_reads_nothing_off_it() -> None:
    rng = np.random.default_rng(2)
    points = [
        Point(f"{x}{n}", float(x), 50 + (20 if x == 0 else 0) - x + rng.normal(0, 1))
        for x in range(4)
        for n in range(5)
    ]
    fit = fit_curve(points, Shape.STRAIGHT)
    assert fit.lack_of_fit is not None
    # by hand: the averages at each x against the line, over the scatter at one x
    groups = [[one.value or 0 for one in points if one.x == x] for x in range(4)]
    pure = sum(sum((v - np.mean(g)) ** 2 for v in g) for g in groups)
    lack = sum(5 * (np.mean(g) - fit.at(np.array([float(x)]))[0][0]) ** 2 for x, g in enumerate(groups))
    assert fit.lack_of_fit.statistic == pytest.approx((lack / 2) / (pure / 16))
    said = " ".join(say_curve(fit, "years", "MPa"))
    assert "this is not the shape" in said
    assert "At 0:" not in said


def test_what_lies_beyond_the_largest_x_is_said_to_and_a_plateau_of_torn_wood_is_the_woods() -> None:
    early = [one for one in cured(3, tau=9.0) if one.x <= 4]
    assert "lies beyond the 4.00 hours that were tested" in " ".join(
        say_curve(fit_curve(early, Shape.CURE), "hours", "MPa")
    )
    torn = [Point(one.label, one.x, one.value, wood_failure_pct=90.0 if one.x == 8 else 0.0) for one in cured(1)]
    fit = fit_curve(torn, Shape.CURE)
    assert fit.wood_at_end
    assert "the wood's strength" in " ".join(say_curve(fit, "hours", "MPa"))


@pytest.mark.parametrize(
    ("points", "shape", "words"),
    [
        ([Point("a", -1.0, 5.0)], Shape.CURE, "below zero"),
        ([Point("a", 1.0, 5.0), Point("b", 2.0, 6.0)], Shape.CURE, "2 pieces broke, at 2 values"),
        ([Point(str(n), 1.0 + n % 2, 5.0 + n) for n in range(8)], Shape.CURE, "at 3 different values or more"),
        ([Point(str(n), 2.0, 5.0 + n) for n in range(6)], Shape.STRAIGHT, "at 1 value of x"),
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
