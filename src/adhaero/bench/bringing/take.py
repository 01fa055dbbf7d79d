"""A table that was looked at becomes a trial: every piece with its set, board, load, date and torn wood, at once."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated, Final

from annotated_types import MaxLen

from adhaero.bench.bringing.look import TableSaid, choose_fixture
from adhaero.bench.bringing.put_pieces import at_noon, choose_labels, put_pieces
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.bringing.varied import Varied, choose_answer, is_solid, list_varied, name_sets, note_varied, value_of
from adhaero.bench.facts.entry import Entry, Line, Note, Short
from adhaero.bench.plan.trials import check_words, hold_constant, put_trial, put_typed
from adhaero.core.choice import read_choice
from adhaero.core.errors import DataError, EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import UNSAID, Fixture
from adhaero.core.joint import Joint
from adhaero.core.plan.fields import QUANTITIES, AnswerKind, Factor
from adhaero.core.plan.labels import choose_codes, join_codes
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.tables.bring_in import BroughtIn, Row, bring_in
from adhaero.core.tables.checks import Standing, check_arithmetic
from adhaero.core.tables.documents import give_reading, name_kind
from adhaero.core.tables.names import fold
from adhaero.core.wood import Grain
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.glues import find_glue
from adhaero.store.plans import (
    amend_factor,
    insert_board,
    insert_factor,
    insert_level,
    insert_treatment,
    insert_treatment_level,
    list_factors,
)
from adhaero.store.sources import insert_source
from adhaero.store.trials import amend_trial, delete_quantity, put_trial_field

_LONGEST_NAME: Final = 60
_MOST_SETS: Final = 200


@dataclass(frozen=True)
class CommonSize(Entry):
    """A size that is the same for all pieces, as typed."""

    name: Short
    typed: Short


@dataclass(frozen=True)
class TakeEntry(Entry):
    """How a table becomes a trial.

    Attributes
    ----------
    said : as it was looked at. question, answer : of the trial, and the kind of its answer; None for the likeliest.
    broken_on : when pieces without a date broke, `2024-05-31`; empty where nobody knows. glued_on : likewise when they
    were glued. fixture : how they were loaded; sizes : that are the same for all, as typed.
    joint : None where nobody says; grain_a, grain_b : what meets in it. condition : what all went through before the
    test; empty where nobody says, or a column does.
    """

    said: TableSaid
    question: Note
    answer: AnswerKind | None = None
    broken_on: Short = ""
    glued_on: Short = ""
    fixture: Fixture | None = None
    sizes: Annotated[tuple[CommonSize, ...], MaxLen(20)] = ()
    species: Line = ""
    joint: Joint | None = None
    grain_a: Grain = Grain.FACE
    grain_b: Grain = Grain.FACE
    condition: Line = ""


def take_table(file: ShopFile, staging: Staging, sha256: str, entry: TakeEntry) -> int:
    """Make a trial of a table that was looked at, and return its id; all of it or nothing.

    Raises
    ------
    DataError : it holds no piece, a question is open, or there are too many sets. EntryError : a size, a date or the
    question of the trial cannot be. NotThere : the file is not held any more.
    """
    staged = staging.find(sha256)
    answers, said = entry.said.as_answers(), entry.said.as_corrections()
    found = bring_in(staged.book, answers, entry.said.sheet, said)
    _require_ready(found)
    words = check_words("question", entry.question)
    slips = tuple(one.words for one in check_arithmetic(found) if one.standing is Standing.DIFFERS)
    with file.changing("Brought in a table", undoable=False) as connection:
        trial_id = put_trial(connection, file, words)
        fixture = read_choice(Fixture, entry.fixture or choose_fixture(found), "fixture")
        varied = list_varied(connection, found, answers)
        _put_fixture(connection, trial_id, fixture, found, entry)
        _forget_plan(connection, trial_id)
        _hold_constants(connection, trial_id, varied)
        _put_joint(connection, trial_id, entry)
        if entry.condition.strip():
            put_trial_field(connection, trial_id, "condition", check_words("condition", entry.condition))
        made, codes = _put_sets(connection, trial_id, found.rows, varied)
        boards = _put_boards(connection, trial_id, found.rows, entry.species.strip() or _find_wood(varied))
        tries = {fold(one.subject) for one in entry.said.answers if (one.about, one.choice) == ("label", "another try")}
        labels = choose_labels(found.rows, [codes[made[at]] for at in range(len(found.rows))], tries)
        put_pieces(
            connection,
            file,
            trial_id,
            found.rows,
            made,
            boards,
            labels,
            tries,
            _read_day(file, "broken_on", entry.broken_on),
            _read_day(file, "glued_on", entry.glued_on),
        )
        insert_source(
            connection,
            trial_id=trial_id,
            name=staged.name,
            added_utc=file.now(),
            sha256=sha256,
            content=staged.content,
            reading={
                **give_reading(found, answers, said),
                "sheet": entry.said.sheet,
                "kind": name_kind(staged.book),
                "varied": note_varied(varied),
            },
            slips=slips,
        )
        amend_trial(
            connection,
            trial_id,
            answer=read_choice(AnswerKind, entry.answer or choose_answer(varied), "answer"),
            frozen_utc=file.now(),
            pieces_each=max(Counter(made.values()).values()),
        )
    return trial_id


def _require_ready(found: BroughtIn) -> None:
    if not found.rows:
        raise DataError("No piece was found in the table.", "A piece is a number or a known word in a cell of loads.",
                        "Say which columns hold the loads.")  # fmt: skip
    open_ = [one for one in found.questions if one.about in ("unit", "decimal mark", "piece or mean")]
    if open_:
        raise DataError(open_[0].words, "The numbers hang on it.", "Answer it first.", field=open_[0].about)
    sets = {_key(row) for row in found.rows}
    if len(sets) > _MOST_SETS:
        raise DataError(
            f"The table has {len(sets)} sets.", f"At most {_MOST_SETS} are compared.",
            "Say that a column is no set: a label or a note.",
        )  # fmt: skip


def _put_fixture(connection: Connection, trial_id: int, fixture: Fixture, found: BroughtIn, entry: TakeEntry) -> None:
    """Write how pieces were loaded, and the sizes that are the same for all."""
    put_trial_field(connection, trial_id, "fixture", fixture)
    if fixture in UNSAID:
        return
    in_columns = {f"{name}_mm" for row in found.rows for name, mm in row.sizes_mm.items() if mm is not None}
    for name in FIXTURES[fixture].sizes:
        typed = next((one.typed.strip() for one in entry.sizes if one.name == name), "")
        if typed:
            put_typed(connection, trial_id, name, typed)
        elif name not in in_columns and name in QUANTITIES:
            raise EntryError(
                f"The {QUANTITIES[name].words} is not known.",
                "A stress needs it.",
                "Type it once for all pieces, or bring in the loads alone.",
                field=name,
            )


def _hold_constants(connection: Connection, trial_id: int, listed: Sequence[Varied]) -> None:
    """Write what the table says of all its pieces alike."""
    for one in listed:
        if len(one.values) == 1 and any(one.values):
            hold_constant(connection, trial_id, one.kind, one.read(one.values[0]).name)


def _put_joint(connection: Connection, trial_id: int, entry: TakeEntry) -> None:
    """Write which joint the pieces have, where the person who brings them in says it."""
    if entry.joint is not None:
        amend_trial(
            connection, trial_id, joint=entry.joint, joint_said=True, grain_a=entry.grain_a, grain_b=entry.grain_b
        )


def _forget_plan(connection: Connection, trial_id: int) -> None:
    """Take away how a plan begins with its pieces made: of these nobody said it."""
    amend_trial(connection, trial_id, prep="", spread="", condition="", joint_said=False)
    for name in ("clamp_pressure_mpa", "clamp_time_s", "cure_time_s"):
        delete_quantity(connection, trial_id, name)


def _key(row: Row) -> tuple[str, ...]:
    return (fold(row.set_name), *(f"{fold(name)}={fold(level)}" for name, level in row.factors.items()))


def _put_sets(
    connection: Connection, trial_id: int, rows: Sequence[Row], listed: Sequence[Varied]
) -> tuple[dict[int, int], dict[int, str]]:
    """Write what varies with its values, and the sets that there are; return the set of each row, and their codes."""
    varied = [one for one in listed if len(one.values) > 1] or list(listed[:1])
    first = list_factors(connection, trial_id)[0]
    levels: dict[tuple[str, str], int] = {}
    codes: dict[int, str] = {}
    for rank, one in enumerate(varied, 1):
        name = _shorten(one.heading.lower()) if one.kind is Factor.OWN else ""
        if rank == 1:
            amend_factor(connection, first.id, kind=one.kind, name=name)
            factor_id = first.id
        else:
            factor_id = insert_factor(connection, trial_id=trial_id, rank=rank, kind=one.kind, name=name)
        read = [one.read(value) for value in one.values]
        shown = [_shorten(value.name) for value in read]
        for turn, (value, was, code) in enumerate(zip(read, one.values, choose_codes(shown), strict=True)):
            glue = find_glue(connection, was) if one.kind is Factor.GLUE else None
            level_id = insert_level(
                connection, factor_id=factor_id, rank=turn + 1, name=shown[turn], code=code, value_si=value.si,
                glue_id=glue.id if glue else None,
            )  # fmt: skip
            levels[one.name, fold(was)] = level_id
            codes[level_id] = code
    return _put_treatments(connection, trial_id, rows, varied, levels, codes)


def _put_treatments(
    connection: Connection,
    trial_id: int,
    rows: Sequence[Row],
    varied: Sequence[Varied],
    levels: Mapping[tuple[str, str], int],
    codes: Mapping[int, str],
) -> tuple[dict[int, int], dict[int, str]]:
    groups: dict[tuple[str, ...], list[int]] = {}
    for at, row in enumerate(rows):
        groups.setdefault(tuple(fold(value_of(row, one.name)) for one in varied), []).append(at)
    made_of = [
        [] if is_solid(rows[mine[0]]) else [levels[one.name, value] for one, value in zip(varied, key, strict=True)]
        for key, mine in groups.items()
    ]
    names = name_sets(rows, varied)
    joined = join_codes([tuple(codes[one] for one in made) or ("SOLID",) for made in made_of])
    found: dict[int, int] = {}
    code_of: dict[int, str] = {}
    for rank, (mine, made, code) in enumerate(zip(groups.values(), made_of, joined, strict=True), 1):
        first = rows[mine[0]]
        treatment_id = insert_treatment(
            connection, trial_id=trial_id, rank=rank, name=_shorten(names[mine[0]]), code=code,
            pieces=len(mine), pieces_own=True, kind=TreatmentKind.SOLID if is_solid(first) else TreatmentKind.MADE,
        )  # fmt: skip
        for level_id in made:
            insert_treatment_level(connection, treatment_id=treatment_id, level_id=level_id)
        found |= dict.fromkeys(mine, treatment_id)
        code_of[treatment_id] = code
    return found, code_of


def _shorten(text: str) -> str:
    return text if len(text) <= _LONGEST_NAME else text[: _LONGEST_NAME - 1].rstrip() + "…"


def _find_wood(listed: Sequence[Varied]) -> str:
    """Return the wood that a table says of all its pieces alike; empty where it says none."""
    alike = (one.values[0] for one in listed if one.kind is Factor.SPECIES and len(one.values) == 1)
    return next(alike, "")


def _put_boards(connection: Connection, trial_id: int, rows: Sequence[Row], species: str) -> dict[str, int]:
    counts = Counter(fold(row.piece.board) for row in rows)
    shown = {fold(row.piece.board): row.piece.board for row in rows}
    return {
        board: insert_board(
            connection, trial_id=trial_id, rank=rank, name=_shorten(shown[board]) or "board not said",
            species=species[:_LONGEST_NAME], holds=max(1, min(count, 1000)),
        )
        for rank, (board, count) in enumerate(counts.items(), 1)
    }  # fmt: skip


def _read_day(file: ShopFile, field: str, typed: str) -> datetime | None:
    """Return the day that holds for pieces without a date; None where nobody knows. Raises `EntryError`."""
    if not typed.strip():
        return None
    try:
        day = date.fromisoformat(typed.strip())
    except ValueError:
        raise EntryError(f"“{typed}” is no date.", "Expected e.g. 2024-05-31.", field=field) from None
    if at_noon(day).date() > file.clock().date():
        raise EntryError(f"{typed} is still to come.", "They are glued and broken already.", field=field)
    return min(at_noon(day), file.clock())
