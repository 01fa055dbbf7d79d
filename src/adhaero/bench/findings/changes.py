"""Conclusions held against the numbers, and what would change the verdict."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

from adhaero.bench.findings.asked import Asked
from adhaero.core.errors import DataError
from adhaero.core.stats.analyse import analyse
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.claims import Claim, Evidence, Swing, check_conclusion
from adhaero.core.stats.factors import Factors
from adhaero.core.stats.pairs import Pair
from adhaero.core.stats.verdict import summarise
from adhaero.core.stats.words import and_join

_MOST_TRIED, _MOST_SETS = 500, 8


def check(asked: Asked, text: str, factors: Factors | None) -> list[Claim]:
    """Return how a conclusion or a guess stands, clause by clause."""
    if not text.strip() or asked.every is None:
        return []
    swings = {one.factor: swing for one in factors.effects if (swing := _swing(one.pairs))} if factors else {}
    levels = [one.level for one in asked.every.groups]
    return check_conclusion(text, Evidence(levels, asked.every.pairs, asked.margin, swings, asked.baseline))


def _swing(pairs: Sequence[Pair]) -> Swing | None:
    found = []
    for pair in pairs:
        ratio, ends = pair.ratio, pair.ratio_ci95
        if ratio is not None and ends is not None:
            found.append(Swing(ratio, *ends) if ratio >= 1 else Swing(1 / ratio, 1 / ends[1], 1 / ends[0]))
    return max(found, key=lambda one: one.ratio, default=None)


def find_changes(asked: Asked) -> Iterator[str]:
    """Yield what would change the headline: another way to ask, and single pieces at the ends of their sets."""
    now = summarise(asked.analysis, asked.baseline).headline
    question = asked.question
    other = Estimate.GLUELINE if question.estimate is Estimate.JOINT else Estimate.JOINT
    ways: list[tuple[str, dict[str, Any]]] = [
        ("Judged for the glue alone" if other is Estimate.GLUELINE else "Judged as built", {"estimate": other})
    ]
    if question.block:
        ways.append(("Compared all together, not within boards", {"block": None}))
    if any(one.n_broke < one.n for one in asked.analysis.groups):
        ways.append(("With the scatter taken from the likelihood alone", {"few_pieces": False}))
    tried = []
    for words, changes in ways:
        result = asked.ask(**changes)
        if result is None:
            continue
        tried.append(words[:1].lower() + words[1:])
        headline = summarise(result, asked.baseline).headline
        if headline != now:
            yield f"{words}: {headline}"
    if any(one.excluded for one in asked.breaks.compared):
        tried.append("with the pieces set aside put back")
        put_back = tuple(replace(one, excluded=None) if one.value else one for one in asked.breaks.compared)
        headline = summarise(analyse(put_back, question), asked.baseline).headline
        if headline != now:
            yield f"With the pieces set aside put back: {headline}"
    if len(asked.breaks.compared) <= _MOST_TRIED and len(asked.analysis.groups) <= _MOST_SETS:
        tried.append("without the weakest or the strongest piece of any one set")
        yield from _find_pivotal(asked, now)
    yield f"Tried: {and_join(tried)}. What is not named above changes nothing."


def _find_pivotal(asked: Asked, now: str) -> Iterator[str]:
    """Yield pieces at the end of a set without which the headline is another."""
    for group in asked.analysis.groups:
        mine = sorted(
            (one for one in asked.breaks.compared if one.level == group.level and one.excluded is None),
            key=lambda one: one.value or 0.0,
        )
        for one in {mine[0].label: mine[0], mine[-1].label: mine[-1]}.values() if len(mine) > 2 else ():
            rest = tuple(other for other in asked.breaks.compared if other.label != one.label)
            try:
                headline = summarise(analyse(rest, asked.question), asked.baseline).headline
            except DataError:
                continue
            if headline != now:
                yield f"Without {one.label} alone: {headline}"
