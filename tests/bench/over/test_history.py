"""The history of a trial: when, what, which piece, from what to what, and why; of one piece too."""

from dataclasses import replace
from pathlib import Path

from adhaero.bench.breaking.corrections import CorrectionEntry, correct_break
from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.exclusions import exclude_piece
from adhaero.bench.cure.sizes import measure
from adhaero.bench.over.history import view_history
from adhaero.bench.over.undo import undo
from tests.shops import Shop, ready_shop, typed_break


def told(folder: Path) -> Shop:
    shop = ready_shop(folder)
    first, second = shop.pieces[0].id, shop.pieces[1].id
    measure(shop.file, shop.trial, first, "width_mm", "", "30.2 mm")
    for piece in (first, second):
        break_by_hand(shop.file, shop.trial, typed_break(piece, "600 N", Judgement("broke", "25")))
    exclude_piece(shop.file, shop.trial, second, "fixture slipped")
    values = view_break(shop.file, shop.trial, first).piece.values  # type: ignore[union-attr]
    assert values is not None
    entry = CorrectionEntry(values, replace(values, load="660 N"), "read the wrong line")
    correct_break(shop.file, shop.trial, shop.pulls()[-1].id, entry)
    return shop


def test_each_change_says_from_what_to_what_and_why(tmp_path: Path) -> None:
    shop = told(tmp_path)
    corrected, aside, second, first, measured, *_ = view_history(shop.file, shop.trial).lines
    label, other = shop.pieces[0].label, shop.pieces[1].label
    assert (corrected.what, corrected.reason) == ("Corrected a break", "read the wrong line")
    assert [(one.label, one.words, one.before, one.after) for one in corrected.details] == [
        (label, "load", "600 N", "660 N")
    ]
    assert (aside.reason, aside.details[0].label, aside.details[0].words) == ("fixture slipped", other, "set aside")
    assert {one.label for one in second.details} == {other}
    assert ("load, as typed", "", "600 N") in [(one.words, one.before, one.after) for one in first.details]
    assert [(one.words, one.after) for one in measured.details] == [("width", "30.2 mm")]


def test_one_piece_has_a_history_of_its_own_with_what_was_done_to_many_at_once(tmp_path: Path) -> None:
    shop = told(tmp_path)
    view = view_history(shop.file, shop.trial, shop.pieces[1].id)
    assert [line.what for line in view.lines[:2]] == ["Set a piece aside", "Kept a break"]
    assert "Clamps off" in [line.what for line in view.lines]
    assert {one.label for line in view.lines for one in line.details if one.piece_id} == {shop.pieces[1].label}
    assert view.is_whole
    assert len(view.pieces) == 8


def test_what_was_undone_stays_in_the_history(tmp_path: Path) -> None:
    shop = told(tmp_path)
    undo(shop.file, shop.trial)
    lines = view_history(shop.file, shop.trial).lines
    assert lines[0].what == "Undid: Corrected a break"
    assert lines[1].undone
    assert not view_history(shop.file, shop.trial, most=3).is_whole
