"""Second opinions, composites, kinds of failure, power by simulation."""

from math import exp, inf, log, sqrt

import numpy as np
import pytest
from scipy import optimize, stats

from adhaero.core.errors import EntryError
from adhaero.core.stats.as_read import compute_as_read
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.composite import Bounded, Lead, combine_conditions, compare_marks, say_composite, say_leads
from adhaero.core.stats.failures import compare_failures, count_above, say_above, say_failures
from adhaero.core.stats.power import compute_power
from adhaero.core.stats.power_simulated import SimulatedPlan, simulate_power
from adhaero.core.stats.rankings import rank_sets, say_rankings
from adhaero.core.stats.sets import fit_sets
from adhaero.core.stats.table import make_table
from adhaero.core.stats.weibull import estimate_steps, fit_weibull, say_weibull, stretch, trace_weibull


def test_weibull_is_scipys_and_its_low_point_covers() -> None:
    rng = np.random.default_rng(2)
    values = 40 * rng.weibull(6, 25)
    limit = float(np.sort(values)[18])
    held = values > limit
    logs = np.log(np.minimum(values, limit))
    fit = fit_weibull(Bounds(logs, np.where(held, inf, logs)))
    shape, _, scale = stats.weibull_min.fit(
        stats.CensoredData(uncensored=values[~held], right=np.full(held.sum(), limit)), floc=0
    )
    assert fit is not None
    assert (fit.shape, fit.scale) == pytest.approx((shape, scale), rel=1e-4)
    assert fit.low == pytest.approx(fit.scale * (-log(0.95)) ** (1 / fit.shape))
    inside = 0
    for _ in range(60):
        one = fit_weibull(Bounds(*[np.log(40 * rng.weibull(6, 20))] * 2))
        assert one is not None
        low, high = one.low_ci95
        inside += (low or 0) <= 40 * (-log(0.95)) ** (1 / 6) <= (high or inf)
    assert inside >= 51
    assert "5 in 100 break below" in say_weibull("Heron", fit, "MPa")
    assert fit_weibull(Bounds(np.zeros(5), np.zeros(5))) is None


def test_the_range_of_the_weak_end_is_where_the_profile_has_fallen() -> None:
    rng = np.random.default_rng(5)
    values = 40 * rng.weibull(6, 15)
    held = values > np.sort(values)[11]
    logs = np.log(values)
    fit = fit_weibull(Bounds(logs, np.where(held, inf, logs)))
    assert fit is not None

    def profile(low: float) -> float:
        def misfit(log_shape: float) -> float:
            shape = np.exp(log_shape)
            law = stats.weibull_min(shape, scale=low / (-log(0.95)) ** (1 / shape))
            return -float(law.logpdf(values[~held]).sum() + law.logsf(values[held]).sum())

        return -float(optimize.minimize_scalar(misfit, bounds=(0, 4), method="bounded", options={"xatol": 1e-9}).fun)

    for end in fit.low_ci95:
        assert end is not None
        assert profile(fit.low) - profile(end) == pytest.approx(stats.chi2.ppf(0.95, 1) / 2, abs=1e-5)


def test_a_set_drawn_as_its_weak_end_lies_on_its_line() -> None:
    fit = fit_weibull(Bounds(*[np.log(40 * np.random.default_rng(1).weibull(6, 30))] * 2))
    assert fit is not None
    assert trace_weibull(fit, 0.05) == pytest.approx(fit.low)
    low, high = ((log(trace_weibull(fit, share)), stretch(share)) for share in (0.01, 0.99))
    assert (high[1] - low[1]) / (high[0] - low[0]) == pytest.approx(fit.shape)
    assert stretch(1 - np.exp(-1)) == pytest.approx(0)


