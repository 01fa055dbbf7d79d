"""The headline answers what the plan asked: which is best, how it goes with a quantity, what is left, what passes."""

from collections.abc import Sequence
from dataclasses import replace

from adhaero.bench.compare.breaks import PASS_RULE, Breaks, Choice, collect_breaks, find_controls
from adhaero.bench.compare.curves import CurveChart, draw_curves
from adhaero.bench.compare.findings.asked import Asked
from adhaero.bench.compare.findings.conditions import ask_retention, choose_base
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.response import Response
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.factor_words import say_retention
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.pass_groups import compare_passes
from adhaero.core.stats.pass_words import say_pass_pair
from adhaero.core.stats.verdict import Summary, summarise
from adhaero.core.units import Units

_MOST_SAID = 4


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
    said = _find_answer(facts, breaks, units)
    if said:
        return replace(compared, headline=" ".join(said[:_MOST_SAID]), also=compared.headline)
    if facts.trial.judged == "both" and choice.estimate is None and not RESPONSES[choice.response].moved:
        glue = collect_breaks(facts, replace(choice, estimate=Estimate.GLUELINE))
        if glue.analysis is not None:
            also = summarise(glue.analysis, find_controls(facts, glue.analysis)).headline
            return replace(compared, also=f"For the glue alone: {also}")
    return compared


def _find_answer(facts: PieceFacts, breaks: Breaks, units: Units) -> list[str]:
    """Return what answers a question other than which is best; nothing where the pieces do not answer it yet."""
    match facts.trial.answer:
        case "curve" | "trend":
            charts = draw_curves(facts, breaks, units)
            return _say_chart(charts[0]) if charts else []
        case "retention":
            assert breaks.analysis is not None
            asked = Asked(facts, breaks, breaks.analysis)
            base = choose_base(asked)
            found = None if base is None else ask_retention(asked, base)
            return [] if found is None else say_retention(found)
        case _:
            return []


def _say_chart(chart: CurveChart) -> list[str]:
    drawn = [line for line in chart.lines if line.points]
    if len(drawn) == 1:
        return drawn[0].said[:2]
    named = [f"{line.name}: {line.said[0]}" for line in drawn]
    return [*chart.tests, *named] if len(drawn) <= _MOST_SAID else list(chart.tests)


def _answer_passes(breaks: Breaks) -> Summary | None:
    """Return which sets pass more often, where the trial is one of passes and failures."""
    if breaks.passes is None:
        return None
    found = compare_passes(breaks.passes, list(dict.fromkeys(level for level, _, _ in breaks.passes)))
    counts = [f"{one.level}: {one.passed} of {one.n} passed." for one in found.groups]
    clear: Sequence[str] = [say_pass_pair(pair) for pair in found.pairs if pair.p_adjusted < CLEAR]
    if len(found.groups) < 2:
        return Summary(counts[0], "")
    if clear:
        return Summary(" ".join(clear[:_MOST_SAID]), " ".join(counts))
    return Summary("That one set passes more often than another is not shown.", " ".join(counts))
