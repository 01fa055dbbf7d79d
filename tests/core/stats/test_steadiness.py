"""Scatter compared: Brown and Forsythe against scipy's test, pairs, words."""

import numpy as np
import pytest
from scipy import stats

from adhaero.core.errors import DataError
from adhaero.core.stats.steadiness import compare_steadiness, say_steadiness


def draw(seed: int, spread: float, n: int = 12) -> list[float]:
    return [float(one) for one in np.exp(4 + np.random.default_rng(seed).normal(0, spread, n))]


def test_the_test_is_that_of_an_independent_program() -> None:
    numbers = {"Heron": draw(1, 0.2), "Wren": draw(2, 0.1, 9), "Plover": draw(3, 0.15, 7)}
    theirs = stats.levene(*(np.log(one) for one in numbers.values()), center="median")
    ours = compare_steadiness(numbers).overall
    assert (ours.statistic, ours.p) == (pytest.approx(theirs.statistic), pytest.approx(theirs.pvalue))


def test_a_set_that_scatters_half_as_much_is_named() -> None:
    found = compare_steadiness({"Heron": draw(1, 0.24, 40), "Wren": draw(2, 0.12, 40), "few": [50.0, 51.0]})
    assert [one.level for one in found.sets] == ["Wren", "Heron"]
    (clear,) = found.clear
    assert (clear.steadier, clear.ratio) == ("Wren", pytest.approx(0.5, abs=0.12))
    said = " ".join(say_steadiness(found))
    assert said.startswith("Wren is steadier than Heron: it scatters ")
    assert "Fewer than 3 pieces that broke, and not compared: few." in said


def test_strength_alone_makes_no_set_unsteady() -> None:
    weak = draw(5, 0.1, 10)
    found = compare_steadiness({"weak": weak, "strong": [3 * one for one in weak]})
    assert found.overall.p > 0.99
    assert "is not shown" in say_steadiness(found)[0]


def test_too_little_to_compare_is_said() -> None:
    with pytest.raises(DataError, match="two sets with 3 pieces"):
        compare_steadiness({"Heron": [1.0, 2.0, 3.0], "Wren": [1.0]})
    with pytest.raises(DataError, match="No set scatters"):
        compare_steadiness({"Heron": [1.0, 1.0, 1.0], "Wren": [2.0, 2.0, 2.0]})
