"""A trial leaves whole: a data package of every table, trace, file and change, and of what can be read without them."""

import io
import json
import re
from collections.abc import Iterator, Mapping
from enum import StrEnum
from math import isnan
from typing import Any, Final

from adhaero import __version__
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import TidyFile, export_breaks
from adhaero.bench.compare.method_sheet import export_method_sheet
from adhaero.bench.compare.view import CompareView, view_compare
from adhaero.core.errors import StateError
from adhaero.core.rig.calibration import Calibration
from adhaero.core.whole import Column, Shape
from adhaero.files.package.writing import PackageWriter, write_table
from adhaero.files.report.markdown import write_markdown
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.parts import PARTS, Part, list_columns, list_keys
from adhaero.store.pulls import RawTrace, fetch_trace
from adhaero.store.whole import Cells, read_blob, read_part


class Licence(StrEnum):
    """What others may do with the data."""

    UNSAID = "not said"
    CC0 = "CC0-1.0"
    CC_BY = "CC-BY-4.0"
    CC_BY_SA = "CC-BY-SA-4.0"


_LICENCES: Final = {
    Licence.UNSAID: "Nobody said what others may do with these data: ask before you use them.",
    Licence.CC0: "These data may be used for anything (CC0 1.0).",
    Licence.CC_BY: "These data may be used for anything if their source is named (CC BY 4.0).",
    Licence.CC_BY_SA: "These data may be used if their source is named and what is made of them may be used likewise "
    "(CC BY-SA 4.0).",
}  # fmt: skip
# what stands beside the columns of a part: the file of a row, and what a trace leaves out
_BESIDE: Final[Mapping[str, tuple[Column, ...]]] = {
    "photos": (Column("file", "string", required=True),),
    "logs": (Column("file", "string", required=True),),
    "sources": (Column("file", "string", required=True),),
    "pulls": (Column("file", "string", blank=""), Column("unreadable_lines", "integer")),
}
TRACE_COLUMNS: Final = ("time_s", "reading", "load_N", "displacement_mm")


def list_shapes(connection: Connection) -> list[Shape]:
    """Return what the tables of a package look like."""
    return [
        Shape(part.name, part.words, (*list_columns(connection, part), *_BESIDE.get(part.name, ())),
              tuple(list_keys(connection, part)))
        for part in PARTS
    ]  # fmt: skip


def export_package(file: ShopFile, trial_id: int, licence: Licence = Licence.UNSAID) -> bytes:
    """Return a trial as a data package.

    Raises
    ------
    StateError : a pull of it is running. NotThere : there is no such trial.
    """
    view = view_compare(file, trial_id, Choice())
    tidy = export_breaks(file, trial_id, Choice())
    method = write_markdown(export_method_sheet(file, trial_id))
    target = io.BytesIO()
    writer = PackageWriter(target)
    with file.reading() as connection:
        rows = {part.name: list(read_part(connection, part, trial_id)) for part in PARTS}
        trial = rows["trial"][0]
        if any(one["state"] == "running" for one in rows["pulls"]):
            raise StateError("A pull of this trial is running.", "Its end is not known yet.", "Export it after that.")
        for shape, part in zip(list_shapes(connection), PARTS, strict=True):
            if part.name == "trial":
                continue
            _put_files(connection, writer, part, rows[part.name], rows)
            writer.put_table(shape, rows[part.name])
    writer.put("trial.json", _tell_trial(trial, view))
    writer.put("breaks.csv", tidy.content)
    writer.put("METHOD.md", method)
    writer.put("README.md", _tell_reader(trial, tidy, licence))
    licences = [] if licence is Licence.UNSAID else [{"name": licence.value}]
    said = {
        "title": trial["question"],
        **({"licenses": licences} if licences else {}),
        "practice": bool(trial["practice"]),
    }
    writer.close(_slug(trial["question"]), said, file.now())
    return target.getvalue()


