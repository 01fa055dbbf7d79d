"""Conclusions held against the numbers, and what would change the verdict."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from adhaero.bench.compare.findings.asked import Asked
from adhaero.bench.compare.findings.conditions import ask_retention, choose_base
from adhaero.core.claims.check import Answer, check_conclusions
from adhaero.core.claims.evidence import Evidence, evidence_of_retention, make_slice, refs_of
from adhaero.core.claims.standing import Standing
from adhaero.core.errors import DataError
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.stats.analyse import Analysis, analyse
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.retention import Asked as KeptAsked
from adhaero.core.stats.verdict import summarise
from adhaero.core.stats.words import and_join, list_some

_MOST_TRIED, _MOST_SETS = 500, 8


def check(asked: Asked, text: str, curves: Evidence | None) -> list[Answer]:
    """Return how a conclusion or a guess stands, clause by clause: said of the sets, else of the curves."""
    if not text.strip():
        return []
    found = check_conclusions([text], _find_evidence(asked))
    if curves is None:
        return found
    of_curves = {one.text: one for one in check_conclusions([text], curves) if one.standing is not Standing.NOT_CHECKED}
    return [of_curves.get(one.text, one) if one.standing is Standing.NOT_CHECKED else one for one in found]


def _find_evidence(asked: Asked) -> Evidence:
    """Return what a conclusion about this trial is held against: its sets, and what they keep in its conditions."""
    question = replace(asked.question, control=None)
    specimens = asked.breaks.compared
    one = make_slice(specimens, question, asked.controls, by=asked.varied_names())
    found = refs_of({"": one}, question)
    base = choose_base(asked)
    if base is None or len(asked.varied_names()) < 2:
        return found
    kept = ask_retention(asked, base, paired=False)
    if kept is None:
        return found
    wanted = KeptAsked(base.name, base.value, block=question.block, estimate=question.estimate,
                       wood_failure_from=question.wood_failure_from, margin_pct=question.margin_pct)  # fmt: skip
    shares = evidence_of_retention(asked.made_of(), kept, wanted, (), question.response)
    return replace(found, shares=shares.shares, before=shares.before, column=shares.column,
                   refs=(*found.refs, *(ref for ref in shares.refs if ref.kind == "condition")))  # fmt: skip


def find_changes(asked: Asked) -> Iterator[str]:
    """Yield what would change the headline or a pair: another way to ask, single pieces at the ends of sets."""
    question = asked.question
    other = Estimate.GLUELINE if question.estimate is Estimate.JOINT else Estimate.JOINT
    ways: list[tuple[str, dict[str, Any]]] = []
    if not RESPONSES[asked.breaks.response].moved:
        words = "Judged for the glue alone" if other is Estimate.GLUELINE else "Judged as built"
        ways.append((words, {"estimate": other}))
    if question.block:
        ways.append(("Compared all together, not within boards", {"block": None}))
    if any(one.n_broke < one.n for one in asked.analysis.groups):
        ways.append(("With few pieces not counted as few", {"plain_likelihood": True}))
    tried = []
    for words, changes in ways:
        result = asked.ask(**changes)
        if result is None:
            continue
        tried.append(words[:1].lower() + words[1:])
        if change := _say_change(asked, result):
            yield f"{words}: {change}"
    if any(one.excluded for one in asked.breaks.compared):
        tried.append("with the pieces set aside put back")
        put_back = tuple(replace(one, excluded=None) if one.value else one for one in asked.breaks.compared)
        if change := _say_change(asked, analyse(put_back, question)):
            yield f"With the pieces set aside put back: {change}"
    if len(asked.breaks.compared) <= _MOST_TRIED and len(asked.analysis.groups) <= _MOST_SETS:
        tried.append("without the weakest or the strongest piece of any one set")
        yield from _find_pivotal(asked)
    yield f"Tried: {and_join(tried)}. What is not named above changes neither the headline nor any pair."


def _say_change(asked: Asked, result: Analysis) -> str:
    """Return the headline of another way, or which pairs it judges otherwise; nothing where all stays."""
    other = summarise(result, asked.controls)
    if other.verdict != summarise(asked.analysis, asked.controls).verdict:
        return other.headline
    pairs = _find_other_pairs(asked.analysis, result)
    return f"the headline stays, and {list_some(pairs)} are judged otherwise." if pairs else ""


def _find_other_pairs(now: Analysis, other: Analysis) -> list[str]:
    verdicts = {(one.a, one.b): one.verdict for one in other.pairs}
    return [
        f"{one.a} with {one.b}"
        for one in now.pairs
        if (one.a, one.b) in verdicts and verdicts[one.a, one.b] is not one.verdict
    ]


def _find_pivotal(asked: Asked) -> Iterator[str]:
    """Yield pieces at the end of a set without which the headline is another, or without which pairs are."""
    now = summarise(asked.analysis, asked.controls).verdict
    pairs = []
    for group in asked.analysis.groups:
        mine = sorted(
            (one for one in asked.breaks.compared if one.level == group.level and one.excluded is None),
            key=lambda one: one.value or 0.0,
        )
        for one in {mine[0].label: mine[0], mine[-1].label: mine[-1]}.values() if len(mine) > 2 else ():
            rest = tuple(other for other in asked.breaks.compared if other.label != one.label)
            try:
                result = analyse(rest, asked.question)
            except DataError:
                continue
            other = summarise(result, asked.controls)
            if other.verdict != now:
                yield f"Without {one.label} alone: {other.headline}"
            elif others := _find_other_pairs(asked.analysis, result):
                pairs.append(f"without {one.label} {and_join(others[:3])}{' and more' if len(others) > 3 else ''}")
    if pairs:
        yield f"The headline stays, but pairs are judged otherwise: {list_some(pairs, '; ')}."
