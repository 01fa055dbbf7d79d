"""One table over many trials: what each says by itself, joined by what they share (docs/method, “The shop's book”).

Each trial gives log strengths of what it compares, known up to one number that is the trial's own, with their
covariance. What a thing is worth in one trial differs from what it is worth over all by a deviation of scatter τ/√2, so
that a difference of two varies by τ² between trials. Weighted least squares over all trials, the trials' own numbers
taken out, is a network meta-analysis: things that never met are compared through those that both met.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import combinations
from math import exp, inf, sqrt

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.families import all_pairs
from adhaero.core.stats.laws import LIKELY, beyond_chi2, beyond_t, find_normal, find_t
from adhaero.core.stats.pairs import CONFIDENCE
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.trial_evidence import Evidence, find_joined

_ASIDE = "\0"
_LARGEST_TAU = 3.0
# no range is narrower than one that holds nine times in ten were the scatter between trials known
_LEAST_SURE = 0.95


@dataclass(frozen=True)
class Compared:
    """Two things compared over all trials; `ratio` is a over b.

    Attributes
    ----------
    log_ratio, se, df : on logarithms; range95 : of the ratio, for this pair by itself.
    p : of no difference, all pairs of the table looked at together (Tukey and Kramer).
    direct : the trials that have both. together : of the ratio, where the ranges of all pairs hold together.
    """

    a: str
    b: str
    log_ratio: float
    se: float
    df: float
    range95: tuple[float, float]
    p: float
    direct: tuple[int, ...]
    together: tuple[float, float] = (0.0, inf)

    @property
    def ratio(self) -> float:
        """Return a over b."""
        return exp(self.log_ratio)


@dataclass(frozen=True)
class Routes:
    """Two ways of comparing the same two things: in the trials that have both, and through the others.

    Attributes
    ----------
    direct, indirect : logarithms of the ratio; direct_se, indirect_se; p : of no difference between the two ways.
    """

    direct: float
    direct_se: float
    indirect: float
    indirect_se: float
    p: float


@dataclass(frozen=True)
class Network:
    """Everything compared over all trials of a table.

    Attributes
    ----------
    names : the things, in the order in which they were first met; parts : which of them are joined by trials.
    effects, covariance : (k,), (k, k) logarithms against the first of each part.
    tau : scatter between trials of a difference, on logarithms; None where no comparison was made twice.
    tau_moments : the same by DerSimonian and Laird's moments, told beside it.
    misfit, df : Q of the trials against one table without scatter between them, and its degrees of freedom.
    widen : by how much variances were multiplied because the scatter between trials is estimated (Hartung and Knapp).
    plain : (k, k) the covariance as if that scatter were known, which no range goes far below.
    """

    evidence: tuple[Evidence, ...]
    names: tuple[str, ...]
    parts: tuple[tuple[str, ...], ...]
    effects: Floats
    covariance: Floats
    tau: float | None
    tau_moments: float | None
    misfit: float
    df: int
    widen: float
    plain: Floats
    _pull: Mapping[int, Floats] = field(default_factory=dict)

    @property
    def misfit_p(self) -> float | None:
        """Return the chance of so much misfit where trials do not scatter; None without a comparison made twice."""
        return beyond_chi2(self.misfit, self.df) if self.df else None

    def are_joined(self, a: str, b: str) -> bool:
        """Return whether trials lead from one to the other."""
        return any(a in part and b in part for part in self.parts)

    def find(self, a: str, b: str) -> tuple[float, float, float]:
        """Return how a differs from b, a logarithm, its standard error and degrees of freedom."""
        weights = np.zeros(len(self.names))
        weights[self.names.index(a)] += 1.0
        weights[self.names.index(b)] -= 1.0
        shift = float(weights @ self.effects)
        variance = float(weights @ self.covariance @ weights)
        if self.df:
            # by chance few trials can agree far better than their pieces let them
            least = find_normal(_LEAST_SURE) / find_t(LIKELY, self.df)
            plain = sqrt(max(float(weights @ self.plain @ weights), 0.0))
            return shift, max(sqrt(max(variance, 0.0)), least * plain), float(self.df)
        # every comparison was made once: the ranges stand on the scatter within the trials alone
        by_trial = np.array([float(weights @ one @ weights) for one in self._pull.values()])
        each = np.array([one.df for one in self.evidence])
        with np.errstate(divide="ignore", invalid="ignore"):
            below = float(np.nansum(np.where(by_trial > 0, by_trial**2 / each, 0.0)))
        return shift, sqrt(max(variance, 0.0)), float(by_trial.sum() ** 2 / below) if below > 0 else inf

    def compare_all(self) -> list[Compared]:
        """Compare every two things that trials join; their p is that of the studentized range over all things."""
        found = []
        for part in self.parts:
            for a, b in combinations(part, 2):
                shift, se, df = self.find(a, b)
                found.append((a, b, shift, se, df))
        family = all_pairs(len(self.names))
        away = np.array([abs(shift) / se * sqrt(2) if se > 0 else 0.0 for _, _, shift, se, _ in found])
        free = np.array([df for *_, df in found])
        chances = family.compute_sf(away, free) if found else np.zeros(0)
        reaches = family.compute_quantile(CONFIDENCE, free) if found else np.zeros(0)
        return [
            Compared(
                a, b, shift, se, df, _range(shift, se, df), float(chance),
                tuple(one.trial for one in self.evidence if a in one.names and b in one.names),
                _ends(shift, far / sqrt(2) * se),
            )
            for (a, b, shift, se, df), chance, far in zip(found, chances, reaches, strict=True)
        ]  # fmt: skip

    def split(self, a: str, b: str) -> Routes | None:
        """Compare the trials that have both with the way through the others; None where one of the two is not there.

        The two ways share no trial and no thing. The scatter between trials is that of both together, each with a table
        of its own, so that their odds do not count as scatter.
        """
        met = [one for one in self.evidence if a in one.names and b in one.names]
        others = [one for one in self.evidence if one not in met]
        around_names = {name for one in others for name in one.names}
        if not met or a not in around_names or b not in around_names:
            return None
        if not any(a in part and b in part for part in find_parts(others)):
            return None
        aside = [replace(one, names=tuple(f"{name}{_ASIDE}" for name in one.names)) for one in met]
        both = fit_network([*aside, *others])
        direct, direct_se, _ = both.find(f"{a}{_ASIDE}", f"{b}{_ASIDE}")
        indirect, indirect_se, _ = both.find(a, b)
        se, df = sqrt(direct_se**2 + indirect_se**2), float(both.df) if both.df else inf
        p = 2 * float(beyond_t(np.array(abs(direct - indirect) / se), df)) if se > 0 else 1.0
        return Routes(direct, direct_se, indirect, indirect_se, min(1.0, p))


@dataclass(frozen=True)
class Solved:
    """Weighted least squares at one scatter between trials.

    Attributes
    ----------
    covariance : of `effects`. left : weighted squares that are left. log_size : log|V| + log|XᵀV⁻¹X|, for REML.
    """

    names: tuple[str, ...]
    parts: tuple[tuple[str, ...], ...]
    effects: Floats
    covariance: Floats
    left: float
    log_size: float
    df: int
    rows: "_Rows"

    def find_plain(self, a: str, b: str) -> tuple[float, float]:
        """Return how a differs from b, a logarithm, and its standard error."""
        one, other = self.names.index(a), self.names.index(b)
        variance = self.covariance[one, one] + self.covariance[other, other] - 2 * self.covariance[one, other]
        return float(self.effects[one] - self.effects[other]), sqrt(max(float(variance), 0.0))


@dataclass(frozen=True)
class _Rows:
    """The differences of all trials, each trial's turned so that both scatters are diagonal in it.

    Within a trial the covariance is S + τ²B. With S = LLᵀ and L⁻¹BL⁻ᵀ = QΛQᵀ, what QᵀL⁻¹ makes of the differences has
    the covariance I + τ²Λ: one regression with weights for all trials.

    Attributes
    ----------
    shifts, between : (n,) turned differences, and Λ. things : (n, k) turned rows of the things but the first of a part.
    trial : (n,) whose they are. free : (k,) which of all things those are.
    """

    shifts: Floats
    between: Floats
    things: Floats
    trial: NDArray[np.intp]
    free: NDArray[np.intp]


def _between(c: int) -> Floats:
    """Return the covariance of c differences from one thing, where a difference of two has variance 1."""
    return (np.eye(c) + 1.0) / 2


def _turn_rows(evidence: Sequence[Evidence], names: Sequence[str], parts: Sequence[Sequence[str]]) -> _Rows:
    firsts = {part[0] for part in parts}
    place = {name: at for at, name in enumerate(names)}
    shifts, between, things, trial = [], [], [], []
    for at, one in enumerate(evidence):
        away, covariance = one.differences
        c = away.size
        rows = np.zeros((c, len(names)))
        codes = [place[name] for name in one.names]
        rows[np.arange(c), codes[1:]] += 1.0
        rows[:, codes[0]] -= 1.0
        inverse = np.linalg.inv(np.linalg.cholesky(covariance))
        spread, turn = np.linalg.eigh(inverse @ _between(c) @ inverse.T)
        turned = turn.T @ inverse
        shifts.append(turned @ away)
        things.append(turned @ rows)
        between.append(spread)
        trial.append(np.full(c, at))
    free = np.array([at for at, name in enumerate(names) if name not in firsts], dtype=np.intp)
    return _Rows(
        np.concatenate(shifts), np.concatenate(between), np.vstack(things)[:, free], np.concatenate(trial), free
    )


def find_parts(evidence: Sequence[Evidence]) -> tuple[tuple[str, ...], ...]:
    """Return the things that trials join, each part in the order in which its things were first met."""
    return find_joined([one.names for one in evidence])


def solve(evidence: Sequence[Evidence], tau: float) -> Solved:
    """Return the things by weighted least squares where differences scatter by `tau` between trials.

    Each part's first thing stands at 0.
    """
    names = tuple(dict.fromkeys(name for one in evidence for name in one.names))
    parts = find_parts(evidence)
    return _solve(names, parts, _turn_rows(evidence, names, parts), tau)


def _solve(names: tuple[str, ...], parts: tuple[tuple[str, ...], ...], rows: _Rows, tau: float) -> Solved:
    spread = 1 + tau**2 * rows.between
    weighted = rows.things / spread[:, None]
    information = weighted.T @ rows.things
    inside = np.linalg.inv(information)
    solution = inside @ (weighted.T @ rows.shifts)
    away = rows.shifts - rows.things @ solution
    effects, covariance = np.zeros(len(names)), np.zeros((len(names), len(names)))
    effects[rows.free] = solution
    covariance[np.ix_(rows.free, rows.free)] = inside
    log_size = float(np.log(spread).sum()) + float(np.linalg.slogdet(information)[1])
    left = float((away**2 / spread).sum())
    return Solved(names, parts, effects, covariance, left, log_size, away.size - rows.free.size, rows)


def fit_network(evidence: Sequence[Evidence]) -> Network:
    """Join trials to one table.

    The scatter between trials by restricted maximum likelihood; ranges by Hartung and Knapp's rule, t with as many
    degrees of freedom as there are comparisons beyond those that a table needs (Statistics in Medicine 20, 2001; for
    networks Rücker, Research Synthesis Methods 3, 2012). Where no comparison was made twice, how trials scatter is not
    known, and ranges stand on the scatter within them.

    Parameters
    ----------
    evidence : of at least one trial, each of two things or more with positive variances of their differences.
    """
    plain = solve(evidence, 0.0)
    if plain.df == 0:
        return Network(
            tuple(evidence), plain.names, plain.parts, plain.effects, plain.covariance, None, None, plain.left, 0, 1.0,
            plain.covariance, _find_pulls(plain, len(evidence)),
        )  # fmt: skip
    tau = _find_tau(plain)
    best = _solve(plain.names, plain.parts, plain.rows, tau)
    widen = best.left / best.df
    return Network(
        tuple(evidence), plain.names, plain.parts, best.effects,
        widen * best.covariance + _find_unsure_weights(best, evidence, tau), tau, _find_tau_by_moments(plain),
        plain.left, plain.df, widen, best.covariance,
    )  # fmt: skip


def _find_tau(plain: Solved) -> float:
    """Return the scatter between trials at which the restricted likelihood is greatest."""
    from scipy import optimize  # loaded where it is needed: a command starts at once

    def lack(tau: float) -> float:
        one = _solve(plain.names, plain.parts, plain.rows, tau)
        return one.log_size + one.left

    grid = np.concatenate([[0.0], np.geomspace(5e-3, _LARGEST_TAU, 12)])
    values = [lack(float(tau)) for tau in grid]
    at = int(np.argmin(values))
    low, high = float(grid[max(0, at - 1)]), float(grid[min(grid.size - 1, at + 1)])
    found = optimize.minimize_scalar(lack, bounds=(low, high), method="bounded", options={"xatol": 1e-7})
    return 0.0 if values[0] <= float(found.fun) else float(found.x)


def _find_tau_by_moments(plain: Solved) -> float:
    """Return the scatter between trials by DerSimonian and Laird's moments, for many things compared at once."""
    rows = plain.rows
    inside = plain.covariance[np.ix_(rows.free, rows.free)]
    used = ((rows.things @ inside) * rows.things).sum(axis=1)
    trace = float((rows.between * (1 - used)).sum())
    return sqrt(max(0.0, (plain.left - plain.df) / trace)) if trace > 0 else 0.0


