"""Making the timetable of a trial: searched from the settled plan and the shop, kept, pinned, planned anew."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from adhaero.bench.facts.entry import Entry, Moment
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.times import check_moment_ahead
from adhaero.bench.plan.consequences import follow_plan, make_plan
from adhaero.bench.shop.hours import read_shop_time
from adhaero.bench.shop.supplies import read_supplies
from adhaero.bench.timetable.batches import Gathered, gather_batches
from adhaero.bench.timetable.view import TimetableEntry
from adhaero.core.errors import NotThere, StateError
from adhaero.core.form import FormReader
from adhaero.core.plan.glue_ups import Pace
from adhaero.core.plan.making import begin_making, find_minute
from adhaero.core.plan.tasks import PINNABLE, Making, Remedy, Task, Timetable
from adhaero.core.quantity import Bounds, Kind, parse_quantity, show_duration
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece
from adhaero.store.timetables import (
    NewTask,
    TaskRow,
    amend_task,
    delete_timetable,
    insert_task,
    insert_task_clamps,
    insert_timetable,
    list_tasks,
)

SECONDS = 10.0


MOST_PIECES = 1000


_MOST_GIVE_PCT = 80


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


def _read(text: str) -> datetime:
    return datetime.fromisoformat(text)


@dataclass(frozen=True)
class Pin(Entry):
    """Whether a task stays where it is, and where if not there."""

    pinned: bool
    begin_utc: Moment | None = None


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
        facts = read_trial(connection, trial_id)
        supplies = read_supplies(connection)
        shop = read_shop_time(connection)
        before = list_tasks(connection, trial_id)
    if not facts.pieces:
        raise StateError("The plan is not settled.", "A timetable needs pieces with labels.", "Settle the plan first.")
    forces = follow_plan(make_plan(facts, supplies, ())).forces
    gathered = gather_batches(facts, supplies, forces, origin, pace)
    if not gathered.batches:
        raise StateError("Nothing is left to do: every piece is broken.")
    if len(facts.pieces) > MOST_PIECES:
        raise StateError(
            f"The trial has {len(facts.pieces)} pieces.", f"A timetable is made for up to {MOST_PIECES}.",
            "Glue by the order of the rack; the clocks on Today run for every trial.",
        )  # fmt: skip
    making = replace(
        begin_making(gathered.batches, shop, [(one.name, one.number) for one in supplies.clamps], origin),
        odd_hours=entry.odd_hours,
        finish_by=None if entry.finish_by_utc is None else find_minute(_read_end(entry.finish_by_utc, now), origin),
        pinned=_find_pinned(before, origin),
    )
    return _search(file, facts, entry, making, gathered, origin, seconds)


def _read_pace(entry: TimetableEntry) -> Pace:
    form, most = FormReader(), Bounds(highest=_MOST_GIVE_PCT, zero_allowed=True)
    give = form.read(parse_quantity, entry.give, Kind.PERCENT, bounds=most, field="give")
    each = form.read(parse_quantity, entry.break_each, Kind.TIME, "min", Bounds(highest=3600), field="break_each")
    form.finish()
    return Pace(give.value.si / 100, each.value.si / 60)


def _read_end(text: str, now: datetime) -> datetime:
    return check_moment_ahead(text, now, "finish_by_utc")


def _find_pinned(before: Sequence[TaskRow], origin: datetime) -> dict[str, int]:
    """Return the begins of pinned tasks that are still to come; measuring and breaking are one task to the search."""
    return {
        task.name: find_minute(_read(task.begin_utc), origin)
        for task in before
        if task.pinned and _read(task.begin_utc) >= origin
    }


def _search(
    file: ShopFile,
    facts: PlanFacts,
    entry: TimetableEntry,
    making: Making,
    gathered: Gathered,
    origin: datetime,
    seconds: float,
) -> Iterator[Found]:
    # the solver takes longest of all to load: the program starts without it
    from adhaero.core.plan.timetable import find_remedies, solve

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
    _keep(file, facts.trial.id, entry, making, gathered, origin, best)
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
    clamps = {line.key: line.clamps for one in gathered.batches for line in one.lines}
    with file.changing("Made the timetable", trial_id) as connection:
        delete_timetable(connection, trial_id)
        insert_timetable(
            connection,
            trial_id=trial_id,
            solved_utc=file.now(),
            finish_utc=_text(best.finish, origin),
            bound_utc=None if best.finish_bound is None else _text(best.finish_bound, origin),
            proved=best.proved,
            odd_hours=entry.odd_hours,
            finish_by_utc=entry.finish_by_utc,
            give_typed=entry.give.strip(),
            break_typed=entry.break_each.strip(),
        )
        for task in best.tasks:
            if task.end > task.start:
                task_id = insert_task(connection, **_row_of(task, trial_id, gathered.pieces, making, origin))
                for name, number in clamps.get(task.line or "", ()):
                    insert_task_clamps(connection, task_id=task_id, name=name, number=number)


def _row_of(
    task: Task,
    trial_id: int,
    pieces: Mapping[str, Sequence[Piece]],
    making: Making,
    origin: datetime,
) -> NewTask:
    mine = pieces[task.line or task.batch]
    return NewTask(
        trial_id=trial_id,
        name=task.key,
        kind=task.kind,
        batch=task.batch,
        begin_utc=_text(task.start, origin),
        end_utc=_text(task.end, origin),
        odd=task.odd,
        pinned=task.key in making.pinned,
        pieces=[piece.id for piece in mine],
    )


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
        if task.kind not in PINNABLE:
            raise StateError(
                "This follows from another task.", "Tasks that begin by hand can be pinned.",
                "Pin the glue-up, the release or the measuring before it.",
            )  # fmt: skip
        amend_task(connection, task_id, pinned=pinned)
        if begin_utc is not None:
            begin = check_moment_ahead(begin_utc, file.clock(), "begin_utc")
            length = _read(task.end_utc) - _read(task.begin_utc)
            amend_task(connection, task_id, begin_utc=to_text(begin), end_utc=to_text(begin + length))


def remove_timetable(file: ShopFile, trial_id: int) -> None:
    """Take the timetable away; what was done stays."""
    with file.changing("Took the timetable away", trial_id) as connection:
        delete_timetable(connection, trial_id)