def _slug(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")[:60] or "trial"


def _put_files(
    connection: Connection, writer: PackageWriter, part: Part, rows: list[Cells], all_rows: Mapping[str, list[Cells]]
) -> None:
    """Write the files that rows of a part have, and say in the rows which."""
    labels = {one["id"]: one["label"] for one in all_rows["pieces"]}
    scales = {one["id"]: Calibration(one["offset_reading"], one["newton_per_unit"]) for one in all_rows["calibrations"]}
    taken: set[str] = set()
    for row in rows:
        match part.name:
            case "photos":
                row["file"] = f"photos/{row['id']}.jpg"
                writer.put(row["file"], read_blob(connection, part, row["id"]))
            case "logs" | "sources":
                row["file"] = _free(f"sources/{_as_file(row['name'])}", taken)
                writer.put(row["file"], read_blob(connection, part, row["id"]))
            case "pulls":
                raw = fetch_trace(connection, row["id"])
                row["file"], row["unreadable_lines"] = "", raw.unreadable
                if raw.times_s:
                    row["file"] = _free(f"traces/{_as_file(labels[row['piece_id']])}-{row['attempt']}.csv", taken)
                    writer.put(row["file"], _tell_trace(raw, scales.get(row["calibration_id"]), row["zero_n"] or 0.0))


def _as_file(name: str) -> str:
    """Return a name that can be one of a file everywhere."""
    return re.sub(r"[^\w.-]+", "_", name).strip("._")[:80] or "file"


def _free(path: str, taken: set[str]) -> str:
    """Return a path that is not taken, and take it."""
    stem, dot, ending = path.rpartition(".")
    if not dot or "/" in ending:
        stem, ending = path, ""
    wanted, number = path, 2
    while wanted.lower() in taken:
        wanted, number = f"{stem}-{number}{dot}{ending}", number + 1
    taken.add(wanted.lower())
    return wanted


def _tell_trace(raw: RawTrace, scale: Calibration | None, zero_n: float) -> str:
    """Return a trace: the reading of each line as it came, and the load by its calibration with the zero taken off."""

    def rows() -> Iterator[Cells]:
        moved = raw.displacements_mm
        for at, (time_s, reading) in enumerate(zip(raw.times_s, raw.readings, strict=True)):
            yield {
                "time_s": time_s,
                "reading": reading,
                "load_N": None if scale is None else scale.load_n(reading) - zero_n,
                "displacement_mm": None if not moved or isnan(moved[at]) else moved[at],
            }

    return write_table(TRACE_COLUMNS if raw.displacements_mm else TRACE_COLUMNS[:3], rows())


def _tell_trial(trial: Cells, view: CompareView) -> str:
    verdict: dict[str, Any] = {"waits": view.waits} if view.waits else {}
    if view.summary is not None:
        verdict |= {"headline": view.summary.headline, "also": view.summary.also, "averages": view.summary.averages}
    told = {
        "trial": trial,
        "practice": bool(trial["practice"]),
        "verdict as shown": verdict | {"pairs": [one.words for one in view.pairs], "to mind": view.mind},
        "method": view.method,
        "written by": f"Adhaero {__version__}",
    }
    return json.dumps(told, ensure_ascii=False, indent=1) + "\n"


def _tell_reader(trial: Cells, tidy: TidyFile, licence: Licence) -> str:
    """Return the README of a package: what each file is, and what may be done with it."""
    practice = "\n**Practice**: pieces broken on a simulated rig or for practice. No joint is known by these numbers.\n"
    files = "\n".join(f"- `{one.name}.csv`: {one.words}" for one in PARTS if one.name != "trial")
    return (
        f"# {trial['question']}\n{practice if trial['practice'] else ''}\n"
        "A trial of glued joints, whole. Each table is a CSV in UTF-8 with a header; units stand in the names of the "
        "columns (`load_n`: newton, `mm`, `_mpa`, `_utc`: time in UTC); `si` is in the SI unit that the name beside it "
        "says; `typed` is what a person typed. `datapackage.json` says of each column what may stand in it.\n\n"
        "- `breaks.csv`: one row a piece, all that an analysis needs\n"
        "- `trial.json`: the question, the guess, and the verdict as it was shown\n"
        "- `METHOD.md`: how to make the test again\n"
        f"{files}\n"
        "- `traces/`: the readings of each recorded pull; `photos/`; `sources/`: files as they were brought in\n\n"
        f"{_LICENCES[licence]}\n\nThe same numbers: `{tidy.command.replace(tidy.name, 'breaks.csv')}`\n"
    )
