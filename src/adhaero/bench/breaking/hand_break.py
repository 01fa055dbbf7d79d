"""A break whose load a person read off."""

from dataclasses import dataclass

from adhaero.bench.breaking.attempts import next_attempt
from adhaero.bench.breaking.judgement import Judgement, read_judgement
from adhaero.bench.breaking.typed_load import read_held, read_load, refuse_load
from adhaero.bench.facts.entry import Entry, Id, Short
from adhaero.bench.facts.reading import read_trial
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.form import FormReader
from adhaero.core.pieces import Act
from adhaero.core.pulls import PullSource, PullState
from adhaero.store.file import ShopFile
from adhaero.store.pieces import amend_piece
from adhaero.store.pulls import insert_pull


@dataclass(frozen=True)
class HandBreak(Entry):
    """A break read off by a person.

    Attributes
    ----------
    load : the peak in any unit; empty for a pried piece, or one that fell apart before it was loaded.
    held : the last load that held, where weights went up in steps; empty where the load rose evenly.
    beyond_rig : keep a load above the shop's strongest rig on purpose.
    """

    piece: Id
    load: Short
    judgement: Judgement
    held: Short = ""
    beyond_rig: bool = False


def break_by_hand(
    file: ShopFile,
    trial_id: int,
    entry: HandBreak,
) -> int:
    """Keep a break that was read off by a person.

    Raises
    ------
    EntryError : the load cannot be read, is zero though it broke, or is beyond any rig. StateError : not loadable.
    """
    with file.changing("Kept a break", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(entry.piece)
        facts.require(Act.LOAD, piece, file.clock())
        form = FormReader()
        seen = form.read(read_judgement, entry.judgement)
        pried = FIXTURES[facts.fixture].kind == "none"
        read = None
        if not pried:
            outcome, beyond = entry.judgement.outcome, entry.beyond_rig
            load = form.read(read_load, connection, facts, entry.load, outcome, beyond)
            form.finish()
            read = load.value
        form.finish()
        values = seen.value
        if pried:
            refuse_load(entry.load, values)
        held_n, held_typed = read_held(
            connection, facts, entry.held, read.load_n if read else 0.0, entry.judgement.outcome
        )
        return insert_pull(
            connection,
            piece_id=piece.id,
            attempt=next_attempt(facts, piece),
            source=PullSource.HAND,
            state=PullState.KEPT,
            started_utc=file.now(),
            ended_utc=file.now(),
            load_n=read.load_n if read else None,
            load_typed=read.typed if read else "",
            load_through=read.through if read else "",
            held_n=held_n,
            held_typed=held_typed,
            **values,
        )


def mark_odd(file: ShopFile, trial_id: int, piece_id: int, reason: str) -> None:
    """Say that a piece looks odd, before its number is known; empty takes it back. Raises `StateError` after."""
    with file.changing("Marked a piece as odd", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        facts.require(Act.MARK_ODD, piece, file.clock())
        text = reason.strip()[:300]
        amend_piece(connection, piece_id, odd_reason=text or None, odd_utc=file.now() if text else None)
