"""Several things varied, conditions, other causes: against an independent analysis and by hand."""

import re
from dataclasses import replace
from math import exp, log, sqrt

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from scipy import stats
from statsmodels.stats.anova import anova_lm

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen
from adhaero.core.stats.causes import Cause, judge_causes, say_causes
from adhaero.core.stats.factor_words import say_effect, say_factors, say_kept, say_retention, say_together
from adhaero.core.stats.factors import Factors, analyse_factors
from adhaero.core.stats.retention import Asked, Kept, compute_retention
from adhaero.core.stats.table import Table, make_table


def crossed(seed: int, gain: float = 1.3, drop: tuple[int, ...] = (), boards: int = 5) -> list[Specimen]:
    """Two glues, bare or sized; sizing helps Plover only."""
    rng = np.random.default_rng(seed)
    rows = []
    for glue, mean in (("Heron", 60.0), ("Plover", 45.0)):
        for sizing in ("bare", "sized"):
            for board in range(boards):
                times = gain if (glue, sizing) == ("Plover", "sized") else 1.0
                value = mean * times * exp(rng.normal(0, 0.06)) * (1 + 0.05 * board)
                factors = {"glue": glue, "sizing": sizing}
                label = f"{glue[0]}{sizing[0]}{board}"
                rows.append(Specimen(label, f"{glue}, {sizing}", value, block=f"Board {board}", factors=factors))
    return [one for turn, one in enumerate(rows) if turn not in drop]


def as_table(rows: list[Specimen], block: str | None = "board", estimate: Estimate = Estimate.JOINT) -> Table:
    return make_table(tuple(rows), estimate, 75.0, block)


@pytest.mark.parametrize("drop", [(), (0, 7, 13, 14)])
@pytest.mark.parametrize("block", ["board", None])
def test_the_tests_are_those_of_an_independent_analysis_of_variance(drop: tuple[int, ...], block: str | None) -> None:
    rows = crossed(3, drop=drop)
    result = analyse_factors(as_table(rows, block), 10.0)
    frame = pd.DataFrame(
        [{"y": log(one.value or 0), "board": one.block, **one.factors} for one in rows],
    )
    model = smf.ols(f"y ~ {'C(board) + ' if block else ''}C(glue) * C(sizing)", frame).fit()
    theirs = anova_lm(model, typ=2)
    for ours, term in zip(
        (*(one.test for one in result.effects), result.together[0].test),
        ("C(glue)", "C(sizing)", "C(glue):C(sizing)"),
        strict=True,
    ):
        assert ours is not None
        assert ours.statistic == pytest.approx(theirs.loc[term, "F"], rel=1e-9)
        assert ours.p == pytest.approx(theirs.loc[term, "PR(>F)"], rel=1e-7)


def test_an_effect_is_averaged_with_every_combination_counted_once() -> None:
    rows = crossed(3, drop=(0, 1, 2))
    glue, sizing = analyse_factors(as_table(rows, None), 10.0).effects
    cell = {
        name: np.mean([log(one.value or 0) for one in rows if one.level == name]) for name in {r.level for r in rows}
    }
    by_hand = (cell["Heron, bare"] + cell["Heron, sized"] - cell["Plover, bare"] - cell["Plover, sized"]) / 2
    assert glue.pairs[0].ratio == pytest.approx(exp(by_hand))
    # Heron, bare has two pieces and borrows the pooled scatter of the three others, which have 4 degrees each
    own = {
        name: np.var([log(one.value or 0) for one in rows if one.level == name], ddof=1)
        for name in cell
        if name != "Heron, bare"
    }
    lent = np.mean(list(own.values()))
    parts = [(value / 5 + lent / 2 * value / sum(own.values())) / 4 for value in own.values()]
    se, df = sqrt(sum(parts)), sum(parts) ** 2 / sum(one**2 / 4 for one in parts)
    far = stats.t.ppf(0.975, df) * se
    assert glue.pairs[0].ratio_ci95 == pytest.approx((exp(by_hand - far), exp(by_hand + far)))
    assert [one.n for one in sizing.levels] == [7, 10]


def test_helping_on_one_only_is_said_where_they_act_together() -> None:
    clear = analyse_factors(as_table(crossed(3)), 10.0)
    words = [say_together(one) for one in clear.together]
    assert "sized is stronger than bare (" in words[1]
    assert words[1].endswith("with Plover only.")
    none = analyse_factors(as_table(crossed(4, gain=1.0)), 10.0)
    assert all("is not shown" in say_together(one) and "only" not in say_together(one) for one in none.together)
    assert say_effect(clear.effects[0], 10.0, "sizing")[0].startswith("glue, averaged over sizing: ")
    assert len(say_factors(clear, 10.0)) == 4


