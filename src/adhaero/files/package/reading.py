"""Reading a data package that came from elsewhere: bounded, and checked against its schemas by row and column."""

import csv
import hashlib
import io
import json
import tempfile
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isfinite
from pathlib import Path
from typing import Any, Final

from adhaero.core.errors import DataError
from adhaero.core.whole import Column, Shape
from adhaero.files.package.descriptor import DESCRIPTOR, FORMAT, describe_table
from adhaero.files.tidy_csv import unprotect

MOST_PACKED: Final = 300_000_000
_MOST_UNPACKED: Final = 1_000_000_000
_MOST_FILES: Final = 50_000
_MOST_SAID: Final = 12
_AGAIN: Final = "Export the trial again where it stands, and bring that in."

Cells = dict[str, Any]


@dataclass(frozen=True)
class Package:
    """A data package that opens: what it says of itself, and its files."""

    packed: zipfile.ZipFile
    said: Mapping[str, Any]
    sizes: Mapping[str, int]

    def read(self, path: str) -> bytes:
        """Return a file; raises `DataError` where it is not there or broken."""
        if path not in self.sizes:
            raise DataError(f"{path} is not in the package.", "It is named in it.", _AGAIN)
        try:
            return self.packed.read(path)
        except (zipfile.BadZipFile, OSError, RuntimeError, NotImplementedError, EOFError, ValueError) as error:
            raise DataError(f"{path} cannot be unpacked ({error}).", "The zip is broken.", _AGAIN) from None

    def read_text(self, path: str) -> str:
        """Return a text; raises `DataError` with the row that is not UTF-8."""
        content = self.read(path)
        try:
            return content.decode("utf-8")
        except UnicodeDecodeError as error:
            row = content.count(b"\n", 0, error.start) + 1
            raise DataError(f"{path}, row {row}: the text is not UTF-8.", "A package is UTF-8.", _AGAIN) from None


def is_package(content: bytes) -> bool:
    """Return whether a file is a zip that says what it is."""
    if not content.startswith(b"PK"):
        return False
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            return DESCRIPTOR in packed.namelist()
    except (zipfile.BadZipFile, OSError, ValueError):
        return False


def open_package(content: bytes) -> Package:
    """Open a data package.

    Raises
    ------
    DataError : it is no zip, far too large, does not say what it is, or is of a later version.
    """
    if len(content) > MOST_PACKED:
        raise DataError(f"The package has {len(content) / 1e6:.0f} MB.", f"Up to {MOST_PACKED / 1e6:.0f} MB are read.")
    try:
        packed = zipfile.ZipFile(io.BytesIO(content))
        sizes = {one.filename: one.file_size for one in packed.infolist() if not one.is_dir()}
    except (zipfile.BadZipFile, ValueError, OSError, EOFError) as error:
        raise DataError(f"The file is no whole zip ({error}).", "A data package is a .zip.", _AGAIN) from None
    if any(one.flag_bits & 1 for one in packed.infolist()):
        raise DataError("The zip is locked with a password.", do="Pack it again without one.")
    if sum(sizes.values()) > _MOST_UNPACKED or len(sizes) > _MOST_FILES:
        raise DataError(
            f"The package holds {sum(sizes.values()) / 1e6:,.0f} MB in {len(sizes):,} files.",
            f"Up to {_MOST_UNPACKED / 1e6:,.0f} MB in {_MOST_FILES:,} files are unpacked.",
        )
    if DESCRIPTOR not in sizes:
        raise DataError(f"The zip has no {DESCRIPTOR}.", "A data package says in it what its tables are.", _AGAIN)
    package = Package(packed, {}, sizes)
    said = read_json(package, DESCRIPTOR)
    made_by = said.get("adhaero")
    version = made_by.get("format") if isinstance(made_by, dict) else None
    if not isinstance(version, int):
        raise DataError(
            f"{DESCRIPTOR} does not say that it is a trial of Adhaero.",
            "Expected “adhaero” with a “format”.",
            "Bring in its table of breaks instead: a workbook or a CSV.",
        )
    if version > FORMAT:
        raise DataError(
            f"The package has format {version}.",
            f"This version reads up to {FORMAT}.",
            "Bring this program up to date.",
        )
    return Package(packed, said, sizes)


def read_json(package: Package, path: str) -> dict[str, Any]:
    """Return an object of a package; raises `DataError` with row and column where it is no JSON."""
    try:
        found = json.loads(package.read_text(path))
    except json.JSONDecodeError as error:
        raise DataError(f"{path}, row {error.lineno}, column {error.colno}: {error.msg}.", "Expected JSON.") from None
    except RecursionError:
        raise DataError(f"{path} is nested too deeply.", "Expected JSON.") from None
    if not isinstance(found, dict):
        raise DataError(f"{path} holds no object.", "Expected {…}.")
    return found


def list_touched(package: Package) -> list[str]:
    """Return the tables that are not as they left their shop, by the hash that the package gives."""
    found = []
    for one in package.said.get("resources", ()):
        path, said = (one.get("path"), one.get("hash")) if isinstance(one, dict) else (None, None)
        if not isinstance(path, str) or path not in package.sizes or not isinstance(said, str):
            continue
        if said != f"sha256:{hashlib.sha256(package.read(path)).hexdigest()}":
            found.append(path)
    return found


