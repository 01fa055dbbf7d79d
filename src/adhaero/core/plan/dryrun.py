"""The dry run: the whole trial broken many times on paper, to see how often its answer would be right."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations
from math import log

import numpy as np
from numpy.typing import NDArray

from adhaero.core.errors import PlanError
from adhaero.core.plan.layout import Place
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.families import all_pairs
from adhaero.core.stats.pairs import Contrast, compare_all
from adhaero.core.stats.power import sigma_log_from_cv
from adhaero.core.stats.sets import fit_sets

TIMES, TIMES_WITH_BOUNDS = 1000, 300
PART, PART_WITH_BOUNDS = 100, 20
BOARD_SHARE = 0.5


@dataclass(frozen=True)
class PairOutlook:
    """How often the comparison of two sets came out right, wrong, or undecided; shares of the runs."""

    a: str
    b: str
    true_ratio: float
    right: float
    wrong: float
    cannot_tell: float


@dataclass(frozen=True)
class Outlook:
    """What the dry runs of a trial came to.

    Attributes
    ----------
    best_found : share of the runs in which the set with the highest average was the one guessed strongest; None where
        several are guessed alike, or pieces only hold.
    within_boards : whether sets were compared within boards.
    """

    times: int
    seed: int
    pairs: tuple[PairOutlook, ...]
    right: float
    wrong: float
    cannot_tell: float
    best_found: float | None
    within_boards: bool


@dataclass(frozen=True)
class DryRun:
    """A planned trial as it is broken on paper: names and guessed strengths of its sets, and who sits where.

    Attributes
    ----------
    held_pct : share of all pieces that only hold, percent: the strongest, above the end of the rig.

    Raises
    ------
    PlanError : fewer than two sets, or too few pieces to know the scatter.
    """

    names: tuple[str, ...]
    guesses: tuple[float, ...]
    layout: tuple[Place, ...]
    cv_pct: float
    margin_pct: float
    seed: int
    held_pct: float = 0.0

    @property
    def times(self) -> int:
        """Return how often it is broken: less often with bounds, which take a likelihood each time."""
        return TIMES_WITH_BOUNDS if self.held_pct else TIMES

    def run(self, times: int | None = None) -> Iterator[int | Outlook]:
        """Break the trial again and again, and judge every pair of sets as Compare would.

        Every run draws log-normal strengths: a set's guess, a board's own strength with half the scatter, and the
        scatter of pieces. The sets are compared by least squares on logarithms, within boards where there are several,
        with Tukey's simultaneous ranges; a verdict is right when it names the truly stronger set, or “the same for
        practice” where the true ratio lies within the margin. Where pieces only hold they are compared by likelihood.

        Yields
        ------
        The number of runs done so far, now and then, and at the end the outlook.
        """
        times = times or self.times
        model = _fit_model(self)
        limit = model.find_limit(self.held_pct)
        rng = np.random.default_rng(self.seed)
        tally = np.zeros((len(model.pairs), 2))
        best = 0
        step = PART if limit is None else PART_WITH_BOUNDS
        for done in range(0, times, step):
            part = min(step, times - done)
            logs = model.draw(rng, part)
            if limit is None:
                fitted, s2 = model.fit(logs)
                tally += model.judge(fitted, s2, self.margin_pct)
                best += int(np.sum(fitted[:, : len(self.names)].argmax(axis=1) == int(np.argmax(model.truth))))
            else:
                for one in logs:
                    tally += model.judge_bounds(one, limit, self.margin_pct)
            yield done + part
        yield self._sum_up(model, tally / times, None if limit is not None else best / times, times)

    def _sum_up(self, model: "_Model", shares: NDArray[np.float64], best: float | None, times: int) -> Outlook:
        pairs = tuple(
            PairOutlook(
                self.names[a],
                self.names[b],
                float(np.exp(model.truth[a] - model.truth[b])),
                float(right),
                float(wrong),
                float(max(0.0, 1 - right - wrong)),
            )
            for (a, b), (right, wrong) in zip(model.pairs, shares, strict=True)
        )
        alone = int(np.sum(model.truth == model.truth.max())) == 1
        right, wrong = (float(one) for one in shares.mean(axis=0))
        return Outlook(
            times=times,
            seed=self.seed,
            pairs=pairs,
            right=right,
            wrong=wrong,
            cannot_tell=max(0.0, 1 - right - wrong),
            best_found=best if alone else None,
            within_boards=model.within,
        )


@dataclass(frozen=True)
class _Model:
    """The linear model of a dry run, solved once: `solver` turns logarithms into effects of sets and boards."""

    truth: NDArray[np.float64]
    of_set: NDArray[np.int64]
    on_board: NDArray[np.int64]
    boards: int
    within: bool
    sigma: float
    design: NDArray[np.float64]
    solver: NDArray[np.float64]
    df: int
    pairs: tuple[tuple[int, int], ...]
    spread: NDArray[np.float64]
    reach: float

    def draw(self, rng: np.random.Generator, times: int) -> NDArray[np.float64]:
        """Return the logarithms of `times` trials, (times, pieces)."""
        noise = rng.normal(0.0, self.sigma, (times, len(self.of_set)))
        own = rng.normal(0.0, BOARD_SHARE * self.sigma, (times, self.boards))
        if self.boards == 1:
            own[:] = 0.0
        drawn: NDArray[np.float64] = self.truth[self.of_set] + own[:, self.on_board] + noise
        return drawn

    def find_limit(self, held_pct: float) -> float | None:
        """Return the logarithm above which that share of the pieces lies; None where none is to hold."""
        if not held_pct:
            return None
        return float(np.quantile(self.draw(np.random.default_rng(0), TIMES), 1 - held_pct / 100))

    def fit(self, logs: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Return the fitted effects of trials, and their residual variances."""
        fitted = logs @ self.solver.T
        residual = logs - fitted @ self.design.T
        return fitted, (residual**2).sum(axis=1) / self.df

    def judge(self, fitted: NDArray[np.float64], s2: NDArray[np.float64], margin_pct: float) -> NDArray[np.float64]:
        """Return for each pair how many verdicts were right and how many wrong."""
        a, b = np.array(self.pairs).T
        gap = fitted[:, a] - fitted[:, b]
        half = self.reach * np.sqrt(s2)[:, None] * self.spread
        return self._score(gap - half, gap + half, margin_pct)

    def judge_bounds(self, logs: NDArray[np.float64], limit: float, margin_pct: float) -> NDArray[np.float64]:
        """Return for each pair whether the verdict on one trial with bounds was right, and whether it was wrong."""
        held = logs > limit
        if not held.any():
            return self.judge(*self.fit(logs[None, :]), margin_pct)
        compared = self._compare_bounds(Bounds(np.where(held, limit, logs), np.where(held, np.inf, logs)))
        ends = np.array(
            [
                (-np.inf if low is None else low, np.inf if high is None else high)
                for low, high in (one.log_ci95 or (None, None) for one in compared)
            ]
        )
        return self._score(ends[None, :, 0], ends[None, :, 1], margin_pct)

    def _score(self, low: NDArray[np.float64], high: NDArray[np.float64], margin_pct: float) -> NDArray[np.float64]:
        """Return for each pair how many ranges of its difference were right and how many wrong; NaN tells nothing."""
        a, b = np.array(self.pairs).T
        m = log(1 + margin_pct / 100)
        true = self.truth[a] - self.truth[b]
        same = (low >= -m) & (high <= m)
        a_stronger, b_stronger = ~same & (low > 0), ~same & (high < 0)
        right = (a_stronger & (true > 0)) | (b_stronger & (true < 0)) | (same & (np.abs(true) <= m + 1e-12))
        decided = same | a_stronger | b_stronger
        return np.stack([right.sum(axis=0), (decided & ~right).sum(axis=0)], axis=1).astype(float)

    def _compare_bounds(self, bounds: Bounds) -> list[Contrast]:
        """Compare as Compare does."""
        return compare_all(fit_sets(bounds, self.of_set, len(self.truth), self.on_board if self.within else None))


