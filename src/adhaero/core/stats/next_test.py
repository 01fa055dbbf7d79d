"""Which comparison would settle most: the table as it would stand after one more trial of two things."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from math import log, sqrt

import numpy as np

from adhaero.core.stats.laws import LIKELY, find_t
from adhaero.core.stats.library import Network
from adhaero.core.stats.pairs import find_n_to_settle

_FEWEST, _MOST = 4, 20
_STEADY_DF = 60.0


@dataclass(frozen=True)
class NextTest:
    """A trial of two things that would settle most.

    Attributes
    ----------
    a, b : the two. pieces : of each. settles : how many comparisons of the table it would usually bring to a known
    order. joins : how many it would make possible at all. narrows : by what share, percent, its own range shrinks.
    """

    a: str
    b: str
    pieces: int
    settles: int
    joins: int
    narrows: float | None


def rank_tests(
    network: Network, sigma: float, margin_pct: float, skip: Sequence[str] = (), names: Sequence[str] = ()
) -> list[NextTest]:
    """Return trials of two things, the one that would settle most first.

    The estimates stay where they are; ranges shrink as one more trial of so many pieces of each, on boards that carry
    both, would shrink them, the scatter between trials counted in. Where nothing would get a known order, what shrinks
    the ranges of all most comes first.

    Parameters
    ----------
    sigma : scatter of logarithms within trials. margin_pct : the smallest difference that matters, percent.
    skip : things that need no test. names : more things that no trial joined yet.
    """
    wanted = [name for name in (*network.names, *names) if name not in skip]
    pieces = find_n_to_settle(log(1 + margin_pct / 100), sigma, 2) or _MOST
    pieces = max(_FEWEST, min(_MOST, pieces))
    between = network.tau or 0.0
    spread = 2 * sigma**2 / pieces + between**2
    t = find_t(LIKELY, float(network.df + 1) if network.df else _STEADY_DF)
    pairs = [(a, b) for part in network.parts for a, b in combinations([one for one in part if one not in skip], 2)]
    of = {name: at for at, name in enumerate(network.names)}
    rows = np.zeros((len(pairs), len(network.names)))
    for row, (a, b) in enumerate(pairs):
        rows[row, of[a]], rows[row, of[b]] = 1.0, -1.0
    shifts = np.abs(rows @ network.effects)
    before = np.maximum(((rows @ network.covariance) * rows).sum(axis=1), 1e-300)
    known = shifts > t * np.sqrt(before)
    found = []
    for a, b in combinations(wanted, 2):
        if a in of and b in of and network.are_joined(a, b):
            weights = np.zeros(len(network.names))
            weights[of[a]], weights[of[b]] = 1.0, -1.0
            moved = network.covariance @ weights
            own = float(weights @ moved)
            after = before - (rows @ moved) ** 2 / (own + spread)
            settles = int((~known & (shifts > t * np.sqrt(np.maximum(after, 0.0)))).sum())
            gain = float((np.sqrt(before) - np.sqrt(np.maximum(after, 0.0)))[~known].sum())
            narrows = 100 * (1 - sqrt(spread / (own + spread)))
            found.append((settles, gain, NextTest(a, b, pieces, settles, 0, narrows)))
        else:
            first = next((part for part in network.parts if a in part), (a,))
            second = next((part for part in network.parts if b in part), (b,))
            joins = len([one for one in first if one not in skip]) * len([one for one in second if one not in skip])
            found.append((joins, float("inf"), NextTest(a, b, pieces, 0, joins, None)))
    found.sort(key=lambda one: (-one[0], -one[1], one[2].a, one[2].b))
    return [one for _, _, one in found]
