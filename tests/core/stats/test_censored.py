"""Breaks that are bounds: the likelihood, its slopes, its edges, and what must hold for any table."""

from dataclasses import replace
from math import inf, log

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import optimize, stats

from adhaero.core.stats.analyse import Question, analyse
from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.core.stats.censored import Bounds, find_bounded, fit_censored, value_and_slopes
from adhaero.core.stats.design import Design, one_hot
from adhaero.core.stats.scatter import NORMAL, SMALLEST_EXTREME, Scatter
from adhaero.core.stats.sets import fit_sets
from adhaero.core.stats.verdict import say_pair, smaller_set, summarise

QUESTION = Question("strength", "glue")


def mixed(seed: int, n: int = 12) -> tuple[Design, Bounds]:
    rng = np.random.default_rng(seed)
    design = one_hot(np.arange(n) % 2, 2)
    logs = rng.normal(4, 0.3, n)
    lower, upper = logs.copy(), logs.copy()
    upper[2:4], lower[4], lower[5] = inf, -inf, lower[5] - 0.2
    return design, Bounds(lower, upper)


@pytest.mark.parametrize("law", [NORMAL, SMALLEST_EXTREME])
def test_slopes_and_curvature_are_those_of_the_likelihood(law: Scatter) -> None:
    design, bounds = mixed(1)
    theta = np.array([13.0, 12.6, 3.1])
    _, gradient, hessian = value_and_slopes(design, bounds, theta, law)

    def value(at: np.ndarray) -> float:
        return value_and_slopes(design, bounds, at, law)[0]

    def slope(at: np.ndarray) -> np.ndarray:
        return value_and_slopes(design, bounds, at, law)[1]

    step = 1e-6
    for place in range(3):
        move = np.eye(3)[place] * step
        assert gradient[place] == pytest.approx((value(theta + move) - value(theta - move)) / (2 * step), rel=1e-5)
        assert hessian[place] == pytest.approx((slope(theta + move) - slope(theta - move)) / (2 * step), rel=1e-5)


def test_the_maximum_is_the_one_a_general_search_finds() -> None:
    design, bounds = mixed(2, 20)

    def misfit(at: np.ndarray) -> float:
        mu, sigma = at[np.arange(20) % 2], np.exp(at[2])
        total = 0.0
        for low, high, centre in zip(bounds.lower, bounds.upper, mu, strict=True):
            if low == high:
                total += stats.norm.logpdf(low, centre, sigma)
            else:
                total += log(stats.norm.cdf(high, centre, sigma) - stats.norm.cdf(low, centre, sigma))
        return -total

    fit = fit_censored(design, bounds)
    found = optimize.minimize(misfit, [4, 4, -1], method="Nelder-Mead", options={"xatol": 1e-9, "fatol": 1e-12})
    assert fit is not None
    assert fit.log_likelihood == pytest.approx(-found.fun, abs=1e-8)
    assert [*fit.coefficients, log(fit.sigma)] == pytest.approx(found.x, abs=1e-5)


def test_pieces_that_only_push_a_coefficient_away_are_found() -> None:
    # set 2 all held; board 1 holds only it, so that both the set and the board's last piece tell nothing
    design = np.array([[1, 0, 0], [1, 0, 0], [1, 1, 0], [1, 1, 0], [1, 0, 1], [1, 0, 1]], dtype=float)
    bounds = Bounds(np.array([1, 2, 2, 3, 3, 4.0]), np.array([1, 2, 2, 3, inf, inf]))
    assert find_bounded(Design(design, np.arange(6)), bounds).tolist() == [True] * 4 + [False] * 2


def rows(groups: dict[str, list[float]], held: set[str] = frozenset()) -> tuple[Specimen, ...]:  # type: ignore[assignment]
    return tuple(
        Specimen(f"{level}{turn}", level, value, Outcome.HELD if f"{level}{turn}" in held else Outcome.BROKE)
        for level, values in groups.items()
        for turn, value in enumerate(values)
    )


def test_a_set_that_always_held_takes_part_and_leaves_the_others_alone() -> None:
    groups = {"Heron": [60.0, 63, 66, 62, 64], "Wren": [50.0, 53, 55, 52, 51], "Plover": [90.0, 90, 90]}
    result = analyse(rows(groups, {"Plover0", "Plover1", "Plover2"}), QUESTION)
    heron, wren, plover = result.groups
    assert (plover.typical, plover.typical_ci95, plover.lower_5pct) == (None, None, None)
    alone = analyse(rows({k: groups[k] for k in ("Heron", "Wren")}), QUESTION)
    assert [heron.typical_ci95, wren.typical_ci95] == [one.typical_ci95 for one in alone.groups]
    # at least: where three pieces all hold 90 with chance 0.05, with the scatter of the others
    spread = np.sqrt((np.log(groups["Heron"]).var(ddof=1) + np.log(groups["Wren"]).var(ddof=1)) / 2)
    assert 3 * stats.norm.logcdf(log(plover.at_least / 90) / spread) == pytest.approx(log(0.05))
    assert [pair.ratio is None for pair in result.pairs] == [False, True, True]
    assert all(pair.ratio_ci95[0] is None and pair.ratio_ci95[1] < 1 for pair in result.pairs[1:])
    assert summarise(result).headline == "Plover is the strongest, by at least 32 %."


def test_a_set_that_held_too_little_to_be_told_keeps_the_headline_open() -> None:
    groups = {"Heron": [60.0, 71, 66, 64], "Wren": [50.0, 53, 55, 51], "Plover": [45.0, 45]}
    result = analyse(rows(groups, {"Plover0", "Plover1"}), QUESTION)
    headline = summarise(result).headline
    assert "Heron is the strongest" not in headline
    assert "Plover" in headline


