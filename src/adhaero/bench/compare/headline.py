"""The headline answers what the plan asked: which is best, how it goes with a quantity, what is left, what passes."""

from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from itertools import combinations
from typing import Final

from adhaero.bench.compare.breaks import PASS_RULE, Breaks, Choice, collect_breaks, find_controls
from adhaero.bench.compare.curves import CurveChart, draw_curves
from adhaero.bench.compare.findings.asked import Asked
from adhaero.bench.compare.findings.conditions import ask_retention, choose_base
from adhaero.bench.compare.pairs import rank
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.response import Response
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.enough import say_enough
from adhaero.core.stats.factor_words import say_retention
from adhaero.core.stats.few import FewPieces, are_few, judge_few, say_few
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.pairs import Verdict
from adhaero.core.stats.pass_groups import compare_passes
from adhaero.core.stats.verdict import Summary, find_winner, summarise
from adhaero.core.stats.words import and_join, capital
from adhaero.core.units import Units, response_unit

_MOST_SAID = 4
_LEAST_AMOUNTS = 3


def answer(facts: PieceFacts, breaks: Breaks, choice: Choice, units: Units) -> Summary | None:
    """Return the answer to the question that the plan asked; the sets compared where there is none to it yet."""
    said = _answer(facts, breaks, choice, units)
    if said is None or breaks.response is Response.STRENGTH:
        return said
    return replace(said, headline=f"By {RESPONSES[breaks.response].noun}: {said.headline}")


def _answer(facts: PieceFacts, breaks: Breaks, choice: Choice, units: Units) -> Summary | None:
    passes = _answer_passes(breaks) if breaks.response is Response.STRENGTH else None
    if breaks.analysis is None:
        return passes
    compared = summarise(breaks.analysis, find_controls(facts, breaks.analysis))
    if passes is not None:
        return replace(passes, averages=f"{passes.averages} {PASS_RULE.capitalize()}.", also=compared.headline)
    if enough := _answer_enough(facts, choice):
        return replace(compared, headline=" ".join(enough), also=compared.headline)
    said = [] if breaks.cut else find_answer(facts, lambda: breaks, units)
    if said:
        return replace(compared, headline=" ".join(said[:_MOST_SAID]), also=compared.headline)
    few = find_few(facts, breaks)
    if few is not None and find_winner(breaks.analysis, find_controls(facts, breaks.analysis)) is None:
        shown = response_unit(RESPONSES[breaks.response].kind or FIXTURES[facts.fixture].kind, units)
        headline, rest = say_few(few, shown.symbol, shown.per_si)
        return Summary(headline, " ".join(rest))
    if facts.trial.judged == "both" and choice.estimate is None and not RESPONSES[choice.response].moved:
        glue = collect_breaks(facts, replace(choice, estimate=Estimate.GLUELINE))
        if glue.analysis is not None:
            also = summarise(glue.analysis, find_controls(facts, glue.analysis)).headline
            return replace(compared, also=f"For the glue alone: {also}")
    return compared


def _answer_enough(facts: PieceFacts, choice: Choice) -> list[str]:
    """Return which sets carry what the plan says a joint has to; nothing where it says none, or asks otherwise."""
    line = facts.quantities.get("must_carry_n")
    if line is None or choice.response not in (Response.STRENGTH, Response.LOAD):
        return []
    loads = collect_breaks(facts, replace(choice, response=Response.LOAD))
    if loads.analysis is None:
        return []
    of_level = {one.level: one for one in loads.analysis.groups}
    order = rank(loads.analysis, find_controls(facts, loads.analysis))
    return say_enough([of_level[level] for level in order], line.si, line.typed)


def find_few(facts: PieceFacts, breaks: Breaks) -> FewPieces | None:
    """Return what one or two pieces of each set say; None where there are more, or one set alone."""
    counted = [one for one in breaks.compared if one.excluded is None]
    solid = {one.name for one in facts.made if one.solid}
    joints = [one for one in counted if one.level not in solid]
    if not are_few(list(Counter(one.level for one in joints).values())):
        return None
    sizes = facts.planned_sizes
    return judge_few(joints, sizes["cv_pct"], sizes["margin_pct"])


