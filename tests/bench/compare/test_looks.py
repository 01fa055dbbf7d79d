"""May I stop: planned looks after complete boards, ranges that stay true, and stopping, dropping, joining, redoing."""

import random
from dataclasses import replace
from math import exp
from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.view import view_break
from adhaero.bench.compare import looks
from adhaero.bench.compare.breaks import Choice, collect_breaks
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.dropping import DropEntry, drop_set
from adhaero.bench.compare.findings import Wishes, view_findings
from adhaero.bench.compare.looks import StopEntry, stop_by_rule, view_look
from adhaero.bench.compare.view import view_compare
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.library.book import view_book
from adhaero.bench.over.undo import undo
from adhaero.bench.plan import edits, settled
from adhaero.bench.plan.late import LateEntry, LateValue, add_late
from adhaero.bench.plan.view import view_plan
from adhaero.core.errors import EntryError, NotThere, ReasonNeeded, StateError
from adhaero.core.stats.pairs import Verdict
from adhaero.store.file import ShopFile
from adhaero.store.pieces import amend_piece
from adhaero.store.pulls import insert_pull
from tests.made_up import Broken, Made, MadeUp, make_shop, plan_trial
from tests.shops import empty_shop, typed_break

TRUE = {"Heron": 500.0, "Wren": 520.0, "Teal": 700.0}


def breaks(made: Made, board: int, chance: random.Random) -> Broken:
    return Broken(TRUE[made["glue"]] * exp(chance.gauss(0, 0.07) + 0.06 * ((board * 7) % 5 - 2)))


def kind(*, looks: bool = True, each: int = 8) -> MadeUp:
    fields = {"looks": "1"} if looks else {}
    return MadeUp("Which one?", [("glue", list(TRUE))], breaks, boards=(("larch", each),), each=each, fields=fields)


def begun(folder: Path, boards: int, *, looks: bool = True, more: int = 0) -> tuple[ShopFile, int]:
    """Return a trial of eight boards of which some are broken, in the order of the plan, and some pieces more."""
    file = empty_shop(folder / "shop.sqlite")
    trial = plan_trial(file, kind(looks=looks))
    break_some(file, trial, 3 * boards + more)
    return file, trial


def break_some(file: ShopFile, trial: int, count: int) -> None:
    chance = random.Random(11)
    with file.reading() as connection:
        facts = read_trial(connection, trial)
    for _ in range(count):
        piece = view_break(file, trial).piece
        assert piece is not None
        made = facts.treatments[facts.pieces[piece.id].treatment_id].name  # the bench may not say it: blind
        load = breaks({"glue": made}, 0, chance).load_n
        break_by_hand(file, trial, typed_break(piece.id, f"{load:.1f} N", Judgement("broke", "10")))


def test_boards_are_broken_one_after_the_other_where_looks_are_planned(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 0)
    with file.reading() as connection:
        facts = read_trial(connection, trial)
    order = sorted(facts.pieces.values(), key=lambda one: one.break_turn)
    assert view_plan(file, trial).looks_meaning.startswith("Board is broken after board.")
    boards = [one.board_id for one in order]
    assert all(len(set(boards[at : at + 3])) == 1 for at in range(0, 24, 3))
    assert boards != sorted(boards) or len({one.treatment_id for one in order[:3]}) == 3


def test_nothing_is_said_unless_it_was_planned(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 5, looks=False)
    assert not view_look(file, trial).planned
    with pytest.raises(StateError, match="No look was planned"):
        stop_by_rule(file, trial, StopEntry(5))
    with pytest.raises(StateError, match="settled"):
        edits.edit_plan(file, trial, "looks", "0", "1", "I would like to stop")


def test_too_early_says_go_on_and_a_clear_lead_over_one_alone_does_not_settle(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 1)
    assert view_look(file, trial).headline == "Too few boards are complete to say anything: go on."
    break_some(file, trial, 9)
    look = view_look(file, trial)
    assert (look.complete, look.boards) == (4, 8)
    assert look.settled or "Go on: whether Teal beats" in look.headline


def test_a_range_from_nothing_to_anything_is_no_number_to_read() -> None:
    assert looks._say_range(0.001, 1e6) == "nothing known yet"
    assert looks._say_range(0.8, 3.9) == "0.8 to 3.9 times"


