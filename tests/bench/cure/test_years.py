"""A trial over years: the ages that pieces really had, what the next date needs, what pilot pieces feed."""

import random
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.curves import view_curves
from adhaero.bench.compare.view import view_compare
from adhaero.bench.cure.view import view_curing
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.plan.view import view_plan
from adhaero.core.stats.power import find_n_beside
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import amend_piece
from adhaero.store.pulls import insert_pull
from tests.made_up import KINDS, Broken, Made, MadeUp, make_shop, plan_trial
from tests.shops import empty_shop

AGES = ("7 d", "1 y", "2 y", "3 y")
DAYS = {"7 d": 7.0, "1 y": 372.0, "2 y": 731.0, "3 y": 1096.0}


def years(file: ShopFile, *, pilot: str = "0") -> int:
    """Plan a trial over years that was glued two years ago, its first two dates broken, the second a week late."""

    def breaks(made: Made, board: int, chance: random.Random) -> Broken:
        return Broken(600.0)

    kind = MadeUp(
        "What do years do?", [("glue", ["Heron"]), ("cure_time", AGES)], breaks, each=6, boards=(("larch", 4),),
        fields={"answer": "trend", "pilot": pilot},
    )  # fmt: skip
    trial = plan_trial(file, kind)
    glued, chance = file.clock() - timedelta(days=500), random.Random(4)
    with file.changing("Broke two dates", trial) as connection:
        facts = read_trial(connection, trial)
        for piece in facts.pieces.values():
            at = to_text(glued)
            amend_piece(connection, piece.id, closed_utc=at, clamped_utc=at, released_utc=at)
            age = next(one.name for one in facts.levels_of[piece.treatment_id] if one.name in AGES)
            if piece.pilot or age not in AGES[:2]:
                continue
            put_pull(connection, piece.id, glued + timedelta(days=DAYS[age]), 600 * chance.uniform(0.9, 1.1))
    return trial


def put_pull(connection: object, piece_id: int, at: object, load: float) -> None:
    insert_pull(
        connection, piece_id=piece_id, attempt=1, source="hand", state="kept", started_utc=to_text(at),  # type: ignore[arg-type]
        ended_utc=to_text(at), load_n=load, outcome="broke", wood_failure_pct=10.0,  # type: ignore[arg-type]
    )  # fmt: skip


def test_a_piece_stands_at_the_age_that_it_really_had(tmp_path: Path) -> None:
    file, trial = make_shop(tmp_path, KINDS["years"])
    with file.reading() as connection:
        facts = read_trial(connection, trial)
        piece = next(one for one in facts.pieces.values() if round(facts.age_of(one) or 0) == round(365.25 * 86_400))
    (chart,) = view_curves(file, trial, Choice())
    before = {dot.piece: dot.x for line in chart.lines for dot in line.dots}
    assert abs(before[piece.label] - 1.0) < 0.003
    with file.changing("Really broken half a year later", trial) as connection:
        earlier = to_text(file.clock() - timedelta(days=548))
        amend_piece(connection, piece.id, closed_utc=earlier, clamped_utc=earlier, released_utc=earlier)
    (chart,) = view_curves(file, trial, Choice())
    after = {dot.piece: dot.x for line in chart.lines for dot in line.dots}
    assert abs(after[piece.label] - 1.5) < 0.01


def test_the_next_date_says_what_it_needs_to_see_a_loss(tmp_path: Path) -> None:
    file = empty_shop(tmp_path / "shop.sqlite")
    trial = years(file)
    pulls = view_curing(file, trial).pulls
    by_age = {one.words: one for one in pulls.dates}
    glued = file.clock() - timedelta(days=500)
    assert by_age["1 y"].broken_on == [to_text(glued + timedelta(days=372))[:10]]
    assert by_age["2 y"].broken_on == []
    assert pulls.next.startswith("Next: 2 y, ")
    assert "6 of each set. To see a loss of 10 % against 7 d at a scatter of" in pulls.next
    # by the noncentral t: six and seven see a fifth 78 times in 100, six and eight 81 times
    assert find_n_beside(0.2, 0.12, 6) == 8


def test_pilot_pieces_feed_forecast_and_scatter_and_are_no_result(tmp_path: Path) -> None:
    def breaks(made: Made, board: int, chance: random.Random) -> Broken:
        return Broken(600.0)

    file = empty_shop(tmp_path / "shop.sqlite")
    kind = MadeUp("Which?", [("glue", ["Heron", "Wren"])], breaks, each=6, fields={"pilot": "12"})
    trial = plan_trial(file, kind)
    assert view_plan(file, trial).own_scatter is None
    with file.changing("Broke the pilots", trial) as connection:
        for at, piece in enumerate(one for one in read_trial(connection, trial).pieces.values() if one.pilot):
            put_pull(connection, piece.id, file.clock(), 500.0 + 15 * at)
    plan = view_plan(file, trial)
    assert plan.own_scatter is not None
    assert plan.own_scatter.pieces == 12
    assert plan.consequences.bands
    assert plan.references == []
    assert view_compare(file, trial, Choice()).dots == []
    again = plan_trial(file, replace(kind, question="And then?", fields={}))
    assert view_plan(file, again).own_scatter == plan.own_scatter