@pytest.mark.parametrize(
    ("groups", "held"),
    [
        ({"Heron": [60.0], "Wren": [50.0]}, {"Wren0"}),
        ({"Heron": [60.0, 60.0], "Wren": [50.0, 50.0]}, {"Wren0"}),
        ({"Heron": [60.0, 61.0], "Wren": [50.0, 50.0]}, {"Wren0", "Wren1", "Heron0", "Heron1"}),
        ({"Heron": [1e-100, 2e-100, 3e-100], "Wren": [1e100, 2e100, 3e100]}, {"Heron1"}),
        ({"Heron": [5.0, 5.5, 6.0], "Wren": [500.0, 700.0, 550.0]}, {"Heron2", "Wren1"}),
    ],
)
def test_hard_tables_give_an_estimate_or_say_that_there_is_none(groups: dict[str, list[float]], held: set[str]) -> None:
    result = analyse(rows(groups, held), QUESTION)
    for group in result.groups:
        for value in (group.typical, group.lower_5pct, *(group.typical_ci95 or ())):
            assert value is None or np.isfinite(value)
    for pair in result.pairs:
        assert say_pair(pair, 10, smaller_set(result, pair)).endswith(".")


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10_000), st.floats(1.01, 3.0))
def test_a_held_piece_moved_up_never_lowers_an_estimate(seed: int, times: float) -> None:
    rng = np.random.default_rng(seed)
    table = rows({"Heron": rng.lognormal(4, 0.2, 6).tolist(), "Wren": rng.lognormal(4, 0.2, 6).tolist()}, {"Heron1"})
    moved = tuple(replace(one, value=one.value * times) if one.label == "Heron1" else one for one in table)
    before, after = analyse(table, QUESTION), analyse(moved, QUESTION)
    assert after.groups[0].typical >= before.groups[0].typical * (1 - 1e-9)
    assert after.groups[1].typical == pytest.approx(before.groups[1].typical, rel=0.05)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10_000), st.floats(1e-3, 1e3), st.randoms())
def test_units_and_the_order_of_rows_do_not_matter_with_bounds(seed: int, times: float, random: object) -> None:
    rng = np.random.default_rng(seed)
    table = list(rows({k: rng.lognormal(4, 0.2, 6).tolist() for k in "HWP"}, {"H1", "H2", "W3"}))
    first = analyse(tuple(table), QUESTION)
    scaled = [replace(one, value=one.value * times) for one in table]
    random.shuffle(scaled)  # type: ignore[attr-defined]
    again = {group.level: group for group in analyse(tuple(scaled), QUESTION).groups}
    for group in first.groups:
        assert again[group.level].typical == pytest.approx(group.typical * times, rel=1e-6)
        assert again[group.level].lower_5pct == pytest.approx(group.lower_5pct * times, rel=1e-6)


def test_few_pieces_are_counted_as_few_unless_the_likelihood_alone_is_asked() -> None:
    table = rows({"Heron": [60.0, 71, 66, 63], "Wren": [50.0, 58, 55]}, {"Heron1"})
    few, alone = analyse(table, QUESTION), analyse(table, replace(QUESTION, plain_likelihood=True))
    # Heron: three numbers and one held, n* = 4: √(4/3) as wide a standard error, t of 3 instead of the normal
    wider = (4 / 3) ** 0.5 * stats.t.ppf(0.975, 3) / stats.norm.ppf(0.975)
    old, new = alone.groups[0], few.groups[0]
    assert old.typical == new.typical
    for end in (0, 1):
        assert log(new.typical_ci95[end] / new.typical) == pytest.approx(
            wider * log(old.typical_ci95[end] / old.typical)
        )
    assert few.groups[1] == alone.groups[1]


@pytest.mark.parametrize("blocks", [False, True])
def test_a_bound_that_bounds_nothing_changes_hardly_anything(blocks: bool) -> None:
    rng = np.random.default_rng(4)
    logs, sets, boards = rng.normal(4, 0.2, 15), np.arange(15) % 3, np.arange(15) // 3
    plain = fit_sets(Bounds(logs, logs), sets, 3, boards if blocks else None)
    # a piece that fell apart far above all others
    far = Bounds(np.append(logs, -inf), np.append(logs, 99.0))
    fit = fit_sets(far, np.append(sets, 0), 3, np.append(boards, 0) if blocks else None)
    assert fit.effects == pytest.approx(plain.effects)
    if not blocks:
        # it adds nothing to n*: the same scatter to the last digit
        assert fit.own.sigma == pytest.approx(plain.own.sigma)
        assert fit.overall is not None
        assert plain.overall is not None
        assert fit.overall.statistic == pytest.approx(plain.overall.statistic)
        return
    n, p = 16, 3 + 4
    assert fit.sigma**2 * (n - p) / n == pytest.approx(plain.sigma**2 * (n - 1 - p) / (n - 1), rel=1e-6)


def test_more_pieces_do_not_widen_the_interval_on_average() -> None:
    rng = np.random.default_rng(8)

    def width(n: int, held: bool) -> float:
        found = []
        for _ in range(60):
            values = rng.lognormal(4, 0.15, (2, n))
            names = {f"H{turn}" for turn in range(n) if turn % 3 == 0} if held else set()
            result = analyse(rows({"H": values[0].tolist(), "W": values[1].tolist()}, names), QUESTION)
            low, high = result.pairs[0].ratio_ci95 or (0, 0)
            found.append(log(high / low))
        return float(np.mean(found))

    for held in (False, True):
        widths = [width(n, held) for n in (4, 8, 16)]
        assert widths == sorted(widths, reverse=True)
