"""The calendar file: read back whole by an independent reader, alarms at the clamps, each event known again."""

from datetime import timedelta
from pathlib import Path

from icalendar import Calendar

from adhaero.bench.glue import clamps as glue_clamps
from adhaero.bench.over.calendar import make_calendar
from tests.shops import Shop, new_shop


def events(shop: Shop) -> list[dict[str, object]]:
    calendar = Calendar.from_ical(make_calendar(shop.file))
    assert calendar.errors == []
    assert calendar["version"] == "2.0"
    return [
        {
            "uid": str(event["uid"]),
            "at": event["dtstart"].dt,
            "words": str(event["summary"]),
            "alarms": [alarm["trigger"].dt for alarm in event.walk("VALARM")],
        }
        for event in calendar.walk("VEVENT")
    ]


def test_clamps_ring_when_they_are_due_and_pieces_say_when_they_are_ready(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan().saw().glue()
    (clamps,) = events(shop)
    assert clamps["at"] == shop.clock() + timedelta(hours=2)
    assert clamps["alarms"] == [timedelta(minutes=-5), timedelta(0)]
    assert all(piece.label in str(clamps["words"]) for piece in shop.pieces)
    shop.clock.forward(minutes=30)
    assert events(shop)[0]["uid"] == clamps["uid"], "a calendar that reads it again knows it"
    shop.clock.forward(minutes=90)
    glue_clamps.take_clamps_off(shop.file, shop.trial, [one.id for one in shop.pieces])
    (ready,) = events(shop)
    assert str(ready["words"]).startswith("Ready to break: ")
    assert ready["at"] == shop.clock() + timedelta(hours=22)
    assert ready["alarms"] == []
    shop.clock.forward(hours=23)
    assert events(shop) == []


def test_an_empty_shop_has_an_empty_calendar(tmp_path: Path) -> None:
    assert events(new_shop(tmp_path)) == []


def test_long_and_odd_words_survive(tmp_path: Path) -> None:
    shop = new_shop(tmp_path).plan(names=tuple(f"set; {n}, “odd”" for n in range(2)), pieces=20, count=4).saw().glue()
    (clamps,) = events(shop)
    assert str(clamps["words"]).count(",") == 39
