"""Rounds of a whole plan: which pieces share a set-up, and the least time that the stock takes."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.plan.clamping import ClampKind, Clamps, ToClamp, bound_clamping, choose_set_up, deal_rounds

HOUR = 3600.0
WEIGHTS = Clamps("steel", ClampKind.WEIGHT, 2, 300.0, side_by_side=3)


def test_pieces_pressed_otherwise_do_not_share_a_set_up() -> None:
    screws = Clamps("bar", ClampKind.SCREW, 2, 3000.0, in_line=2)
    soft, hard = choose_set_up(500.0, 4, [screws]), choose_set_up(2000.0, 4, [screws])
    assert soft is not None
    assert hard is not None
    queue = [ToClamp(one, HOUR) for one in (soft, hard, soft, hard, soft, soft)]
    assert deal_rounds(queue, [screws]) == (0, 0, 0, 0, 1, 1)
    longer = [ToClamp(soft, HOUR), ToClamp(soft, 2 * HOUR), ToClamp(soft, 3 * HOUR)]
    assert deal_rounds(longer, [screws]) == (0, 0, 1)


def test_twenty_pieces_three_per_weight_set_take_four_days() -> None:
    three = choose_set_up(100.0, 20, [WEIGHTS])
    assert three is not None
    queue = [ToClamp(three, 24 * HOUR)] * 20
    rounds = deal_rounds(queue, [WEIGHTS])
    assert [rounds.count(turn) for turn in range(4)] == [6, 6, 6, 2]
    # six at a time: 20 / 6 days is the least, and no plan is faster
    assert bound_clamping(queue, [WEIGHTS]) == pytest.approx(20 / 6 * 24 * HOUR)


@given(st.lists(st.sampled_from([60.0, 100.0, 900.0, 2500.0]), min_size=1, max_size=60), st.integers(1, 5))
def test_no_round_takes_more_clamps_than_there_are(asked: list[float], number: int) -> None:
    screws = Clamps("bar", ClampKind.SCREW, number, 3000.0, in_line=3)
    set_ups = [choose_set_up(force, len(asked), [screws]) for force in asked]
    queue = [ToClamp(one, HOUR) for one in set_ups if one is not None]
    rounds = deal_rounds(queue, [screws])
    assert list(rounds) == sorted(rounds)
    for each in set(rounds):
        mine = [one.set_up for one, turn in zip(queue, rounds, strict=True) if turn == each]
        forces = {one.force_n for one in mine}
        used = sum(-(-sum(one.force_n == force for one in mine) // 3) for force in forces)
        assert used <= number
