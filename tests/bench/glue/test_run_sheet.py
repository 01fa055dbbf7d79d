"""The run sheet: glue on, closed, in the clamp, in that order, with the open time on the clock."""

from collections.abc import Callable
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.glue import batches, clamps, run_sheet, run_steps
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.glue.run_sheet import GlueStep, view_run_sheet
from adhaero.bench.glue.run_steps import mark_step
from adhaero.bench.saw import pieces
from adhaero.bench.shop.clamps import ClampsEntry, save_clamps
from adhaero.bench.shop.glue_figures import edit_figure
from adhaero.bench.shop.glues import edit_glue
from adhaero.core.errors import AdhaeroError, EntryError, FormError, StaleEdit, StateError
from adhaero.core.pieces import PieceState
from adhaero.core.plan.gluing import compute_mix
from tests.shops import Shop, new_shop, typed_break


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    """A glue-up of all eight pieces, nothing done yet."""
    shop = new_shop(tmp_path).plan().saw()
    batches.start_batch(shop.file, shop.trial, BatchEntry([one.id for one in shop.pieces], "Wren"))
    return shop


def sheet(shop: Shop) -> run_sheet.RunSheet:
    return view_run_sheet(shop.file, shop.trial, 1)


def step(shop: Shop, name: str, *numbers: int) -> None:
    chosen = [sheet(shop).pieces[number].id for number in numbers]
    mark_step(shop.file, shop.trial, chosen, name)


def test_each_piece_is_spread_closed_and_clamped_on_the_clock(shop: Shop) -> None:
    assert [one.next for one in sheet(shop).pieces] == [GlueStep.SPREAD] * 8
    step(shop, "spread", 0)
    shop.clock.forward(minutes=3)
    step(shop, "closed", 0)
    shop.clock.forward(minutes=1)
    step(shop, "clamped", 0)
    first = sheet(shop).pieces[0]
    assert (first.next, first.open_s, first.late) == (None, 180.0, False)
    piece = next(one for one in shop.pieces if one.id == first.id)
    assert piece.state is PieceState.CLAMPED
    # two hours in the clamp run from when it was on, a day of cure from when it was closed
    assert piece.release_due_utc == "2026-03-02T10:04:00.000Z"
    assert piece.closed_utc == "2026-03-02T08:03:00.000Z"


def test_what_lay_open_too_long_is_marked_and_said_beside_the_result(shop: Shop) -> None:
    step(shop, "spread", *range(8))
    shop.clock.forward(minutes=4)
    step(shop, "closed", *range(6))
    shop.clock.forward(minutes=2)
    step(shop, "closed", 6, 7)
    assert [one.late for one in sheet(shop).pieces] == [False] * 6 + [True] * 2, "cross-linking PVA stays open 5 min"
    step(shop, "clamped", *range(8))
    shop.cure()
    for one in sheet(shop).pieces:
        break_by_hand(shop.file, shop.trial, typed_break(one.id, "70 N", Judgement("broke", "0")))
    late = {one.label for one in sheet(shop).pieces[6:]}
    said = next(words for words in view_compare(shop.file, shop.trial, Choice()).mind if "open time" in words)
    assert all(label in said for label in late)
    assert all(one.treatment in said for one in shop.pieces if one.label in late), "the sets it touches are named"


@pytest.mark.parametrize(
    ("act", "words"),
    [
        (lambda s: step(s, "closed", 0), "No glue is recorded on .* yet"),
        (lambda s: (step(s, "spread", 0), step(s, "spread", 0)), "has its glue already"),
        (lambda s: (step(s, "spread", 0), step(s, "clamped", 1)), "Clamps go on after the glue is spread"),
        (lambda s: (step(s, "clamped", 0), step(s, "clamped", 0)), "in clamps already"),
        (lambda s: step(s, "sanded", 0), "“sanded” is no step"),
        (lambda s: clamps.take_clamps_off(s.file, s.trial, [s.pieces[0].id]), "is not in clamps"),
        (lambda s: view_run_sheet(s.file, s.trial, 9), "no glue-up 9"),
    ],
)
def test_steps_out_of_order_are_told(shop: Shop, act: Callable[[Shop], object], words: str) -> None:
    with pytest.raises(AdhaeroError, match=words):
        act(shop)


