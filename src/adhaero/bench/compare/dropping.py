"""Dropping a set that no longer matters: its pieces that are not broken stay whole, with the reason."""

from dataclasses import dataclass

from adhaero.bench.compare.breaks import Choice, collect_breaks, find_controls
from adhaero.bench.compare.pairs import rank
from adhaero.bench.facts.entry import Entry, Id, Reason
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.amendments import write_amendment
from adhaero.core.errors import NotThere, StateError
from adhaero.core.pieces import Act
from adhaero.store.file import ShopFile
from adhaero.store.pieces import amend_piece


@dataclass(frozen=True)
class DropEntry(Entry):
    """A set that is dropped, and why; `although_leading` where it stands at the lead and is dropped all the same."""

    treatment_id: Id
    reason: Reason = ""
    although_leading: bool = False


def drop_set(file: ShopFile, trial_id: int, entry: DropEntry) -> int:
    """Leave the pieces of a set that are not broken whole; return how many. What is broken of it stays and counts.

    Raises
    ------
    NotThere : no such set. StateError : it leads, and that was not said; or every piece of it is broken.
    ReasonNeeded : no reason is given.
    """
    with file.changing("Dropped a set", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        one = facts.treatments.get(entry.treatment_id)
        if one is None:
            raise NotThere("There is no such set.", do="Choose one of the trial.")
        pieces = [piece for piece in facts.pieces.values() if piece.treatment_id == one.id and not piece.pilot]
        left = [piece for piece in pieces if piece.void_reason is None and facts.result_of(piece) is None]
        if not left:
            raise StateError(f"Every piece of {one.name} is broken or void.", "There is nothing left to drop.")
        if not entry.although_leading and _leads(facts, one.name):
            raise StateError(
                f"{one.name} is at the lead so far.",
                "Without its other pieces the question may stay open.",
                "Say that it is dropped although it leads, or drop another.",
                field="although_leading",
            )
        for piece in left:
            facts.require(Act.VOID, piece, file.clock())
        write_amendment(
            connection, facts, file.now(), "pieces", f"pieces of {one.name}", str(len(pieces)),
            str(len(pieces) - len(left)), entry.reason,
        )  # fmt: skip
        for piece in left:
            amend_piece(connection, piece.id, void_reason=f"its set was dropped: {entry.reason.strip()}"[:300])
        return len(left)


def _leads(facts: PieceFacts, name: str) -> bool:
    analysis = collect_breaks(facts, Choice()).analysis
    if analysis is None:
        return False
    controls = find_controls(facts, analysis)
    order = [one for one in rank(analysis, controls) if one not in controls]
    return bool(order) and order[0] == name
