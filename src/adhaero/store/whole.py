"""A trial whole: every row that belongs to it, table by table, out of one shop and into another."""

import json
import sqlite3
from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

from adhaero.core.errors import DataError
from adhaero.store.parts import ELSEWHERE, PARTS, Part, list_columns, part_of, targets_of

Cells = dict[str, Any]


def read_part(connection: sqlite3.Connection, part: Part, trial_id: int) -> Iterator[Cells]:
    """Yield the rows of a part, by id. What another trial is of is left out. Reads only."""
    names = ", ".join(one.name for one in list_columns(connection, part))
    left_out = dict.fromkeys(ELSEWHERE.get(part.table, ()))
    query = f"SELECT {names} FROM {part.table} WHERE {part.belongs} ORDER BY id"
    for row in connection.execute(query, {"trial": trial_id}):
        yield {**dict(row), **left_out}


def read_blob(connection: sqlite3.Connection, part: Part, row_id: int) -> bytes:
    """Return the file of a row whose part leaves one out. Reads only."""
    column = part.without[0]
    row = connection.execute(f"SELECT {column} FROM {part.table} WHERE id = :id", {"id": row_id}).fetchone()
    return bytes(row[column])


def write_whole(
    connection: sqlite3.Connection, rows: Mapping[str, Sequence[Cells]], blob_of: Callable[[str, int], bytes]
) -> tuple[int, dict[str, dict[int, int]]]:
    """Write a whole trial with ids of this shop; call inside a transaction.

    Parameters
    ----------
    rows : of each part, by its name. blob_of : gives the file of a row of a part that has one.

    Returns
    -------
    The trial's id, and the ids in this shop by part and by the id that a row had.

    Raises
    ------
    DataError : a row cannot stand in a shop.
    """
    maps: dict[str, dict[int, int]] = defaultdict(dict)
    late: list[tuple[Part, int, str, int]] = []
    parents: dict[str, set[int]] = defaultdict(set)
    for part in PARTS:
        targets = targets_of(connection, part.table)
        for number, row in enumerate(rows.get(part.name, ()), 2):
            old = int(row["id"])
            values = {name: value for name, value in row.items() if name != "id"}
            for name, table in targets.items():
                if values.get(name) is None:
                    continue
                if table == part.table:
                    late.append((part, old, name, int(values[name])))
                    values[name] = None
                else:
                    to = part_of(table)
                    values[name] = maps[to.name].get(int(values[name])) if to is not None else None
            try:
                maps[part.name][old] = _write(connection, part, old, values, rows, maps, parents, blob_of)
            except (sqlite3.IntegrityError, OverflowError) as error:
                raise DataError(
                    f"{part.name}.csv, row {number}: it cannot stand in a shop ({error}).",
                    "A package comes back as it left.",
                    "Export the trial again.",
                ) from None
    for part, old, name, target in late:
        values = {"value": maps[part.name].get(target), "id": maps[part.name][old]}
        connection.execute(f"UPDATE {part.table} SET {name} = :value WHERE id = :id", values)
    return maps["trial"][next(iter(maps["trial"]))], maps


def _write(
    connection: sqlite3.Connection,
    part: Part,
    old: int,
    values: Cells,
    rows: Mapping[str, Sequence[Cells]],
    maps: Mapping[str, dict[int, int]],
    parents: dict[str, set[int]],
    blob_of: Callable[[str, int], bytes],
) -> int:
    """Write one row and return its id; one of the shop that stands there already is not written again."""
    if part.only:
        row_id = maps["pieces"][old]
        assignments = ", ".join(f"{name} = :{name}" for name in values)
        connection.execute(f"UPDATE {part.table} SET {assignments} WHERE id = :row_id", {**values, "row_id": row_id})
        return row_id
    if part.of is not None:
        there = _find_there(connection, part, old, values, rows, parents)
        if there is not None:
            parents[part.name].add(old)
            return there
    if part.name in ("photos", "logs", "sources"):
        values[part.without[0]] = blob_of(part.name, old)
    if part.name == "tasks":
        values["pieces"] = "[]"  # they come later: see `point_again`
    if part.name == "rigs":
        values["url"] = ""
    if part.name == "changes":
        values["undoable"] = 0  # of another shop: read, not undone
    if part.name == "changed_rows":
        table = str(values["table_name"])
        known = next((maps[one.name] for one in PARTS if one.table == table), {})
        values["row_id"] = known.get(int(values["row_id"]), 0)
    if part.of == "" and "name" in values:
        values["name"] = _find_name(connection, part.table, str(values["name"]))
    return _insert(connection, part.table, values)


