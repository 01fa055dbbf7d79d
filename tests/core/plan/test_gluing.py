"""Glue and clamps of a plan: masses, money, packs, rounds, dummies."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.plan.clamping import ClampKind, Clamps, choose_set_up
from adhaero.core.plan.gluing import GlueCard, compute_glue_need, compute_void_share, split_batch

KG = 9.80665


def test_glue_for_forty_pieces_by_hand() -> None:
    card = GlueCard("Heron", "epoxy", spread_g_m2=240, pack_g=750, price=38, left_g=30, mix_ratio=2)
    need = compute_glue_need(card, [(40, 3902.1)], faces=2, waste_pct=30)
    # 40 · 39.021 cm² · 240 g/m² · 2 faces · 1.3
    assert need.mass_g == pytest.approx(97.396, abs=0.01)
    assert (need.first_part_g, need.second_part_g) == (pytest.approx(64.93, abs=0.01), pytest.approx(32.47, abs=0.01))
    assert need.packs == 1, "30 g are left of the open pack"
    assert need.cost == pytest.approx(97.396 * 38 / 750, abs=0.001)
    assert need.price_per_piece == pytest.approx((need.cost or 0) / 40)
    assert need.per_100_cm2 == pytest.approx((need.cost or 0) / (40 * 39.021) * 100)
    assert need.missing == ()


def test_enough_in_the_open_pack_buys_nothing() -> None:
    card = GlueCard("Wren", "PVA", spread_g_m2=180, pack_ml=500, density_g_ml=1.1, price=11.5, left_g=140)
    need = compute_glue_need(card, [(16, 270.0)], 2, 30)
    assert need.packs == 0
    assert need.cost == pytest.approx((need.mass_g or 0) * 11.5 / 550)


def test_what_the_price_waits_for_is_named() -> None:
    need = compute_glue_need(GlueCard("Plover", "polyurethane"), [(8, None)], 1, 0)
    assert need.missing == ("the sizes of the joint", "its spread rate", "its price", "its pack size")
    assert (need.mass_g, need.cost, need.packs) == (None, None, None)


def test_pieces_that_fit_the_open_time() -> None:
    assert split_batch(40, 50, 360) == (7, 6)
    assert split_batch(3, 600, 300) == (1, 3), "at least one"


def test_a_gap_keeps_the_share_that_was_water() -> None:
    assert compute_void_share(0.46) == pytest.approx(0.54)


def test_fourteen_pieces_on_two_weight_sets_of_two_go_in_four_rounds() -> None:
    found = choose_set_up(100, 14, [Clamps("block of steel", ClampKind.WEIGHT, 2, 200, side_by_side=2)])
    assert found is not None
    assert found.rounds == (2, 2, 2, 1)
    assert found.dummies == 0


def test_an_odd_piece_under_a_shared_weight_gets_a_dummy() -> None:
    found = choose_set_up(0.5 * 27.5 * KG, 5, [Clamps("weight", ClampKind.WEIGHT, 1, 27.5 * KG, side_by_side=2)])
    assert found is not None
    assert (found.rounds, found.dummies) == ((1, 1, 1), 1)
    assert found.force_n == pytest.approx(27.5 * KG / 2)


def test_weights_that_are_too_light_are_not_offered() -> None:
    assert choose_set_up(500, 4, [Clamps("weight", ClampKind.WEIGHT, 1, 200)]) is None
    assert choose_set_up(500, 4, []) is None


def test_a_screw_clamp_is_turned_to_the_force_asked_for() -> None:
    found = choose_set_up(2341, 12, [Clamps("bar clamp", ClampKind.SCREW, 6, 3000, in_line=3, side_by_side=2)])
    assert found is not None
    # one clamp for three in line; two side by side would take two clamps for six
    assert found.force_n == pytest.approx(2341)
    assert sum(found.rounds) * found.in_line * found.side_by_side >= 12


@given(st.integers(1, 200), st.integers(1, 12), st.integers(1, 4), st.integers(1, 4), st.floats(10, 5000))
def test_every_piece_has_its_place_and_no_clamp_is_used_twice(
    pieces: int, number: int, in_line: int, beside: int, asked: float
) -> None:
    stock = Clamps("c", ClampKind.SCREW, number, 3000, in_line, beside)
    found = choose_set_up(asked, pieces, [stock])
    if found is None:
        assert asked > 3000 * min(number, 8) * 0.99
        return
    places = sum(found.rounds) * found.in_line * found.side_by_side
    assert places >= pieces
    assert places - found.in_line * found.side_by_side < pieces, "no set-up too many"
    assert max(found.rounds) * found.clamps <= number
    assert found.force_n == pytest.approx(asked)
    assert 0 <= found.dummies < found.side_by_side
