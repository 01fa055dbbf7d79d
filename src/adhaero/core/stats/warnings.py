"""What to mind about a comparison, in plain sentences: one for each kind, with the pieces and sets it is about."""

from collections.abc import Callable, Sequence

import numpy as np

from adhaero.core.stats.breaks import Specimen
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.laws import find_t
from adhaero.core.stats.own_scatter import Origin
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.sets import SetsFit
from adhaero.core.stats.table import Table
from adhaero.core.stats.words import and_join, list_some

FEW = 5
_BY_CHANCE = 0.05
_CIRCUMSTANCES = ("rig", "rig version", "calibration", "fixture")


def list_warnings(table: Table, fit: SetsFit) -> tuple[str, ...]:
    """Return the warnings about a table of breaks and its fit, one sentence for each kind."""
    found = [
        _say_few(table),
        _say_borrowed(table, fit),
        _say_one_sided(table, fit),
        _say_bounds(table),
        _say_standing_out(table, fit),
        *_say_boards(table, fit),
        *list_differing(table.counted, lambda one: one.level, "sets"),
        _say_put_back(table),
    ]
    return tuple(one for one in found if one)


def _named(table: Table, chosen: Sequence[bool]) -> list[str]:
    return [level for level, one in zip(table.levels, chosen, strict=True) if one]


def _say_few(table: Table) -> str:
    counts = np.bincount(table.sets, minlength=len(table.levels))
    few = [f"{table.levels[at]} ({counts[at]})" for at in np.flatnonzero(counts < FEW)]
    if not few:
        return ""
    return f"Fewer than {FEW} pieces in {list_some(few)}: with so few the scatter is hardly known."


def _say_borrowed(table: Table, fit: SetsFit) -> str:
    if fit.random is not None:
        return ""
    borrowing = _named(table, [one is Origin.BORROWED for one in fit.own.origin])
    common = _named(table, [one is Origin.COMMON for one in fit.own.origin])
    none = _named(table, [one is Origin.NONE for one in fit.own.origin])
    if borrowing:
        lenders = _named(table, [one is Origin.OWN for one in fit.own.origin])
        return (
            f"{list_some(borrowing)} {_has(borrowing)} too few numbers that differ for a scatter of "
            f"{'its' if len(borrowing) == 1 else 'their'} own: that of {list_some(lenders)} is taken."
        )
    if common:
        return "No set has three numbers that differ: one scatter is taken for all."
    if none:
        return "No two pieces of a set differ: there is no scatter to judge anything by."
    return ""


def _has(names: Sequence[str]) -> str:
    return "has" if len(names) == 1 else "have"


def _say_one_sided(table: Table, fit: SetsFit) -> str:
    sides = fit.own.tally.one_sided
    said = []
    for side, words, end in ((1, "held", "at least"), (-1, "fell apart", "at most")):
        names = _named(table, [one == side for one in sides])
        if names:
            said.append(f"every piece of {list_some(names)} {words}: there is only an “{end}” for {_it(names)}")
    if not said:
        return ""
    joined = "; ".join(said)
    return f"{joined[0].upper()}{joined[1:]}."


def _it(names: Sequence[str]) -> str:
    return "it" if len(names) == 1 else "them"


def _say_bounds(table: Table) -> str:
    k = len(table.levels)
    inexact, n = np.bincount(table.sets, ~table.bounds.exact, k), np.bincount(table.sets, minlength=k)
    most = [f"{table.levels[at]} ({int(inexact[at])} of {n[at]})" for at in np.flatnonzero(2 * inexact > n)]
    if not most:
        return ""
    return f"More than half of the pieces did not simply break in {list_some(most)}: little is known of such a set."


