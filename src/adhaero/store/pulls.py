"""Pulls: each loading of a piece, and the raw readings of the rig, append-only."""

import array
import sqlite3
import sys
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NotRequired, TypedDict, Unpack

from adhaero.core.pulls import FailedIn, LoadPoint, PriedWith, PullOutcome, PullSource, PullState
from adhaero.store.rows import amend, fetch_all, fetch_one, insert


@dataclass(frozen=True)
class Pull:
    """One loading of one piece.

    Attributes
    ----------
    flags, flag_codes : JSON lists of the sentences and codes of what looks wrong.
    load_point, load_point_s, load_point_reason : where on its trace the load was read, and why not at the highest.
    load_through : what a typed load was multiplied with and what was added to it; empty where it stands as typed.
    version_id : the rig's card as it was. resolution_n : the smallest step that the load is known to.
    hold_s, hold_typed : how long the last load was on until it broke. pried_with : what opened a pried piece.
    stiffness_n_per_mm … stayed_bent_mm : what its displacement says, as `core.rig.trace.bending`; None without one.
    undated : nobody wrote down when it broke. dial, dial_typed : N and mm where a person read a dial at loads.
    stood_s, sagged_n : the longest time at one load.
    """

    id: int
    piece_id: int
    attempt: int
    source: PullSource
    state: PullState
    rig_id: int | None
    calibration_id: int | None
    zero_n: float | None
    zero_noise_n: float | None
    started_utc: str
    ended_utc: str | None
    outcome: PullOutcome | None
    load_n: float | None
    load_typed: str
    held_n: float | None
    held_typed: str
    wood_failure_pct: float | None
    failure: FailedIn | None
    note: str
    flags: tuple[str, ...]
    practice: bool
    flag_codes: tuple[str, ...]
    expected_low_n: float | None
    load_point: LoadPoint
    load_point_s: float | None
    load_point_reason: str
    load_through: str
    version_id: int | None
    resolution_n: float | None
    hold_s: float | None
    hold_typed: str
    pried_with: PriedWith
    log_id: int | None
    rate_n_per_s: float | None
    stiffness_n_per_mm: float | None
    bend_starts_n: float | None
    bend_by_span_n: float | None
    energy_j: float | None
    stayed_bent_mm: float | None
    reached_mm: float | None
    stood_s: float | None
    sagged_n: float | None
    dial: tuple[tuple[float, float], ...]
    dial_typed: str
    undated: bool
    photo_id: int | None


class PullChange(TypedDict, total=False):
    """Columns of a pull that can be set."""

    piece_id: int
    attempt: int
    source: PullSource
    state: PullState
    rig_id: int | None
    calibration_id: int | None
    zero_n: float | None
    zero_noise_n: float | None
    started_utc: str
    ended_utc: str | None
    outcome: PullOutcome | None
    load_n: float | None
    wood_failure_pct: float | None
    failure: FailedIn | None
    note: str
    flags: tuple[str, ...]
    practice: bool
    flag_codes: tuple[str, ...]
    expected_low_n: float | None
    load_point: LoadPoint
    load_point_s: float | None
    load_point_reason: str
    load_typed: str
    load_through: str
    held_n: float | None
    held_typed: str
    version_id: int | None
    resolution_n: float | None
    rate_n_per_s: float | None
    stiffness_n_per_mm: float | None
    bend_starts_n: float | None
    bend_by_span_n: float | None
    energy_j: float | None
    stayed_bent_mm: float | None
    reached_mm: float | None
    stood_s: float | None
    sagged_n: float | None
    photo_id: int | None


class NewPull(TypedDict):
    """What a pull is written with."""

    piece_id: int
    attempt: int
    source: PullSource
    state: PullState
    started_utc: str
    rig_id: NotRequired[int | None]
    calibration_id: NotRequired[int | None]
    zero_n: NotRequired[float | None]
    zero_noise_n: NotRequired[float | None]
    ended_utc: NotRequired[str | None]
    load_n: NotRequired[float | None]
    load_typed: NotRequired[str]
    practice: NotRequired[bool]
    held_n: NotRequired[float | None]
    held_typed: NotRequired[str]
    expected_low_n: NotRequired[float | None]
    load_through: NotRequired[str]
    outcome: NotRequired[PullOutcome | None]
    wood_failure_pct: NotRequired[float | None]
    failure: NotRequired[FailedIn | None]
    note: NotRequired[str]
    flags: NotRequired[tuple[str, ...]]
    flag_codes: NotRequired[tuple[str, ...]]
    version_id: NotRequired[int | None]
    resolution_n: NotRequired[float | None]
    hold_s: NotRequired[float | None]
    hold_typed: NotRequired[str]
    pried_with: NotRequired[PriedWith]
    log_id: NotRequired[int | None]
    stiffness_n_per_mm: NotRequired[float | None]
    bend_starts_n: NotRequired[float | None]
    bend_by_span_n: NotRequired[float | None]
    energy_j: NotRequired[float | None]
    stayed_bent_mm: NotRequired[float | None]
    reached_mm: NotRequired[float | None]
    dial: NotRequired[tuple[tuple[float, float], ...]]
    dial_typed: NotRequired[str]
    undated: NotRequired[bool]


