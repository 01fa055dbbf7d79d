"""What people type wrong, and what another window changed meanwhile: told, never guessed, never overwritten."""

from collections.abc import Callable
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand, mark_odd
from adhaero.bench.breaking.judgement import FaceEntry, Judgement, judge_face
from adhaero.bench.breaking.pulls import keep_pull, retry_pull
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare.exclusions import exclude_piece
from adhaero.bench.cure import sizes
from adhaero.bench.facts.times import check_moment
from adhaero.bench.glue import batches, clamps
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.over import void
from adhaero.bench.plan import boards, edits, settled, trials
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry
from adhaero.bench.plan.levels import remove_level
from adhaero.bench.saw import pieces
from adhaero.bench.shop.glues import GlueEntry, add_glue, edit_glue, remove_glue
from adhaero.bench.shop.rigs import remove_rig, save_rig
from adhaero.bench.shop.units import set_unit
from adhaero.core.errors import (
    AdhaeroError,
    AmbiguousEntry,
    EntryError,
    InUse,
    NotThere,
    PlanError,
    StaleEdit,
    StateError,
)
from tests.shops import Shop, add_press, new_shop, press, ready_shop, typed_break

BROKE = Judgement("broke", "25")


def written(shop: Shop) -> tuple[object, ...]:
    """What stands in the plan; what follows from it may change with the shop."""
    view = plan_view.view_plan(shop.file, shop.trial)
    return view.trial, view.quantities, view.factors, view.treatments, view.boards


def first(shop: Shop) -> int:
    return shop.pieces[0].id


@pytest.mark.parametrize(
    ("act", "kind", "words"),
    [
        (lambda s: trials.create_trial(s.file, "  "), EntryError, "no question yet"),
        (lambda s: trials.create_trial(s.file, "x" * 301), EntryError, "Up to 300 fit"),
        (lambda s: s.edit("width_mm", "0 mm"), EntryError, "must be above 0 mm"),
        (lambda s: s.edit("width_mm", "-22"), EntryError, "must be above 0 mm"),
        (lambda s: s.edit("width_mm", "3 m"), EntryError, "More than 500 mm"),
        (lambda s: s.edit("width_mm", "22 kg"), EntryError, "is a force"),
        (lambda s: s.edit("width_mm", "1,500"), AmbiguousEntry, "two ways"),
        (lambda s: s.edit("clamp_time_s", "45 m"), AmbiguousEntry, "45 min or 45 mo"),
        (lambda s: s.vary("colour"), EntryError, "cannot be varied"),
        (lambda s: s.edit("pieces_each", "some"), EntryError, "whole number from 0 to 1000"),
        (lambda s: edits.edit_plan(s.file, s.trial, "frozen_utc", "None", "now"), EntryError, "A plan has no"),
        (lambda s: s.add(""), EntryError, "The value is empty"),
        (lambda s: s.add("PLANED"), EntryError, "is there already"),
        (
            lambda s: boards.add_boards(s.file, s.trial, BoardEntry("ash", "many")),
            EntryError,
            "“many” pieces on a board",
        ),
        (lambda s: boards.add_boards(s.file, s.trial, BoardEntry("ash", "4", "0")), EntryError, "from 1 to 200"),
        (
            lambda s: boards.edit_board(s.file, s.trial, 1, "name", "Board 1", "Board 2"),
            EntryError,
            "a Board 2 already",
        ),
        (lambda s: boards.edit_board(s.file, s.trial, 99, "name", "Board 1", "B"), NotThere, "not part of this trial"),
        (lambda s: plan_view.view_plan(s.file, 99), NotThere, "no trial 99"),
    ],
)
def test_a_plan_refuses_what_cannot_be(act: Callable[[Shop], object], kind: type, words: str, tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    before = plan_view.view_plan(shop.file, shop.trial)
    with pytest.raises(kind, match=words):
        act(shop)
    assert plan_view.view_plan(shop.file, shop.trial) == before, "nothing was saved"


def test_levels_of_a_quantity_are_the_same_in_any_unit(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    shop.vary("clamp_time")
    shop.add("90 min")
    with pytest.raises(EntryError, match="“90 min” is the same"):
        shop.add("1.5 h")
    shop.add("20 min")
    names = [(one.name, one.code) for one in plan_view.view_plan(shop.file, shop.trial).treatments]
    assert names == [("20 min", "20"), ("90 min", "90")], "by size, whatever the order of typing"


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda s: s.edit("pieces_each", "0"), "planed has no pieces"),
        (lambda s: remove_level(s.file, s.trial, 1), "Only toothed is there"),
        (lambda s: s.edit("depth_mm", ""), "missing: depth"),
        (lambda s: s.edit("pieces_each", "9"), "hold 8 pieces and the plan has 18"),
    ],
)
def test_a_plan_that_cannot_be_made_is_not_settled(
    change: Callable[[Shop], object], words: str, tmp_path: Path
) -> None:
    shop = new_shop(tmp_path).plan()
    change(shop)
    with pytest.raises(PlanError, match=words):
        settled.freeze_plan(shop.file, shop.trial)
    assert shop.pieces == []


