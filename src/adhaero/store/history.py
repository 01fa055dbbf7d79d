"""Every change of a trial, row by row before and after: written by triggers, so nothing is left out; undone from it."""

import json
import sqlite3
from dataclasses import dataclass

from adhaero.core.errors import InUse, NotThere, StaleEdit
from adhaero.store.rows import fetch_all, fetch_one

TRACED = (
    "setting",
    "glue",
    "rig",
    "rig_version",
    "calibration",
    "check_weight",
    "plate",
    "stock_board",
    "defect",
    "glue_figure",
    "clamps",
    "trial",
    "quantity",
    "factor",
    "level",
    "factor_scope",
    "treatment",
    "treatment_level",
    "board",
    "step",
    "amendment",
    "batch",
    "piece",
    "measurement",
    "pull",
    "correction",
    "timetable",
    "task",
    "task_clamps",
    "coat",
    "exposure",
    "reading",
    "tick",
    "climate_log",
    "library_call",
    "library_join",
)


@dataclass(frozen=True)
class Change:
    """One change in words."""

    id: int
    trial_id: int | None
    at_utc: str
    what: str
    undoable: int
    undoes: int | None
    undone_by: int | None


@dataclass(frozen=True)
class Steps:
    """What undo and redo would do now."""

    undo: Change | None
    redo: Change | None


_COLUMNS = "id, trial_id, at_utc, what, undoable, undoes, undone_by"


def install_change_triggers(connection: sqlite3.Connection) -> None:
    """Write the triggers that record each traced table; call after `drop_change_triggers`, its tables as they stay."""
    for table in TRACED:
        if not _columns(connection, table):
            continue  # a later migration makes it
        before, after = _image(connection, table, "OLD"), _image(connection, table, "NEW")
        for event, row, images in (
            ("INSERT", "NEW", f"NULL, {after}"),
            ("UPDATE", "NEW", f"{before}, {after}"),
            ("DELETE", "OLD", f"{before}, NULL"),
        ):
            connection.execute(
                f"CREATE TRIGGER trace_{table}_{event.lower()} AFTER {event} ON {table} BEGIN"
                " INSERT INTO change_row (change_id, table_name, row_id, before, after)"
                f" VALUES ((SELECT change_id FROM open_change), '{table}', {row}.id, {images}); END"
            )


def drop_change_triggers(connection: sqlite3.Connection) -> None:
    """Take the triggers off while a migration moves rows and columns; call inside its transaction."""
    for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'").fetchall():
        if row["name"].startswith("trace_"):
            connection.execute(f"DROP TRIGGER {row['name']}")


def _columns(connection: sqlite3.Connection, table: str) -> list[tuple[str, str]]:
    return [(row["name"], row["type"]) for row in connection.execute(f"PRAGMA table_info({table})")]


def _image(connection: sqlite3.Connection, table: str, row: str) -> str:
    """Return SQL for a row as JSON; real numbers as text of 17 digits, which SQLite's own JSON would round."""
    parts = []
    for name, kind in _columns(connection, table):
        value = f"{row}.{name}" if row else name
        if kind == "REAL":
            value = f"CASE WHEN {value} IS NULL THEN NULL ELSE format('%!.17g', {value}) END"
        parts.append(f"'{name}', {value}")
    return f"json_object({', '.join(parts)})"


def find_steps(connection: sqlite3.Connection, trial_id: int | None) -> Steps:
    """Return the change that undo would take back and the one that redo would bring back. Reads only."""
    undo = fetch_one(
        connection,
        Change,
        f"SELECT {_COLUMNS} FROM change WHERE trial_id IS :trial AND undoable = 1 AND undoes IS NULL"
        " AND undone_by IS NULL ORDER BY id DESC LIMIT 1",
        {"trial": trial_id},
    )
    redo = fetch_one(
        connection,
        Change,
        f"SELECT {_COLUMNS} FROM change WHERE trial_id IS :trial AND undone_by IS NOT NULL AND undoes IS NULL"
        " AND undoable = 1 AND id > coalesce((SELECT max(id) FROM change WHERE trial_id IS :trial AND undoable = 1"
        " AND undoes IS NULL AND undone_by IS NULL), 0) ORDER BY id LIMIT 1",
        {"trial": trial_id},
    )
    return Steps(undo, redo)


