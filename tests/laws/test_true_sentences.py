"""Laws of every sentence, over random small trials, through the functions that make the page."""

import re
from dataclasses import replace
from math import exp, log

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adhaero.core.claims.check import check_conclusions
from adhaero.core.claims.evidence import evidence_of_sets
from adhaero.core.claims.standing import Standing
from adhaero.core.stats.analyse import Analysis, Question, analyse
from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.core.stats.curves import Point, fit_curve
from adhaero.core.stats.factor_words import say_kept
from adhaero.core.stats.pairs import Verdict, rank_levels
from adhaero.core.stats.retention import Asked, compute_retention
from adhaero.core.stats.shape import Shape
from adhaero.core.stats.verdict import say_pair, smaller_set, summarise, turn

QUESTION = Question("strength_MPa", "glue")
NAMES = ("Heron", "Wren", "Plover", "Teal")


@st.composite
def trials(draw: st.DrawFn, names: tuple[str, ...] = NAMES) -> tuple[Specimen, ...]:
    """A trial of two to four sets of one to six pieces, some of which only hold, fall apart or broke in steps."""
    rows: list[Specimen] = []
    for name in names[: draw(st.integers(2, len(names)))]:
        centre, spread = draw(st.floats(5, 80)), draw(st.sampled_from([0.0, 0.03, 0.15, 0.4]))
        usual = draw(st.sampled_from([Outcome.BROKE, Outcome.BROKE, Outcome.HELD, Outcome.FELL_APART]))
        rng = np.random.default_rng(draw(st.integers(0, 10_000)))
        for number in range(draw(st.integers(1, 6))):
            value = round(centre * exp(rng.normal(0, spread)), 2)
            outcome = draw(st.sampled_from([usual, usual, usual, Outcome.BROKE, Outcome.STEP]))
            held = round(value * 0.9, 2) if outcome is Outcome.STEP else None
            board = f"Board {draw(st.integers(1, 3))}"
            rows.append(Specimen(f"{name}-{number}", name, value, outcome, held, block=board))
    return tuple(rows)


def against(result: Analysis, name: str) -> list[tuple[float | None, float | None]]:
    """Return the ranges of a set over every other."""
    pairs = [pair if pair.a == name else turn(pair) for pair in result.pairs if name in (pair.a, pair.b)]
    return [pair.ratio_ci95 or (None, None) for pair in pairs]


@settings(max_examples=150, deadline=None)
@given(trials(), st.sampled_from([None, "board"]))
def test_the_strongest_is_named_only_where_every_other_interval_says_so(
    rows: tuple[Specimen, ...], block: str | None
) -> None:
    result = analyse(rows, replace(QUESTION, block=block))
    headline = summarise(result).headline
    for group in result.groups:
        if headline.startswith(f"{group.level} is the strongest"):
            assert all(low is not None and low > 1 for low, _ in against(result, group.level))


@settings(max_examples=120, deadline=None)
@given(trials())
def test_no_sentence_of_a_pair_contradicts_the_headline_or_a_claim(rows: tuple[Specimen, ...]) -> None:
    result = analyse(rows, QUESTION)
    evidence = evidence_of_sets({"": rows}, QUESTION)
    for pair in result.pairs:
        words = say_pair(pair, 10, smaller_set(result, pair))
        (stronger,) = check_conclusions([f"{pair.a} is stronger than {pair.b}"], evidence)
        if pair.verdict is Verdict.A_STRONGER:
            assert words.startswith(f"{pair.a} is ")
            assert stronger.standing is Standing.SUPPORTED
        if pair.verdict is Verdict.B_STRONGER:
            assert words.startswith(f"{pair.b} is ")
            assert stronger.standing is Standing.CONTRADICTED
        if pair.verdict is Verdict.CANNOT_TELL:
            assert "cannot tell" in words
            assert stronger.standing is not Standing.CONTRADICTED or pair.measurable
    winner = re.match(r"(\w+) is the strongest", summarise(result).headline)
    if winner:
        (claim,) = check_conclusions([f"{winner[1]} is the strongest"], evidence)
        assert claim.standing is Standing.SUPPORTED
    if summarise(result).averages.endswith("first."):
        assert all(group.n_broke == group.n for group in result.groups), "averages judge no bounds"