def test_what_an_unfinished_board_shows_is_no_look(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 5)
    before = view_look(file, trial)
    break_some(file, trial, 1)
    after = view_look(file, trial)
    assert after.complete == before.complete == 5
    assert "it counts once it is complete" in after.why
    # the ranges are those of the five boards, to the last digit
    assert after.why.split(". ")[0] == before.why.split(". ")[0]


def test_a_settled_answer_lets_the_rest_stay_whole_and_compare_says_so(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 6)
    look = view_look(file, trial)
    assert look.settled
    assert look.headline.startswith(
        "The answer is settled after board 6 of 8: Teal is the strongest; 6 pieces may stay"
    )
    with pytest.raises(StateError, match="Look again"):
        stop_by_rule(file, trial, StopEntry(5))
    assert stop_by_rule(file, trial, StopEntry(6)) == 6
    stopped = view_look(file, trial)
    assert stopped.stopped == "Stopped by the rule after board 6 of 8; 6 pieces stay whole."
    with pytest.raises(StateError):
        stop_by_rule(file, trial, StopEntry(6))
    view = view_compare(file, trial, Choice())
    assert any("settled by the planned rule after board 6 of 8" in one for one in view.amended)
    assert any("looked at after each complete board" in one for one in view.method)
    assert "--confidence 9" in export_breaks(file, trial, Choice()).command
    # stopping does not make the looks fewer: the bounds stay those of eight boards
    with file.reading() as connection:
        facts = read_trial(connection, trial)
    assert collect_breaks(facts, Choice()).question.confidence > 0.95
    undo(file, trial)
    assert view_look(file, trial).left


def test_ranges_of_a_trial_with_looks_are_wider_by_what_looking_costs(tmp_path: Path) -> None:
    looked = make_shop(tmp_path / "a", kind())
    plain = make_shop(tmp_path / "b", kind(looks=False))
    wide, narrow = (view_compare(file, trial, Choice()).pairs[0].ratio_ci95 for file, trial in (looked, plain))
    assert wide is not None
    assert narrow is not None
    assert wide[0] is not None and narrow[0] is not None and wide[0] < narrow[0]  # noqa: PT018


def test_the_leader_is_dropped_on_purpose_alone_and_what_broke_of_it_counts(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 4, looks=False)
    sets = {one.name: one.id for one in view_plan(file, trial).treatments}
    broken = {use.name: use.broken for use in view_compare(file, trial, Choice()).use}
    with pytest.raises(StateError, match="at the lead so far"):
        drop_set(file, trial, DropEntry(sets["Teal"], "it is red"))
    with pytest.raises(ReasonNeeded):
        drop_set(file, trial, DropEntry(sets["Heron"]))
    left = drop_set(file, trial, DropEntry(sets["Heron"], "far behind"))
    assert left == 8 - broken["Heron"]
    use = {one.name: one for one in view_compare(file, trial, Choice()).use}
    assert (use["Heron"].counted, use["Heron"].void) == (broken["Heron"], left)
    assert drop_set(file, trial, DropEntry(sets["Teal"], "all the same", although_leading=True)) > 0
    with pytest.raises(StateError, match="nothing left to drop"):
        drop_set(file, trial, DropEntry(sets["Teal"], "again", although_leading=True))
    with pytest.raises(NotThere):
        drop_set(file, trial, DropEntry(9999, "none"))


def test_a_set_that_is_redone_stands_beside_the_old_one(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 8, looks=False)
    sets = {one.name: one.id for one in view_plan(file, trial).treatments}
    labels = add_late(file, trial, LateEntry(3, "Board 1", sets["Wren"], reason="the mix was bad", again=True))
    names = [one.name for one in view_plan(file, trial).treatments]
    assert names == ["Heron", "Wren", "Teal", "Wren again"]
    more = add_late(file, trial, LateEntry(2, "Board 2", sets["Wren"], reason="and once more", again=True))
    assert [one.name for one in view_plan(file, trial).treatments][-1] == "Wren again 2"
    assert not set(labels) & set(more)
    with pytest.raises(EntryError, match="no such set"):
        add_late(file, trial, LateEntry(2, "Board 2", 9999, reason="and once more", again=True))


