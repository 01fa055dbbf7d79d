"""The demo: our own scenario, the same from the same seed, built through what a person does."""

import re
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest

from adhaero.bench.breaking.load_point import view_trace
from adhaero.bench.breaking.recording import load_trace
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.looks import view_look
from adhaero.bench.compare.view import view_compare
from adhaero.bench.library.book import view_book
from adhaero.bench.library.evidence import Says, read_says
from adhaero.bench.over.rack import view_rack
from adhaero.bench.over.today import view_today
from adhaero.core.pieces import PieceState
from adhaero.demo.build import build_demo
from adhaero.store.file import ShopFile, utc_now
from adhaero.store.history import list_changes
from adhaero.store.trials import fetch_trial


def test_a_finished_trial_one_in_clamps_and_one_planned(demo: ShopFile) -> None:
    said = {line.question: line.words for line in view_today(demo).trials}
    assert said == {
        "Does scraping the blade edges spoil the joint?": "18 in clamps",
        "How should the rings meet in a blade edge joint, and does the glue care?": "a plan, not settled",
        "Which glue holds a scarfed paddle shaft best?": "all broken, 46 count",
        "Does a wipe with alcohol help a resinous blade tip?": "all broken, 12 count",
        "Which glue lets a scarfed shaft bend furthest before it stays bent?": "all broken, 10 count",
        "Which old glue still holds a scarfed shaft?": "all broken, 18 count",
        "Does hot hide hold a scarfed shaft?": "all broken, 12 count",
        "Is the plain PVA enough for a shaft?": "all broken, 18 count",
        "Is Plover as good as Heron on a shaft?": "all broken, 24 count",
        "Is the red glue worth its stain on a shaft?": "all broken, 24 count",
        "What does a day in water leave of a shaft?": "all broken, 18 count",
    }
    assert len(view_today(demo).clamps) == 3


def test_the_finished_trial_has_what_a_real_one_has(demo: ShopFile) -> None:
    rack, compare = view_rack(demo, 1), view_compare(demo, 1, Choice())
    assert {board.species for board in rack.boards} == {"ash", "larch"}
    assert len(rack.boards) == 6
    assert len(compare.dots) >= 40
    assert compare.block == "board"
    assert compare.controls == ("Solid",)
    assert sum((dot.wood_failure_pct or 0) >= 75 for dot in compare.dots) >= 3
    assert len(compare.excluded) == 1
    assert compare.excluded[0].reason
    assert [piece.state for piece in rack.pieces].count(PieceState.VOID) == 1
    assert "slid" in compare.voided[0].reason
    assert compare.summary is not None
    assert compare.summary.headline.startswith("Heron and Wren lead; which is stronger cannot be told yet.")
    assert compare.summary.averages == ("Whatever average is taken, Heron comes first.")


def test_every_break_has_its_trace_from_the_simulated_rig(demo: ShopFile) -> None:
    with demo.reading() as connection:
        pulls = connection.execute(
            "SELECT id, load_n, practice FROM pull WHERE state = 'kept' AND practice = 1"
        ).fetchall()
    assert len(pulls) >= 40
    for pull in pulls:
        trace = load_trace(demo, pull["id"])
        assert len(trace.times_s) > 100
        assert trace.reading is not None
        assert max(trace.loads_n) - trace.reading.zero_n == pytest.approx(pull["load_n"])
        assert pull["practice"] == 1


def test_one_trial_hung_in_plates_and_one_has_displacements(demo: ShopFile) -> None:
    with demo.reading() as connection:
        hung = connection.execute(
            "SELECT load_typed, held_n, load_n FROM pull WHERE load_typed LIKE '%kg%' AND held_n IS NOT NULL"
        ).fetchall()
        logs = connection.execute("SELECT id FROM pull WHERE log_id IS NOT NULL AND state = 'kept'").fetchall()
    assert len(hung) == 12
    assert all(0 < row["held_n"] < row["load_n"] for row in hung)
    assert len(logs) == 10
    bent = [view_trace(demo, row["id"]).bending for row in logs]
    assert all(one is not None and one.bend_starts_n is not None for one in bent)


def test_nothing_was_written_past_the_bench(demo: ShopFile) -> None:
    with demo.reading() as connection:
        changes = list_changes(connection, 1, 5000)
    assert {"Settled the plan", "Clamps on", "Measured a piece", "Kept a break"} <= {change.what for change in changes}


def test_the_same_seed_builds_the_same_demo_at_any_hour(
    demo: ShopFile, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("adhaero.demo.build.utc_now", lambda: utc_now() - timedelta(hours=3))
    again = build_demo(tmp_path / "again.sqlite", 4124, 7801)
    assert list_breaks_since_the_start(again) == list_breaks_since_the_start(demo)


def list_breaks_since_the_start(demo: ShopFile) -> str:
    """Return the breaks of the first trial, their times from its beginning: it begins at the last full hour."""
    with demo.reading() as connection:
        trial = fetch_trial(connection, 1)
    assert trial is not None
    began = datetime.fromisoformat(trial.created_utc)
    content = export_breaks(demo, 1, Choice()).content
    return re.sub(r"\d{4}-\d\d-\d\dT[\d:.]+Z", lambda at: str(datetime.fromisoformat(at[0]) - began), content)


def test_three_years_fill_the_book_and_it_says_what_it_does_not_know(demo: ShopFile) -> None:
    table = view_book(demo).table
    assert table is not None
    glues = [row.name for row in table.rows if not row.name.startswith("solid")]
    assert len(glues) == 9
    says = read_says_of(demo)
    dates = [one.first_day for one in says]
    assert (date.fromisoformat(max(dates)) - date.fromisoformat(min(dates))).days > 900
    # four stood side by side in one trial; most of the others never met
    assert max(len(part.names) for one in says for part in one.evidence) == 4
    assert "never met" in table.never[0]
    assert any(one.startswith("Not known:") for one in table.order)
    assert table.next
    assert [one.after for one in table.conditions] == ["24 h in water"]


def read_says_of(demo: ShopFile) -> tuple[Says, ...]:
    with demo.reading() as connection:
        return read_says(connection)


def test_one_trial_of_the_years_stopped_by_its_rule_and_one_was_joined_by_a_late_glue(demo: ShopFile) -> None:
    by_question = {line.question: line.id for line in view_today(demo).trials}
    stopped = by_question["Is the red glue worth its stain on a shaft?"]
    assert view_look(demo, stopped).stopped.startswith("Stopped by the rule after board ")
    compare = view_compare(demo, stopped, Choice())
    assert compare.summary is not None
    assert compare.summary.headline.startswith("Teal is the strongest, by at least ")
    joined = view_compare(demo, by_question["Is Plover as good as Heron on a shaft?"], Choice())
    assert any("the powder came three weeks late" in one for one in joined.amended)
    assert any("Siskin was made after the first pieces were broken" in one for one in joined.mind)
