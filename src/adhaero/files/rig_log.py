"""The log of a rig, recorded by other software: columns of time, load and displacement, or loads alone."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Final

from adhaero.core.errors import DataError, EntryError
from adhaero.core.rig.lines import DecimalMark, LineNumber, name_unit, read_line, split_lines

MOST_LINES: Final = 2_000_000
_CLOCK: Final = re.compile(r"(\d{1,2}):(\d{2}):(\d{2}(?:[.,]\d+)?)")
_NO_NUMBER: Final = frozenset({"nan", "inf", "infinity", "null", "none", "na", "n/a"})


@dataclass(frozen=True)
class LogColumns:
    """Which columns of a log are read: a heading, or a number from 1; None takes the usual one.

    Attributes
    ----------
    time, load, displacement : columns. rate_hz : lines a second where there is no time.
    """

    time: str | None = None
    load: str | None = None
    displacement: str | None = None
    rate_hz: float | None = None


@dataclass(frozen=True)
class RigLog:
    """What a log holds, in the order of its lines.

    Attributes
    ----------
    times_s, loads, displacements : (n,) seconds as written, loads in the log's unit, displacements as written or None.
    unreadable_before : for each line without a load, how many samples came before it.
    begins : where the times of the log begin anew: 0, and each sample whose time lies before that of the one before.
    unit_seen : the unit behind the loads or in their heading; None where none is written.
    """

    times_s: list[float]
    loads: list[float]
    displacements: list[float] | None
    unreadable_before: list[int]
    begins: list[int]
    unit_seen: str | None


def read_rig_log(content: bytes, columns: LogColumns) -> RigLog:
    """Return the samples of a log.

    Parameters
    ----------
    content : text in UTF-8 or Latin-1; columns parted by `;`, tab, comma or blanks; lines that begin with # are
        remarks.
    columns : which of them are read.

    Raises
    ------
    DataError : nothing in it can be read. EntryError : a column that is not there.
    """
    rows = _split_rows(content)
    heading = rows.pop(0) if rows and _is_heading(rows[0]) else None
    if not rows:
        raise DataError("The log holds no lines of numbers.", "Expected a time and a load a line.")
    width = max(len(row) for row in rows)
    time_at = None if columns.rate_hz else _find_column(columns.time, heading, width, 0, "time")
    load_at = _find_column(columns.load, heading, width, 0 if columns.rate_hz else 1, "load")
    moved_at = _find_column(columns.displacement, heading, width, -1, "displacement") if columns.displacement else None
    load_mark, moved_mark = _find_mark(rows, load_at), _find_mark(rows, moved_at)
    times: list[float] = []
    loads: list[float] = []
    moved: list[float] = []
    unreadable: list[int] = []
    begins = [0]
    units: set[str] = set()
    for number, row in enumerate(rows):
        time = number / columns.rate_hz if columns.rate_hz else _read_time(_cell(row, time_at))
        load = read_line(_cell(row, load_at), 0, load_mark)
        along = read_line(_cell(row, moved_at), 0, moved_mark) if moved_at is not None else LineNumber(0.0)
        if time is None or not isinstance(load, LineNumber) or not isinstance(along, LineNumber):
            unreadable.append(len(times))
            continue
        if times and time < times[-1]:
            begins.append(len(times))
        times.append(time)
        loads.append(load.value)
        moved.append(along.value)
        units.update([load.unit] if load.unit else [])
    if not times:
        why = read_line(_cell(rows[0], load_at), 0, load_mark)
        raise DataError(
            f"No line of the log holds a time and a load (the first load, “{_cell(rows[0], load_at)[:40]}”: "
            f"{getattr(why, 'why', 'it has no time')}).",
            "Expected time in the first column and load in the second.",
            "Name them with --time and --load, or give --rate where there is no time.",
        )
    if len(units) > 1:
        raise DataError(f"The loads are in {' and '.join(sorted(units))}.", "Expected one unit in a log.")
    unit = next(iter(units), None) or (_find_unit(heading[load_at]) if heading and load_at < len(heading) else None)
    return RigLog(times, loads, moved if moved_at is not None else None, unreadable, begins, unit)


def _split_rows(content: bytes) -> list[list[str]]:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    lines = [line for line in split_lines(text) if line.strip() and not line.lstrip().startswith("#")]
    if len(lines) > MOST_LINES:
        raise DataError(f"The log has more than {MOST_LINES} lines.", do="Cut it in two.")
    part = _find_separator(lines[:200])
    return [[cell.strip().strip('"').strip() for cell in part.split(line.strip(" \r\n"))] for line in lines]


def _find_separator(lines: Sequence[str]) -> re.Pattern[str]:
    """Return what parts the columns: the first of `;`, tab, comma and blanks that most lines hold."""
    for mark in (";", "\t"):
        if sum(mark in line for line in lines) * 2 > len(lines):
            return re.compile(mark)
    decimal = re.compile(r"\s*[-+]?\d+(,\d+)?(\s+[-+]?\d+(,\d+)?)+\s*")
    commas = sum("," in line for line in lines) * 2 > len(lines)
    blanks_part = sum(decimal.fullmatch(line) is not None for line in lines) * 2 > len(lines)
    return re.compile("," if commas and not blanks_part else r"\s+")


def _is_heading(row: Sequence[str]) -> bool:
    numbers = [cell for cell in row if isinstance(read_line(cell, 0, DecimalMark.POINT), LineNumber)]
    words = [cell for cell in row if re.search(r"[^\W\d_]", cell) and cell.lower() not in _NO_NUMBER]
    return bool(words) and not numbers


def _find_column(asked: str | None, heading: Sequence[str] | None, width: int, usual: int, what: str) -> int:
    if asked is None:
        return min(usual, width - 1)
    if heading is not None:
        names = [name.casefold() for name in heading]
        if asked.casefold() in names:
            return names.index(asked.casefold())
    if asked.isdigit() and 1 <= int(asked) <= width:
        return int(asked) - 1
    there = ", ".join(f"“{name}”" for name in heading) if heading else f"1 to {width}"
    raise EntryError(f"There is no column “{asked}”.", f"The log has {there}.", f"Choose one for --{what}.", field=what)


def _find_mark(rows: Sequence[Sequence[str]], at: int | None) -> DecimalMark:
    commas = at is not None and any("," in _cell(row, at) for row in rows)
    return DecimalMark.COMMA if commas else DecimalMark.POINT


def _cell(row: Sequence[str], at: int | None) -> str:
    return row[at] if at is not None and at < len(row) else ""


def _read_time(cell: str) -> float | None:
    """Return a time in seconds: a number, a clock, or a date with a clock."""
    try:
        time = float(cell.replace(",", "."))
    except ValueError:
        pass
    else:
        return time if abs(time) < float("inf") else None
    if clock := _CLOCK.fullmatch(cell):
        return 3600 * int(clock[1]) + 60 * int(clock[2]) + float(clock[3].replace(",", "."))
    try:
        return datetime.fromisoformat(cell).timestamp()
    except ValueError:
        return None


def _find_unit(name: str) -> str | None:
    """Return the unit in a heading such as `load_N`, `force (kgf)` or `load [lbf]`."""
    words = re.findall(r"[^\W\d_]+", name)
    return name_unit(words[-1]) if len(words) > 1 else None
