"""The pieces of a table, each with its sizes, its place in the file and its break, as rows of a trial."""

from collections import Counter
from collections.abc import Mapping, Sequence
from collections.abc import Set as AbstractSet
from datetime import UTC, date, datetime, time
from typing import Final

from adhaero.core.errors import DataError
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.plan.labels import LONGEST_LABEL
from adhaero.core.pulls import PullOutcome, PullSource, PullState
from adhaero.core.stats.breaks import Outcome
from adhaero.core.tables.bring_in import Row
from adhaero.core.tables.names import fold
from adhaero.core.tables.units import UNITS
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import insert_piece, put_measurement
from adhaero.store.pulls import insert_pull

_NOON: Final = time(12)
OUTCOMES: Final = {
    Outcome.BROKE: PullOutcome.BROKE, Outcome.STEP: PullOutcome.BROKE, Outcome.HELD: PullOutcome.HELD,
    Outcome.FELL_APART: PullOutcome.FELL_APART,
}  # fmt: skip


def put_pieces(
    connection: Connection,
    file: ShopFile,
    trial_id: int,
    rows: Sequence[Row],
    made: Mapping[int, int],
    boards: Mapping[str, int],
    labels: Sequence[str],
    tries: AbstractSet[str],
    day: datetime | None,
    glued: datetime | None,
) -> None:
    """Write the pieces with their breaks; call inside a transaction. Raises `DataError` for one glued after it broke.

    Parameters
    ----------
    tries : labels that stand for one piece loaded again where they stand twice in a set: the last try counts.
    """
    first_of: dict[tuple[int, str], tuple[int, int]] = {}
    last_of = {(made[at], fold(row.label)): at for at, row in enumerate(rows)}
    for at, (row, label) in enumerate(zip(rows, labels, strict=True)):
        key = (made[at], fold(row.label))
        if fold(row.label) in tries and key in first_of:
            piece_id, attempt = first_of[key]
            first_of[key] = (piece_id, attempt + 1)
            put_break(connection, file, piece_id, row, day, attempt + 1, kept=last_of[key] == at)
            continue
        piece_id = put_piece(connection, file, trial_id, row, made[at], boards[fold(row.piece.board)], label, at, glued)
        _require_order(row, day, glued)
        first_of[key] = (piece_id, 1)
        kept = fold(row.label) not in tries or last_of[key] == at
        put_break(connection, file, piece_id, row, day, 1, kept=kept)


def _require_order(row: Row, day: datetime | None, glued: datetime | None) -> None:
    """Raise `DataError` for a piece that was glued after it broke."""
    broken_on = row.broken_on or (day.date() if day is not None else None)
    glued_on = row.piece.glued_on or (glued.date() if glued is not None else None)
    if broken_on is not None and glued_on is not None and glued_on > broken_on:
        raise DataError(
            f"{row.cell} was glued on {glued_on} and broke on {broken_on}.",
            "A joint is glued before it breaks.",
            "Say what the dates are: point at their column.",
            field="glued_on",
        )


def put_piece(
    connection: Connection,
    file: ShopFile,
    trial_id: int,
    row: Row,
    treatment_id: int,
    board_id: int,
    label: str,
    turn: int,
    glued: datetime | None = None,
) -> int:
    """Write a piece with its sizes and where it stands in its file, and return its id; call inside a transaction.

    Parameters
    ----------
    glued : when it was glued, where its row does not say. Its age at the break follows.
    """
    closed = at_noon(row.piece.glued_on) if row.piece.glued_on is not None else glued
    piece_id = insert_piece(
        connection,
        trial_id=trial_id,
        treatment_id=treatment_id,
        board_id=board_id,
        position=turn + 1,
        glue_turn=turn,
        break_turn=turn,
        label=label,
        sawn_utc=file.now(),
        closed_utc=to_text(closed) if closed is not None else None,
        excluded_reason=row.excluded or None,
        note=row.note[:300],
        source_cell=row.cell,
        source_label=row.label,
    )
    for name, mm in row.sizes_mm.items():
        if mm is not None and f"{name}_mm" in QUANTITIES:
            put_measurement(connection, piece_id, f"{name}_mm", mm, f"{mm:.4g} mm")
    return piece_id


def put_break(
    connection: Connection, file: ShopFile, piece_id: int, row: Row, day: datetime | None, attempt: int, *, kept: bool
) -> None:
    """Write the break of a piece; a piece whose outcome or load nobody said has none."""
    if row.outcome is None or (row.value is None and row.outcome is not Outcome.FELL_APART):
        return
    unit = UNITS.get(row.unit or "")
    per_unit = unit.si if unit is not None else 1.0
    broken = at_noon(row.broken_on) if row.broken_on is not None else day
    at = to_text(broken) if broken is not None else file.now()
    typed = "" if row.value is None else f"{row.value:.10g} {row.unit or ''}".strip()
    held_n = None if row.held is None else row.held * per_unit
    insert_pull(
        connection,
        piece_id=piece_id,
        attempt=attempt,
        source=PullSource.HAND,
        state=PullState.KEPT if kept else PullState.RETRIED,
        started_utc=at,
        ended_utc=at,
        undated=broken is None,
        outcome=OUTCOMES[row.outcome],
        load_n=None if row.value is None else row.value * per_unit,
        load_typed=typed,
        held_n=held_n,
        held_typed="" if row.held is None else f"{row.held:.10g} {row.unit or ''}".strip(),
        wood_failure_pct=row.torn_pct if row.torn_pct is None or 0 <= row.torn_pct <= 100 else None,
        note=row.note[:300],
    )


def at_noon(day: date) -> datetime:
    """Return the moment that stands for a day of which nobody wrote the hour."""
    return datetime.combine(day, _NOON, UTC)


def choose_labels(rows: Sequence[Row], codes: Sequence[str], tries: AbstractSet[str]) -> list[str]:
    """Return a label for each piece that stands once in the trial: as written, else with the code of its set."""
    written = [row.label.strip()[:LONGEST_LABEL] for row in rows]
    counts = Counter(fold(label) for label in written)
    taken: set[str] = set()
    found = []
    for at, label in enumerate(written):
        once = counts[fold(label)] == 1 or (fold(label) in tries and fold(label) not in taken)
        found.append(choose_label(label if once else "", f"{codes[at][:8]}-{label or at + 1}", taken))
    return found


def choose_label(written: str, otherwise: str, taken: set[str]) -> str:
    """Return a label that is not taken, and take it: as written, else another, else that with a number."""
    wanted = (written or otherwise).strip()[:LONGEST_LABEL]
    number = 2
    while fold(wanted) in taken:
        wanted = f"{otherwise[: LONGEST_LABEL - 4]}-{number}"
        number += 1
    taken.add(fold(wanted))
    return wanted
