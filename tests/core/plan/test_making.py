"""How long a making takes in the hours of a shop, before anything is searched for."""

from dataclasses import replace
from datetime import UTC, datetime, time

from adhaero.core.plan.clamping import ClampKind, Clamps, choose_set_up
from adhaero.core.plan.glue_ups import Pace, ToMake, find_most, plan_glue_up, split_glue_ups
from adhaero.core.plan.gluing import GlueCard
from adhaero.core.plan.hours import Hours
from adhaero.core.plan.making import ShopTime, begin_making, estimate_work
from adhaero.core.plan.tasks import PlannedBatch

DAY = 1440
MONDAY = datetime(2026, 11, 30, 8, tzinfo=UTC)
SHOP = ShopTime(Hours((((time(8), time(18)),) * 5) + (None, None)), 1, UTC)
BARS = Clamps("bar", ClampKind.SCREW, 4, 1000.0)
PACE = Pace(give=0.05, break_min=3)


def pieces(number: int, clamp_h: float = 2, cure_h: float = 24) -> list[ToMake]:
    set_up = choose_set_up(1500.0, number, [BARS])
    return [ToMake(at, set_up, 3600 * clamp_h, 3600 * cure_h) for at in range(number)]


def glue_ups(made: list[ToMake], most: int, clamps: int = 4) -> list[PlannedBatch]:
    return [plan_glue_up(mine, PACE) for mine in split_glue_ups(made, most, {"bar": clamps})]


def test_one_glue_up_is_done_the_next_day() -> None:
    """Four pieces: 10 min to lay out, 1 min each; 3 min to take clamps off; measured 1 min, broken 3 min each."""
    work = estimate_work(begin_making([plan_glue_up(pieces(4), PACE)], SHOP, [], MONDAY))
    assert work is not None
    assert work.hands == 14 + 3 + 4 + 12
    # closed at 8:14; measured while the last minutes of the cure run, broken from 8:14 on the next day
    assert (work.finish, work.in_hours) == (DAY + 14 + 12, True)


def test_open_time_and_clamps_cut_glue_ups() -> None:
    made = pieces(7)
    assert [len(one) for one in split_glue_ups(made, 3, {"bar": 20})] == [3, 3, 1]
    # 1,500 N take two clamps of 1,000 N: four clamps hold two pieces at a time
    assert [len(one) for one in split_glue_ups(made, 3, {"bar": 4})] == [2, 2, 2, 1]
    bars = [replace(one, bar=one.piece // 2) for one in pieces(6)]
    assert [len(one) for one in split_glue_ups(bars, 3, {"bar": 20})] == [2, 2, 2]
    assert find_most(7, 60, GlueCard("Heron", "epoxy", open_time_s=900, pot_life_s=300)) == (5, True)
    assert find_most(7, 60, None) == (8, False)


def test_what_never_fits_working_hours_is_told() -> None:
    short = replace(SHOP, hours=Hours((((time(8), time(9)),) * 5) + (None, None)))
    # six hours in clamps that may be off by 18 min come off outside an hour of work
    work = estimate_work(begin_making(glue_ups(pieces(2, clamp_h=6), 2), short, [("bar", 4)], MONDAY))
    assert work is not None
    assert not work.in_hours
    assert work.finish < 2 * DAY


def test_breaking_that_may_wait_is_not_in_the_way_of_clamps() -> None:
    """A night in clamps leaves 42 minutes of an evening to glue up in: three glue-ups of one piece a working day."""
    made = glue_ups(pieces(18, clamp_h=14, cure_h=7 * 24), 1, clamps=40)
    work = estimate_work(begin_making(made, SHOP, [("bar", 40)], MONDAY))
    assert work is not None
    # the pieces of the first week are broken from the second Monday on, and evenings stay free for the last of 18
    assert work.finish < 17 * DAY
