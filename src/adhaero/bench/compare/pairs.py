"""Pairs of sets in words: all, those that matter, and those that are asked for."""

from collections.abc import Collection
from dataclasses import dataclass
from itertools import combinations, pairwise
from typing import Final

from adhaero.core.errors import NotThere
from adhaero.core.stats.analyse import Analysis, find_rank
from adhaero.core.stats.degree import degree_of
from adhaero.core.stats.pairs import Ends, Pair, Verdict
from adhaero.core.stats.verdict import say_pair, say_verdict, smaller_set, turn
from adhaero.core.stats.words import say_difference, say_span

_LEADERS: Final = 4
_FEW: Final = 10
_MOST: Final = 14


@dataclass(frozen=True)
class PairWords:
    """One pair and what it means in a sentence; `back_ci95` is the range of b over a.

    `differs`, `range` and `is_` say the ratio, its range and the verdict of a against b; `back_range` and `back_is` of
    b against a.
    """

    a: str
    b: str
    ratio: float | None
    ratio_ci95: Ends | None
    back_ci95: Ends | None
    verdict: Verdict
    p_adjusted: float | None
    words: str
    differs: str
    range: str
    is_: str
    back_range: str
    back_is: str


def say_all(analysis: Analysis) -> list[PairWords]:
    """Return every pair in words."""
    return [_say(analysis, pair) for pair in analysis.pairs]


def rank(analysis: Analysis, controls: Collection[str] = ()) -> list[str]:
    """Return the sets from the strongest down, those without an estimate last, baselines behind them all."""
    order = sorted(
        analysis.groups,
        key=lambda one: (one.level in controls, find_rank(one) is None, -(find_rank(one) or one.as_read.mean or 0.0)),
    )
    return [one.level for one in order]


def say_leading(analysis: Analysis, controls: Collection[str]) -> list[PairWords]:
    """Return the pairs that matter, in words: the leaders among themselves and against baselines, neighbours in rank.

    All pairs where that is hardly more; none that nothing can be told of. The stronger of two stands first.
    """
    order = rank(analysis, controls)
    joints = [one for one in order if one not in controls]
    if len(analysis.pairs) <= _FEW or analysis.control is not None:
        wanted = list(combinations(order, 2))
    else:
        beside = [(joints[0], one) for one in order if one in controls] if joints else []
        leading = list(combinations(joints[:_LEADERS], 2))
        wanted = [*leading[:1], *beside, *leading[1:], *pairwise(joints)]
    found = index(analysis)
    chosen = {
        frozenset(pair): pair for pair in wanted if (one := found.get(frozenset(pair))) and one.ratio_ci95 is not None
    }
    return [_say(analysis, found[key], a) for key, (a, _) in list(chosen.items())[:_MOST]]


def ask(analysis: Analysis, a: str, b: str) -> PairWords:
    """Return how a set stands to another, in words. Raises `NotThere` for two that are not compared."""
    pair = index(analysis).get(frozenset((a, b)))
    if pair is None:
        raise NotThere(
            f"{a} and {b} are not compared.", "Expected two sets that both have a piece that counts.", field="b"
        )
    return _say(analysis, pair, a)


def turned_to(pair: Pair, first: str) -> Pair:
    """Return a pair with one of its sets first."""
    return pair if pair.a == first else turn(pair)


def index(analysis: Analysis) -> dict[frozenset[str], Pair]:
    """Return the pairs of an analysis by their two sets."""
    return {frozenset((one.a, one.b)): one for one in analysis.pairs}


def _say(analysis: Analysis, pair: Pair, first: str = "") -> PairWords:
    """Return a pair in words, one of its sets first; the sentence is that of the pair as it was computed."""
    words = say_pair(pair, analysis.margin_pct, smaller_set(analysis, pair), degree_of(analysis.response))
    pair = turned_to(pair, first or pair.a)
    degree = degree_of(analysis.response)
    back = turn(pair)
    return PairWords(
        a=pair.a,
        b=pair.b,
        ratio=pair.ratio,
        ratio_ci95=pair.ratio_ci95,
        back_ci95=back.ratio_ci95,
        verdict=pair.verdict,
        p_adjusted=pair.p_adjusted,
        words=words,
        differs="" if pair.ratio is None else say_difference(pair.ratio),
        range="" if pair.ratio_ci95 is None else say_span(*pair.ratio_ci95),
        is_=say_verdict(pair.verdict, degree),
        back_range="" if back.ratio_ci95 is None else say_span(*back.ratio_ci95),
        back_is=say_verdict(back.verdict, degree),
    )