def _say_standing_out(table: Table, fit: SetsFit) -> str:
    """Name the pieces whose deleted studentized residual is beyond t at 5 % over all pieces (docs/method)."""
    exact = table.bounds.exact
    residual, ratio, df = find_residuals(table.bounds, fit)
    known = exact & np.isfinite(ratio) & (df > 1)
    if not known.any():
        return ""
    level = _BY_CHANCE / 2 / int(known.sum())
    far = np.zeros(exact.size, dtype=bool)
    rest = df - ratio**2
    with np.errstate(divide="ignore", invalid="ignore"):
        deleted = np.where(rest > 0, np.abs(ratio) * np.sqrt((df - 1) / np.maximum(rest, 1e-300)), np.inf)
    limits = {one: -find_t(level, one - 1) for one in set(df[known].tolist())}
    for at in np.flatnonzero(known):
        far[at] = deleted[at] > limits[float(df[at])]
    if not far.any():
        return ""
    named = [
        f"{table.counted[at].label} ({'below' if residual[at] < 0 else 'above'} the rest of {table.counted[at].level})"
        for at in np.flatnonzero(far)
    ]
    words = "stands" if len(named) == 1 else "stand"
    return (
        f"{list_some(named)} {words} out more than chance does in one trial of twenty: look at "
        f"{'the piece' if len(named) == 1 else 'the pieces'}; nothing is dropped by itself."
    )


def find_residuals(bounds: Bounds, fit: SetsFit) -> tuple[Floats, Floats, Floats]:
    """Return of (n,) pieces the residual, that over its standard error, and the scatter's degrees of freedom.

    NaN for bounds, and where there is no scatter. The last two turn into the deleted studentized residual,
    r √((ν − 1)/(ν − r²)).
    """
    n = bounds.lower.size
    logs = np.where(bounds.exact, bounds.lower, np.nan)
    if fit.fixed is not None and fit.boards is not None:
        cells, cell = np.unique(np.stack([fit.sets, fit.boards]), axis=1, return_inverse=True)
        rows = fit.fixed.set_rows[cells[0]] + fit.fixed.board_rows[cells[1]]
        residual = logs - (rows @ fit.fixed.coefficients)[cell]
        left = fit.fixed.sigma**2 - ((rows @ fit.fixed.covariance) * rows).sum(axis=1)[cell]
        return residual, _over(residual, left), np.full(n, fit.fixed.df)
    if fit.random is not None and fit.boards is not None and fit.in_random is not None:
        return _find_random_residuals(logs, fit)
    own = fit.own
    residual = logs - own.mu[fit.sets]
    left = own.sigma[fit.sets] ** 2 - own.se[fit.sets] ** 2
    mine = own.tally.own[fit.sets]
    # of a borrowed scatter the piece is no part, so that taking it out changes nothing
    ratio = np.where(mine, _over(residual, left), np.nan)
    borrowed = _over(residual, own.sigma[fit.sets] ** 2 * (1 - 1 / np.maximum(own.tally.n, 1))[fit.sets])
    df = own.df[fit.sets]
    # not 1 + (b² − 1) / ν: of one degree of freedom nothing would be left of a small residual
    under = 1 - 1 / df + borrowed**2 / df
    turned = np.where(under > 0, borrowed / np.sqrt(np.where(under > 0, under, 1.0)), np.nan)
    return residual, np.where(mine, ratio, turned), np.where(mine, df, df + 1)


def _over(residual: Floats, variance: Floats) -> Floats:
    with np.errstate(invalid="ignore", divide="ignore"):
        found: Floats = np.where(variance > 1e-12 * residual**2, residual / np.sqrt(np.abs(variance)), np.nan)
    return found


