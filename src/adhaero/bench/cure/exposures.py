"""Exposures: pieces put into water, a freezer, an oven or outdoors, and taken out."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.bench.facts.chosen import require_pieces
from adhaero.bench.facts.entry import Chosen, Entry, Ids, Reason, Short
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.times import check_moment
from adhaero.core.choice import read_choice
from adhaero.core.errors import EntryError, NotThere, StateError
from adhaero.core.pieces import Act
from adhaero.core.plan.exposures import EXPOSURES, ExposureKind, TestedAs
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.store.file import ShopFile, to_text
from adhaero.store.making import Exposure, amend_exposure, insert_exposure
from adhaero.store.pieces import Piece, amend_piece


@dataclass(frozen=True, kw_only=True)
class PutIn(Chosen):
    """Pieces, what they go into, for how long by plan, and what belongs to it."""

    kind: ExposureKind
    planned: Short = ""
    note: Reason = ""


@dataclass(frozen=True)
class Tested(Entry):
    """The state in which pieces are tested."""

    pieces: Ids
    state: TestedAs


def put_in(
    file: ShopFile,
    trial_id: int,
    piece_ids: Sequence[int],
    kind: str,
    planned: str = "",
    note: str = "",
    at_utc: str | None = None,
) -> None:
    """Record that pieces went into water, outdoors, a freezer, an oven, now or at a time before.

    Raises
    ------
    EntryError : no such kind, or a time that cannot be read. StateError : in clamps, broken, or in something already.
    """
    exposure = read_choice(ExposureKind, kind, "kind")
    with file.changing(f"Put {len(piece_ids)} pieces {EXPOSURES[exposure]}", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        seconds = None
        if planned.strip():
            seconds = parse_quantity(planned, Kind.TIME, bounds=Bounds(highest=1e10), field="planned").si
        for piece in require_pieces(facts, piece_ids):
            life = facts.life_of(piece)
            facts.require(Act.PUT_IN, piece, file.clock())
            if life.released_at is not None and moment < life.released_at:
                raise StateError(f"{piece.label} is not out of its clamps by then.", "Cure comes first.")
            insert_exposure(
                connection,
                piece_id=piece.id,
                kind=exposure,
                planned_s=seconds,
                begun_utc=to_text(moment),
                note=note.strip()[:300],
            )


def take_out(file: ShopFile, trial_id: int, piece_ids: Sequence[int], at_utc: str | None = None) -> None:
    """Record that pieces came out of what they were in. Raises `StateError` for one that is in nothing."""
    with file.changing(f"Took {len(piece_ids)} pieces out", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(facts, piece_ids):
            facts.require(Act.TAKE_OUT, piece, file.clock())
            exposure = _find_open(facts, piece)
            begun = parse_time(exposure.begun_utc)
            if begun is not None and moment < begun:
                raise EntryError(f"{piece.label} went in after that.", "It comes out later.", field="at_utc")
            amend_exposure(connection, exposure.id, ended_utc=to_text(moment))


def count_cycle(file: ShopFile, trial_id: int, piece_ids: Sequence[int]) -> None:
    """Count one more cycle of freezing and thawing, or of whatever the pieces are in."""
    with file.changing("Counted a cycle", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        for piece in require_pieces(facts, piece_ids):
            facts.require(Act.TAKE_OUT, piece, file.clock())
            exposure = _find_open(facts, piece)
            amend_exposure(connection, exposure.id, cycles=exposure.cycles + 1)


def _find_open(facts: PlanFacts, piece: Piece) -> Exposure:
    return next(one for one in facts.exposures[piece.id] if one.ended_utc is None)


def note_exposure(file: ShopFile, trial_id: int, exposure_id: int, was: str, note: str) -> None:
    """Write the weather, the temperature of the water or what else belongs to a exposure."""
    with file.changing("Wrote a note on a exposure", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        exposure = next((one for mine in facts.exposures.values() for one in mine if one.id == exposure_id), None)
        if exposure is None:
            raise NotThere(f"There is no exposure {exposure_id} in this trial.")
        require_unchanged("the note", exposure.note, was, "note")
        amend_exposure(connection, exposure_id, note=note.strip()[:300])


def set_tested_as(file: ShopFile, trial_id: int, piece_ids: Sequence[int], state: str) -> None:
    """Note in which state pieces are tested: dry, wet, or dried again."""
    tested_as = read_choice(TestedAs, state, "state", "is no state")
    with file.changing("Noted the state at the test", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        for piece_id in piece_ids:
            amend_piece(connection, facts.piece(piece_id).id, tested_as=tested_as)