def test_a_combination_never_made_is_left_out_of_the_average_and_said() -> None:
    rows = [
        Specimen(f"{g}{s}{n}", f"{g}, {s}", 50.0 + n + len(g), factors={"glue": g, "sizing": s})
        for g, s in (("Heron", "bare"), ("Heron", "sized"), ("Wren", "bare"), ("Teal", "twice"))
        for n in range(4)
    ]
    result = analyse_factors(as_table(rows, None), 10.0)
    glue = result.effects[0]
    assert (glue.averaged_over, glue.of, glue.pairs) == (0, 3, ())
    assert "no combination" in say_effect(glue, 10.0, "sizing")[0]


def test_factors_with_pieces_that_held_are_judged_by_likelihood() -> None:
    rows = [
        Specimen(
            one.label,
            one.level,
            one.value,
            Outcome.HELD if one.label in ("Hs3", "Ps4") else Outcome.BROKE,
            block=one.block,
            factors=one.factors,
        )
        for one in crossed(3)
    ]
    result: Factors = analyse_factors(as_table(rows), 10.0)
    assert {one.test.method for one in result.effects if one.test} == {"likelihood-ratio"}
    assert result.together[0].test is not None
    assert result.together[0].test.p < 0.05
    assert all(pair.ratio_ci95 for pair in result.effects[0].pairs)


def test_what_never_varies_is_no_factor() -> None:
    rows = [Specimen(f"H{n}", "Heron", 50.0 + n, factors={"glue": "Heron", "n": str(n)}) for n in range(4)]
    with pytest.raises(DataError, match="glue is Heron in every piece"):
        analyse_factors(as_table(rows, None), 10.0)


def soaked() -> list[Specimen]:
    """Pairs: dry and soaked halves of one bar; Heron keeps 80 %, Wren 50 %."""
    rng = np.random.default_rng(6)
    rows = []
    for glue, keeps in (("Heron", 0.8), ("Wren", 0.5)):
        for pair in range(6):
            bar = 60 * exp(rng.normal(0, 0.2))
            for state, share in (("dry", 1.0), ("soaked", keeps)):
                factors = {"glue": glue, "wet": state}
                value = bar * share * exp(rng.normal(0, 0.04))
                rows.append(
                    Specimen(f"{glue}{state}{pair}", f"{glue}, {state}", value, block=f"{glue}{pair}", factors=factors)
                )
    return rows


def test_what_is_kept_pair_by_pair_is_students_t_of_the_log_ratios() -> None:
    rows = soaked()
    result = compute_retention(rows, Asked("wet", "dry", pair="pair"))
    value = {one.label: log(one.value or 0) for one in rows}
    shifts = [value[f"Heronsoaked{n}"] - value[f"Herondry{n}"] for n in range(6)]
    ends = stats.ttest_1samp(shifts, 0).confidence_interval()
    assert result.method == "pairs"
    assert result.kept[0].share == pytest.approx(exp(np.mean(shifts)))
    assert result.kept[0].ci95 == pytest.approx((exp(ends.low), exp(ends.high)))
    other = [value[f"Wrensoaked{n}"] - value[f"Wrendry{n}"] for n in range(6)]
    assert result.pairs[0].p_adjusted == pytest.approx(stats.ttest_ind(shifts, other, equal_var=False).pvalue, rel=1e-6)
    assert say_retention(result)[-1] == "Heron keeps a larger share than Wren, soaked."


def test_pairs_know_more_than_the_same_pieces_unpaired() -> None:
    rows = soaked()
    paired = compute_retention(rows, Asked("wet", "dry", pair="pair"))
    loose = compute_retention(rows, Asked("wet", "dry"))
    assert loose.method == "sets"
    for one, other in zip(paired.kept, loose.kept, strict=True):
        assert one.share == pytest.approx(other.share)
        assert log(one.ci95[1] / one.ci95[0]) < log(other.ci95[1] / other.ci95[0])  # type: ignore[index]
    assert say_kept(paired.kept[1], "dry").startswith("Wren, soaked: keeps 49 % of its strength dry, lost 51 % (keeps ")


def test_retention_of_what_was_never_in_both_is_refused() -> None:
    rows = [one for one in soaked() if one.factors["wet"] == "dry" or one.factors["glue"] == "none"]
    with pytest.raises(DataError, match="No piece that counts is soaked"):
        compute_retention(rows, Asked("wet", "dry", ("soaked",)))


