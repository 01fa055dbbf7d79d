"""What one table over many trials says, in words: who leads, which order is known, how trials differ."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from math import exp, log

from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.library import Compared, Network, Routes
from adhaero.core.stats.words import and_join, capital, list_some, say_chance, say_difference, say_span

_MOST_SAID = 9
_MOST_LEADING = 4
_STILL = log(1.02)


def find_known(pairs: Sequence[Compared]) -> dict[str, list[str]]:
    """Return what each thing is known to be stronger than, all pairs of the table looked at together."""
    beats: dict[str, list[str]] = {}
    for one in pairs:
        if one.p < CLEAR and one.log_ratio != 0:
            first, second = (one.a, one.b) if one.log_ratio > 0 else (one.b, one.a)
            beats.setdefault(first, []).append(second)
    return beats


def turn(one: Compared, first: str) -> Compared:
    """Return a comparison with this thing before the other."""
    if one.a == first:
        return one
    (low, high), (least, most) = one.range95, one.together
    return replace(
        one, a=one.b, b=one.a, log_ratio=-one.log_ratio, range95=(1 / high, 1 / low), together=(1 / most, 1 / least)
    )


def say_leaders(pairs: Sequence[Compared], part: Sequence[str], many: str) -> str:
    """Return who leads among things that trials join.

    Parameters
    ----------
    part : the things, strongest first. many : what they are, as in “glues”.
    """
    pairs = [one for one in pairs if one.a in part and one.b in part]
    beats = find_known(pairs)
    beaten = {name for names in beats.values() for name in names}
    leaders = [name for name in part if name not in beaten]
    if len(leaders) == 1:
        against = [turn(one, leaders[0]) for one in pairs if leaders[0] in (one.a, one.b)]
        least = min(one.together[0] for one in against)
        by = f", by at least {say_difference(least).lstrip('+')}" if least > 1 else ""
        return f"{capital(leaders[0])} is the strongest of {len(part)} {many}{by}."
    if len(leaders) == len(part):
        return f"No order among these {len(part)} {many} is known yet."
    if len(leaders) > _MOST_LEADING:
        return (
            f"{capital(part[0])} stands highest of {len(part)} {many}, and {len(leaders) - 1} others cannot be told "
            "from the top yet."
        )
    return f"{capital(and_join(leaders))} lead {len(part)} {many}; which of them is the strongest is not known."


def say_order(pairs: Sequence[Compared], part: Sequence[str]) -> list[str]:
    """Return which order is known, and which neighbours in it are open; `part` strongest first."""
    beats = find_known(pairs)
    said = []
    for name in part:
        below = [other for other in part if other in beats.get(name, ())]
        if below:
            said.append(f"{capital(name)} is stronger than {list_some(below)}.")
    of_pair = {frozenset((one.a, one.b)): one for one in pairs}
    open_ = [
        f"{first} and {second} ({say_span(*turn(one, first).together)})"
        for first, second in pairwise(part)
        if (one := of_pair[frozenset((first, second))]).p >= CLEAR
    ]
    if len(said) > _MOST_SAID:
        said = [*said[:_MOST_SAID], f"And {len(said) - _MOST_SAID} more that are stronger than some."]
    if open_:
        said.append(f"Not known: {list_some(open_, '; ')}.")
    return said


def say_between(network: Network) -> str:
    """Return how trials differ among themselves, in words."""
    if network.tau is None:
        return (
            "No comparison was made in two trials: how far trials differ among themselves is not known, and the ranges "
            "hold for the boards and days of these trials alone."
        )
    if network.tau < _STILL:
        return (
            "What one trial found the others found again: between trials no scatter is seen beyond that of the pieces."
        )
    likely, moments = (100 * (exp(one) - 1) for one in (network.tau, network.tau_moments or 0.0))
    return (
        f"From trial to trial the same comparison differs by about {likely:.0f} % beyond the scatter of the pieces "
        f"(reckoned another way, from the squares, {moments:.0f} %); the ranges count that in."
    )


def say_routes(split: Mapping[tuple[str, str], Routes]) -> list[str]:
    """Return whether two ways of getting to the same comparison agree, in words (Holm over those looked at)."""
    if not split:
        return []
    at_odds = {}
    for rank, (pair, one) in enumerate(sorted(split.items(), key=lambda item: item[1].p)):
        if one.p * (len(split) - rank) >= CLEAR:
            break
        at_odds[pair] = one
    if not at_odds:
        if len(split) == 1:
            (a, b), one = next(iter(split.items()))
            return [f"{capital(a)} against {b}: two ways of getting there agree ({_say_ways(one)})."]
        return [f"{len(split)} comparisons have two ways of getting there, and they agree."]
    return [
        f"{capital(a)} against {b}: two ways of getting there do not agree, {_say_ways(one)}; chance alone does as "
        f"much {say_chance(one.p)}. Something else differs between those trials: look at them before you trust either."
        for (a, b), one in at_odds.items()
    ]


def _say_ways(one: Routes) -> str:
    return f"{say_difference(exp(one.direct))} side by side, {say_difference(exp(one.indirect))} through the others"


def say_compared(one: Compared, routes: Routes | None, questions: Sequence[str]) -> str:
    """Return one comparison in a sentence or two; `questions` of the trials that have both."""
    strong, weak = (one.a, one.b) if one.log_ratio >= 0 else (one.b, one.a)
    turned = turn(one, strong)
    head = f"{capital(strong)} against {weak}: {say_difference(turned.ratio)} ({say_span(*turned.range95)})"
    known = "" if one.p < CLEAR else "; which is stronger is not known, with all pairs of the table looked at together"
    if not questions:
        return f"{head}{known}. They never met: this goes through what both met."
    met = f"side by side in {len(questions)} trial{'s' if len(questions) > 1 else ''}"
    if routes is None:
        return f"{head}{known}; {met}."
    agree = "agree" if routes.p >= CLEAR else "do not agree"
    return f"{head}{known}; {met} and through others, which {agree}: {_say_ways(routes)}."


def say_never_met(part: Sequence[str], pairs: Sequence[Compared], many: str) -> str:
    """Return which of these things never stood side by side in a trial."""
    never = [f"{one.a} and {one.b}" for one in pairs if not one.direct]
    if not never:
        return f"Every two of these {len(part)} {many} have met."
    if len(never) > 6:
        return f"{len(never)} of {len(pairs)} pairs never met in a trial; they are compared through others."
    return f"Never met in a trial, and compared through others: {'; '.join(never)}."
