"""Comparing sets: what must hold for any breaks, and what cannot be analysed."""

from dataclasses import replace
from math import comb, exp, log

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import stats

from adhaero.core.errors import DataError, EntryError
from adhaero.core.stats.analyse import Question, analyse
from adhaero.core.stats.as_read import compute_as_read
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen, as_judged
from adhaero.core.stats.pairs import Verdict, exp_end, find_n_to_settle
from adhaero.core.stats.power import compute_n_needed, compute_power, compute_t_power, sigma_log_from_cv
from adhaero.core.stats.verdict import say_pair, smaller_set, summarise
from adhaero.core.stats.words import say_percent

QUESTION = Question("strength", "glue")


def table(groups: dict[str, list[float]], boards: bool = False) -> tuple[Specimen, ...]:
    return tuple(
        Specimen(f"{level}-{turn}", level, value, block=f"Board {turn}" if boards else None)
        for level, values in groups.items()
        for turn, value in enumerate(values)
    )


def noisy(seed: int, levels: dict[str, float], n: int, cv: float = 0.12) -> dict[str, list[float]]:
    rng = np.random.default_rng(seed)
    return {level: (mean * np.exp(rng.normal(0, cv, n))).tolist() for level, mean in levels.items()}


strengths = st.lists(st.floats(1, 200), min_size=3, max_size=8).filter(lambda v: max(v) / min(v) > 1.001)


@settings(max_examples=40, deadline=None)
@given(st.lists(strengths, min_size=2, max_size=4), st.randoms())
def test_the_order_of_the_rows_does_not_matter(values: list[list[float]], random: object) -> None:
    rows = list(table({f"set {n}": group for n, group in enumerate(values)}))
    shuffled = rows.copy()
    random.shuffle(shuffled)  # type: ignore[attr-defined]
    first, second = analyse(tuple(rows), QUESTION), analyse(tuple(shuffled), QUESTION)
    by_level = {group.level: group for group in second.groups}
    for group in first.groups:
        assert by_level[group.level].typical == pytest.approx(group.typical)
        assert by_level[group.level].typical_ci95 == pytest.approx(group.typical_ci95)
    ratios = {frozenset((p.a, p.b)): abs(log(p.ratio)) for p in second.pairs}
    assert all(ratios[frozenset((p.a, p.b))] == pytest.approx(abs(log(p.ratio)), abs=1e-9) for p in first.pairs)


@settings(max_examples=40, deadline=None)
@given(st.lists(strengths, min_size=2, max_size=4), st.floats(0.01, 1000))
def test_a_change_of_unit_scales_strengths_and_nothing_else(values: list[list[float]], times: float) -> None:
    groups = {f"set {n}": group for n, group in enumerate(values)}
    one = analyse(table(groups), QUESTION)
    other = analyse(table({level: [v * times for v in group] for level, group in groups.items()}), QUESTION)
    for a, b in zip(one.groups, other.groups, strict=True):
        assert b.typical == pytest.approx((a.typical or 0) * times)
        assert b.lower_5pct == pytest.approx((a.lower_5pct or 0) * times)
        assert b.letters == a.letters
    for p, q in zip(one.pairs, other.pairs, strict=True):
        assert q.ratio == pytest.approx(p.ratio)
        assert q.ratio_ci95 == pytest.approx(p.ratio_ci95, rel=1e-6)
        assert q.verdict is p.verdict


def test_boards_that_differ_hide_a_difference_until_they_are_blocks() -> None:
    boards = [30.0, 45.0, 60.0, 80.0, 100.0, 125.0]
    jitter = [1.01, 0.99, 1.02, 0.98, 1.0, 1.01]
    groups = {"Heron": [1.12 * b * j for b, j in zip(boards, jitter, strict=True)], "Wren": boards}
    alone = analyse(table(groups), QUESTION).pairs[0]
    within = analyse(table(groups, boards=True), replace(QUESTION, block="board")).pairs[0]
    assert alone.verdict is Verdict.CANNOT_TELL
    assert within.verdict is Verdict.A_STRONGER
    assert within.ratio == pytest.approx(1.12 * float(np.prod(jitter)) ** (1 / 6))


