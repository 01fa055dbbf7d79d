"""Names that may be one: within two letters of each other, or word by word an abbreviation."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache


@dataclass(frozen=True)
class Likeness:
    """Two names that may be one: the one asked about, and the likelier."""

    name: str
    likelier: str


@lru_cache(maxsize=16384)
def fold(name: str) -> str:
    """Return a name as it is compared: without regard to case and double blanks."""
    return " ".join(name.split()).casefold()


def find_alike(counts: Mapping[str, int], together: Iterable[Sequence[str]]) -> list[Likeness]:
    """Return the names that may be another one.

    Parameters
    ----------
    counts : how many pieces each name has, in the order of the file; no two differ by case alone.
    together : the names of each wide or columns block: a person who wrote both side by side meant two.
    """
    apart = [{fold(name) for name in names} for names in together]
    names = list(counts)
    found: list[Likeness] = []
    asked: set[str] = set()
    for at, first in enumerate(names):
        for second in names[at + 1 :]:
            if any(fold(first) in one and fold(second) in one for one in apart):
                continue
            if not (is_misspelt(first, second) or is_short_for(first, second) or is_short_for(second, first)):
                continue
            less, more = _order(first, second, counts)
            if less not in asked:
                asked.add(less)
                found.append(Likeness(less, more))
    return found


def _order(first: str, second: str, counts: Mapping[str, int]) -> tuple[str, str]:
    """Return the less and the more likely of two names: the rarer; alike, the shorter; alike, the later."""
    if counts[first] != counts[second]:
        return (first, second) if counts[first] < counts[second] else (second, first)
    if is_short_for(first, second):
        return first, second
    return second, first


def is_misspelt(first: str, second: str) -> bool:
    """Return whether two names are within two letters, swaps counted as one: at most a quarter, digits the same.

    Examples
    --------
    >>> is_misspelt("Kestral", "Kestrel"), is_misspelt("Heron 1", "Heron 2"), is_misspelt("Wren", "Tern")
    (True, False, False)
    """
    first, second = fold(first), fold(second)
    if first == second or _digits(first) != _digits(second):
        return False
    letters = max(sum(one.isalpha() for one in first), sum(one.isalpha() for one in second))
    most = min(2, letters // 4)
    return abs(len(first) - len(second)) <= most and most > 0 and distance(first, second, most) <= most


def _digits(name: str) -> list[str]:
    return re.findall(r"\d+", name)


def distance(first: str, second: str, most: int) -> int:
    """Return how many letters differ, a swap of neighbours counted as one; more than `most` is any number above it."""
    before: list[int] = []
    now = list(range(len(second) + 1))
    for row, a in enumerate(first, 1):
        earlier, before, now = before, now, [row]
        for column, b in enumerate(second, 1):
            cost = min(before[column] + 1, now[column - 1] + 1, before[column - 1] + (a != b))
            if row > 1 and column > 1 and a == second[column - 2] and first[row - 2] == b:
                cost = min(cost, earlier[column - 2] + 1)
            now.append(cost)
        if min(now) > most:
            return most + 1
    return now[-1]


def is_short_for(short: str, long: str) -> bool:
    """Return whether a name is word by word an abbreviation of another, its digits the same.

    Examples
    --------
    >>> is_short_for("Wk 1", "Week 1"), is_short_for("Wk 1", "Week 4"), is_short_for("x-link PVA", "cross-link PVA")
    (True, False, False)
    """
    mine, other = _words(short), _words(long)
    if len(mine) != len(other) or mine == other or _digits(short) != _digits(long):
        return False
    return all(a == b or _abbreviates(a, b) for a, b in zip(mine, other, strict=True))


def _words(name: str) -> list[str]:
    return re.findall(r"[^\W_]+", fold(name))


def _abbreviates(short: str, long: str) -> bool:
    if short.isdigit() or long.isdigit() or len(short) >= len(long) or short[0] != long[0]:
        return False
    letters = iter(long)
    return all(letter in letters for letter in short)
