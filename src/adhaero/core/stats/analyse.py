"""The whole analysis of a table of breaks, with the fields of the `analyse` contract (docs/method)."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import exp, sqrt

import numpy as np
from numpy.typing import NDArray

from adhaero.core.errors import DataError
from adhaero.core.stats.as_read import AsRead, compute_as_read
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen
from adhaero.core.stats.laws import LIKELY, find_lower_factor, find_normal, find_t
from adhaero.core.stats.linear import OverallTest
from adhaero.core.stats.pairs import (
    Contrast,
    Pair,
    assign_letters,
    compare_dunnett,
    compare_games_howell,
    compare_holm,
    compare_tukey,
    judge_pair,
    list_pairs,
)
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.sets import SetsFit, compute_welch
from adhaero.core.stats.table import make_table
from adhaero.core.stats.warnings import list_warnings


@dataclass(frozen=True)
class Question:
    """What is asked of the breaks.

    Attributes
    ----------
    response, by : names of the response and of the factor, as in the file.
    block : name of the blocking column, or None.
    control : the level that every other is compared with, or None for every pair.
    estimate, wood_failure_from : which question (see `as_judged`).
    margin_pct : the smallest difference that matters, percent.
    few_pieces : where pieces are bounds, count them as few (see `fit_linear`); the likelihood alone otherwise.
    """

    response: str
    by: str
    block: str | None = None
    control: str | None = None
    estimate: Estimate = Estimate.JOINT
    wood_failure_from: float = 75.0
    margin_pct: float = 10.0
    few_pieces: bool = False


@dataclass(frozen=True)
class Exclusion:
    """A piece that does not count, and why."""

    specimen: str
    reason: str


@dataclass(frozen=True)
class Group:
    """One set in numbers; `typical`, its interval and `lower_5pct` are None where they cannot be had."""

    level: str
    n: int
    n_broke: int
    n_held: int
    n_step: int
    n_fell_apart: int
    as_read: AsRead
    typical: float | None
    typical_ci95: tuple[float, float] | None
    lower_5pct: float | None
    wood_failure_pct: float | None
    letters: str | None


@dataclass(frozen=True)
class Analysis:
    """The result of `analyse`.

    Attributes
    ----------
    ranges_short_by : how many times wider the ranges should be taken because few bounds tell the scatter
        (`SetsFit.short`); 1 without bounds.
    """

    response: str
    by: str
    block: str | None
    control: str | None
    estimate: Estimate
    margin_pct: float
    excluded: tuple[Exclusion, ...]
    groups: tuple[Group, ...]
    overall: OverallTest | None
    pairs: tuple[Pair, ...]
    warnings: tuple[str, ...]
    ranges_short_by: float = 1.0


@lru_cache(maxsize=64)
def analyse(specimens: tuple[Specimen, ...], question: Question) -> Analysis:
    """Analyse a table of breaks.

    Parameters
    ----------
    specimens : all of them, excluded ones included, in the order of the file.
    question : what is asked.

    Returns
    -------
    Analysis. `overall` None and `pairs` empty with one group.

    Raises
    ------
    DataError : the table cannot be analysed (see `check_breaks`), an unknown control, boards that do not connect.
    """
    table = make_table(specimens, question.estimate, question.wood_failure_from, question.block)
    levels, counted = table.levels, table.counted
    if question.control is not None and question.control not in levels:
        raise DataError(
            f"There is no {question.by} “{question.control}” in the breaks.",
            f"The control is one of: {', '.join(levels)}.",
            field="control",
        )
    plain, blocked = table.plain, table.boards is not None
    fit = None if plain and not blocked else table.fit(few_pieces=question.few_pieces)
    described = _describe(specimens, counted, levels, None if plain else (fit, len(levels)))
    typical = [group.typical for group in described]
    control = None if question.control is None else levels.index(question.control)
    each = [table.bounds.lower[table.sets == index] for index in range(len(levels))]
    logs = each if plain and not blocked else None
    pairs: tuple[Pair, ...] = ()
    overall = None
    if len(levels) > 1:
        contrasts = _compare(logs, fit, len(levels), control)
        sigma = _pooled_sd(logs) if logs is not None else None if fit is None else fit.sigma
        pairs = tuple(judge_pair(one, levels, typical, question.margin_pct, sigma) for one in contrasts)
        overall = compute_welch(logs) if logs is not None else None if fit is None else fit.overall
    if control is None:
        letters = assign_letters(levels, typical, pairs)
        described = tuple(replace(group, letters=letters[group.level]) for group in described)
    left_out = [] if fit is None else [table.board_names[index] for index in fit.boards_left_out]
    return Analysis(
        response=question.response,
        by=question.by,
        block=question.block,
        control=question.control,
        estimate=question.estimate,
        margin_pct=question.margin_pct,
        excluded=list_excluded(specimens),
        groups=described,
        overall=overall,
        pairs=pairs,
        warnings=list_warnings(
            table.judged,
            levels,
            blocked=blocked,
            boards_left_out=left_out,
            estimated=plain or fit is not None,
            short=1.0 if fit is None else fit.short,
        ),
        ranges_short_by=1.0 if fit is None else fit.short,
    )


def list_excluded(specimens: Sequence[Specimen]) -> tuple[Exclusion, ...]:
    """Return the pieces that do not count, with their reasons."""
    return tuple(Exclusion(one.label, one.excluded) for one in specimens if one.excluded is not None)


def _describe(
    specimens: Sequence[Specimen],
    counted: Sequence[Specimen],
    levels: Sequence[str],
    censored: tuple[SetsFit | None, int] | None,
) -> tuple[Group, ...]:
    """Return every set in numbers, letters not given yet; `censored` holds the fit where pieces are bounds."""
    read = {one.label: one.value for one in specimens}
    members: dict[str, list[Specimen]] = {level: [] for level in levels}
    for one in counted:
        members[one.level].append(one)
    return tuple(
        _describe_group(level, index, mine, read, censored) for index, (level, mine) in enumerate(members.items())
    )


def _describe_group(
    level: str,
    index: int,
    members: Sequence[Specimen],
    read: dict[str, float | None],
    censored: tuple[SetsFit | None, int] | None,
) -> Group:
    numbers = [value for one in members if (value := read[one.label]) is not None]
    typical, interval, lower = _estimate_plain(numbers) if censored is None else _estimate_censored(censored[0], index)
    torn = [one.wood_failure_pct for one in members if one.wood_failure_pct is not None]
    count = Counter(one.outcome for one in members)
    return Group(
        level=level,
        n=len(members),
        n_broke=count[Outcome.BROKE],
        n_held=count[Outcome.HELD],
        n_step=count[Outcome.STEP],
        n_fell_apart=count[Outcome.FELL_APART],
        as_read=compute_as_read(numbers),
        typical=typical,
        typical_ci95=interval,
        lower_5pct=lower,
        wood_failure_pct=sum(torn) / len(torn) if torn else None,
        letters=None,
    )


def _estimate_censored(
    fit: SetsFit | None, index: int
) -> tuple[float | None, tuple[float, float] | None, float | None]:
    """Return exp μ, its interval by the normal, and the 5 % point with the likeliest scatter (a point estimate)."""
    if fit is None or not np.isfinite(fit.effects[index]):
        return None, None, None
    centre = float(fit.effects[index])
    reach = find_t(LIKELY, fit.df) * sqrt(fit.covariance[index, index])
    return (
        exp(centre),
        (exp(centre - reach), exp(min(centre + reach, 700.0))),
        exp(centre - find_normal(0.95) * fit.sigma),
    )


def _estimate_plain(numbers: Sequence[float]) -> tuple[float | None, tuple[float, float] | None, float | None]:
    """Return mean, its 95 % interval by t, and the lower 5 % tolerance limit at 75 % confidence (noncentral t)."""
    n = len(numbers)
    if n == 0:
        return None, None, None
    values = np.asarray(numbers, dtype=float)
    mean = float(values.mean())
    if n < 2:
        return mean, None, None
    sd = float(values.std(ddof=1))
    reach = find_t(LIKELY, n - 1) * sd / sqrt(n)
    lower = mean - find_lower_factor(n, 0.95, 0.75) * sd if n >= 3 else None
    return mean, (mean - reach, mean + reach), lower


def _compare(logs: list[Floats] | None, fit: SetsFit | None, count: int, control: int | None) -> list[Contrast]:
    if logs is not None:
        return compare_games_howell(logs) if control is None else compare_dunnett(logs, control)
    if fit is None:
        return [Contrast(a, b, None, None, None) for a, b in list_pairs(count, control)]
    return compare_tukey(fit, count) if control is None else compare_holm(fit, count, control)


def _pooled_sd(logs: Sequence[NDArray[np.float64]]) -> float | None:
    df = sum(group.size - 1 for group in logs)
    if df < 1:
        return None
    return sqrt(sum(float(((group - group.mean()) ** 2).sum()) for group in logs) / df)