def read_tables(package: Package, shapes: Sequence[Shape], trial: Cells) -> dict[str, list[Cells]]:
    """Return the rows of every table, checked.

    Parameters
    ----------
    shapes : the tables that there must be; the one called `trial` is the given row.

    Raises
    ------
    DataError : names each fault by file, row and column, the first dozen.
    """
    missing = [f"{one.name}.csv" for one in shapes if one.name != "trial" and f"{one.name}.csv" not in package.sizes]
    if missing:
        raise DataError(f"{', '.join(missing)} is not in the package.", "A package holds all its tables.", _AGAIN)
    for one in shapes:
        if one.name != "trial":
            package.read_text(f"{one.name}.csv")
    faults = [words for one in shapes if one.name != "trial" for words in _check_header(package, one)]
    faults = faults or _validate(package, shapes, trial)
    if not faults:
        found = {one.name: [trial] if one.name == "trial" else _read_rows(package, one) for one in shapes}
        faults = [
            words
            for one in shapes
            for words in (*_find_endless(one, found[one.name]), *_find_twins(one, found[one.name]))
        ]
    if faults:
        more = f" and {len(faults) - _MOST_SAID} more" if len(faults) > _MOST_SAID else ""
        raise DataError(" ".join(faults[:_MOST_SAID]) + more, "A package comes back as it left.", _AGAIN)
    return found


def _check_header(package: Package, shape: Shape) -> list[str]:
    """Return what is wrong with the heading of a table: its columns stand as its schema has them."""
    found = next(csv.reader(io.StringIO(package.read_text(f"{shape.name}.csv"), newline="")), [])
    wanted = [one.name for one in shape.columns]
    if found == wanted:
        return []
    missing, unknown = [one for one in wanted if one not in found], [one for one in found if one not in wanted]
    twice = sorted({one for one in found if found.count(one) > 1})
    told = [
        f"{words} {', '.join(names)}" for words, names in
        (("missing is", missing), ("not known is", unknown), ("twice stands", twice)) if names
    ] or ["the columns stand in another order"]  # fmt: skip
    return [f"{shape.name}.csv, row 1: {'; '.join(told)}; expected {', '.join(wanted)}."]


def _validate(package: Package, shapes: Sequence[Shape], trial: Cells) -> list[str]:
    """Return the faults of tables against their schemas, in words."""
    from frictionless import Package as Checked  # with its readers, a third of a second
    from frictionless import Resource

    names = [one.name for one in shapes]
    with tempfile.TemporaryDirectory() as folder:
        resources = []
        for one in shapes:
            described = describe_table(one, names)
            if one.name == "trial":
                described = {key: value for key, value in described.items() if key not in ("path", "encoding")}
                described |= {"data": [list(trial), list(trial.values())], "format": "inline"}
            else:
                (Path(folder) / described["path"]).write_bytes(package.read(described["path"]))
            resources.append(Resource.from_descriptor(described, basepath=folder))
        report = Checked(resources=resources, basepath=folder).validate(limit_errors=_MOST_SAID * 4)
    found = [_say(f"{task.name}.csv", error) for task in report.tasks for error in task.errors]
    return [*found, *(f"{error.message}" for error in report.errors)]


def _say(file: str, error: Any) -> str:  # noqa: ANN401 (a fault of the validating library)
    """Return a fault: file, row and column, what was found and what was expected."""
    file = "trial.json" if file == "trial.csv" else file
    row, column = getattr(error, "row_number", None), getattr(error, "field_name", None)
    if error.type in ("primary-key", "foreign-key"):
        column = ", ".join(getattr(error, "field_names", None) or ["id"])
    place = ", ".join(
        part for part in (file, f"row {row}" if row else "", f"column {column}" if column else "") if part
    )
    cell = getattr(error, "cell", None)
    found = f"found “{str(cell)[:60]}”; " if cell not in (None, "") else ""
    return f"{place}: {found}{error.note or error.message}."


def _read_rows(package: Package, shape: Shape) -> list[Cells]:
    columns = {one.name: one for one in shape.columns}
    csv.field_size_limit(100_000_000)
    reader = csv.DictReader(io.StringIO(package.read_text(f"{shape.name}.csv"), newline=""))
    return [
        {name: _read_cell(cell or "", columns[name]) for name, cell in row.items() if name in columns} for row in reader
    ]


def _read_cell(cell: str, column: Column) -> object:
    if cell == "":
        return column.blank
    if column.kind == "integer":
        return int(cell)
    if column.kind == "number":
        return float(cell)
    return unprotect(cell)


def _find_endless(shape: Shape, rows: Sequence[Cells]) -> list[str]:
    """Return the numbers that are none: endless, or not a number."""
    return [
        f"{shape.name}.csv, row {number}, column {name}: found “{value}”; expected a number."
        for number, row in enumerate(rows, 2)
        for name, value in row.items()
        if isinstance(value, float) and not isfinite(value)
    ]


def _find_twins(shape: Shape, rows: Sequence[Cells]) -> list[str]:
    """Return the rows that stand twice where they may stand once."""
    found = []
    for key in shape.keys:
        seen: dict[tuple[object, ...], int] = {}
        for number, row in enumerate(rows, 2):
            mine = tuple(row.get(name) for name in key)
            if None in mine:
                continue
            if mine in seen:
                what = ", ".join(str(one) for one in mine)
                found.append(
                    f"{shape.name}.csv, row {number}, column {', '.join(key)}: “{what}” stands in row {seen[mine]} too."
                )
            seen.setdefault(mine, number)
    return found
