"""What a condition leaves of a strength: the same sets dry and soaked, fresh and aged, against one base."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import log

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen, as_judged
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.laws import LIKELY, find_t
from adhaero.core.stats.pairs import Contrast, Ends, Pair, compare_cells, compare_sums, exp_end, judge_pair
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.sets import SetsFit, fit_sets
from adhaero.core.stats.table import make_table
from adhaero.core.stats.warnings import list_differing
from adhaero.core.stats.words import list_some

_APART = "\0"


@dataclass(frozen=True)
class Asked:
    """What retention is asked about.

    Attributes
    ----------
    condition, before : the column, and its value that shares are of; after : those that are compared, all if none.
    pair : the column that names matched pairs; block : that of the boards (never both).
    """

    condition: str
    before: str
    after: tuple[str, ...] = ()
    pair: str | None = None
    block: str | None = None
    estimate: Estimate = Estimate.JOINT
    wood_failure_from: float = 75.0
    margin_pct: float = 10.0


@dataclass(frozen=True)
class Kept:
    """The share of its strength that one set keeps; None where it cannot be told.

    Attributes
    ----------
    n_before, n_after : pieces that count in either condition; paired : matched pairs that were used.
    share, ci95 : strength after over strength before, and its 95 % interval (of this set alone), an end None where it
        is open.
    """

    level: str
    after: str
    n_before: int
    n_after: int
    paired: int
    share: float | None
    ci95: Ends | None


@dataclass(frozen=True)
class SharePair(Pair):
    """Two sets in what they keep at `after`: `ratio` is a's share over b's, `difference` that of the shares."""

    after: str = ""


@dataclass(frozen=True)
class Retention:
    """What every set keeps in other conditions, and the sets compared in it.

    Attributes
    ----------
    method : `pairs` (each piece with its partner), `sets` (each set by its own scatter) or `blocked` (within boards).
    """

    condition: str
    before: str
    method: str
    kept: tuple[Kept, ...]
    pairs: tuple[SharePair, ...]
    warnings: tuple[str, ...] = ()


def compute_retention(specimens: Sequence[Specimen], asked: Asked) -> Retention:
    """Return what each set keeps of its strength, and whether sets differ in it.

    Every set in every condition is a set as in `analyse`: a share is the ratio of two of them, its interval by t with
    Satterthwaite's degrees of freedom; shares are compared by Games and Howell over the sets that have one there.
    Matched: the log ratios of partners that both broke at a number are the pieces of a set.

    Parameters
    ----------
    specimens : they carry `factors` that name the condition; the rest of these is the set. `block` holds the pair.

    Raises
    ------
    DataError : no such values, or no set has pieces in both.
    """
    counted = [one for one in specimens if one.excluded is None]
    values = list(dict.fromkeys(one.factors[asked.condition] for one in counted))
    after = asked.after or tuple(one for one in values if one != asked.before)
    for value in (asked.before, *after):
        if value not in values:
            raise DataError(
                f"No piece that counts is {value}.",
                f"{asked.condition} is one of: {', '.join(values)}.",
                field="before",
            )
    if not after:
        raise DataError(f"Every piece that counts is {asked.before}.", "Expected another condition to compare it with.")
    chosen = [one for one in specimens if one.factors[asked.condition] in (asked.before, *after)]
    if asked.pair is not None:
        found = [_by_pairs(chosen, asked, value) for value in after]
        kept = tuple(one for each, _ in found for one in each)
        pairs = tuple(one for _, each in found for one in each)
        method = "pairs"
    else:
        kept, pairs = _by_sets(chosen, asked, after)
        method = "sets" if asked.block is None else "blocked"
    if not kept:
        raise DataError(
            f"No set has pieces both {asked.before} and {' or '.join(after)}.",
            "Expected the same sets in both conditions.",
        )
    warnings = list_differing(chosen, lambda one: one.factors[asked.condition], "conditions")
    if asked.pair is not None:
        warnings += _list_mixed_pairs(chosen) if not warnings else []
    return Retention(asked.condition, asked.before, method, kept, pairs, tuple(warnings))


def _list_mixed_pairs(specimens: Sequence[Specimen]) -> list[str]:
    """Return a sentence for each circumstance in which the partners of a pair differ."""
    found = []
    for name in dict.fromkeys(name for one in specimens for name in one.circumstances):
        used: dict[str, set[str]] = {}
        for one in specimens:
            if one.block and one.excluded is None and (value := one.circumstances.get(name)):
                used.setdefault(one.block, set()).add(value)
        if mixed := [pair for pair, values in used.items() if len(values) > 1]:
            found.append(f"The partners of {list_some(mixed)} differ in {name}: what they keep may come from that.")
    return found


def name_set(one: Specimen, condition: str) -> str:
    """Return the set of a specimen without its condition."""
    return ", ".join(value for name, value in one.factors.items() if name != condition) or "all"


def _by_sets(
    specimens: Sequence[Specimen], asked: Asked, after: Sequence[str]
) -> tuple[tuple[Kept, ...], tuple[SharePair, ...]]:
    cells = [
        replace(one, level=f"{name_set(one, asked.condition)}{_APART}{one.factors[asked.condition]}")
        for one in specimens
    ]
    usable = {one.level for one in cells if one.excluded is None}
    cells = [one for one in cells if one.level in usable]
    table = make_table(cells, asked.estimate, asked.wood_failure_from, asked.block)
    places: dict[tuple[str, str], int] = {}
    for at, name in enumerate(table.levels):
        level, _, rest = name.partition(_APART)
        # a set divided by its woods carries the wood behind its condition
        value = next((one for one in (asked.before, *after) if rest == one), None)
        if value is None:
            value = next(one for one in (asked.before, *after) if rest.startswith(f"{one}, "))
            level = f"{level}{rest.removeprefix(value)}"
        places[level, value] = at
    fit = table.fit()
    counts = np.bincount(table.sets, minlength=len(table.levels))
    kept, pairs = [], list[SharePair]()
    levels = list(dict.fromkeys(level for level, _ in places))
    for value in after:
        here = [level for level in levels if (level, value) in places and (level, asked.before) in places]
        ends = [(places[level, asked.before], places[level, value]) for level in here]
        shares = []
        for level, (base, then) in zip(here, ends, strict=True):
            share, interval = _find_share(fit, base, then)
            shares.append(share)
            kept.append(Kept(level, value, int(counts[base]), int(counts[then]), 0, share, interval))
        weights = [_between(fit, base, then) for base, then in ends]
        wanted = [(a, b, weights[a] - weights[b]) for a, b in combinations(range(len(here)), 2)]
        made = compare_sums(fit, wanted, sum(one is not None for one in shares))
        pairs += _judge(made, here, shares, asked.margin_pct, value)
    return tuple(kept), tuple(pairs)


def _between(fit: SetsFit, base: int, then: int) -> Floats:
    row = np.zeros(fit.effects.size)
    row[[base, then]] = -1.0, 1.0
    return row


def _find_share(fit: SetsFit, base: int, then: int) -> tuple[float | None, Ends | None]:
    found = compare_cells(fit, then, base, lambda df: find_t(LIKELY, df))
    if found.log_ci95 is None or fit.are_apart(base, then):
        alone = fit.combine(_between(fit, base, then))
        return (None if alone is None else exp_end(alone[0])), None
    low, high = found.log_ci95
    return exp_end(found.log_ratio), (exp_end(low), exp_end(high))


def _by_pairs(specimens: Sequence[Specimen], asked: Asked, after: str) -> tuple[list[Kept], list[SharePair]]:
    counts: dict[str, list[int]] = {}
    logs: dict[str, dict[str, tuple[list[float], list[float]]]] = {}
    for one in as_judged(specimens, asked.estimate, asked.wood_failure_from):
        value = one.factors[asked.condition]
        if one.excluded is not None or value not in (asked.before, after):
            continue
        level, side = name_set(one, asked.condition), int(value == after)
        counts.setdefault(level, [0, 0])[side] += 1
        if one.outcome is Outcome.BROKE and one.value and one.block:
            logs.setdefault(level, {}).setdefault(one.block, ([], []))[side].append(log(one.value))
    levels = [level for level, (base, then) in counts.items() if base and then]
    shifts = [
        [float(np.mean(then) - np.mean(base)) for base, then in logs.get(level, {}).values() if base and then]
        for level in levels
    ]
    flat = np.array([one for mine in shifts for one in mine])
    codes = np.array([at for at, mine in enumerate(shifts) for _ in mine], dtype=np.intp)
    fit = fit_sets(Bounds(flat, flat), codes, len(levels))
    kept, shares = [], list[float | None]()
    for at, level in enumerate(levels):
        row = np.eye(len(levels))[at]
        shift, se, df = fit.combine(row) or (None, 0.0, 0.0)
        interval = None
        if shift is not None and se > 0:
            far = find_t(LIKELY, df) * se
            interval = (exp_end(shift - far), exp_end(shift + far))
        shares.append(exp_end(shift))
        kept.append(Kept(level, after, counts[level][0], counts[level][1], len(shifts[at]), shares[at], interval))
    unit = np.eye(len(levels))
    wanted = [(a, b, unit[a] - unit[b]) for a, b in combinations(range(len(levels)), 2)]
    made = compare_sums(fit, wanted, sum(one is not None for one in shares))
    return kept, _judge(made, levels, shares, asked.margin_pct, after)


def _judge(
    contrasts: Sequence[Contrast], levels: Sequence[str], shares: Sequence[float | None], margin_pct: float, after: str
) -> list[SharePair]:
    pairs = [judge_pair(one, levels, shares, margin_pct, None) for one in contrasts]
    return [SharePair(**{**vars(one), "after": after}) for one in pairs]
