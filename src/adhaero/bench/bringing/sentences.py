"""What is understood of a table, in sentences that a person can correct."""

from collections.abc import Sequence

from adhaero.core.stats.words import and_join
from adhaero.core.tables.grid import name_column
from adhaero.core.tables.headings import Role, Summary
from adhaero.core.tables.layout import Column, Layout, Table
from adhaero.core.tables.units import name_unit


def say_table(table: Table, pieces: int) -> list[str]:
    """Return what is understood of a table: its rows, its columns, its titles.

    Parameters
    ----------
    pieces : that it holds.
    """
    where = f"On “{table.sheet.name}”, rows" if table.sheet.name else "Rows"
    of_pieces = [row for row in table.rows if table.read_summary_of(row) is None] or [table.header + 1]
    rows = f"{where} {table.header + 2} to {max(of_pieces) + 1}"
    said = [f"{rows} {_say_layout(table, pieces)}."]
    if table.block:
        said.append(f"“{table.block}” is a title: it tells these pieces from those under other titles.")
    said += [one for one in (_say_columns(table), _say_summaries(table), _say_ignored(table)) if one]
    return said


def _say_layout(table: Table, pieces: int) -> str:
    match table.layout:
        case Layout.TALL:
            return f"are pieces, one a row ({pieces})"
        case Layout.WIDE:
            columns = table.with_role(Role.PIECE)
            return f"are sets; {_say_range(columns)} are their pieces ({pieces})"
        case Layout.COLUMNS:
            return f"are pieces; each of the columns {_say_range(table.with_role(Role.LEVEL))} is a set ({pieces})"
        case Layout.MATRIX:
            columns = table.with_role(Role.LEVEL)
            return f"and the columns {_say_range(columns)} are two things that vary; each cell is a piece ({pieces})"
        case _:
            return "hold no pieces"


def _say_range(columns: Sequence[Column]) -> str:
    """Return columns by their letters: `B to K`, `B, D, F`."""
    if not columns:
        return "none"
    ats = [one.at for one in columns]
    if len(ats) > 2 and ats == list(range(ats[0], ats[-1] + 1)):
        return f"{name_column(ats[0])} to {name_column(ats[-1])}"
    return and_join([name_column(at) for at in ats])


_ROLE_WORDS = {
    Role.SET: "the set",
    Role.LABEL: "the label",
    Role.LOAD: "the load",
    Role.STRESS: "the stress",
    Role.TORN: "torn wood",
    Role.DATE: "when it broke",
    Role.GLUED: "when it was glued",
    Role.NOTE: "notes",
    Role.BOARD: "the board",
    Role.AREA: "the glued area",
    Role.OUTCOME: "what happened",
    Role.FAILURE: "where it failed",
}


def _say_columns(table: Table) -> str:
    parts = []
    for column in table.columns:
        unit = column.unit or name_unit(column.heading.text)
        in_unit = f" in {unit.symbol}" if unit is not None else ""
        if column.role in _ROLE_WORDS:
            parts.append(f"{name_column(column.at)} is {_ROLE_WORDS[column.role]}{in_unit}")
        elif column.role is Role.SIZE:
            parts.append(f"{name_column(column.at)} is the {column.heading.name}{in_unit}")
        elif column.role is Role.FACTOR:
            parts.append(f"{name_column(column.at)} is what varies as “{column.heading.text}”")
    return f"{and_join(parts)}." if parts else ""


def _say_summaries(table: Table) -> str:
    columns = table.with_role(Role.SUMMARY)
    rows = [row + 1 for row in table.rows if table.read_summary_of(row) is not None]
    parts = []
    if columns:
        kinds = list(
            dict.fromkeys(one.heading.summary.value for one in columns if one.heading.summary is not Summary.UNSAID)
        )
        parts.append(f"{_say_range(columns)} are its {and_join(kinds) or 'own numbers'}, not pieces")
    if rows:
        some = ", ".join(map(str, rows[:6])) + (" …" if len(rows) > 6 else "")
        parts.append(f"row{'s' if len(rows) > 1 else ''} {some} {'are' if len(rows) > 1 else 'is'} computed too")
    text = "; ".join(parts)
    return f"{text[:1].upper()}{text[1:]}." if text else ""


def _say_ignored(table: Table) -> str:
    columns = [one for one in table.columns if one.role in (Role.IGNORE, Role.UNKNOWN)]
    names = [f"{name_column(one.at)} (“{one.heading.text}”)" for one in columns if one.heading.text]
    return f"{and_join(names)} {'is' if len(names) == 1 else 'are'} not used." if names else ""
