"""Matched pairs: neighbours on a board, and two halves of one bar that is glued in one and ripped apart."""

from pathlib import Path

import pytest

from adhaero.bench.glue import batches, clamps, run_sheet
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.plan import levels, settled, treatments
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry, add_boards, remove_board, take_from_shop
from adhaero.bench.plan.view import PlanView
from adhaero.bench.saw import cut_list, pieces
from adhaero.bench.shop import boards
from adhaero.bench.shop import clamps as shop_clamps
from adhaero.bench.shop.boards import StockBoardEntry
from adhaero.bench.shop.clamps import ClampsEntry
from adhaero.core.plan.treatments import TreatmentKind
from tests.shops import Shop, new_shop


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    shop = new_shop(tmp_path).plan()
    vary_only(shop, "condition", "kept dry", "soaked 24 h")
    for name, typed in (("length_mm", "140 mm"), ("matched", "halves"), ("pieces_each", "4")):
        shop.edit(name, typed)
    return shop


def vary_only(shop: Shop, kind: str, *values: str) -> None:
    for level in view(shop).factors[0].levels:
        levels.remove_level(shop.file, shop.trial, level.id)
    shop.vary(kind, values)


def view(shop: Shop) -> PlanView:
    return plan_view.view_plan(shop.file, shop.trial)


def test_a_bar_is_glued_and_clamped_as_one(shop: Shop) -> None:
    shop_clamps.save_clamps(shop.file, ClampsEntry("bar clamp", "screw clamp", "8", "3 kN"))
    dry, wet = view(shop).consequences.forces
    # 0.7 MPa on 30 · 9 mm², twice on a bar of two
    assert dry.force_n == pytest.approx(0.7 * 270)
    assert dry.set_up is not None
    assert dry.set_up.asked_n == pytest.approx(2 * 0.7 * 270)
    assert (dry.bar, wet.glued_with, wet.set_up) == (True, "kept dry", dry.set_up)
    days = view(shop).consequences.days
    assert days is not None
    assert days.words.startswith("1 round of clamps")


def test_a_bar_is_sawn_twice_as_wide(shop: Shop) -> None:
    for board in view(shop).boards:
        remove_board(shop.file, shop.trial, board.id)
    ids = boards.save_stock_board(shop.file, StockBoardEntry("Larch", "larch", "1 m", "80 mm", "14 mm"))
    take_from_shop(shop.file, shop.trial, ids)
    first, second = cut_list.view_cut_list(shop.file, shop.trial).parts
    # the grain of an edge joint runs across its line: 30 + 3 of kerf + 2 to plane + 30 along it
    assert (first.length_mm, first.number, second.number) == (65, 4, 4)
    labels = {cut.label for board in cut_list.view_cut_list(shop.file, shop.trial).boards for cut in board.cuts}
    assert len(labels) == 4
    assert all(" + " in label for label in labels)


def test_what_is_done_with_one_half_is_done_with_both(shop: Shop) -> None:
    settled.freeze_plan(shop.file, shop.trial)
    assert [step.words for step in view(shop).steps] == ["Rip each bar into its two pieces, and label both"]
    one = shop.pieces[0]
    pieces.mark_sawn(shop.file, shop.trial, [one.id])
    sawn = [piece for piece in shop.pieces if piece.state == "sawn"]
    assert len(sawn) == 2
    batch = batches.start_batch(shop.file, shop.trial, BatchEntry([one.id], "Wren"))
    assert {piece.treatment for piece in shop.pieces if piece.batch == 1} == {"kept dry", "soaked 24 h"}
    assert len(run_sheet.view_run_sheet(shop.file, shop.trial, batch).pieces) == 2
    clamps.put_clamps_on(shop.file, shop.trial, [one.id])
    assert {piece.clamped_utc for piece in shop.pieces if piece.batch == 1} == {"2026-03-02T08:00:00.000Z"}


def test_halves_cannot_differ_in_what_comes_before_gluing(shop: Shop) -> None:
    assert view(shop).problems == []
    shop.edit("matched", "neighbours")
    vary_only(shop, "prep", "planed", "scraped")
    assert view(shop).problems == []
    shop.edit("matched", "halves")
    assert any("cannot differ in surface prep" in words for words in view(shop).problems)
    shop.edit("joint", "mortise-tenon")
    shop.add("sanded")
    assert any("nothing has" in words for words in view(shop).problems)


def test_a_joint_that_does_not_run_through_is_not_ripped(shop: Shop) -> None:
    shop.edit("joint", "dowels")
    assert any("dowels does not run through" in words for words in view(shop).problems)


def test_a_baseline_stands_beside_matched_pairs(shop: Shop) -> None:
    treatments.add_control(shop.file, shop.trial, TreatmentKind.SOLID)
    add_boards(shop.file, shop.trial, BoardEntry("larch", "4"))
    settled.freeze_plan(shop.file, shop.trial)
    assert len(shop.pieces) == 12
    assert sum(piece.solid for piece in shop.pieces) == 4
