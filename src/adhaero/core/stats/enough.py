"""Good enough: which sets carry a line, typically, and so that hardly a piece stays below it."""

from collections.abc import Sequence

from adhaero.core.stats.analyse import Group
from adhaero.core.stats.words import and_join


def say_enough(groups: Sequence[Group], line: float, typed: str) -> list[str]:
    """Return which sets are good enough for a line, in two sentences.

    Parameters
    ----------
    groups : the sets, in the order in which they are to be named. line : in the unit of their response.
    typed : the line as a person wrote it.
    """
    above, below, open_, firm = list[str](), list[str](), list[str](), list[str]()
    for one in groups:
        low, high = one.typical_ci95 or (one.at_least, one.at_most)
        where = above if low is not None and low > line else below if high is not None and high < line else open_
        where.append(one.level)
        if one.lower_5pct is not None and one.lower_5pct > line:
            firm.append(one.level)
    parts = (("typically above", above), ("typically below", below), ("not to be told", open_))
    told = "; ".join(f"{words}: {and_join(names)}" for words, names in parts if names)
    all_but_few = and_join(firm) if firm else "none"
    return [
        f"For {typed}, {told}.",
        f"So strong that 19 of 20 such pieces stay above it (3 chances in 4): {all_but_few}.",
    ]
