"""A newer file of a trial that was brought in: what is new, changed and gone; taken over with a trace."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.bringing.look import TableSaid
from adhaero.bench.bringing.put_pieces import OUTCOMES, choose_label, put_break, put_piece
from adhaero.bench.bringing.staged import StagedFile, Staging
from adhaero.bench.bringing.varied import Varied, as_noted, is_solid, list_varied, note_varied, value_of
from adhaero.bench.facts.entry import Entry, Line
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import EntryError, StateError
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.labels import choose_codes
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.plan.varied import ReadValue
from adhaero.core.pulls import JUDGED_WORDS
from adhaero.core.tables.against import Change, ChangeKind, compare_files, key_of
from adhaero.core.tables.bring_in import BroughtIn, Row, bring_in
from adhaero.core.tables.checks import Standing, check_arithmetic
from adhaero.core.tables.documents import give_reading, name_kind, read_reading
from adhaero.core.tables.names import fold
from adhaero.core.tables.units import UNITS
from adhaero.files.sheets.open_book import open_book
from adhaero.store.connecting import Connection
from adhaero.store.corrections import insert_correction
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece, amend_piece
from adhaero.store.plans import FactorRow, insert_level, insert_treatment, insert_treatment_level, list_treatments
from adhaero.store.pulls import amend_pull
from adhaero.store.sources import SourceFile, fetch_source_content, insert_source, list_sources

Picks = Annotated[tuple[Line, ...], MaxLen(100_000)]


@dataclass(frozen=True)
class ChangeView:
    """One piece that is not as it was in the file that the trial came from.

    Attributes
    ----------
    key : what it is picked by. words : which piece, from what to what.
    """

    key: str
    kind: ChangeKind
    words: str


@dataclass(frozen=True)
class NewerView:
    """What a newer file changes, and the file that it is held against."""

    older: str
    changes: list[ChangeView]
    same: int


@dataclass(frozen=True)
class NewerEntry(Entry):
    """What of a newer file is taken over: the keys of its changes."""

    said: TableSaid
    picks: Picks


def view_newer(file: ShopFile, staging: Staging, trial_id: int, sha256: str, said: TableSaid) -> NewerView:
    """Return what a file changes against the one that a trial came from.

    Raises
    ------
    StateError : the trial was not brought in. NotThere : the file is not held any more.
    """
    staged = staging.find(sha256)
    with file.reading() as connection:
        source, older = _read_older(connection, trial_id)
    newer = _read(staged, said)
    changes = compare_files(newer.rows, older.rows)
    found = [ChangeView(_key(one), one.kind, _say(one)) for one in changes]
    same = len(newer.rows) - sum(one.kind is not ChangeKind.GONE for one in changes)
    return NewerView(source.name, found, same)


def _read(staged: StagedFile, said: TableSaid) -> BroughtIn:
    return bring_in(staged.book, said.as_answers(), said.sheet, said.as_corrections())


def _read_older(connection: Connection, trial_id: int) -> tuple[SourceFile, BroughtIn]:
    """Return the newest file of a trial as it was read; raises `StateError` for a trial without one."""
    sources = list_sources(connection, trial_id)
    content = fetch_source_content(connection, sources[-1].id) if sources else None
    if content is None:
        raise StateError("This trial was not brought in from a file.", "A newer file is held against an older one.")
    source = sources[-1]
    said, answers = read_reading(source.reading)
    return source, bring_in(open_book(content), answers, str(source.reading.get("sheet", "")), said)


def _key(change: Change) -> str:
    row = change.row if change.row is not None else change.old_row
    assert row is not None
    return f"{change.kind} {row.cell}"


def _say(change: Change) -> str:
    row = change.row if change.row is not None else change.old_row
    assert row is not None
    who = ", ".join(part for part in (row.set_name, *row.factors.values(), row.label) if part)
    match change.kind:
        case ChangeKind.NEW:
            return f"{who} ({row.cell}): {_say_value(change.row)}"
        case ChangeKind.GONE:
            return f"{who}: {_say_value(change.old_row)} stood in {row.cell}"
        case _:
            return f"{who} ({row.cell}): {_say_value(change.old_row)} → {_say_value(change.row)}"


def _say_value(row: Row | None) -> str:
    if row is None:
        return "nothing"
    words = JUDGED_WORDS[OUTCOMES[row.outcome]] if row.outcome is not None else "not known"
    value = "" if row.value is None else f" {row.value:.10g} {row.unit or ''}".rstrip()
    torn = "" if row.torn_pct is None else f", {row.torn_pct:g}\u00a0% torn"
    aside = f", set aside ({row.excluded})" if row.excluded else ""
    return f"{words}{value}{torn}{aside}"


def take_newer(file: ShopFile, staging: Staging, trial_id: int, sha256: str, entry: NewerEntry) -> int:
    """Take over what was picked of a newer file, as traced changes, and return how many; all of it or nothing.

    A changed value is a correction, a new piece comes with its break, one that is gone is set aside. The newer file is
    kept with the trial, and the next one is held against it.

    Raises
    ------
    EntryError : nothing is picked. StateError, NotThere : as for `view_newer`.
    """
    staged = staging.find(sha256)
    newer = _read(staged, entry.said)
    slips = tuple(one.words for one in check_arithmetic(newer) if one.standing is Standing.DIFFERS)
    with file.changing("Took over a newer file", trial_id) as connection:
        source, older = _read_older(connection, trial_id)
        changes = [one for one in compare_files(newer.rows, older.rows) if _key(one) in set(entry.picks)]
        if not changes:
            raise EntryError("Nothing is ticked.", "Only what is ticked is taken over.", field="picks")
        pieces = _find_pieces(connection, trial_id, older.rows)
        varied = list_varied(connection, newer, as_noted(source.reading))
        for one in changes:
            _take(connection, file, trial_id, one, pieces, staged.name, varied)
        _follow_cells(connection, newer.rows, pieces)
        insert_source(
            connection,
            trial_id=trial_id,
            name=staged.name,
            added_utc=file.now(),
            sha256=sha256,
            content=staged.content,
            reading={
                **give_reading(newer, entry.said.as_answers(), entry.said.as_corrections()),
                "sheet": entry.said.sheet,
                "kind": name_kind(staged.book),
                "varied": note_varied(varied),
            },
            slips=slips,
        )
    return len(changes)


def _find_pieces(connection: Connection, trial_id: int, rows: Sequence[Row]) -> dict[tuple[object, ...], Piece]:
    """Return the pieces of a trial by what they are known by in its file."""
    facts = read_trial(connection, trial_id)
    by_cell = {piece.source_cell: piece for piece in facts.pieces.values() if piece.source_cell}
    return {key_of(row): piece for row in rows if (piece := by_cell.get(row.cell)) is not None}


def _follow_cells(connection: Connection, rows: Sequence[Row], pieces: Mapping[tuple[object, ...], Piece]) -> None:
    for row in rows:
        piece = pieces.get(key_of(row))
        if piece is not None and piece.source_cell != row.cell:
            amend_piece(connection, piece.id, source_cell=row.cell)


def _take(
    connection: Connection,
    file: ShopFile,
    trial_id: int,
    change: Change,
    pieces: dict[tuple[object, ...], Piece],
    name: str,
    varied: Sequence[Varied],
) -> None:
    row, old = change.row, change.old_row
    if row is None:
        assert old is not None
        piece = pieces.get(key_of(old))
        if piece is not None and piece.excluded_reason is None:
            amend_piece(connection, piece.id, excluded_reason=f"gone in {name}")
        return
    if old is None:
        _add(connection, file, trial_id, row, pieces, varied)
        return
    piece = pieces.get(key_of(row))
    if piece is not None:
        _correct(connection, file, trial_id, piece, row, old, name)


def _add(
    connection: Connection,
    file: ShopFile,
    trial_id: int,
    row: Row,
    pieces: dict[tuple[object, ...], Piece],
    varied: Sequence[Varied],
) -> None:
    """Write a new piece with its break, into the set of its like; a set that is new comes with it."""
    facts = read_trial(connection, trial_id)
    like = next((piece for key, piece in pieces.items() if key[:2] == key_of(row)[:2]), None)
    treatment_id = like.treatment_id if like is not None else _put_set(connection, facts, row, varied)
    board_id = like.board_id if like is not None else next(iter(facts.boards))
    boards = {fold(board.name): board.id for board in facts.boards.values()}
    board_id = boards.get(fold(row.piece.board), board_id)
    codes = {one.id: one.code for one in list_treatments(connection, trial_id)}
    taken = {fold(piece.label) for piece in facts.pieces.values()}
    label = choose_label("", f"{codes[treatment_id][:8]}-{row.label or len(facts.pieces) + 1}", taken)
    piece_id = put_piece(connection, file, trial_id, row, treatment_id, board_id, label, len(facts.pieces))
    put_break(connection, file, piece_id, row, None, 1, kept=True)
    pieces[key_of(row)] = read_trial(connection, trial_id).pieces[piece_id]


def _put_set(connection: Connection, facts: PieceFacts, row: Row, varied: Sequence[Varied]) -> int:
    """Write a set that a newer file brings: its values where they are new, its code and its name."""
    made: list[int] = []
    parts = [row.set_name] if is_solid(row) else []
    for factor in () if is_solid(row) else facts.factors.values():
        column = _find_column(facts, factor, varied)
        value = ReadValue(row.set_name or "none") if column is None else column.read(value_of(row, column.name))
        parts.append(value.name)
        there = [one for one in facts.levels.values() if one.factor_id == factor.id]
        level = next((one for one in there if fold(one.name) == fold(value.name)), None)
        if level is None:
            name = value.name[:60]
            code = choose_codes([name], [one.code for one in there])[0]
            made.append(
                insert_level(
                    connection, factor_id=factor.id, rank=len(there) + 1, name=name, code=code, value_si=value.si
                )
            )
        else:
            made.append(level.id)
    names = ", ".join(parts)[:60]
    codes = [one.code for one in facts.treatments.values()]
    treatment_id = insert_treatment(
        connection,
        trial_id=facts.trial.id,
        rank=len(facts.treatments) + 1,
        name=names,
        code=choose_codes([names], codes)[0],
        pieces=1,
        pieces_own=True,
        kind=TreatmentKind.SOLID if is_solid(row) else TreatmentKind.MADE,
    )
    for level_id in made:
        insert_treatment_level(connection, treatment_id=treatment_id, level_id=level_id)
    return treatment_id


def _find_column(facts: PieceFacts, factor: FactorRow, varied: Sequence[Varied]) -> Varied | None:
    """Return the column of a file that a thing the trial varies came from; None where none is like it."""
    words, kind = fold(facts.words_of(factor)), facts.kinds[factor.id]
    by_words = next((one for one in varied if fold(one.heading) == words), None)
    by_kind = next((one for one in varied if kind is not Factor.OWN and one.kind is kind), None)
    return by_kind or by_words or next((one for one in varied if one.name == ""), None)


def _correct(
    connection: Connection, file: ShopFile, trial_id: int, piece: Piece, row: Row, old: Row, name: str
) -> None:
    """Change the kept break of a piece, each value traced; a piece that had none gets one."""
    pull = read_trial(connection, trial_id).result_of(piece)
    if pull is None:
        put_break(connection, file, piece.id, row, None, 1, kept=True)
        return
    unit = UNITS.get(row.unit or "")
    per_unit = unit.si if unit is not None else 1.0
    if row.outcome is not None:
        amend_pull(
            connection,
            pull.id,
            outcome=OUTCOMES[row.outcome],
            load_n=None if row.value is None else row.value * per_unit,
            load_typed="" if row.value is None else f"{row.value:.10g} {row.unit or ''}".strip(),
            held_n=None if row.held is None else row.held * per_unit,
            wood_failure_pct=row.torn_pct,
        )
    if bool(row.excluded) != bool(old.excluded):
        amend_piece(connection, piece.id, excluded_reason=row.excluded or None)
    insert_correction(
        connection,
        piece_id=piece.id,
        pull_id=pull.id,
        field="load",
        before=_say_value(old),
        after=_say_value(row),
        reason=f"{name}, {row.cell}",
        at_utc=file.now(),
    )
