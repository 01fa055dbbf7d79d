"""Labels: what is written on both halves of a piece, short and readable from two sides."""

import re
from collections.abc import Iterator, Sequence
from itertools import count


def choose_codes(names: Sequence[str]) -> list[str]:
    """Return a short code for each set, unique.

    A name's number where it begins with one (`30 min` → 30), else its first letter; the initials of its words where
    several names begin alike, else as many letters as it takes.

    Examples
    --------
    >>> choose_codes(["Heron", "Wren", "Hawk", "Solid"])
    ['H', 'W', 'HA', 'S']
    >>> choose_codes(["rings parallel", "rings opposed"])
    ['RP', 'RO']
    >>> choose_codes(["30 min", "1.5 h", "30 h", "1:8"])
    ['30', '1.5', '30h', '8']
    """
    firsts = [name[:1].upper() for name in names]
    codes: list[str] = []
    for name in names:
        candidates = _candidates(name, alike=firsts.count(name[:1].upper()) > 1)
        codes.append(next(code for code in candidates if code not in codes))
    return codes


def _candidates(name: str, *, alike: bool) -> Iterator[str]:
    number = re.match(r"(?:1:)?(\d+(?:[.,]\d+)?)", name)
    if number:
        yield number[1]
        yield number[1] + "".join(re.findall(r"[A-Za-z]", name[number.end() :]))[:1]
    words = re.findall(r"[^\W\d_]+", name.upper())
    letters = "".join(words)
    if alike and len(words) > 1:
        yield "".join(word[0] for word in words[:3])
    yield from (letters[:length] for length in range(1, min(4, len(letters)) + 1))
    yield from (f"{letters[:1] or 'X'}{turn}" for turn in count(2))


def make_label(code: str, number: int, total: int) -> str:
    """Return a label such as `H-07`: the set's code and the running number in the trial.

    Examples
    --------
    >>> make_label("H", 7, 42)
    'H-07'
    """
    return f"{code}-{number:0{max(2, len(str(total)))}d}"