@settings(max_examples=100, deadline=None)
@given(st.integers(0, 10_000), st.sampled_from([Outcome.HELD, Outcome.FELL_APART]), st.floats(0.3, 3.0))
def test_numbers_of_plain_breaks_do_not_change_when_a_piece_of_another_set_is_a_bound(
    seed: int, outcome: Outcome, times: float
) -> None:
    rng = np.random.default_rng(seed)
    rows = [Specimen(f"{name}-{turn}", name, float(rng.lognormal(3, 0.2))) for name in NAMES for turn in range(4)]
    other = replace(rows[0], outcome=outcome, value=(rows[0].value or 1.0) * times)
    before, after = analyse(tuple(rows), QUESTION), analyse((other, *rows[1:]), QUESTION)
    for old, new in zip(before.groups[1:], after.groups[1:], strict=True):
        assert replace(new, letters="") == replace(old, letters="")
    for old, new in zip(before.pairs, after.pairs, strict=True):
        if "Heron" not in (old.a, old.b):
            assert new.ratio_ci95 == pytest.approx(old.ratio_ci95)


@settings(max_examples=100, deadline=None)
@given(trials(), st.integers(0, 1000))
def test_kept_and_lost_make_a_hundred_and_nothing_is_below_zero(rows: tuple[Specimen, ...], seed: int) -> None:
    rng = np.random.default_rng(seed)
    halves = [
        replace(one, label=f"{one.label}{state}", factors={"glue": one.level, "wet": state},
                value=(one.value or 1.0) * (0.6 if state == "wet" else 1.0) * exp(rng.normal(0, 0.05)), held_value=None,
                outcome=Outcome.BROKE if one.outcome is Outcome.STEP else one.outcome)
        for one in rows for state in ("dry", "wet")
    ]  # fmt: skip
    for kept in compute_retention(halves, Asked("wet", "dry")).kept:
        words = say_kept(kept, "dry")
        numbers = re.search(r"keeps (\d+) % of its strength dry, lost (-?\d+) %", words)
        if numbers:
            assert int(numbers[1]) + int(numbers[2]) == 100
        assert all(end is None or end >= 0 for end in kept.ci95 or ())


@settings(max_examples=100, deadline=None)
@given(trials(), st.sampled_from([None, "board"]))
def test_every_set_with_pieces_is_named_in_every_ranking(rows: tuple[Specimen, ...], block: str | None) -> None:
    result = analyse(rows, replace(QUESTION, block=block))
    names = {one.level for one in rows}
    assert {group.level for group in result.groups} == names
    assert all(group.letters for group in result.groups)
    strengths = [group.typical or group.at_least or group.at_most for group in result.groups]
    assert set(rank_levels([group.level for group in result.groups], strengths)) == names
    paired = {frozenset((pair.a, pair.b)) for pair in result.pairs}
    assert len(paired) == len(names) * (len(names) - 1) // 2


OTHERS = [
    ("A", "B", "C", "I"),
    ("1", "2", "3", "10"),
    ("rain", "half", "than", "not"),
    ("Wren", "Wren gel", "gel", "x"),
]


@settings(max_examples=60, deadline=None)
@given(trials(), st.sampled_from(OTHERS))
def test_renaming_sets_changes_nothing_but_the_names(rows: tuple[Specimen, ...], others: tuple[str, ...]) -> None:
    to = dict(zip(NAMES, others, strict=True))
    renamed = tuple(replace(one, level=to[one.level]) for one in rows)
    first, second = analyse(rows, QUESTION), analyse(renamed, QUESTION)
    for old, new in zip(first.groups, second.groups, strict=True):
        assert replace(new, level="") == replace(old, level="")
    for old, new in zip(first.pairs, second.pairs, strict=True):
        assert (new.ratio, new.ratio_ci95, new.verdict) == (old.ratio, old.ratio_ci95, old.verdict)
    plain, other = evidence_of_sets({"": rows}, QUESTION), evidence_of_sets({"": renamed}, QUESTION)
    for pair in first.pairs:
        texts = [f"{{}} {words} {{}}" for words in ("is stronger than", "is 20 % weaker than", "is not weaker than")]
        for text in texts:
            (old_claim,) = check_conclusions([text.format(pair.a, pair.b)], plain)
            (new_claim,) = check_conclusions([text.format(to[pair.a], to[pair.b])], other)
            assert new_claim.standing in (old_claim.standing, Standing.NOT_CHECKED)