def list_changes(connection: sqlite3.Connection, trial_id: int | None, most: int) -> list[Change]:
    """Return the latest changes of a trial, newest first. Reads only."""
    return fetch_all(
        connection,
        Change,
        f"SELECT {_COLUMNS} FROM change WHERE trial_id IS :trial ORDER BY at_utc DESC, id DESC LIMIT :most",
        {"trial": trial_id, "most": most},
    )


@dataclass(frozen=True)
class ChangedRow:
    """A row of a change: its table, and the row as JSON before and after; None where it was not there."""

    change_id: int
    table_name: str
    row_id: int
    before: str | None
    after: str | None


# a row that belongs to a piece names it; found as text, which is many times as fast as reading each image
_OF_PIECE = (
    "((table_name = 'piece' AND row_id = :piece) OR (table_name <> 'piece' AND"
    " (instr(coalesce(after, before), '\"piece_id\":' || :piece || ',') > 0"
    " OR instr(coalesce(after, before), '\"piece_id\":' || :piece || '}') > 0)))"
)


def list_piece_changes(connection: sqlite3.Connection, trial_id: int, piece_id: int, most: int) -> list[Change]:
    """Return the latest changes of a trial that touched one piece, newest first. Reads only."""
    return fetch_all(
        connection,
        Change,
        f"SELECT {_COLUMNS} FROM change WHERE trial_id = :trial AND EXISTS"
        f" (SELECT 1 FROM change_row WHERE change_id = change.id AND {_OF_PIECE})"
        " ORDER BY at_utc DESC, id DESC LIMIT :most",
        {"trial": trial_id, "piece": piece_id, "most": most},
    )


def list_first_rows(
    connection: sqlite3.Connection, change_id: int, piece_id: int | None, most: int
) -> tuple[list[ChangedRow], int]:
    """Return the first rows of a change, of one piece or of all, and how many there are in all. Reads only."""
    mine, values = "change_id = :change", {"change": change_id, "most": most}
    if piece_id is not None:
        mine += f" AND ({_OF_PIECE} OR table_name NOT IN ({', '.join(map(repr, _OF_PIECES))}))"
        values["piece"] = piece_id
    sql = f"SELECT change_id, table_name, row_id, before, after FROM change_row WHERE {mine} ORDER BY id LIMIT :most"
    rows = fetch_all(connection, ChangedRow, sql, values)
    if len(rows) < most:
        return rows, len(rows)
    count = connection.execute(f"SELECT count(*) FROM change_row WHERE {mine}", values).fetchone()[0]
    return rows, int(count)


_OF_PIECES = ("piece", "pull", "measurement", "exposure", "reading", "tick", "coat", "correction")


@dataclass(frozen=True)
class Mark:
    """How far a shop file has come: where it lies and its newest change."""

    path: str
    newest: int
    at_utc: str


def is_changing(connection: sqlite3.Connection) -> bool:
    """Return whether this is inside a change that is still going on. Reads only."""
    return connection.execute("SELECT 1 FROM open_change").fetchone() is not None


def find_mark(connection: sqlite3.Connection) -> Mark | None:
    """Return how far the file has come; None inside a change that is still going on. Reads only."""
    return None if is_changing(connection) else find_last_mark(connection)


def find_last_mark(connection: sqlite3.Connection) -> Mark:
    """Return how far the file has come, also inside a change. Reads only."""
    newest = connection.execute("SELECT id, at_utc FROM change ORDER BY id DESC LIMIT 1").fetchone()
    path = connection.execute("PRAGMA database_list").fetchone()["file"]
    return Mark(path, newest["id"], newest["at_utc"]) if newest else Mark(path, 0, "")


_MOST_ROWS = 300


def list_changed_rows(connection: sqlite3.Connection, since: Mark) -> dict[str, set[int]] | None:
    """Return the ids of the rows that changed since a mark, by table. Reads only.

    None when the mark belongs to another file, or when so many changed that reading everything is faster.
    """
    if not knows_mark(connection, since):
        return None
    rows = connection.execute(
        "SELECT table_name, row_id FROM change_row WHERE change_id > :id LIMIT :most",
        {"id": since.newest, "most": _MOST_ROWS + 1},
    ).fetchall()
    if len(rows) > _MOST_ROWS:
        return None
    changed: dict[str, set[int]] = {}
    for row in rows:
        changed.setdefault(row["table_name"], set()).add(row["row_id"])
    return changed


