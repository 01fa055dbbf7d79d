"""Pulls that other software recorded: a log dropped onto a piece, looked at, then taken as one pull or as many."""

import hashlib
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from adhaero.bench.breaking.attempts import next_attempt
from adhaero.bench.breaking.hand_break import read_broken_at
from adhaero.bench.breaking.pulls import find_expected_low
from adhaero.bench.breaking.recording import read_stored, summarise, trace_settings
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.shop.rigs import require_rig
from adhaero.core.errors import DataError, EntryError, RigError
from adhaero.core.pieces import Act, PieceState
from adhaero.core.pulls import PullSource, PullState
from adhaero.core.quantity import Kind, factor, parse_quantity
from adhaero.core.rig.calibration import Calibration
from adhaero.core.rig.lines import name_unit
from adhaero.core.rig.trace.logs import LogPull, LogSamples, read_pulls
from adhaero.files.rig_log import LogColumns, RigLog, read_rig_log
from adhaero.store.connecting import Connection
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece
from adhaero.store.pulls import RawTrace, amend_pull, insert_chunk, insert_log_file, insert_pull
from adhaero.store.rigs import CalibrationRow, Rig, newest_calibration, newest_rig_versions


class LogTake(StrEnum):
    """What the pulls of a log are: tries of one piece, or of the pieces that come next."""

    TRIES = "tries"
    PIECES = "pieces"


@dataclass(frozen=True)
class LogChoice:
    """How a log is read.

    Attributes
    ----------
    rig_id : that the pieces were broken on. unit : of the loads; empty for the one in the log, `raw` for the rig's own
    readings, which go through its calibration. time, load, displacement : columns, by heading or number from 1.
    rate : lines a second, where the log has no time. take : what its pulls are. at_utc : when it was recorded.
    """

    rig_id: int
    unit: str = ""
    time: str = ""
    load: str = ""
    displacement: str = ""
    rate: str = ""
    take: LogTake = LogTake.TRIES
    at_utc: str = ""


@dataclass(frozen=True)
class LogPullView:
    """One pull found in a log: whose it will be, its load, N, what happened, and what looks wrong."""

    label: str
    load_n: float
    broke: bool
    seconds: float
    flags: tuple[str, ...]


@dataclass(frozen=True)
class LogView:
    """What is understood of a log: the unit of its loads, whether it has a displacement, and its pulls."""

    unit: str
    has_displacement: bool
    samples: int
    unreadable: int
    pulls: list[LogPullView]


RAW = "raw"


def view_log(file: ShopFile, trial_id: int, piece_id: int, content: bytes, choice: LogChoice) -> LogView:
    """Return what is understood of a log, without keeping it.

    Raises
    ------
    DataError : nothing in it can be read. EntryError : a column or a rate that is not there, or the unit is not known.
    """
    low = find_expected_low(file, trial_id, piece_id)
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        rig, calibration = _find_rig(connection, choice.rig_id)
    log, unit, pulls = _read(content, choice, rig, calibration, low)
    labels = [one.label for one in _list_pieces(facts, facts.piece(piece_id), len(pulls), choice.take, file.clock())]
    return LogView(
        unit=unit,
        has_displacement=log.displacements is not None,
        samples=len(log.times_s),
        unreadable=len(log.unreadable_before),
        pulls=[
            LogPullView(
                label=labels[at] if at < len(labels) else "no piece left",
                load_n=pull.reading.peak_n,
                broke=pull.reading.break_s is not None,
                seconds=log.times_s[pull.part.stop - 1] - log.times_s[pull.part.start],
                flags=tuple(flag.words for flag in pull.reading.flags),
            )
            for at, pull in enumerate(pulls)
        ],
    )


