"""The timetable at the bench: made from the settled plan, kept, pinned, and planned anew from what really happened."""

from datetime import datetime
from pathlib import Path

import icalendar
import pytest

from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.glue import batches, clamps
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.over.calendar import make_calendar
from adhaero.bench.over.making import view_making
from adhaero.bench.over.today import view_today
from adhaero.bench.plan import settled
from adhaero.bench.shop import clamps as shop_clamps
from adhaero.bench.shop import glue_figures, hours
from adhaero.bench.shop.clamps import ClampsEntry
from adhaero.bench.shop.view import view_shop
from adhaero.bench.timetable import search as timetable_search
from adhaero.bench.timetable import view as timetable_view
from adhaero.bench.timetable.search import Found
from adhaero.bench.timetable.view import TaskView, TimetableEntry, TimetableView
from adhaero.core.errors import EntryError, NotThere, StaleEdit, StateError
from tests.shops import Shop, new_shop, typed_break


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    """Eight pieces sawn on a Monday at eight, four clamps of three pieces each, a glue that stays open four minutes."""
    shop = new_shop(tmp_path).plan().saw()
    hours.edit_hours(shop.file, "time_zone", "", "UTC")
    shop_clamps.save_clamps(shop.file, ClampsEntry("bar clamp", "screw clamp", "4", "3 kN", in_line="3"))
    glue_figures.edit_figure(shop.file, 1, "open_time_s", "", "4 min")
    return shop


def search(shop: Shop, **entry: object) -> list[Found]:
    wanted = TimetableEntry(**{"give": "10 %", **entry})  # type: ignore[arg-type]
    return list(timetable_search.make_timetable(shop.file, shop.trial, wanted, seconds=3))


def view(shop: Shop) -> TimetableView:
    return timetable_view.view_timetable(shop.file, shop.trial)


def tasks(shop: Shop, kind: str) -> list[TaskView]:
    return [task for task in view(shop).tasks if task.kind == kind]


def begin(task: TaskView) -> datetime:
    return datetime.fromisoformat(task.begin_utc)


def test_a_timetable_is_made_and_kept(shop: Shop) -> None:
    *_, last = search(shop)
    assert last.done
    assert last.remedies is None
    kept = view(shop)
    assert kept.finish_utc == last.finish_utc
    assert kept.lanes == ["hands", "bar clamp", "cure", "rig"]
    assert [len(task.piece_ids) for task in tasks(shop, "glue")] == [4, 4]
    assert sorted(one for task in tasks(shop, "glue") for one in task.piece_ids) == [one.id for one in shop.pieces]
    assert kept.windows[0] == ["2026-03-02T08:01:00.000Z", "2026-03-02T18:00:00.000Z"]
    assert any("taken as 1 min" in words for words in kept.assumed)


def test_the_next_glue_up_is_offered_and_comes_on_today(shop: Shop) -> None:
    search(shop)
    first = tasks(shop, "glue")[0]
    assert view_making(shop.file, shop.trial).next_batch == first.piece_ids
    coming = view_today(shop.file).coming
    assert (coming[0].at_utc, coming[0].words) == (first.begin_utc, "Glue with Wren: 2 sets, 4 pieces")


def test_the_calendar_holds_the_timetable_with_alarms(shop: Shop) -> None:
    search(shop)
    read = icalendar.Calendar.from_ical(make_calendar(shop.file))
    events = read.walk("VEVENT")
    glue = next(one for one in events if str(one["summary"]).startswith("Glue with Wren"))
    assert (glue["dtend"].dt - glue["dtstart"].dt).total_seconds() == 14 * 60, "ten to lay out, four to glue"
    assert sum(str(one["summary"]).startswith("Clamps off") for one in events) == 2
    assert len(glue.walk("VALARM")) == 2
    assert len({str(one["uid"]) for one in events}) == len(events)


def test_what_slipped_is_told_and_the_rest_is_planned_anew(shop: Shop) -> None:
    search(shop)
    first, second = tasks(shop, "glue")
    shop.clock.forward(hours=3)
    assert view(shop).late >= 2
    batches.start_batch(shop.file, shop.trial, BatchEntry(first.piece_ids, "Wren"))
    clamps.put_clamps_on(shop.file, shop.trial, first.piece_ids)
    search(shop)
    assert [task.piece_ids for task in tasks(shop, "glue")] == [second.piece_ids]
    mine = [task for task in view(shop).tasks if set(task.piece_ids) & set(first.piece_ids)]
    clamped = next(task for task in mine if task.kind == "clamp")
    assert clamped.begin_utc == "2026-03-02T11:00:00.000Z"
    assert view(shop).late == 0
    release = next(task for task in mine if task.kind == "release")
    assert abs((begin(release) - begin(clamped)).total_seconds() - 7200) <= 720, "two hours, a tenth off"


