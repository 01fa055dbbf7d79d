"""Verdicts in plain words, every sentence made from fields of the result."""

from collections.abc import Sequence
from dataclasses import dataclass

from adhaero.core.stats.analyse import Analysis, Group
from adhaero.core.stats.pairs import Pair, Verdict
from adhaero.core.stats.rankings import rank_sets, say_rankings
from adhaero.core.stats.words import and_join, capital, say_percent


def _unsigned(ratio: float) -> str:
    return say_percent(ratio).lstrip("+−")


def say_pair(pair: Pair, margin_pct: float, pieces: int) -> str:
    """Return one pair's verdict as a sentence, the base of the percentage named.

    Parameters
    ----------
    pair : the pair; margin_pct : the difference that matters; pieces : of the smaller of its two sets.
    """
    if pair.ratio is None:
        return f"{pair.a} and {pair.b}: cannot tell, the pieces of one of them give bounds and no estimate."
    if pair.ratio_ci95 is None:
        return f"{pair.a} and {pair.b}: cannot tell, there are too few pieces to know the scatter."
    low, high = pair.ratio_ci95
    if pair.verdict is Verdict.A_STRONGER:
        return (
            f"{pair.a} is {_unsigned(pair.ratio)} stronger than {pair.b} ({say_percent(low)} to {say_percent(high)})."
        )
    if pair.verdict is Verdict.B_STRONGER:
        back = (1 / high, 1 / low)
        return (
            f"{pair.b} is {_unsigned(1 / pair.ratio)} stronger than {pair.a} "
            f"({say_percent(back[0])} to {say_percent(back[1])})."
        )
    if pair.verdict is Verdict.SAME:
        extra = " The difference can be measured, but it is too small to matter." if pair.measurable else ""
        return (
            f"{pair.a} and {pair.b} are the same for practice: {pair.a} differs from {pair.b} by "
            f"{say_percent(low)} to {say_percent(high)}, within ±{margin_pct:g} %.{extra}"
        )
    return (
        f"{pair.a} and {pair.b}: cannot tell yet. {pair.a} could differ from {pair.b} by anything from "
        f"{say_percent(low)} to {say_percent(high)}.{_say_needed(pair.specimens_needed, margin_pct, pieces)}"
    )


def _say_needed(needed: int | None, margin_pct: float, pieces: int) -> str:
    if needed is None:
        return ""
    if needed <= pieces:
        return (
            f" {pieces} of each usually show a difference of {margin_pct:g} %: if there is one, it is likely smaller."
        )
    return f" About {needed} pieces of each, {needed - pieces} more, usually settle {margin_pct:g} %."


def smaller_set(result: Analysis, pair: Pair) -> int:
    """Return the number of pieces in the smaller set of a pair."""
    return min(group.n for group in result.groups if group.level in (pair.a, pair.b))


@dataclass(frozen=True)
class Summary:
    """The answer in a headline and one sentence on how the averages agree about it."""

    headline: str
    averages: str


def summarise(result: Analysis, baseline: str | None = None) -> Summary:
    """Return the answer of an analysis in words; the baseline is left out of the search for a winner."""
    groups = [group for group in result.groups if group.level != baseline and group.typical is not None]
    if not groups:
        bounds = any(group.n_broke < group.n for group in result.groups)
        return Summary("Nothing can be told: all these pieces are bounds." if bounds else "Nothing to compare yet.", "")
    if len(groups) == 1:
        return Summary(f"Only {groups[0].level} has pieces: nothing to compare it with.", "")
    rankings = rank_sets({group.level: group.as_read for group in groups})
    return Summary(capital(_headline(groups, result.pairs, baseline)), say_rankings(rankings))


def _headline(groups: Sequence[Group], pairs: Sequence[Pair], baseline: str | None) -> str:
    names = {group.level for group in groups}
    inner = [pair for pair in pairs if pair.a in names and pair.b in names]
    if not inner:
        return _headline_against_control(pairs)
    beaten = {name: set[str]() for name in names}
    for pair in inner:
        if pair.verdict is Verdict.A_STRONGER:
            beaten[pair.a].add(pair.b)
        elif pair.verdict is Verdict.B_STRONGER:
            beaten[pair.b].add(pair.a)
    for name, losers in beaten.items():
        if losers == names - {name}:
            return _say_winner(name, pairs, baseline)
    if all(pair.verdict is Verdict.SAME for pair in inner):
        return "No difference that matters."
    unbeaten = [group.level for group in groups if not any(group.level in losers for losers in beaten.values())]
    if len(unbeaten) < len(names):
        leading = [pair for pair in inner if pair.a in unbeaten and pair.b in unbeaten]
        if leading and all(pair.verdict is Verdict.SAME for pair in leading):
            return f"{and_join(unbeaten)} lead, and are the same for practice."
        return f"{and_join(unbeaten)} lead; which is stronger cannot be told yet."
    return "Cannot tell yet which is stronger."


def _say_winner(name: str, pairs: Sequence[Pair], baseline: str | None) -> str:
    beaten_by_baseline = any(
        (pair.a, pair.b, pair.verdict) in ((baseline, name, Verdict.A_STRONGER), (name, baseline, Verdict.B_STRONGER))
        for pair in pairs
    )
    if beaten_by_baseline:
        return f"{name} is the strongest joint; {baseline} is stronger still."
    return f"{name} is the strongest."


def _headline_against_control(pairs: Sequence[Pair]) -> str:
    control = pairs[0].b if pairs else ""
    stronger = [pair.a for pair in pairs if pair.verdict is Verdict.A_STRONGER]
    weaker = [pair.a for pair in pairs if pair.verdict is Verdict.B_STRONGER]
    if stronger:
        return f"{and_join(stronger)} {'is' if len(stronger) == 1 else 'are'} stronger than {control}."
    if weaker:
        return f"{and_join(weaker)} {'is' if len(weaker) == 1 else 'are'} weaker than {control}; none is stronger."
    return f"No set is shown to be stronger or weaker than {control}."
