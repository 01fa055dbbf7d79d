"""Measured sizes against numbers worked by hand."""

import pytest

from adhaero.core.measuring import average, find_off_plan, find_size_give, is_in_another_unit, is_scattered
from adhaero.core.plan.deviations import is_early, is_off
from adhaero.core.quantity import Kind, parse_quantity
from adhaero.core.stats.pooled import pool_scatter


def test_several_readings_of_a_size_have_a_mean_and_a_scatter() -> None:
    mean = average([parse_quantity(one, Kind.LENGTH) for one in ("21.8 mm", "22.0 mm", "22.2 mm")])
    assert (mean.si, mean.scatter) == (pytest.approx(22.0), pytest.approx(0.2))
    assert average([parse_quantity("7/8 in", Kind.LENGTH)]).scatter is None
    assert find_size_give(0.2, 4) == pytest.approx(0.1)
    assert find_size_give(None, 1) == find_size_give(0.01, 1) == 0.05


@pytest.mark.parametrize(("mm", "off"), [(22.6, None), (22.8, pytest.approx(0.8 / 22)), (21.0, pytest.approx(-1 / 22))])
def test_a_size_is_off_the_plan_from_3_percent_on(mm: float, off: float | None) -> None:
    assert find_off_plan(mm, 22.0) == off
    assert find_off_plan(mm, None) is None


def test_what_is_told_of_sizes_and_times() -> None:
    assert [is_scattered(22.0, one) for one in (0.2, 0.23, None)] == [False, True, False]
    assert [is_in_another_unit(mm, 22.0) for mm in (0.87, 22.4, 112.0)] == [True, False, True]
    assert [is_off(real, 3600) for real in (3300, 3230, 3970)] == [False, True, True]
    assert [is_early(age, 86_400) for age in (80_000, 77_000, None)] == [False, True, False]


def test_scatter_is_pooled_within_groups() -> None:
    """Two groups, each of five at 80 and five at 125: s² of ln is 10/9 · ln(1.25)², so cv = √(exp(s²) − 1)."""
    groups = [[80.0] * 5 + [125.0] * 5, [160.0] * 5 + [250.0] * 5]
    pooled = pool_scatter(groups)
    assert pooled is not None
    assert (pooled.cv_pct, pooled.pieces) == (pytest.approx(23.85, abs=0.01), 20)
    assert pool_scatter([[80.0] * 9]) is None