def test_a_pinned_task_stays_where_it_is_put(shop: Shop) -> None:
    search(shop)
    second = tasks(shop, "glue")[1]
    timetable_search.pin_task(shop.file, shop.trial, second.id, pinned=True, begin_utc="2026-03-04T09:00:00Z")
    search(shop)
    again = next(task for task in tasks(shop, "glue") if task.piece_ids == second.piece_ids)
    assert (again.begin_utc, again.pinned) == ("2026-03-04T09:00:00.000Z", True)
    timetable_search.pin_task(shop.file, shop.trial, again.id, pinned=False)
    search(shop)
    free = next(task for task in tasks(shop, "glue") if task.piece_ids == second.piece_ids)
    assert free.begin_utc < "2026-03-03"


def test_what_cannot_be_pinned_is_told(shop: Shop) -> None:
    search(shop)
    with pytest.raises(NotThere, match="no task 999"):
        timetable_search.pin_task(shop.file, shop.trial, 999, pinned=True)
    with pytest.raises(StateError, match="follows from another"):
        timetable_search.pin_task(shop.file, shop.trial, tasks(shop, "cure")[0].id, pinned=True)
    over, first = "2026-03-01T09:00:00Z", tasks(shop, "glue")[0].id
    with pytest.raises(EntryError, match="is over"):
        timetable_search.pin_task(shop.file, shop.trial, first, pinned=True, begin_utc=over)


def test_a_night_in_clamps_needs_an_odd_hour_or_more_give(shop: Shop) -> None:
    shop.edit("clamp_time_s", "12 h")
    *_, last = search(shop, give="2 %")
    assert last.finish_utc is None
    assert last.remedies is not None
    assert "working hours" in last.words
    odd = {one.words: one.entry for one in last.remedies}["It fits with 2 tasks outside working hours."]
    assert odd is not None
    assert odd.odd_hours
    assert view(shop).tasks == [], "nothing is kept"
    *_, last = search(shop, give="2 %", odd_hours=True)
    assert last.odd == 2
    assert view(shop).words[-1] == "2 tasks lie outside working hours."


@pytest.mark.parametrize(
    ("entry", "words"),
    [
        ({"give": "a bit"}, "a bit"),
        ({"give": "90 %"}, "More than 80 %"),
        ({"break_each": "3 kg"}, "is a force"),
        ({"finish_by_utc": "2026-03-01T09:00:00Z"}, "is over"),
        ({"finish_by_utc": "soon"}, "is not a time"),
    ],
)
def test_what_cannot_be_read_is_told(shop: Shop, entry: dict[str, str], words: str) -> None:
    with pytest.raises(EntryError, match=words):
        search(shop, **entry)


def test_a_timetable_needs_a_settled_plan_and_something_to_do(tmp_path: Path, shop: Shop) -> None:
    (tmp_path / "other").mkdir()
    with pytest.raises(StateError, match="not settled"):
        search(new_shop(tmp_path / "other").plan())
    search(shop)
    settled.reopen_plan(shop.file, shop.trial)
    assert view(shop).tasks == []
    shop.saw().glue().cure()
    for piece in shop.pieces:
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, "70 N", Judgement("broke", "25")))
    with pytest.raises(StateError, match="Nothing is left"):
        search(shop)


def test_hours_of_the_shop(shop: Shop) -> None:
    assert view_shop(shop.file).hours.hours[:2] == ["08:00 to 18:00"] * 2
    hours.edit_hours(shop.file, "hours_0", "08:00 to 18:00", "9-12")
    hours.edit_hours(shop.file, "hands", "1", "2")
    hours.edit_hours(shop.file, "days_off", "", "2026-03-04, 2026-03-03")
    shown = view_shop(shop.file).hours
    assert (shown.hours[0], shown.hands, shown.days_off) == ("09:00 to 12:00", 2, "2026-03-03 2026-03-04")
    for field, was, typed, words in (
        ("hands", "2", "none", "whole number"),
        ("days_off", shown.days_off, "Christmas", "no days"),
        ("time_zone", "UTC", "Middle Earth", "no time zone"),
        ("lunch", "", "12 to 13", "no “lunch”"),
    ):
        with pytest.raises(EntryError, match=words):
            hours.edit_hours(shop.file, field, was, typed)
    with pytest.raises(StaleEdit):
        hours.edit_hours(shop.file, "hands", "1", "3")
    search(shop)
    assert {one[0][:10] for one in view(shop).windows} <= {"2026-03-02", "2026-03-05", "2026-03-06", "2026-03-09"}
