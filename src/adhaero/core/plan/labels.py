"""Labels: what is written on both halves of a piece, short and readable from two sides."""

import re
from collections.abc import Sequence


def choose_codes(names: Sequence[str]) -> list[str]:
    """Return a short code for each set, unique: its number where it has one (`30 min` → 30), else its first letters.

    Examples
    --------
    >>> choose_codes(["Heron", "Wren", "Hawk", "Solid"])
    ['H', 'W', 'HA', 'S']
    >>> choose_codes(["30 min", "1.5 h"])
    ['30', '1.5']
    """
    codes: list[str] = []
    for position, name in enumerate(names):
        codes.append(next(code for code in _candidates(name, position) if code not in codes))
    return codes


def _candidates(name: str, position: int) -> list[str]:
    number = re.match(r"[\d.,:/]+", name)
    if number and any(character.isdigit() for character in number[0]):
        start = re.sub(r"[:/]", ".", number[0].rstrip(".,:/")).removeprefix("1.") if ":" in number[0] else number[0]
        unit = "".join(re.findall(r"[A-Za-z]", name[number.end() :]))[:1]
        tries = [start.replace("/", "."), f"{start}{unit}"]
    else:
        letters = "".join(re.findall(r"[^\W\d_]", name)).upper()
        tries = [letters[:length] for length in range(1, min(4, len(letters)) + 1)]
    return [*[one for one in tries if one], *(f"{chr(ord('A') + position % 26)}{turn}" for turn in range(1, 1000))]


def make_label(code: str, number: int, total: int) -> str:
    """Return a label such as `H-07`: the set's code and the running number in the trial.

    Examples
    --------
    >>> make_label("H", 7, 42)
    'H-07'
    """
    return f"{code}-{number:0{max(2, len(str(total)))}d}"
