"""Clamps on and clamps off, at their real times."""

from collections.abc import Sequence
from datetime import datetime

from adhaero.bench.facts.chosen import require_pieces
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.times import check_moment
from adhaero.core.errors import EntryError, StateError
from adhaero.core.pieces import Act
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import amend_piece


def put_clamps_on(file: ShopFile, trial_id: int, piece_ids: Sequence[int], at_utc: str | None = None) -> None:
    """Record that pieces are in their clamps, now or at a time before; closed then too if that was not recorded.

    Raises
    ------
    StateError : in no glue-up, in clamps already, or glue was recorded on others of its glue-up but not on it.
    """
    with file.changing("Clamps on", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(facts, piece_ids):
            facts.require(Act.CLAMP, piece, file.clock())
            others = [one for one in facts.pieces.values() if one.batch_id == piece.batch_id]
            if piece.spread_utc is None and any(one.spread_utc for one in others):
                raise StateError(
                    f"No glue is recorded on {piece.label} yet.",
                    "Clamps go on after the glue is spread.",
                    "Press Spread for it first.",
                )
            for before in (piece.spread_utc, piece.closed_utc):
                if before is not None and moment < datetime.fromisoformat(before):
                    raise EntryError(
                        f"{piece.label} was spread or closed after that.", "Clamps come last.", field="at_utc"
                    )
            closed = piece.closed_utc or to_text(moment)
            amend_piece(connection, piece.id, closed_utc=closed, clamped_utc=to_text(moment))


def take_clamps_off(file: ShopFile, trial_id: int, piece_ids: Sequence[int], at_utc: str | None = None) -> None:
    """Record that clamps came off, now or at a time before; the real clamp time follows from it."""
    with file.changing("Clamps off", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        moment = check_moment(at_utc, file.clock(), "at_utc") if at_utc else file.clock()
        for piece in require_pieces(facts, piece_ids):
            clamped = parse_time(piece.clamped_utc)
            facts.require(Act.RELEASE, piece, file.clock())
            if clamped is not None and moment < clamped:
                raise EntryError(
                    f"{piece.label} was closed after that.", "Clamps come off after they went on.", field="at_utc"
                )
            amend_piece(connection, piece.id, released_utc=to_text(moment))