@dataclass(frozen=True)
class RawTrace:
    """Readings of one pull as they came.

    Seconds from its start, readings in the rig's own unit, lines without a number, and displacements, mm, where they
    came beside the readings (else none).
    """

    times_s: list[float]
    readings: list[float]
    unreadable: int
    displacements_mm: list[float]


_PULL = (
    "SELECT pull.id, piece_id, attempt, source, state, rig_id, calibration_id, zero_n, zero_noise_n, started_utc,"
    " ended_utc, outcome, load_n, load_typed, held_n, held_typed, wood_failure_pct, failure, pull.note, flags,"
    " practice, flag_codes, expected_low_n, load_point, load_point_s, load_point_reason, load_through, version_id,"
    " resolution_n, hold_s, hold_typed, pried_with, log_id, rate_n_per_s, stiffness_n_per_mm,"
    " bend_starts_n, bend_by_span_n, energy_j, stayed_bent_mm, reached_mm, stood_s, sagged_n, dial, dial_typed, undated"
    ", pull.photo_id FROM pull"
)


def list_pulls(connection: sqlite3.Connection, trial_id: int) -> list[Pull]:
    """Return every pull of a trial in the order in which they were made. Reads only."""
    return fetch_all(
        connection,
        Pull,
        f"{_PULL} JOIN piece ON piece.id = pull.piece_id WHERE piece.trial_id = :trial ORDER BY pull.id",
        {"trial": trial_id},
    )


def list_piece_pulls(connection: sqlite3.Connection, piece_id: int) -> list[Pull]:
    """Return the pulls of one piece by attempt. Reads only."""
    return fetch_all(connection, Pull, f"{_PULL} WHERE piece_id = :piece ORDER BY attempt", {"piece": piece_id})


def fetch_pull(connection: sqlite3.Connection, pull_id: int) -> Pull | None:
    """Return one pull. Reads only."""
    return fetch_one(connection, Pull, f"{_PULL} WHERE pull.id = :id", {"id": pull_id})


def list_running(connection: sqlite3.Connection) -> list[Pull]:
    """Return the pulls that were running when the program last stopped. Reads only."""
    return fetch_all(connection, Pull, f"{_PULL} WHERE state = 'running' ORDER BY id")


def insert_chunk(
    connection: sqlite3.Connection,
    pull_id: int,
    seq: int,
    samples: Sequence[tuple[float, float]],
    unreadable: int,
    displacements_mm: Sequence[float] = (),
) -> None:
    """Append readings to a pull's trace as little-endian doubles, time and reading in turn; inside a transaction."""
    values = {
        "pull_id": pull_id,
        "seq": seq,
        "samples": _pack(number for sample in samples for number in sample),
        "unreadable": unreadable,
        "displacements": _pack(displacements_mm) if displacements_mm else None,
    }
    insert(connection, "pull_chunk", values)


def fetch_trace(connection: sqlite3.Connection, pull_id: int) -> RawTrace:
    """Return the raw readings of a pull. Reads only."""
    numbers, moved = array.array("d"), array.array("d")
    unreadable = 0
    for row in connection.execute(
        "SELECT samples, unreadable, displacements FROM pull_chunk WHERE pull_id = :pull ORDER BY seq",
        {"pull": pull_id},
    ):
        numbers.frombytes(row["samples"])
        moved.frombytes(row["displacements"] or b"")
        unreadable += row["unreadable"]
    if sys.byteorder == "big":
        numbers.byteswap()
        moved.byteswap()
    return RawTrace(list(numbers[0::2]), list(numbers[1::2]), unreadable, list(moved))


def _pack(numbers: Iterable[float]) -> bytes:
    packed = array.array("d", numbers)
    if sys.byteorder == "big":
        packed.byteswap()
    return packed.tobytes()


def insert_log_file(connection: sqlite3.Connection, name: str, added_utc: str, sha256: str, content: bytes) -> int:
    """Write a log whole as it came and return its id; call inside a transaction."""
    values = {"name": name, "added_utc": added_utc, "sha256": sha256, "content": content}
    return insert(connection, "log_file", values)


def insert_pull(connection: sqlite3.Connection, **row: Unpack[NewPull]) -> int:
    """Write a pull and return its id; call inside a transaction."""
    return insert(connection, "pull", row)


def amend_pull(connection: sqlite3.Connection, pull_id: int, **change: Unpack[PullChange]) -> None:
    """Set columns of a pull; call inside a transaction."""
    amend(connection, "pull", pull_id, change)
