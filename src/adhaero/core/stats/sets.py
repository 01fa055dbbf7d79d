"""The sets of a trial on logarithms: each by itself, within fixed boards, or on random ones; one way to compare."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from math import inf, isfinite

import numpy as np

from adhaero.core.stats.boards import FixedBoards, Parts, find_kept, find_parts, fit_fixed, has_maximum
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.design import Codes
from adhaero.core.stats.laws import beyond_f, beyond_f_known
from adhaero.core.stats.linear import OverallTest
from adhaero.core.stats.mixed_boards import RandomBoards, fit_random
from adhaero.core.stats.one_sided import Known, Limits
from adhaero.core.stats.own_scatter import OwnScatter, fit_own
from adhaero.core.stats.scatter import Floats

# below this, logarithms do not differ but by rounding
_NO_SCATTER = 1e-9


@dataclass(frozen=True)
class SetsFit:
    """Sets on logarithms, ready to be compared.

    Attributes
    ----------
    own : every set by its own pieces; what `typical` stands on but where boards are random.
    effects, covariance : (k,), (k, k) of the sets as they are compared; NaN for a set without an estimate.
    find_df : degrees of freedom of (m, k) weighted sums of the sets.
    sigma : the scatter that numbers of pieces are planned by; NaN without one.
    overall : do the sets differ at all?
    parts : which sets and boards are joined; None where boards take no part.
    judged : whether there is a scatter to judge differences by.
    """

    own: OwnScatter
    bounds: Bounds
    sets: Codes
    effects: Floats
    covariance: Floats
    find_df: Callable[[Floats], Floats]
    sigma: float
    overall: OverallTest | None
    boards: Codes | None = None
    parts: Parts | None = None
    fixed: FixedBoards | None = None
    random: RandomBoards | None = None
    in_random: Codes | None = None
    judged: bool = True

    @cached_property
    def family(self) -> int:
        """Return how many sets are compared: those with an estimate or bounds to one side."""
        return int((np.isfinite(self.own.mu) | (self.own.tally.one_sided != 0)).sum())

    def are_apart(self, first: int, second: int) -> bool:
        """Return whether two sets are of two boards, one each, so that a difference may be that of the boards."""
        return self.parts is not None and self.parts.are_apart(first, second)

    def combine(self, weights: Floats) -> tuple[float, float, float] | None:
        """Return Σ weight · set on logs, its standard error and degrees of freedom; None where one has no estimate."""
        used = weights != 0
        if not np.isfinite(self.effects[used]).all():
            return None
        variance = float(weights[used] @ self.covariance[np.ix_(used, used)] @ weights[used])
        df = float(self.find_df(weights[None, :])[0]) if variance > 0 else inf
        return float(weights[used] @ self.effects[used]), float(np.sqrt(max(0.0, variance))), df

    def describe_limits(self, one: int, other: int) -> Limits | None:
        """Return the bounds of a one-sided set as they stand against another set, on its boards; None without any.

        One that fell apart is mirrored (see `one_sided.mirror`).
        """
        mine = self.sets == one
        up = self.own.tally.one_sided[one] > 0
        at = self.bounds.lower[mine] if up else -self.bounds.upper[mine]
        sign = 1.0 if up else -1.0
        if self.fixed is None and self.random is None:
            return Limits(at, self.own.lent) if isfinite(self.own.lent) else None
        on = self._boards_of(one, other)
        kept = on >= 0
        if not kept.any():
            return None
        return Limits(at[kept] - sign * self._expected(on[kept]), self._model_sigma)

    def expect(self, one: int, other: int) -> tuple[Known, float] | None:
        """Return what a one-sided set is held against: the other's centre on its boards, and degrees of freedom."""
        if not isfinite(self.effects[other]):
            return None
        if self.fixed is None and self.random is None:
            df = float(self.own.df[other])
            return Known(float(self.effects[other]), float(np.sqrt(self.covariance[other, other]))), df
        on = self._boards_of(one, other)
        on = on[on >= 0]
        if on.size == 0:
            return None
        if self.fixed is not None:
            row = self.fixed.set_rows[other] + self.fixed.board_rows[on].mean(axis=0)
            variance = float(row @ self.fixed.covariance @ row)
            return Known(float(self.effects[other]), float(np.sqrt(variance))), self.fixed.df
        assert self.random is not None
        k, codes = self.random.effects.size, self._random_codes(on)
        weights = np.zeros(len(self.random.joint))
        weights[int(np.flatnonzero(self._in_fit == other)[0])] = 1.0
        share = 1 / on.size
        for code in codes[codes >= 0]:
            weights[k + code] += share
        _, times = np.unique(on[codes < 0], return_counts=True)
        unknown = float(((times * share) ** 2).sum()) * self.random.tau**2
        variance = float(weights @ self.random.joint @ weights) + unknown
        df = float(self.find_df(np.eye(self.effects.size)[other : other + 1])[0])
        return Known(float(self.effects[other]), float(np.sqrt(variance))), df

    @property
    def least_df(self) -> float:
        """Return the degrees of freedom of two one-sided sets against each other."""
        if self.fixed is not None:
            return self.fixed.df
        if self.random is not None:
            known = np.flatnonzero(np.isfinite(self.effects))
            return float(self.find_df(np.eye(self.effects.size)[known]).min())
        return self.own.lent_df

    @property
    def _model_sigma(self) -> float:
        return self.fixed.sigma if self.fixed is not None else self.random.sigma if self.random is not None else np.nan

    @cached_property
    def _in_fit(self) -> Codes:
        return np.flatnonzero(np.isfinite(self.effects)).astype(np.intp)

    def _boards_of(self, one: int, other: int) -> Codes:
        """Return the board of each piece of a set as it can be held against another; −1 where it cannot."""
        assert self.boards is not None
        assert self.parts is not None
        on = self.boards[self.sets == one]
        if self.fixed is not None:
            on = np.where(np.isfinite(self.fixed.board_rows[on, 0]), on, -1)
        part = int(self.parts.of_set[other])
        if part < 0 and self.fixed is not None and self.parts.boards.size > 1:
            # two one-sided sets: only on a board that holds both are they no comparison of boards
            return np.where(np.isin(on, self.boards[self.sets == other]), on, -1)
        if part >= 0 and self.parts.boards[part] == 1:
            theirs = self.parts.of_board[on]
            apart = (theirs >= 0) & (theirs != part) & (self.parts.boards[np.maximum(theirs, 0)] == 1)
            on = np.where(apart & (on >= 0), -1, on)
        found: Codes = on
        return found

    def _expected(self, on: Codes) -> Floats:
        """Return what the boards add to a set."""
        if self.fixed is not None:
            found: Floats = self.fixed.board_rows[on] @ self.fixed.coefficients
            return found
        assert self.random is not None
        codes = self._random_codes(on)
        return np.where(codes >= 0, self.random.boards[np.maximum(codes, 0)], 0.0)

    def _random_codes(self, on: Codes) -> Codes:
        assert self.in_random is not None
        found: Codes = self.in_random[on]
        return found


