"""Pieces that join a settled trial: more of a set, or a set that is new, with the reason."""

from collections.abc import Sequence
from dataclasses import dataclass
from random import Random
from typing import Annotated

from annotated_types import Ge, Le, MaxLen

from adhaero.bench.facts.entry import Entry, Id, Line, Reason
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.amendments import write_amendment
from adhaero.bench.plan.levels import LevelEntry, put_level
from adhaero.core.errors import EntryError, StateError
from adhaero.core.glue import GlueFamily
from adhaero.core.plan.labels import choose_codes
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.pieces import insert_piece
from adhaero.store.plans import (
    Treatment,
    amend_board,
    amend_treatment,
    insert_board,
    insert_treatment,
    insert_treatment_level,
)

_LONGEST_NAME = 60


@dataclass(frozen=True)
class LateValue(Entry):
    """A value of what is varied, as typed; `family` for a glue that is not on the shelf yet."""

    factor_id: Id
    value: Line
    family: GlueFamily | None = None


@dataclass(frozen=True)
class LateEntry(Entry):
    """Pieces that join.

    Attributes
    ----------
    treatment_id : the set that they are of; None for that of the `values`, which is made where it is not there.
    boards : names, parted by commas; those that are new are added, of the `species`. reason : why they join.
    again : a set that is redone stands beside the old one, as a set of its own.
    """

    pieces: Annotated[int, Ge(1), Le(200)]
    boards: Line
    treatment_id: Id | None = None
    values: Annotated[tuple[LateValue, ...], MaxLen(3)] = ()
    species: Line = ""
    reason: Reason = ""
    again: bool = False


