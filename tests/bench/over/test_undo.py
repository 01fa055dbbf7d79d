"""Undo works for every change: each step leaves the file as it was before, row by row."""

from collections.abc import Callable
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand, mark_odd
from adhaero.bench.breaking.judgement import FaceEntry, Judgement, judge_face
from adhaero.bench.breaking.pulls import retry_pull
from adhaero.bench.compare.exclusions import exclude_piece, include_piece
from adhaero.bench.cure import sizes
from adhaero.bench.glue import batches, clamps, run_steps
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.glue.wrong_treatment import reassign_piece
from adhaero.bench.over import void
from adhaero.bench.over.history import view_history
from adhaero.bench.over.undo import redo, undo
from adhaero.bench.plan import boards, edits, factors, levels, settled, treatments, trials
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry
from adhaero.bench.plan.levels import SpacedEntry, remove_level
from adhaero.bench.plan.treatments import add_control
from adhaero.bench.saw import pieces
from adhaero.bench.saw import steps as saw_steps
from adhaero.bench.shop import boards as shop_boards
from adhaero.bench.shop import clamps as shop_clamps
from adhaero.bench.shop import glue_figures
from adhaero.bench.shop.glues import GlueEntry, add_glue, edit_glue, remove_glue
from adhaero.bench.shop.rigs import remove_rig, save_rig
from adhaero.bench.shop.units import set_unit
from adhaero.bench.shop.view import view_shop
from adhaero.core.errors import InUse, StaleEdit, StateError
from adhaero.core.plan.treatments import Spacing, TreatmentKind
from adhaero.core.pulls import FailedIn
from adhaero.store.file import ShopFile
from adhaero.store.history import TRACED, list_changes
from tests.shops import Shop, new_shop, press, ready_shop, typed_break


def everything(file: ShopFile) -> dict[str, list[tuple[object, ...]]]:
    with file.reading() as connection:
        return {
            table: [tuple(row) for row in connection.execute(f"SELECT * FROM {table} ORDER BY id")] for table in TRACED
        }


def first(shop: Shop) -> int:
    return shop.pieces[0].id


def broken(shop: Shop) -> Shop:
    break_by_hand(shop.file, shop.trial, typed_break(first(shop), "600 N", Judgement("broke", "25")))
    return shop


def pull_id(shop: Shop) -> int:
    return shop.pulls()[-1].id


def planned(folder: Path) -> Shop:
    return new_shop(folder).plan()


def sawn(folder: Path) -> Shop:
    return new_shop(folder).plan().saw()


def glued(folder: Path) -> Shop:
    return new_shop(folder).plan().saw().glue()


def two_things(folder: Path) -> Shop:
    shop = planned(folder)
    factor = factors.add_factor(shop.file, shop.trial, "clamp_time")
    for value in ("1 h", "2 h"):
        levels.add_level(shop.file, shop.trial, factor, levels.LevelEntry(value))
    return shop


def with_plank(folder: Path) -> Shop:
    shop = planned(folder)
    shop_boards.save_stock_board(shop.file, shop_boards.StockBoardEntry("Plank", "ash", "1 m", "90 mm", "25 mm"))
    return shop


def laid_out(folder: Path) -> Shop:
    shop = sawn(folder)
    batches.start_batch(shop.file, shop.trial, BatchEntry([first(shop)], "Wren"))
    return shop


