"""The best timetable of a making, solved as a constraint program (OR-Tools CP-SAT); docs/method has the equations.

Every task that takes hands lies in working hours, or counts as a task at odd hours where those are allowed; clamps stay
on for the clamp time of their set within a tolerance; no clamp, hand or rig is in two places at once.
"""

from collections.abc import Generator, Iterator, Mapping
from dataclasses import dataclass, replace
from queue import SimpleQueue
from threading import Thread

from ortools.sat.python import cp_model

from adhaero.core.plan.greedy import find_finish, place_in_turn
from adhaero.core.plan.tasks import (
    EXPOSE_MIN,
    HANDS,
    TEST_AFTER_MIN,
    Line,
    Making,
    PlannedBatch,
    Remedy,
    Task,
    TaskKind,
    Timetable,
    find_close,
)
from adhaero.core.quantity import show_duration


@dataclass(frozen=True)
class _At:
    """A moment: so many minutes after the begin of a task, or from the origin."""

    key: str | None
    plus: int

    def after(self, minutes: int) -> "_At":
        return _At(self.key, self.plus + minutes)

    def read(self, begins: Mapping[str, int]) -> int:
        return self.plus if self.key is None else begins[self.key] + self.plus


# so many minutes that something which runs already is late weigh as much as one task at odd hours
_LATE_MIN = 15


