"""The shop's working hours: read, shown and changed; a plain week until someone changes it."""

from dataclasses import dataclass
from datetime import date, tzinfo
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from adhaero.bench.facts.requirements import require_unchanged
from adhaero.core.errors import EntryError
from adhaero.core.plan.hours import DAYS, Hours, parse_hours, say_hours
from adhaero.core.plan.making import ShopTime
from adhaero.core.quantity import parse_count
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.settings import fetch_settings, put_setting

_USUAL = ("08:00 to 18:00",) * 5 + ("", "")


@dataclass(frozen=True)
class HoursView:
    """The hours as typed, Monday first; days off one after the other; how many people; the clock they are on."""

    days: list[str]
    hours: list[str]
    days_off: str
    hands: int
    zone: str


def read_shop_time(connection: Connection) -> ShopTime:
    """Return when work is done in the shop, and by how many people. Reads only."""
    view = view_hours(connection)
    hours = Hours(tuple(parse_hours(one) for one in view.hours), _read_days(view.days_off))
    return ShopTime(hours, view.hands, read_zone(connection))


def read_zone(connection: Connection) -> tzinfo | None:
    """Return the time zone that the hours are in; None for that of this computer. Reads only."""
    name = fetch_settings(connection).get("time_zone", "")
    return ZoneInfo(name) if name else None


def view_hours(connection: Connection) -> HoursView:
    """Return the shop's working hours as they are shown. Reads only."""
    settings = fetch_settings(connection)
    return HoursView(
        days=list(DAYS),
        hours=[settings.get(f"hours_{day}", usual) for day, usual in enumerate(_USUAL)],
        days_off=settings.get("days_off", ""),
        hands=int(settings.get("hands", "1")),
        zone=settings.get("time_zone", ""),
    )


def edit_hours(file: ShopFile, field: str, was: str, typed: str) -> None:
    """Set the hours of a weekday (`hours_0` is Monday), `days_off`, `hands` or the `time_zone`.

    Raises
    ------
    EntryError : it cannot be read. StaleEdit : another window changed it.
    """
    with file.changing("Changed the working hours") as connection:
        view = view_hours(connection)
        current = {f"hours_{day}": text for day, text in enumerate(view.hours)}
        current |= {"days_off": view.days_off, "hands": str(view.hands), "time_zone": view.zone}
        if field not in current:
            raise EntryError(f"Hours have no “{field}”.", field=field)
        require_unchanged("the working hours", current[field], was, field)
        put_setting(connection, field, _read(field, typed.strip()))


def _read(field: str, typed: str) -> str:
    if field == "hands":
        return str(parse_count(typed, "people", 1, 20, field=field))
    if field == "days_off":
        return " ".join(sorted(day.isoformat() for day in _read_days(typed)))
    if field == "time_zone":
        return _check_zone(typed)
    at = parse_hours(typed, field)
    return say_hours([at])[0]


def _read_days(typed: str) -> frozenset[date]:
    try:
        return frozenset(date.fromisoformat(word) for word in typed.replace(",", " ").split())
    except ValueError:
        raise EntryError(
            f"“{typed}” are no days.",
            "Expected dates with spaces between, e.g. 2026-12-24 2026-12-25.",
            field="days_off",
        ) from None


def _check_zone(typed: str) -> str:
    try:
        return ZoneInfo(typed).key if typed else ""
    except (ZoneInfoNotFoundError, ValueError):
        raise EntryError(
            f"“{typed}” is no time zone.",
            "Expected e.g. Europe/Vienna, or nothing for this computer's.",
            field="time_zone",
        ) from None
