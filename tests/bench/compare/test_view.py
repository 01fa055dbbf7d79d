"""Compare: the screen's numbers are the core's, and the file it gives away leads to the same."""

import shlex
from pathlib import Path

import pytest
from typer.testing import CliRunner

from adhaero.bench.breaking.hand_break import break_by_hand, mark_odd
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.exclusions import exclude_piece, include_piece
from adhaero.bench.compare.view import view_compare
from adhaero.bench.cure.sizes import measure
from adhaero.bench.glue import clamps
from adhaero.bench.over.void import void_piece
from adhaero.bench.plan import boards, settled
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.edits import edit_plan
from adhaero.bench.plan.treatments import add_control
from adhaero.cli import app
from adhaero.core.errors import EntryError
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.stats.breaks import Estimate
from tests.shops import Shop, new_shop, ready_shop, typed_break

LOADS = {"planed": ["700 N", "710 N", "690 N", "720 N"], "toothed": ["600 N", "610 N", "590 N", "620 N"]}


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return ready_shop(tmp_path).break_all(LOADS)


def run(command: str, folder: Path) -> str:
    words = shlex.split(command)
    words[2] = str(folder / words[2])
    result = CliRunner().invoke(app, words[1:], catch_exceptions=False)
    return result.output


@pytest.mark.parametrize("choice", [Choice(), Choice(within_boards=False), Choice(within_boards=True)])
def test_the_file_and_its_command_give_the_screens_numbers(shop: Shop, tmp_path: Path, choice: Choice) -> None:
    edit_plan(shop.file, shop.trial, "margin_pct", "10 %", "12.5 %", "agreed with the customer")
    view = view_compare(shop.file, shop.trial, choice)
    file = export_breaks(shop.file, shop.trial, choice)
    (tmp_path / file.name).write_text(file.content)
    output = run(file.command, tmp_path)
    assert view.pairs[0].words in output
    for group in view.groups:
        assert f"{group.as_read.mean:.4g}" in output
        assert group.typical_ci95 is not None
        assert f"{group.typical_ci95[0]:.4g} to {group.typical_ci95[1]:.4g}" in output
    assert ("--block board" in file.command) is (view.block == "board")


