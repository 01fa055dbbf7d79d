"""The arithmetic of made-up sheets: every slip that is put in is told with its reason, and none is invented."""

from collections.abc import Callable
from random import Random
from statistics import mean, stdev

import pytest

from adhaero.core.tables.answers import Answers
from adhaero.core.tables.bring_in import bring_in
from adhaero.core.tables.checks import Check, check_arithmetic
from adhaero.core.tables.grid import Cell, Place, name_place
from tests.core.tables.sheets import COMPUTED, Made, make_wide, population_sd

SEEDS = range(12)
Numbers = dict[Place, list[float]]


def differing(made: Made) -> dict[str, Check]:
    found = bring_in(made.book(), Answers())
    assert found.questions == ()
    return {one.cell.partition("!")[2]: one for one in check_arithmetic(found) if one.standing == "differs"}


@pytest.mark.parametrize("seed", range(40))
def test_a_sheet_without_slips_has_none(seed: int) -> None:
    random = Random(seed)
    made, _ = make_wide(
        random,
        random.randint(3, 8),
        random.randint(4, 8),
        random.sample(list(COMPUTED), 4),
        formulas=random.random() < 0.5,
        top=random.randint(0, 4),
        left=random.randint(0, 3),
        decimals=random.choice([0, 1, 2]),
    )
    assert differing(made) == {}


def typed_over(random: Random, made: Made, numbers: Numbers) -> None:
    first = random.choice(list(numbers))
    put(made, (first[0], first[1] + 6), round(mean(numbers[first]) + random.choice([-3, 7]), 1), "", "typed_over")


def range_too_short(random: Random, made: Made, numbers: Numbers) -> None:
    first = random.choice(list(numbers))
    span = f"{name_place(first)}:{name_place((first[0], first[1] + 4))}"
    put(made, (first[0], first[1] + 7), stdev(numbers[first][:-1]), f"STDEV({span})", "range_pattern")


def the_row_below(random: Random, made: Made, numbers: Numbers) -> None:
    at = random.randrange(len(numbers) - 1)
    first, below = list(numbers)[at : at + 2]
    span = f"{name_place(below)}:{name_place((below[0], below[1] + 5))}"
    put(made, (first[0], first[1] + 6), mean(numbers[below]), f"AVERAGE({span})", "neighbour")


def a_number_stored_as_text(random: Random, made: Made, numbers: Numbers) -> None:
    first = random.choice(list(numbers))
    at, values = random.randrange(6), numbers[first]
    made.cells[first[0], first[1] + at] = Cell(f"{values[at]:.0f}")
    rest = values[:at] + values[at + 1 :]
    for column, name in enumerate(("Average", "SD"), 6):
        place = (first[0], first[1] + column)
        put(made, place, float(COMPUTED[name][1](rest)), made.cells[place].formula, "left_out")


def by_the_number_of_pieces(random: Random, made: Made, numbers: Numbers) -> None:
    for first, values in numbers.items():
        place = (first[0], first[1] + 7)
        put(made, place, population_sd(values), made.cells[place].formula.replace("STDEV", "STDEVP"), "population")


def a_sum_for_a_mean(random: Random, made: Made, numbers: Numbers) -> None:
    first = random.choice(list(numbers))
    place = (first[0], first[1] + 6)
    put(made, place, sum(numbers[first]), made.cells[place].formula.replace("AVERAGE", "SUM"), "sum_for_mean")


def an_empty_cell_as_zero(random: Random, made: Made, numbers: Numbers) -> None:
    first = random.choice(list(numbers))
    at, values = random.randrange(6), numbers[first]
    del made.cells[first[0], first[1] + at]
    rest = values[:at] + values[at + 1 :]
    span = f"{name_place(first)}:{name_place((first[0], first[1] + 5))}"
    put(made, (first[0], first[1] + 6), sum(rest) / 6, f"SUM({span})/6", "blank_as_zero")
    for column, name in ((7, "SD"), (8, "Max")):
        place = (first[0], first[1] + column)
        made.cells[place] = Cell(float(COMPUTED[name][1](rest)), made.cells[place].formula)


def put(made: Made, place: Place, value: float, formula: str, why: str) -> None:
    made.cells[place] = Cell(float(value), formula)
    made.slips[place] = why


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize(
    "slip",
    [
        typed_over,
        range_too_short,
        the_row_below,
        a_number_stored_as_text,
        by_the_number_of_pieces,
        a_sum_for_a_mean,
        an_empty_cell_as_zero,
    ],
)
def test_a_slip_is_told_with_its_reason_and_both_numbers(
    slip: Callable[[Random, Made, Numbers], None], seed: int
) -> None:
    random = Random(seed)
    made, numbers = make_wide(random, 6, 6, ("Average", "SD", "Max"))
    slip(random, made, numbers)
    found = differing(made)
    assert {cell: one.why for cell, one in found.items()} == {
        name_place(place): why for place, why in made.slips.items()
    }
    for one in found.values():
        assert f"{one.shown:.6g}" in one.words
        assert f"{one.computed:.6g}" in one.words
