"""The timetable of a trial: solved from the settled plan and the shop, kept, pinned, planned anew as things slip."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from math import floor

from adhaero.bench.book import Book, read_book
from adhaero.bench.glueups import Gathered, Pace, gather_glue_ups
from adhaero.bench.hours import read_hands, read_hours, read_zone
from adhaero.bench.moments import check_moment_ahead
from adhaero.bench.planning import follow_plan, make_plan
from adhaero.bench.supplies import read_supplies
from adhaero.core.errors import NotThere, StateError
from adhaero.core.plan.hours import list_windows
from adhaero.core.plan.tasks import HANDS, Making, Task, TaskKind, Timetable, estimate_horizon
from adhaero.core.plan.timetable import Remedy, find_remedies, solve
from adhaero.core.quantity import Bounds, Kind, parse_quantity, show_duration
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece
from adhaero.store.rows import amend, insert
from adhaero.store.timetables import TaskRow, delete_timetable, fetch_timetable, list_tasks

SECONDS = 10.0
MOST_PIECES = 1000
_MOST_GIVE_PCT = 80


@dataclass(frozen=True)
class TimetableEntry:
    """How a timetable is asked for.

    Attributes
    ----------
    odd_hours : hands may work outside working hours where nothing else fits. finish_by_utc : the latest end, or None.
    give : by how much of its clamp time a clamp may come off early or late. break_each : time to break one piece.
    """

    odd_hours: bool = False
    finish_by_utc: str | None = None
    give: str = "5 %"
    break_each: str = "3 min"


@dataclass(frozen=True)
class RemedyView:
    """What would make it fit, in words; how to ask for it, where that is a matter of asking."""

    words: str
    entry: TimetableEntry | None


@dataclass(frozen=True)
class Found:
    """How far the search has come; at its end what was kept, or what would make it fit.

    Attributes
    ----------
    finish_utc, odd : of the best so far; None while nothing is found. words : how good that is.
    """

    finish_utc: str | None
    odd: int
    words: str
    done: bool = False
    remedies: list[RemedyView] | None = None


@dataclass(frozen=True)
class TaskView:
    """One task of the timetable, and how it really went.

    Attributes
    ----------
    lanes : the resources it stands on: hands, a clamp by its name, cure, exposure, rig. state : done, late, or to come.
    """

    id: int
    kind: str
    words: str
    lanes: list[str]
    begin_utc: str
    end_utc: str
    odd: bool
    pinned: bool
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
        book = read_book(connection, trial_id)
        row, tasks = fetch_timetable(connection, trial_id), list_tasks(connection, trial_id)
        hours, zone = read_hours(connection), read_zone(connection)
        supplies = read_supplies(connection)
    forces = follow_plan(make_plan(book, supplies, ())).forces
    assumed = gather_glue_ups(book, supplies, forces, now, Pace(0.05, 3)).assumed if book.pieces else ()
    if row is None:
        return TimetableView(TimetableEntry(), None, None, [], list(assumed), [], [], [], 0)
    views = [_view_task(book, task, now) for task in tasks]
    late = sum(one.state == "late" for one in views)
    first, last = (_read(text) for text in (min(t.begin_utc for t in tasks), max(t.end_utc for t in tasks)))
    # a trial over years is drawn without its nights
    windows = list_windows(hours, first, last, zone) if last - first < timedelta(days=120) else []
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


def _view_task(book: Book, task: TaskRow, now: datetime) -> TaskView:
    pieces = [book.pieces[one] for one in task.piece_ids if one in book.pieces]
    kind = TaskKind(task.kind)
    labels = [piece.label for piece in pieces]
    sets = list(dict.fromkeys(book.treatments[piece.treatment_id].name for piece in pieces))
    what = sets[0] if len(sets) == 1 else f"{len(sets)} sets"
    return TaskView(
        id=task.id,
        kind=task.kind,
        words=f"{_verb(book, kind, pieces)}: {what}, {len(labels)} piece{'' if len(labels) == 1 else 's'}",
        lanes=_lanes_of(kind, task.clamps),
        begin_utc=task.begin_utc,
        end_utc=task.end_utc,
        odd=bool(task.odd),
        pinned=bool(task.pinned),
        state=_state_of(book, task, kind, now),
        piece_ids=list(task.piece_ids),
        labels=labels,
    )


def _verb(book: Book, kind: TaskKind, pieces: Sequence[Piece]) -> str:
    glue = book.glue_of(book.treatments[pieces[0].treatment_id]) if pieces else ""
    return f"Glue with {glue}" if kind is TaskKind.GLUE and glue else _VERBS[kind]


def _lanes_of(kind: TaskKind, clamps: str) -> list[str]:
    if kind is TaskKind.CLAMP:
        return [one.rpartition(" × ")[2] for one in clamps.split("; ") if one] or ["clamps"]
    if kind is TaskKind.CURE:
        return ["cure"]
    if kind is TaskKind.EXPOSE:
        return ["exposure"]
    return ["hands", "rig"] if kind is TaskKind.BREAK else ["hands"]


def _state_of(book: Book, task: TaskRow, kind: TaskKind, now: datetime) -> str:
    pieces = [book.pieces[one] for one in task.piece_ids if one in book.pieces]
    pieces = [piece for piece in pieces if piece.void_reason is None]
    if kind in (TaskKind.GLUE,):
        done = all(piece.clamped_utc is not None for piece in pieces)
    elif kind in (TaskKind.CLAMP, TaskKind.RELEASE):
        done = all(piece.released_utc is not None for piece in pieces)
    elif kind is TaskKind.PUT_IN:
        done = all(book.stages.get(piece.id) for piece in pieces)
    elif kind in (TaskKind.EXPOSE, TaskKind.TAKE_OUT):
        done = all(any(one.ended_utc for one in book.stages.get(piece.id, ())) for piece in pieces)
    elif kind is TaskKind.MEASURE:
        done = all(book.result_of(piece) is not None or not book.unmeasured(piece) for piece in pieces)
    else:
        done = all(book.result_of(piece) is not None for piece in pieces)
    if done:
        return "done"
    return "late" if kind in HANDS and _read(task.end_utc) < now else "to come"


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


def make_timetable(file: ShopFile, trial_id: int, entry: TimetableEntry, seconds: float = SECONDS) -> Iterator[Found]:
    """Search the best timetable of a settled plan, tell each better one, and keep the best.

    What has happened stays as it was, pinned tasks stay where they are, and everything else begins from now on.

    Raises
    ------
    StateError : the plan is not settled, or nothing is left to do. EntryError : something typed cannot be read.
    """
    pace = _read_pace(entry)
    now = file.clock()
    origin = now.replace(second=0, microsecond=0) + timedelta(minutes=1)
    with file.reading() as connection:
        book = read_book(connection, trial_id)
        supplies = read_supplies(connection)
        hours, hands, zone = read_hours(connection), read_hands(connection), read_zone(connection)
        before = list_tasks(connection, trial_id)
    if not book.pieces:
        raise StateError("The plan is not settled.", "A timetable needs pieces with labels.", "Settle the plan first.")
    forces = follow_plan(make_plan(book, supplies, ())).forces
    gathered = gather_glue_ups(book, supplies, forces, origin, pace)
    if not gathered.glue_ups:
        raise StateError("Nothing is left to do: every piece is broken.")
    if len(book.pieces) > MOST_PIECES:
        raise StateError(
            f"The trial has {len(book.pieces)} pieces.", f"A timetable is made for up to {MOST_PIECES}.",
            "Glue by the order of the rack; the clocks on Today run for every trial.",
        )  # fmt: skip
    weekly = sum(((b.hour - a.hour) * 60 + b.minute - a.minute for a, b in (at for at in hours.week if at)), 0)
    horizon = estimate_horizon(gathered.glue_ups, weekly * hands)
    windows = list_windows(hours, origin, origin + timedelta(minutes=horizon), zone)
    making = Making(
        glue_ups=gathered.glue_ups,
        windows=tuple((_minute(low, origin), _minute(high, origin)) for low, high in windows),
        horizon=horizon,
        hands=hands,
        clamps=tuple((one.name, one.number) for one in supplies.clamps),
        odd_hours=entry.odd_hours,
        finish_by=None if entry.finish_by_utc is None else _minute(_read_end(entry.finish_by_utc, now), origin),
        pinned=_find_pinned(before, origin),
    )
    return _search(file, book, entry, making, gathered, origin, seconds)


def _read_pace(entry: TimetableEntry) -> Pace:
    give = parse_quantity(
        entry.give, Kind.PERCENT, bounds=Bounds(highest=_MOST_GIVE_PCT, zero_allowed=True), field="give"
    )
    each = parse_quantity(entry.break_each, Kind.TIME, "min", Bounds(highest=3600), field="break_each")
    return Pace(give.si / 100, each.si / 60)


def _read_end(text: str, now: datetime) -> datetime:
    return check_moment_ahead(text, now, "finish_by_utc")


def _minute(moment: datetime, origin: datetime) -> int:
    return floor((moment - origin).total_seconds() / 60)


def _find_pinned(before: Sequence[TaskRow], origin: datetime) -> dict[str, int]:
    """Return the begins of pinned tasks that are still to come; measuring and breaking are one task to the search."""
    return {
        task.name: _minute(_read(task.begin_utc), origin)
        for task in before
        if task.pinned and _read(task.begin_utc) >= origin
    }


def _search(
    file: ShopFile,
    book: Book,
    entry: TimetableEntry,
    making: Making,
    gathered: Gathered,
    origin: datetime,
    seconds: float,
) -> Iterator[Found]:
    best: Timetable | None = None
    for better in solve(making, seconds):
        best = better
        yield Found(_text(better.finish, origin), better.odd, _say_bound(better))
    if best is None:
        yield Found(None, 0, "Nothing fits. Looking for what would make it fit …")
        remedies = find_remedies(making)
        views = [RemedyView(one.words, _ask_otherwise(entry, one)) for one in remedies]
        views = views or [RemedyView("No single change makes it fit: ease several limits.", None)]
        blame = list(dict.fromkeys(one.limit for one in remedies))
        said = f"Nothing fits; what stands in the way: {', '.join(blame)}." if blame else "Nothing fits."
        yield Found(None, 0, said, done=True, remedies=views)
        return
    _keep(file, book.trial.id, entry, making, gathered, origin, best)
    yield Found(_text(best.finish, origin), best.odd, _say_bound(best), done=True)


def _ask_otherwise(entry: TimetableEntry, remedy: Remedy) -> TimetableEntry | None:
    """Return how to ask for a remedy; None where the shop would have to change."""
    if remedy.times_give > 1:
        give = parse_quantity(entry.give, Kind.PERCENT, field="give").si * remedy.times_give
        return replace(entry, give=f"{give:g} %") if give <= _MOST_GIVE_PCT else None
    if remedy.words.endswith("outside working hours."):
        return replace(entry, odd_hours=True)
    return replace(entry, finish_by_utc=None) if remedy.limit == "the end" else None


def _say_bound(found: Timetable) -> str:
    if found.proved:
        return "nothing better exists"
    if found.finish_bound is None:
        return "searching for fewer tasks at odd hours"
    return f"at most {show_duration(60 * (found.finish - found.finish_bound))} to gain"


def _text(minute: int, origin: datetime) -> str:
    return to_text(origin + timedelta(minutes=minute))


def _keep(
    file: ShopFile,
    trial_id: int,
    entry: TimetableEntry,
    making: Making,
    gathered: Gathered,
    origin: datetime,
    best: Timetable,
) -> None:
    clamps = {line.key: line.clamps for one in gathered.glue_ups for line in one.lines}
    with file.changing("Made the timetable", trial_id) as connection:
        delete_timetable(connection, trial_id)
        insert(
            connection,
            "timetable",
            {
                "trial_id": trial_id,
                "solved_utc": file.now(),
                "finish_utc": _text(best.finish, origin),
                "bound_utc": None if best.finish_bound is None else _text(best.finish_bound, origin),
                "proved": int(best.proved),
                "odd_hours": int(entry.odd_hours),
                "finish_by_utc": entry.finish_by_utc,
                "give_typed": entry.give.strip(),
                "break_typed": entry.break_each.strip(),
            },
        )
        for task in best.tasks:
            if task.end > task.start:
                insert(connection, "task", _row_of(task, trial_id, gathered.pieces, clamps, making, origin))


def _row_of(
    task: Task,
    trial_id: int,
    pieces: Mapping[str, Sequence[Piece]],
    clamps: Mapping[str, tuple[tuple[str, int], ...]],
    making: Making,
    origin: datetime,
) -> dict[str, object]:
    mine = pieces[task.line or task.glue_up]
    return {
        "trial_id": trial_id,
        "name": task.key,
        "kind": task.kind,
        "glue_up": task.glue_up,
        "begin_utc": _text(task.start, origin),
        "end_utc": _text(task.end, origin),
        "odd": int(task.odd),
        "pinned": int(task.key in making.pinned),
        "pieces": " ".join(str(piece.id) for piece in mine),
        "clamps": "; ".join(f"{number} × {name}" for name, number in clamps.get(task.line or "", ())),
    }


def pin_task(file: ShopFile, trial_id: int, task_id: int, *, pinned: bool, begin_utc: str | None = None) -> None:
    """Pin a task where it is or at another begin, or let it move again; the rest follows when it is planned anew.

    Raises
    ------
    NotThere : no such task. StateError : it runs by itself, and follows from others. EntryError : a begin in the past.
    """
    with file.changing("Pinned a task" if pinned else "Let a task move", trial_id) as connection:
        task = next((one for one in list_tasks(connection, trial_id) if one.id == task_id), None)
        if task is None:
            raise NotThere(f"There is no task {task_id} in this timetable.", do="It may have been planned anew.")
        if task.kind not in HANDS or task.kind == TaskKind.BREAK:
            raise StateError(
                "This follows from another task.", "Tasks that begin by hand can be pinned.",
                "Pin the glue-up, the release or the measuring before it.",
            )  # fmt: skip
        values: dict[str, object] = {"pinned": int(pinned)}
        if begin_utc is not None:
            begin = check_moment_ahead(begin_utc, file.clock(), "begin_utc")
            length = _read(task.end_utc) - _read(task.begin_utc)
            values |= {"begin_utc": to_text(begin), "end_utc": to_text(begin + length)}
        amend(connection, "task", task_id, values)


def remove_timetable(file: ShopFile, trial_id: int) -> None:
    """Take the timetable away; what was done stays."""
    with file.changing("Took the timetable away", trial_id) as connection:
        delete_timetable(connection, trial_id)


def find_next_glue_up(book: Book, tasks: Sequence[TaskRow]) -> tuple[int, ...]:
    """Return the pieces of the next planned glue-up that none of has been glued of; empty without one."""
    for task in tasks:
        pieces = [book.pieces[one] for one in task.piece_ids if one in book.pieces]
        if task.kind == TaskKind.GLUE and pieces and all(one.batch_id is None for one in pieces):
            return tuple(piece.id for piece in pieces if piece.void_reason is None and piece.sawn_utc is not None)
    return ()


def list_coming(book: Book, tasks: Sequence[TaskRow], now: datetime) -> list[TaskView]:
    """Return the tasks of a timetable that hands still have to do, in order, but for those that clocks show already."""
    kinds = (TaskKind.GLUE, TaskKind.RELEASE, TaskKind.PUT_IN, TaskKind.TAKE_OUT, TaskKind.MEASURE)
    views = [_view_task(book, task, now) for task in tasks if task.kind in kinds]
    clocked = {piece.id for piece in book.pieces.values() if piece.clamped_utc is not None}
    return [
        one
        for one in views
        if one.state != "done" and not (one.kind == TaskKind.RELEASE and clocked.intersection(one.piece_ids))
    ]