def test_two_sets_of_any_scatter_are_welchs_test() -> None:
    groups = noisy(3, {"Heron": 70, "Wren": 60}, 7)
    pair = analyse(table(groups), QUESTION).pairs[0]
    welch = stats.ttest_ind(np.log(groups["Heron"]), np.log(groups["Wren"]), equal_var=False)
    assert pair.p_adjusted == pytest.approx(welch.pvalue, rel=1e-6)
    interval = welch.confidence_interval()
    assert pair.ratio_ci95 == pytest.approx((exp(interval.low), exp(interval.high)), rel=1e-7)


def test_excluded_pieces_count_nowhere_and_are_listed() -> None:
    rows = table(noisy(1, {"Heron": 70, "Wren": 60}, 6))
    odd = (*rows, Specimen("Heron-9", "Heron", 5.0, excluded="fixture slipped"))
    with_it, without = analyse(odd, QUESTION), analyse(rows, QUESTION)
    assert with_it.groups == without.groups
    assert [(one.specimen, one.reason) for one in with_it.excluded] == [("Heron-9", "fixture slipped")]


def test_torn_wood_is_no_number_for_the_glue_line() -> None:
    rows = table(noisy(1, {"Heron": 70, "Wren": 60}, 5))
    torn = (replace(rows[0], wood_failure_pct=75.0), replace(rows[1], wood_failure_pct=74.9), *rows[2:])
    assert analyse(torn, QUESTION).groups[0].n == 5
    judged = as_judged(torn, Estimate.GLUELINE, 75.0)
    assert [one.outcome for one in judged[:2]] == [Outcome.HELD, Outcome.BROKE]
    glue = analyse(torn, replace(QUESTION, estimate=Estimate.GLUELINE))
    assert (glue.groups[0].n_held, glue.overall and glue.overall.method) == (1, "welch")
    assert glue.groups[0].as_read == analyse(torn, QUESTION).groups[0].as_read


@pytest.mark.parametrize(
    ("rows", "words"),
    [
        ((Specimen("a", "Heron", 1.0), Specimen("a", "Wren", 2.0)), "Two pieces are labelled a"),
        ((Specimen("a", "Heron", -1.0),), "zero or more"),
        ((Specimen("a", "Heron", None),), "has no value"),
        ((Specimen("a", "Heron", 1.0, excluded="split"), Specimen("b", "Wren", 1.0)), "No usable piece in Heron"),
    ],
)
def test_tables_that_cannot_be_are_refused(rows: tuple[Specimen, ...], words: str) -> None:
    with pytest.raises(DataError, match=words):
        analyse(rows, QUESTION)


@pytest.mark.parametrize(
    "groups",
    [
        {"Heron": [5.0]},
        {"Heron": [5.0], "Wren": [6.0]},
        {"Heron": [5.0, 5.0, 5.0], "Wren": [6.0, 6.0]},
        {"Heron": [1e-9, 2e-9, 3e-9], "Wren": [1e9, 2e9, 3e9]},
        {"Heron": [5.0, 5.5], "Wren": [6.0], "Plover": [7.0, 7.7, 8.0]},
    ],
)
def test_hard_tables_give_what_can_be_had_and_never_a_nan(groups: dict[str, list[float]]) -> None:
    result = analyse(table(groups), QUESTION)
    for group in result.groups:
        for value in (group.typical, group.lower_5pct, *(group.typical_ci95 or ())):
            assert value is None or np.isfinite(value)
    for pair in result.pairs:
        assert pair.ratio_ci95 is None or all(np.isfinite(pair.ratio_ci95))
        assert say_pair(pair, 10, smaller_set(result, pair)).endswith(".")


