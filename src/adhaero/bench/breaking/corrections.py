"""Corrections of a kept break: the old value, the new one and the reason stay; it is no second loading."""

from dataclasses import dataclass
from typing import Annotated

from annotated_types import MaxLen

from adhaero.bench.breaking.attempts import require_pull
from adhaero.bench.breaking.bent import Bent, keep_bending
from adhaero.bench.breaking.dial import bend_of
from adhaero.bench.breaking.hand_break import read_broken_at
from adhaero.bench.breaking.judgement import Judgement, read_judgement
from adhaero.bench.breaking.rig_used import NO_CARD, Reading, RigUsed
from adhaero.bench.breaking.typed_load import read_load
from adhaero.bench.cure.sizes import put_size
from adhaero.bench.facts.entry import Entry, Line, Moment, Note, Reason, Short
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.requirements import require_same_form
from adhaero.bench.shop.rig_card import make_card, read_meaning
from adhaero.core.errors import EntryError, ReasonNeeded, StateError
from adhaero.core.form import FormReader
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.pulls import FAILED_IN_WORDS, JUDGED_WORDS, FailedIn, PullOutcome, PullSource, PullState
from adhaero.store.connecting import Connection
from adhaero.store.corrections import Correction, insert_correction
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull, PullChange, amend_pull
from adhaero.store.rigs import fetch_calibration


@dataclass(frozen=True)
class SizeTyped(Entry):
    """A measured size as typed."""

    name: Short
    typed: Short


@dataclass(frozen=True)
class BreakValues(Entry):
    """What stands of a kept break and can be corrected; the load of a pull on a rig is read on its trace instead."""

    load: Line
    outcome: PullOutcome
    wood_failure: Short
    failure: FailedIn | None
    note: Note
    broken_at: Moment
    sizes: Annotated[tuple[SizeTyped, ...], MaxLen(30)] = ()


@dataclass(frozen=True)
class CorrectionEntry(Entry):
    """A kept break as it was shown, as it shall be, and why."""

    was: BreakValues
    now: BreakValues
    reason: Reason


@dataclass(frozen=True)
class CorrectionView:
    """What was corrected of a break."""

    words: str
    before: str
    after: str
    reason: str
    at_utc: str


FIELD_WORDS = {
    "load": "load",
    "outcome": "what happened",
    "wood_failure": "torn wood",
    "failure": "where it failed",
    "note": "note",
    "broken_at": "when it broke",
    "calibration": "calibration",
}


def view_corrections(facts: PieceFacts, piece: Piece) -> list[CorrectionView]:
    """Return what was corrected of a piece's break, oldest first."""
    return [
        CorrectionView(say_field(one.field), one.before or "nothing", one.after or "nothing", one.reason, one.at_utc)
        for one in facts.corrections.get(piece.id, ())
    ]


def say_correction(one: Correction) -> str:
    """Return a correction in words: `load: 41.5 kg → 45.1 kg (digits swapped)`."""
    return f"{say_field(one.field)}: {one.before or 'nothing'} → {one.after or 'nothing'} ({one.reason})"


def say_field(field: str) -> str:
    """Return what was corrected, in words."""
    if field in FIELD_WORDS:
        return FIELD_WORDS[field]
    name = field.removeprefix("size:")
    return QUANTITIES[name].words if name in QUANTITIES else name


def show_values(facts: PieceFacts, piece: Piece, pull: Pull) -> BreakValues:
    """Return what stands of a kept break, as its form shows it."""
    measured = facts.measurements.get(piece.id, {})
    torn = pull.wood_failure_pct
    return BreakValues(
        load=pull.load_typed,
        outcome=pull.outcome or PullOutcome.BROKE,
        wood_failure="" if torn is None else f"{torn:g}",
        failure=pull.failure,
        note=pull.note,
        broken_at=pull.started_utc,
        sizes=tuple(SizeTyped(name, measured[name].typed if name in measured else "") for name in facts.measured_names),
    )