def _find_random_residuals(logs: Floats, fit: SetsFit) -> tuple[Floats, Floats, Floats]:
    """Return the residuals of random boards: what a piece differs by from what the others on its board and set say."""
    assert fit.random is not None
    assert fit.boards is not None
    assert fit.in_random is not None
    random, k = fit.random, fit.random.effects.size
    place = np.full(fit.effects.size, -1)
    place[np.isfinite(fit.effects)] = np.arange(k)
    codes, boards = place[fit.sets], fit.in_random[fit.boards]
    used = (codes >= 0) & (boards >= 0)
    c, b = np.maximum(codes, 0), k + np.maximum(boards, 0)
    joint = random.joint
    residual = np.where(used, logs - random.effects[c] - random.boards[b - k], np.nan)
    left = random.sigma**2 - (joint[c, c] + joint[b, b] + 2 * joint[c, b])
    assert fit.parts is not None
    df = float(used.sum()) - k - random.boards.size + fit.parts.boards.size
    return residual, _over(residual, left), np.full(logs.size, df)


def _say_boards(table: Table, fit: SetsFit) -> list[str]:
    if table.boards is None:
        return []
    if fit.parts is None:
        return ["No board holds two pieces: boards say nothing, and are left out."]
    said = []
    if table.divided:
        said.append(
            f"{and_join(table.divided)} {_has(table.divided)} pieces of several woods, on boards that do not all hold "
            "the same sets: one set a wood."
        )
    lacking = [
        name
        for at, name in enumerate(table.board_names)
        if np.unique(table.sets[table.boards == at]).size < len(table.levels)
    ]
    if lacking:
        all_ = len(lacking) == len(table.board_names)
        said.append(
            f"{'No board holds' if all_ else f'{list_some(lacking)} do not hold' if len(lacking) > 1 else f'{lacking[0]} does not hold'} "  # noqa: E501
            "every set."
        )
    if not fit.judged:
        said.append("Too few pieces are left to judge differences within boards by.")
    alone = [
        table.levels[at]
        for at, part in enumerate(fit.parts.of_set)
        if part >= 0 and fit.parts.boards.size > 1 and fit.parts.boards[part] == 1
    ]
    if len({int(fit.parts.of_set[table.levels.index(level)]) for level in alone}) > 1:
        said.append(
            f"{list_some(alone)} come from one board of their wood: against sets of another board the difference may "
            "be that of two boards, and no range is given."
        )
    elif fit.random is not None:
        said.append("The boards do not connect all sets: boards count as chance, between sets of different boards too.")
    return said


def list_differing(specimens: Sequence[Specimen], group_of: Callable[[Specimen], str], groups: str) -> list[str]:
    """Return a sentence for each circumstance, a rig or a calibration, that differs between groups of pieces.

    Parameters
    ----------
    group_of : the group of a piece; groups : what these are, in words, as in "not all sets".
    """
    found = []
    for name in _CIRCUMSTANCES:
        used: dict[str, set[str]] = {}
        for one in specimens:
            if (value := one.circumstances.get(name)) and one.excluded is None:
                used.setdefault(group_of(one), set()).add(value)
        if len({frozenset(values) for values in used.values()}) > 1:
            listed = list_some([f"{group}: {', '.join(sorted(values))}" for group, values in used.items()], "; ")
            found.append(
                f"Not all {groups} were broken with the same {name} ({listed}): a difference may come from that."
            )
    return found


def _say_put_back(table: Table) -> str:
    """Name two sets whose averages as read change places when the pieces set aside count."""

    def rank(specimens: Sequence[Specimen]) -> list[str]:
        values: dict[str, list[float]] = {level: [] for level in table.levels}
        for one in specimens:
            if one.value is not None and one.level in values:
                values[one.level].append(one.value)
        means = {level: sum(mine) / len(mine) for level, mine in values.items() if mine}
        return sorted(means, key=lambda level: -means[level])

    if not any(one.excluded for one in table.read):
        return ""
    now = rank([one for one in table.read if one.excluded is None])
    all_back = {level: at for at, level in enumerate(rank(table.read))}
    for i, first in enumerate(now):
        for second in now[i + 1 :]:
            if all_back[first] > all_back[second]:
                return (
                    f"By the averages as read {first} and {second} swap places when the pieces set aside are put back."
                )
    return ""
