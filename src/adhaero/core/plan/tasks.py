"""The making as tasks: glue-ups, clamps, cure, exposure, measuring and breaking on hands, clamps and the rig.

Times are whole minutes from an origin that the caller chooses.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from math import ceil
from typing import Final

EXPOSE_MIN: Final = 5
TEST_AFTER_MIN: Final = 240


class TaskKind(StrEnum):
    """What a task is. Glue, release, put in, take out, measure and break take hands; the others run by themselves."""

    GLUE = "glue"
    CLAMP = "clamp"
    RELEASE = "release"
    CURE = "cure"
    PUT_IN = "put_in"
    EXPOSE = "expose"
    TAKE_OUT = "take_out"
    MEASURE = "measure"
    BREAK = "break"


HANDS = frozenset(
    {TaskKind.GLUE, TaskKind.RELEASE, TaskKind.PUT_IN, TaskKind.TAKE_OUT, TaskKind.MEASURE, TaskKind.BREAK}
)

# what begins by hand; breaking follows from what it waits for
PINNABLE = HANDS - {TaskKind.BREAK}


@dataclass(frozen=True)
class Line:
    """Pieces of one glue-up that are clamped, cured and broken alike, min.

    Attributes
    ----------
    key : known by. clamps : how many of which. clamp_min : in clamps; give_min : by which that may be off.
    cure_min : from closing to the test, or to what comes before it; age_give_min : by which that may be off, None for
    any time later. expose_min : in water, outdoors, an oven, after the cure, the test soon after it; 0 for nothing.
    closes_min : from the begin of its glue-up until its last piece is closed, None for the whole of it.
    clamped_at, released_at, closed_at : what has happened already.
    broken : nothing is left to do.
    """

    key: str
    clamps: tuple[tuple[str, int], ...]
    clamp_min: int
    give_min: int
    cure_min: int
    age_give_min: int | None
    expose_min: int
    release_min: int
    measure_min: int
    break_min: int
    closes_min: int | None = None
    closed_at: int | None = None
    clamped_at: int | None = None
    released_at: int | None = None
    broken: bool = False


@dataclass(frozen=True)
class PlannedBatch:
    """Pieces glued in one go from one mix: how long it takes, and its lines."""

    key: str
    glue_min: int
    lines: tuple[Line, ...]


def find_close(batch: PlannedBatch, line: Line) -> int:
    """Return how long after the begin of its glue-up the last piece of a line is closed, min."""
    return batch.glue_min if line.closes_min is None else line.closes_min


@dataclass(frozen=True)
class Making:
    """Everything that a timetable follows from.

    Attributes
    ----------
    hands : people. clamps : how many there are of each name; names that are not there do not limit.
    windows : working hours, in order. now : nothing that is still to do begins before. horizon : everything ends by.
    odd_hours : hands may work outside the windows where nothing else fits. finish_by : the latest end, or None.
    pinned : begins of tasks that stay, by task key.
    """

    batches: tuple[PlannedBatch, ...]
    windows: tuple[tuple[int, int], ...]
    horizon: int
    hands: int = 1
    clamps: tuple[tuple[str, int], ...] = ()
    now: int = 0
    odd_hours: bool = False
    finish_by: int | None = None
    pinned: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True)
class Task:
    """One task of a timetable; `odd` outside working hours, `done` it has happened."""

    key: str
    kind: TaskKind
    batch: str
    line: str | None
    start: int
    end: int
    odd: bool = False
    done: bool = False


@dataclass(frozen=True)
class Timetable:
    """The best timetable so far.

    Attributes
    ----------
    tasks : in order of their begin. finish : the end of the last. odd : tasks at odd hours.
    finish_bound : no timetable with as few tasks at odd hours ends before; None while fewer may be possible.
    proved : nothing better exists.
    """

    tasks: tuple[Task, ...]
    finish: int
    odd: int
    finish_bound: int | None
    proved: bool


@dataclass(frozen=True)
class Remedy:
    """The smallest change of one limit with which everything would fit.

    Attributes
    ----------
    limit : that is to blame. words : the change. times_give : by which the give of clamp times grows, where it is that.
    """

    limit: str
    words: str
    times_give: int = 1


def estimate_horizon(batches: Sequence[PlannedBatch], windows_per_week_min: int) -> int:
    """Return by when everything would surely be done one thing after the other, min: where the search ends."""
    busy = count_hand_minutes(batches)
    clamping = sum(max((line.clamp_min for line in one.lines), default=0) for one in batches)
    longest = max((line.cure_min + line.expose_min for one in batches for line in one.lines), default=0)
    weeks = ceil(busy / max(60, windows_per_week_min)) + 2
    # a clamp time that ends outside working hours waits for the next day; a weekend in between, twice
    return longest + 3 * clamping + weeks * 7 * 24 * 60


def count_hand_minutes(batches: Sequence[PlannedBatch]) -> int:
    """Return how long hands are busy with glue-ups from laying out to breaking, min."""
    return sum(
        one.glue_min
        + sum(
            line.release_min + line.measure_min + line.break_min + (2 * EXPOSE_MIN if line.expose_min else 0)
            for line in one.lines
        )
        for one in batches
    )