def _find_unsure_weights(solved: Solved, evidence: Sequence[Evidence], tau: float) -> Floats:
    """Return what it adds to the covariance that each trial's weight is estimated from its few pieces.

    A trial's covariance S is known but for a factor of variance 2/ν; by the first order of its effect on the solution,
    A Σ 2/ν · XᵀV⁻¹SV⁻¹(V − XAXᵀ)V⁻¹SV⁻¹X A (docs/method).
    """
    rows = solved.rows
    inside = solved.covariance[np.ix_(rows.free, rows.free)]
    spread = 1 + tau**2 * rows.between
    moved = rows.things / spread[:, None] ** 2
    middle = np.zeros_like(inside)
    for at, one in enumerate(evidence):
        mine = rows.trial == at
        own = rows.things[mine]
        left = np.diag(spread[mine]) - own @ inside @ own.T
        middle += 2 / one.df * moved[mine].T @ left @ moved[mine]
    found = np.zeros_like(solved.covariance)
    found[np.ix_(rows.free, rows.free)] = inside @ middle @ inside
    return found


def _find_pulls(solved: Solved, count: int) -> dict[int, Floats]:
    """Return what the scatter within each trial adds to the covariance of the things, where trials do not scatter."""
    rows = solved.rows
    pulled = rows.things @ solved.covariance[rows.free, :]
    return {at: pulled[rows.trial == at].T @ pulled[rows.trial == at] for at in range(count)}


def _range(shift: float, se: float, df: float) -> tuple[float, float]:
    return _ends(shift, find_t(LIKELY, df) * se)


def _ends(shift: float, reach: float) -> tuple[float, float]:
    return exp(max(-700.0, shift - reach)), exp(min(700.0, shift + reach))
