"""Sets compared within boards: which pieces and boards can be, and the boards as they are, one by one (fixed)."""

from dataclasses import dataclass
from math import expm1

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.design import Codes, Design, join, one_hot
from adhaero.core.stats.laws import beyond_f
from adhaero.core.stats.linear import OverallTest, fit_linear
from adhaero.core.stats.own_scatter import Flags, Tally
from adhaero.core.stats.scatter import Floats


@dataclass(frozen=True)
class Parts:
    """Sets and boards joined by their pieces, sets that are one-sided left out.

    Attributes
    ----------
    of_set, of_board : (k,), (b,) which part each belongs to, −1 for none.
    boards : (parts,) how many boards each has.
    """

    of_set: NDArray[np.intp]
    of_board: NDArray[np.intp]
    boards: NDArray[np.intp]

    @property
    def fixed(self) -> bool:
        """Return whether boards can be taken as they are: one part, or no part with two boards."""
        return self.boards.size == 1 or bool((self.boards < 2).all())

    def are_apart(self, first: int, second: int) -> bool:
        """Return whether two sets stand on one board each, of two parts: a comparison of two boards."""
        a, b = self.of_set[first], self.of_set[second]
        return bool(a != b and a >= 0 and b >= 0 and self.boards[a] == 1 and self.boards[b] == 1)


def find_parts(sets: Codes, boards: Codes, k: int, count: int, left_out: Flags) -> Parts:
    """Return the parts of (n,) pieces; `left_out` (k,) are the sets that take no part."""
    used = ~left_out[sets]
    labels = _connect(sets[used], boards[used], k, count)
    present_sets, present_boards = np.unique(sets[used]), np.unique(boards[used])
    of_set, of_board = np.full(k, -1), np.full(count, -1)
    known, place = np.unique(labels[present_sets], return_inverse=True)
    of_set[present_sets] = place
    of_board[present_boards] = np.searchsorted(known, labels[k + present_boards])
    return Parts(of_set, of_board, np.bincount(of_board[of_board >= 0], minlength=known.size).astype(np.intp))


def _connect(sets: Codes, boards: Codes, k: int, count: int) -> NDArray[np.intp]:
    return _components(sets, k + boards, k + count)


def _components(rows: NDArray[np.intp], columns: NDArray[np.intp], size: int, *, strong: bool = False) -> Codes:
    """Return the connected component of each of `size` points that are linked."""
    from scipy.sparse import coo_array  # loaded where it is needed: a command starts at once
    from scipy.sparse.csgraph import connected_components

    links = coo_array((np.ones(rows.size), (rows, columns)), shape=(size, size))
    if strong:
        return np.asarray(connected_components(links, connection="strong")[1], dtype=np.intp)
    return np.asarray(connected_components(links, directed=False)[1], dtype=np.intp)


def find_kept(bounds: Bounds, sets: Codes, boards: Codes, tally: Tally, count: int) -> Flags:
    """Return which pieces take part in a fit of fixed boards.

    Left out, again and again, are boards and sets whose pieces left are all held or all fell apart.
    """
    up, down = np.isinf(bounds.upper), np.isinf(bounds.lower)
    kept: Flags = ~(tally.one_sided != 0)[sets]
    while True:
        before = int(kept.sum())
        for codes, size in ((sets, tally.n.size), (boards, count)):
            n, held, fell = (np.bincount(codes, kept & one, size) for one in (np.ones_like(up), up, down))
            lost = (n > 0) & ((held == n) | (fell == n))
            kept = kept & ~lost[codes]
        if int(kept.sum()) == before:
            return kept


