"""A data package comes back: looked at, checked against its schemas and against itself, and a trial of its own."""

import csv
import hashlib
import io
from array import array
from collections.abc import Sequence
from dataclasses import dataclass
from math import inf, isnan
from typing import Final

from adhaero.bench.bringing.package_out import TRACE_COLUMNS, list_shapes
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import tell_breaks
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import AdhaeroError, DataError
from adhaero.core.whole import Shape
from adhaero.files.package.reading import Cells, Package, list_touched, open_package, read_json, read_tables
from adhaero.files.photos import check_photo
from adhaero.store.file import ShopFile
from adhaero.store.pulls import insert_chunk
from adhaero.store.whole import claim_change, point_again, write_whole

# what the table of breaks and the tables that it is made from must agree in
_AGREE: Final = ("specimen", "board", "species", "outcome", "load_N", "wood_failure_pct", "excluded")
_MOST_SAID: Final = 8
_MOST: Final = 1e12


@dataclass(frozen=True)
class PackageView:
    """What a package is, before it comes in.

    Attributes
    ----------
    verdict : as it was shown where it left. touched : its tables that are not as they left.
    """

    question: str
    pieces: int
    sets: int
    pulls: int
    practice: bool
    verdict: str
    licence: str
    touched: list[str]


@dataclass(frozen=True)
class PackageTaken:
    """The trial that a package became, and which of its tables were not as they left."""

    id: int
    touched: list[str]


def look_at_package(file: ShopFile, content: bytes) -> PackageView:
    """Return what a package is; raises `DataError` for what is wrong in it, by file, row and column."""
    package, rows, _ = _read(file, content)
    told = read_json(package, "trial.json")
    shown = told.get("verdict as shown")
    licences = package.said.get("licenses")
    licence = (
        licences[0].get("name") if isinstance(licences, list) and licences and isinstance(licences[0], dict) else ""
    )
    return PackageView(
        question=str(rows["trial"][0]["question"]),
        pieces=len(rows["pieces"]),
        sets=len(rows["sets"]),
        pulls=len(rows["pulls"]),
        practice=bool(rows["trial"][0]["practice"]),
        verdict=str(shown.get("headline", "")) if isinstance(shown, dict) else "",
        licence=str(licence or ""),
        touched=list_touched(package),
    )


def take_package(file: ShopFile, name: str, content: bytes) -> PackageTaken:
    """Make a trial of a package; all of it or nothing.

    Raises
    ------
    DataError : its tables do not fit their schemas, each other, or a shop: by file, row and column.
    """
    package, rows, traces = _read(file, content)
    touched = list_touched(package)
    changed = f", {', '.join(touched)} changed since it left" if touched else ""
    with file.changing(f"Brought in the package {name[:80]}{changed[:200]}", undoable=False) as connection:
        stripped = {
            part: [{key: value for key, value in row.items() if key not in ("file", "unreadable_lines")} for row in own]
            for part, own in rows.items()
        }
        paths = {
            (part, int(row["id"])): str(row["file"]) for part in ("photos", "logs", "sources") for row in rows[part]
        }
        trial_id, maps = write_whole(connection, stripped, lambda part, row_id: package.read(paths[part, row_id]))
        for row in rows["pulls"]:
            if (one := traces.get(str(row["file"]))) is not None:
                samples = list(zip(one.times_s, one.readings, strict=True))
                missed = row["unreadable_lines"] or 0
                insert_chunk(connection, maps["pulls"][int(row["id"])], 0, samples, missed, one.displacements_mm)
        point_again(connection, stripped, maps)
        claim_change(connection, trial_id)
        try:
            _check_breaks(package, read_trial(connection, trial_id))
        except (ValueError, KeyError, TypeError, ArithmeticError) as error:
            if isinstance(error, AdhaeroError):
                raise
            raise DataError(
                f"The tables do not make a trial ({error}).", "A package comes back as it left.",
                "Export the trial again.",
            ) from None  # fmt: skip
    return PackageTaken(trial_id, touched)