def knows_mark(connection: sqlite3.Connection, mark: Mark) -> bool:
    """Return whether a mark was set in this file, and not in one that lay there before. Reads only."""
    found = connection.execute(
        "SELECT 1 FROM change WHERE id = :id AND at_utc = :at", {"id": mark.newest, "at": mark.at_utc}
    )
    return found.fetchone() is not None


def newest_change_id(connection: sqlite3.Connection) -> int:
    """Return the number of the newest change. Reads only."""
    return int(connection.execute("SELECT coalesce(max(id), 0) FROM change").fetchone()[0])


def list_changed_trials(connection: sqlite3.Connection, after: int) -> list[int | None]:
    """Return the trials that changed after a change number; None stands for the shop. Reads only."""
    return [
        row[0] for row in connection.execute("SELECT DISTINCT trial_id FROM change WHERE id > :after", {"after": after})
    ]


def list_shop_changed(connection: sqlite3.Connection, after: int) -> tuple[set[str], set[int]]:
    """Return the tables that changes of the shop touched after a change number, and the trials that their rows name."""
    sql = (
        "SELECT DISTINCT table_name, CASE WHEN table_name = 'trial' THEN row_id"
        " ELSE json_extract(coalesce(after, before), '$.trial_id') END"
        " FROM change_row JOIN change ON change.id = change_row.change_id"
        " WHERE change.id > :after AND change.trial_id IS NULL"
    )
    rows = connection.execute(sql, {"after": after}).fetchall()
    return {row[0] for row in rows}, {int(row[1]) for row in rows if row[1] is not None}


def revert_change(connection: sqlite3.Connection, change_id: int) -> None:
    """Put every row of a change back as it was before it; call inside a transaction with an open change.

    The open change is marked as the one that undoes it; reverting an undo marks the first change as standing again.

    Raises
    ------
    NotThere : no such change. StaleEdit : a row was changed again since. InUse : other rows refer to it by now, or took
    its name. Nothing is put back then.
    """
    change = fetch_one(connection, Change, f"SELECT {_COLUMNS} FROM change WHERE id = :id", {"id": change_id})
    if change is None:
        raise NotThere(f"There is no change {change_id}.")
    connection.execute("PRAGMA defer_foreign_keys = ON")
    rows = connection.execute(
        "SELECT table_name, row_id, before, after FROM change_row WHERE change_id = :id ORDER BY id DESC",
        {"id": change_id},
    ).fetchall()
    images = {table: _image(connection, table, "") for table in {row["table_name"] for row in rows}}
    try:
        for row in rows:
            _put_back(connection, row, images[row["table_name"]], change.what)
    except sqlite3.IntegrityError as error:
        raise _in_use(change.what) from error
    if connection.execute("PRAGMA foreign_key_check").fetchone():
        raise _in_use(change.what)
    this = connection.execute("SELECT change_id FROM open_change").fetchone()[0]
    connection.execute("UPDATE change SET undoes = :undone WHERE id = :this", {"undone": change_id, "this": this})
    connection.execute("UPDATE change SET undone_by = :this WHERE id = :undone", {"undone": change_id, "this": this})
    if change.undoes is not None:
        connection.execute("UPDATE change SET undone_by = NULL WHERE id = :first", {"first": change.undoes})


def _in_use(what: str) -> InUse:
    return InUse(
        f"“{what}” cannot be undone: something that came later depends on it.",
        "Nothing was put back.",
        "Undo what came later first.",
    )


def _put_back(connection: sqlite3.Connection, row: sqlite3.Row, image: str, what: str) -> None:
    table, key = row["table_name"], {"id": row["row_id"]}
    current = connection.execute(f"SELECT {image} FROM {table} WHERE id = :id", key).fetchone()
    if (current[0] if current else None) != row["after"]:
        raise StaleEdit(
            f"“{what}” cannot be undone: part of it was changed again since.",
            "Nothing was put back.",
            "Change it by hand.",
        )
    if row["before"] is None:
        connection.execute(f"DELETE FROM {table} WHERE id = :id", key)
        return
    before = json.loads(row["before"])
    if row["after"] is None:
        names = ", ".join(before)
        connection.execute(f"INSERT INTO {table} ({names}) VALUES ({', '.join(':' + name for name in before)})", before)
        return
    assignments = ", ".join(f"{name} = :{name}" for name in before)
    connection.execute(f"UPDATE {table} SET {assignments} WHERE id = :id", before)
