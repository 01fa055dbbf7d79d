"""Lines as rigs print them: numbers among whatever words, signs and units stand around them, never guessed.

A line that could mean two things is unreadable, with the reason. What counts as what is written in docs/method.
"""

import math
import re
import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from types import MappingProxyType
from typing import Final

LONGEST_LINE = 200
_DIGITS: Final = "0123456789"


class DecimalMark(StrEnum):
    """What parts whole from decimal in a rig's lines; with `AUTO` a comma that could be one is refused."""

    AUTO = "auto"
    POINT = "point"
    COMMA = "comma"


MARK_WORDS: Final = MappingProxyType(
    {
        DecimalMark.AUTO: "a point; a comma is refused",
        DecimalMark.POINT: "a point; commas group thousands",
        DecimalMark.COMMA: "a comma; points group thousands",
    }
)


@dataclass(frozen=True)
class LineNumber:
    """One number found in a line, with the unit of load written behind it, if any."""

    value: float
    unit: str | None = None


@dataclass(frozen=True)
class Unreadable:
    """Why a line, or one of its numbers, is no reading."""

    why: str


_UNITS: Final = {"kn": "kN", "kg": "kg", "kgf": "kgf", "lb": "lb", "lbs": "lb", "lbf": "lbf", "oz": "oz"}
_UNITS_IN_THIS_CASE: Final = frozenset({"N", "g"})
_MAY_BE_GLUED: Final = frozenset({"s", "ms", "mm", "in", "mV", "V", "Hz", "C"})
_AROUND: Final = " \t\r\n\x00\x02\x03\ufeff"
_ALARM: Final = re.compile(
    r"(?<![^\W\d_])(?:OL|O\.L\.?|OVER(?:LOAD)?|OVLD|OVR|UNDER(?:LOAD)?|ERR(?:OR)?)(?![^\W\d_])|([-=_*])\1\1",
    re.IGNORECASE,
)
_DASHES: Final = "\u2010\u2011\u2012\u2013\u2014\u2015\ufe58\ufe63\uff0d"
_BLANK: Final = r"[^\S\r\n]*"
_NOT_INSIDE: Final = r"(?<![\w.,:/+\-])"
_MOMENT: Final = re.compile(
    _NOT_INSIDE
    + r"""(?P<date>[0-9]{4}([-/.])[0-9]{1,2}\2[0-9]{1,2}|[0-9]{1,2}([-.])[0-9]{1,2}\3[0-9]{4}
        |[0-9]{1,2}/[0-9]{1,2}/(?:[0-9]{4}|[0-9]{2}))(?:T(?=[0-9]{1,2}:)|(?![\w.:/+\-]))
    |(?:"""
    + _NOT_INSIDE
    + r"""|(?<=[0-9]T))(?P<clock>[0-9]{1,2}:[0-9]{2}(?::[0-9]{2}(?:\.[0-9]+)?)?)Z?(?![\w.:/+\-])""",
    re.VERBOSE,
)
_PART_OF_A_SECOND: Final = re.compile(r",[0-9]+(?![0-9.])")
_WORD: Final = re.compile(r"[^\W\d]\w*(?:\.[0-9]\w*)*")
_NOT_A_NUMBER: Final = {"nan": "not a number", "inf": "not finite", "infinity": "not finite"}
_CHAIN: Final = re.compile(
    r"(?:[0-9]{1,3}(?:[\u00a0\u202f\u2009'’][0-9]{3})+(?![0-9])|[0-9]+|(?=[.,][0-9]))(?:[.,][0-9]+)*\.?"
)
_EXPONENT: Final = re.compile(r"[eE][-+]?[0-9]+(?![0-9.])")
_SIGN_CHARACTERS: Final = "-+\u2212" + _DASHES
_SIGNS: Final = re.compile(rf"((?:[{_SIGN_CHARACTERS}]{_BLANK})+)$")
_MAYBE_ONE: Final = re.compile(r" [0-9]{3}(?![0-9])")
_GROUPS: Final = re.compile(r"[\u00a0\u202f\u2009'’]")
_THOUSANDS: Final = re.compile(r"[0-9]{1,3}(?:,[0-9]{3})+(?![0-9])(?:\.[0-9]*)?")
_DECIMAL: Final = re.compile(r"[0-9]+(?:\.[0-9]*)?|\.[0-9]+")
_WITH_COMMA: Final = re.compile(r"(?:[0-9]+|[0-9]{1,3}(?:\.[0-9]{3})+)(?:,[0-9]+)?|,[0-9]+")
_UNIT: Final = re.compile(rf"(?:{_BLANK}[,;]?{_BLANK})([^\W\d_]+)(?![\w/·²])(?!{_BLANK}[=:])")