def _read(file: ShopFile, content: bytes) -> tuple[Package, dict[str, list[Cells]], dict[str, "_Trace"]]:
    """Return a package with its rows, and its traces by their files, checked as far as that goes without a shop."""
    package = open_package(content)
    with file.reading() as connection:
        shapes = list_shapes(connection)
    trial = _read_trial_row(package, next(one for one in shapes if one.name == "trial"))
    rows = read_tables(package, shapes, trial)
    for part in ("logs", "sources"):
        for number, row in enumerate(rows[part], 2):
            if hashlib.sha256(package.read(str(row["file"]))).hexdigest() != row["sha256"]:
                raise DataError(
                    f"{row['file']} is not the file that it was: {part}.csv, row {number}, column sha256 has another "
                    "hash.",
                    "What was brought in stays as it came.",
                    "Export the trial again.",
                )
    for row in rows["photos"]:
        check_photo(package.read(str(row["file"])), str(row["file"]))
    traces = {str(row["file"]): _read_trace(package, str(row["file"])) for row in rows["pulls"] if row["file"]}
    return package, rows, traces


def _read_trial_row(package: Package, shape: Shape) -> Cells:
    row = read_json(package, "trial.json").get("trial")
    if not isinstance(row, dict):
        raise DataError("trial.json has no “trial”.", "It holds the question and what is the same for all pieces.")
    names = [one.name for one in shape.columns]
    missing, unknown = sorted(set(names) - set(row)), sorted(set(row) - set(names))
    if missing or unknown:
        raise DataError(
            f"trial.json, “trial”: {_say('lacks', missing)}{_say(' has', unknown)}.",
            f"Expected {', '.join(names)}.",
        )
    return {name: row[name] for name in names}


def _say(verb: str, names: Sequence[str]) -> str:
    return f"{verb} {', '.join(names[:_MOST_SAID])}" if names else ""


@dataclass(frozen=True)
class _Trace:
    """The readings of a pull; displacements, mm, are NaN where a line has none, and empty where none has."""

    times_s: "array[float]"
    readings: "array[float]"
    displacements_mm: "array[float]"


def _read_trace(package: Package, path: str) -> _Trace:
    reader = csv.reader(io.StringIO(package.read_text(path), newline=""))
    head = tuple(next(reader, ()))
    if head not in (TRACE_COLUMNS, TRACE_COLUMNS[:3]):
        raise DataError(
            f"{path}, row 1: found {', '.join(head) or 'nothing'}.",
            f"Expected {', '.join(TRACE_COLUMNS[:3])}, with or without {TRACE_COLUMNS[3]}.",
        )
    rows = list(reader)
    for number, row in enumerate(rows, 2):
        if len(row) != len(head):
            raise DataError(f"{path}, row {number}: it has {len(row)} cells.", f"Expected {len(head)}.")
    columns = [[row[at] for row in rows] for at in range(len(head))]
    moved = [cell or "nan" for cell in columns[3]] if len(head) > 3 else []
    return _Trace(
        _read_numbers(path, head[0], columns[0]),
        _read_numbers(path, head[1], columns[1]),
        _read_numbers(path, TRACE_COLUMNS[3], moved, may_lack=True),
    )


def _read_numbers(path: str, column: str, cells: Sequence[str], *, may_lack: bool = False) -> "array[float]":
    """Return a column of numbers; raises `DataError` with the row of the first that is none."""
    found = array("d")
    for number, cell in enumerate(cells, 2):
        try:
            value = float(cell)
        except ValueError:
            value = inf
        if not (abs(value) < _MOST or (may_lack and isnan(value))):
            raise DataError(f"{path}, row {number}, column {column}: found “{cell[:40]}”.", "Expected a number.")
        found.append(value)
    return found


def _say_more(number: int) -> str:
    return f" And {number} more." if number > 0 else ""


def _check_breaks(package: Package, facts: PieceFacts) -> None:
    """Raise `DataError` where the table of breaks says another thing than the tables that it is made from."""
    said = list(csv.DictReader(io.StringIO(package.read_text("breaks.csv"), newline="")))
    made = list(csv.DictReader(io.StringIO(tell_breaks(facts, Choice()).content, newline="")))
    if len(said) != len(made):
        raise DataError(
            f"breaks.csv has {len(said)} rows, and pieces.csv with pulls.csv gives {len(made)}.",
            "Both tell the same pieces.",
            "Change neither, or export the trial again.",
        )
    faults = [
        f"breaks.csv, row {number}, column {name}: it says “{one.get(name)}”, pulls and pieces give “{other[name]}”."
        for number, (one, other) in enumerate(zip(said, made, strict=True), 2)
        for name in _AGREE
        if name in other and one.get(name) != other[name]
    ]
    if faults:
        raise DataError(
            " ".join(faults[:_MOST_SAID]) + _say_more(len(faults) - _MOST_SAID),
            "Both tell the same breaks.",
            "Change neither, or export the trial again.",
        )