def test_a_held_piece_leaves_retention_there_and_a_set_that_lost_all_an_open_end() -> None:
    rows = soaked()
    one_held = [replace(one, outcome=Outcome.HELD) if one.label == "Heronsoaked0" else one for one in rows]
    kept = compute_retention(one_held, Asked("wet", "dry")).kept
    assert [one.share is not None for one in kept] == [True, True]
    lost = [replace(one, outcome=Outcome.FELL_APART) if one.label.startswith("Wrensoaked") else one for one in rows]
    heron, wren = compute_retention(lost, Asked("wet", "dry")).kept
    assert heron.ci95 is not None
    assert (wren.share, wren.ci95 and wren.ci95[0]) == (None, None)
    assert wren.ci95 is not None
    assert "keeps at most" in say_kept(wren, "dry")


def test_rigs_that_differ_between_conditions_or_within_pairs_are_named() -> None:
    rows = [
        replace(one, circumstances={"rig": "press" if one.factors["wet"] == "dry" else "lever"}) for one in soaked()
    ]
    (words,) = compute_retention(rows, Asked("wet", "dry")).warnings
    assert "Not all conditions were broken with the same rig (dry: press; soaked: lever)" in words
    on_lever = {"Herondry1", "Heronsoaked2"}
    crossed = [replace(one, circumstances={"rig": "lever" if one.label in on_lever else "press"}) for one in soaked()]
    assert compute_retention(crossed, Asked("wet", "dry")).warnings == ()
    (words,) = compute_retention(crossed, Asked("wet", "dry", pair="bar")).warnings
    assert "The partners of Heron1 and Heron2 differ in rig" in words


def test_kept_and_lost_as_said_make_a_hundred() -> None:
    for share in np.linspace(0.005, 0.995, 100):
        said = say_kept(Kept("Heron", "soaked", 5, 5, 0, float(share), (0.1, 0.9)), "dry")
        kept, lost = (int(one) for one in re.findall(r"(?:keeps|lost) (\d+) %", said)[:2])
        assert kept + lost == 100


def test_a_combination_that_lost_everything_leaves_the_average_there_with_an_open_end() -> None:
    rows = [
        replace(one, outcome=Outcome.FELL_APART, value=20.0) if one.level == "Plover, sized" else one
        for one in crossed(3)
    ]
    glue = analyse_factors(as_table(rows, None), 10.0).effects[0]
    assert (glue.averaged_over, glue.of) == (2, 2)
    assert [one.typical is None for one in glue.levels] == [False, True]
    assert glue.levels[1].lost == ("Plover, sized",)
    low, high = glue.pairs[0].ratio_ci95 or (None, None)
    assert low is not None
    assert low > 1
    assert high is None
    assert "Heron is at least" in say_effect(glue, 10.0, "sizing")[0]


def test_a_cause_that_makes_the_difference_is_named_and_one_that_does_not_is_not() -> None:
    rng = np.random.default_rng(9)
    rows, rounds, days = [], [], []
    for turn in range(24):
        name = "Heron" if turn % 2 else "Wren"
        late = turn % 3 == 0
        rows.append(Specimen(f"P{turn}", name, 50 * (0.7 if late else 1.0) * exp(rng.normal(0, 0.05))))
        rounds.append("round 2" if late else "round 1")
        days.append(float(rng.normal(0, 1)))
    table = as_table(rows, None)
    found = {
        one.name: one for one in judge_causes(table, [Cause("The round", tuple(rounds)), Cause("The day", tuple(days))])
    }
    said = say_causes(list(found.values()))
    assert len(said) == 1
    assert said[0].startswith("The round explains as much as the sets do")
    frame = pd.DataFrame({"y": [log(one.value or 0) for one in rows], "s": [r.level for r in rows], "r": rounds})
    full, plain = (smf.ols(f"y ~ {terms}", frame).fit() for terms in ("s + r", "s"))
    f, p, _ = full.compare_f_test(plain)
    beside = found["The round"].beside
    assert beside is not None
    assert (beside.statistic, beside.p) == pytest.approx((f, p))
    assert found["The round"].alone == pytest.approx(smf.ols("y ~ r", frame).fit().rsquared_adj)


def test_a_cause_that_moves_with_the_sets_cannot_be_told_apart_from_them() -> None:
    rows = [Specimen(f"P{n}", "Heron" if n % 2 else "Wren", 50.0 + n) for n in range(12)]
    rigs = tuple("crane" if n % 2 else "press" for n in range(12))
    (one,) = judge_causes(as_table(rows, None), [Cause("The rig", rigs), Cause("Unknown", (None,) * 12)])
    assert one.aliased
    assert "cannot be told" in say_causes([one])[0]
