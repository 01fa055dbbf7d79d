"""What every command shares: the application it belongs to, and how results are printed."""

import json
from collections.abc import Callable
from typing import Annotated, Any

import typer

app = typer.Typer(
    help="Re-run an analysis on an exported file, compute one number, run the application.",
    no_args_is_help=True,
    add_completion=False,
    rich_markup_mode=None,
    pretty_exceptions_enable=False,
)

Json = Annotated[bool, typer.Option("--json", help="Print JSON instead of a table.")]


def print_result(result: dict[str, Any], as_json: bool, table: Callable[[], str]) -> None:
    """Print a result as JSON, or as the table that words it."""
    print(json.dumps(result, ensure_ascii=False, indent=1) if as_json else table())


def number(value: float | None, digits: int = 4) -> str:
    """Return a number in a table; a dash for none."""
    return "–" if value is None else f"{value:.{digits}g}"


def span(ends: tuple[float | None, float | None] | None) -> str:
    """Return a range in a table; a dash for none, and for an open end."""
    return "–" if ends is None else f"{number(ends[0])} to {number(ends[1])}"
