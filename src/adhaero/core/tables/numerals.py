"""Numbers as they are written in text: which mark is the decimal one, and what a number is by it."""

import re
from collections.abc import Iterable
from enum import StrEnum
from fractions import Fraction
from typing import Final


class Mark(StrEnum):
    """The decimal mark of a file's texts; `UNSETTLED` where it could be either and matters."""

    POINT = "point"
    COMMA = "comma"
    UNSETTLED = "unsettled"


_GROUPING: Final = "\u00a0\u202f\u2009'’ "
_NUMBER: Final = re.compile(r"[+\-−]?\s*(?:\d[\d., \u00a0\u202f\u2009'’]*\d|\d|[.,]\d+)")
_GROUPED: Final = re.compile(rf"(?<=\d)[{_GROUPING}](?=\d{{3}}(?!\d))")
_MARKED: Final = re.compile(r"\d*(?:[.,]\d+)+")


def settle_mark(texts: Iterable[str]) -> Mark:
    """Return the decimal mark of a file, settled by its first certain place.

    Certain is a mark before other than three digits or after a leading 0, both marks in one number, one mark twice.
    Without a certain place it is unsettled only where a mark stands before three digits.

    Examples
    --------
    >>> settle_mark(["1,222", "1,399.5"]).value, settle_mark(["1,222"]).value, settle_mark(["12,5"]).value
    ('point', 'unsettled', 'comma')
    """
    doubtful = False
    for text in texts:
        for found in _MARKED.findall(_ungroup(text)):
            settled = _settle(found)
            if settled is not None:
                return settled
            doubtful = True
    return Mark.UNSETTLED if doubtful else Mark.POINT


def _ungroup(text: str) -> str:
    return text if text.isalnum() else _GROUPED.sub("", text)


def _settle(number: str) -> Mark | None:
    """Return what one number settles; None where it could be either."""
    marks = re.findall(r"[.,]", number)
    last = marks[-1]
    other = Mark.COMMA if last == "." else Mark.POINT
    mine = Mark.POINT if last == "." else Mark.COMMA
    if len(set(marks)) == 2:
        return mine
    if len(marks) > 1:
        return other
    whole, _, behind = number.partition(last)
    if len(behind) != 3 or whole in ("", "0") or len(whole) > 3:
        return mine
    return None


def read_number(text: str, mark: Mark) -> float | None:
    """Return a number written alone; None for anything else, and where its mark is not settled.

    Examples
    --------
    >>> read_number("1.512,5", Mark.COMMA), read_number("1 455", Mark.POINT), read_number("1,455", Mark.UNSETTLED)
    (1512.5, 1455.0, None)
    """
    bare = text.strip()
    if not _NUMBER.fullmatch(bare):
        return None
    bare = _ungroup(bare).replace("−", "-").replace(" ", "")
    marks = re.findall(r"[.,]", bare)
    if not marks:
        return float(bare) if re.fullmatch(r"[+-]?\d+", bare) else None
    if mark is Mark.UNSETTLED:
        settled = _settle(bare.lstrip("+-"))
        if settled is None:
            return None
        mark = settled
    decimal, group = (".", ",") if mark is Mark.POINT else (",", ".")
    whole, _, behind = bare.rpartition(decimal) if decimal in bare else (bare, "", "")
    if decimal in whole or group in behind:
        return None
    if group in whole and not re.fullmatch(rf"[+-]?\d{{1,3}}(?:{re.escape(group)}\d{{3}})+", whole):
        return None
    whole = whole.replace(group, "")
    try:
        return float(f"{whole or '0'}.{behind}" if behind else whole)
    except ValueError:
        return None


def is_doubtful(text: str) -> bool:
    """Return whether a number alone has a mark that only the whole file can settle."""
    bare = _ungroup(text.strip()).lstrip("+-−")
    return _MARKED.fullmatch(bare) is not None and _settle(bare) is None


def count_decimals(text: str, mark: Mark) -> int:
    """Return how many decimals a number is written with."""
    decimal = "," if mark is Mark.COMMA else "."
    return len(text.strip().partition(decimal)[2].strip()) if decimal in text else 0


_FRACTION: Final = re.compile(
    r"(?:(?P<whole>\d+)(?:\s+|-|\s*&\s*))?(?P<over>\d+)\s*[/⁄]\s*(?P<under>\d+)\s*(?P<unit>\"|″|''|in\.?|inch(?:es)?|mm)?",
    re.IGNORECASE,
)
_VULGAR: Final = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3",
}  # fmt: skip


def read_fraction(text: str) -> tuple[float, str] | None:
    """Return a shop fraction and the unit behind it: `1 1/16"`; None for anything else.

    Examples
    --------
    >>> read_fraction('1 1/16"'), read_fraction("3/4"), read_fraction("12")
    ((1.0625, '"'), (0.75, ''), None)
    """
    bare = " ".join(text.split())
    for sign, written in _VULGAR.items():
        bare = bare.replace(sign, f" {written}")
    found = _FRACTION.fullmatch(bare.strip())
    if found is None or not int(found["under"]):
        return None
    value = Fraction(int(found["whole"] or 0)) + Fraction(int(found["over"]), int(found["under"]))
    return float(value), (found["unit"] or "")