def has_maximum(bounds: Bounds, sets: Codes, boards: Codes, kept: Flags, tally: Tally, count: int) -> bool:
    """Return whether the likelihood of the pieces kept has a maximum with boards fixed.

    A number ties its set and its board both ways, a held piece the board to the set only, one that fell apart the set
    to the board only: every set that is not one-sided must be left, and all be strongly connected part by part.
    """
    k = tally.n.size
    left = np.unique(sets[kept])
    if left.size < int(tally.estimated.sum()):
        return False
    up, down = np.isinf(bounds.upper[kept]), np.isinf(bounds.lower[kept])
    sets, boards = sets[kept], k + boards[kept]
    from_set, from_board = ~up, ~down
    rows = np.concatenate([sets[from_set], boards[from_board]])
    columns = np.concatenate([boards[from_set], sets[from_board]])
    present = np.unique(np.concatenate([sets, boards]))
    strong = _components(rows, columns, k + count, strong=True)[present]
    weak = _components(rows, columns, k + count)[present]
    return bool(np.unique(strong).size == np.unique(weak).size)


@dataclass(frozen=True)
class FixedBoards:
    """Sets and boards as an additive model of logarithms.

    Attributes
    ----------
    coefficients, covariance : of the columns: boards, then sets but the first (one part); sets alone where no part has
        two boards.
    set_rows : (k, p) what makes a set of them, at the average of the boards; board_rows : (b, p) what a board adds to
        it; both NaN for what is not in the fit.
    sigma, df : scatter of the logarithms and its degrees of freedom.
    """

    coefficients: Floats
    covariance: Floats
    set_rows: Floats
    board_rows: Floats
    sigma: float
    df: float
    overall: OverallTest | None


def fit_fixed(
    bounds: Bounds, sets: Codes, boards: Codes, kept: Flags, parts: Parts, *, few_pieces: bool = True
) -> FixedBoards | None:
    """Fit sets within fixed boards, by least squares or with bounds by maximum likelihood (σ̂² and variances n/(n−p)).

    Returns
    -------
    FixedBoards; None where not one piece more is left than sets and boards ask.
    """
    k, count = parts.of_set.size, parts.of_board.size
    left, boards_left = np.unique(sets[kept]), np.unique(boards[kept])
    codes, places = np.searchsorted(left, sets[kept]), np.searchsorted(boards_left, boards[kept])
    alone = parts.boards.size > 1
    p = left.size + (0 if alone else boards_left.size - 1)
    n = int(kept.sum())
    if n - p < 1:
        return None
    in_boards = one_hot(places, boards_left.size)
    design = one_hot(codes, left.size)
    if not alone:
        design = join([in_boards, design.keep_columns(np.arange(1, left.size))])
    some = bounds.take(kept)
    fit = fit_linear(design, some, few_pieces=few_pieces)
    if fit is None:
        return None
    set_rows, board_rows = np.full((k, p), np.nan), np.full((count, p), np.nan)
    if alone:
        set_rows[left] = np.eye(p)
        board_rows[boards_left] = 0.0
    else:
        average = np.full((left.size, boards_left.size), 1 / boards_left.size)
        set_rows[left] = np.hstack([average, np.eye(left.size)[:, 1:]])
        each = np.eye(boards_left.size) - 1 / boards_left.size
        board_rows[boards_left] = np.hstack([each, np.zeros((boards_left.size, left.size - 1))])
    return FixedBoards(
        fit.coefficients,
        fit.covariance,
        set_rows,
        board_rows,
        fit.sigma,
        fit.df,
        _test_overall(some, in_boards, fit.misfit, left.size - parts.boards.size, n - p, likelihood=fit.likelihood),
    )


def _test_overall(
    bounds: Bounds, in_boards: Design, misfit: float, more: int, df: int, *, likelihood: bool
) -> OverallTest | None:
    """Test the sets against boards alone: F, with bounds the likelihood ratio turned into the F that it is without."""
    without = fit_linear(in_boards, bounds) if more > 0 else None
    if without is None:
        return None
    if likelihood:
        n = bounds.lower.size
        statistic = expm1(min(max(0.0, without.misfit - misfit) / n, 700.0)) * df / more
    elif misfit > 0:
        statistic = max(0.0, (without.misfit - misfit) / more / (misfit / df))
    else:
        return None
    return OverallTest("blocked", statistic, (float(more), float(df)), beyond_f(statistic, more, df))