STEPS: dict[str, tuple[Callable[[Path], Shop], Callable[[Shop], object]]] = {
    "a word": (planned, lambda s: s.edit("guess", "no difference")),
    "a quantity": (planned, lambda s: s.edit("width_mm", "1-1/8 in")),
    "clearing a quantity": (planned, lambda s: s.edit("span_mm", "")),
    "the factor, which drops the sets": (planned, lambda s: s.vary("gap")),
    "the joint": (planned, lambda s: s.edit("joint", "scarf")),
    "another set": (planned, lambda s: s.add("scraped")),
    "a baseline": (planned, lambda s: add_control(s.file, s.trial, TreatmentKind.SOLID)),
    "a board": (planned, lambda s: boards.edit_board(s.file, s.trial, 1, "species", "larch", "ash")),
    "pieces of each": (planned, lambda s: s.edit("pieces_each", "2")),
    "taking a set away": (
        planned,
        lambda s: remove_level(s.file, s.trial, 1),
    ),
    "boards": (planned, lambda s: boards.add_boards(s.file, s.trial, BoardEntry("ash", "4", "2"))),
    "taking a board away": (
        planned,
        lambda s: boards.remove_board(s.file, s.trial, plan_view.view_plan(s.file, s.trial).boards[0].id),
    ),
    "one more thing varied": (planned, lambda s: factors.add_factor(s.file, s.trial, "clamp_time")),
    "an extra for some": (
        two_things,
        lambda s: factors.edit_factor(s.file, s.trial, 2, "only_with", "", "1"),
    ),
    "holding one thing constant": (two_things, lambda s: factors.remove_factor(s.file, s.trial, 2)),
    "several values at once": (
        two_things,
        lambda s: levels.add_spaced(s.file, s.trial, 2, SpacedEntry("3 h", "9 h", "3", Spacing.EVEN)),
    ),
    "a set left out": (two_things, lambda s: treatments.leave_out(s.file, s.trial, [1], out=True)),
    "pieces of one set": (planned, lambda s: treatments.edit_treatment(s.file, s.trial, 1, "pieces", "4", "2")),
    "a step besides": (planned, lambda s: saw_steps.add_step(s.file, s.trial, "drill", "before")),
    "boards from the shop": (with_plank, lambda s: boards.take_from_shop(s.file, s.trial, [1])),
    "an amendment": (
        sawn,
        lambda s: edits.edit_plan(s.file, s.trial, "clamp_time_s", "2 h", "3 h", "cold"),
    ),
    "labels by another scheme": (sawn, lambda s: s.edit("label_scheme", "{board}.{place}")),
    "prepared faces": (sawn, lambda s: run_steps.mark_prepared(s.file, s.trial, [first(s)])),
    "glue on a piece": (laid_out, lambda s: run_steps.mark_step(s.file, s.trial, [first(s)], "spread")),
    "a mix": (laid_out, lambda s: run_steps.mix_now(s.file, s.trial, 1)),
    "a piece moved to another set": (
        sawn,
        lambda s: reassign_piece(s.file, s.trial, first(s), 3 - s.piece_set(first(s)), "mixed up"),
    ),
    "who glued": (laid_out, lambda s: run_steps.edit_batch(s.file, s.trial, 1, "who", "", "M.")),
    "what went otherwise": (laid_out, lambda s: run_steps.note_deviation(s.file, s.trial, first(s), "", "slid")),
    "settling": (planned, lambda s: settled.freeze_plan(s.file, s.trial)),
    "reopening": (sawn, lambda s: settled.reopen_plan(s.file, s.trial)),
    "removing the trial": (planned, lambda s: trials.remove_trial(s.file, s.trial)),
    "ticks at the saw": (sawn, lambda s: pieces.mark_sawn(s.file, s.trial, [first(s)], sawn=False)),
    "a label": (sawn, lambda s: pieces.relabel(s.file, s.trial, first(s), s.pieces[0].label, "Q-1")),
    "a glue-up": (sawn, lambda s: batches.start_batch(s.file, s.trial, BatchEntry([first(s)], "Wren"))),
    "a note": (glued, lambda s: batches.note_batch(s.file, s.trial, 1, "", "cold in here")),
    "clamps off": (glued, lambda s: clamps.take_clamps_off(s.file, s.trial, [first(s)])),
    "a void": (glued, lambda s: void.void_piece(s.file, s.trial, first(s), "slid")),
    "a size": (ready_shop, lambda s: sizes.measure(s.file, s.trial, first(s), "width_mm", "", "29.9")),
    "a break": (ready_shop, broken),
    "an odd look": (ready_shop, lambda s: mark_odd(s.file, s.trial, first(s), "gap")),
    "another try": (lambda f: broken(ready_shop(f)), lambda s: retry_pull(s.file, s.trial, pull_id(s))),
    "what was seen": (
        lambda f: broken(ready_shop(f)),
        lambda s: judge_face(s.file, s.trial, pull_id(s), FaceEntry("25", FailedIn.WOOD)),
    ),
    "setting aside": (
        lambda f: broken(ready_shop(f)),
        lambda s: exclude_piece(s.file, s.trial, first(s), "fixture slipped"),
    ),
}


@pytest.mark.parametrize("name", STEPS)
def test_undo_puts_every_row_back_and_redo_brings_it_again(name: str, tmp_path: Path) -> None:
    prepare, act = STEPS[name]
    shop = prepare(tmp_path)
    before = everything(shop.file)
    act(shop)
    after = everything(shop.file)
    assert after != before, "the step changed something"
    undo(shop.file, shop.trial)
    assert everything(shop.file) == before
    redo(shop.file, shop.trial)
    assert everything(shop.file) == after
    undo(shop.file, shop.trial)
    assert everything(shop.file) == before


