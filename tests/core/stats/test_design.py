"""Designs kept as their different rows do what whole matrices do; chances and scatters are SciPy's."""

from math import inf

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from adhaero.core.stats import laws
from adhaero.core.stats.design import Design, amounts, constant, join, one_hot
from adhaero.core.stats.mixed_boards import RandomBoards
from adhaero.core.stats.scatter import NORMAL, SMALLEST_EXTREME, Scatter


def whole(design: Design) -> np.ndarray:
    return design.rows[design.cells]


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000), st.integers(3, 30))
def test_sums_products_and_parts_are_those_of_the_whole_matrix(seed: int, n: int) -> None:
    rng = np.random.default_rng(seed)
    sets, boards = rng.integers(0, 3, n), rng.integers(0, 4, n)
    times = np.round(rng.normal(size=n), 1)
    design = join([constant(n), one_hot(sets, 3), one_hot(boards, 4), amounts(times)])
    dense = np.column_stack([np.ones(n), np.eye(3)[sets], np.eye(4)[boards], times])
    assert np.array_equal(whole(design), dense)
    assert len(design.rows) == len(np.unique(dense, axis=0))
    values, weights = rng.normal(size=n), rng.normal(size=n)
    coefficients = rng.normal(size=dense.shape[1])
    assert design.predict(coefficients) == pytest.approx(dense @ coefficients)
    assert design.collect(values) == pytest.approx(dense.T @ values)
    assert design.gram(weights) == pytest.approx(dense.T @ (weights[:, None] * dense))
    chosen = rng.random(n) < 0.6
    assert np.array_equal(whole(design.take(chosen)), dense[chosen])
    kept = design.keep_independent()
    assert kept.has_full_rank()
    assert kept.rows.shape[1] == np.linalg.matrix_rank(dense)
    assert not design.has_full_rank(), "the constant is the sum of the sets"


@pytest.mark.parametrize(("law", "theirs"), [(NORMAL, stats.norm), (SMALLEST_EXTREME, stats.gumbel_l)])
def test_scatters_are_scipys_and_keep_their_digits_far_out(law: Scatter, theirs: stats.rv_continuous) -> None:
    z = np.array([-6.0, -1.0, 0.3, 2.0])
    value, slope, curve = law.log_density(z)
    assert value == pytest.approx(theirs.logpdf(z))
    step = 1e-5
    assert slope == pytest.approx((theirs.logpdf(z + step) - theirs.logpdf(z - step)) / (2 * step), rel=1e-6)
    assert curve == pytest.approx((law.log_density(z + step)[1] - law.log_density(z - step)[1]) / (2 * step), rel=1e-6)
    low, high = np.array([-inf, 0.5, -1.0, -inf]), np.array([-2.0, inf, 1.0, inf])
    chance = theirs.cdf(high) - theirs.cdf(low)
    assert law.log_between(low, high) == pytest.approx(np.log(chance), abs=1e-14)
    far = law.log_between(np.array([-40.0]), np.array([-39.0]))
    assert far == pytest.approx(theirs.logcdf(-39.0) + np.log1p(-np.exp(theirs.logcdf(-40.0) - theirs.logcdf(-39.0))))


@pytest.mark.parametrize("df", [1.0, 4.5, 60.0, inf])
def test_students_t_is_scipys_and_ends_in_the_normal(df: float) -> None:
    theirs = stats.norm if df == inf else stats.t(df)
    for chance in (0.001, 0.3, 0.975):
        assert laws.find_t(chance, df) == pytest.approx(theirs.ppf(chance))
    t = np.array([-1.0, 0.0, 3.0])
    assert laws.beyond_t(t, df) == pytest.approx(theirs.sf(t))


def test_the_other_laws_are_scipys() -> None:
    assert laws.find_normal(0.95) == pytest.approx(stats.norm.ppf(0.95))
    assert laws.beyond_f(3.3, 2, 7.5) == pytest.approx(stats.f.sf(3.3, 2, 7.5))
    assert laws.beyond_chi2(7.1, 3) == pytest.approx(stats.chi2.sf(7.1, 3))
    assert laws.find_chi2(0.95, 1) == pytest.approx(stats.chi2.ppf(0.95, 1))
    assert laws.find_beta(0.05, 3, 4) == pytest.approx(stats.beta.ppf(0.05, 3, 4))
    k = stats.nct.ppf(0.75, 9, stats.norm.ppf(0.95) * 10**0.5)
    assert laws.find_lower_factor(10**0.5, 9, 0.95, 0.75) == pytest.approx(k)
    sure = stats.norm.ppf(0.95) * 10**0.5 + stats.norm.ppf(0.75)
    assert laws.find_lower_factor(10**0.5, np.inf, 0.95, 0.75) == pytest.approx(sure)
    both = stats.nct.sf(2.1, 18, 1.5) + stats.nct.cdf(-2.1, 18, 1.5)
    assert laws.reach_noncentral_t(2.1, 18, 1.5) == pytest.approx(both)
    assert laws.reach_noncentral_t(4.3, 2, 30) == pytest.approx(stats.nct.sf(4.3, 2, 30)), "the far tail is 0"


@pytest.mark.parametrize("share", [0.02, 0.3, 0.5, 0.9])
def test_two_sets_have_the_degrees_of_freedom_of_their_difference(share: float) -> None:
    """Kenward and Roger's for one contrast are 2/A, also at A = 1/2, where their formula divides by nothing."""
    one, of_boards = np.eye(2), np.zeros(1)
    turned, weights = np.stack([one, 0 * one]), np.array([[share, 0.0], [0.0, 0.0]])
    fit = RandomBoards(np.array([1.0, 0.0]), one, of_boards, np.eye(3), 1.0, 1.0, one, turned, weights)
    statistic, df = fit.test_equal()
    assert df == pytest.approx(2 / share)
    assert statistic == pytest.approx(0.5)  # a difference of 1 with the variance 2
