"""The design of a linear model, kept as its few different rows: pieces of one set on one board share one."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.scatter import Floats

Codes = NDArray[np.intp]

_RANK = 1e-11


@dataclass(frozen=True)
class Design:
    """What each piece is made of, as columns of a model.

    Attributes
    ----------
    rows : (m, p), the different rows; cells : (n,) which of them is that of each piece.
    """

    rows: Floats
    cells: Codes

    def predict(self, coefficients: Floats) -> Floats:
        """Return Xβ, (n,)."""
        found: Floats = (self.rows @ coefficients)[self.cells]
        return found

    def collect(self, values: Floats) -> Floats:
        """Return Xᵀv, (p,), of (n,) values."""
        found: Floats = self.rows.T @ np.bincount(self.cells, values, len(self.rows))
        return found

    def gram(self, weights: Floats | None = None) -> Floats:
        """Return XᵀWX, (p, p), every weight 1 if none are given."""
        each = np.bincount(self.cells, weights, len(self.rows))
        found: Floats = self.rows.T @ (each[:, None] * self.rows)
        return found

    def take(self, chosen: NDArray[np.bool_]) -> "Design":
        """Return the design of some of the pieces."""
        used, cells = np.unique(self.cells[chosen], return_inverse=True)
        return Design(self.rows[used], cells)

    def keep_columns(self, columns: Codes) -> "Design":
        """Return the design with some of its columns."""
        return Design(self.rows[:, columns], self.cells)

    def keep_independent(self) -> "Design":
        """Return independent columns that span the same (pivoted Cholesky of XᵀX, `scipy.linalg.lapack.dpstrf`)."""
        from scipy import linalg  # loaded where it is needed: a command starts at once

        gram = self.gram()
        _, order, rank, _ = linalg.lapack.dpstrf(gram, tol=_RANK * float(gram.diagonal().max()))
        return self.keep_columns(np.sort(order[:rank] - 1))

    def has_full_rank(self) -> bool:
        """Return whether the columns are independent."""
        gram = self.gram()
        return bool(np.linalg.matrix_rank(gram, hermitian=True, tol=_RANK * float(gram.diagonal().max())) == len(gram))


def constant(n: int) -> Design:
    """Return one column of 1."""
    return Design(np.ones((1, 1)), np.zeros(n, dtype=np.intp))


def one_hot(codes: Codes, count: int) -> Design:
    """Return a column of 0 and 1 for each of `count` values."""
    return Design(np.eye(count), codes)


def amounts(values: Floats) -> Design:
    """Return one column of numbers."""
    different, cells = np.unique(values, return_inverse=True)
    return Design(different[:, None], cells)


def join(parts: Sequence[Design]) -> Design:
    """Return the columns of several designs beside each other."""
    joined = parts[0]
    for part in parts[1:]:
        used, cells = np.unique(joined.cells * len(part.rows) + part.cells, return_inverse=True)
        rows = np.hstack([joined.rows[used // len(part.rows)], part.rows[used % len(part.rows)]])
        joined = Design(rows, cells)
    return joined