def _insert(connection: sqlite3.Connection, table: str, values: Cells) -> int:
    names, marks = ", ".join(values), ", ".join(f":{name}" for name in values)
    return int(connection.execute(f"INSERT INTO {table} ({names}) VALUES ({marks})", values).lastrowid or 0)


def _find_there(
    connection: sqlite3.Connection,
    part: Part,
    old: int,
    values: Cells,
    rows: Mapping[str, Sequence[Cells]],
    parents: Mapping[str, set[int]],
) -> int | None:
    """Return the row of the shop that is this row, with all that goes with it; None where there is none."""
    own = next(one for one in rows[part.name] if int(one["id"]) == old)
    targets = targets_of(connection, part.table)
    if part.of:
        to = next(
            name for name, table in targets.items() if (one := part_of(table)) is not None and one.name == part.of
        )
        if int(own[to]) not in parents[part.of]:
            return None
        return _find_equal(connection, part, values, ())
    skipped = tuple(name for name in targets if name != "id")
    found = _find_equal(connection, part, values, skipped)
    if found is None:
        return None
    for child in PARTS:
        if child.of != part.name:
            continue
        to = next(name for name, table in targets_of(connection, child.table).items() if table == part.table)
        others = tuple(name for name in targets_of(connection, child.table) if name != to)
        for row in rows.get(child.name, ()):
            if int(row[to]) == old:
                wanted = {name: value for name, value in row.items() if name != "id"} | {to: found}
                if _find_equal(connection, child, wanted, others) is None:
                    return None
    return found


def _find_equal(connection: sqlite3.Connection, part: Part, values: Cells, skipped: Sequence[str]) -> int | None:
    names = [name for name in values if name not in skipped]
    query = f"SELECT id FROM {part.table} WHERE {' AND '.join(f'{name} IS :{name}' for name in names)}"
    row = connection.execute(query, {name: values[name] for name in names}).fetchone()
    return None if row is None else int(row["id"])


def _find_name(connection: sqlite3.Connection, table: str, name: str) -> str:
    """Return a name that is free in a shop: as it is, else with a number."""
    wanted, number = name, 2
    while connection.execute(f"SELECT 1 FROM {table} WHERE name = :name", {"name": wanted}).fetchone():
        wanted, number = f"{name[:50]} ({number})", number + 1
    return wanted


def point_again(
    connection: sqlite3.Connection, rows: Mapping[str, Sequence[Cells]], maps: Mapping[str, dict[int, int]]
) -> None:
    """Point to this shop's ids where they stand inside a text: pieces of a task, rows of the history."""
    for row in rows.get("tasks", ()):
        pieces = [maps["pieces"][one] for one in json.loads(row["pieces"]) if one in maps["pieces"]]
        values = {"pieces": json.dumps(pieces), "id": maps["tasks"][int(row["id"])]}
        connection.execute("UPDATE task SET pieces = :pieces WHERE id = :id", values)
    targets = {one.table: targets_of(connection, one.table) for one in PARTS}
    known = {one.table: maps[one.name] for one in PARTS if not one.only and one.name in maps}
    for row in rows.get("changed_rows", ()):
        images = {side: _renumber(row[side], str(row["table_name"]), targets, known) for side in ("before", "after")}
        values = {**images, "id": maps["changed_rows"][int(row["id"])]}
        connection.execute("UPDATE change_row SET before = :before, after = :after WHERE id = :id", values)


def _renumber(
    image: str | None, table: str, targets: Mapping[str, Mapping[str, str]], known: Mapping[str, Mapping[int, int]]
) -> str | None:
    if image is None:
        return None
    values = json.loads(image)
    if "id" in values:
        values["id"] = known.get(table, {}).get(values["id"], 0)
    for name, to in targets.get(table, {}).items():
        if values.get(name) is not None:
            values[name] = known.get(to, {}).get(values[name])
    return json.dumps(values, ensure_ascii=False, separators=(",", ":"))


def claim_change(connection: sqlite3.Connection, trial_id: int) -> None:
    """Let the change that is being made belong to a trial that it made; call inside a transaction."""
    connection.execute(
        "UPDATE change SET trial_id = :trial WHERE id IN (SELECT change_id FROM open_change)", {"trial": trial_id}
    )
