"""The parts of a whole trial: its tables and those of the shop that it stands on, and which rows belong to it."""

import re
import sqlite3
from dataclasses import dataclass
from typing import Final

from adhaero.core.whole import Column

_PIECES: Final = "SELECT id FROM piece WHERE trial_id = :trial"
_PULLS: Final = f"SELECT id FROM pull WHERE piece_id IN ({_PIECES})"
_FACTORS: Final = "SELECT id FROM factor WHERE trial_id = :trial"
_TREATMENTS: Final = "SELECT id FROM treatment WHERE trial_id = :trial"
_GLUES: Final = (
    "SELECT glue_id FROM treatment WHERE trial_id = :trial UNION SELECT glue_id FROM level"
    f" WHERE factor_id IN ({_FACTORS}) UNION SELECT id FROM glue WHERE name IN"
    " (SELECT glue FROM trial WHERE id = :trial UNION SELECT glue FROM batch WHERE trial_id = :trial)"
)
_STOCK: Final = "SELECT stock_board_id FROM board WHERE trial_id = :trial"
_RIGS: Final = f"SELECT rig_id FROM trial WHERE id = :trial UNION SELECT rig_id FROM pull WHERE piece_id IN ({_PIECES})"
_SPAN: Final = (
    "to_utc >= (SELECT min(started_utc) FROM batch WHERE trial_id = :trial) AND from_utc <= (SELECT max(at) FROM"
    f" (SELECT max(started_utc) AS at FROM pull WHERE piece_id IN ({_PIECES})"
    " UNION SELECT max(started_utc) FROM batch WHERE trial_id = :trial))"
)
_GLUED: Final = (
    "batch_id", "prepped_utc", "spread_utc", "closed_utc", "clamped_utc", "released_utc", "deviation", "clamp_peak_n",
    "clamp_settled_n",
)  # fmt: skip


@dataclass(frozen=True)
class Part:
    """One file of a whole trial.

    Attributes
    ----------
    name : of the file. table : whose rows it holds. belongs : which of them, as a condition. words : what it is.
    only : its columns besides `id`, where a table is cut into two files; without : those that are left out.
    of : the part whose row each of its rows goes with, where the rows are the shop's own rather than the trial's;
    a row of a shop that stands there already is not written again.
    """

    name: str
    table: str
    belongs: str
    words: str
    only: tuple[str, ...] = ()
    without: tuple[str, ...] = ()
    of: str | None = None

    @property
    def is_shared(self) -> bool:
        """Return whether its rows belong to the shop, and to other trials as well."""
        return self.of is not None


PARTS: Final = (
    Part("photos", "photo", "id IN (SELECT photo_id FROM batch WHERE trial_id = :trial UNION SELECT photo_id"
         f" FROM pull WHERE piece_id IN ({_PIECES}) UNION SELECT photo_id"
         f" FROM stock_board WHERE id IN ({_STOCK}))", "photos, each a file in photos/", without=("jpeg",)),
    Part("glues", "glue", f"id IN ({_GLUES})", "cards of the glues", of=""),
    Part("glue_figures", "glue_figure", f"glue_id IN ({_GLUES})", "what the labels of the glues say", of="glues"),
    Part("stock_boards", "stock_board", f"id IN ({_STOCK})", "the boards that pieces were sawn from", of=""),
    Part("defects", "defect", f"stock_board_id IN ({_STOCK})", "what was cut around", of="stock_boards"),
    Part("rigs", "rig", f"id IN ({_RIGS})", "cards of the rigs; addresses stay in the shop", of="",
         without=("url", "far_host")),
    Part("rig_versions", "rig_version", f"rig_id IN ({_RIGS})", "what a number of a rig meant", of="rigs"),
    Part("calibrations", "calibration", f"rig_id IN ({_RIGS})", "calibrations of the rigs", of="rigs"),
    Part("check_weights", "check_weight", f"rig_id IN ({_RIGS})", "known weights hung on the rigs", of="rigs"),
    Part("trial", "trial", "id = :trial", "the question, the guess, and what holds for all pieces"),
    Part("quantities", "quantity", "trial_id = :trial", "planned numbers that hold for all pieces, in SI and as typed"),
    Part("factors", "factor", "trial_id = :trial", "what is varied"),
    Part("values", "level", f"factor_id IN ({_FACTORS})", "the values of what is varied"),
    Part("value_scopes", "factor_scope", f"factor_id IN ({_FACTORS})", "what is varied for some values alone"),
    Part("sets", "treatment", "trial_id = :trial", "the sets"),
    Part("set_values", "treatment_level", f"treatment_id IN ({_TREATMENTS})", "which values each set has"),
    Part("boards", "board", "trial_id = :trial", "the boards"),
    Part("steps", "step", "trial_id = :trial", "steps of the making"),
    Part("amendments", "amendment", "trial_id = :trial", "what changed after the plan was settled, and why"),
    Part("timetables", "timetable", "trial_id = :trial", "the timetable"),
    Part("tasks", "task", "trial_id = :trial", "its tasks"),
    Part("task_clamps", "task_clamps", "task_id IN (SELECT id FROM task WHERE trial_id = :trial)", "their clamps"),
    Part("glue_ups", "batch", "trial_id = :trial", "the glue-ups: glue, air, wood, time"),
    Part("pieces", "piece", "trial_id = :trial", "the pieces", without=_GLUED),
    Part("glue_up_pieces", "piece", "trial_id = :trial", "when each piece was spread, closed, clamped and let go",
         only=_GLUED),
    Part("measurements", "measurement", f"piece_id IN ({_PIECES})", "sizes of the pieces, mm, and as typed"),
    Part("coats", "coat", f"piece_id IN ({_PIECES})", "coats of finish"),
    Part("stages", "exposure", f"piece_id IN ({_PIECES})", "what pieces went through before the test"),
    Part("readings", "reading", f"piece_id IN ({_PIECES})", "readings on the way, in SI and as typed"),
    Part("checks", "tick", f"piece_id IN ({_PIECES})", "what was ticked off"),
    Part("logs", "log_file", f"id IN (SELECT log_id FROM pull WHERE piece_id IN ({_PIECES}))",
         "logs of other software, each a file in sources/", without=("content",)),
    Part("pulls", "pull", f"piece_id IN ({_PIECES})", "every loading, as typed and in SI; traces/ has its trace"),
    Part("corrections", "correction", f"piece_id IN ({_PIECES})", "values changed after the break: old, new, why"),
    Part("sources", "source_file", "trial_id = :trial", "files that were brought in, each in sources/",
         without=("content",)),
    Part("climate", "climate_log", _SPAN, "the air of the shop meanwhile", of=""),
    Part("changes", "change", "trial_id = :trial", "every change: when and what"),
    Part("changed_rows", "change_row", "change_id IN (SELECT id FROM change WHERE trial_id = :trial)",
         "what each change did, row by row: before and after"),
)  # fmt: skip
# what is not of this trial, and does not leave with it
ELSEWHERE: Final = {"trial": ("copied_from", "reference_id")}
# texts that hold JSON, where the table does not say so
_JSON: Final = {
    ("task", "pieces"): "array", ("climate_log", "readings"): "array", ("rig_version", "meaning"): "object",
    ("change_row", "before"): "object", ("change_row", "after"): "object",
}  # fmt: skip


