"""Text tables as they come: in which encoding, and what parts their columns."""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

from adhaero.core.errors import DataError

_LONGEST_ROW = 100_000


@dataclass
class Source:
    """The lines of a file, and in `notes` what was recognised about it, to be said beside the result."""

    lines: Iterable[str]
    notes: list[str] = field(default_factory=list)


@contextmanager
def open_table(path: Path) -> Iterator[Source]:
    """Open a file to be read line by line, its encoding recognised: UTF-8, UTF-16 by its mark, else Windows-1252.

    Raises
    ------
    DataError : it cannot be opened, or is no text.
    """
    try:
        with path.open("rb") as raw:
            if raw.read(2) == b"PK":
                raise DataError(f"{path} is a zip.", "Expected a CSV file, or a data package.")
            raw.seek(0)
            encoding, notes = recognise(raw)
        with path.open(encoding=encoding, newline="") as lines:
            yield Source(lines, notes)
    except OSError as error:
        raise DataError(f"{path} cannot be read: {error.strerror}.") from None
    except UnicodeDecodeError:
        raise DataError(f"{path} is not text.", "Expected a CSV file, in UTF-8.") from None


def recognise(lines: Iterable[bytes]) -> tuple[str, list[str]]:
    """Return the encoding of a file, and what is to be said of it: UTF-8, UTF-16 by its mark, else Windows-1252.

    Raises
    ------
    DataError : it is no text.
    """
    for number, line in enumerate(lines):
        if number == 0 and line[:2] in (b"\xff\xfe", b"\xfe\xff"):
            return "utf-16", ["The file is UTF-16, not UTF-8: read as that."]
        if b"\0" in line:
            raise DataError("The file is not text.", "Expected a text table, in UTF-8.")
        try:
            line.decode("utf-8")
        except UnicodeDecodeError:
            return "cp1252", ["The file is not UTF-8: read as Windows-1252; look at names with accents."]
    return "utf-8-sig", []


def decode(content: bytes) -> str:
    """Return a whole file as text; raises `DataError` where it is none."""
    encoding, _ = recognise(content.splitlines(keepends=True))
    return content.decode(encoding, errors="replace")


def find_delimiter(heading: str, offered: str = ",;\t") -> str:
    """Return what parts the columns of a heading: what stands in it most often, else the first offered."""
    return max(offered, key=heading.count)


def chain(first: str, lines: Iterator[str]) -> Iterator[str]:
    """Return a first line and those after it; raises `DataError` for a row without an end."""
    yield first
    for line in lines:
        if len(line) > _LONGEST_ROW:
            raise DataError(f"A row has {len(line)} characters.", f"Expected {_LONGEST_ROW} at most.")
        yield line