def test_one_board_of_each_set_is_a_comparison_of_two_boards() -> None:
    rows = [Specimen(f"{level}{n}", level, 50.0 + n, block=f"of {level}") for level in ("H", "W") for n in range(4)]
    result = analyse(tuple(rows), replace(QUESTION, block="board"))
    (pair,) = result.pairs
    assert (pair.ratio, pair.ratio_ci95, pair.verdict) == (pytest.approx(1.0), None, Verdict.CANNOT_TELL)
    assert "comparison of two boards" in say_pair(pair, 10, 4)
    assert any("one board of their wood" in one for one in result.warnings)


def test_numbers_as_read() -> None:
    # 9, 10, 11, 14: mean 11, squares 4+1+0+9 = 14, /3
    read = compute_as_read([9.0, 10.0, 11.0, 14.0])
    assert (read.mean, read.median, read.min, read.max, read.trimmed_mean) == (11.0, 10.5, 9.0, 14.0, 10.5)
    assert read.sd == pytest.approx((14 / 3) ** 0.5)
    assert compute_as_read([]).mean is None
    assert compute_as_read([4.0]).sd is None


def test_power_counts_what_a_simulation_counts() -> None:
    sigma, n, shift = sigma_log_from_cv(15), 8, log(1.25)
    rng = np.random.default_rng(5)
    a, b = rng.normal(0, sigma, (4000, n)), rng.normal(shift, sigma, (4000, n))
    seen = float(np.mean(stats.ttest_ind(a, b, axis=1).pvalue < 0.05))
    assert compute_t_power(shift, sigma, n, 0.05) == pytest.approx(seen, abs=0.025)


def test_n_needed_is_the_first_that_suffices() -> None:
    sigma, shift = sigma_log_from_cv(15), log(1.10)
    n = compute_n_needed(shift, sigma)
    assert n is not None
    assert compute_t_power(shift, sigma, n, 0.05) >= 0.8 > compute_t_power(shift, sigma, n - 1, 0.05)
    assert compute_n_needed(1e-6, 1.0) is None
    assert compute_power(15, 4, 6).pairwise_level == 0.05 / comb(4, 2)


@pytest.mark.parametrize(
    ("cv", "groups", "n", "difference"), [(0, 2, 5, None), (15, 1, 5, None), (15, 2, 1, 5), (15, 2, 5, 0)]
)
def test_power_of_what_cannot_be(cv: float, groups: int, n: int, difference: float | None) -> None:
    with pytest.raises(EntryError):
        compute_power(cv, groups, n, difference)


def test_signed_percentages_have_no_false_digits() -> None:
    assert [say_percent(r) for r in (1.2149, 0.96, 1.012, 1.0001)] == ["+21 %", "−4 %", "+1.2 %", "0 %"]


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.sampled_from([1.0, 1.05, 1.3]), st.integers(3, 40))
def test_the_sentence_says_what_the_fields_say(seed: int, ratio: float, n: int) -> None:
    result = analyse(table(noisy(seed, {"Heron": 60 * ratio, "Wren": 60}, n)), QUESTION)
    pair = result.pairs[0]
    assume(pair.ratio_ci95 is not None)
    words, (low, high) = say_pair(pair, 10, n), pair.ratio_ci95 or (0, 0)
    match pair.verdict:
        case Verdict.A_STRONGER:
            assert low > 1
            assert words.startswith(f"{pair.a} is {say_percent(pair.ratio).lstrip('+')} stronger than {pair.b}")
        case Verdict.B_STRONGER:
            assert high < 1
            assert words.startswith(f"{pair.b} is ")
            assert say_percent(1 / pair.ratio).lstrip("+") in words
        case Verdict.SAME:
            assert 1 / 1.1 < low < high < 1.1
            assert "same for practice" in words
            assert ("too small to matter" in words) is pair.measurable
        case Verdict.CANNOT_TELL:
            assert low <= 1 <= high or pair.ratio_ci95 is None
            assert say_percent(low) in words
            assert say_percent(high) in words
            needed = pair.pieces_to_settle
            if needed is not None and needed > n:
                assert f"{needed - n} more" in words


