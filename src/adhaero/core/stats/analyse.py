"""The whole analysis of a table of breaks, with the fields of the `analyse` contract (docs/method)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import sqrt

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from adhaero.core.errors import DataError, NotYet
from adhaero.core.stats.as_read import AsRead, compute_as_read
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen, as_judged, check_breaks, levels_of
from adhaero.core.stats.fits import BlockedFit, OverallTest, compute_welch, fit_blocked
from adhaero.core.stats.pairs import (
    Contrast,
    Pair,
    assign_letters,
    compare_dunnett,
    compare_games_howell,
    compare_holm,
    compare_tukey,
    judge_pair,
)
from adhaero.core.stats.warnings import list_warnings


class CensoredBreaks(NotYet):
    """Some pieces did not simply break at a value, and this version does not estimate from such pieces."""

    code = "censored"

    def __init__(self, labels: Sequence[str]) -> None:
        self.labels = tuple(labels)
        shown = ", ".join(self.labels[:6]) + (f" and {len(labels) - 6} more" if len(labels) > 6 else "")
        super().__init__(
            f"{shown} did not simply break at a value (held, fell apart, or torn wood counted as held).",
            "Averaging such numbers would mislead, and this version has no estimate for them yet.",
            "The numbers as read are shown; typical values and verdicts wait.",
        )


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
    """

    response: str
    by: str
    block: str | None = None
    control: str | None = None
    estimate: Estimate = Estimate.JOINT
    wood_failure_from: float = 75.0
    margin_pct: float = 10.0


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
    """The result of `analyse`."""

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
    CensoredBreaks : a piece that counts is censored under this estimate.
    """
    check_breaks(specimens)
    levels = levels_of(specimens)
    if question.control is not None and question.control not in levels:
        raise DataError(
            f"There is no {question.by} “{question.control}” in the breaks.",
            f"The control is one of: {', '.join(levels)}.",
            field="control",
        )
    judged = as_judged(specimens, question.estimate, question.wood_failure_from)
    counted = [one for one in judged if one.excluded is None]
    if censored := [one.label for one in counted if one.outcome is not Outcome.BROKE]:
        raise CensoredBreaks(censored)
    logs = [np.log([one.value or 0.0 for one in counted if one.level == level]) for level in levels]
    fit = _fit(counted, levels, question) if question.block is not None else None
    described = describe(specimens, question)
    typical = [group.typical or 0.0 for group in described]
    control = None if question.control is None else levels.index(question.control)
    pairs: tuple[Pair, ...] = ()
    if len(levels) > 1:
        contrasts = _compare(logs, fit, len(levels), control)
        sigma = fit.sigma if fit else _pooled_sd(logs)
        pairs = tuple(judge_pair(one, levels, typical, question.margin_pct, sigma) for one in contrasts)
    if control is None:
        letters = assign_letters(levels, typical, pairs)
        described = tuple(_with_letters(group, letters[group.level]) for group in described)
    overall = (fit.overall if fit else compute_welch(logs)) if len(levels) > 1 else None
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
        warnings=list_warnings(judged, levels, blocked=question.block is not None),
    )


def list_excluded(specimens: Sequence[Specimen]) -> tuple[Exclusion, ...]:
    """Return the pieces that do not count, with their reasons."""
    return tuple(Exclusion(one.label, one.excluded) for one in specimens if one.excluded is not None)


def describe(specimens: Sequence[Specimen], question: Question) -> tuple[Group, ...]:
    """Return every set in numbers: as read always, typical values where nothing in the analysis is censored.

    No letters: they come from the pairs.
    """
    judged = as_judged(specimens, question.estimate, question.wood_failure_from)
    counted = [one for one in judged if one.excluded is None]
    plain = all(one.outcome is Outcome.BROKE for one in counted)
    read = {one.label: one.value for one in specimens}
    return tuple(
        _describe_group(level, [one for one in counted if one.level == level], read, plain)
        for level in levels_of(specimens)
    )


def _describe_group(level: str, members: Sequence[Specimen], read: dict[str, float | None], plain: bool) -> Group:
    numbers = [value for one in members if (value := read[one.label]) is not None]
    summary = compute_as_read(numbers)
    typical, interval, lower = _estimate_plain(numbers) if plain else (None, None, None)
    torn = [one.wood_failure_pct for one in members if one.wood_failure_pct is not None]

    def count(outcome: Outcome) -> int:
        return sum(one.outcome is outcome for one in members)

    return Group(
        level=level,
        n=len(members),
        n_broke=count(Outcome.BROKE),
        n_held=count(Outcome.HELD),
        n_step=count(Outcome.STEP),
        n_fell_apart=count(Outcome.FELL_APART),
        as_read=summary,
        typical=typical,
        typical_ci95=interval,
        lower_5pct=lower,
        wood_failure_pct=sum(torn) / len(torn) if torn else None,
        letters=None,
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
    reach = float(stats.t.ppf(0.975, n - 1)) * sd / sqrt(n)
    lower = mean - _tolerance_factor(n) * sd if n >= 3 else None
    return mean, (mean - reach, mean + reach), lower


@lru_cache(maxsize=512)
def _tolerance_factor(n: int) -> float:
    return float(stats.nct.ppf(0.75, n - 1, stats.norm.ppf(0.95) * sqrt(n))) / sqrt(n)


def _fit(counted: Sequence[Specimen], levels: Sequence[str], question: Question) -> BlockedFit:
    without = [one.label for one in counted if not one.block]
    if without:
        raise DataError(
            f"{without[0]} has no {question.block}.",
            f"Every piece that counts needs its {question.block}.",
            field="block",
        )
    blocks = list(dict.fromkeys(one.block for one in counted))
    return fit_blocked(
        np.log([one.value or 0.0 for one in counted]),
        np.array([levels.index(one.level) for one in counted]),
        np.array([blocks.index(one.block) for one in counted]),
        levels,
    )


def _compare(
    logs: list[NDArray[np.float64]], fit: BlockedFit | None, count: int, control: int | None
) -> list[Contrast]:
    if fit is None:
        return compare_games_howell(logs) if control is None else compare_dunnett(logs, control)
    return compare_tukey(fit, count) if control is None else compare_holm(fit, count, control)


def _pooled_sd(logs: Sequence[NDArray[np.float64]]) -> float | None:
    df = sum(group.size - 1 for group in logs)
    if df < 1:
        return None
    return sqrt(sum(float(((group - group.mean()) ** 2).sum()) for group in logs) / df)


def _with_letters(group: Group, letters: str) -> Group:
    return replace(group, letters=letters)
