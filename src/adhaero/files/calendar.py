"""The shop's clocks as a calendar file (RFC 5545): clamps that come off, with an alarm, and pieces that are ready."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from icalendar import Alarm, Calendar, Event

from adhaero.core.text import drop_unseen

_LENGTH = timedelta(minutes=15)


@dataclass(frozen=True)
class Appointment:
    """Something that is due.

    Attributes
    ----------
    uid : the same for the same appointment in every file, so that a calendar that reads it again moves it.
    at : UTC. words, more : in a line, and the rest. alarm : whether it rings. length : how long it takes.
    """

    uid: str
    at: datetime
    words: str
    more: str = ""
    alarm: bool = False
    length: timedelta = _LENGTH


def write_calendar(appointments: Iterable[Appointment], now: datetime) -> bytes:
    """Return a calendar with an event for each appointment; alarms ring five minutes before it and on time."""
    calendar = Calendar()
    calendar.add("prodid", "-//Adhaero//the bench book//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", "Adhaero: the shop")
    for one in appointments:
        event = Event()
        event.add("uid", f"{one.uid}@adhaero")
        event.add("dtstamp", now)
        event.add("dtstart", one.at)
        event.add("dtend", one.at + one.length)
        event.add("summary", drop_unseen(one.words))
        if one.more:
            event.add("description", drop_unseen(one.more))
        for before in (timedelta(minutes=5), timedelta(0)) if one.alarm else ():
            ring = Alarm()
            ring.add("action", "DISPLAY")
            ring.add("description", drop_unseen(one.words))
            ring.add("trigger", -before)
            event.add_component(ring)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