def correct_break(file: ShopFile, trial_id: int, pull_id: int, entry: CorrectionEntry) -> None:
    """Change what stands of a kept break; each old value stays beside the new one, with the reason.

    Raises
    ------
    EntryError : a value cannot be read, or nothing is changed. ReasonNeeded : there is no reason.
    StaleEdit : another window corrected it meanwhile. StateError : it is not kept.
    """
    reason = entry.reason.strip()
    with file.changing("Corrected a break", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        piece, pull = require_pull(facts, pull_id)
        if pull.state is not PullState.KEPT or facts.result_of(piece) != pull:
            raise StateError(f"This pull of {piece.label} is {pull.state}.", "Only the kept one is corrected.")
        shown = show_values(facts, piece, pull)
        require_same_form(shown, entry.was, piece.label)
        changes = _list_changes(shown, entry.now)
        if not changes:
            raise EntryError("Nothing is changed.", "A correction changes a value.", field="load")
        if not reason:
            raise ReasonNeeded(
                f"{piece.label} is broken, and its values are results.",
                "A correction says why; the old value stays beside the new one.",
                "Write the reason.",
                field="reason",
            )
        form = FormReader()
        now = entry.now
        judged = form.read(read_judgement, Judgement(now.outcome, now.wood_failure, now.failure, now.note))
        change, bent = PullChange(), Bent()
        if judged.there:
            seen = judged.value
            change |= PullChange(
                outcome=seen["outcome"],
                wood_failure_pct=seen["wood_failure_pct"],
                failure=seen["failure"],
                note=seen["note"],
            )
        if "load" in changes or ("outcome" in changes and pull.held_n is not None):
            change |= form.read(_read_load, connection, facts, pull, now).value_or(PullChange())
            if pull.dial:
                peak_n, span_mm = change.get("load_n", pull.load_n), facts.sizes_of(piece).get("span_mm")
                bent = keep_bending(form.read(bend_of, pull.dial, peak_n, span_mm).value_or(None))
        if "broken_at" in changes:
            at = form.read(read_broken_at, facts, piece, now.broken_at, file.clock(), but=pull.id)
            if at.there:
                change |= PullChange(started_utc=to_text(at.value), ended_utc=to_text(at.value))
        form.finish()
        amend_pull(connection, pull_id, **change)
        if bent:
            amend_pull(connection, pull_id, **bent)
        typed = {one.name: one.typed for one in now.sizes}
        for field, (before, after) in changes.items():
            if field.startswith("size:"):
                put_size(connection, facts, piece, field.removeprefix("size:"), typed[field.removeprefix("size:")])
            insert_correction(
                connection,
                piece_id=piece.id,
                pull_id=pull_id,
                field=field,
                before=before,
                after=after,
                reason=reason,
                at_utc=file.now(),
            )


def _list_changes(was: BreakValues, now: BreakValues) -> dict[str, tuple[str, str]]:
    """Return what differs between two forms, each in words before and after."""
    found = {
        "load": (was.load, now.load.strip()),
        "outcome": (JUDGED_WORDS[was.outcome], JUDGED_WORDS[now.outcome]),
        "wood_failure": (_percent(was.wood_failure), _percent(now.wood_failure)),
        "failure": (_where(was.failure), _where(now.failure)),
        "note": (was.note, now.note.strip()),
        "broken_at": (was.broken_at, now.broken_at),
    }
    typed = {one.name: one.typed.strip() for one in now.sizes}
    found |= {f"size:{one.name}": (one.typed, typed.get(one.name, one.typed)) for one in was.sizes}
    return {field: both for field, both in found.items() if both[0] != both[1]}


def _percent(typed: str) -> str:
    bare = typed.strip().removesuffix("%").strip()
    return f"{bare} %" if bare else ""


def _where(failure: FailedIn | None) -> str:
    return FAILED_IN_WORDS[failure] if failure else ""


def _read_load(connection: Connection, facts: PieceFacts, pull: Pull, now: BreakValues) -> PullChange:
    """Return the load of a break typed anew, made by the card of the rig as it was then."""
    if pull.source is not PullSource.HAND:
        raise StateError(
            "The load of this pull was recorded.", "Its trace stays.", "Choose where on the trace it is read."
        )
    load = read_load(connection, facts, find_rig_then(connection, facts, pull), Reading(load=now.load), now.outcome)
    return PullChange(
        load_n=load.load_n,
        load_typed=load.typed,
        load_through=load.through,
        held_n=load.held_n,
        held_typed=load.held_typed,
        resolution_n=load.resolution_n,
    )


def find_rig_then(connection: Connection, facts: PieceFacts, pull: Pull) -> RigUsed:
    """Return the rig that a load was read on, with its card and calibration as they were then."""
    calibration = fetch_calibration(connection, pull.calibration_id) if pull.calibration_id else None
    rig, version = facts.rigs.get(pull.rig_id or 0), facts.versions.get(pull.version_id or 0)
    if rig is not None and version is not None:
        return RigUsed(rig, version, make_card(version.meaning, calibration), calibration)
    # a break of before rigs were kept: it went through the plan's rig where its words say so
    if pull.load_through and facts.rig is not None:
        return RigUsed(facts.rig, None, make_card(read_meaning(facts.rig)))
    return RigUsed(None, None, NO_CARD)
