"""The file of a temperature and humidity logger, whatever its columns are called and its numbers written like."""

import csv
import io
import re
from dataclasses import dataclass
from datetime import UTC, datetime, tzinfo

from adhaero.core.errors import DataError
from adhaero.files.text_table import decode, find_delimiter

MOST_ROWS = 300_000
_FORMATS = (
    "%Y-%m-%d %H:%M:%S", "%Y-%m-%d %H:%M", "%Y/%m/%d %H:%M:%S", "%Y/%m/%d %H:%M",
    "%d.%m.%Y %H:%M:%S", "%d.%m.%Y %H:%M", "%d.%m.%y %H:%M:%S", "%d.%m.%y %H:%M",
)  # fmt: skip


@dataclass(frozen=True)
class Air:
    """The air at a moment: °C and percent of relative humidity, None where the logger has none."""

    at: datetime
    temperature_c: float | None
    humidity_pct: float | None


@dataclass(frozen=True)
class _Columns:
    time: int
    clock: int | None
    temperature: int | None
    humidity: int | None
    fahrenheit: bool


def read_logger(content: bytes, zone: tzinfo | None) -> list[Air]:
    """Return the readings of a logger's file in the order of time.

    Parameters
    ----------
    content : a text table with a heading, UTF-8 or Latin-1, with commas, semicolons or tabs; decimal commas where the
        delimiter is none. zone : of the times that name none; None for that of this computer.

    Raises
    ------
    DataError : no heading names a time and a temperature or a humidity, or a row cannot be read: which, and what was
        expected.
    """
    text = decode(content)
    lines = [line for line in text.splitlines() if line.strip()]
    delimiter = find_delimiter(lines[0] if lines else "", ";\t,")
    rows = csv.reader(io.StringIO("\n".join(lines)), delimiter=delimiter)
    columns, skipped = None, 0
    for skipped, row in enumerate(rows, start=1):
        columns = _find_columns(row)
        if columns is not None or skipped > 30:
            break
    if columns is None:
        raise DataError(
            "No heading names a time and a temperature or a humidity.",
            "Expected columns called e.g. time, temperature, humidity.",
            "Export the logger as a table with headings.",
        )
    found: list[Air] = []
    for number, row in enumerate(rows, start=skipped + 1):
        if len(found) >= MOST_ROWS:
            raise DataError(f"More than {MOST_ROWS} rows.", "A year at every two minutes fits.", "Cut the file in two.")
        if any(cell.strip() for cell in row):
            found.append(_read_row(row, number, columns, zone))
    if not found:
        raise DataError("The file has a heading and no readings.")
    return sorted(found, key=lambda one: one.at)


def _find_columns(row: list[str]) -> _Columns | None:
    names = [cell.strip().lower() for cell in row]

    def find(*signs: str) -> int | None:
        return next((at for at, name in enumerate(names) if any(sign in name for sign in signs)), None)

    date, clock = find("date", "datum", "timestamp"), find("time", "zeit", "clock")
    temperature, humidity = find("temp", "°c", "°f", "celsius", "fahrenheit"), find("hum", "feucht", "rh", "%")
    time = date if date is not None else clock
    if time is None or (temperature is None and humidity is None):
        return None
    both = date is not None and clock is not None and date != clock
    hot = temperature is not None and bool(re.search(r"°f|\(f\)|fahrenheit|_f$", names[temperature]))
    return _Columns(time, clock if both else None, temperature, humidity, hot)


def _read_row(row: list[str], number: int, columns: _Columns, zone: tzinfo | None) -> Air:
    def cell(at: int | None) -> str:
        return row[at].strip() if at is not None and at < len(row) else ""

    words = " ".join(part for part in (cell(columns.time), cell(columns.clock)) if part)
    temperature = _read_number(cell(columns.temperature), number, "temperature")
    humidity = _read_number(cell(columns.humidity), number, "humidity")
    if temperature is not None and columns.fahrenheit:
        temperature = (temperature - 32) / 1.8
    if temperature is not None and not -60 < temperature < 100:
        raise _bad(number, "temperature", f"{temperature:g} °C", "a temperature of air")
    if humidity is not None and not 0 <= humidity <= 100:
        raise _bad(number, "humidity", f"{humidity:g} %", "0 to 100 %")
    return Air(_read_time(words, number, zone), temperature, humidity)


def _read_number(text: str, number: int, column: str) -> float | None:
    plain = re.sub(r"[°cf%\s]+$", "", text.lower()).replace(",", ".")
    if plain in ("", "-", "--", "nan", "n/a"):
        return None
    try:
        return float(plain)
    except ValueError:
        raise _bad(number, column, f"“{text}”", "a number") from None


def _read_time(text: str, number: int, zone: tzinfo | None) -> datetime:
    moment = None
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        for form in _FORMATS:
            try:
                moment = datetime.strptime(text, form)
                break
            except ValueError:
                continue
    if moment is None:
        raise _bad(number, "time", f"“{text}”", "e.g. 2026-05-04 09:30:00 or 04.05.2026 09:30")
    if moment.tzinfo is None:
        moment = moment.astimezone() if zone is None else moment.replace(tzinfo=zone)
    return moment.astimezone(UTC)


def _bad(number: int, column: str, found: str, expected: str) -> DataError:
    return DataError(
        f"Row {number}, {column}: {found}.", f"Expected {expected}.", "Mend the row and lay it over again."
    )
