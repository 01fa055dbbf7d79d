"""Verdicts in plain words, every sentence made from fields of the result."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from math import floor

from adhaero.core.stats.analyse import Analysis, Group
from adhaero.core.stats.degree import STRENGTH, Degree, degree_of
from adhaero.core.stats.pairs import Pair, Verdict
from adhaero.core.stats.rankings import rank_sets, say_rankings
from adhaero.core.stats.words import MOST_PERCENT, and_join, capital, say_name, say_percent, say_span, say_times


def _unsigned(ratio: float) -> str:
    return say_percent(ratio).lstrip("+−")


def turn(pair: Pair) -> Pair:
    """Return a pair the other way round: b against a."""
    low, high = pair.ratio_ci95 or (None, None)
    turned = {Verdict.A_STRONGER: Verdict.B_STRONGER, Verdict.B_STRONGER: Verdict.A_STRONGER}
    return replace(
        pair,
        a=pair.b,
        b=pair.a,
        difference=None if pair.difference is None else -pair.difference,
        ratio=None if pair.ratio is None else 1 / pair.ratio,
        ratio_ci95=None
        if pair.ratio_ci95 is None
        else (None if high is None else 1 / high, None if low is None else 1 / low),
        verdict=turned.get(pair.verdict, pair.verdict),
    )


def say_verdict(verdict: Verdict, degree: Degree = STRENGTH) -> str:
    """Return what a is to b by a verdict, in a word or three."""
    return {
        Verdict.SAME: "the same for practice",
        Verdict.A_STRONGER: degree.more,
        Verdict.B_STRONGER: degree.less,
        Verdict.CANNOT_TELL: "cannot tell yet",
    }[verdict]


def say_pair(pair: Pair, margin_pct: float, pieces: int, degree: Degree = STRENGTH) -> str:
    """Return one pair's verdict as a sentence, the base of the percentage named.

    Parameters
    ----------
    pair : the pair; margin_pct : the difference that matters; pieces : of the smaller of its two sets.
    degree : the words of what is compared.
    """
    pair = replace(pair, a=say_name(pair.a), b=say_name(pair.b))
    low, high = pair.ratio_ci95 or (None, None)
    if low is None and high is None:
        return f"{pair.a} and {pair.b}: cannot tell, {_say_why(pair)}."
    if pair.verdict is Verdict.B_STRONGER:
        return _say_stronger(turn(pair), degree)
    if pair.verdict is Verdict.A_STRONGER:
        return _say_stronger(pair, degree)
    if pair.verdict is Verdict.SAME:
        extra = " The difference can be measured, but it is too small to matter." if pair.measurable else ""
        return (
            f"{pair.a} and {pair.b} are the same for practice: {pair.a} differs from {pair.b} by "
            f"{say_span(low, high)}, within ±{margin_pct:g} %.{extra}"
        )
    needed = _say_needed(pair.pieces_to_settle, margin_pct, pieces)
    if low is None or high is None:
        return (
            f"{pair.a} and {pair.b}: cannot tell yet. {pair.a} could differ from {pair.b} by anything: "
            f"{say_span(low, high)}."
        )
    return (
        f"{pair.a} and {pair.b}: cannot tell yet. {pair.a} could differ from {pair.b} by anything from "
        f"{say_span(low, high)}.{needed}"
    )


def _say_why(pair: Pair) -> str:
    if pair.why:
        return pair.why
    if pair.ratio_ci95 is not None:
        return "both held, or both fell apart, throughout"
    if pair.ratio is None:
        return "there is no scatter to judge them by"
    return "there are too few pieces to know the scatter"


def _say_stronger(pair: Pair, degree: Degree) -> str:
    """Return how much stronger a is than b; `at least`, where a held or b fell apart throughout."""
    low, high = pair.ratio_ci95 or (None, None)
    if pair.ratio is None or high is None:
        least = low or 1.0
        if least >= MOST_PERCENT:
            return f"{pair.a} is at least {say_times(least)} times as {degree.plain} as {pair.b}."
        return f"{pair.a} is at least {_unsigned(least)} {degree.more} than {pair.b}."
    if pair.ratio >= MOST_PERCENT:
        return f"{pair.a} is {say_times(pair.ratio)} times as {degree.plain} as {pair.b} ({say_span(low, high)})."
    return f"{pair.a} is {_unsigned(pair.ratio)} {degree.more} than {pair.b} ({say_span(low, high)})."


def _say_needed(needed: int | None, margin_pct: float, pieces: int) -> str:
    if needed is None:
        return ""
    if needed <= pieces:
        return f" {pieces} pieces of each usually settle {margin_pct:g} %: the true difference is likely close to it."
    return f" About {needed} pieces of each, {needed - pieces} more, usually settle {margin_pct:g} %."


def smaller_set(result: Analysis, pair: Pair) -> int:
    """Return the number of pieces in the smaller set of a pair."""
    return min(group.n for group in result.groups if group.level in (pair.a, pair.b))


@dataclass(frozen=True)
class Summary:
    """The answer in a headline and one sentence on how the averages agree about it.

    Attributes
    ----------
    also : the answer to the other question, where the plan asked two.
    verdict : the headline without by how much; empty where it is the headline.
    """

    headline: str
    averages: str
    also: str = ""
    verdict: str = ""


def summarise(result: Analysis, controls: Collection[str] = ()) -> Summary:
    """Return the answer of an analysis in words; baselines are left out of the search for a winner."""
    degree = degree_of(result.response)
    groups = [group for group in result.groups if group.level not in controls]
    if not groups:
        return Summary("Nothing to compare yet.", "")
    if len(groups) == 1:
        against = _headline_against_control(result.pairs, controls, degree)
        return Summary(against or f"Only {groups[0].level} has pieces: nothing to compare it with.", "")
    if result.control is not None:
        return Summary(
            capital(_headline_against_control(result.pairs, {result.control}, degree)), _say_averages(groups)
        )
    headline, plain = (capital(_headline(groups, result.pairs, controls, degree, amounts=one)) for one in (True, False))
    return Summary(headline, _say_averages(groups), verdict=plain)


def _say_averages(groups: Sequence[Group]) -> str:
    return say_rankings(
        rank_sets({group.level: group.as_read for group in groups}),
        [group.level for group in groups if group.n_held or group.n_fell_apart or group.n_step],
    )


def find_beaten(names: Collection[str], pairs: Sequence[Pair]) -> dict[str, set[str]]:
    """Return for each set the others that it is shown to be stronger than."""
    beaten = {name: set[str]() for name in names}
    for pair in pairs:
        if pair.a in beaten and pair.b in beaten:
            if pair.verdict is Verdict.A_STRONGER:
                beaten[pair.a].add(pair.b)
            elif pair.verdict is Verdict.B_STRONGER:
                beaten[pair.b].add(pair.a)
    return beaten


@dataclass(frozen=True)
class Winner:
    """The strongest of the sets, baselines left out, and the least that it stands over all others as a ratio."""

    name: str
    least: float


def find_winner(result: Analysis, controls: Collection[str] = ()) -> Winner | None:
    """Return the set that is shown to be stronger than every other; None where there is none."""
    names = [group.level for group in result.groups if group.level not in controls]
    return _find_winner(names, result.pairs)


def _find_winner(names: Collection[str], pairs: Sequence[Pair]) -> Winner | None:
    inner = [pair for pair in pairs if pair.a in names and pair.b in names]
    for name, losers in find_beaten(names, inner).items():
        if len(names) > 1 and losers == set(names) - {name}:
            mine = [pair if pair.a == name else turn(pair) for pair in inner if name in (pair.a, pair.b)]
            lows = [low for pair in mine if pair.ratio_ci95 and (low := pair.ratio_ci95[0]) is not None]
            return Winner(name, min(lows) if len(lows) == len(mine) else 1.0)
    return None


def _headline(
    groups: Sequence[Group], pairs: Sequence[Pair], controls: Collection[str], degree: Degree, *, amounts: bool
) -> str:
    names = [group.level for group in groups]
    inner = [pair for pair in pairs if pair.a in names and pair.b in names]
    beaten = find_beaten(names, inner)
    if (winner := _find_winner(names, inner)) is not None:
        only = next(name for name in names if name != winner.name) if len(names) == _TWO else None
        return _say_winner(winner if amounts else replace(winner, least=1.0), only, pairs, controls, degree)
    if inner and all(pair.verdict is Verdict.SAME for pair in inner):
        return "No difference that matters."
    unbeaten = [name for name in names if not any(name in losers for losers in beaten.values())]
    if len(unbeaten) < len(names) and len(unbeaten) == 1:
        return f"{say_name(unbeaten[0])} is ahead; that it is the {degree.most} is not shown of every set."
    if len(unbeaten) < len(names):
        leading = [pair for pair in inner if pair.a in unbeaten and pair.b in unbeaten]
        some = unbeaten if len(unbeaten) <= _MOST_LEADERS else [f"{len(unbeaten)} of {len(names)} sets"]
        if leading and all(pair.verdict is Verdict.SAME for pair in leading):
            return f"{and_join(some)} lead, and are the same for practice."
        held = [group.level for group in groups if group.level in unbeaten and group.at_least is not None]
        if held == unbeaten:
            return f"{and_join(some)} lead: none of their pieces broke, so that which is {degree.more} cannot be told."
        return f"{and_join(some)} lead; which is {degree.more} cannot be told yet."
    if all(group.typical is None for group in groups) and not any(beaten.values()):
        return "Nothing can be told: all these pieces are bounds."
    return f"Cannot tell yet which is {degree.more}."


_MOST_LEADERS = 6


def _say_winner(
    winner: Winner, only: str | None, pairs: Sequence[Pair], controls: Collection[str], degree: Degree
) -> str:
    """Return the strongest set and by how much at least; beside solid wood, how it stands to the wood is told.

    Parameters
    ----------
    only : the one other set, where there are two.
    """
    name = winner.name
    most, least = _say_most(winner, only, degree)
    against: dict[Verdict, list[str]] = {}
    for pair in (one if one.a == name else turn(one) for one in pairs if name in (one.a, one.b)):
        if pair.b in controls:
            against.setdefault(pair.verdict, []).append(pair.b)
    if not against:
        return f"{say_name(name)} is {most}{least}."
    said = [
        words.format(and_join(against[verdict]), _be(against[verdict]), degree.more)
        for verdict, words in _TO_THE_WOOD.items()
        if verdict in against
    ]
    joint = most.replace(degree.most, f"{degree.most} joint") if only is None else most
    return f"{say_name(name)} is {joint}{least}; {', '.join(said)}."


def _say_most(winner: Winner, only: str | None, degree: Degree) -> tuple[str, str]:
    """Return what the winner is, and by how much at least; empty where that is next to nothing, or said already."""
    times = f"at least {floor(10 * winner.least) / 10:g} times as {degree.plain} as"
    if only is None:
        most = f"the {degree.most}"
        if winner.least >= _TWICE:
            return most, f", {times} any other"
    else:
        most = f"{degree.more} than {say_name(only)}"
        if winner.least >= _TWICE:
            return f"{times} {say_name(only)}", ""
    return most, f", by at least {say_least(winner.least)}" if winner.least >= _LEAST_SAID else ""


_LEAST_SAID = 1.01
_TWO = 2
_TWICE = 2.0


def say_least(ratio: float) -> str:
    """Return how much more a set has at least, rounded down so that it stays true.

    Examples
    --------
    >>> say_least(1.089), say_least(2.57)
    ('8 %', 'a factor of 2.5')
    """
    if ratio >= _TWICE:
        return f"a factor of {floor(10 * ratio) / 10:g}"
    return f"{floor(100 * (ratio - 1) + 1e-9)} %"


_TO_THE_WOOD = {
    Verdict.B_STRONGER: "{0} {1} {2} still",
    Verdict.A_STRONGER: "it is {2} than {0} too",
    Verdict.SAME: "it is the same for practice as {0}",
    Verdict.CANNOT_TELL: "it and {0} cannot be told apart yet",
}


def _be(names: Sequence[str]) -> str:
    return "is" if len(names) == 1 else "are"


def _headline_against_control(pairs: Sequence[Pair], controls: Collection[str], degree: Degree) -> str:
    """Return which sets are stronger or weaker than the control; nothing without such pairs."""
    against = [
        pair if pair.b in controls else turn(pair) for pair in pairs if (pair.b in controls) != (pair.a in controls)
    ]
    if not against:
        return ""
    names = and_join(list(dict.fromkeys(pair.b for pair in against)))
    stronger = [pair.a for pair in against if pair.verdict is Verdict.A_STRONGER]
    weaker = [pair.a for pair in against if pair.verdict is Verdict.B_STRONGER]
    if stronger:
        return f"{and_join(stronger)} {_be(stronger)} {degree.more} than {names}."
    if weaker and len(weaker) == len(against):
        return f"{and_join(weaker)} {_be(weaker)} {degree.less} than {names}."
    if weaker:
        return f"{and_join(weaker)} {_be(weaker)} {degree.less} than {names}; that any is {degree.more} is not shown."
    return f"No set is shown to be {degree.more} or {degree.less} than {names}."