class _Refused(Exception):
    """The whole line cannot be read."""


def split_lines(text: str) -> list[str]:
    """Return the lines of a text that end with LF, CR LF or CR, without their ends."""
    lines = re.split(r"\r\n|\n|\r", text)
    return lines if lines[-1] else lines[:-1]


def read_numbers(line: str, mark: DecimalMark = DecimalMark.AUTO) -> tuple[LineNumber | Unreadable, ...] | Unreadable:
    """Return every number of a line; where one is not finite it stands as `Unreadable` in its place.

    Parameters
    ----------
    line : as the rig printed it, with or without its end.
    mark : the decimal mark of the rig's lines.

    Returns
    -------
    The numbers in the order of the line, or `Unreadable` when nothing of it can be trusted.

    Examples
    --------
    >>> read_numbers("ST,GS,+0012.3,kg")
    (LineNumber(value=12.3, unit='kg'),)
    >>> read_numbers("1,234.5 N").why
    'the comma could be a mark or part two numbers'
    >>> read_numbers("1,234.5 N", DecimalMark.POINT)
    (LineNumber(value=1234.5, unit='N'),)
    """
    text = line.strip(_AROUND)
    try:
        _check_characters(text)
        return tuple(_scan(text, mark))
    except _Refused as refused:
        return Unreadable(str(refused))


def read_line(line: str, number_index: int = 0, mark: DecimalMark = DecimalMark.AUTO) -> LineNumber | Unreadable:
    """Return the number that a rig's set-up picks in its lines, or why there is none.

    Parameters
    ----------
    line : as the rig printed it. number_index : which number is the load, from 0. mark : of the rig's lines.
    """
    numbers = read_numbers(line, mark)
    if isinstance(numbers, Unreadable):
        return numbers
    if number_index < len(numbers):
        return numbers[number_index]
    return Unreadable(f"no number {number_index + 1} in it" if numbers else "no number in it")


def _check_characters(text: str) -> None:
    if len(text) > LONGEST_LINE:
        raise _Refused(f"longer than {LONGEST_LINE} characters")
    if "\ufffd" in text:
        raise _Refused("a character was lost on the way")
    for character in text:
        kind = unicodedata.category(character)
        if kind in ("Cc", "Cf", "Cs", "Co", "Cn", "Zl", "Zp") and character != "\t":
            raise _Refused("a control character in it")
        if kind == "Nd" and not character.isascii():
            raise _Refused("digits of another script")
    if alarm := _ALARM.search(text):
        raise _Refused(f"“{alarm[0]}” says overload or error")


def _scan(text: str, mark: DecimalMark) -> Iterator[LineNumber | Unreadable]:
    """Walk through a line: dates, clocks and words fall away, numbers are read. Raises `_Refused`."""
    at, plain_end = 0, len(text)
    while at < len(text):
        if moment := _MOMENT.match(text, at):
            at = _after_moment(text, moment, mark)
        elif word := _WORD.match(text, at):
            if why := _NOT_A_NUMBER.get(word[0].lower()):
                yield Unreadable(why)
            at = word.end()
        elif _begins_number(text, at, mark):
            chain = _CHAIN.match(text, at)
            assert chain is not None
            if _MAYBE_ONE.match(text, plain_end):
                raise _Refused("one number or two")
            signs = _SIGNS.search(text[:at])
            numbers, at = _read_chain(text, chain, signs[1] if signs else "", mark)
            yield from numbers
            plain = re.fullmatch(r"[0-9]{1,3}", chain[0]) and at == chain.end()
            plain_end = at if plain else len(text)
        else:
            at += 1


def _begins_number(text: str, at: int, mark: DecimalMark) -> bool:
    """Return whether a number begins here: at a digit, or at a mark before one that nothing stands in front of."""
    character = text[at]
    if character in _DIGITS:
        return True
    alone = at == 0 or text[at - 1] in " \t-+\u2212=:(" or text[at - 1].isspace()
    marks = ".," if mark is DecimalMark.COMMA else "."
    return (
        character in marks and text[at + 1 : at + 2] in _DIGITS and at + 1 < len(text) and (alone or character == ".")
    )


def _after_moment(text: str, moment: re.Match[str], mark: DecimalMark) -> int:
    """Return where a date or a clock ends; a comma behind seconds may belong to them."""
    end = moment.end()
    part = _PART_OF_A_SECOND.match(text, end)
    clock = moment["clock"] or ""
    if part is None or clock.count(":") < 2 or "." in clock:
        return end
    if mark is DecimalMark.AUTO:
        raise _Refused("a part of the second, or the load")
    return part.end() if mark is DecimalMark.COMMA else end