class _Program:
    """A making as a constraint program: one variable for the begin of each task that takes hands."""

    def __init__(self, making: Making) -> None:
        self.making = making
        self.model = cp_model.CpModel()
        self.starts: dict[str, cp_model.IntVar] = {}
        self.odd: list[cp_model.IntVar] = []
        self.late: list[cp_model.IntVar] = []
        self._spans: list[tuple[str, TaskKind, str, str | None, _At, _At]] = []
        self._ends: list[_At] = []
        self._hands: list[cp_model.IntervalVar] = []
        self._rig: list[cp_model.IntervalVar] = []
        self._clamps: dict[str, list[tuple[cp_model.IntervalVar, int]]] = {}
        self._lengths: dict[str, int] = {}
        for one in making.batches:
            self._add_glue_up(one)
        self.finish = self.model.new_int_var(0, min(making.finish_by or making.horizon, making.horizon), "finish")
        self.model.add_max_equality(self.finish, [self._value(at) for at in self._ends] or [0])
        self.model.add_cumulative(self._hands, [1] * len(self._hands), making.hands)
        self.model.add_no_overlap(self._rig)
        stock = dict(making.clamps)
        for name, used in self._clamps.items():
            if name in stock:
                self.model.add_cumulative([one for one, _ in used], [number for _, number in used], stock[name])
        self._order_alike()
        self._bound_finish()

    def _value(self, at: _At) -> cp_model.LinearExpr | int:
        return at.plus if at.key is None else self.starts[at.key] + at.plus

    def _span(self, key: str, kind: TaskKind, of: tuple[str, str | None], start: _At, end: _At) -> None:
        self._spans.append((key, kind, *of, start, end))

    def _add_task(self, kind: TaskKind, name: str, of: tuple[str, str | None], length: int) -> _At:
        """Add a task that takes hands; return its begin."""
        making, key = self.making, f"{kind} {name}"
        start = self.model.new_int_var(making.now, making.horizon, key)
        self.starts[key] = start
        self._lengths[key] = length
        self._hands.append(self.model.new_fixed_size_interval_var(start, length, key))
        fits = [[low, high - length] for low, high in making.windows if high - length >= max(low, making.now)]
        inside = self.model.add_linear_expression_in_domain(start, cp_model.Domain.from_intervals(fits))
        if making.odd_hours:
            odd = self.model.new_bool_var(f"{key} odd")
            inside.only_enforce_if(odd.negated())
            self.odd.append(odd)
        if key in making.pinned:
            self.model.add(start == making.pinned[key])
        self._span(key, kind, of, _At(key, 0), _At(key, length))
        return _At(key, 0)

    def _add_glue_up(self, one: PlannedBatch) -> None:
        begin = _At(None, 0)
        if any(line.clamped_at is None and not line.broken for line in one.lines):
            begin = self._add_task(TaskKind.GLUE, one.key, (one.key, None), one.glue_min)
        for line in one.lines:
            if not line.broken:
                self._add_line(one.key, line, begin.after(find_close(one, line)))

    def _add_line(self, batch: str, line: Line, closed: _At) -> None:
        of = (batch, line.key)
        on = closed if line.clamped_at is None else _At(None, line.clamped_at)
        shut = closed if line.closed_at is None else _At(None, line.closed_at)
        off = self._add_clamps(of, line, on) if line.released_at is None else _At(None, line.released_at)
        cured, ready = None, off
        if line.expose_min:
            cured, ready = self._add_exposure(of, line, off)
        begin = self._add_task(TaskKind.MEASURE, line.key, of, line.measure_min + line.break_min)
        load = begin.after(line.measure_min)
        self._spans[-1] = (f"{TaskKind.MEASURE} {line.key}", TaskKind.MEASURE, *of, begin, load)
        self._span(f"{TaskKind.BREAK} {line.key}", TaskKind.BREAK, of, load, load.after(line.break_min))
        self._span(f"{TaskKind.CURE} {line.key}", TaskKind.CURE, of, off, cured or begin)
        self._rig.append(self.model.new_fixed_size_interval_var(self._value(load), line.break_min, f"{line.key} rig"))
        self._ends.append(load.after(line.break_min))
        model, age = self.model, self._value(cured or load) - self._value(shut)
        give = line.age_give_min
        model.add(self._value(begin) >= self._value(ready))
        if line.expose_min:
            model.add(self._value(begin) <= self._value(ready.after(TEST_AFTER_MIN)))
        model.add(age >= max(0, line.cure_min - (give or 0)))
        if give is not None:
            self._keep_below(age, line.cure_min + give, running=line.closed_at is not None)

    def _add_clamps(self, of: tuple[str, str | None], line: Line, on: _At) -> _At:
        """Add clamps and their release; return when the hands are done with it."""
        off = self._add_task(TaskKind.RELEASE, line.key, of, line.release_min)
        held = self._value(off) - self._value(on)
        self.model.add(held >= max(0, line.clamp_min - line.give_min))
        self._keep_below(held, line.clamp_min + line.give_min, running=line.clamped_at is not None)
        size = self.model.new_int_var(0, self.making.horizon, f"{line.key} in clamps")
        end = self._value(off.after(line.release_min))
        taken = self.model.new_interval_var(self._value(on), size, end, f"{line.key} clamps")
        for name, number in line.clamps:
            self._clamps.setdefault(name, []).append((taken, number))
        self._span(f"{TaskKind.CLAMP} {line.key}", TaskKind.CLAMP, of, on, off)
        return off.after(line.release_min)

    def _keep_below(self, what: cp_model.LinearExpr | int, most: int, *, running: bool) -> None:
        """Hold a time below its limit; what runs already may be late, as little as can be: it cannot be undone."""
        if not running:
            self.model.add(what <= most)
            return
        late = self.model.new_int_var(0, 2 * self.making.horizon, "late")
        self.model.add(what - most <= late)
        self.late.append(late)

    def _add_exposure(self, of: tuple[str, str | None], line: Line, off: _At) -> tuple[_At, _At]:
        """Add what the pieces go through; return when it begins and when they are out again."""
        put = self._add_task(TaskKind.PUT_IN, line.key, of, EXPOSE_MIN)
        out = self._add_task(TaskKind.TAKE_OUT, line.key, of, EXPOSE_MIN)
        self.model.add(self._value(put) >= self._value(off))
        self.model.add(self._value(out) - self._value(put) == EXPOSE_MIN + line.expose_min)
        self._span(f"{TaskKind.EXPOSE} {line.key}", TaskKind.EXPOSE, of, put.after(EXPOSE_MIN), out)
        return put, out.after(EXPOSE_MIN)

    def _order_alike(self) -> None:
        """Keep glue-ups that are alike in their order: trying the others would find nothing new."""
        last: dict[object, str] = {}
        for one in self.making.batches:
            key = f"{TaskKind.GLUE} {one.key}"
            if key not in self.starts or key in self.making.pinned:
                continue
            alike = (one.glue_min, tuple(replace(line, key="") for line in one.lines))
            if alike in last:
                self.model.add(self.starts[last[alike]] <= self.starts[key])
            last[alike] = key

    def _bound_finish(self) -> None:
        """Say what no timetable beats and a search finds late: hands and clamps do no more than they can."""
        finish, making = self.finish, self.making
        work = -(-sum(self._lengths.values()) // making.hands)
        for low, high in making.windows:
            there = high - max(low, making.now)
            if there >= work > 0:
                least = self.model.add(finish >= max(low, making.now) + work)
                if self.odd:
                    none = self.model.new_bool_var("nothing at odd hours")
                    self.model.add(sum(self.odd) >= 1).only_enforce_if(none.negated())
                    least.only_enforce_if(none)
                break
            work -= max(0, there)
        for name, number in making.clamps:
            busy = sum(
                taken * max(0, line.clamp_min - line.give_min)
                for one in making.batches
                for line in one.lines
                for clamps, taken in line.clamps
                if clamps == name and line.clamped_at is None and not line.broken
            )
            self.model.add(finish >= making.now + busy // max(1, number))

    def judge(self, begins: Mapping[str, int], gap: int | None = None) -> Timetable:
        """Return the timetable of tasks that begin so; `gap` is by how much the cost may still be above the best."""
        found = []
        for key, kind, batch, line, start, end in self._spans:
            low, high = start.read(begins), end.read(begins)
            outside = kind in HANDS and not self._is_inside(low, high)
            found.append(Task(key, kind, batch, line, low, high, outside))
        found.sort(key=lambda task: (task.start, task.end, task.key))
        finish = max((at.read(begins) for at in self._ends), default=0)
        odd = sum(not self._is_inside(begin, begin + self._lengths[key]) for key, begin in begins.items())
        known = None if gap is None or gap >= self.weight else max(0, finish - gap)
        return Timetable(tuple(found), finish, odd, known, gap == 0)

    def _is_inside(self, begin: int, end: int) -> bool:
        return any(low <= begin and end <= high for low, high in self.making.windows)

    @property
    def weight(self) -> int:
        """Return what a task at odd hours weighs, in minutes of the finish: more than all of them."""
        return self.making.horizon + 1

    def price(self, found: Timetable) -> int:
        """Return the cost of a timetable in which nothing that runs already is late."""
        return found.odd * self.weight + found.finish

    @property
    def cost(self) -> cp_model.LinearExprT:
        """Return what is as low as can be: odd hours and what runs late already, then the finish."""
        return sum(self.odd) * self.weight + sum(self.late) * (self.weight // _LATE_MIN) + self.finish


class _Teller(cp_model.CpSolverSolutionCallback):
    """Tells each better solution, and the bound at that moment."""

    def __init__(self, program: _Program, queue: "SimpleQueue[Timetable | None]") -> None:
        super().__init__()
        self._program, self._queue = program, queue
        self.solutions = 0

    def on_solution_callback(self) -> None:
        begins = {key: self.value(start) for key, start in self._program.starts.items()}
        self.solutions += 1
        gap = round(self.objective_value) - round(self.best_objective_bound)
        self._queue.put(self._program.judge(begins, gap))


def solve(making: Making, seconds: float = 10.0, workers: int = 2) -> Generator[Timetable, None, None]:
    """Yield better and better timetables until the best one is proved or the time is up; nothing if none fits.

    The first, where it goes, is that of first come, first served. Fewest tasks at odd hours come first, then the
    earliest finish; at last, with both of them kept, every task is moved as early as a short search finds.

    Parameters
    ----------
    seconds : for the search. workers : threads of the solver.
    """
    program = _Program(making)
    best: Timetable | None = None
    in_turn: Timetable | None = None
    begins = _begin_with(making)
    if begins is not None:
        best = in_turn = program.judge(begins)
        yield best
        for key, start in program.starts.items():
            program.model.add_hint(start, begins[key])
    program.model.minimize(program.cost)
    solver = _make_solver(seconds, workers)
    queue: SimpleQueue[Timetable | None] = SimpleQueue()
    teller = _Teller(program, queue)

    troubles: list[Exception] = []

    def search() -> None:
        try:
            solver.solve(program.model, teller)
        except Exception as error:
            troubles.append(error)
        finally:
            queue.put(None)

    thread = Thread(target=search, daemon=True)
    thread.start()
    try:
        while (found := queue.get()) is not None:
            if best is None or _rank(found) <= _rank(best):
                best = found
                yield found
    finally:
        solver.stop_search()
        thread.join()
    if troubles:
        raise troubles[0]
    better = in_turn is None or bool(program.late) or round(solver.objective_value) <= program.price(in_turn)
    if teller.solutions and better:
        yield _move_early(program, solver, workers)
    elif in_turn is not None and begins is not None:
        # the search has not beaten first come, first served
        yield program.judge(begins, program.price(in_turn) - round(solver.best_objective_bound))


def _begin_with(making: Making) -> dict[str, int] | None:
    """Return first come, first served, where it keeps to what is pinned and to the latest end."""
    begins = None if making.pinned else place_in_turn(making)
    if begins is None or (making.finish_by is not None and find_finish(making, begins) > making.finish_by):
        return None
    return begins


def _rank(found: Timetable) -> tuple[int, int]:
    return found.odd, found.finish


def _make_solver(seconds: float, workers: int) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    solver.parameters.num_workers = workers
    solver.parameters.random_seed = 4117
    return solver


def _move_early(program: _Program, solved: cp_model.CpSolver, workers: int) -> Timetable:
    """Return a timetable as good as the best, with every task in it as early as a short search finds."""
    model, cost = program.model, round(solved.objective_value)
    gap = cost - round(solved.best_objective_bound)
    begins = {key: solved.value(start) for key, start in program.starts.items()}
    model.add(program.cost <= cost)
    model.clear_hints()  # type: ignore[no-untyped-call]
    for key, start in program.starts.items():
        model.add_hint(start, begins[key])
    model.minimize(sum(program.starts.values()))
    solver = _make_solver(2.0, workers)
    if solver.solve(model) in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        begins = {key: solver.value(start) for key, start in program.starts.items()}
    return program.judge(begins, gap)


def find_remedies(making: Making, seconds_each: float = 2.0) -> tuple[Remedy, ...]:
    """Return the smallest changes of one limit each with which a making that does not fit would.

    Tried are one more of each clamp (and more), another pair of hands, one and three hours more at either end of the
    day, more give in the clamp times, a later end, nothing pinned, and tasks at odd hours (with how few it goes).
    """
    found = []
    for steps in _list_changes(making):
        fits = (remedy for remedy, other in steps if _fits(other, seconds_each))
        if (remedy := next(fits, None)) is not None:
            found.append(remedy)
    if not making.odd_hours:
        *_, last = (None, *solve(replace(making, odd_hours=True), seconds_each))
        if last is not None:
            words = f"It fits with {last.odd} task{'s' if last.odd > 1 else ''} outside working hours."
            found.append(Remedy("working hours", words))
    return tuple(found)


def _list_changes(making: Making) -> Iterator[list[tuple[Remedy, Making]]]:
    """Yield, limit by limit, changes from the smallest to the largest."""
    for name, _ in making.clamps:
        steps = []
        for more in (1, 2, 4, 8):
            stock = tuple((n, k + more if n == name else k) for n, k in making.clamps)
            steps.append((Remedy(name, f"It fits with {more} more of “{name}”."), replace(making, clamps=stock)))
        yield steps
    yield [(Remedy("hands", "It fits with one more pair of hands."), replace(making, hands=making.hands + 1))]
    longer = ((60, "one hour"), (180, "three hours"))
    yield [
        (
            Remedy("working hours", f"It fits when work begins {words} earlier."),
            replace(making, windows=tuple((max(0, low - by), high) for low, high in making.windows)),
        )
        for by, words in longer
    ]
    yield [
        (
            Remedy("working hours", f"It fits when work ends {words} later."),
            replace(making, windows=tuple((low, high + by) for low, high in making.windows)),
        )
        for by, words in longer
    ]
    yield [_give_more(making, times) for times in (2, 4, 8, 16)]
    if making.finish_by is not None:
        yield [(Remedy("the end", "It fits with a later end."), replace(making, finish_by=None))]
    if making.pinned:
        yield [(Remedy("pinned tasks", "It fits when pinned tasks may move."), replace(making, pinned={}))]


def _give_more(making: Making, times: int) -> tuple[Remedy, Making]:
    wider = tuple(
        replace(one, lines=tuple(replace(line, give_min=times * line.give_min) for line in one.lines))
        for one in making.batches
    )
    most = max((line.give_min for one in wider for line in one.lines), default=0)
    words = f"It fits when clamps may come off up to {show_duration(60 * most)} off their time."
    return Remedy("clamp time", words, times), replace(making, batches=wider)


def _fits(making: Making, seconds: float) -> bool:
    found = solve(making, seconds)
    try:
        return next(found, None) is not None
    finally:
        found.close()
