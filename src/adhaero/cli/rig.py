"""Commands that read what a rig printed: its lines, the log of other software."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from adhaero.cli.common import Json, app, number, print_result
from adhaero.core.errors import EntryError
from adhaero.core.quantity import Kind, convert, parse_quantity
from adhaero.core.rig.lines import DecimalMark, LineNumber, name_unit, read_line, split_lines
from adhaero.core.rig.trace.bending import Bending
from adhaero.core.rig.trace.logs import LogSamples, read_pulls
from adhaero.core.rig.trace.reading import TraceReading
from adhaero.core.rig.trace.samples import TraceSettings
from adhaero.files.rig_log import LogColumns, RigLog, read_rig_log

Log = Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="A text file.")]


@app.command("rig-lines")
def rig_lines_command(
    file: Log,
    index: Annotated[int, typer.Option(min=1, help="Which number of a line is the load.")] = 1,
    decimal: Annotated[DecimalMark, typer.Option(help="The decimal mark of the lines.")] = DecimalMark.AUTO,
    as_json: Json = False,
) -> None:
    """Say what is read in each line that a rig printed."""
    for line in split_lines(file.read_bytes().decode("utf-8", "replace")):
        found = read_line(line, index - 1, decimal)
        if isinstance(found, LineNumber):
            words = f"{number(found.value, 12)} {found.unit or ''}".strip()
            result: dict[str, Any] = {"value": found.value, "unit": found.unit}
        else:
            words, result = f"unreadable: {found.why}", {"unreadable": True, "why": found.why}
        print(json.dumps(result, ensure_ascii=False) if as_json else f"{line!r:<40} {words}")


@app.command("trace")
def trace_command(
    file: Log,
    time: Annotated[str | None, typer.Option(help="The column of the time: its heading, or a number from 1.")] = None,
    rate: Annotated[float | None, typer.Option(min=0.01, max=100_000, help="Lines a second, without times.")] = None,
    load: Annotated[str | None, typer.Option(help="The column of the load.")] = None,
    unit: Annotated[str | None, typer.Option(help="The unit of the loads: N, kN, kgf, lbf …")] = None,
    displacement: Annotated[str | None, typer.Option(help="The column of the displacement, mm.")] = None,
    span: Annotated[str | None, typer.Option(help="The span of the fixture.")] = None,
    capacity: Annotated[str | None, typer.Option(help="The rig's limit.")] = None,
    resolution: Annotated[str | None, typer.Option(help="One step of its display.")] = None,
    expected: Annotated[str | None, typer.Option(help="The lower band of the forecast.")] = None,
    as_json: Json = False,
) -> None:
    """Read the pulls in a log that other software recorded."""
    log = read_rig_log(file.read_bytes(), LogColumns(time, load, displacement, rate))
    per_unit = convert(1.0, Kind.FORCE, _choose_unit(unit, log))
    settings = TraceSettings(
        resolution_n=_read_force(resolution, "resolution") or 0.0,
        capacity_n=_read_force(capacity, "capacity"),
        expected_low_n=_read_force(expected, "expected"),
    )
    span_mm = parse_quantity(span, Kind.LENGTH, field="span").si if span else None
    pulls = read_pulls(_to_newtons(log, per_unit), settings, span_mm)

    def table() -> str:
        return "\n".join(_word_pull(at, pull.reading) for at, pull in enumerate(pulls, start=1)) or "no pull in it"

    print_result({"pulls": [give_pull(pull.reading, pull.bending) for pull in pulls]}, as_json, table)


def _read_force(text: str | None, field: str) -> float | None:
    return parse_quantity(text, Kind.FORCE, field=field).si if text else None


def _choose_unit(asked: str | None, log: RigLog) -> str:
    if asked is None:
        if log.unit_seen is None:
            raise EntryError(
                "The unit of the loads is not written in the log.",
                do="Give it with --unit, e.g. --unit kgf.",
                field="unit",
            )
        return log.unit_seen
    if log.unit_seen is not None and convert(1.0, Kind.FORCE, asked) != convert(1.0, Kind.FORCE, log.unit_seen):
        raise EntryError(f"The log says {log.unit_seen}, --unit says {asked}.", "One of them is wrong.", field="unit")
    return name_unit(asked) or asked


def _to_newtons(log: RigLog, per_unit: float) -> LogSamples:
    loads = [per_unit * load for load in log.loads]
    return LogSamples(log.times_s, loads, log.displacements, log.unreadable_before, log.begins)


def give_pull(reading: TraceReading, bending: Bending | None) -> dict[str, Any]:
    """Return a pull as the command prints it with --json."""
    hold = reading.hold
    return {
        "peak_n": reading.peak_n,
        "peak_s": reading.peak_s,
        "sampling_s": reading.sampling_s,
        "outcome": reading.outcome.value,
        "break_s": reading.break_s,
        "drops": [
            {"at_s": drop.at_s, "from_n": drop.from_n, "to_n": drop.to_n, "recovered": drop.recovered}
            for drop in reading.drops
        ],
        "rest_before_n": reading.rest_before_n,
        "rest_after_n": reading.rest_after_n,
        "rate_n_per_s": reading.rate_n_per_s,
        "to_break_s": reading.to_break_s,
        "hold": None if hold is None else {"at_s": hold.at_s, "lasted_s": hold.lasted_s, "sag_n": hold.sag_n},
        "stiffness_n_per_mm": bending.stiffness_n_per_mm if bending else None,
        "bend_starts_n": bending.bend_starts_n if bending else None,
        "bend_starts_by_span_n": bending.bend_starts_by_span_n if bending else None,
        "energy_j": bending.energy_j if bending else None,
        "stayed_bent_mm": bending.stayed_bent_mm if bending else None,
        "flags": [flag.code.value for flag in reading.flags],
        "words": [flag.words for flag in reading.flags],
    }


def _word_pull(at: int, reading: TraceReading) -> str:
    first = f"pull {at}: {reading.outcome}, peak {number(reading.peak_n)} N at {number(reading.peak_s)} s"
    if reading.break_s is not None:
        first += f", broke at {number(reading.break_s)} s"
    drops = [
        f"  fell from {number(drop.from_n)} to {number(drop.to_n)} N at {number(drop.at_s)} s"
        + (" and came back" if drop.recovered else "")
        for drop in reading.drops
    ]
    return "\n".join([first, *drops, *(f"  {flag.words}" for flag in reading.flags)])
