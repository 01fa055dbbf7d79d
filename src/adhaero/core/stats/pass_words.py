"""Shares of pieces that passed, in plain words."""

from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.pass_groups import PassComparison, PassPair, ShareOf


def say_share(one: ShareOf) -> str:
    """Return a share with its range.

    Examples
    --------
    >>> from adhaero.core.stats.pass_groups import find_share
    >>> say_share(find_share(11, 19))
    '11 of 19 passed, 58 % (33 to 80 %); at least 36 % of all such pieces do, 19 times in 20'
    """
    low, high = (100 * end for end in one.ci95)
    return (
        f"{one.passed} of {one.n} passed, {100 * one.share:.0f} % ({low:.0f} to {high:.0f} %); at least "
        f"{int(100 * one.at_least)} % of all such pieces do, 19 times in 20"
    )


def say_pass_pair(pair: PassPair) -> str:
    """Return whether two sets differ in the share that passes."""
    first, second = (pair.a, pair.b) if pair.difference >= 0 else (pair.b, pair.a)
    low, high = sorted(
        abs(end) if pair.difference_ci95[0] * pair.difference_ci95[1] > 0 else end for end in pair.difference_ci95
    )
    span = f"{100 * low:.0f} to {100 * high:.0f} points"
    if pair.p_adjusted < CLEAR:
        return f"{first} passes more often than {second} ({span})."
    return f"{pair.a} and {pair.b}: cannot tell yet which passes more often ({span.replace('-', '−')})."


def say_pass_comparison(result: PassComparison, share_pct: float | None) -> list[str]:
    """Return what passes and failures of several sets show."""
    said = []
    for group in result.groups:
        said.append(f"{group.level}: {say_share(group)}.")
        said += [f"  {value}: {say_share(one)}." for value, one in group.over.items()]
    said += [say_pass_pair(pair) for pair in result.pairs]
    if result.pieces_needed is not None:
        said.append(f"To claim {share_pct:g} %, {result.pieces_needed} pieces must all pass.")
    return [*said, *(f"Mind: {one}" for one in result.warnings)]