def fit_sets(bounds: Bounds, sets: Codes, k: int, boards: Codes | None = None, *, few_pieces: bool = True) -> SetsFit:
    """Fit sets, each by itself or within boards (analyse.md §3, docs/method).

    Parameters
    ----------
    bounds : of n logarithms; sets, boards : (n,) whole numbers from 0; k : how many sets there are.
    few_pieces : with bounds, whether few pieces are counted as such; else the likelihood alone.
    """
    own = fit_own(bounds, sets, k, few_pieces=few_pieces)
    if boards is None or np.bincount(boards).max() < 2:
        overall = _test_welch(own)
        return SetsFit(own, bounds, sets, own.mu, np.diag(own.se**2), own.find_df, own.lent, overall)
    count = int(boards.max()) + 1
    tally = own.tally
    parts = find_parts(sets, boards, k, count, tally.one_sided != 0)
    if parts.fixed:
        kept = find_kept(bounds, sets, boards, tally, count)
        if kept.any() and has_maximum(bounds, sets, boards, kept, tally, count):
            fixed = fit_fixed(bounds, sets, boards, kept, parts, few_pieces=few_pieces)
            return _within_fixed(own, bounds, sets, boards, parts, fixed)
    return _within_random(own, bounds, sets, boards, parts)


def _unjudged(own: OwnScatter, bounds: Bounds, sets: Codes, boards: Codes, parts: Parts) -> SetsFit:
    """Return the sets' own numbers, where too few pieces are left to compare them within boards."""
    k = own.mu.size
    nothing = np.full((k, k), np.nan)
    return SetsFit(
        own, bounds, sets, np.full(k, np.nan), nothing, own.find_df, np.nan, None, boards, parts, judged=False
    )