NO_CURVE: Final = "No curve of this shape fits: nothing is read off between the values that were tried."


def find_answer(facts: PieceFacts, find_breaks: Callable[[], Breaks], units: Units) -> list[str]:
    """Return what answers a question other than which is best; nothing where the pieces do not answer it yet.

    Parameters
    ----------
    find_breaks : all pieces together; called only where the question is such a one.
    """
    match facts.trial.answer:
        case "curve" | "trend":
            breaks = find_breaks()
            charts = draw_curves(facts, breaks, units)
            along, plateau = _say_chart(charts[0]) if charts else [], _say_plateau(facts, breaks)
            return [*along, *plateau] if along or not plateau else [*plateau, NO_CURVE]
        case "retention":
            breaks = find_breaks()
            if breaks.analysis is None:
                return []
            asked = Asked(facts, breaks, breaks.analysis)
            base = choose_base(asked)
            found = None if base is None else ask_retention(asked, base)
            return [] if found is None else say_retention(found)
        case _:
            return []


def _say_chart(chart: CurveChart) -> list[str]:
    """Return what curves answer: the one, or each set in short; nothing where the one is not the shape."""
    drawn = [line for line in chart.lines if line.points]
    if len(drawn) == 1:
        return drawn[0].answer
    named = [
        f"{capital(line.name)} {line.in_short}."
        if line.in_short
        else f"{capital(line.name)}: no such curve fits it, and nothing is read off."
        for line in sorted(drawn, key=lambda one: not one.in_short)
    ]
    return named if len(named) <= _MOST_SAID else [*chart.tests, *named][:_MOST_SAID]


def _say_plateau(facts: PieceFacts, breaks: Breaks) -> list[str]:
    """Return from which amount on more makes no difference, where one amount alone varies and that is shown."""
    amounts = {one.name: one.value_si for one in facts.levels.values() if one.value_si is not None}
    if breaks.analysis is None or len(facts.factors) != 1 or len(amounts) < _LEAST_AMOUNTS:
        return []
    pairs = {frozenset((one.a, one.b)): one for one in breaks.analysis.pairs}
    order = sorted(
        (one.level for one in breaks.analysis.groups if one.level in amounts), key=lambda level: amounts[level] or 0.0
    )
    for at, level in enumerate(order[:-1]):
        inside = [pairs.get(frozenset(pair)) for pair in combinations(order[at:], 2)]
        if all(one is not None and one.verdict is Verdict.SAME for one in inside):
            return [f"From {level} on more makes no difference that matters."]
        if all(one is not None and not one.measurable for one in inside):
            return [f"From {level} on no difference is shown."]
    return []


def _answer_passes(breaks: Breaks) -> Summary | None:
    """Return which sets pass more often, where the trial is one of passes and failures."""
    if breaks.passes is None:
        return None
    found = compare_passes(breaks.passes, list(dict.fromkeys(level for level, _, _ in breaks.passes)))
    counts = [f"{one.level}: {one.passed} of {one.n} passed." for one in found.groups]
    if len(found.groups) < 2:
        return Summary(counts[0], "")
    better: dict[str, list[str]] = {}
    for pair in found.pairs:
        if pair.p_adjusted < CLEAR:
            first, second = (pair.a, pair.b) if pair.difference >= 0 else (pair.b, pair.a)
            better.setdefault(second, []).append(first)
    if better:
        said = [
            f"{capital(and_join(firsts))} {'passes' if len(firsts) == 1 else 'pass'} more often than {second}."
            for second, firsts in better.items()
        ]
        return Summary(" ".join(said[:_MOST_SAID]), " ".join(counts))
    return Summary("That one set passes more often than another is not shown.", " ".join(counts))