def test_equal_times_no_pieces_one_board_and_one_set_never_raise() -> None:
    one = tuple(Specimen(f"P{n}", "Heron", 5.0, block="Board 1") for n in range(3))
    for block in (None, "board"):
        result = analyse(one, replace(QUESTION, block=block))
        assert summarise(result).headline
        assert (result.pairs, result.overall) == ((), None)
    two = (*one, *(Specimen(f"Q{n}", "Wren", 5.0, block="Board 1") for n in range(3)))
    assert summarise(analyse(two, replace(QUESTION, block="board"))).headline
    assert analyse(two, QUESTION).pairs[0].verdict is Verdict.CANNOT_TELL
    held = tuple(replace(piece, outcome=Outcome.HELD) for piece in two)
    assert summarise(analyse(held, QUESTION)).headline == "Nothing can be told: all these pieces are bounds."
    # times that are all the same, and a set without pieces, are refused or left out with words
    with pytest.raises(ValueError, match="different values or more"):
        fit_curve([Point(f"P{n}", 2.0, 5.0 + n) for n in range(6)], Shape.STRAIGHT)
    put_aside = tuple(replace(piece, excluded="slipped") if piece.level == "Wren" else piece for piece in two)
    with pytest.raises(ValueError, match="No usable piece in Wren"):
        analyse(put_aside, QUESTION)


def test_a_wood_that_is_weaker_is_not_made_the_strongest_by_solids_of_every_wood() -> None:
    # two woods on boards of their own, two grain pairs each, and solid pieces of both: larch is truly weaker throughout
    rng = np.random.default_rng(4)
    strengths = {("ash", "side"): 30, ("ash", "end"): 14, ("larch", "side"): 18, ("larch", "end"): 8.5}
    rows = []
    for board in range(6):
        wood = "ash" if board < 3 else "larch"
        effect = exp(rng.normal(0, 0.05))
        for grain in ("side", "end"):
            rows += [
                Specimen(f"{wood}{grain}{board}{n}", f"{wood}, {grain}", strengths[wood, grain] * effect
                         * exp(rng.normal(0, 0.06)), block=f"Board {board}", wood=wood) for n in range(2)
            ]  # fmt: skip
        solid = (33 if wood == "ash" else 20) * effect * exp(rng.normal(0, 0.06))
        rows.append(Specimen(f"solid{board}", "Solid", solid, block=f"Board {board}", wood=wood))
    result = analyse(tuple(rows), replace(QUESTION, block="board"))
    assert result.divided == ("Solid",)
    assert {"Solid, ash", "Solid, larch"} <= {group.level for group in result.groups}
    summary = summarise(result, ("Solid, ash", "Solid, larch"))
    assert "Larch" not in summary.headline
    assert "larch, side" not in summary.headline
    for pair in result.pairs:
        one = turn(pair) if pair.a.startswith("larch") else pair
        if one.a.startswith("ash, side") and one.b == "larch, side":
            assert one.ratio == pytest.approx(30 / 18, rel=0.15)
    together = {group.level: group.typical or 0 for group in result.groups}
    assert log(together["ash, side"] / together["larch, side"]) > 0


@pytest.mark.parametrize("block", [None, "board"])
def test_a_piece_is_said_to_stand_out_in_no_more_than_one_normal_trial_of_twenty(block: str | None) -> None:
    rng = np.random.default_rng(4)
    said = 0
    for _ in range(400):
        rows = [
            Specimen(f"{name}-{turn}", name, exp(rng.normal(3, 0.12)), block=f"Board {turn}")
            for name in NAMES
            for turn in range(3)
        ]
        said += any("more than chance" in one for one in analyse(tuple(rows), replace(QUESTION, block=block)).warnings)
    # a twentieth of 400 and three standard deviations
    assert said <= 20 + 13


def test_many_sets_and_boards_get_one_sentence_of_a_kind() -> None:
    rng = np.random.default_rng(5)
    rows = [
        Specimen(f"{a}{b}", f"Set {a:02}", 20 * exp(rng.normal(0, 0.1)), block=f"Board {a // 2 * 2 + b % 2}")
        for a in range(64)
        for b in range(2)
    ]
    warnings = analyse(tuple(rows), replace(QUESTION, block="board")).warnings
    assert len(warnings) < 8
    assert all(len(one) < 500 for one in warnings)
