"""Timetables: nothing is in two places at once, clamp times hold, and what does not fit is told with what would."""

from dataclasses import replace
from threading import enumerate as enumerate_threads

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adhaero.core.plan.greedy import find_finish, place_in_turn
from adhaero.core.plan.tasks import Line, Making, PlannedBatch, TaskKind, Timetable, estimate_horizon
from adhaero.core.plan.timetable import find_remedies, solve

DAY = 1440
WEEK = tuple((day * DAY + 8 * 60, day * DAY + 18 * 60) for day in range(40) if day % 7 < 5)


def line(key: str, clamp: int = 120, cure: int = 24 * 60, **changes: object) -> Line:
    plain = Line(key, (("bar", 2),), clamp, max(1, clamp // 20), cure, None, 0, 3, 4, 12)
    return replace(plain, **changes)  # type: ignore[arg-type]


def making(*lines: Line, glue: int = 20, **changes: object) -> Making:
    batches = tuple(PlannedBatch(f"g{one.key}", glue, (one,)) for one in lines)
    plain = Making(batches, WEEK, min(40 * DAY, estimate_horizon(batches, 50 * 60)), clamps=(("bar", 4),))
    return replace(plain, **changes)  # type: ignore[arg-type]


def best(wanted: Making, seconds: float = 4.0) -> Timetable | None:
    *_, last = (None, *solve(wanted, seconds))
    return last


def at(found: Timetable, kind: TaskKind, key: str) -> tuple[int, int]:
    return next((task.start, task.end) for task in found.tasks if task.kind is kind and task.line == key)


def check(wanted: Making, found: Timetable) -> None:
    """Hold a timetable to its limits, one by one, without the solver."""
    lines = {one.key: one for batch in wanted.batches for one in batch.lines}
    by_hand = [task for task in found.tasks if task.kind not in (TaskKind.CLAMP, TaskKind.CURE, TaskKind.EXPOSE)]
    for task in by_hand:
        busy = sum(other.start <= task.start < other.end for other in by_hand)
        assert busy <= wanted.hands, f"{busy} pairs of hands at {task.start}"
        inside = any(low <= task.start and task.end <= high for low, high in wanted.windows)
        assert inside or (wanted.odd_hours and task.odd)
    held = [(task, lines[task.line or ""]) for task in found.tasks if task.kind is TaskKind.CLAMP]
    for task, one in held:
        assert abs(task.end - task.start - one.clamp_min) <= one.give_min
        for name, number in wanted.clamps:
            taken = sum(
                dict(other.clamps).get(name, 0)
                for seen, other in held
                if seen.start <= task.start < seen.end + other.release_min
            )
            assert taken <= number
    for one in lines.values():
        closed = next(t.end for t in found.tasks if t.kind is TaskKind.GLUE and t.batch == f"g{one.key}")
        assert at(found, TaskKind.BREAK, one.key)[0] - closed >= one.cure_min - (one.age_give_min or 0)
        assert at(found, TaskKind.MEASURE, one.key)[0] >= at(found, TaskKind.RELEASE, one.key)[1]


def test_one_glue_up_is_done_the_next_day() -> None:
    found = best(making(line("a")))
    assert found is not None
    # glued 8:00 to 8:20; measured while the last minutes of the cure run, broken from 8:20 on the next day
    assert found.finish == DAY + 8 * 60 + 20 + 12
    assert (found.proved, found.odd, found.finish_bound) == (True, 0, found.finish)
    assert at(found, TaskKind.CLAMP, "a")[0] == 8 * 60 + 20


def test_too_few_clamps_make_rounds() -> None:
    """Fourteen pieces, two to a weight set, two weight sets, 24 h each: four rounds."""
    weights = [line(f"w{n}", clamp=DAY, cure=DAY, give_min=0, clamps=(("weight", 1),)) for n in range(7)]
    days = tuple((day * DAY, day * DAY + DAY) for day in range(40))
    wanted = making(*weights, glue=5, clamps=(("weight", 2),), windows=days)
    found = best(wanted)
    assert found is not None
    check(wanted, found)
    starts = sorted(task.start for task in found.tasks if task.kind is TaskKind.CLAMP)
    rounds = [sum(DAY * n <= one < DAY * n + 300 for one in starts) for n in range(4)]
    assert rounds == [2, 2, 2, 1]


@settings(max_examples=12)
@given(st.lists(st.sampled_from([30, 60, 120, 300]), min_size=1, max_size=7), st.integers(1, 2), st.integers(2, 6))
def test_every_timetable_keeps_its_limits(clamp_times: list[int], hands: int, clamps: int) -> None:
    wanted = making(
        *(line(str(n), clamp) for n, clamp in enumerate(clamp_times)), hands=hands, clamps=(("bar", clamps),)
    )
    in_turn = place_in_turn(wanted)
    tables = list(solve(wanted, 1.5))
    assert tables
    for found in tables:
        check(wanted, found)
    finishes = [one.finish for one in tables]
    assert finishes == sorted(finishes, reverse=True)
    assert in_turn is None or finishes[-1] <= find_finish(wanted, in_turn)
    assert tables[-1].finish_bound is None or tables[-1].finish_bound <= finishes[-1]


def test_ages_are_broken_at_their_hour() -> None:
    ages = [line(f"a{hours}", 30, hours * 60, age_give_min=5) for hours in (4, 6, 24, 48)]
    wanted = making(*ages, clamps=())
    found = best(wanted)
    assert found is not None
    for one in ages:
        closed = next(t.end for t in found.tasks if t.kind is TaskKind.GLUE and t.batch == f"g{one.key}")
        assert abs(at(found, TaskKind.BREAK, one.key)[0] - closed - one.cure_min) <= 5


def test_what_is_soaked_is_tested_while_it_is_wet() -> None:
    found = best(making(line("s", expose_min=DAY)))
    assert found is not None
    into, out = at(found, TaskKind.PUT_IN, "s"), at(found, TaskKind.TAKE_OUT, "s")
    assert out[0] - into[1] == DAY
    assert into[0] - at(found, TaskKind.CLAMP, "s")[0] >= DAY, "cured first"
    assert 0 <= at(found, TaskKind.MEASURE, "s")[0] - out[1] <= 240


def test_a_clamp_time_that_ends_at_night_does_not_fit_and_what_would_is_told() -> None:
    wanted = making(line("n", clamp=12 * 60))
    assert best(wanted) is None
    remedies = {one.words for one in find_remedies(wanted)}
    assert "It fits with 1 task outside working hours." in remedies
    assert "It fits when work ends three hours later." in remedies
    assert "It fits with one more pair of hands." not in remedies
    assert not any("more of “bar”" in words for words in remedies)
    allowed = best(replace(wanted, odd_hours=True))
    assert allowed is not None
    assert allowed.odd == 1
    wider = replace(wanted, batches=(PlannedBatch("gn", 20, (line("n", clamp=12 * 60, give_min=150),)),))
    assert best(wider) is not None


def test_ten_clamps_for_twelve_lines_are_blamed() -> None:
    # one hour at a time, all of them today, and each in clamps for most of the day
    lines = [line(str(n), 500, 520, clamps=(("bar", 1),), give_min=2) for n in range(12)]
    wanted = making(*lines, glue=2, clamps=(("bar", 10),), finish_by=10 * DAY, hands=3)
    one_day = replace(wanted, windows=((8 * 60, 20 * 60),), finish_by=20 * 60)
    assert best(one_day) is None
    remedies = find_remedies(one_day)
    assert any(one.words == "It fits with 2 more of “bar”." for one in remedies)


def test_a_pinned_task_stays() -> None:
    wanted = making(line("a"), line("b"), pinned={"glue ga": 2 * DAY + 600})
    found = best(wanted)
    assert found is not None
    assert next(task.start for task in found.tasks if task.key == "glue ga") == 2 * DAY + 600
    assert next(task.start for task in found.tasks if task.key == "glue gb") < DAY


def test_what_has_happened_stays_and_the_rest_follows() -> None:
    running = line("r", closed_at=-60, clamped_at=-60)
    overdue = line("o", closed_at=-500, clamped_at=-500)
    wanted = making(running, overdue, line("new"), now=9 * 60, windows=((9 * 60, 18 * 60), *WEEK[1:]))
    found = best(wanted)
    assert found is not None
    assert at(found, TaskKind.CLAMP, "r")[0] == -60
    assert at(found, TaskKind.RELEASE, "o")[0] >= 9 * 60
    assert not any(task.kind is TaskKind.GLUE and task.batch in ("gr", "go") for task in found.tasks)


def test_a_trial_over_years_is_solved() -> None:
    ages = [line(f"y{years}", 60, years * 525_960, age_give_min=3 * DAY) for years in (1, 5)]
    windows = tuple((day * DAY + 480, day * DAY + 1080) for day in range(1900) if day % 7 < 5)
    batches = tuple(PlannedBatch(f"g{one.key}", 20, (one,)) for one in ages)
    found = best(Making(batches, windows, estimate_horizon(batches, 3000), clamps=(("bar", 4),)))
    assert found is not None
    assert found.finish == pytest.approx(5 * 525_960, abs=8 * DAY)


def test_a_latest_end_is_kept_or_told() -> None:
    lines = [line(str(n)) for n in range(6)]
    free = best(making(*lines))
    assert free is not None
    in_time = best(making(*lines, finish_by=free.finish))
    assert in_time is not None
    assert in_time.finish <= free.finish
    too_soon = making(*lines, finish_by=DAY)
    assert best(too_soon) is None
    assert any(one.words == "It fits with a later end." for one in find_remedies(too_soon))


def test_someone_who_lets_a_search_go_ends_it() -> None:
    before = set(enumerate_threads())
    search = solve(making(*(line(f"{n}", clamp=60 + 7 * n) for n in range(30))), seconds=600)
    assert next(search).tasks
    next(search)
    assert set(enumerate_threads()) > before
    search.close()
    assert set(enumerate_threads()) <= before
