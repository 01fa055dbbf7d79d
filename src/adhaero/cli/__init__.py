"""The command line: re-run an analysis on an exported file, compute one number, run the application."""

import sys

import typer

from adhaero.cli import analysing, bringing, comparing, computing, copying, packing, rig, running
from adhaero.cli.common import app
from adhaero.core.errors import AdhaeroError

__all__ = ["analysing", "app", "bringing", "comparing", "computing", "copying", "main", "packing", "rig", "running"]


def main() -> None:
    """Run the command; an error is one line on stderr and exit code 2."""
    try:
        app(standalone_mode=False)
    except AdhaeroError as error:
        _give_up(error.sentence)
    except typer.TyperException as error:
        _give_up(" ".join(error.format_message().split()))
    except typer.Abort:
        raise SystemExit(130) from None


def _give_up(why: str) -> None:
    print(f"adhaero: {why}", file=sys.stderr)
    raise SystemExit(2)
