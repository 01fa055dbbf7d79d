"""A break whose load a person read off."""

from dataclasses import dataclass
from datetime import datetime

from adhaero.bench.breaking.attempts import next_attempt
from adhaero.bench.breaking.bent import keep_bending
from adhaero.bench.breaking.dial import DialReadings, bend_of, read_dial_readings
from adhaero.bench.breaking.judgement import Judged, Judgement, read_judgement
from adhaero.bench.breaking.rig_used import Reading, find_rig
from adhaero.bench.breaking.typed_load import NOTHING, find_doubts, read_hold, read_load
from adhaero.bench.facts.entry import Id, Moment, Short
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.facts.times import check_moment
from adhaero.core.choice import read_choice
from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.form import FormReader
from adhaero.core.pieces import Act
from adhaero.core.pulls import PriedWith, PullOutcome, PullSource, PullState
from adhaero.core.quantity import Kind, show
from adhaero.core.rig.kinds import FORMS as RIGS
from adhaero.core.rig.kinds import LoadEntry
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece, amend_piece
from adhaero.store.pulls import insert_pull


@dataclass(frozen=True, kw_only=True)
class HandBreak(Reading):
    """A break read off by a person.

    Attributes
    ----------
    hold : how long the last load was on until it broke. pried_with : what opened a piece that has no load.
    at_utc : when it broke, if not now. again : keep this loading as a try; the piece is loaded once more.
    dial : how far the piece had moved at loads, where that was read off.
    """

    piece: Id
    judgement: Judgement
    hold: Short = ""
    pried_with: PriedWith = PriedWith.UNSAID
    at_utc: Moment | None = None
    again: bool = False
    dial: DialReadings = ()


def break_by_hand(file: ShopFile, trial_id: int, entry: HandBreak) -> int:
    """Keep a break that was read off by a person.

    Raises
    ------
    EntryError : the load cannot be read, is zero though it broke, or is far beyond the rig; the time is not come yet,
    or before the glue-up or an earlier try. StateError : not loadable. StaleEdit : the rig's card changed meanwhile.
    """
    with file.changing("Kept a try" if entry.again else "Kept a break", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(entry.piece)
        facts.require(Act.LOAD, piece, file.clock())
        used = find_rig(connection, facts, entry)
        form = FormReader()
        seen = form.read(read_judgement, entry.judgement)
        at = form.read(read_broken_at, facts, piece, entry.at_utc, file.clock())
        hold = form.read(read_hold, entry.hold)
        pried = FIXTURES[facts.fixture].kind == "none" or (
            used.rig is not None and RIGS[used.rig.kind].entry is LoadEntry.FACE
        )
        load = NOTHING
        if not pried:
            outcome = seen.value["outcome"] if seen.there else PullOutcome.BROKE
            load = form.read(read_load, connection, facts, used, entry, outcome).value_or(NOTHING)
        pairs, dial_typed = form.read(
            read_dial_readings, connection, used, entry.weighed, () if pried else entry.dial
        ).value_or(((), ""))
        bending = form.read(bend_of, pairs, load.load_n, facts.sizes_of(piece).get("span_mm")).value_or(None)
        form.finish()
        values = seen.value
        if pried:
            _refuse_load(entry.load, values)
        if load.at_least and values["outcome"] is PullOutcome.BROKE:
            values = Judged(**{**values, "outcome": PullOutcome.HELD})
        load = find_doubts(connection, facts, piece, used, entry, load) if load.load_n else load
        return insert_pull(
            connection,
            piece_id=piece.id,
            attempt=next_attempt(facts, piece),
            source=PullSource.HAND,
            state=PullState.RETRIED if entry.again else PullState.KEPT,
            rig_id=used.rig.id if used.rig else None,
            version_id=used.version.id if used.version else None,
            calibration_id=used.calibration.id if used.calibration else None,
            started_utc=to_text(at.value),
            ended_utc=to_text(at.value),
            load_n=None if pried else load.load_n,
            load_typed=load.typed,
            load_through=load.through,
            held_n=load.held_n,
            held_typed=load.held_typed,
            resolution_n=load.resolution_n,
            hold_s=hold.value[0],
            hold_typed=hold.value[1],
            pried_with=read_choice(PriedWith, entry.pried_with, "pried_with") if pried else PriedWith.UNSAID,
            dial=pairs,
            dial_typed=dial_typed,
            **keep_bending(bending),
            flags=tuple(f"Asked about and kept as typed: {one.words}" for one in load.doubts),
            flag_codes=tuple(one.code for one in load.doubts),
            **values,
        )


def read_broken_at(
    facts: PieceFacts, piece: Piece, typed: str | None, now: datetime, but: int | None = None
) -> datetime:
    """Return when a piece broke: as typed, else now; `but` is the pull whose time is corrected.

    Raises
    ------
    EntryError : the time is not come yet, or lies before the glue-up of the piece or an earlier try of it.
    """
    if not typed:
        return now
    at = check_moment(typed, now, "at_utc")
    closed = facts.life_of(piece).closed_at
    if closed is not None and at < closed:
        raise EntryError(
            f"{piece.label} was glued {show((closed - at).total_seconds(), Kind.TIME)} after that.",
            "A piece breaks after it was glued.",
            "Correct the time here, or that of the glue-up.",
            field="at_utc",
        )
    tries = [parse_time(one.ended_utc or one.started_utc) for one in facts.pulls.get(piece.id, ()) if one.id != but]
    latest = max((one for one in tries if one is not None), default=None)
    if latest is not None and at < latest:
        raise EntryError(
            f"{piece.label} was loaded before, {show((latest - at).total_seconds(), Kind.TIME)} after that.",
            "Tries stand in the order in which they were made.",
            "Correct the time.",
            field="at_utc",
        )
    return at


def _refuse_load(load: str, values: Judged) -> None:
    """Raise `EntryError` for a load of a piece that was pried open, or none judged: the broken face decides."""
    if load.strip():
        raise EntryError(
            "A pried piece has no load.", "Its broken face decides.", "Leave the load empty.", field="load"
        )
    if values["outcome"] == "broke" and values["wood_failure_pct"] is None:
        raise EntryError(
            "The torn wood is not judged.",
            "It says whether a pried piece passed.",
            "Choose how much is torn.",
            field="wood_failure",
        )


def mark_odd(file: ShopFile, trial_id: int, piece_id: int, reason: str) -> None:
    """Say that a piece looks odd, before its number is known; empty takes it back. Raises `StateError` after."""
    with file.changing("Marked a piece as odd", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        facts.require(Act.MARK_ODD, piece, file.clock())
        text = reason.strip()[:300]
        amend_piece(connection, piece_id, odd_reason=text or None, odd_utc=file.now() if text else None)
