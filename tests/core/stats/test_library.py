"""Trials joined to one table: against independent software, by hand, and where there is nothing to estimate from."""

import json
from dataclasses import replace
from itertools import pairwise
from math import exp, log, sqrt
from pathlib import Path

import numpy as np
import pytest

from adhaero.core.stats.laws import find_t
from adhaero.core.stats.library import fit_network, solve
from adhaero.core.stats.library_words import say_between, say_leaders, say_order, say_routes, turn
from adhaero.core.stats.next_test import rank_tests
from adhaero.core.stats.trial_evidence import Evidence, join_cells
from adhaero.core.stats.words import say_span

CASE = json.loads((Path(__file__).parents[2] / "reference" / "library-nine-trials.json").read_text())


def says(trial: int, effects: dict[str, float], variance: float = 0.002, df: float = 10.0) -> Evidence:
    """Return a trial whose things have one variance each."""
    size = len(effects)
    covariance = tuple(tuple(variance if i == j else 0.0 for j in range(size)) for i in range(size))
    return Evidence(trial, tuple(effects), tuple(effects.values()), covariance, df, (6,) * size)


def nine_trials() -> list[Evidence]:
    return [
        Evidence(
            one["trial"], tuple(one["names"]), tuple(one["effects"]), tuple(map(tuple, one["covariance"])), one["df"]
        )
        for one in CASE["trials"]
    ]


def test_nine_trials_agree_with_independent_software() -> None:
    expected, network = CASE["expected"], fit_network(nine_trials())
    assert network.tau == pytest.approx(expected["tau"], abs=2e-6)
    assert (network.misfit, network.df) == (pytest.approx(expected["misfit"], abs=1e-7), expected["df"])
    assert network.misfit_p == pytest.approx(expected["misfit_p"], rel=1e-4)
    assert network.widen == pytest.approx(expected["widen"], abs=1e-5)
    effects = dict(zip(network.names, network.effects, strict=True))
    assert {name: effects[name] for name in expected["effects"]} == pytest.approx(expected["effects"], abs=1e-6)
    plain = solve(nine_trials(), network.tau or 0.0)
    for name, se in expected["se"].items():
        assert plain.find_plain(name, expected["against"])[1] == pytest.approx(se, abs=1e-6)
    pair = expected["pair"]
    assert plain.find_plain(pair["a"], pair["b"])[1] == pytest.approx(pair["se"], abs=1e-6)
    none = solve(nine_trials(), 0.0)
    for name, effect in expected["without_scatter_between"].items():
        assert none.find_plain(name, expected["against"])[0] == pytest.approx(effect, abs=1e-7)


def test_two_ways_of_getting_there_agree_with_independent_software() -> None:
    expected = CASE["expected"]["routes"]
    # as many pieces as you like, so that only the scatter between trials is estimated
    sure = [replace(one, df=1e9) for one in nine_trials()]
    routes = fit_network(sure).split(expected["a"], expected["b"])
    assert routes is not None
    for name in ("direct", "indirect"):
        assert getattr(routes, name) == pytest.approx(expected[name], abs=1e-6)
        se = expected[f"{name}_se"] * sqrt(expected["widen"])
        assert getattr(routes, f"{name}_se") == pytest.approx(se, abs=2e-6)
    assert fit_network(nine_trials()).split("Dunlin", "Wren") is None  # never side by side


def test_one_comparison_in_three_trials_by_hand() -> None:
    """Equal variances v: the average, τ² = s² − v where that is above 0, and Hartung and Knapp's range s/√3 · t(2)."""
    shifts, variance = [0.30, 0.10, 0.20], 0.001
    network = fit_network([says(n, {"Heron": 0.0, "Wren": shift}, variance) for n, shift in enumerate(shifts)])
    spread = float(np.var(shifts, ddof=1))
    assert network.tau == pytest.approx(sqrt(spread - 2 * variance), abs=1e-5)
    assert network.tau_moments == pytest.approx(sqrt(spread - 2 * variance), abs=1e-9)
    (one,) = network.compare_all()
    assert one.log_ratio == pytest.approx(-0.2)
    assert network.widen == pytest.approx(1.0, abs=1e-4)
    # beside that, that weights are known from few pieces: 2/ν of the share that the pieces have in the variance
    extra = sum(2 / 10 * (2 * variance / spread) ** 2 * spread * 2 / 3 for _ in range(3)) / 9
    se = sqrt(spread / 3 + extra)
    assert one.se == pytest.approx(se, rel=1e-3)
    assert one.range95[1] == pytest.approx(exp(-0.2 + find_t(0.975, 2) * se), rel=1e-3)
    assert one.direct == (0, 1, 2)


