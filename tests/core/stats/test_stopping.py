"""Looks while breaking: bounds against printed ones, the whole error, and the ranges that stay true."""

from math import inf, isfinite, sqrt

import numpy as np
import pytest
from scipy import stats

from adhaero.core.stats.stopping import count_more, plan_looks, spend

# five equally spaced looks, two-sided 5 %, the spending function like O'Brien and Fleming's, as printed
PRINTED = (4.877, 3.357, 2.680, 2.290, 2.031)


def test_bounds_for_a_known_scatter_are_the_printed_ones() -> None:
    looks = plan_looks(5, 2, known_scatter=True)
    assert looks.ranges[0] == inf  # a chance of one in a million is not spent from so many trials on paper
    for found, printed in list(zip(looks.ranges, PRINTED, strict=True))[1:]:
        assert found / sqrt(2) == pytest.approx(printed, rel=0.015)
    assert looks.levels[-1] == pytest.approx(2 * stats.norm.sf(PRINTED[-1]), rel=0.06)


def test_all_of_the_error_is_spent_at_the_end_and_hardly_any_before() -> None:
    assert spend(0.0) == 0
    assert spend(1.0) == pytest.approx(0.05)
    assert spend(0.3) < 0.001
    assert all(spend(n / 20) < spend((n + 1) / 20) for n in range(1, 20))


@pytest.mark.parametrize(("boards", "sets", "each"), [(6, 3, 1), (10, 2, 1), (5, 4, 2)])
def test_trials_without_a_difference_are_told_apart_once_in_twenty(boards: int, sets: int, each: int) -> None:
    """Other trials on paper than those that the bounds were made from, computed the long way round."""
    looks, chance = plan_looks(boards, sets, each), np.random.default_rng(77)
    runs, wrong = 1500, 0
    for _ in range(runs):
        pieces = chance.standard_normal((boards, sets, each)) + chance.standard_normal((boards, 1, 1))
        for look in range(1, boards + 1):
            some = pieces[:look]
            cells = some.mean(axis=2)
            left = some - some.mean(axis=(1, 2), keepdims=True) - cells.mean(axis=0)[None, :, None] + some.mean()
            df = some.size - sets - look + 1
            if df < 1:
                continue
            scatter = sqrt(float((left**2).sum()) / df)
            if float(np.ptp(cells.mean(axis=0))) / (scatter / sqrt(look * each)) > looks.ranges[look - 1]:
                wrong += 1
                break
    assert 0.03 < wrong / runs < 0.07


def test_bounds_fall_from_look_to_look_and_ask_for_more_among_more_sets() -> None:
    few, many = plan_looks(8, 3), plan_looks(8, 12)
    known = [one for one in few.ranges if isfinite(one)]
    assert known == sorted(known, reverse=True)
    assert many.ranges[-1] > few.ranges[-1]
    # one look at the end alone would be the studentized range itself: looking costs a little
    assert few.ranges[-1] > stats.studentized_range.ppf(0.95, 3, 14)


def test_how_much_more_it_would_take_follows_from_the_bounds() -> None:
    looks, sigma = plan_looks(10, 2), 0.1
    more = count_more(looks, 3, 0.2, sigma, 0.095)
    assert more is not None
    at = 3 + more
    assert looks.ranges[at - 1] * sigma / sqrt(at) < 0.2 <= looks.ranges[at - 2] * sigma / sqrt(at - 1)
    assert count_more(looks, 3, 0.06, sigma, 0.02) is None
