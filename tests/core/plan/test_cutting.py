"""Sawing: parts stay on their board and off its defects, and what finds no room is said."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.joint import Member
from adhaero.core.plan.cutting import (
    Allowances,
    BoardSize,
    CutMap,
    compute_wood_bill,
    count_pieces,
    explain_no_fit,
    make_parts,
    saw_board,
)

SHAFT = (Member("first part", 238, 22, 22), Member("second part", 238, 22, 22))
PLANK = BoardSize(1900, 60, 26)


def saw(board: BoardSize, pieces: int, members: tuple[Member, ...] = SHAFT, **how: bool) -> CutMap:
    parts = [part for number in range(pieces) for part in make_parts(number, members, Allowances())]
    return saw_board(board, parts, Allowances(), **how)


def test_a_plank_of_two_strips_and_seven_parts_each_yields_seven_shafts() -> None:
    # strips of 24 mm and 3 mm kerf: (60 + 3) // 27 = 2; along 1860 mm: 1860 // (238 + 3) = 7 parts
    assert count_pieces(PLANK, SHAFT, Allowances()) == 7
    assert saw(PLANK, 7).left_over == ()
    assert saw(PLANK, 8).left_over == (7,)


def test_a_knot_costs_the_parts_that_would_lie_over_it() -> None:
    # clear runs of 460 and 1340 mm: 1 + 5 parts a strip
    assert count_pieces(BoardSize(1900, 60, 26, ((480, 540),)), SHAFT, Allowances()) == 6


def test_a_board_twice_as_thick_is_resawn() -> None:
    thick = saw(BoardSize(1900, 60, 52), 14)
    assert thick.layers == 2
    assert thick.left_over == ()


def test_parts_of_a_piece_lie_next_to_each_other_when_wished() -> None:
    cuts = saw(PLANK, 6, together=True).cuts
    for piece in range(6):
        first, second = sorted((cut for cut in cuts if cut.part.piece == piece), key=lambda cut: cut.x_mm)
        assert first.y_mm == second.y_mm
        assert second.x_mm == pytest.approx(first.x_mm + 238 + 3)


@pytest.mark.parametrize(
    ("board", "words"),
    [
        (BoardSize(250, 60, 26), "longest clear stretch is 210 mm, and a part takes 238 mm"),
        (BoardSize(1900, 20, 26), "it is 20 mm wide, and a part takes 24 mm"),
        (BoardSize(1900, 60, 18), "it is 18 mm thick, and a part takes 24 mm"),
    ],
)
def test_why_no_part_fits_is_said(board: BoardSize, words: str) -> None:
    assert count_pieces(board, SHAFT, Allowances()) == 0
    assert words in (explain_no_fit(board, SHAFT[0], Allowances()) or "")


def test_what_is_short_is_bought_in_boards_like_the_last() -> None:
    maps = [saw(PLANK, 10)]
    parts = [part for number in range(10) for part in make_parts(number, SHAFT, Allowances())]
    bill = compute_wood_bill(parts, maps, Allowances())
    assert bill.boards_to_buy == 1, "three shafts are left over, and a plank holds seven"
    assert bill.needed_mm == pytest.approx(20 * 241)
    assert bill.there_mm == pytest.approx(2 * 1860)


lengths = st.integers(20, 400)


@given(
    st.lists(st.tuples(lengths, st.integers(8, 60), st.integers(5, 30)), min_size=1, max_size=25),
    st.tuples(st.integers(100, 2500), st.integers(20, 300), st.integers(10, 80)),
    st.lists(st.tuples(st.integers(0, 2000), st.integers(1, 300)), max_size=3),
    st.booleans(),
)
def test_no_part_leaves_its_board_or_lies_over_another_or_a_defect(
    sizes: list[tuple[int, int, int]],
    board: tuple[int, int, int],
    knots: list[tuple[int, int]],
    together: bool,
) -> None:
    size = BoardSize(*board, tuple((low, low + long) for low, long in knots))
    members = [Member(f"part {n}", *one) for n, one in enumerate(sizes)]
    parts = [part for number, one in enumerate(members) for part in make_parts(number, [one], Allowances())]
    found = saw_board(size, parts, Allowances(), together=together)
    placed = {cut.part.piece for cut in found.cuts}
    assert placed | set(found.left_over) == set(range(len(sizes)))
    assert not placed & set(found.left_over)
    for number, cut in enumerate(found.cuts):
        right, far = cut.x_mm + cut.part.length_mm, cut.y_mm + cut.part.width_mm
        assert cut.x_mm >= 20 - 1e-6
        assert right <= size.length_mm - 20 + 1e-6
        assert far <= size.width_mm + 1e-6
        assert all(right <= low + 1e-6 or cut.x_mm >= high - 1e-6 for low, high in size.defects)
        for other in found.cuts[:number]:
            apart = (
                other.layer != cut.layer
                or other.x_mm + other.part.length_mm + 3 <= cut.x_mm + 1e-6
                or right + 3 <= other.x_mm + 1e-6
                or other.y_mm + other.part.width_mm + 3 <= cut.y_mm + 1e-6
                or far + 3 <= other.y_mm + 1e-6
            )
            assert apart, (cut, other)