def test_as_many_pieces_as_are_said_to_settle_a_pair_usually_do() -> None:
    rng = np.random.default_rng(7)
    for groups in (2, 8):
        n = find_n_to_settle(log(1.1), 0.1, groups)
        assert n is not None
        settled = 0
        for _ in range(60):
            values = {f"set {k}": rng.lognormal(3, 0.1, n).tolist() for k in range(groups)}
            settled += analyse(table(values), QUESTION).pairs[0].verdict is Verdict.SAME
        assert 40 <= settled <= 57


def test_the_headline_leaves_the_baseline_out_and_names_it() -> None:
    means = {"Heron": 80.0, "Wren": 60.0, "Solid": 110.0}
    result = analyse(table(noisy(2, means, 10, 0.05)), QUESTION)
    assert (
        summarise(result, ["Solid"]).headline
        == "Heron is stronger than Wren, by at least 26 %; Solid is stronger still."
    )
    assert summarise(result).headline == "Solid is the strongest, by at least 27 %."
    assert "Heron comes first" in summarise(result, ["Solid"]).averages
    against = analyse(table(noisy(2, means, 10, 0.05)), replace(QUESTION, control="Wren"))
    assert summarise(against).headline == "Heron and Solid are stronger than Wren."


def test_sets_that_lead_and_are_the_same_for_practice_are_said_to_be() -> None:
    result = analyse(table(noisy(2, {"Heron, dry": 80.0, "Wren, dry": 80.2, "Plover": 50.0}, 20, 0.04)), QUESTION)
    assert summarise(result).headline == "“Heron, dry” and “Wren, dry” lead, and are the same for practice."


def test_what_to_mind() -> None:
    rows = list(table(noisy(4, {"Heron": 70, "Wren": 60}, 6, 0.03)))
    rows[0] = replace(rows[0], value=20.0, circumstances={"rig": "crane"})
    rows = [replace(one, circumstances=one.circumstances or {"rig": "press"}) for one in rows]
    few = (*rows, *table({"Plover": [50.0, 52.0]}), Specimen("X", "Wren", 900.0, excluded="typed twice"))
    said = "\n".join(analyse(few, QUESTION).warnings)
    for words in (
        "Fewer than 5 pieces in Plover (2)",
        "Heron-0 (below the rest of Heron) stands out",
        "nothing is dropped",
        "same rig",
        "Heron and Wren swap places",
    ):
        assert words in said, said


def test_the_remark_on_a_piece_that_stands_out_is_made_in_one_trial_of_twenty_by_chance() -> None:
    rng = np.random.default_rng(12)
    named = sum(
        any(
            "stand" in one
            for one in analyse(
                table({k: rng.lognormal(3, 0.12, 3 + 3 * n).tolist() for n, k in enumerate("HWP")}), QUESTION
            ).warnings
        )
        for _ in range(300)
    )
    assert 4 <= named <= 27


def test_there_is_one_sentence_of_a_kind_however_many_sets_there_are() -> None:
    rng = np.random.default_rng(3)
    rows = table({f"set {n}": rng.lognormal(3, 0.1, 2).tolist() for n in range(60)}, boards=True)
    warnings = analyse(rows, replace(QUESTION, block="board")).warnings
    assert len(warnings) < 8
    assert max(map(len, warnings)) < 300


def test_an_end_beyond_what_a_number_holds_can_still_be_turned_round() -> None:
    assert exp_end(None) is None
    for end in (-1e6, 1e6):
        ratio = exp_end(end)
        assert ratio is not None
        assert 0 < ratio < float("inf")
        assert 0 < 1 / ratio < float("inf")
