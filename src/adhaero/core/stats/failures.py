"""Strength against the kind of failure, and against a line: the wood's own strength."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Final

import numpy as np

from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.core.stats.linear import code
from adhaero.core.stats.pairs import Pair, compare_combined, judge_pair
from adhaero.core.stats.passes import PassCount, count_passes
from adhaero.core.stats.sets import fit_sets
from adhaero.core.stats.table import Table
from adhaero.core.stats.words import and_join, say_percent

MOSTLY_WOOD: Final = 75.0
MOSTLY_GLUE: Final = 25.0
KINDS: Final = ("mostly glue line", "both", "mostly wood")


@dataclass(frozen=True)
class KindOfFailure:
    """The pieces that failed one way; `average` as read, over all sets."""

    kind: str
    n: int
    average: float


@dataclass(frozen=True)
class ByFailure:
    """Strength by kind of failure; the pairs are compared within sets, so that a strong set favours no kind."""

    kinds: tuple[KindOfFailure, ...]
    pairs: tuple[Pair, ...]


def compare_failures(table: Table, margin_pct: float) -> ByFailure | None:
    """Compare the kinds of failure (torn wood below 25 %, between, from 75 %), sets as blocks; None with one kind.

    The pairs are empty where no set failed in two ways. Ranges by Bonferroni.
    """
    kinds = [_kind(one) for one in table.counted]
    judged = np.array([kind is not None for kind in kinds])
    present = [kind for kind in KINDS if kind in kinds]
    if len(present) < 2:
        return None
    values = [
        (kind, one.value) for kind, one in zip(kinds, table.counted, strict=True) if kind and one.value is not None
    ]
    found = []
    for kind in present:
        mine = [value for other, value in values if other == kind]
        found.append(KindOfFailure(kind, len(mine), sum(mine) / len(mine) if mine else 0.0))
    codes = code([kind for kind in kinds if kind], present)
    sets = np.unique(table.sets[judged], return_inverse=True)[1].astype(np.intp)
    fit = fit_sets(table.bounds.take(judged), codes, len(present), sets)
    if not fit.judged or fit.fixed is None:
        return ByFailure(tuple(found), ())
    unit = np.eye(len(present))
    wanted = [(a, b, unit[a] - unit[b]) for b, a in combinations(range(len(present)), 2)]
    averages = [one.average for one in found]
    made = compare_combined(fit, wanted, len(wanted))
    return ByFailure(tuple(found), tuple(judge_pair(one, present, averages, margin_pct, None) for one in made))


def _kind(one: Specimen) -> str | None:
    torn = one.wood_failure_pct
    if torn is None:
        return None
    return KINDS[2] if torn >= MOSTLY_WOOD else KINDS[0] if torn < MOSTLY_GLUE else KINDS[1]


def say_failures(result: ByFailure) -> str:
    """Return whether pieces that failed in the wood were stronger than those that failed in the glue."""
    clear = [pair for pair in result.pairs if pair.measurable and pair.ratio is not None]
    if not result.pairs:
        return "No set failed in more than one way: kind of failure and set cannot be told apart."
    if not clear:
        return "Within sets, strength does not go with the kind of failure as far as these pieces show."
    listed = [f"{pair.a} from {pair.b} by {say_percent(pair.ratio or 1.0)}" for pair in clear]
    return f"Within sets, the kinds of failure differ in strength: {and_join(listed)}."


@dataclass(frozen=True)
class AboveLine:
    """Pieces of one set above a line; `unknown` held below it or broke between two weights around it."""

    level: str
    count: PassCount | None
    unknown: int


def count_above(specimens: Sequence[Specimen], levels: Sequence[str], line: float) -> tuple[AboveLine, ...]:
    """Count the pieces of each set that are stronger than a line, in the unit of the breaks.

    A piece that held above it, or whose last weight that held is above it, is stronger; one that held below it, or fell
    apart above it, is not known, and not counted.
    """
    found = []
    for level in levels:
        sides = [_is_above(one, line) for one in specimens if one.level == level and one.excluded is None]
        known = [side for side in sides if side is not None]
        count = count_passes(sum(known), len(known)) if known else None
        found.append(AboveLine(level, count, len(sides) - len(known)))
    return tuple(found)


def _is_above(one: Specimen, line: float) -> bool | None:
    value = one.value or 0.0
    match one.outcome:
        case Outcome.HELD:
            return True if value >= line else None
        case Outcome.STEP:
            return True if (one.held_value or 0.0) >= line else False if value <= line else None
        case Outcome.FELL_APART:
            return False if value <= line else None
        case Outcome.BROKE:
            return value > line


def say_above(one: AboveLine) -> str:
    """Return how many pieces of a set are above the line, and the share of all such joints that surely is."""
    if one.count is None:
        return f"{one.level}: no piece shows on which side of the line it is."
    open_ = f" ({one.unknown} more {'stays' if one.unknown == 1 else 'stay'} open)" if one.unknown else ""
    if one.count.passed == 0:
        return f"{one.level}: none of {one.count.n} is above it{open_}."
    return (
        f"{one.level}: {one.count.passed} of {one.count.n} are above it{open_}; at least "
        f"{int(100 * one.count.lower)} % of all such joints are, 19 times in 20."
    )
