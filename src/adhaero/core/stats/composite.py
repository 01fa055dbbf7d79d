"""One mark from several conditions with stated weights, and whether the winner depends on them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log

import numpy as np

from adhaero.core.errors import EntryError
from adhaero.core.stats.pairs import compare_combined
from adhaero.core.stats.sets import SetsFit
from adhaero.core.stats.words import and_join, say_span


@dataclass(frozen=True)
class Composite:
    """A composite of conditions.

    Attributes
    ----------
    weights : by condition, summing to 1.
    marks : by set, 1 for one that is strongest in every condition: the weighted geometric mean of its strength over the
        best strength of each condition. Sets that lack a condition have none.
    order : sets by their mark, best first.
    alone : the best set in each condition by itself.
    without : the best set when a condition is left out, its weight shared among the rest.
    changes_at : for a condition, the weights (others in proportion) between 0 and 1 at which the winner changes.
    """

    weights: Mapping[str, float]
    marks: Mapping[str, float]
    order: tuple[str, ...]
    alone: Mapping[str, str]
    without: Mapping[str, str]
    changes_at: Mapping[str, tuple[float, ...]]


def combine_conditions(strengths: Mapping[str, Mapping[str, float]], weights: Mapping[str, float]) -> Composite:
    """Return the composite of several conditions.

    Parameters
    ----------
    strengths : typical strengths by condition and set, above 0; weights : by condition, zero or more.

    Raises
    ------
    EntryError : fewer than two conditions, a weight below zero or all zero, or no set in every condition.
    """
    conditions = list(strengths)
    if len(conditions) < 2:
        raise EntryError("One condition alone is no composite.", "Expected two or more.")
    given = {one: weights.get(one, 0.0) for one in conditions}
    total = sum(given.values())
    if min(given.values()) < 0 or total <= 0:
        raise EntryError(
            "The weights cannot be used.", "Expected numbers of zero or more, not all zero.", field="weights"
        )
    sets = [name for name in strengths[conditions[0]] if all(name in strengths[one] for one in conditions)]
    if not sets:
        raise EntryError("No set was tested in every condition.", "Expected the same sets in all of them.")
    shares = {
        one: {name: log(strengths[one][name] / max(strengths[one][each] for each in sets)) for name in sets}
        for one in conditions
    }
    shared = {one: weight / total for one, weight in given.items()}
    marks = _marks(shares, shared, sets)
    return Composite(
        weights=shared,
        marks={name: exp(mark) for name, mark in marks.items()},
        order=tuple(sorted(sets, key=lambda name: -marks[name])),
        alone={one: _best(shares[one]) for one in conditions},
        without={
            one: _best(_marks(shares, _leave_out(shared, one), sets))
            for one in conditions
            if sum(weight for other, weight in shared.items() if other != one) > 0
        },
        changes_at={one: _find_changes(shares, shared, sets, one) for one in conditions},
    )


Shares = Mapping[str, Mapping[str, float]]


def _marks(shares: Shares, weights: Mapping[str, float], sets: list[str]) -> dict[str, float]:
    return {name: sum(weight * shares[one][name] for one, weight in weights.items()) for name in sets}


def _best(marks: Mapping[str, float]) -> str:
    return max(marks, key=lambda name: marks[name])


def _leave_out(weights: Mapping[str, float], left: str) -> dict[str, float]:
    return _give(weights, left, 0.0)


def _give(weights: Mapping[str, float], one: str, weight: float) -> dict[str, float]:
    """Return the weights with one set to a value, the others in proportion."""
    rest = sum(value for other, value in weights.items() if other != one)
    others = len(weights) - 1
    return {
        other: weight if other == one else (1 - weight) * (value / rest if rest > 0 else 1 / others)
        for other, value in weights.items()
    }


def _find_changes(shares: Shares, weights: Mapping[str, float], sets: list[str], one: str) -> tuple[float, ...]:
    """Return the weights of one condition at which another set takes the lead: the marks are straight lines in it."""
    at_0, at_1 = (_marks(shares, _give(weights, one, end), sets) for end in (0.0, 1.0))
    found: list[float] = []
    at, leader = 0.0, max(sets, key=lambda name: (at_0[name], at_1[name]))
    while True:
        crossings = []
        for name in sets:
            gain = (at_1[name] - at_0[name]) - (at_1[leader] - at_0[leader])
            if gain > 1e-15:
                crossings.append(((at_0[leader] - at_0[name]) / gain, -gain, name))
        ahead = [crossing for crossing in crossings if at < crossing[0] < 1]
        if not ahead:
            return tuple(found)
        at, _, leader = min(ahead)
        found.append(at)


@dataclass(frozen=True)
class Bounded:
    """A set without a mark: in some conditions all its pieces held (or else fell apart)."""

    name: str
    conditions: tuple[str, ...]
    held: bool


@dataclass(frozen=True)
class Lead:
    """By what the winner's mark lies above another's; the range None where nothing tells the scatter."""

    other: str
    ratio: float
    ci95: tuple[float, float] | None


def compare_marks(result: Composite, fit: SetsFit, places: Mapping[str, Mapping[str, int]]) -> tuple[Lead, ...]:
    """Return the lead of the winner over every other set, simultaneous (Bonferroni) over all pairs of sets.

    The winner is chosen after looking, so that its leads are as many chances of error as there are pairs.

    A mark is a weighted sum of logarithms, so that a lead is a contrast of the fitted sets: ratios are of geometric
    means.

    Parameters
    ----------
    fit : of all combinations; places : which of its sets is a set in a condition, by condition and set.
    """
    winner, *others = result.order
    pairs = len(result.order) * (len(result.order) - 1) // 2
    wanted = []
    for turn, other in enumerate(others):
        weights = np.zeros(fit.effects.size)
        for condition, weight in result.weights.items():
            weights[places[condition][winner]] += weight
            weights[places[condition][other]] -= weight
        wanted.append((0, turn + 1, weights))
    found = []
    for other, one in zip(others, compare_combined(fit, wanted, pairs), strict=True):
        if one.log_ratio is not None:
            low, high = one.log_ci95 or (None, None)
            ends = None if low is None or high is None else (exp(low), exp(high))
            found.append(Lead(other, exp(one.log_ratio), ends))
    return tuple(found)


def say_leads(winner: str, leads: Sequence[Lead]) -> list[str]:
    """Return over whom the winner's lead is clear, and over whom it could be chance."""
    known = [one for one in leads if one.ci95 is not None]
    clear = [one.other for one in known if one.ci95 and one.ci95[0] > 1]
    open_ = [f"{one.other} ({say_span(*one.ci95)})" for one in known if one.ci95 and one.ci95[0] <= 1]
    said = [f"With these weights its lead over {and_join(clear)} is more than chance."] if clear else []
    if open_:
        said.append(f"Whether {winner} leads {and_join(open_)} cannot be told yet.")
    return said