SHOP_STEPS: dict[str, Callable[[Shop], object]] = {
    "a glue": lambda s: add_glue(s.file, GlueEntry("Heron", "epoxy")),
    "another lot": lambda s: edit_glue(s.file, 1, "lot", "2207", "9"),
    "taking a glue off the shelf": lambda s: remove_glue(s.file, add_glue(s.file, GlueEntry("Gull", "fish"))),
    "a rig": lambda s: save_rig(s.file, press()),
    "a rig's calibration": lambda s: save_rig(s.file, press(factor="1.02"), save_rig(s.file, press())),
    "taking a rig away": lambda s: remove_rig(s.file, save_rig(s.file, press())),
    "boards": lambda s: shop_boards.save_stock_board(
        s.file, shop_boards.StockBoardEntry("P", "ash", "1 m", "9 cm", "25 mm")
    ),
    "clamps": lambda s: shop_clamps.save_clamps(s.file, shop_clamps.ClampsEntry("bar", "screw clamp", "6", "3 kN")),
    "a figure of a glue": lambda s: glue_figures.edit_figure(s.file, 1, "price", "", "12"),
    "units": lambda s: set_unit(s.file, "length", "mm", "in"),
}


@pytest.mark.parametrize("name", SHOP_STEPS)
def test_undo_works_in_the_shop_too(name: str, tmp_path: Path) -> None:
    shop = planned(tmp_path)
    before = view_shop(shop.file)
    SHOP_STEPS[name](shop)
    with shop.file.reading() as connection:
        steps = len([change for change in list_changes(connection, None, 500) if change.undoable])
    for _ in range(steps - 1):  # all but the glue that the plan put on the shelf
        undo(shop.file, None)
    assert view_shop(shop.file) == before


def test_undo_goes_back_step_by_step_to_the_start(tmp_path: Path) -> None:
    shop = broken(ready_shop(tmp_path))
    taken_back = []
    while True:
        try:
            taken_back.append(undo(shop.file, shop.trial))
        except StateError as error:
            assert error.what == "There is nothing to undo."
            break
    assert taken_back[0] == "Kept a break"
    assert taken_back[-1] == "Changed glue"
    assert plan_view.view_plan(shop.file, shop.trial).treatments == []


def test_a_new_change_after_undo_ends_redo(tmp_path: Path) -> None:
    shop = planned(tmp_path)
    shop.edit("guess", "one")
    undo(shop.file, shop.trial)
    shop.edit("guess", "two")
    with pytest.raises(StateError, match="nothing to redo"):
        redo(shop.file, shop.trial)


def test_what_was_changed_again_elsewhere_is_not_overwritten_by_undo(tmp_path: Path) -> None:
    shop = planned(tmp_path)
    add_glue(shop.file, GlueEntry("Heron", "epoxy"))
    with shop.file.changing("By the rig", shop.trial, undoable=False) as connection:
        connection.execute("UPDATE glue SET lot = 'other' WHERE name = 'Heron'")
    with pytest.raises(StaleEdit, match="cannot be undone"):
        undo(shop.file, None)


def test_what_others_depend_on_is_not_undone(tmp_path: Path) -> None:
    shop = planned(tmp_path)
    shop.vary("glue")
    add_glue(shop.file, GlueEntry("Heron", "epoxy"))
    shop.add("Heron")
    before = everything(shop.file)
    with pytest.raises(InUse, match="“Added glue Heron” cannot be undone"):
        undo(shop.file, None)
    assert everything(shop.file) == before


def test_a_name_that_was_taken_since_is_not_put_back_twice(tmp_path: Path) -> None:
    shop = planned(tmp_path)
    gull = add_glue(shop.file, GlueEntry("Gull", "fish"))
    remove_glue(shop.file, gull)
    with shop.file.changing("By another step", undoable=False) as connection:
        connection.execute("INSERT INTO glue (name, family) VALUES ('gull', 'casein')")
    with pytest.raises((InUse, StaleEdit)):
        undo(shop.file, None)


def test_the_history_says_what_was_done(tmp_path: Path) -> None:
    shop = broken(ready_shop(tmp_path))
    exclude_piece(shop.file, shop.trial, first(shop), "slipped")
    include_piece(shop.file, shop.trial, first(shop))
    said = [line.what for line in view_history(shop.file, shop.trial).lines]
    assert said[1:4] == ["Set a piece aside", "Kept a break", "Clamps off"], said
