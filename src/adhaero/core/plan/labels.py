"""Labels: what is written on both halves of a piece, short and readable from two sides."""

import re
from collections.abc import Iterator, Mapping, Sequence
from itertools import chain, count
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import EntryError

SCHEME: Final = "{set}-{no}"
LONGEST_LABEL: Final = 20

TOKENS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "set": "code of the set",
        "no": "running number in the trial",
        "n": "number within its set",
        "trial": "number of the trial",
        "wood": "first letters of the wood",
        "board": "number of the board",
        "place": "place on the board",
    }
)


def choose_codes(names: Sequence[str], taken: Sequence[str] = ()) -> list[str]:
    """Return a short code for each name, unique, and none of those taken.

    A name's number where it begins with one (`30 min` → 30), else its first letter; where several names begin alike,
    its first letter and the number it ends with, or the initials of its words, or as many letters as it takes.

    Examples
    --------
    >>> choose_codes(["Heron", "Wren", "Hawk", "Solid"])
    ['H', 'W', 'HA', 'S']
    >>> choose_codes(["rings parallel", "rings opposed"])
    ['RP', 'RO']
    >>> choose_codes(["Bird 1", "Bird 2", "Bird 12"])
    ['B1', 'B2', 'B12']
    >>> choose_codes(["30 min", "1.5 h", "30 h", "1:8"])
    ['30', '1.5', '30h', '8']
    """
    firsts = [name[:1].upper() for name in names]
    codes: list[str] = []
    for name in names:
        candidates = _candidates(name, alike=firsts.count(name[:1].upper()) > 1)
        codes.append(next(code for code in candidates if code not in codes and code not in taken))
    return codes


def _candidates(name: str, *, alike: bool) -> Iterator[str]:
    number = re.match(r"(?:1:)?(\d+(?:[.,]\d+)?)", name)
    if number:
        yield number[1]
        yield number[1] + "".join(re.findall(r"[A-Za-z]", name[number.end() :]))[:1]
    words = re.findall(r"[^\W\d_]+", name.upper())
    letters = "".join(words)
    if alike and (tail := re.search(r"(\d+)\s*$", name)):
        yield letters[:1] + tail[1]
    if alike and len(words) > 1:
        yield "".join(word[0] for word in words[:3])
    yield from (letters[:length] for length in range(1, min(4, len(letters)) + 1))
    yield from (f"{letters[:1] or 'X'}{turn}" for turn in count(2))


def join_codes(parts: Sequence[Sequence[str]]) -> list[str]:
    """Return the code of each set from the codes of its values, unique and without gaps in reading.

    Two numbers beside each other get a stroke between them.

    Examples
    --------
    >>> join_codes([("H", "6"), ("H", "10"), ("30", "6")])
    ['H6', 'H10', '30/6']
    """
    codes: list[str] = []
    for part in parts:
        code = ""
        for one in part:
            code += f"/{one}" if code[-1:].isdigit() and one[:1].isdigit() else one
        candidates = chain([code], (f"{code}{turn}" for turn in count(2)))
        codes.append(next(name for name in candidates if name not in codes))
    return codes


def check_scheme(scheme: str) -> str:
    """Return a scheme of labels, cleaned; raises `EntryError` when a token is unknown or labels would not be unique."""
    cleaned = scheme.strip().replace(" ", "")
    tokens = re.findall(r"\{([^{}]*)\}", cleaned)
    unknown = [token for token in tokens if token not in TOKENS]
    if unknown or "{" in re.sub(r"\{[^{}]*\}", "", cleaned):
        raise EntryError(
            f"“{{{unknown[0]}}}” is not known." if unknown else "A bracket is open.",
            f"The parts of a label are {', '.join(f'{{{token}}}' for token in TOKENS)}.",
            field="label_scheme",
        )
    unique = "no" in tokens or {"board", "place"} <= set(tokens) or {"set", "n"} <= set(tokens)
    if not unique:
        raise EntryError(
            f"“{cleaned}” would give several pieces the same label." if cleaned else "Nothing was typed.",
            "A label is unique by {no}, by {set} and {n}, or by {board} and {place}.",
            "Add one of them.",
            field="label_scheme",
        )
    return cleaned


def make_label(scheme: str, values: Mapping[str, str | int], total: int) -> str:
    """Return the label of one piece; running numbers have as many digits as the total.

    Raises
    ------
    EntryError : it is longer than 20 letters.

    Examples
    --------
    >>> make_label("{set}-{no}", {"set": "H", "no": 7}, 42)
    'H-07'
    """
    digits = max(2, len(str(total)))
    label = scheme
    for token in TOKENS:
        value = values.get(token, "")
        text = f"{value:0{digits}d}" if token == "no" and isinstance(value, int) else str(value)
        label = label.replace(f"{{{token}}}", text)
    if len(label) > LONGEST_LABEL:
        raise EntryError(
            f"“{label}” is {len(label)} letters long.",
            f"Up to {LONGEST_LABEL} can be read on a piece.",
            "Take a part out of the labels.",
            field="label_scheme",
        )
    return label