def test_a_strength_is_its_load_by_the_formula_and_the_measured_sizes(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    piece = shop.pieces[0]
    measure(shop.file, shop.trial, piece.id, "width_mm", "", "28 mm")
    break_by_hand(shop.file, shop.trial, typed_break(piece.id, "700 N", Judgement("broke", "25")))
    view = view_compare(shop.file, shop.trial, Choice())
    dot = next(dot for dot in view.dots if dot.piece_id == piece.id)
    # 3·700·120 / (2·28·81): measured width, planned depth
    assert dot.strength == pytest.approx(252000 / 4536)
    assert dot.sizes_from_plan
    assert [words for words in view.mind if f"{piece.label} was not measured: the planned sizes were used" in words]


def test_boards_that_carry_every_set_are_blocks(shop: Shop) -> None:
    assert view_compare(shop.file, shop.trial, Choice()).block == "board"
    assert view_compare(shop.file, shop.trial, Choice(within_boards=False)).block is None


def test_a_piece_set_aside_is_listed_with_its_reason_and_put_back(shop: Shop) -> None:
    piece = shop.pieces[0]
    before = view_compare(shop.file, shop.trial, Choice())
    exclude_piece(shop.file, shop.trial, piece.id, "fixture slipped")
    view = view_compare(shop.file, shop.trial, Choice())
    assert [(one.specimen, one.reason) for one in view.excluded] == [(piece.label, "fixture slipped")]
    assert view.excluded_ids == [piece.id]
    assert next(use for use in view.use if use.name == piece.treatment).counted == 3
    assert "fixture slipped" in export_breaks(shop.file, shop.trial, Choice()).content
    include_piece(shop.file, shop.trial, piece.id)
    assert view_compare(shop.file, shop.trial, Choice()).groups == before.groups


def test_a_piece_that_held_is_a_bound_and_the_estimate_is_above_the_average(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    for turn, piece in enumerate(shop.pieces):
        load = f"{700 + 10 * (turn % 4)} N"
        break_by_hand(
            shop.file, shop.trial, typed_break(piece.id, load, Judgement("held" if turn == 0 else "broke", "25"))
        )
    held = shop.pieces[0]
    view = view_compare(shop.file, shop.trial, Choice(within_boards=False))
    group = next(group for group in view.groups if group.level == held.treatment)
    assert (group.n_held, group.n_broke) == (1, 3)
    assert group.typical is not None
    assert group.as_read.mean is not None
    assert group.typical > group.as_read.mean
    assert view.how["typical"].section == "typical-strength-and-scatter"
    file = export_breaks(shop.file, shop.trial, Choice(within_boards=False))
    (tmp_path / file.name).write_text(file.content)
    assert view.pairs[0].words in run(file.command, tmp_path)
    assert view.pairs[0].words not in run(f"{file.command} --plain-likelihood", tmp_path)


def test_torn_wood_counts_only_for_the_glue_alone_and_says_what_it_does(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    for piece in shop.pieces:
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, "700 N", Judgement("broke", "100")))
    built = view_compare(shop.file, shop.trial, Choice())
    glue = view_compare(shop.file, shop.trial, Choice(Estimate.GLUELINE))
    assert {dot.judged for dot in built.dots} == {"broke"}
    assert {dot.judged for dot in glue.dots} == {"held"}
    assert [group.typical for group in glue.groups] == [None, None]
    assert glue.summary is not None
    assert glue.summary.headline == "Nothing can be told: all these pieces are bounds."
    assert "held at least that" in glue.judged_words


def test_weights_in_steps_leave_a_break_between_two_of_them(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    first, second, third = shop.pieces[:3]
    break_by_hand(shop.file, shop.trial, typed_break(first.id, "700 N", Judgement("broke", "0"), held="650 N"))
    for held, outcome, words in (
        ("700 N", "broke", "It held 700 N and broke at 700 N"),
        ("600 N", "held", "goes with a piece that broke"),
    ):
        with pytest.raises(EntryError, match=words):
            break_by_hand(shop.file, shop.trial, typed_break(second.id, "700 N", Judgement(outcome, "0"), held=held))
    break_by_hand(shop.file, shop.trial, typed_break(second.id, "600 N", Judgement("broke", "0"), held="0"))
    break_by_hand(shop.file, shop.trial, typed_break(third.id, "690 N", Judgement("broke", "0")))
    dots = {dot.label: dot for dot in view_compare(shop.file, shop.trial, Choice()).dots}
    assert dots[first.label].outcome == "step"
    assert dots[first.label].held_strength == pytest.approx((dots[first.label].strength or 0) * 650 / 700)
    assert dots[second.label].held_strength == 0
    assert ",step," in export_breaks(shop.file, shop.trial, Choice()).content


def test_what_was_not_as_planned_is_said(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw().glue()
    shop.clock.forward(hours=5)  # planned: 2 h in clamps
    shop.cure()
    odd, void = shop.pieces[0], shop.pieces[1]
    mark_odd(shop.file, shop.trial, odd.id, "gap in the glue line")
    void_piece(shop.file, shop.trial, void.id, "slid")
    break_by_hand(shop.file, shop.trial, typed_break(odd.id, "600 N", Judgement("broke", "25")))
    view = view_compare(shop.file, shop.trial, Choice())
    said = "\n".join(view.mind)
    assert f"Looked odd before the break, and counts: {odd.label} (gap in the glue line)." in said
    assert "longer or shorter than planned" in said
    assert "6 pieces are not broken yet." in said
    assert [(one.specimen, one.reason) for one in view.voided] == [(void.label, "slid")]


def test_nothing_broken_yet_is_said(tmp_path: Path) -> None:
    view = view_compare(ready_shop(tmp_path).file, 1, Choice())
    assert view.waits == "No piece that counts is broken yet."
    assert view.groups == []


def test_every_set_can_be_held_against_a_baseline(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(count=3)
    boards.add_boards(shop.file, shop.trial, boards.BoardEntry("larch", "3"))
    add_control(shop.file, shop.trial, TreatmentKind.SOLID)
    shop.saw().glue().cure().break_all({**LOADS, "Solid": ["990 N", "980 N", "1 kN", "1010 N"]})
    view = view_compare(shop.file, shop.trial, Choice(against_control=True))
    assert (view.controls, view.control) == (("Solid",), "Solid")
    assert [(pair.a, pair.b) for pair in view.pairs] == [("planed", "Solid"), ("toothed", "Solid")]
    assert '--control "Solid"' in export_breaks(shop.file, shop.trial, Choice(against_control=True)).command


def test_a_set_of_an_earlier_trial_stands_beside_the_results(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path).break_all(LOADS)
    earlier = view_compare(shop.file, shop.trial, Choice())
    shop.trial = settled.copy_plan(shop.file, shop.trial)
    listed = plan_view.view_plan(shop.file, shop.trial).references
    assert [(one.words, one.pieces) for one in listed] == [
        ("toothed, in “Does a toothed edge hold better?”", 4),
        ("planed, in “Does a toothed edge hold better?”", 4),
    ]
    with pytest.raises(EntryError, match="no set that was broken"):
        shop.edit("reference_id", "77")
    shop.edit("reference_id", str(listed[1].id))
    reference = view_compare(shop.file, shop.trial, Choice()).reference
    assert reference is not None
    assert reference.as_read == next(one.as_read for one in earlier.groups if one.level == "planed")


def test_pieces_broken_before_their_cure_was_over_are_named(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw().glue()
    shop.clock.forward(hours=2)
    clamps.take_clamps_off(shop.file, shop.trial, [one.id for one in shop.pieces])
    shop.break_all({name: ["600 N"] * 4 for name in ("planed", "toothed")})
    mind = view_compare(shop.file, shop.trial, Choice()).mind
    assert any(
        words.endswith("were broken more than a tenth before the cure was over.") and "P-04" in words for words in mind
    )
