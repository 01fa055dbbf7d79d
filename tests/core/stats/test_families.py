"""Several comparisons at once, against SciPy's slower functions and a finer rule."""

import numpy as np
import pytest
from scipy import stats

from adhaero.core.stats.families import all_pairs

DF = np.array([2.0, 3.7, 10.0, 44.0, np.inf])


@pytest.mark.parametrize("groups", [2, 3, 6, 32])
def test_the_studentized_range_is_scipys(groups: int) -> None:
    family = all_pairs(groups)
    for q in (0.5, 2.0, 3.5, 6.0, 15.0):
        ours = family.compute_sf(np.full(DF.size, q), DF)
        assert ours == pytest.approx(stats.studentized_range.sf(q, groups, DF), abs=2e-7)
    assert family.compute_sf(family.compute_quantile(0.95, DF), DF) == pytest.approx(np.full(DF.size, 0.05), rel=1e-8)


def test_two_groups_are_students_t() -> None:
    q = np.array([0.3, 1.4, 2.9, 8.0])
    for df in (1.2, 3.0, 17.0, 500.0):
        ours = all_pairs(2).compute_sf(q, np.full(4, df))
        assert ours == pytest.approx(2 * stats.t.sf(q / np.sqrt(2), df), abs=1e-9)


def test_more_groups_need_more_room() -> None:
    points = [all_pairs(k).compute_quantile(0.95, np.array([12.0]))[0] for k in (2, 3, 8, 40, 200)]
    assert points == sorted(points)


@pytest.mark.parametrize("sets", [3, 128])
def test_many_degrees_of_freedom_at_once_give_what_each_gives_by_itself(sets: int) -> None:
    df = np.append(np.linspace(1.5, 60, 99), np.inf)
    family = all_pairs(sets)
    alone = [family.compute_quantile(0.95, np.array([one]))[0] for one in df]
    assert family.compute_quantile(0.95, df) == pytest.approx(alone, rel=2e-6)
