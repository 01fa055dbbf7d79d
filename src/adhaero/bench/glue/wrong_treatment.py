"""Mistakes in the making: a piece that was made as another set, and what slips cost the balance of the plan."""

from dataclasses import dataclass

from adhaero.bench.facts.entry import Entry, Id, Reason
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import kept
from adhaero.bench.plan.amendments import write_amendment
from adhaero.bench.plan.dealing import deal_places
from adhaero.core.errors import EntryError, NotThere, PlanError, StateError
from adhaero.core.pieces import Act
from adhaero.core.plan.layout import Place, measure_balance
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece, amend_piece
from adhaero.store.plans import Treatment

_WORTH_SAYING = 0.995


@dataclass(frozen=True)
class TreatmentEntry(Entry):
    """The set that a piece was really made as, and why it changes."""

    treatment_id: Id
    reason: Reason = ""


@dataclass(frozen=True)
class SwapEntry(Entry):
    """The piece whose second part it got."""

    other: Id


@dataclass(frozen=True)
class TreatmentChoice:
    """A set that a piece can be moved to."""

    id: int
    name: str


def list_choices(file: ShopFile, trial_id: int, piece_id: int) -> list[TreatmentChoice]:
    """Return the sets that a piece can really have been made as: made alike, with the glue that is on it."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    piece = facts.piece(piece_id)
    return [TreatmentChoice(one.id, one.name) for one in facts.made if _find_refusal(facts, piece, one) is None]


def reassign_piece(file: ShopFile, trial_id: int, piece_id: int, treatment_id: int, reason: str) -> None:
    """Let a piece count for the set that it was really made as, with a reason that stays beside the result.

    Raises
    ------
    StateError : it is loaded already, or solid and joined pieces would be mixed up. EntryError : it is of that set, or
    was glued with another glue. ReasonNeeded : no reason is given.
    """
    with file.changing("Moved a piece to another set", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        before, after = facts.treatments[piece.treatment_id], _require_treatment(facts, treatment_id)
        facts.require(Act.CHANGE_TREATMENT, piece, file.clock())
        refusal = _find_refusal(facts, piece, after)
        if refusal is not None:
            raise refusal
        write_amendment(
            connection, facts, file.now(), "set", f"the set of {piece.label}", before.name, after.name, reason
        )
        amend_piece(connection, piece_id, treatment_id=treatment_id)


def swap_partners(file: ShopFile, trial_id: int, piece_id: int, other_id: int) -> None:
    """Record that two pieces were glued with each other's second part; it stays beside the result.

    Raises
    ------
    EntryError : it is the same piece. StateError : one is solid, not closed yet, or loaded already.
    """
    with file.changing("Noted swapped parts", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        pair = (facts.piece(piece_id), facts.piece(other_id))
        if piece_id == other_id:
            raise EntryError(f"{pair[0].label} cannot change parts with itself.", field="other")
        for piece in pair:
            facts.require(Act.SWAP_PARTS, piece, file.clock())
        for piece, other in (pair, pair[::-1]):
            words = f"glued with the second part of {other.label}"
            amend_piece(connection, piece.id, deviation="; ".join(filter(None, (piece.deviation, words))))


def _require_treatment(facts: PlanFacts, treatment_id: int) -> Treatment:
    for one in facts.made:
        if one.id == treatment_id:
            return one
    raise NotThere(f"There is no set {treatment_id} in this trial.", do="Choose one of those that are made.")


def _find_refusal(facts: PlanFacts, piece: Piece, after: Treatment) -> EntryError | StateError | None:
    before = facts.treatments[piece.treatment_id]
    if before.id == after.id:
        return EntryError(f"{piece.label} is of {after.name} already.", field="treatment_id")
    if before.solid != after.solid:
        return StateError("A solid piece has no joint.", "Only pieces that are made alike can change places.")
    batch = facts.batches.get(piece.batch_id or 0)
    planned = facts.glue_of(after)
    if batch is not None and planned and planned.lower() != batch.glue.lower():
        return EntryError(
            f"{piece.label} was glued with {batch.glue}, and {after.name} is made with {planned}.",
            "A piece counts for what it really is.",
            "Choose a set of that glue, or void it.",
            field="treatment_id",
        )
    return None


@kept(most=8)
def say_balance_now(facts: PlanFacts) -> str | None:
    """Return what voids and moved pieces cost the balance of the plan, in words; None while they cost nothing."""
    try:
        planned = measure_balance(deal_places(facts), len(facts.made))
    except PlanError:
        return None
    sets = {one.id: index for index, one in enumerate(facts.made)}
    boards = {board_id: index for index, board_id in enumerate(facts.boards)}
    standing = tuple(
        Place(sets[piece.treatment_id], boards[piece.board_id], piece.position, 0, 0)
        for piece in facts.pieces.values()
        if piece.void_reason is None and not piece.pilot
    )
    now = measure_balance(standing, len(facts.made))
    if planned is None or now is None or not planned.efficiency:
        return None
    lost = sum(piece.void_reason is not None and not piece.pilot for piece in facts.pieces.values())
    kept = len(standing) / (len(standing) + lost) * (now.efficiency or 0.0) / planned.efficiency
    if kept > _WORTH_SAYING:
        return None
    if now.efficiency is None:
        return "Void and moved pieces have torn the boards apart: some sets share no board with others any more."
    return f"Void and moved pieces leave {100 * kept:.0f} % of what the plan would have told within boards."
