"""The whole analysis of a table of breaks, with the fields of the `analyse` contract (docs/method)."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import exp, isfinite, sqrt

import numpy as np

from adhaero.core.errors import DataError
from adhaero.core.stats.as_read import AsRead, compute_as_read
from adhaero.core.stats.breaks import Estimate, Outcome, Specimen
from adhaero.core.stats.laws import LIKELY, find_lower_factor, find_t
from adhaero.core.stats.linear import OverallTest
from adhaero.core.stats.one_sided import Limits
from adhaero.core.stats.own_scatter import Origin
from adhaero.core.stats.pairs import (
    CONFIDENCE,
    Pair,
    assign_letters,
    compare_all,
    compare_with,
    judge_pair,
)
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.sets import SetsFit
from adhaero.core.stats.table import Table, make_table
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
    plain_likelihood : where pieces are bounds, do not count them as few: the likelihood alone, as other programs do.
    confidence : with which all ranges of pairs hold together; more where a trial is looked at while it is broken.
    """

    response: str
    by: str
    block: str | None = None
    control: str | None = None
    estimate: Estimate = Estimate.JOINT
    wood_failure_from: float = 75.0
    margin_pct: float = 10.0
    plain_likelihood: bool = False
    confidence: float = CONFIDENCE


@dataclass(frozen=True)
class Exclusion:
    """A piece that does not count, and why."""

    specimen: str
    reason: str


@dataclass(frozen=True)
class Group:
    """One set in numbers; what cannot be had is None.

    Attributes
    ----------
    at_least, at_most : of a set that held, or fell apart, throughout: how strong it hardly is below, or above.
    scatter : whose scatter these numbers stand on.
    """

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
    at_least: float | None
    at_most: float | None
    scatter: Origin
    wood_failure_pct: float | None
    letters: str | None


@dataclass(frozen=True)
class Analysis:
    """The result of `analyse`; `divided` are the sets of several woods that are one set a wood."""

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
    divided: tuple[str, ...] = ()


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
    levels = table.levels
    if question.control is not None and question.control not in levels:
        raise DataError(
            f"There is no {question.by} “{question.control}” in the breaks.",
            f"The control is one of: {', '.join(levels)}.",
            field="control",
        )
    fit = table.fit(few_pieces=not question.plain_likelihood)
    described = _describe(table, fit)
    typical = [group.typical for group in described]
    pairs: tuple[Pair, ...] = ()
    if len(levels) > 1:
        control = None if question.control is None else levels.index(question.control)
        sure = question.confidence
        contrasts = compare_all(fit, sure) if control is None else compare_with(fit, control, sure)
        sigma = fit.sigma if isfinite(fit.sigma) else None
        pairs = tuple(
            judge_pair(one, levels, typical, question.margin_pct, sigma, max(2, fit.family)) for one in contrasts
        )
    if question.control is None:
        letters = assign_letters(levels, [find_rank(group) for group in described], pairs)
        described = tuple(replace(group, letters=letters[group.level]) for group in described)
    return Analysis(
        response=question.response,
        by=question.by,
        block=question.block,
        control=question.control,
        estimate=question.estimate,
        margin_pct=question.margin_pct,
        excluded=list_excluded(specimens),
        groups=described,
        overall=fit.overall if fit.family > 1 else None,
        pairs=pairs,
        warnings=list_warnings(table, fit),
        divided=table.divided,
    )


def find_rank(group: Group) -> float | None:
    """Return what a set is ranked by: its typical strength, or what it has at least or at most."""
    return next((one for one in (group.typical, group.at_least, group.at_most) if one is not None), None)


def list_excluded(specimens: Sequence[Specimen]) -> tuple[Exclusion, ...]:
    """Return the pieces that do not count, with their reasons."""
    return tuple(Exclusion(one.label, one.excluded) for one in specimens if one.excluded is not None)


def _describe(table: Table, fit: SetsFit) -> tuple[Group, ...]:
    """Return every set in numbers, letters not given yet."""
    read = {one.label: one.value for one in table.read}
    members: dict[str, list[Specimen]] = {level: [] for level in table.levels}
    for one in table.counted:
        members[one.level].append(one)
    return tuple(
        _describe_group(level, mine, [value for one in mine if (value := read[one.label]) is not None], fit, index)
        for index, (level, mine) in enumerate(members.items())
    )


def _describe_group(
    level: str, members: Sequence[Specimen], numbers: Sequence[float], fit: SetsFit, index: int
) -> Group:
    torn = [one.wood_failure_pct for one in members if one.wood_failure_pct is not None]
    count = Counter(one.outcome for one in members)
    centre = _find_centre(fit, index)
    side = int(fit.own.tally.one_sided[index])
    end = _find_end(fit, index) if side else None
    return Group(
        level=level,
        n=len(members),
        n_broke=count[Outcome.BROKE],
        n_held=count[Outcome.HELD],
        n_step=count[Outcome.STEP],
        n_fell_apart=count[Outcome.FELL_APART],
        as_read=compute_as_read(numbers),
        typical=centre.typical,
        typical_ci95=centre.ci95,
        lower_5pct=centre.lower_5pct if len(members) >= 3 else None,
        at_least=end if side > 0 else None,
        at_most=end if side < 0 else None,
        scatter=Origin.COMMON if fit.random is not None and not side else fit.own.origin[index],
        wood_failure_pct=sum(torn) / len(torn) if torn else None,
        letters=None,
    )


@dataclass(frozen=True)
class _Centre:
    typical: float | None = None
    ci95: tuple[float, float] | None = None
    lower_5pct: float | None = None


def _find_centre(fit: SetsFit, index: int) -> _Centre:
    """Return exp μ, its interval by t, and the lower 5 % tolerance limit at 75 % confidence (noncentral t)."""
    if fit.random is None:
        own = fit.own
        mu, se, sigma, df = (float(one[index]) for one in (own.mu, own.se, own.sigma, own.df))
    elif isfinite(fit.effects[index]):
        mu, se = float(fit.effects[index]), sqrt(float(fit.covariance[index, index]))
        sigma, df = sqrt(fit.random.sigma**2 + fit.random.tau**2), float(fit.find_df(_unit(fit, index))[0])
    else:
        return _Centre()
    if not isfinite(mu):
        return _Centre()
    if not se > 0:
        return _Centre(exp(mu))
    reach = find_t(LIKELY, df) * se
    return _Centre(
        exp(mu),
        (exp(mu - reach), exp(min(mu + reach, 700.0))),
        exp(mu - find_lower_factor(sigma / se, df, 0.95, 0.75) * se),
    )


def _unit(fit: SetsFit, index: int) -> Floats:
    row = np.zeros((1, fit.effects.size))
    row[0, index] = 1.0
    return row


def _find_end(fit: SetsFit, index: int) -> float | None:
    """Return the strength below (above) which the likelihood of a set that held (fell apart) throughout is 0.05."""
    mine = fit.sets == index
    if not isfinite(fit.own.lent):
        return None
    if fit.own.tally.one_sided[index] > 0:
        return exp(Limits(fit.bounds.lower[mine], fit.own.lent).find_at_least())
    return exp(-Limits(-fit.bounds.upper[mine], fit.own.lent).find_at_least())