def test_steps_are_the_product_limit_with_pieces_that_held_and_move_with_intervals() -> None:
    values = np.array([1.0, 2.0, 3.0, 4.0, 5.0, 6.0])
    held = np.array([False, True, False, False, True, False])
    steps = dict(estimate_steps(Bounds(values, np.where(held, inf, values))))
    theirs = stats.ecdf(stats.CensoredData(uncensored=values[~held], right=values[held])).cdf
    before = np.concatenate([[0.0], theirs.probabilities])
    for at in values[~held]:
        place = int(np.flatnonzero(theirs.quantiles == at)[0])
        assert steps[at] == pytest.approx((before[place] + before[place + 1]) / 2, abs=1e-6)
    apart = dict(estimate_steps(Bounds(np.array([-inf, 2.0, 3.0]), np.array([1.5, 2.0, 3.0]))))
    assert apart[2.0] == pytest.approx(0.5, abs=1e-6)


def test_the_lead_of_a_composite_is_a_contrast_of_the_fitted_sets() -> None:
    rng = np.random.default_rng(3)
    cells = {("dry", "Heron"): 80, ("dry", "Wren"): 60, ("soaked", "Heron"): 30, ("soaked", "Wren"): 29}
    logs = np.concatenate([np.log(value) + rng.normal(0, 0.1, 6) for value in cells.values()])
    fit = fit_sets(Bounds(logs, logs), np.repeat(np.arange(4), 6), 4)
    places = {"dry": {"Heron": 0, "Wren": 1}, "soaked": {"Heron": 2, "Wren": 3}}
    means = np.exp(logs.reshape(4, 6).mean(axis=1))
    strengths = {condition: {name: float(means[at]) for name, at in mine.items()} for condition, mine in places.items()}
    result = combine_conditions(strengths, {"dry": 1, "soaked": 3})
    (lead,) = compare_marks(result, fit, places)
    assert lead.ratio == pytest.approx(result.marks["Heron"] / result.marks["Wren"])
    # the variance of 1/4 · dry + 3/4 · soaked, each a mean of six with its own scatter, by Satterthwaite
    parts = np.array([1 / 16, 1 / 16, 9 / 16, 9 / 16]) * logs.reshape(4, 6).var(axis=1, ddof=1) / 6
    spread = sqrt(parts.sum()) * stats.t.ppf(0.975, parts.sum() ** 2 / (parts**2 / 5).sum())
    assert np.log(lead.ci95) == pytest.approx([log(lead.ratio) - spread, log(lead.ratio) + spread])
    leads = [Lead("Wren", 1.2, (1.05, 1.4)), Lead("Teal", 1.02, (0.95, 1.1))]
    assert say_leads("Heron", leads) == [
        "With these weights its lead over Wren is more than chance.",
        "Whether Heron leads Teal (−5 % to +10 %) cannot be told yet.",
    ]


def test_a_composite_says_what_its_winner_hangs_on() -> None:
    strengths = {"dry": {"Heron": 80.0, "Wren": 60.0}, "soaked": {"Heron": 20.0, "Wren": 40.0, "Teal": 90.0}}
    one = combine_conditions(strengths, {"dry": 3, "soaked": 1})
    assert one.marks["Heron"] == pytest.approx(0.5**0.25)
    assert one.marks["Wren"] == pytest.approx(0.75**0.75)
    assert one.order == ("Heron", "Wren")
    # equal where w·ln(4/3) = (1 − w)·ln 2
    assert one.changes_at["dry"] == pytest.approx((log(2) / (log(2) + log(4 / 3)),))
    assert one.without == {"dry": "Wren", "soaked": "Heron"}
    assert any("depends on the weights" in words for words in say_composite(one))
    sure = combine_conditions({"a": {"H": 2.0, "W": 1.0}, "b": {"H": 3.0, "W": 1.0}}, {"a": 1, "b": 1})
    assert "the weights do not matter" in say_composite(sure)[1]
    lost = say_composite(sure, [Bounded("Teal", ("b",), held=False), Bounded("Rail", ("a",), held=True)])
    assert "Teal comes last: it lost all its pieces in b." in lost
    assert any(words.startswith("Rail has no mark") and "may be ahead" in words for words in lost)
    with pytest.raises(EntryError):
        combine_conditions(strengths, {"dry": -1, "soaked": 1})


