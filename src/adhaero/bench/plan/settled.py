"""Settling a plan, reopening it, and planning again from it."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_open_plan
from adhaero.bench.plan.consequences import follow_plan, make_plan
from adhaero.bench.plan.dealing import deal_plan, label_places
from adhaero.bench.shop.past_breaks import read_shop_breaks
from adhaero.bench.shop.supplies import read_supplies
from adhaero.core.errors import PlanError, StateError
from adhaero.core.plan.fields import StepTurn, find_missing_sizes
from adhaero.core.plan.layout import Place
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile
from adhaero.store.pieces import amend_piece, delete_pieces, insert_piece
from adhaero.store.plans import (
    insert_board,
    insert_factor,
    insert_factor_scope,
    insert_level,
    insert_step,
    insert_treatment,
    insert_treatment_level,
    list_steps,
)
from adhaero.store.timetables import delete_timetable
from adhaero.store.trials import amend_trial, insert_trial, put_quantity, put_trial_field

_COPIED = (
    "judged", "answer", "joint", "fixture", "material_a", "material_b", "grain_a", "grain_b", "glue", "prep", "spread",
    "condition", "faces", "matched", "together", "blind", "looks", "label_scheme", "pieces_each", "pilot", "spares",
    "rig_id", "reference_id", "practice", "fence", "stop_block", "blade", "planer",
)  # fmt: skip


def list_problems(connection: Connection, facts: PlanFacts) -> list[str]:
    """Return what stands in the way of settling a plan. Reads only."""
    supplies = read_supplies(connection)
    breaks = read_shop_breaks(connection, facts.trial.id, practice=bool(facts.trial.practice))
    found = list(follow_plan(make_plan(facts, supplies, breaks)).problems)
    if (problem := deal_plan(facts).problem) and problem not in found:
        found.append(problem)
    return [*found, *find_missing_sizes(facts.joints, facts.fixture, facts.planned_sizes)]


@dataclass(frozen=True)
class Again(Entry):
    """How to plan again: all of it, or only what is missing."""

    only_missing: bool = False


def freeze_plan(file: ShopFile, trial_id: int) -> int:
    """Settle a plan: every piece gets its label, board and place. Return the number of pieces.

    Raises
    ------
    PlanError : something stands in the way; all of it is listed.
    """
    with file.changing("Settled the plan", trial_id) as connection:
        require_open_plan(connection, trial_id)
        facts = read_trial(connection, trial_id)
        if problems := list_problems(connection, facts):
            raise PlanError(problems[0], " ".join(problems[1:]), "Nothing was saved.", field="plan")
        dealing = deal_plan(facts)
        boards = list(facts.boards.values())
        for place, label, panel in zip(dealing.places, dealing.labels, dealing.panels, strict=True):
            insert_piece(
                connection,
                trial_id=trial_id,
                treatment_id=facts.made[place.treatment].id,
                board_id=boards[place.board].id,
                position=place.position,
                glue_turn=place.glue_turn,
                break_turn=place.break_turn,
                label=label,
                pair=place.pair,
                panel=panel,
            )
        _add_pilots(connection, facts)
        if facts.trial.matched == "halves":
            _add_sawing_apart(connection, trial_id)
        amend_trial(connection, trial_id, frozen_utc=file.now())
        return len(dealing.places)


def _add_pilots(connection: Connection, facts: PlanFacts) -> None:
    """Add the pieces that try out the rig: set by set in turn, first to be glued and broken, never in the results."""
    boards = list(facts.boards.values())
    for number in range(facts.trial.pilot):
        insert_piece(
            connection,
            trial_id=facts.trial.id,
            treatment_id=facts.made[number % len(facts.made)].id,
            board_id=boards[number % len(boards)].id,
            position=1000 + number,
            glue_turn=number - facts.trial.pilot,
            break_turn=number - facts.trial.pilot,
            label=f"TRY-{number + 1}",
            pilot=True,
        )


_SAW_APART = "Rip each bar into its two pieces, and label both"


def _add_sawing_apart(connection: Connection, trial_id: int) -> None:
    """Add the step that makes two pieces of a glued bar, unless it stands there since the plan was settled before."""
    steps = list_steps(connection, trial_id)
    if all(step.words != _SAW_APART for step in steps):
        insert_step(connection, trial_id=trial_id, rank=len(steps) + 1, words=_SAW_APART, turn=StepTurn.AFTER)


def relabel_pieces(connection: Connection, facts: PlanFacts) -> None:
    """Give every piece of a settled plan its label by another scheme; call inside a transaction.

    Raises
    ------
    StateError : something is glued already. EntryError : the scheme gives no usable labels.
    """
    if any(piece.batch_id or piece.closed_utc for piece in facts.pieces.values()) or facts.pulls:
        raise StateError(
            "Some pieces are glued or loaded already.",
            "What is written on them stays.",
            "Relabel single pieces at the saw, or keep the labels.",
            field="label_scheme",
        )
    sets = {one.id: index for index, one in enumerate(facts.made)}
    boards = {board_id: index for index, board_id in enumerate(facts.boards)}
    pieces = [piece for piece in facts.pieces.values() if not piece.pilot]
    pieces.sort(key=lambda piece: (boards[piece.board_id], piece.position))
    places = tuple(
        Place(sets[p.treatment_id], boards[p.board_id], p.position, p.glue_turn, p.break_turn, p.pair) for p in pieces
    )
    labels = label_places(facts, places)
    for turn in (0, 1):  # first out of each other's way: a new label may be another piece's old one
        for piece, label in zip(pieces, labels, strict=True):
            amend_piece(connection, piece.id, label=label if turn else f"#{piece.id}")


def reopen_plan(file: ShopFile, trial_id: int) -> None:
    """Take the labels back to change the plan; only while nothing is glued or loaded."""
    with file.changing("Reopened the plan", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        if any(piece.closed_utc or piece.batch_id for piece in facts.pieces.values()) or facts.pulls:
            raise StateError(
                "Some pieces are glued or loaded already.",
                "The plan that they were made by stays.",
                "Start another trial for another plan.",
            )
        delete_timetable(connection, trial_id)
        delete_pieces(connection, trial_id)
        amend_trial(connection, trial_id, frozen_utc=None)


def copy_plan(file: ShopFile, trial_id: int, *, only_missing: bool = False) -> int:
    """Start a trial with the plan of another; return its id.

    Parameters
    ----------
    only_missing : as many pieces of each set as were planned and give no result that counts.
    """
    with file.changing("Planned again", undoable=False) as connection:
        facts = read_trial(connection, trial_id)
        new_id = copy_held(connection, file, facts, facts.trial.question)
        _copy_treatments(connection, facts, new_id, only_missing=only_missing)
        _copy_boards(connection, facts, new_id, only_missing=only_missing)
        return new_id


def copy_held(connection: Connection, file: ShopFile, facts: PieceFacts, question: str) -> int:
    """Start a trial that holds constant what another does, nothing varied yet; return its id; inside a transaction."""
    new_id = insert_trial(
        connection,
        question=question,
        seed=(facts.trial.seed + 1) % 10_000,
        practice=bool(facts.trial.practice),
        copied_from=facts.trial.id,
        created_utc=file.now(),
    )
    for name in _COPIED:
        put_trial_field(connection, new_id, name, getattr(facts.trial, name))
    for row in facts.quantities.values():
        put_quantity(connection, new_id, row.name, row.si, row.typed)
    return new_id


def _copy_treatments(connection: Connection, facts: PieceFacts, new_id: int, *, only_missing: bool) -> None:
    factors = {
        row.id: insert_factor(connection, trial_id=new_id, rank=row.rank, kind=row.kind, name=row.name)
        for row in facts.factors.values()
    }
    levels = {}
    for level in facts.levels.values():
        levels[level.id] = insert_level(
            connection,
            factor_id=factors[level.factor_id],
            rank=level.rank,
            name=level.name,
            code=level.code,
            value_si=level.value_si,
            glue_id=level.glue_id,
        )
    for factor_id, scope in facts.scopes.items():
        for level_id in sorted(scope):
            insert_factor_scope(connection, factor_id=factors[factor_id], level_id=levels[level_id])
    for one in facts.treatments.values():
        pieces, own = one.pieces, one.pieces_own
        if only_missing:
            pieces, own = max(0, one.pieces - _count_results(facts, one.id)), True
        new = insert_treatment(
            connection,
            trial_id=new_id,
            rank=one.rank,
            name=one.name,
            code=one.code,
            kind=one.kind,
            glue_id=one.glue_id,
            recipe=one.recipe,
            pieces=pieces,
            pieces_own=own,
            left_out=one.left_out or (only_missing and pieces == 0 and one.kind is TreatmentKind.MADE),
        )
        for level_id in facts.treatment_levels.get(one.id, ()):
            insert_treatment_level(connection, treatment_id=new, level_id=levels[level_id])


def _count_results(facts: PieceFacts, treatment_id: int) -> int:
    return sum(
        facts.result_of(piece) is not None and piece.excluded_reason is None and not piece.pilot
        for piece in facts.pieces.values()
        if piece.treatment_id == treatment_id and piece.void_reason is None
    )


def _copy_boards(connection: Connection, facts: PlanFacts, new_id: int, *, only_missing: bool) -> None:
    """Copy the boards as places to fill; where only what is missing is planned, the wood is another."""
    for board in facts.boards.values():
        insert_board(
            connection,
            trial_id=new_id,
            rank=board.rank,
            name=board.name,
            species=board.species,
            holds=board.holds,
            stock_board_id=None if only_missing else board.stock_board_id,
        )
