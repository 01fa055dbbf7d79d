"""What a formula refers to, without ever computing it."""

import re
from dataclasses import dataclass
from typing import Final

from adhaero.core.tables.grid import Place, read_place

_REFERENCE: Final = re.compile(
    r"(?P<sheet>(?:'(?:[^']|'')+'|[A-Za-z_][\w.]*)!)?\$?(?P<first>[A-Z]{1,3}\$?\d{1,7})(?::\$?(?P<last>[A-Z]{1,3}\$?\d{1,7}))?(?![\w(])"
)
_MOST_PLACES: Final = 20_000


@dataclass(frozen=True)
class Refers:
    """The cells of its own sheet that a formula refers to, and whether it refers to other sheets."""

    places: frozenset[Place]
    elsewhere: bool


def read_references(formula: str, sheet: str) -> Refers:
    """Return what a formula refers to.

    Examples
    --------
    >>> sorted(read_references("STDEV(C14,E15:F15)", "Dock").places)
    [(13, 2), (14, 4), (14, 5)]
    """
    places: set[Place] = set()
    elsewhere = False
    text = re.sub(r'"[^"]*"', "", formula)
    for found in _REFERENCE.finditer(text):
        name = (found["sheet"] or "").rstrip("!").strip("'").replace("''", "'")
        if name and name.casefold() != sheet.casefold():
            elsewhere = True
            continue
        first = read_place(found["first"].replace("$", ""))
        last = read_place(found["last"].replace("$", "")) if found["last"] else first
        if first is None or last is None:
            continue
        top, bottom = sorted((first[0], last[0]))
        left, right = sorted((first[1], last[1]))
        if (bottom - top + 1) * (right - left + 1) <= _MOST_PLACES:
            places |= {(row, column) for row in range(top, bottom + 1) for column in range(left, right + 1)}
    return Refers(frozenset(places), elsewhere)


def pattern_of(places: frozenset[Place], at: Place) -> frozenset[Place]:
    """Return what a formula refers to by how far it lies from it: alike for one that was filled down."""
    return frozenset((row - at[0], column - at[1]) for row, column in places)
