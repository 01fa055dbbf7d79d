"""The dry run against what theory says of it."""

from dataclasses import replace

import numpy as np
import pytest

from adhaero.core.errors import PlanError
from adhaero.core.plan.dryrun import DryRun, Outlook, run_dry
from adhaero.core.plan.layout import Place, deal
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


def test_sets_on_a_board_each_cannot_be_told_apart() -> None:
    layout = deal([4, 4], [4, 4], 1, woods=(["ash", "larch"], ["ash", "larch"]))
    outlook = run_dry(DryRun(("A", "B"), (100, 130), layout, 15, 10, 3))
    assert (outlook.right, outlook.wrong, outlook.cannot_tell) == (0, 0, 1)


def spread(pieces: list[int], boards: list[int]) -> DryRun:
    """Return a trial of sets whose pieces lie on given boards, one after the other."""
    treatments = [one for one, count in enumerate(pieces) for _ in range(count)]
    layout = tuple(Place(*one, 0, 0, 0) for one in zip(treatments, boards, strict=True))
    return DryRun(tuple("ABCDEFGH"[: len(pieces)]), (100, 115, 130)[: len(pieces)], layout, 10, 5, seed=5)


@pytest.mark.parametrize("planned", [spread([3, 5, 8], [0] * 16), spread([4, 4, 4], [0, 1] * 6)], ids=["own", "boards"])
def test_many_runs_at_once_are_compared_as_each_by_itself(planned: DryRun) -> None:
    model = planned._model
    assert model.at_once
    logs = model.draw(np.random.default_rng(2), 6)
    effects, low, high = model.compare_at_once(logs)
    for run, one in enumerate(logs):
        by_itself = model.compare(one, None)
        assert np.diff(effects[run]) == pytest.approx(np.diff(by_itself[0][0]))
        assert (low[run], high[run]) == (
            pytest.approx(by_itself[1][0], abs=1e-4),
            pytest.approx(by_itself[2][0], abs=1e-4),
        )


def test_sets_of_two_and_boards_that_join_no_sets_are_fitted_run_by_run() -> None:
    for planned in (spread([2, 2, 2], [0] * 6), spread([3, 3, 3], [0, 0, 1, 2, 2, 3, 4, 4, 5])):
        outlook = run_dry(planned, times=40)
        assert outlook.right + outlook.wrong + outlook.cannot_tell == pytest.approx(1)
        assert outlook.right > 0


def test_one_piece_each_says_nothing_about_scatter() -> None:
    with pytest.raises(PlanError, match="The scatter could not be known"):
        run_dry(trial((100, 100), 1))
    with pytest.raises(PlanError, match="nothing to compare"):
        run_dry(trial((100,), 4))
