"""Fills of cells: what a legend says of them, and which stand on single pieces."""

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from adhaero.core.tables.grid import Sheet
from adhaero.core.tables.headings import Role
from adhaero.core.tables.layout import Table
from adhaero.core.tables.pieces import Piece

_SHARE: Final = re.compile(r"(\d{1,3})\s*%")
_NO_WOOD: Final = re.compile(r"\b(?:no|none|0 ?%)\b.*\b(?:wood|torn)|\bno wood\b|\bglue line only\b", re.IGNORECASE)
_ASIDE: Final = re.compile(
    r"\b(?:set aside|excluded?|leave out|left out|not counted|do(?:es)? not count|void|ignore[d]?|faulty|bad)\b",
    re.IGNORECASE,
)
_WORDS: Final = {"quarter": 25.0, "half": 50.0, "three quarters": 75.0, "all wood": 100.0, "full wood": 100.0}
_UNFILLED: Final = re.compile(r"\b(?:no colou?r|no fill|unfilled|white|blank|plain)\b", re.IGNORECASE)
NO_FILL: Final = ""


@dataclass(frozen=True)
class Meaning:
    """What a fill means: so much torn wood, set aside, or nothing."""

    torn_pct: float | None = None
    excluded: str = ""


def read_meaning(text: str) -> Meaning | None:
    """Return what the text of a legend, or an answer, says; None for something else.

    Examples
    --------
    >>> read_meaning("25 % wood").torn_pct, read_meaning("no colour: no wood").torn_pct
    (25.0, 0.0)
    """
    words = text.casefold()
    if _ASIDE.search(words):
        return Meaning(excluded=text)
    if _NO_WOOD.search(words):
        return Meaning(0.0)
    if (found := _SHARE.search(words)) and (re.search(r"wood|torn|fibre|fiber", words) or words.strip().endswith("%")):
        return Meaning(float(found[1]))
    if found := re.fullmatch(r"torn\s+(\d{1,3})", words.strip()):
        return Meaning(float(found[1]))
    if words.strip() == "nothing":
        return Meaning()
    for name, share in sorted(_WORDS.items(), key=lambda one: -len(one[0])):
        if name in words and re.search(r"wood|torn", words):
            return Meaning(share)
    return None


def find_legend(sheets: Sequence[Sheet], tables: Sequence[Table]) -> dict[str, Meaning]:
    """Return what a legend says of the fills of a workbook; `NO_FILL` for cells without one.

    A legend is filled cells outside the tables with a text beside each, or in it.
    """
    inside = {
        (table.sheet.name, row, column.at)
        for table in tables
        for row in (table.header, *table.rows)
        for column in table.columns
    }
    found: dict[str, Meaning] = {}
    for sheet in sheets:
        for (row, column), cell in sheet.cells.items():
            if (sheet.name, row, column) in inside:
                continue
            if cell.fill:
                for text in (cell.text, sheet.text((row, column + 1)), sheet.text((row, column - 1))):
                    meaning = read_meaning(text) if text else None
                    if meaning is not None:
                        found.setdefault(cell.fill, meaning)
                        break
            elif (
                cell.text
                and _UNFILLED.search(cell.text)
                and (meaning := read_meaning(_UNFILLED.sub(" ", cell.text) or ""))
            ):
                found.setdefault(NO_FILL, meaning)
    return found


def list_single_fills(pieces: Sequence[Piece], tables: Sequence[Table]) -> dict[str, list[Piece]]:
    """Return the fills that stand on single pieces: neither banding of rows or columns, nor on nearly all of them."""
    found: dict[str, list[Piece]] = {}
    plain_fills = _find_bands(pieces, tables)
    for piece in pieces:
        if piece.fill and piece.fill not in ("FFFFFF",) and piece.fill not in plain_fills:
            found.setdefault(piece.fill, []).append(piece)
    return found


def _find_bands(pieces: Sequence[Piece], tables: Sequence[Table]) -> set[str]:
    """Return fills that mean nothing: of the names of their rows, of headings, or of nearly every piece."""
    bands: set[str] = set()
    for table in tables:
        for row in table.rows:
            for column in table.with_role(Role.SET, Role.LABEL):
                cell = table.sheet.cells.get((row, column.at))
                if cell is not None and cell.fill:
                    bands.add(cell.fill)
    counts: Counter[str] = Counter(piece.fill for piece in pieces)
    return bands | {fill for fill, count in counts.items() if fill and count > 0.8 * len(pieces)}


def torn_by_fill(fill: str, legend: Mapping[str, Meaning]) -> tuple[float | None, str]:
    """Return the torn wood and the reason to set aside that a fill says by its legend.

    Where fills tell torn wood, a piece without one has what the legend says of “none”, else not known.
    """
    meaning = legend.get(fill)
    if meaning is not None:
        return meaning.torn_pct, meaning.excluded
    return None, ""