def list_columns(connection: sqlite3.Connection, part: Part) -> list[Column]:
    """Return the columns of a part, what may stand in them, and what they point to. Reads only."""
    sql = str(
        connection.execute("SELECT sql FROM sqlite_master WHERE name = :name", {"name": part.table}).fetchone()["sql"]
    )
    targets = targets_of(connection, part.table)
    found = []
    for row in connection.execute(f"PRAGMA table_info({part.table})"):
        name = row["name"]
        if name != "id" and (name in part.without or (part.only and name not in part.only)):
            continue
        least, most = _find_ends(sql, name) if row["type"] != "TEXT" else _find_ends(sql, f"length({name})")
        found.append(
            Column(
                name,
                _kind_of(part.table, row["type"], row["dflt_value"], name, sql),
                bool(row["notnull"]) and (row["type"] != "TEXT" or (least or 0) > 0),
                _find_choices(sql, name),
                least,
                most,
                to.name if (to := part_of(targets.get(name))) is not None else None,
                "" if row["notnull"] and row["type"] == "TEXT" else None,
            )
        )
    return found


def list_keys(connection: sqlite3.Connection, part: Part) -> list[tuple[str, ...]]:
    """Return the columns of a part that stand once together. Reads only."""
    own = {one.name for one in list_columns(connection, part)}
    found = []
    for index in connection.execute(f"PRAGMA index_list({part.table})").fetchall():
        names = tuple(row["name"] for row in connection.execute(f"PRAGMA index_info({index['name']})"))
        if index["unique"] and own.issuperset(names):
            found.append(names)
    return found


def targets_of(connection: sqlite3.Connection, table: str) -> dict[str, str]:
    """Return the columns of a table that point to a table, and to which. Reads only."""
    return {row["from"]: row["table"] for row in connection.execute(f"PRAGMA foreign_key_list({table})")}


def part_of(table: str | None) -> Part | None:
    """Return the part that the ids of a table stand in; None for no table, and for one that does not leave."""
    return next((one for one in PARTS if one.table == table), None)


def _kind_of(table: str, type_: str, default: str | None, name: str, sql: str) -> str:
    if type_ in ("INTEGER", "REAL"):
        return "integer" if type_ == "INTEGER" else "number"
    if (table, name) in _JSON or default == "'[]'":
        return _JSON.get((table, name), "array")
    return "object" if f"json_valid({name})" in sql else "string"


def _find_choices(sql: str, name: str) -> tuple[str | int, ...] | None:
    found = re.search(rf"CHECK \({name} IN \(([^)]*)\)\)", sql)
    if found is None:
        return None
    return tuple(
        one.strip()[1:-1].replace("''", "'") if one.strip().startswith("'") else int(one)
        for one in re.findall(r"'(?:[^']|'')*'|-?\d+", found.group(1))
    )


def _find_ends(sql: str, name: str) -> tuple[float | None, float | None]:
    plain = re.escape(name)
    between = re.search(rf"{plain} BETWEEN (\S+) AND ([^\s)]+)", sql)
    if between is not None:
        return float(between.group(1)), float(between.group(2))
    least = re.search(rf"\b{plain} >=? (-?[\d.e]+)", sql)
    most = re.search(rf"\b{plain} <=? (-?[\d.e]+)", sql)
    return float(least.group(1)) if least else None, float(most.group(1)) if most else None
