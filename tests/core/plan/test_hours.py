"""Working hours on the clock of the wall, over summer time, nights and days off."""

from datetime import UTC, date, datetime, time
from zoneinfo import ZoneInfo

import pytest

from adhaero.core.errors import EntryError
from adhaero.core.plan.hours import Hours, list_windows, parse_hours

VIENNA = ZoneInfo("Europe/Vienna")
WEEK = Hours(((time(8), time(17)),) * 5 + (None, None))


def moments(*days: int, month: int = 3) -> tuple[datetime, datetime]:
    return datetime(2026, month, days[0], tzinfo=UTC), datetime(2026, month, days[1], tzinfo=UTC)


def test_summer_time_moves_the_hours_with_the_clock() -> None:
    # summer time begins on Sunday 29 March 2026
    friday, monday = list_windows(WEEK, *moments(27, 31), VIENNA)
    assert friday == (datetime(2026, 3, 27, 7, tzinfo=UTC), datetime(2026, 3, 27, 16, tzinfo=UTC))
    assert monday == (datetime(2026, 3, 30, 6, tzinfo=UTC), datetime(2026, 3, 30, 15, tzinfo=UTC))


def test_a_night_over_the_change_of_the_clock_keeps_its_ends() -> None:
    night = Hours(((time(0), time(5)),) * 7)
    (low, high), *_ = list_windows(night, *moments(24, 26, month=10), VIENNA)[1:]
    assert (high - low).total_seconds() == 6 * 3600, "the hour that comes twice"


def test_days_off_have_no_hours() -> None:
    off = Hours(WEEK.week, frozenset({date(2026, 3, 3)}))
    days = [low.day for low, _ in list_windows(off, *moments(2, 6), UTC)]
    assert days == [2, 4, 5]


def test_hours_begin_where_the_stretch_does() -> None:
    found = list_windows(WEEK, datetime(2026, 3, 2, 10, 30, tzinfo=UTC), datetime(2026, 3, 2, 12, tzinfo=UTC), UTC)
    assert found == [(datetime(2026, 3, 2, 10, 30, tzinfo=UTC), datetime(2026, 3, 2, 12, tzinfo=UTC))]


def test_a_week_without_hours_ends() -> None:
    assert list_windows(Hours((None,) * 7), *moments(1, 31), UTC) == []


@pytest.mark.parametrize(
    ("typed", "hours"),
    [
        ("8 to 17:30", (time(8), time(17, 30))),
        ("08:00-12:15", (time(8), time(12, 15))),
        ("18.00 – 24", (time(18), time(23, 59))),
        ("off", None),
        ("", None),
    ],
)
def test_hours_are_read_as_people_type_them(typed: str, hours: tuple[time, time] | None) -> None:
    assert parse_hours(typed) == hours


@pytest.mark.parametrize(
    ("typed", "words"), [("17 to 8", "backwards"), ("8 to 25", "no time"), ("all day", "no hours")]
)
def test_hours_that_cannot_be_are_told(typed: str, words: str) -> None:
    with pytest.raises(EntryError, match=words):
        parse_hours(typed)
