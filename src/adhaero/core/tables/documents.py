"""What was understood of a file, and what comes of it, as one document; and a reading given back."""

from collections.abc import Mapping, Sequence
from typing import Any, Final

from adhaero.core.errors import EntryError
from adhaero.core.tables.against import Change, ChangeKind
from adhaero.core.tables.answers import Answers
from adhaero.core.tables.bring_in import BroughtIn, Row
from adhaero.core.tables.checks import Check
from adhaero.core.tables.corrections import Corrections, read_corrections
from adhaero.core.tables.grid import Book, name_column
from adhaero.core.tables.headings import Role
from adhaero.core.tables.layout import Column, Table
from adhaero.core.tables.names import fold

_LOOKED_AT: Final = 40


def give_reading(found: BroughtIn, answers: Answers, said: Corrections) -> dict[str, Any]:
    """Return what is understood of a file: regions, the role of each column, how its texts are written, answers."""
    return {
        "regions": [_give_table(table) for table in found.tables],
        "decimal mark": found.writing.mark.value,
        "day and month": found.writing.order.value,
        "colours": {
            fill or "none": {"torn_pct": one.torn_pct, "excluded": one.excluded} for fill, one in found.legend.items()
        },
        "roles": dict(said.roles),
        "layouts": dict(said.layouts),
        "answers": [{"about": about, "subject": subject, "choice": choice} for about, subject, choice in answers.given],
    }


def name_kind(book: Book) -> list[list[str]]:
    """Return what files of one kind have in common: their sheets, and of each the row that looks like its headings."""
    found = []
    for sheet in book.sheets:
        texts = [
            [fold(sheet.text((row, column))) for column in columns if _is_words(sheet.text((row, column)))]
            for row, columns in list(sheet.rows.items())[:_LOOKED_AT]
        ]
        found.append([fold(sheet.name), *max(texts, key=len, default=[])])
    return found


def _is_words(text: str) -> bool:
    return any(letter.isalpha() for letter in text)


def _give_table(table: Table) -> dict[str, Any]:
    last = max(table.rows, default=table.header)
    return {
        "sheet": table.sheet.name,
        "range": table.sheet.name_range((table.header, table.left), (last, table.right)),
        "layout": table.layout.value,
        "header": table.header + 1,
        "block": table.block,
        "titles": [title.text for title in table.titles],
        "columns": {name_column(one.at): role_words(one) for one in table.columns},
        "units": {name_column(one.at): one.unit.symbol for one in table.columns if one.unit is not None},
    }


def role_words(column: Column) -> str:
    """Return the role of a column as a person would say it: `load`, `size:width`, `summary:mean`, `factor:Slope`."""
    heading = column.heading
    match heading.role:
        case Role.SIZE:
            return f"size:{heading.name}"
        case Role.SUMMARY:
            return f"summary:{heading.summary.value or 'unsaid'}"
        case Role.FACTOR:
            return f"factor:{heading.text}"
        case Role.UNKNOWN:
            return "ignore"
        case role:
            return role.value


def read_reading(document: Mapping[str, Any]) -> tuple[Corrections, Answers]:
    """Return the corrections and the answers of a reading that was kept.

    Raises
    ------
    EntryError : it is no reading.
    """
    roles, layouts, answers = document.get("roles", {}), document.get("layouts", {}), document.get("answers", [])
    if not isinstance(roles, dict) or not isinstance(layouts, dict) or not isinstance(answers, list):
        raise EntryError(
            "This is no reading.", "Expected roles, layouts and answers as they were given out.", field="reading"
        )
    given = []
    for one in answers:
        if not isinstance(one, dict) or not {"about", "choice"} <= set(one):
            raise EntryError(
                "An answer of the reading says nothing.", "Expected about, subject and choice.", field="reading"
            )
        given.append((str(one["about"]), str(one.get("subject", "")), str(one["choice"])))
    said = read_corrections({str(k): str(v) for k, v in roles.items()}, {str(k): str(v) for k, v in layouts.items()})
    return said, Answers(tuple(given))


def give_row(row: Row) -> dict[str, Any]:
    """Return a piece as it comes in."""
    return {
        "cell": row.cell,
        "label": row.label,
        "set": row.set_name,
        "factors": dict(row.factors),
        "board": row.piece.board or None,
        "quantity": row.quantity,
        "value": row.value,
        "unit": row.unit,
        "held": row.held,
        "outcome": row.outcome.value if row.outcome else None,
        "torn_pct": row.torn_pct,
        "sizes_mm": {name: mm for name, mm in row.sizes_mm.items() if mm is not None},
        "date": row.broken_on.isoformat() if row.broken_on else None,
        "excluded": row.excluded,
        "hidden": row.is_hidden,
        "note": row.note,
    }


def give_check(check: Check) -> dict[str, Any]:
    """Return a checked cell."""
    return {
        "cell": check.cell,
        "kind": check.kind,
        "of": check.of,
        "shown": check.shown,
        "computed": check.computed,
        "standing": check.standing.value,
        "why": check.why,
        "words": check.words,
    }


def give_change(change: Change) -> dict[str, Any]:
    """Return a piece that is not as it was in the older file."""
    row, old = change.row, change.old_row
    return {
        "kind": change.kind.value,
        "cell": row.cell if row is not None else None,
        "old_cell": old.cell if old is not None else None,
        "old": old.value if old is not None else None,
        "new": row.value if row is not None else None,
        "set": (row or old).set_name,  # type: ignore[union-attr]
        "label": (row or old).label,  # type: ignore[union-attr]
    }


def give_document(
    found: BroughtIn, checks: Sequence[Check], answers: Answers, said: Corrections, changes: Sequence[Change] | None
) -> dict[str, Any]:
    """Return everything that is understood of a file."""
    document: dict[str, Any] = {
        "reading": give_reading(found, answers, said),
        "questions": [
            {"about": q.about, "subject": q.subject, "cells": q.cells, "choices": list(q.choices), "words": q.words}
            for q in found.questions
        ],
        "rows": [give_row(row) for row in found.rows],
        "refused": [{"cells": one.cells, "why": one.why} for one in found.refused],
        "checks": [give_check(one) for one in checks],
    }
    if changes is not None:
        document["changes"] = [give_change(one) for one in changes]
    return document


def count_kinds(changes: Sequence[Change]) -> dict[ChangeKind, int]:
    """Return how many pieces are new, changed and gone."""
    return {kind: sum(one.kind is kind for one in changes) for kind in ChangeKind}
