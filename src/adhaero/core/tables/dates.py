"""Dates as people write them; with slashes one that can be read one way only settles the file."""

import re
from collections.abc import Iterable
from datetime import date
from enum import StrEnum
from typing import Final


class DayOrder(StrEnum):
    """Which of two numbers with slashes is the day; `UNSETTLED` where it could be either."""

    DAY_FIRST = "day first"
    MONTH_FIRST = "month first"
    UNSETTLED = "unsettled"


_MONTHS: Final = {
    name: number
    for number, names in enumerate(
        (
            "january jan januar", "february feb februar", "march mar märz maerz", "april apr", "may mai",
            "june jun juni",
            "july jul juli", "august aug", "september sep sept", "october oct oktober okt", "november nov",
            "december dec dezember dez",
        ),
        1,
    )
    for name in names.split()
}  # fmt: skip
_NAME: Final = "|".join(sorted(_MONTHS, key=len, reverse=True))
_ISO: Final = re.compile(r"(?<!\d)(\d{4})-(\d{1,2})-(\d{1,2})(?!\d)")
_DAY_MONTH: Final = re.compile(
    rf"(?<!\d)(\d{{1,2}})(?:st|nd|rd|th)?\.?[\s-]*\b({_NAME})\b\.?,?[\s-]*(\d{{4}})(?!\d)", re.IGNORECASE
)
_MONTH_DAY: Final = re.compile(rf"\b({_NAME})\b\.?\s*(\d{{1,2}})(?:st|nd|rd|th)?,?\s+(\d{{4}})(?!\d)", re.IGNORECASE)
_POINTS: Final = re.compile(r"(?<![\d.])(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4}|\d{2})(?![\d.])")
_SLASHES: Final = re.compile(r"(?<![\d/])(\d{1,2})/(\d{1,2})/(\d{4}|\d{2})(?![\d/])")
_SLASHED_YEAR: Final = re.compile(r"(?<!\d)(\d{4})/(\d{1,2})/(\d{1,2})(?!\d)")


def settle_order(texts: Iterable[str]) -> DayOrder:
    """Return how dates with slashes are read: by the first that can be read one way only.

    Examples
    --------
    >>> settle_order(["04/03/2026", "04/13/2026"]).value, settle_order(["04/03/2026"]).value
    ('month first', 'unsettled')
    """
    seen = False
    for text in texts:
        for found in _SLASHES.finditer(text):
            first, second = int(found[1]), int(found[2])
            if first > 12 >= second:
                return DayOrder.DAY_FIRST
            if second > 12 >= first:
                return DayOrder.MONTH_FIRST
            seen = seen or first != second
    return DayOrder.UNSETTLED if seen else DayOrder.DAY_FIRST


def find_date(text: str, order: DayOrder) -> date | None:
    """Return the first date in a text; None without one, or where day and month are not settled.

    Examples
    --------
    >>> find_date("12 Weeks on dock - pulled 26 April 2026", DayOrder.UNSETTLED)
    datetime.date(2026, 4, 26)
    """
    if found := _ISO.search(text) or _SLASHED_YEAR.search(text):
        return _make(int(found[1]), int(found[2]), int(found[3]))
    if found := _DAY_MONTH.search(text):
        return _make(int(found[3]), _MONTHS[found[2].casefold()], int(found[1]))
    if found := _MONTH_DAY.search(text):
        return _make(int(found[3]), _MONTHS[found[1].casefold()], int(found[2]))
    if found := _POINTS.search(text):
        return _make(_year(found[3]), int(found[2]), int(found[1]))
    if found := _SLASHES.search(text):
        first, second = int(found[1]), int(found[2])
        if first == second or order is DayOrder.DAY_FIRST:
            return _make(_year(found[3]), second, first)
        if order is DayOrder.MONTH_FIRST:
            return _make(_year(found[3]), first, second)
    return None


def has_slashes(text: str) -> bool:
    """Return whether a text holds a date that day and month must be settled for."""
    return any(found[1] != found[2] for found in _SLASHES.finditer(text))


def _year(text: str) -> int:
    return int(text) + (2000 if len(text) == 2 else 0)


def _make(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:
        return None