def say_composite(one: Composite, bounded: Sequence[Bounded] = ()) -> list[str]:
    """Return which set has the highest mark and what that hangs on; sets without a mark are named.

    Parameters
    ----------
    bounded : sets that held, or fell apart, throughout in a condition.
    """
    winner = one.order[0]
    stated = and_join([f"{name} {100 * weight:.0f} %" for name, weight in one.weights.items()])
    said = [f"Weighted {stated}, {winner} has the highest mark."]
    for other in bounded:
        where = and_join(list(other.conditions))
        if other.held:
            said.append(f"{other.name} has no mark: none of its pieces broke in {where}, and it may be ahead of all.")
        else:
            said.append(f"{other.name} comes last: it lost all its pieces in {where}.")
    if set(one.alone.values()) == {winner}:
        return [*said, f"{winner} has the highest typical strength in every condition: the weights do not matter."]
    listed = and_join([f"{name} for {condition}" for condition, name in one.alone.items()])
    said.append(f"By one condition alone: {listed}. So the winner depends on the weights.")
    # of two conditions the second has the rest of the weight
    for condition, changes in list(one.changes_at.items())[: 1 if len(one.changes_at) == 2 else None]:
        if changes:
            points = and_join([f"{100 * change:.0f} %" for change in changes])
            said.append(f"With the weight of {condition} the winner changes at {points}.")
    lost = [f"without {condition} {name}" for condition, name in one.without.items() if name != winner]
    if lost:
        said.append(f"It rests on one condition: {and_join(lost)} would come first.")
    return said