def _fit_model(trial: DryRun) -> _Model:
    sets, layout = len(trial.names), trial.layout
    boards = 1 + max((place.board for place in layout), default=0)
    of_set = np.array([place.treatment for place in layout], dtype=np.int64)
    on_board = np.array([place.board for place in layout], dtype=np.int64)
    if sets < 2 or any(not np.any(of_set == one) for one in range(sets)):
        raise PlanError("There is nothing to compare yet.", "A dry run needs at least two sets with pieces.")
    design = _make_design(of_set, on_board, sets, boards)
    rank = int(np.linalg.matrix_rank(design))
    within = boards > 1
    if within and rank < sets + boards - 1:  # no chain of boards connects the sets: Compare leaves the boards out too
        within, design = False, _make_design(of_set, on_board, sets, 1)
        rank = sets
    df = len(layout) - rank
    if df < 1 or rank < sets:
        raise PlanError(
            "The scatter could not be known.", "Each set needs more than one piece.", "Plan more pieces of each."
        )
    solver = np.linalg.pinv(design).astype(np.float64)
    covariance = (solver @ solver.T)[:sets, :sets]
    pairs = tuple(combinations(range(sets), 2))
    a, b = np.array(pairs).T
    return _Model(
        truth=np.log(np.asarray(trial.guesses, dtype=float)),
        of_set=of_set,
        on_board=on_board,
        boards=boards,
        within=within,
        sigma=sigma_log_from_cv(trial.cv_pct),
        design=design,
        solver=solver,
        df=df,
        pairs=pairs,
        spread=np.sqrt(covariance[a, a] + covariance[b, b] - 2 * covariance[a, b]),
        reach=float(all_pairs(sets).compute_quantile(0.95, np.array([df]))[0]) / np.sqrt(2),
    )


def run_dry(trial: DryRun, times: int | None = None) -> Outlook:
    """Return the outlook of a dry run without hearing how far it has come. Raises `PlanError`."""
    *_, outlook = trial.run(times)
    assert isinstance(outlook, Outlook)
    return outlook


def _make_design(of_set: NDArray[np.int64], on_board: NDArray[np.int64], sets: int, boards: int) -> NDArray[np.float64]:
    columns = [of_set == one for one in range(sets)]
    columns += [on_board == one for one in range(1, boards)]
    return np.array(columns, dtype=float).T
