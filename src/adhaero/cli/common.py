"""What every command shares: the application it belongs to, and how results are printed."""

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from math import isfinite
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

if TYPE_CHECKING:
    from adhaero.files.text_table import Source

app = typer.Typer(
    help="Re-run an analysis on an exported file, compute one number, run the application.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)

Json = Annotated[bool, typer.Option("--json", help="Print JSON instead of a table.")]


@contextmanager
def open_breaks(file: Path) -> "Iterator[Source]":
    """Open a tidy breaks file, or that of a data package, to be read line by line; raises `DataError`."""
    from adhaero.files.text_table import Source, open_table

    if not _is_zip(file):
        with open_table(file) as source:
            yield source
        return
    from adhaero.files.package.reading import open_package

    text = open_package(file.read_bytes()).read_text("breaks.csv")
    yield Source(text.splitlines(keepends=True), ["The breaks of a data package."])


def _is_zip(file: Path) -> bool:
    """Return whether a file begins as a zip does; one that cannot be opened is left to the reader of tables to tell."""
    try:
        with file.open("rb") as raw:
            return raw.read(2) == b"PK"
    except OSError:
        return False


def print_result(result: dict[str, Any], as_json: bool, table: Callable[[], str]) -> None:
    """Print a result as JSON, or as the table that words it."""
    print(json.dumps(_without_infinities(result), ensure_ascii=False, indent=1) if as_json else table())


def _without_infinities(value: Any) -> Any:  # noqa: ANN401
    """Return a result in which what is infinite is null: JSON has no infinity."""
    if isinstance(value, float):
        return value if isfinite(value) else None
    if isinstance(value, dict):
        return {key: _without_infinities(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [_without_infinities(one) for one in value]
    return value


def number(value: float | None, digits: int = 4) -> str:
    """Return a number in a table; a dash for none."""
    return "–" if value is None else f"{value:.{digits}g}"


def span(ends: tuple[float | None, float | None] | None) -> str:
    """Return a range in a table; a dash for none, and for an open end."""
    return "–" if ends is None else f"{number(ends[0])} to {number(ends[1])}"