def _within_fixed(
    own: OwnScatter, bounds: Bounds, sets: Codes, boards: Codes, parts: Parts, fixed: FixedBoards | None
) -> SetsFit:
    if fixed is None or not fixed.sigma > _NO_SCATTER:
        return _unjudged(own, bounds, sets, boards, parts)
    df = fixed.df
    return SetsFit(
        own,
        bounds,
        sets,
        fixed.set_rows @ fixed.coefficients,
        fixed.set_rows @ fixed.covariance @ fixed.set_rows.T,
        lambda weights: np.full(len(weights), df),
        fixed.sigma,
        fixed.overall,
        boards,
        parts,
        fixed=fixed,
    )


def _within_random(own: OwnScatter, bounds: Bounds, sets: Codes, boards: Codes, parts: Parts) -> SetsFit:
    tally = own.tally
    used = tally.estimated[sets]
    left = np.flatnonzero(tally.estimated)
    present = np.unique(boards[used])
    n, p = int(used.sum()), left.size + present.size - parts.boards.size
    random = None
    if n - p >= 1:
        codes = np.searchsorted(left, sets[used]).astype(np.intp)
        places = np.searchsorted(present, boards[used]).astype(np.intp)
        random = fit_random(bounds.take(used), codes, places, left.size, present.size)
    if random is None or not random.sigma > _NO_SCATTER:
        return _unjudged(own, bounds, sets, boards, parts)
    k = own.mu.size
    effects, covariance = np.full(k, np.nan), np.full((k, k), np.nan)
    effects[left] = random.effects
    covariance[np.ix_(left, left)] = random.covariance
    in_random = np.full(int(boards.max()) + 1, -1, dtype=np.intp)
    in_random[present] = np.arange(present.size)
    overall = None
    if left.size > 1:
        statistic, df = random.test_equal()
        overall = OverallTest(
            "mixed-boards", statistic, (float(left.size - 1), df), beyond_f(statistic, left.size - 1, df)
        )
    return SetsFit(
        own,
        bounds,
        sets,
        effects,
        covariance,
        lambda weights: random.find_df(weights[:, left]),
        random.sigma,
        overall,
        boards,
        parts,
        random=random,
        in_random=in_random,
    )


def _test_welch(own: OwnScatter) -> OverallTest | None:
    """Return Welch's test of the sets that have their own scatter; None with fewer than two of them.

    Notes
    -----
    Welch, B. L. (1951), On the comparison of several mean values, Biometrika 38, eq. 20 and 21, with w = 1/se².
    """
    mine = own.tally.own & own.known
    k = int(mine.sum())
    if k < 2:
        return None
    weights, mu = 1 / own.se[mine] ** 2, own.mu[mine]
    share = weights / weights.sum()
    centre = float(share @ mu)
    lack = float(((1 - share) ** 2 / own.df[mine]).sum())
    between = float(weights @ (mu - centre) ** 2) / (k - 1)
    statistic = between / (1 + 2 * (k - 2) / (k**2 - 1) * lack)
    df = (k**2 - 1) / (3 * lack) if lack > 0 else inf
    p = beyond_f(statistic, k - 1, df) if isfinite(df) else beyond_f_known(statistic, k - 1)
    return OverallTest("welch", statistic, (float(k - 1), df), p)
