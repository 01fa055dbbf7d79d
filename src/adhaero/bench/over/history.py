"""The history of a trial: when, what, which piece, from what to what, and why."""

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from adhaero.bench.breaking.corrections import say_field
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.pulls import FAILED_IN_WORDS, JUDGED_WORDS
from adhaero.store.file import ShopFile
from adhaero.store.history import Change, ChangedRow, list_changes, list_first_rows, list_piece_changes
from adhaero.store.pieces import list_pieces

_MOST: Final = 200
_MOST_DETAILS: Final = 12
_MOST_ROWS: Final = 24

# the columns that mean something to a person, by table; what is not named here follows from them
_WORDS: Final[Mapping[str, Mapping[str, str]]] = MappingProxyType(
    {
        "piece": {
            "label": "label", "sawn_utc": "sawn", "prepared_utc": "prepared", "spread_utc": "spread",
            "closed_utc": "closed", "clamped_utc": "clamps on", "released_utc": "clamps off", "void_reason": "void",
            "excluded_reason": "set aside", "odd_reason": "looks odd", "deviation": "went otherwise", "note": "note",
            "tested_as": "tested as", "treatment_id": "set", "batch_id": "glue-up",
        },
        "pull": {
            "state": "pull", "outcome": "what happened", "load_typed": "load, as typed", "load_n": "load, N",
            "held_typed": "held before", "wood_failure_pct": "torn wood", "failure": "failed in", "note": "note",
            "load_point": "load read at", "started_utc": "when",
        },
        "measurement": {"typed": "size"},
        "exposure": {"kind": "exposure", "begun_utc": "put in", "ended_utc": "taken out", "cycles": "cycles"},
        "reading": {"typed": "reading"},
        "tick": {"words": "done"},
        "trial": {"question": "question", "guess": "guess", "conclusion": "conclusion", "fixture": "fixture",
                  "joint": "joint", "judged": "judged", "frozen_utc": "settled"},
        "quantity": {"typed": "plan"},
        "batch": {"glue": "glue", "note": "note", "shop_temperature_typed": "shop temperature"},
        "amendment": {"after": "plan"},
    }
)  # fmt: skip
_STATE_WORDS: Final = {"running": "running", "stopped": "stopped", "kept": "kept", "retried": "laid aside as a try"}
_REASONS: Final = ("reason", "void_reason", "excluded_reason", "load_point_reason")


@dataclass(frozen=True)
class Detail:
    """One value that a change set: of which piece, what, and from what to what; empty where there was none."""

    piece_id: int | None
    label: str
    words: str
    before: str
    after: str


@dataclass(frozen=True)
class HistoryLine:
    """One change: when, what, its values, why, and whether it was undone since."""

    id: int
    at_utc: str
    what: str
    details: list[Detail]
    more: int
    reason: str
    undone: bool


@dataclass(frozen=True)
class HistoryPiece:
    """A piece that the history can be read of."""

    id: int
    label: str


@dataclass(frozen=True)
class HistoryView:
    """The latest changes of a trial, newest first, and its pieces to filter by."""

    lines: list[HistoryLine]
    pieces: list[HistoryPiece]
    is_whole: bool


def view_history(file: ShopFile, trial_id: int, piece_id: int | None = None, most: int = _MOST) -> HistoryView:
    """Return the latest changes of a trial, or of one of its pieces, newest first."""
    with file.reading() as connection:
        changes = (
            list_changes(connection, trial_id, most + 1)
            if piece_id is None
            else list_piece_changes(connection, trial_id, piece_id, most + 1)
        )
        rows = {one.id: list_first_rows(connection, one.id, piece_id, _MOST_ROWS) for one in changes[:most]}
        labels = {piece.id: piece.label for piece in list_pieces(connection, trial_id)}
    return HistoryView(
        lines=[_view_line(one, *rows[one.id], labels, piece_id) for one in changes[:most]],
        pieces=[HistoryPiece(*one) for one in sorted(labels.items(), key=lambda one: one[1])],
        is_whole=len(changes) <= most,
    )


def _view_line(
    change: Change, rows: list[ChangedRow], count: int, labels: Mapping[int, str], piece_id: int | None
) -> HistoryLine:
    details: list[Detail] = []
    reason = ""
    corrected = any(row.table_name == "correction" for row in rows)
    for row in rows:
        before, after = _read(row.before), _read(row.after)
        image = after or before
        of_piece = row.row_id if row.table_name == "piece" else image.get("piece_id")
        owner = int(of_piece) if isinstance(of_piece, int) else None
        if piece_id is not None and owner not in (None, piece_id):
            continue
        reason = reason or next((str(image[name]) for name in _REASONS if image.get(name)), "")
        if row.table_name == "correction":
            words = say_field(str(image["field"]))
            details.append(Detail(owner, labels.get(owner or 0, ""), words, str(image["before"]), str(image["after"])))
        elif not corrected:
            details += _list_details(row.table_name, before, after, owner, labels.get(owner or 0, ""))
    return HistoryLine(
        id=change.id,
        at_utc=change.at_utc,
        what=change.what,
        details=details[:_MOST_DETAILS],
        more=max(0, len(details) - _MOST_DETAILS) + count - len(rows),
        reason=reason,
        undone=change.undone_by is not None,
    )


def _read(image: str | None) -> dict[str, object]:
    return {} if image is None else dict(json.loads(image))


def _list_details(
    table: str, before: Mapping[str, object], after: Mapping[str, object], owner: int | None, label: str
) -> Iterator[Detail]:
    for column, words in _WORDS.get(table, {}).items():
        old, new = _say(before.get(column), column), _say(after.get(column), column)
        if old == new or (column == "load_n" and (after or before).get("load_typed")):
            continue
        name = str((after or before).get("name", ""))
        if name and table in ("measurement", "quantity", "reading"):
            words = QUANTITIES[name].words if name in QUANTITIES else name
        yield Detail(owner, label, words, old, new)


_SAID: Final[Mapping[str, Mapping[str, str]]] = MappingProxyType(
    {"failure": FAILED_IN_WORDS, "outcome": JUDGED_WORDS, "state": _STATE_WORDS}  # type: ignore[dict-item]
)


def _say(value: object, column: str) -> str:
    if value is None or value == "" or (column == "load_point" and value == "highest"):
        return ""
    if column in _SAID:
        return str(_SAID[column].get(str(value), value))
    try:
        return f"{float(str(value)):.4g}"
    except ValueError:
        return str(value)