def test_a_time_before_the_step_that_comes_first_is_told(shop: Shop) -> None:
    step(shop, "spread", 0)
    shop.clock.forward(minutes=5)
    first = sheet(shop).pieces[0].id
    with pytest.raises(EntryError, match="was spread after that"):
        mark_step(shop.file, shop.trial, [first], "closed", "2026-03-02T07:59:00Z")
    with pytest.raises(EntryError, match="Clamps come last"):
        mark_step(shop.file, shop.trial, [first], "clamped", "2026-03-02T07:59:00Z")


def test_all_that_is_wrong_with_a_glue_up_is_told_at_once(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    shop.edit("glue", "Tern")
    shop.saw()
    ids = tuple(piece.id for piece in shop.pieces[:2])
    entry = BatchEntry(ids, "Tern", humidity="damp", shop_temperature="65", started_utc="2999-01-01T00:00:00Z")
    with pytest.raises(FormError) as refused:
        batches.start_batch(shop.file, shop.trial, entry)
    assert [one.field for one in refused.value.faults] == ["family", "started_utc", "shop_temperature", "humidity"]
    assert refused.value.faults[0].what == "The glue's family is not said."


def test_all_at_once_still_works_without_the_steps_between(shop: Shop) -> None:
    clamps.put_clamps_on(shop.file, shop.trial, [one.id for one in shop.pieces])
    assert all(one.next is None and one.open_s is None and not one.late for one in sheet(shop).pieces)
    assert {one.state for one in shop.pieces} == {PieceState.CLAMPED}


def test_what_is_laid_out_and_weighed(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    edit_glue(shop.file, 1, "family", "cross-linking PVA", "epoxy")
    edit_figure(shop.file, 1, "mix_ratio", "", "2.5")
    save_clamps(shop.file, ClampsEntry("cast weight", "weight", "4", "40 kg", side_by_side="2"))
    pieces.mark_sawn(shop.file, shop.trial, [one.id for one in shop.pieces])
    run_steps.mark_prepared(shop.file, shop.trial, [shop.pieces[0].id])
    batches.start_batch(shop.file, shop.trial, BatchEntry([one.id for one in shop.pieces[:5]], "Wren"))
    found = sheet(shop)
    # 5 · 270 mm² · 250 g/m² usual for epoxy · 2 faces · 1.3
    assert found.mass_g == pytest.approx(0.8775)
    assert found.mix is not None
    assert (found.mix.first_g, found.mix.second_g) == (pytest.approx(0.8), pytest.approx(0.3))
    assert found.mix.off_pct == pytest.approx(20 / 3), "a tenth of a gram is coarse here"
    assert found.set_up is not None
    laid = " ".join(found.lay_out)
    assert "3 × cast weight" in laid
    assert "1 dummy piece" in laid
    run_steps.mix_now(shop.file, shop.trial, 1)
    with pytest.raises(StateError, match="mixed already"):
        run_steps.mix_now(shop.file, shop.trial, 1)


def test_a_mix_is_enough_and_close_to_its_ratio() -> None:
    mix = compute_mix(97.4, 2, 1)
    assert (mix.first_g, mix.second_g, mix.off_pct) == (66, 33, 0)
    assert compute_mix(10, 100 / 45, 0.1).off_pct < 1


def test_who_glued_what_was_weighed_and_what_went_otherwise(shop: Shop) -> None:
    run_steps.edit_batch(shop.file, shop.trial, 1, "who", "", "M.")
    run_steps.edit_batch(shop.file, shop.trial, 1, "spread", "", "1.4")
    assert (sheet(shop).who, sheet(shop).spread_typed) == ("M.", "1.4 g")
    with pytest.raises(StaleEdit, match=r"glue weighed was changed to “1\.4 g”"):
        run_steps.edit_batch(shop.file, shop.trial, 1, "spread", "1 g", "2 g")
    piece = sheet(shop).pieces[0]
    run_steps.note_deviation(shop.file, shop.trial, piece.id, "", "slid")
    clamps.put_clamps_on(shop.file, shop.trial, [one.id for one in shop.pieces])
    shop.cure()
    break_by_hand(shop.file, shop.trial, typed_break(piece.id, "70 N", Judgement("broke", "0")))
    assert f"Went otherwise, and counts: {piece.label} (slid)." in view_compare(shop.file, shop.trial, Choice()).mind