def add_late(file: ShopFile, trial_id: int, entry: LateEntry) -> list[str]:
    """Let pieces join a settled trial, and return their labels: sawn, glued and broken like all others.

    Raises
    ------
    StateError : the plan is open. ReasonNeeded : no reason is given. EntryError : a value, a board or the set is not
    said, or cannot be.
    """
    with file.changing(f"{entry.pieces} pieces joined", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        if facts.trial.frozen_utc is None:
            raise StateError("The plan is open.", "Pieces join a settled one.", "Change the plan, then settle it.")
        boards = _find_boards(connection, facts, entry)
        treatment_id = entry.treatment_id or _find_set(connection, facts, entry.values)
        if entry.again and entry.treatment_id is not None:
            treatment_id = _make_again(connection, facts, entry.treatment_id)
        facts = read_trial(connection, trial_id)
        one = facts.treatments.get(treatment_id)
        if one is None:
            raise EntryError("There is no such set.", "Choose one of the trial.", field="treatment_id")
        before = [piece for piece in facts.pieces.values() if piece.treatment_id == one.id]
        write_amendment(
            connection, facts, file.now(), "pieces", f"pieces of {one.name}", str(len(before)),
            str(len(before) + entry.pieces), entry.reason,
        )  # fmt: skip
        labels = _put_pieces(connection, facts, one, boards, entry.pieces)
        amend_treatment(connection, one.id, pieces=len(before) + entry.pieces, pieces_own=True)
        return labels


def _find_boards(connection: Connection, facts: PlanFacts, entry: LateEntry) -> list[int]:
    """Return the boards that are named; those that are new are made."""
    there = {board.name.casefold(): board.id for board in facts.boards.values()}
    names = [name for part in entry.boards.split(",") if (name := " ".join(part.split()))]
    if not names:
        raise EntryError("No board is named.", "Expected the boards that the pieces come from.", field="boards")
    for name in names:
        if name.casefold() not in there:
            if len(name) > _LONGEST_NAME:
                raise EntryError(f"“{name[:20]}…” is too long.", f"Up to {_LONGEST_NAME} letters fit.", field="boards")
            there[name.casefold()] = insert_board(
                connection, trial_id=facts.trial.id, rank=len(there) + 1, name=name, holds=1,
                species=entry.species.strip()[:_LONGEST_NAME],
            )  # fmt: skip
    return [there[name.casefold()] for name in dict.fromkeys(names)]


def _find_set(connection: Connection, facts: PlanFacts, values: Sequence[LateValue]) -> int:
    """Return the set of some values; it is made where it is not there, and so are values that are new."""
    said = {one.factor_id: one for one in values if one.value.strip()}
    made: list[int] = []
    for factor in facts.factors.values():
        if factor.id not in said:
            raise EntryError(
                f"{facts.words_of(factor)} is not said.", "A set has a value of each thing that is varied.",
                field="values",
            )  # fmt: skip
        text = " ".join(said[factor.id].value.split())
        known = [
            one.id for one in facts.levels.values()
            if one.factor_id == factor.id and one.name.casefold() == text.casefold()
        ]  # fmt: skip
        made += known or [put_level(connection, factor, LevelEntry(text, said[factor.id].family or ""))]
    for key, levels in facts.treatment_levels.items():
        if set(levels) == set(made) and facts.treatments[key].kind == TreatmentKind.MADE:
            return key
    levels_now = read_trial(connection, facts.trial.id).levels
    name = ", ".join(levels_now[key].name for key in made)[:_LONGEST_NAME]
    treatment_id = insert_treatment(
        connection, trial_id=facts.trial.id, rank=len(facts.treatments) + 1, name=name, pieces=0, pieces_own=True,
        code=choose_codes([name], [one.code for one in facts.treatments.values()])[0], kind=TreatmentKind.MADE,
    )  # fmt: skip
    for key in made:
        insert_treatment_level(connection, treatment_id=treatment_id, level_id=key)
    return treatment_id


def _make_again(connection: Connection, facts: PlanFacts, treatment_id: int) -> int:
    """Make a set like another, under a name of its own; return its id."""
    old = facts.treatments.get(treatment_id)
    if old is None:
        raise EntryError("There is no such set.", "Choose one of the trial.", field="treatment_id")
    names = {one.name for one in facts.treatments.values()}
    name = next(n for k in range(1, 1000) if (n := f"{old.name[:48]} again{f' {k}' if k > 1 else ''}") not in names)
    new = insert_treatment(
        connection, trial_id=facts.trial.id, rank=len(facts.treatments) + 1, name=name, pieces=0, pieces_own=True,
        code=choose_codes([name], [one.code for one in facts.treatments.values()])[0], kind=old.kind,
        glue_id=old.glue_id, recipe=old.recipe,
    )  # fmt: skip
    for key in facts.treatment_levels.get(treatment_id, ()):
        insert_treatment_level(connection, treatment_id=new, level_id=key)
    return new


def _put_pieces(
    connection: Connection, facts: PlanFacts, one: Treatment, boards: Sequence[int], number: int
) -> list[str]:
    """Write the pieces, board by board in turn, in an order that is dealt; return their labels."""
    taken = {piece.label.casefold() for piece in facts.pieces.values()}
    on_board = {board: sum(piece.board_id == board for piece in facts.pieces.values()) for board in boards}
    first = 1 + max((max(piece.glue_turn, piece.break_turn) for piece in facts.pieces.values()), default=0)
    chance = Random(facts.trial.seed + len(facts.pieces))
    turns = [chance.sample(range(number), number) for _ in range(2)]
    labels = []
    running = sum(piece.treatment_id == one.id for piece in facts.pieces.values())
    for at in range(number):
        board = boards[at % len(boards)]
        running += 1
        while f"{one.code}-{running:02}".casefold() in taken:
            running += 1
        labels.append(f"{one.code}-{running:02}")
        insert_piece(
            connection, trial_id=facts.trial.id, treatment_id=one.id, board_id=board, position=on_board[board],
            glue_turn=first + turns[0][at], break_turn=first + turns[1][at], label=labels[-1],
        )  # fmt: skip
        on_board[board] += 1
    for board, count in on_board.items():
        if count > (facts.boards[board].holds if board in facts.boards else 0):
            amend_board(connection, board, holds=count)
    return labels
