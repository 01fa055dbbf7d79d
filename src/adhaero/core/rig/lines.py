"""Lines as rigs print them: one number among whatever words, signs and units stand around it."""

import re
from dataclasses import dataclass
from typing import Final

LONGEST_LINE = 200

_NUMBER: Final = re.compile(r"(?<![\w.])([-+−]?\s?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][-+]?\d+)?)(?![\d.]*\d)")
_UNIT: Final = re.compile(r"[\s,;]*(kgf?|lbf?|lbs|kN|N|g|oz)\b", re.IGNORECASE)


@dataclass(frozen=True)
class LineNumber:
    """One number found in a line, with the unit written behind it, if any."""

    value: float
    unit: str | None


def find_numbers(line: str) -> tuple[LineNumber, ...]:
    """Return every number in a line with the unit behind it.

    Examples
    --------
    >>> find_numbers("ST,GS,+0012.3,kg")
    (LineNumber(value=12.3, unit='kg'),)
    >>> find_numbers("load: 12.34 kg at 8.1 s")[0].value
    12.34
    """
    found = []
    for match in _NUMBER.finditer(line[:LONGEST_LINE]):
        unit = _UNIT.match(line, match.end())
        value = float(match[1].replace("−", "-").replace(" ", ""))
        found.append(LineNumber(value, unit[1] if unit else None))
    return tuple(found)


def read_line(line: str, number_index: int = 0) -> LineNumber | None:
    """Return the number that a rig's set-up picks in its lines; None when the line holds no such number.

    A line that is too long or holds characters that no rig prints is garbage, not a number.
    """
    if len(line) > LONGEST_LINE or any(ord(character) < 32 and character not in "\t\r\n" for character in line):
        return None
    if "\ufffd" in line:
        return None
    numbers = find_numbers(line)
    return numbers[number_index] if number_index < len(numbers) else None