def test_a_lead_chosen_after_looking_is_called_more_than_chance_in_no_more_than_one_trial_of_twenty() -> None:
    rng = np.random.default_rng(5)
    claimed, k = 0, 6
    for _ in range(250):
        logs = rng.normal(3, 0.15, 2 * k * 5)
        fit = fit_sets(Bounds(logs, logs), np.repeat(np.arange(2 * k), 5), 2 * k)
        names = [f"set {n}" for n in range(k)]
        places = {"dry": {n: i for i, n in enumerate(names)}, "wet": {n: k + i for i, n in enumerate(names)}}
        strengths = {c: {n: exp(fit.effects[at]) for n, at in mine.items()} for c, mine in places.items()}
        leads = compare_marks(combine_conditions(strengths, {"dry": 1, "wet": 1}), fit, places)
        claimed += any(one.ci95 is not None and one.ci95[0] > 1 for one in leads)
    assert claimed <= 22


def test_kinds_of_failure_are_compared_within_sets() -> None:
    rng = np.random.default_rng(1)
    rows = []
    for level, mean in (("Heron", 80.0), ("Wren", 40.0)):
        for n in range(8):
            torn = 90.0 if n < (6 if level == "Heron" else 2) else 5.0
            value = mean * (1.3 if torn > 50 else 1.0) * exp(rng.normal(0, 0.03))
            rows.append(Specimen(f"{level}{n}", level, value, wood_failure_pct=torn))
    found = compare_failures(make_table(tuple(rows), Estimate.JOINT, 75.0), 10.0)
    assert found is not None
    assert found.pairs[0].ratio == pytest.approx(1.3, rel=0.05)
    assert "mostly wood from mostly glue line by +3" in say_failures(found)
    assert compare_failures(make_table(tuple(rows[:2]), Estimate.JOINT, 75.0), 10.0) is None


def test_pieces_above_the_wood() -> None:
    rows = [
        Specimen("a", "Heron", 90.0),
        Specimen("b", "Heron", 70.0),
        Specimen("c", "Heron", 85.0, Outcome.HELD),
        Specimen("d", "Heron", 60.0, Outcome.HELD),
        Specimen("e", "Heron", 88.0, Outcome.STEP, held_value=82.0),
        Specimen("f", "Heron", None, Outcome.FELL_APART),
        Specimen("g", "Heron", 99.0, excluded="slipped"),
        Specimen("h", "Heron", 84.0, Outcome.FELL_APART),
    ]
    (one,) = count_above(rows, ["Heron"], 80.0)
    assert one.count is not None
    assert (one.count.passed, one.count.n, one.unknown) == (3, 5, 2)
    assert "3 of 5 are above it (2 more stay open)" in say_above(one)


def test_rankings_name_who_wins_by_what() -> None:
    reads = {"Heron": compute_as_read([40.0, 70, 80, 90, 95]), "Wren": compute_as_read([60.0, 62, 65, 66, 68])}
    found = rank_sets(reads, put_back={"Heron": reads["Heron"], "Wren": compute_as_read([200.0, 60, 62])})
    assert [one.winners[0] for one in found] == ["Heron", "Heron", "Heron", "Wren", "Heron", "Wren"]
    assert "worst piece and average with set-aside pieces put back: Wren" in say_rankings(found)
    judge_nothing = say_rankings(found, ["Wren"])
    assert "judge nothing" in judge_nothing
    assert "Wren" in judge_nothing
    agreed = say_rankings(rank_sets({"Heron": reads["Wren"], "Wren": compute_as_read([1.0, 2, 3, 4])}))
    assert agreed == "Whatever average is taken, Heron comes first."


def test_simulated_power_is_the_formulas_where_there_is_one_and_boards_are_taken_out() -> None:
    plan = SimulatedPlan(15, 2, 8, 25)
    assert simulate_power(plan, 400).power == pytest.approx(compute_power(15, 2, 8, 25).power, abs=0.07)
    boards = simulate_power(SimulatedPlan(15, 2, 8, 25, board_cv_pct=60), 300)
    assert boards.power == pytest.approx(0.72, abs=0.1)
    assert simulate_power(SimulatedPlan(15, 2, 6, 30, held_pct=30), 100).runs == 100
    with pytest.raises(EntryError):
        simulate_power(SimulatedPlan(15, 2, 8, 25, held_pct=99))
