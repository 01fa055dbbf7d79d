"""What stands in the cell of a piece: a load, a bound, between two loads, a word, or nothing."""

import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from adhaero.core.stats.breaks import Outcome
from adhaero.core.tables.grid import Cell
from adhaero.core.tables.numerals import Mark, is_doubtful, read_number
from adhaero.core.tables.units import Unit, name_unit


class Doubt(StrEnum):
    """What of an entry a person must say."""

    ZERO = "zero"
    WORD = "word"
    HELD_AT = "held at"
    MARK = "decimal mark"


@dataclass(frozen=True)
class Entry:
    """What a cell of a piece says.

    Attributes
    ----------
    value, held : as written, without unit; None where it has none. outcome : None where it is not known.
    unit : written behind the number. note : a sign or a word that goes with it. doubt, word : what is to be asked.
    written_number : the number that stands in the cell, whatever it means; a summary counts it.
    is_text : whether a spreadsheet's functions skip it.
    """

    value: float | None
    outcome: Outcome | None
    held: float | None = None
    unit: Unit | None = None
    note: str = ""
    doubt: Doubt | None = None
    word: str = ""
    is_text: bool = False

    @property
    def written_number(self) -> float | None:
        """Return the number that stands in it; None for a word alone."""
        return self.value


_NOTHING: Final = frozenset({
    "-", "–", "—", "--", "---", "n/a", "na", "n.a", "n.a.", "not tested", "untested", "not broken", "not yet",
    "nt", "none",
    "missing", ".", "...", "…", "/", "void", "lost", "tbd", "todo", "pending", "to do", "not done", "not yet tested",
    "not yet broken", "open", "#n/a",
})  # fmt: skip
_FELL: Final = re.compile(
    r"^(?:it )?(?:fell (?:off|apart)(?: .*)?|came apart(?: .*)?|fell in two|dropped off|failed in (?:the )?clamps?"
    r"|broke (?:in|while|when|on|before|during) (?:the )?"
    r"(?:clamps?|clamping|cutting|sawing|handling|unclamping|hand|hands|saw)(?: .*)?"
    r"|broke by hand|opened by itself|delaminated)\.?$"
)
_HELD_WORDS: Final = re.compile(
    r"^(?:dnb|dnf|did not break|didn't break|didnt break|not broken at|no break|held|unbroken|survived|no failure"
    r"|still whole)\b[\s:@,]*(?:at|to)?\s*(.*)$"
)
_RANGE: Final = re.compile(r"^(?P<low>.*?\d)\s*(?:[-–—]|\.\.\.?|…|\bto\b)\s*(?P<high>\d.*)$")


def read_entry(cell: Cell | None, mark: Mark) -> Entry | None:
    """Return what the cell of a piece says; None where it makes no piece.

    Parameters
    ----------
    mark : the decimal mark of the file's texts.

    Examples
    --------
    >>> read_entry(Cell("DNB 400"), Mark.POINT).outcome.value, read_entry(Cell("250-275"), Mark.POINT).held
    ('held', 250.0)
    """
    if cell is None or cell.is_blank or cell.is_error:
        return None
    if cell.number is not None:
        return _measured(cell.number)
    if not cell.text:
        return None
    return _read_text(cell.text, mark)


def _measured(value: float, unit: Unit | None = None, note: str = "", *, is_text: bool = False) -> Entry:
    if value == 0:
        return Entry(0.0, None, unit=unit, note=note, doubt=Doubt.ZERO, is_text=is_text)
    return Entry(value, Outcome.BROKE, unit=unit, note=note, is_text=is_text)


def _read_text(text: str, mark: Mark) -> Entry | None:
    if text.isascii() and text.isdigit():
        return _measured(float(text), is_text=True)  # what most cells of a text table are
    words = text.casefold().strip().rstrip(".")
    if words in _NOTHING or text.casefold().strip() in _NOTHING:
        return None
    if _FELL.match(words):
        return Entry(None, Outcome.FELL_APART, note=text, is_text=True)
    if found := _HELD_WORDS.match(words):
        value, unit, ok = _number(text.rstrip(".")[len(words) - len(found[1]) :].lstrip(">≥= "), mark)
        if ok:
            if value is None:
                return Entry(None, Outcome.HELD, note=text, doubt=Doubt.HELD_AT, word=text, is_text=True)
            return Entry(value, Outcome.HELD, unit=unit, is_text=True)
    bound = re.match(r"^(?:>=?|≥|at least |over |more than |above )\s*(.+)$", text, re.IGNORECASE)
    behind = re.match(r"^(.*\d.*?)\s*\+$", text)
    if bound or behind:
        value, unit, ok = _number((bound or behind)[1], mark)  # type: ignore[index]
        if ok and value is not None:
            return Entry(value, Outcome.HELD, unit=unit, is_text=True)
    below = re.match(r"^(?:<=?|≤|below |under |less than )\s*(.+)$", text, re.IGNORECASE)
    if below:
        value, unit, ok = _number(below[1], mark)
        if ok and value is not None:
            return Entry(value, Outcome.STEP, held=0.0, unit=unit, is_text=True)
    about = re.match(r"^(?:[~≈]|about |approx\.? |ca\.? |circa )\s*(.+)$", text, re.IGNORECASE) or re.match(
        r"^(.*\d.*?)\s*\?$", text
    )
    if about:
        value, unit, ok = _number(about[1], mark)
        if ok and value is not None:
            sign = re.sub(re.escape(about[1]), "", text).strip() or "about"
            return _measured(value, unit, sign, is_text=True)
    value, unit, ok = _number(text, mark)
    if ok and value is not None:
        return _measured(value, unit, is_text=True)
    if found := _RANGE.match(text):
        low, low_unit, fine = _number(found["low"], mark)
        high, high_unit, ok = _number(found["high"], mark)
        if fine and ok and low is not None and high is not None and high > low:
            return Entry(high, Outcome.STEP, held=low, unit=high_unit or low_unit, is_text=True)
    if is_doubtful(text) or is_doubtful(_without_unit(text)[0]):
        return Entry(None, Outcome.BROKE, unit=_without_unit(text)[1], doubt=Doubt.MARK, is_text=True)
    return Entry(None, None, doubt=Doubt.WORD, word=text, note=text, is_text=True)


def _without_unit(text: str) -> tuple[str, Unit | None]:
    found = re.fullmatch(r"\s*([+\-−]?[\d.,][\d., \u00a0\u202f'’]*?)\s*([A-Za-z#][A-Za-z0-9/²#]*\.?)\s*", text)
    if found is not None and (unit := name_unit(found[2])) is not None:
        return found[1], unit
    return text, None


def _number(text: str, mark: Mark) -> tuple[float | None, Unit | None, bool]:
    """Return a number with its unit, and whether the text is one or empty."""
    if not text.strip():
        return None, None, True
    bare, unit = _without_unit(text)
    value = read_number(bare, mark)
    return value, unit, value is not None
