"""The dry run against what theory says of it."""

from dataclasses import replace

import pytest

from adhaero.core.errors import PlanError
from adhaero.core.plan.dryrun import DryRun, Outlook, run_dry
from adhaero.core.plan.layout import deal
from adhaero.core.stats.power import compute_power
from adhaero.core.stats.power_simulated import SimulatedPlan, simulate_power


def trial(guesses: tuple[float, ...], pieces: int, boards: int = 1, cv: float = 15.0, margin: float = 1.0) -> DryRun:
    names = tuple("ABCDEFGH"[: len(guesses)])
    holds = [-(-len(guesses) * pieces // boards)] * boards
    return DryRun(names, guesses, deal([pieces] * len(guesses), holds, seed=1), cv, margin, seed=11)


def test_a_difference_of_80_percent_power_is_found_8_times_in_10() -> None:
    detectable = compute_power(15, 2, 8).detectable_pct
    assert detectable is not None
    outlook = run_dry(trial((100 + detectable, 100), 8), times=4000)
    # four standard deviations of 4,000 runs
    assert outlook.right == pytest.approx(0.80, abs=0.026)
    assert outlook.wrong < 0.001


def test_no_difference_is_called_one_once_in_twenty() -> None:
    outlook = run_dry(trial((100, 100), 8), times=4000)
    assert outlook.wrong == pytest.approx(0.05, abs=0.015)
    assert outlook.best_found is None


def test_all_pairs_together_are_wrong_once_in_twenty_at_most() -> None:
    outlook = run_dry(trial((100, 100, 100, 100), 6, boards=3), times=2000)
    assert outlook.within_boards
    assert sum(pair.wrong for pair in outlook.pairs) == pytest.approx(0.07, abs=0.05), "pairs overlap"


def test_more_pieces_find_more() -> None:
    found = [run_dry(trial((120, 100, 100), n, boards=n)).right for n in (3, 6, 12)]
    assert found == sorted(found)


def test_the_same_seed_gives_the_same_outlook_and_tells_how_far_it_is() -> None:
    planned = trial((110, 100), 5)
    steps = list(planned.run())
    assert steps[:-1] == list(range(100, 1001, 100))
    assert isinstance(steps[-1], Outlook)
    assert steps[-1] == run_dry(planned)
    assert run_dry(replace(planned, seed=12)) != steps[-1]


def test_pieces_that_hold_are_compared_by_likelihood_as_the_power_by_simulation() -> None:
    planned = replace(trial((125, 100), 10), held_pct=30)
    steps = list(planned.run())
    outlook = steps[-1]
    assert isinstance(outlook, Outlook)
    assert (steps[0], outlook.times, outlook.best_found) == (20, 300, None)
    power = simulate_power(SimulatedPlan(15, 2, 10, 25, held_pct=30), runs=600).power
    # three standard deviations of 300 and 600 runs
    assert outlook.right == pytest.approx(power, abs=0.1)
    assert run_dry(replace(planned, held_pct=60)).right < outlook.right


def test_boards_that_carry_one_set_each_are_left_out_of_the_model() -> None:
    layout = deal([4, 4], [4, 4], 1, woods=(["ash", "larch"], ["ash", "larch"]))
    outlook = run_dry(DryRun(("A", "B"), (100, 130), layout, 15, 10, 3))
    assert not outlook.within_boards
    assert outlook.right + outlook.wrong + outlook.cannot_tell == pytest.approx(1)


def test_one_piece_each_says_nothing_about_scatter() -> None:
    with pytest.raises(PlanError, match="The scatter could not be known"):
        run_dry(trial((100, 100), 1))
    with pytest.raises(PlanError, match="nothing to compare"):
        run_dry(trial((100,), 4))