@pytest.mark.parametrize(
    ("act", "words"),
    [
        (lambda s: remove_level(s.file, s.trial, 1), "Pieces of this value have labels"),
        (lambda s: boards.remove_board(s.file, s.trial, 1), "Pieces of this board have labels"),
        (lambda s: remove_glue(s.file, 1), "used by the trial"),
    ],
)
def test_what_is_in_use_is_not_deleted(act: Callable[[Shop], object], words: str, tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    with pytest.raises(InUse, match=words):
        act(shop)
    trials.remove_trial(shop.file, shop.trial)
    with pytest.raises(InUse, match=words):
        act(shop)


def test_a_glue_that_is_a_set_of_a_removed_trial_stays(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    shop.vary("glue")
    shop.add("Heron", "epoxy")
    trials.remove_trial(shop.file, shop.trial)
    with pytest.raises(InUse, match="Heron is used"):
        remove_glue(shop.file, 2)


@pytest.mark.parametrize(
    ("act", "words"),
    [
        (lambda s: edits.edit_plan(s.file, s.trial, "guess", "seen before", "mine"), "Guess was changed to nothing"),
        (lambda s: edits.edit_plan(s.file, s.trial, "width_mm", "25 mm", "26 mm"), "Width was changed to “30 mm”"),
        (lambda s: edits.edit_plan(s.file, s.trial, "pieces_each", "3", "6"), "Pieces of each set was changed to “4”"),
        (lambda s: boards.edit_board(s.file, s.trial, 1, "species", "ash", "oak"), "was changed to “larch”"),
        (lambda s: edit_glue(s.file, 1, "lot", "1", "2"), "lot of Wren was changed to “2207”"),
        (lambda s: set_unit(s.file, "length", "in", "mm"), "changed to “mm”"),
        (
            lambda s: save_rig(s.file, press(name="A"), add_press(s, "socket://127.0.0.1:1"), press(capacity="9 kN")),
            "“5 kN”",
        ),
    ],
)
def test_a_stale_edit_is_told_and_not_saved(act: Callable[[Shop], object], words: str, tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan()
    before = written(shop)
    with pytest.raises(StaleEdit, match=words) as caught:
        act(shop)
    assert "Nothing was saved." in caught.value.sentence
    assert written(shop) == before


def test_two_windows_measuring_one_piece_do_not_overwrite_each_other(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    sizes.measure(shop.file, shop.trial, first(shop), "width_mm", "", "29.9")
    with pytest.raises(StaleEdit, match=r"29\.9 mm"):
        sizes.measure(shop.file, shop.trial, first(shop), "width_mm", "", "30.2")
    assert shop.pieces[0].measured == {"width_mm": "29.9 mm"}


def test_two_pieces_never_share_a_label(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    mine, other = shop.pieces[0].label, shop.pieces[1]
    for label in (other.label, other.label.lower()):
        with pytest.raises(EntryError, match="Two pieces never share a label"):
            pieces.relabel(shop.file, shop.trial, first(shop), mine, label)
    with pytest.raises(EntryError, match="too long"):
        pieces.relabel(shop.file, shop.trial, first(shop), mine, "x" * 21)
    with pytest.raises(StaleEdit):
        pieces.relabel(shop.file, shop.trial, first(shop), "Q-9", "Q-1")
    pieces.relabel(shop.file, shop.trial, first(shop), mine, mine)


@pytest.mark.parametrize(
    ("act", "kind", "words"),
    [
        (lambda s: batches.start_batch(s.file, s.trial, BatchEntry([], "Wren")), EntryError, "."),
        (lambda s: batches.start_batch(s.file, s.trial, BatchEntry([first(s)], " ")), EntryError, "No glue is named"),
        (
            lambda s: batches.start_batch(s.file, s.trial, BatchEntry([first(s)], "Heron", "epoxy")),
            StateError,
            "planned with Wren, not Heron",
        ),
        (
            lambda s: batches.start_batch(s.file, s.trial, BatchEntry([first(s)], "Wren", humidity="140 %")),
            EntryError,
            "makes no sense",
        ),
        (lambda s: clamps.put_clamps_on(s.file, s.trial, [first(s)]), StateError, "in no glue-up"),
        (lambda s: clamps.take_clamps_off(s.file, s.trial, [first(s)]), StateError, "not in clamps"),
        (lambda s: void.void_piece(s.file, s.trial, first(s), " "), EntryError, "No reason is given"),
        (lambda s: sizes.measure(s.file, s.trial, first(s), "colour", "", "1"), EntryError, "not measured here"),
        (lambda s: sizes.measure(s.file, s.trial, first(s), "width_mm", "", "3 mm"), AmbiguousEntry, "another"),
        (
            lambda s: break_by_hand(s.file, s.trial, typed_break(first(s), "1 kN", BROKE)),
            StateError,
            "is not glued yet",
        ),
        (lambda s: pieces.mark_sawn(s.file, s.trial, [999]), NotThere, "."),
    ],
)
def test_making_refuses_what_cannot_be(act: Callable[[Shop], object], kind: type, words: str, tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    before = shop.pieces
    with pytest.raises(kind, match=words):
        act(shop)
    assert shop.pieces == before


def test_times_of_a_person_are_in_the_past_and_in_order(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    batches.start_batch(shop.file, shop.trial, BatchEntry([first(shop)], "Wren"))
    with pytest.raises(EntryError, match="has not come yet"):
        clamps.put_clamps_on(shop.file, shop.trial, [first(shop)], "2026-03-02T09:00:00Z")
    with pytest.raises(EntryError, match="no time zone"):
        check_moment("2026-03-02T09:00:00", shop.clock(), "at")
    with pytest.raises(EntryError, match="is not a time"):
        check_moment("noon", shop.clock(), "at")
    clamps.put_clamps_on(shop.file, shop.trial, [first(shop)], "2026-03-02T07:30:00Z")
    with pytest.raises(EntryError, match="closed after that"):
        clamps.take_clamps_off(shop.file, shop.trial, [first(shop)], "2026-03-02T07:00:00Z")
    with pytest.raises(StateError, match="in clamps already"):
        clamps.put_clamps_on(shop.file, shop.trial, [first(shop)])
    clamps.take_clamps_off(shop.file, shop.trial, [first(shop)], "2026-03-02T07:50:00+00:00")
    assert shop.pieces[0].clamped_s == 1200


@pytest.mark.parametrize(
    ("load", "judgement", "kind", "words"),
    [
        ("", BROKE, EntryError, "Nothing was typed"),
        ("0", BROKE, EntryError, "must be above 0 N"),
        ("-3 kN", BROKE, EntryError, "must be above 0 N"),
        ("22 mm", BROKE, EntryError, "is a length"),
        ("1,500 N", BROKE, AmbiguousEntry, "two ways"),
        ("2 t", BROKE, AmbiguousEntry, "2000 kgf or 4000 lbf"),
        ("600 kN", BROKE, EntryError, "more than ten times"),
        ("0.6", Judgement("broke", "180"), EntryError, "makes no sense"),
        ("0.6", Judgement("exploded"), EntryError, "is no outcome"),
        ("0.6", Judgement("broke", "", "table"), EntryError, "is no failure"),
    ],
)
def test_a_load_that_cannot_be_is_not_kept(
    load: str, judgement: Judgement, kind: type, words: str, tmp_path: Path
) -> None:
    shop = ready_shop(tmp_path)
    add_press(shop, "socket://127.0.0.1:1")
    with pytest.raises(kind, match=words):
        break_by_hand(shop.file, shop.trial, typed_break(first(shop), load, judgement))
    assert view_break(shop.file, shop.trial).left == 8


def test_a_load_beyond_the_rig_is_asked_about_and_kept(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    add_press(shop, "socket://127.0.0.1:1")
    break_by_hand(shop.file, shop.trial, typed_break(first(shop), "6 kN", BROKE))
    break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[1].id, "", Judgement("fell_apart")))
    pulls = [*shop.pulls(0), *shop.pulls(1)]
    assert [(pull.load_n, pull.load_typed, pull.outcome) for pull in pulls] == [
        (6000.0, "6 kN", "broke"),
        (0.0, "", "fell_apart"),
    ]
    assert pulls[0].codes == ("above-rig",)


def test_a_broken_piece_is_not_broken_twice_by_mistake(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    pull = break_by_hand(shop.file, shop.trial, typed_break(first(shop), "600 N", BROKE))
    for act in (
        lambda: break_by_hand(shop.file, shop.trial, typed_break(first(shop), "700 N", BROKE)),
        lambda: mark_odd(shop.file, shop.trial, first(shop), "gap"),
        lambda: void.void_piece(shop.file, shop.trial, first(shop), "slid"),
        lambda: keep_pull(shop.file, shop.trial, pull, BROKE),
        lambda: shop.edit("guess", "I knew it"),
    ):
        with pytest.raises(StateError):
            act()
    retry_pull(shop.file, shop.trial, pull)
    with pytest.raises(StateError):
        judge_face(shop.file, shop.trial, pull, FaceEntry("100"))
    break_by_hand(shop.file, shop.trial, typed_break(first(shop), "700 N", BROKE))
    pulls = shop.pulls()
    assert [(one.attempt, one.load_n, one.state) for one in pulls] == [(1, 600.0, "retried"), (2, 700.0, "kept")]


def test_setting_aside_says_why(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    with pytest.raises(StateError, match="no result yet"):
        exclude_piece(shop.file, shop.trial, first(shop), "split")
    break_by_hand(shop.file, shop.trial, typed_break(first(shop), "600 N", BROKE))
    with pytest.raises(EntryError, match="No reason is given"):
        exclude_piece(shop.file, shop.trial, first(shop), "")


@pytest.mark.parametrize(
    ("act", "words"),
    [
        (lambda s: add_glue(s.file, GlueEntry("wren", "fish")), "There is a glue called wren already"),
        (lambda s: add_glue(s.file, GlueEntry("", "fish")), "has no name"),
        (lambda s: add_glue(s.file, GlueEntry("Gull", "magic")), "not a family of glue"),
        (lambda s: add_press(s, "spy:///dev/ttyUSB0?file=/tmp/x"), "is no address of a rig"),
        (lambda s: add_press(s, "socket://127.0.0.1:7801?logging=debug"), "is no address of a rig"),
        (lambda s: add_press(s, "/dev/serial/by-id/../../../etc/passwd"), "is no address of a rig"),
        (lambda s: add_press(s, "socket://127.0.0.1:99999"), "There is no port 99999"),
        (lambda s: add_press(s, "socket://8.8.8.8:4001"), "outside this computer's own network"),
        (lambda s: add_press(s, "COM3", capacity="9" * 60), "999"),
        (lambda s: add_press(s, "COM3", decimal_mark="dot"), "not a decimal mark of a rig"),
        (lambda s: add_press(s, "COM3", parity="mark"), "not a parity of a rig"),
        (lambda s: add_press(s, "COM3", baud=7), "no speed of a serial port"),
        (lambda s: add_press(s, "COM3", unit="stone"), "not a unit of a rig"),
        (lambda s: add_press(s, "COM3", factor="0"), "The factor is 0"),
        (lambda s: add_press(s, "COM3", offset="two"), "was not understood"),
        (lambda s: add_press(s, "COM3", resolution="6 kN"), "in steps of 6 kN"),
        (lambda s: add_press(s, "COM3", name=" "), "has no name"),
        (lambda s: set_unit(s.file, "length", "mm", "furlong"), "is not offered"),
    ],
)
def test_the_shop_refuses_what_cannot_be(act: Callable[[Shop], object], words: str, tmp_path: Path) -> None:
    with pytest.raises(EntryError, match=words):
        act(new_shop(tmp_path).plan())


def test_a_settled_plan_is_reopened_only_before_glue(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw()
    with pytest.raises(StateError, match="The plan is settled"):
        shop.edit("joint", "scarf")
    with pytest.raises(StateError, match="The plan is settled"):
        shop.add("scraped")
    settled.reopen_plan(shop.file, shop.trial)
    shop.add("scraped")
    glued = new_shop(tmp_path / "other").plan().saw().glue()
    with pytest.raises(StateError, match="glued or loaded already"):
        settled.reopen_plan(glued.file, glued.trial)


def test_a_rig_with_pulls_stays(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    rig = add_press(shop, "socket://127.0.0.1:1")
    break_by_hand(shop.file, shop.trial, typed_break(first(shop), "600 N", BROKE))
    with shop.file.changing("test", shop.trial, undoable=False) as connection:
        connection.execute("UPDATE pull SET rig_id = :rig", {"rig": rig})
    with pytest.raises(InUse, match="has recorded 1 pulls"):
        remove_rig(shop.file, rig)


def test_every_refusal_says_what_to_do_or_what_was_expected(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    for act in (
        lambda: shop.edit("width_mm", "wide"),
        lambda: settled.freeze_plan(shop.file, shop.trial),
        lambda: pieces.relabel(shop.file, shop.trial, first(shop), shop.pieces[0].label, ""),
        lambda: remove_glue(shop.file, 1),
    ):
        with pytest.raises(AdhaeroError) as caught:
            act()
        assert caught.value.rule or caught.value.do


def test_the_pressure_on_a_gauge_is_a_load_by_the_bore_of_its_ram(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    with pytest.raises(EntryError, match="is a pressure, not a load"):
        break_by_hand(shop.file, shop.trial, typed_break(first(shop), "3 MPa", BROKE))
    save_rig(shop.file, press(kind="jack", bore="10 mm", url=""))
    break_by_hand(shop.file, shop.trial, typed_break(first(shop), "30 bar", BROKE))
    (pull,) = shop.pulls()
    # 3 N/mm² on π/4 · 10² mm²
    assert pull.load_n == pytest.approx(235.62, abs=0.01)
    assert pull.load_typed == "30 bar on 10 mm"
