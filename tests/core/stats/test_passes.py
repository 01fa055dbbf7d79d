"""Counts of passes: the one-sided bound of Clopper and Pearson, and how many more make a claim."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from adhaero.core.errors import DataError
from adhaero.core.stats.passes import count_passes, say_passes


@pytest.mark.parametrize(
    ("passed", "n", "lower"),
    # without a failure the bound is 0.05^(1/n); the others from tables of the exact binomial bound
    [(10, 10, 0.05**0.1), (59, 59, 0.05 ** (1 / 59)), (9, 10, 0.6058), (19, 20, 0.7839), (1, 10, 0.0051)],
)
def test_the_bound_is_that_of_the_tables(passed: int, n: int, lower: float) -> None:
    assert count_passes(passed, n).lower == pytest.approx(lower, abs=5e-5)


@given(st.integers(1, 60), st.data())
def test_at_the_bound_so_many_passes_come_one_time_in_twenty(n: int, data: st.DataObject) -> None:
    passed = data.draw(st.integers(1, n))
    lower = count_passes(passed, n).lower
    assert stats.binom.sf(passed - 1, n, lower) == pytest.approx(0.05, rel=1e-6)


@given(st.integers(0, 40), st.integers(0, 6))
def test_so_many_more_make_the_claim_and_one_fewer_does_not(passed: int, failed: int) -> None:
    if passed + failed == 0:
        return
    more = count_passes(passed, passed + failed).more_for_claim
    assert count_passes(passed + more, passed + failed + more).lower >= 0.95
    if more:
        assert count_passes(passed + more - 1, passed + failed + more - 1).lower < 0.95


def test_fifty_nine_passes_of_fifty_nine_claim_95_percent() -> None:
    assert "95 % can be claimed" in say_passes("Heron", count_passes(59, 59))
    assert "1 more without a failure" in say_passes("Heron", count_passes(58, 58))
    assert say_passes("Heron", count_passes(0, 3)) == "Heron: 0 of 3 passed. Nothing can be claimed."


@pytest.mark.parametrize(("passed", "n"), [(0, 0), (3, 2), (-1, 4)])
def test_a_count_that_cannot_be_is_refused(passed: int, n: int) -> None:
    with pytest.raises(DataError):
        count_passes(passed, n)
