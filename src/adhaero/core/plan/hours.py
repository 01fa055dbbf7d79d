"""Working hours: when hands are there, on the clock of the shop, summer time and days off included."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo

from adhaero.core.errors import EntryError

DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
_LINE = re.compile(r"(\d{1,2})(?:[:.](\d{2}))?\s*(?:-|–|to)\s*(\d{1,2})(?:[:.](\d{2}))?")


@dataclass(frozen=True)
class Hours:
    """When someone works: for each weekday from Monday the begin and the end, or None; and whole days off."""

    week: tuple[tuple[time, time] | None, ...]
    days_off: frozenset[date] = frozenset()


def parse_hours(text: str, field: str = "hours") -> tuple[time, time] | None:
    """Return the begin and the end that someone typed (`8 to 17:30`); None for nothing typed.

    Raises
    ------
    EntryError : it cannot be read, is no time of the day, or runs backwards.

    Examples
    --------
    >>> parse_hours("8 to 17:30")
    (datetime.time(8, 0), datetime.time(17, 30))
    """
    if not text.strip() or text.strip().lower() in ("off", "–", "-"):
        return None
    found = _LINE.fullmatch(text.strip())
    if found is None:
        raise EntryError(
            f"“{text.strip()}” are no hours.", "Expected a begin and an end, e.g. 8:00 to 17:30.", field=field
        )
    h1, m1, h2, m2 = (int(one or 0) for one in found.groups())
    if h1 > 23 or h2 > 24 or m1 > 59 or m2 > 59 or (h2 == 24 and m2):
        raise EntryError(f"“{text.strip()}” is no time of the day.", "Expected 0:00 to 24:00.", field=field)
    begin, end = time(h1, m1), time(23, 59) if h2 == 24 else time(h2, m2)
    if begin >= end:
        raise EntryError(f"“{text.strip()}” runs backwards.", "Expected the begin first.", field=field)
    return begin, end


def list_windows(hours: Hours, first: datetime, last: datetime, zone: tzinfo | None) -> list[tuple[datetime, datetime]]:
    """Return the stretches between two moments in which someone works, in UTC.

    The hours are those of the clock on the wall: over the change to summer time a stretch keeps its begin and its end
    on the clock, not its length. `zone` None is that of this computer.
    """
    found: list[tuple[datetime, datetime]] = []
    day = (first.astimezone(zone) - timedelta(days=1)).date()
    while True:
        at = hours.week[day.weekday()]
        if at is not None and day not in hours.days_off:
            begin, end = (_at(day, moment, zone) for moment in at)
            if begin >= last:
                return found
            if end > first:
                found.append((max(begin, first), min(end, last)))
        elif _at(day, time(0), zone) >= last:
            return found
        day += timedelta(days=1)


def _at(day: date, moment: time, zone: tzinfo | None) -> datetime:
    local = datetime.combine(day, moment)
    return (local.astimezone() if zone is None else local.replace(tzinfo=zone)).astimezone(UTC)


def say_hours(week: Sequence[tuple[time, time] | None]) -> list[str]:
    """Return the hours of each weekday as someone would type them; empty for a day off."""
    return ["" if at is None else f"{at[0]:%H:%M} to {at[1]:%H:%M}" for at in week]