def _read_chain(
    text: str, chain: re.Match[str], signs: str, mark: DecimalMark
) -> tuple[list[LineNumber | Unreadable], int]:
    """Return the numbers of a run of digits and marks, and where what belongs to them ends. Raises `_Refused`."""
    sign, end = _read_sign(signs), chain.end()
    bodies = _split_chain(_GROUPS.sub("", chain[0]), mark)
    if exponent := _EXPONENT.match(text, end):
        if "." not in bodies[-1] and not re.search(r"[-+]", exponent[0]):
            raise _Refused("an exponent or hexadecimal")
        bodies[-1] += exponent[0]
        end = exponent.end()
    sign_behind, end = _read_sign_behind(text, end, signed=bool(signs))
    unit, end = _read_unit(text, end)
    values = [float(body) for body in bodies]
    values[0] *= sign
    values[-1] *= sign_behind
    units = [None] * (len(values) - 1) + [unit]
    numbers = [LineNumber(value, one) for value, one in zip(values, units, strict=True)]
    return [one if math.isfinite(one.value) else Unreadable("not finite") for one in numbers], end


def _runs_on(mark: str) -> bool:
    """Return whether a mark between two digits is none of those that part columns."""
    return not (mark.isspace() or mark.isalnum() or mark in ",;|_")


def _read_sign_behind(text: str, end: int, *, signed: bool) -> tuple[float, int]:
    """Return the sign stuck behind a number, and where it ends. Raises `_Refused` for what cannot stand there."""
    behind = text[end : end + 1]
    if not behind or behind not in _SIGN_CHARACTERS:
        if behind and (behind in "/:#'’." or (_runs_on(behind) and text[end + 1 : end + 2].isdigit())):
            raise _Refused(f"digits run into “{behind}”")
        return 1.0, end
    if re.match(rf"{_BLANK}[0-9.]", text[end + 1 :]):
        raise _Refused("two numbers run into one another")
    if signed:
        raise _Refused("a sign on both sides")
    return _read_sign(behind), end + 1


def _read_sign(signs: str) -> float:
    found = "".join(signs.split())
    if len(found) > 1:
        raise _Refused("two signs")
    if found and found in _DASHES:
        raise _Refused("a dash that is no minus")
    return -1.0 if found and found in "-\u2212" else 1.0


def _split_chain(chain: str, mark: DecimalMark) -> list[str]:
    """Return the numbers in a run of digits, points and commas, with points as decimal marks. Raises `_Refused`."""
    if mark is DecimalMark.COMMA:
        body = chain.removesuffix(".")
        if not _WITH_COMMA.fullmatch(body):
            raise _Refused("its marks do not fit a decimal comma")
        return [body.replace(".", "").replace(",", ".")]
    if mark is DecimalMark.AUTO and _has_doubtful_comma(chain):
        raise _Refused("the comma could be a mark or part two numbers")
    bodies, at = [], 0
    while at < len(chain):
        grouped = _THOUSANDS.match(chain, at) if mark is DecimalMark.POINT else None
        number = grouped or _DECIMAL.match(chain, at)
        if number is None or chain[number.end() : number.end() + 1] == ".":
            raise _Refused("two points in a number")
        bodies.append(number[0].replace(",", ""))
        at = number.end() + 1
    return bodies


def _has_doubtful_comma(chain: str) -> bool:
    """Return whether a comma between digits could be a decimal mark or group thousands."""
    pieces = chain.split(",")
    for left, right in pairwise(pieces):
        decimal = re.fullmatch(r"[0-9]+|[0-9]{1,3}(?:\.[0-9]{3})+", left) and re.fullmatch(r"[0-9]+\.?", right)
        groups = re.fullmatch(r"[0-9]{1,3}", left) and re.fullmatch(r"[0-9]{3}(?:\.[0-9]*)?", right)
        if decimal or groups:
            return True
    return False


def _read_unit(text: str, end: int) -> tuple[str | None, int]:
    """Return the unit of load behind a number, and where it ends. Raises `_Refused` where other letters are glued."""
    glued = re.match(r"[^\W\d]+", text[end:])
    if glued is not None:
        word, after = glued[0], text[end + glued.end() : end + glued.end() + 1]
        if after.isdigit():
            raise _Refused("two numbers run into one another")
        if name_unit(word) is None and word not in _MAY_BE_GLUED:
            raise _Refused("digits run into letters")
    if (found := _UNIT.match(text, end)) and (unit := name_unit(found[1])):
        return unit, found.end()
    return None, end + (glued.end() if glued else 0)


def name_unit(word: str) -> str | None:
    """Return the usual spelling of a unit of load; None where the word is none."""
    return word if word in _UNITS_IN_THIS_CASE else _UNITS.get(word.lower())
