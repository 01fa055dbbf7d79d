"""The timetable as it stands: its tasks on their lanes, what is done, what has slipped, what comes next."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from adhaero.bench.facts.entry import Entry, Moment, Short
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.consequences import follow_plan, make_plan
from adhaero.bench.shop.hours import read_shop_time
from adhaero.bench.shop.supplies import read_supplies
from adhaero.bench.timetable.batches import gather_batches
from adhaero.core.plan.glue_ups import Pace
from adhaero.core.plan.hours import list_windows
from adhaero.core.plan.tasks import HANDS, PINNABLE, TaskKind
from adhaero.core.quantity import show_duration
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece
from adhaero.store.timetables import TaskClamps, TaskRow, fetch_timetable, list_task_clamps, list_tasks


@dataclass(frozen=True)
class TimetableEntry(Entry):
    """How a timetable is asked for.

    Attributes
    ----------
    odd_hours : hands may work outside working hours where nothing else fits. finish_by_utc : the latest end, or None.
    give : by how much of its clamp time a clamp may come off early or late. break_each : time to break one piece.
    """

    odd_hours: bool = False
    finish_by_utc: Moment | None = None
    give: Short = "5 %"
    break_each: Short = "3 min"


@dataclass(frozen=True)
class TaskView:
    """One task of the timetable, and how it really went.

    Attributes
    ----------
    lanes : the resources it stands on: hands, a clamp by its name, cure, exposure, rig. state : done, late, or to come.
    """

    id: int
    kind: TaskKind
    words: str
    lanes: list[str]
    begin_utc: str
    end_utc: str
    by_hand: bool
    odd: bool
    pinned: bool
    can_pin: bool
    state: str
    piece_ids: list[int]
    labels: list[str]


@dataclass(frozen=True)
class TimetableView:
    """The timetable of a trial; without one, `tasks` is empty and `solved_utc` None."""

    entry: TimetableEntry
    solved_utc: str | None
    finish_utc: str | None
    words: list[str]
    assumed: list[str]
    lanes: list[str]
    windows: list[list[str]]
    tasks: list[TaskView]
    late: int


def view_timetable(file: ShopFile, trial_id: int) -> TimetableView:
    """Return the timetable of a trial as it stands."""
    now = file.clock()
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        row, tasks = fetch_timetable(connection, trial_id), list_tasks(connection, trial_id)
        clamps_of = list_task_clamps(connection, trial_id)
        shop = read_shop_time(connection)
        supplies = read_supplies(connection)
    forces = follow_plan(make_plan(facts, supplies, ())).forces
    assumed = gather_batches(facts, supplies, forces, now, Pace(0.05, 3)).assumed if facts.pieces else ()
    if row is None:
        return TimetableView(TimetableEntry(), None, None, [], list(assumed), [], [], [], 0)
    views = [_view_task(facts, task, clamps_of.get(task.id, ()), now) for task in tasks]
    late = sum(one.state == "late" for one in views)
    first, last = (_read(text) for text in (min(t.begin_utc for t in tasks), max(t.end_utc for t in tasks)))
    # a trial over years is drawn without its nights
    windows = list_windows(shop.hours, first, last, shop.zone) if last - first < timedelta(days=120) else []
    used = {lane for one in views for lane in one.lanes}
    clamps = sorted(used - {"hands", "cure", "exposure", "rig"})
    return TimetableView(
        entry=TimetableEntry(bool(row.odd_hours), row.finish_by_utc, row.give_typed, row.break_typed),
        solved_utc=row.solved_utc,
        finish_utc=row.finish_utc,
        words=_say_kept(row.finish_utc, row.bound_utc, bool(row.proved), sum(one.odd for one in tasks)),
        assumed=list(assumed),
        lanes=[lane for lane in ("hands", *clamps, "cure", "exposure", "rig") if lane in used],
        windows=[[to_text(low), to_text(high)] for low, high in windows],
        tasks=views,
        late=late,
    )


def _read(text: str) -> datetime:
    return datetime.fromisoformat(text)


_VERBS = {
    TaskKind.GLUE: "Glue",
    TaskKind.CLAMP: "In clamps",
    TaskKind.RELEASE: "Clamps off",
    TaskKind.CURE: "Curing",
    TaskKind.PUT_IN: "Put in",
    TaskKind.EXPOSE: "Exposed",
    TaskKind.TAKE_OUT: "Take out",
    TaskKind.MEASURE: "Measure",
    TaskKind.BREAK: "Break",
}


def _view_task(facts: PieceFacts, task: TaskRow, clamps: Sequence[TaskClamps], now: datetime) -> TaskView:
    pieces = [facts.pieces[one] for one in task.pieces if one in facts.pieces]
    labels = [piece.label for piece in pieces]
    sets = list(dict.fromkeys(facts.treatments[piece.treatment_id].name for piece in pieces))
    what = sets[0] if len(sets) == 1 else f"{len(sets)} sets"
    state = _state_of(facts, task, now)
    return TaskView(
        id=task.id,
        kind=task.kind,
        words=f"{_verb(facts, task.kind, pieces)}: {what}, {len(labels)} piece{'' if len(labels) == 1 else 's'}",
        lanes=_lanes_of(task.kind, clamps),
        begin_utc=task.begin_utc,
        end_utc=task.end_utc,
        by_hand=task.kind in HANDS,
        odd=bool(task.odd),
        pinned=bool(task.pinned),
        can_pin=task.kind in PINNABLE and state != "done",
        state=state,
        piece_ids=list(task.pieces),
        labels=labels,
    )


def _verb(facts: PlanFacts, kind: TaskKind, pieces: Sequence[Piece]) -> str:
    glue = facts.glue_of(facts.treatments[pieces[0].treatment_id]) if pieces else ""
    return f"Glue with {glue}" if kind is TaskKind.GLUE and glue else _VERBS[kind]


def _lanes_of(kind: TaskKind, clamps: Sequence[TaskClamps]) -> list[str]:
    if kind is TaskKind.CLAMP:
        return [one.name for one in clamps] or ["clamps"]
    if kind is TaskKind.CURE:
        return ["cure"]
    if kind is TaskKind.EXPOSE:
        return ["exposure"]
    return ["hands", "rig"] if kind is TaskKind.BREAK else ["hands"]


def _state_of(facts: PieceFacts, task: TaskRow, now: datetime) -> str:
    pieces = [facts.pieces[one] for one in task.pieces if one in facts.pieces]
    pieces = [piece for piece in pieces if piece.void_reason is None]
    if task.kind is TaskKind.GLUE:
        done = all(piece.clamped_utc is not None for piece in pieces)
    elif task.kind in (TaskKind.CLAMP, TaskKind.RELEASE):
        done = all(piece.released_utc is not None for piece in pieces)
    elif task.kind is TaskKind.PUT_IN:
        done = all(facts.exposures.get(piece.id) for piece in pieces)
    elif task.kind in (TaskKind.EXPOSE, TaskKind.TAKE_OUT):
        done = all(any(one.ended_utc for one in facts.exposures.get(piece.id, ())) for piece in pieces)
    elif task.kind is TaskKind.MEASURE:
        done = all(facts.result_of(piece) is not None or not facts.unmeasured(piece) for piece in pieces)
    else:
        done = all(facts.result_of(piece) is not None for piece in pieces)
    if done:
        return "done"
    return "late" if task.kind in HANDS and _read(task.end_utc) < now else "to come"


def _say_kept(finish_utc: str, bound_utc: str | None, proved: bool, odd: int) -> list[str]:
    found = []
    if proved:
        found.append("No better timetable exists with these limits.")
    elif bound_utc is not None:
        gap = (_read(finish_utc) - _read(bound_utc)).total_seconds()
        found.append(f"Perhaps not the best: another search could gain at most {show_duration(gap)}.")
    else:
        found.append("Perhaps not the best: with a longer search fewer tasks may lie at odd hours.")
    if odd:
        found.append(f"{odd} task{'s lie' if odd > 1 else ' lies'} outside working hours.")
    return found


def find_next_batch(facts: PlanFacts, tasks: Sequence[TaskRow]) -> tuple[int, ...]:
    """Return the pieces of the next planned glue-up that none of has been glued of; empty without one."""
    for task in tasks:
        pieces = [facts.pieces[one] for one in task.pieces if one in facts.pieces]
        if task.kind == TaskKind.GLUE and pieces and all(one.batch_id is None for one in pieces):
            return tuple(piece.id for piece in pieces if piece.void_reason is None and piece.sawn_utc is not None)
    return ()


def list_coming(facts: PieceFacts, tasks: Sequence[TaskRow], now: datetime) -> list[TaskView]:
    """Return the tasks of a timetable that hands still have to do, in order, but for those that clocks show already."""
    kinds = (TaskKind.GLUE, TaskKind.RELEASE, TaskKind.PUT_IN, TaskKind.TAKE_OUT, TaskKind.MEASURE)
    views = [_view_task(facts, task, (), now) for task in tasks if task.kind in kinds]
    clocked = {piece.id for piece in facts.pieces.values() if piece.clamped_utc is not None}
    return [
        one
        for one in views
        if one.state != "done" and not (one.kind == TaskKind.RELEASE and clocked.intersection(one.piece_ids))
    ]
