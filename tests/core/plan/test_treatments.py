"""Sets from what is varied: every combination once, extras only where they go, values spaced."""

from itertools import pairwise
from math import prod

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.errors import EntryError
from adhaero.core.plan.confounds import find_linked
from adhaero.core.plan.labels import check_scheme, join_codes, make_label
from adhaero.core.plan.treatments import Spacing, Varied, combine, space


@given(st.lists(st.integers(1, 6), min_size=1, max_size=3))
def test_every_combination_comes_once(counts: list[int]) -> None:
    varied = [Varied(tuple(range(100 * n, 100 * n + count))) for n, count in enumerate(counts)]
    sets = combine(varied)
    assert len(sets) == len(set(sets)) == prod(counts)


def test_thin_thick_and_gel_each_with_and_without_but_epoxy_without() -> None:
    glues = Varied((1, 2, 3, 4))
    extra = Varied((7, 8), frozenset({1, 2, 3}))
    assert combine([glues, extra]) == [(1, 7), (1, 8), (2, 7), (2, 8), (3, 7), (3, 8), (4,)]


@given(st.floats(0.01, 100), st.floats(1.5, 1000), st.integers(2, 20))
def test_by_ratio_every_step_multiplies_alike(lowest: float, times: float, count: int) -> None:
    values = space(lowest, lowest * times, count, Spacing.RATIO)
    assert len(values) == count
    assert values[-1] == pytest.approx(lowest * times)
    ratios = [b / a for a, b in pairwise(values)]
    assert ratios == pytest.approx([ratios[0]] * len(ratios))


def test_evenly_every_step_adds_alike() -> None:
    assert space(10, 50, 5, Spacing.EVEN) == pytest.approx((10, 20, 30, 40, 50))


@pytest.mark.parametrize(
    ("lowest", "highest", "count", "words"),
    [(0, 10, 4, "cannot begin at zero"), (5, 5, 4, "runs backwards"), (1, 2, 1, "1 values"), (1, 2, 61, "2 to 60")],
)
def test_a_range_that_makes_no_sense_is_told(lowest: float, highest: float, count: int, words: str) -> None:
    with pytest.raises(EntryError, match=words):
        space(lowest, highest, count, Spacing.RATIO)


def test_two_things_that_change_only_together_are_named() -> None:
    together = [{"glue": "Heron", "species": "ash"}, {"glue": "Wren", "species": "larch"}]
    assert len(find_linked(together)) == 1
    assert "Glue and species change together" in find_linked(together)[0]
    assert find_linked([*together, {"glue": "Wren", "species": "ash"}]) == ()
    assert find_linked([{"glue": "Heron"}, {"glue": "Wren"}]) == ()


@given(st.lists(st.tuples(st.sampled_from(["H", "W", "30", "6"]), st.sampled_from(["6", "10", "A"])), max_size=12))
def test_codes_of_sets_are_unique(parts: list[tuple[str, str]]) -> None:
    codes = join_codes(parts)
    assert len(set(codes)) == len(codes)


@pytest.mark.parametrize(
    ("scheme", "words"),
    [
        ("{set}", "several pieces the same label"),
        ("", "Nothing was typed"),
        ("{glue}-{no}", "“{glue}” is not known"),
        ("{set-{no}", "A bracket is open"),
    ],
)
def test_a_scheme_that_does_not_tell_pieces_apart_is_told(scheme: str, words: str) -> None:
    with pytest.raises(EntryError, match=words):
        check_scheme(scheme)


def test_a_scheme_of_every_part() -> None:
    assert check_scheme(" {trial}/{wood} {board}-{place} ") == "{trial}/{wood}{board}-{place}"
    values: dict[str, str | int] = {"trial": 3, "wood": "L", "board": 2, "place": 11, "set": "H", "no": 4, "n": 1}
    assert make_label("{trial}/{wood}{board}-{place}", values, 40) == "3/L2-11"
    with pytest.raises(EntryError, match="21 letters"):
        make_label("{set}-{no}", {"set": "H" * 18, "no": 4}, 40)
