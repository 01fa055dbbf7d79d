"""Pulls on a rig: armed, recorded, kept or tried again."""

import logging
from dataclasses import dataclass

from adhaero.bench.breaking.attempts import next_attempt, require_pull
from adhaero.bench.breaking.judgement import Judgement, read_judgement
from adhaero.bench.breaking.live_rigs import LiveRig, RigHub
from adhaero.bench.breaking.recording import PullSetup, finish_pull, trace_settings
from adhaero.bench.breaking.view import list_so_far
from adhaero.bench.facts.entry import Entry, Id
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.consequences import follow_plan, make_plan
from adhaero.bench.shop.past_breaks import read_shop_breaks
from adhaero.bench.shop.supplies import read_supplies
from adhaero.core.errors import AdhaeroError, RigError, StateError
from adhaero.core.pieces import Act
from adhaero.core.pulls import PullSource, PullState
from adhaero.store.file import ShopFile
from adhaero.store.pieces import fetch_piece
from adhaero.store.pulls import amend_pull, insert_pull, list_running
from adhaero.store.rigs import newest_rig_versions

log = logging.getLogger(__name__)


@dataclass(frozen=True)
class ArmEntry(Entry):
    """Which piece on which rig."""

    piece: Id
    rig: Id


def arm(file: ShopFile, hub: RigHub, trial_id: int, piece_id: int, rig_id: int) -> int:
    """Zero the rig and start recording a pull of a piece; the break is found by itself.

    Raises
    ------
    RigError : it is not reading, not at rest, or records already; the practice rig in a real trial.
    StateError : the piece cannot be loaded.
    """
    low = find_expected_low(file, trial_id, piece_id)
    with hub.arming(rig_id) as live:
        setup = _insert_pull(file, hub, live, trial_id, piece_id, low)
        hub.record(live, setup)
    return setup.pull_id


def _insert_pull(
    file: ShopFile, hub: RigHub, live: LiveRig, trial_id: int, piece_id: int, low: float | None
) -> PullSetup:
    with file.changing("Started a pull", trial_id, undoable=False) as connection:
        facts = read_trial(connection, trial_id)
        piece = facts.piece(piece_id)
        facts.require(Act.LOAD, piece, file.clock())
        practice = hub.find_out(live)
        if practice and not facts.trial.practice:
            raise RigError(
                f"{live.rig.name} is a simulated rig.",
                "Its numbers stay out of real trials.",
                "Use it in a practice trial.",
            )
        version = newest_rig_versions(connection).get(live.rig.id)
        zero = hub.take_zero(live)
        hub.require_unit(live)
        pull_id = insert_pull(
            connection,
            piece_id=piece_id,
            attempt=next_attempt(facts, piece),
            source=PullSource.RIG,
            state=PullState.RUNNING,
            rig_id=live.rig.id,
            version_id=version.id if version else None,
            resolution_n=live.rig.resolution_n,
            calibration_id=live.calibration_row.id,
            zero_n=zero.load_n,
            zero_noise_n=zero.noise_n,
            expected_low_n=low,
            started_utc=file.now(),
            practice=practice,
        )
        return PullSetup(
            pull_id,
            trial_id,
            piece_id,
            piece.label,
            live.calibration,
            live.reader.seen_unit or live.rig.unit,
            trace_settings(live.rig, zero.load_n, zero.noise_n, low),
            facts.strength_of(piece, 1.0),
            facts.treatments[piece.treatment_id].name,
            tuple(list_so_far(facts)[piece.treatment_id]),
        )


def find_expected_low(file: ShopFile, trial_id: int, piece_id: int) -> float | None:
    """Return the lower band of the forecast of a piece, N; None without one."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        supplies = read_supplies(connection)
        breaks = read_shop_breaks(connection, trial_id, practice=bool(facts.trial.practice))
    name = facts.treatments[facts.piece(piece_id).treatment_id].name
    bands = follow_plan(make_plan(facts, supplies, breaks)).bands
    return next((band.low_n for band in bands if band.name == name), None)


def stop_pull(file: ShopFile, hub: RigHub, trial_id: int, pull_id: int) -> None:
    """End a running pull by hand."""
    with file.reading() as connection:
        require_pull(read_trial(connection, trial_id), pull_id)
    recording = hub.recording_of(pull_id)
    if recording is not None:
        recording.stop()
    finish_pull(file, pull_id, trial_id)


def keep_pull(file: ShopFile, trial_id: int, pull_id: int, judgement: Judgement) -> None:
    """Keep a pull that the rig recorded, with what the person saw."""
    with file.changing("Kept a break", trial_id) as connection:
        piece, pull = require_pull(read_trial(connection, trial_id), pull_id)
        if pull.state != "stopped":
            raise StateError(
                f"This pull of {piece.label} is {pull.state}.", "Only a pull that has stopped can be kept."
            )
        if judgement.outcome != "fell_apart" and not pull.load_n:
            raise StateError(f"This pull of {piece.label} reached no load.", "There is nothing to keep.", "Try again.")
        amend_pull(connection, pull_id, state=PullState.KEPT, **read_judgement(judgement))


def retry_pull(file: ShopFile, trial_id: int, pull_id: int) -> None:
    """Lay a stopped pull aside as a try, so that the piece can be loaded again; both stay on record."""
    with file.changing("Laid a pull aside to try again", trial_id) as connection:
        piece, pull = require_pull(read_trial(connection, trial_id), pull_id)
        if pull.state not in ("stopped", "kept"):
            raise StateError(
                f"This pull of {piece.label} is {pull.state}.", "Only a pull that has stopped can be laid aside."
            )
        amend_pull(connection, pull_id, state=PullState.RETRIED)


def recover_pulls(file: ShopFile) -> int:
    """End the pulls that ran when the program last stopped, from what was stored of them; return how many.

    Nothing here stops a start: a pull that cannot be ended stays as it is, and the log says so.
    """
    with file.reading() as connection:
        running = list_running(connection)
        pieces = {pull.id: fetch_piece(connection, pull.piece_id) for pull in running}
    remark = "The program stopped during this pull; the trace up to then is kept."
    for pull_id, piece in pieces.items():
        if piece is None:
            continue
        try:
            finish_pull(file, pull_id, piece.trial_id, remark)
        except AdhaeroError:
            log.exception("pull %s of %s could not be ended", pull_id, piece.label)
    return len(running)