def test_what_was_made_after_the_first_break_is_named_as_a_cause(tmp_path: Path) -> None:
    file, trial = make_shop(tmp_path, kind(looks=False, each=6))
    factor = view_plan(file, trial).factors[0].id
    values = (LateValue(factor, "Heron"),)
    add_late(file, trial, LateEntry(4, "Board 1, Board 2", values=values, reason="more of it"))
    late = (LateValue(factor, "Merlin", "hot hide"),)  # type: ignore[arg-type]
    add_late(file, trial, LateEntry(6, "Board 1, Board 2, Board 3", values=late, reason="it came late"))
    with file.changing("Broke what joined", trial) as connection:
        facts = read_trial(connection, trial)
        for piece in facts.pieces.values():
            if facts.result_of(piece) is None:
                now = file.now()
                amend_piece(connection, piece.id, sawn_utc=now, closed_utc=now, clamped_utc=now, released_utc=now)
                insert_pull(
                    connection, piece_id=piece.id, attempt=1, source="hand", state="kept", started_utc=now,
                    ended_utc=now, load_n=505.0 + piece.id % 7, outcome="broke", wood_failure_pct=10.0,
                )  # type: ignore[arg-type] # fmt: skip
    mind = " ".join(view_compare(file, trial, Choice()).mind)
    assert "Merlin was made after the first pieces were broken" in mind
    assert "4 of 10 of Heron" in mind
    causes = next(one for one in view_findings(file, trial, Choice(), Wishes()).findings if one.key == "causes")
    assert "Made before or after the first break" in [row[0] for row in causes.rows]
    table = view_book(file).table
    assert table is not None
    assert "Merlin" in [row.name for row in table.rows]


def test_a_look_is_taken_on_a_copy_of_the_plan_too(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 2)
    copy = settled.copy_plan(file, trial)
    assert view_plan(file, copy).trial.looks == "1"


def test_pairs_are_judged_by_the_repeated_range(tmp_path: Path) -> None:
    file, trial = begun(tmp_path, 3)
    with file.reading() as connection:
        facts = read_trial(connection, trial)
    asked = collect_breaks(facts, Choice())
    assert asked.analysis is not None
    from adhaero.core.stats.analyse import analyse

    plain = analyse(asked.compared, replace(asked.question, confidence=0.95))
    for one, other in zip(asked.analysis.pairs, plain.pairs, strict=True):
        assert one.ratio == other.ratio
        if one.verdict is not Verdict.CANNOT_TELL:
            assert other.verdict is one.verdict


def test_what_joined_is_read_as_a_whole_reading_reads_it(tmp_path: Path) -> None:
    """What is kept of a trial that only grew is taken over: it must be what reading it anew gives."""
    file, trial = make_shop(tmp_path, kind(looks=False, each=6))
    view_compare(file, trial, Choice())
    factor = view_plan(file, trial).factors[0].id
    late = (LateValue(factor, "Merlin", "hot hide"),)  # type: ignore[arg-type]
    add_late(file, trial, LateEntry(3, "Board 1, Board 9", values=late, species="ash", reason="it came late"))
    with file.reading() as connection:
        grown = read_trial(connection, trial)
    with file.changing("Read inside a change: nothing is kept", trial) as connection:
        anew = read_trial(connection, trial)
    assert list(grown.pieces) == list(anew.pieces)
    assert grown.pieces == anew.pieces
    for piece in anew.pieces.values():
        assert grown.sizes_of(piece) == anew.sizes_of(piece)
        assert grown.life_of(piece) == anew.life_of(piece)
        assert grown.dealt(piece) == anew.dealt(piece)


def test_a_blind_trial_settles_without_a_name(tmp_path: Path) -> None:
    file = empty_shop(tmp_path / "shop.sqlite")
    made = kind()
    trial = plan_trial(file, replace(made, fields={**made.fields, "blind": "1"}))
    break_some(file, trial, 18)
    look = view_look(file, trial)
    assert look.headline == "The answer is settled after board 6 of 8; 6 pieces may stay whole."
    assert "Teal" not in look.headline + look.why
    assert stop_by_rule(file, trial, StopEntry(6)) == 6