def test_things_that_never_met_are_compared_through_what_both_met() -> None:
    chain = [says(1, {"Heron": 0.0, "Wren": 0.1}), says(2, {"Wren": 0.5, "Teal": 0.8}, df=4.0)]
    network = fit_network(chain)
    assert (network.df, network.tau) == (0, None)
    shift, se, df = network.find("Teal", "Heron")
    assert shift == pytest.approx(0.4)
    assert se == pytest.approx(sqrt(0.008))
    # Satterthwaite over the two trials: (v + v)² / (v²/10 + v²/4)
    assert df == pytest.approx(4 / (1 / 10 + 1 / 4))
    assert "not known" in say_between(network)


def test_what_no_trial_joins_has_no_comparison() -> None:
    network = fit_network([says(1, {"Heron": 0.0, "Wren": 0.1}), says(2, {"Fish": 0.0, "Casein": 0.3})])
    assert [set(part) for part in network.parts] == [{"Heron", "Wren"}, {"Fish", "Casein"}]
    assert len(network.compare_all()) == 2
    tests = rank_tests(network, 0.1, 10.0)
    assert tests[0].joins == 4


def test_a_loop_that_does_not_close_is_told() -> None:
    loop = [
        *(says(n, {"Heron": 0.0, "Wren": 0.0}, 0.0002) for n in (1, 2, 3)),
        *(says(n, {"Heron": 0.0, "Teal": 0.3}, 0.0002) for n in (4, 5, 6)),
        *(says(n, {"Teal": 0.0, "Wren": 0.3}, 0.0002) for n in (7, 8, 9)),
    ]
    network = fit_network(loop)
    split = {pair: routes for pair in (("Heron", "Wren"), ("Heron", "Teal")) if (routes := network.split(*pair))}
    assert len(split) == 2
    assert any("do not agree" in one for one in say_routes(split))


def test_things_under_several_other_values_are_compared_under_the_same_ones() -> None:
    """Balanced: the average over the cells. A thing that stands in one cell alone is held against that cell."""
    things = ["Heron", "Wren", "Heron", "Wren", "Teal"]
    cells = ["short", "short", "long", "long", "long"]
    effects = np.array([1.0, 1.3, 2.0, 2.1, 2.6])
    ((names, logs, covariance),) = join_cells(effects, 0.01 * np.eye(5), things, cells)
    assert names == ("Heron", "Wren", "Teal")
    assert logs[1] == pytest.approx(0.2)
    assert logs[2] == pytest.approx(2.6 - (2.0 + 2.1) / 2 + 0.1)
    assert covariance[1, 1] == pytest.approx(0.01)
    apart = join_cells(effects[:2], 0.01 * np.eye(2), ["Heron", "Wren"], ["short", "long"])
    assert apart == []


def test_words_follow_from_the_numbers() -> None:
    trials = [says(n, {"Heron": 0.0, "Wren": 0.4, "Teal": 0.41}, 0.0005) for n in range(4)]
    network = fit_network(trials)
    pairs = network.compare_all()
    assert say_leaders(pairs, ["Teal", "Wren", "Heron"], "glues") == (
        "Teal and Wren lead 3 glues; which of them is the strongest is not known."
    )
    one = next(pair for pair in pairs if {pair.a, pair.b} == {"Teal", "Heron"})
    assert one.together[0] < one.range95[0] < one.ratio < one.range95[1] < one.together[1]
    assert (one.p < 0.05) == (not one.together[0] <= 1 <= one.together[1])
    assert say_order(pairs, ["Teal", "Wren", "Heron"])[0] == "Teal is stronger than Heron."
    open_ = turn(next(pair for pair in pairs if {pair.a, pair.b} == {"Teal", "Wren"}), "Teal")
    # what is not known has the range by which it is not: that of all pairs together
    assert f"Not known: Teal and Wren ({say_span(*open_.together)})." in say_order(pairs, ["Teal", "Wren", "Heron"])
    assert say_span(*open_.together) != say_span(*open_.range95)


def test_the_next_test_is_the_one_that_tells_most_apart() -> None:
    """Two well known groups and one thing hardly known near them: what it is held against is told first."""
    known = [says(n, {"Heron": 0.0, "Wren": 0.5}, 0.0004) for n in range(4)]
    network = fit_network([*known, says(9, {"Heron": 0.0, "Teal": 0.33}, 0.02)])
    first = rank_tests(network, 0.1, 10.0)[0]
    assert "Teal" in (first.a, first.b)
    assert 4 <= first.pieces <= 20
    assert [one.settles for one in rank_tests(network, 0.1, 10.0)] == sorted(
        (one.settles for one in rank_tests(network, 0.1, 10.0)), reverse=True
    )
    widths = [one.range95[1] / one.range95[0] for one in network.compare_all()]
    assert all(log(one) > 0 for one in widths)
    assert pairwise(widths)