def take_log(file: ShopFile, trial_id: int, piece_id: int, name: str, content: bytes, choice: LogChoice) -> int:
    """Take the pulls of a log: each waits to be judged; of several tries of one piece the last. Return how many.

    The log is kept whole; each pull keeps its readings, which are never changed.

    Raises
    ------
    DataError : it holds no pull, or more than there are pieces. EntryError : as for `view_log`. StateError : a piece
    cannot be loaded.
    """
    low = find_expected_low(file, trial_id, piece_id)
    with file.changing("Took pulls from a log", trial_id) as connection:
        facts = read_trial(connection, trial_id)
        first, now = facts.piece(piece_id), file.clock()
        rig, calibration = _find_rig(connection, choice.rig_id)
        log, _, pulls = _read(content, choice, rig, calibration, low)
        if not pulls:
            raise DataError("The log holds no pull: its load never rose and fell.", "Check column and unit.")
        pieces = _list_pieces(facts, first, len(pulls), choice.take, now)
        if len(pieces) < len(pulls):
            raise DataError(
                f"The log holds {len(pulls)} pulls, and {len(pieces)} pieces are ready from {first.label} on.",
                do="Take them as tries of one piece, or make the others ready first.",
            )
        log_id = insert_log_file(
            connection, name.strip()[:120] or "log", file.now(), hashlib.sha256(content).hexdigest(), content
        )
        version = newest_rig_versions(connection).get(rig.id)
        line = Calibration(calibration.offset_reading, calibration.newton_per_unit)
        for at, (pull, piece) in enumerate(zip(pulls, pieces, strict=False)):
            facts.require(Act.LOAD, piece, now)
            broken_at = to_text(read_broken_at(facts, piece, choice.at_utc or None, now))
            is_last = choice.take is LogTake.PIECES or at == len(pulls) - 1
            raw = _cut(log, pull)
            settings = trace_settings(rig, 0.0, 0.0, low)
            summary = summarise(
                read_stored(raw, line, settings, facts.sizes_of(piece).get("span_mm")),
                f"From the log {name.strip()[:60]}.",
            )
            pull_id = insert_pull(
                connection,
                piece_id=piece.id,
                attempt=next_attempt(facts, piece) + (at if choice.take is LogTake.TRIES else 0),
                source=PullSource.RIG,
                state=PullState.STOPPED if is_last else PullState.RETRIED,
                rig_id=rig.id,
                version_id=version.id if version else None,
                calibration_id=calibration.id,
                resolution_n=rig.resolution_n,
                expected_low_n=low,
                started_utc=broken_at,
                ended_utc=broken_at,
                log_id=log_id,
            )
            amend_pull(connection, pull_id, **summary)
            samples = list(zip(raw.times_s, raw.readings, strict=True))
            insert_chunk(connection, pull_id, 0, samples, raw.unreadable, raw.displacements_mm)
        return len(pulls)


def _find_rig(connection: Connection, rig_id: int) -> tuple[Rig, CalibrationRow]:
    rig, calibration = require_rig(connection, rig_id), newest_calibration(connection, rig_id)
    if calibration is None:
        raise RigError(f"{rig.name} has no calibration.", do="Save its card once in the shop.")
    return rig, calibration


def _read(
    content: bytes, choice: LogChoice, rig: Rig, calibration: CalibrationRow, low_n: float | None
) -> tuple[RigLog, str, list[LogPull]]:
    """Return a log with its loads as the rig would show them, the unit that they were read in, and its pulls."""
    rate = parse_quantity(choice.rate, Kind.NUMBER, field="rate").si if choice.rate.strip() else None
    columns = LogColumns(choice.time or None, choice.load or None, choice.displacement or None, rate)
    log = read_rig_log(content, columns)
    unit = choice.unit or log.unit_seen or ""
    if not unit:
        raise EntryError(
            "The unit of the loads is not written in the log.",
            "Expected N, kN, kg or lb behind the numbers or in the heading.",
            "Choose it.",
            field="unit",
        )
    line = Calibration(calibration.offset_reading, calibration.newton_per_unit)
    shown = log.loads
    if unit != RAW:
        if log.unit_seen and choice.unit and name_unit(choice.unit) != name_unit(log.unit_seen):
            raise EntryError(
                f"The log says {log.unit_seen}, and {choice.unit} is chosen.", "One of them is wrong.", field="unit"
            )
        per_unit = factor(Kind.FORCE, name_unit(unit) or unit)
        # a load in newtons as this rig would show it: what is stored is always the rig's own reading
        shown = [load * per_unit / line.newton_per_unit + line.offset for load in log.loads]
    as_shown = RigLog(log.times_s, shown, log.displacements, log.unreadable_before, log.begins, log.unit_seen)
    loads = [line.load_n(one) for one in shown]
    samples = LogSamples(log.times_s, loads, log.displacements, log.unreadable_before, log.begins)
    return as_shown, unit, read_pulls(samples, trace_settings(rig, 0.0, 0.0, low_n))


def _list_pieces(facts: PieceFacts, first: Piece, number: int, take: LogTake, now: datetime) -> list[Piece]:
    """Return whose pulls they are: of one piece, or of it and those that are ready after it, as they are broken."""
    if take is LogTake.TRIES:
        return [first] * number
    later = sorted(
        (
            one
            for one in facts.pieces.values()
            if one.id != first.id and one.break_turn > first.break_turn and facts.state_of(one, now) is PieceState.READY
        ),
        key=lambda one: one.break_turn,
    )
    return [first, *later][:number]


def _cut(log: RigLog, pull: LogPull) -> RawTrace:
    times = log.times_s[pull.part]
    moved = log.displacements[pull.part] if log.displacements is not None else []
    return RawTrace([time - times[0] for time in times], log.loads[pull.part], pull.unreadable, moved)
