"""The dry run: the whole trial broken many times on paper, to see how often its answer would be right."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations
from math import log

import numpy as np

from adhaero.core.errors import PlanError
from adhaero.core.plan.layout import Place
from adhaero.core.stats.boards import find_parts
from adhaero.core.stats.censored import Bounds
from adhaero.core.stats.design import Codes
from adhaero.core.stats.families import all_pairs
from adhaero.core.stats.pairs import CONFIDENCE, compare_all
from adhaero.core.stats.power import sigma_log_from_cv
from adhaero.core.stats.scatter import Floats
from adhaero.core.stats.sets import fit_sets

Compared = tuple[Floats, Floats, Floats]
"""Of runs: the sets' centres (runs, sets), and the two ends of the pairs' ranges on logarithms, (runs, pairs) each."""

TIMES, PART = 1000, 100
# with bounds, sets of two pieces or boards that join no sets every run is fitted by itself, which takes longer
TIMES_ONE_BY_ONE, PART_ONE_BY_ONE = 300, 20
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

    @cached_property
    def _model(self) -> "_Model":
        return _fit_model(self)

    @property
    def _one_by_one(self) -> bool:
        return bool(self.held_pct) or not self._model.at_once

    @property
    def times(self) -> int:
        """Return how often it is broken: less often where every run has to be fitted by itself."""
        return TIMES_ONE_BY_ONE if self._one_by_one else TIMES

    def run(self, times: int | None = None) -> Iterator[int | Outlook]:
        """Break the trial again and again, and judge every pair of sets as Compare would.

        Every run draws log-normal strengths: a set's guess, a board's own strength with half the scatter, and the
        scatter of pieces. The sets are compared as Compare does: each by its own scatter, within boards where there
        are several, all ranges at once; a verdict is right when it names the truly stronger set, or “the same for
        practice” where the true ratio lies within the margin. Where pieces only hold they are compared by likelihood.

        Yields
        ------
        The number of runs done so far, now and then, and at the end the outlook.
        """
        model, one_by_one, times = self._model, self._one_by_one, times or self.times
        limit = model.find_limit(self.held_pct)
        rng = np.random.default_rng(self.seed)
        tally = np.zeros((len(model.pairs), 2))
        best = 0
        step = PART_ONE_BY_ONE if one_by_one else PART
        for done in range(0, times, step):
            logs = model.draw(rng, min(step, times - done))
            for fitted, low, high in (
                (model.compare(one, limit) for one in logs) if one_by_one else (model.compare_at_once(logs),)
            ):
                tally += model.score(low, high, self.margin_pct)
                best += int(np.sum(fitted.argmax(axis=1) == int(np.argmax(model.truth))))
            yield min(done + step, times)
        yield self._sum_up(model, tally / times, None if limit is not None else best / times, times)

    def _sum_up(self, model: "_Model", shares: Floats, best: float | None, times: int) -> Outlook:
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
            within_boards=model.boards > 1,
        )


@dataclass(frozen=True)
class _Model:
    """What every run of a trial has in common.

    Attributes
    ----------
    joined : the sets meet on boards, which are fixed then; `solver` (design) turns logarithms into effects.
    """

    truth: Floats
    of_set: Codes
    on_board: Codes
    boards: int
    sigma: float
    joined: bool
    design: Floats
    df: int

    @cached_property
    def pairs(self) -> list[tuple[int, int]]:
        """Return every pair of sets."""
        return list(combinations(range(len(self.truth)), 2))

    @property
    def at_once(self) -> bool:
        """Return whether many runs can be fitted together: within joined boards, or each set by its own scatter."""
        return self.joined or (self.boards == 1 and int(self._pieces.min()) >= 3)

    @cached_property
    def _pieces(self) -> Codes:
        return np.bincount(self.of_set)

    def draw(self, rng: np.random.Generator, times: int) -> Floats:
        """Return the logarithms of `times` trials, (times, pieces)."""
        noise = rng.normal(0.0, self.sigma, (times, len(self.of_set)))
        own = rng.normal(0.0, BOARD_SHARE * self.sigma, (times, self.boards))
        if self.boards == 1:
            own[:] = 0.0
        drawn: Floats = self.truth[self.of_set] + own[:, self.on_board] + noise
        return drawn

    def find_limit(self, held_pct: float) -> float | None:
        """Return the logarithm above which that share of the pieces lies; None where none is to hold."""
        if not held_pct:
            return None
        return float(np.quantile(self.draw(np.random.default_rng(0), TIMES), 1 - held_pct / 100))

    def compare(self, logs: Floats, limit: float | None) -> Compared:
        """Compare the sets of one trial as Compare does."""
        held = logs > (np.inf if limit is None else limit)
        bounds = Bounds(np.where(held, limit or 0.0, logs), np.where(held, np.inf, logs))
        fit = fit_sets(bounds, self.of_set, len(self.truth), self.on_board if self.boards > 1 else None)
        ends = np.array(
            [
                (-np.inf if low is None else low, np.inf if high is None else high)
                for low, high in (one.log_ci95 or (None, None) for one in compare_all(fit))
            ]
        )
        return np.nan_to_num(fit.effects, nan=-np.inf)[None, :], ends[None, :, 0], ends[None, :, 1]

    def compare_at_once(self, logs: Floats) -> Compared:
        """Compare the sets of many trials of plain breaks, (times, pieces), by the same rules."""
        sets = len(self.truth)
        family = all_pairs(sets)
        a, b = np.array(self.pairs).T
        if self.joined:
            solver = np.linalg.pinv(self.design)
            effects = logs @ solver.T
            sigma2 = ((logs - effects @ self.design.T) ** 2).sum(axis=1) / self.df
            spread = solver @ solver.T
            variance = sigma2[:, None] * (spread[a, a] + spread[b, b] - 2 * spread[a, b])
            reach = family.compute_quantile(CONFIDENCE, np.array([self.df], dtype=float))[0]
        else:
            member = np.eye(sets)[self.of_set]
            effects = logs @ member / self._pieces
            df = self._pieces - 1.0
            each = (logs - effects[:, self.of_set]) ** 2 @ member / df / self._pieces
            variance = each[:, a] + each[:, b]
            welch = variance**2 / (each[:, a] ** 2 / df[a] + each[:, b] ** 2 / df[b])
            reach = family.compute_quantile(CONFIDENCE, welch.ravel()).reshape(welch.shape)
        gap, half = effects[:, a] - effects[:, b], reach * np.sqrt(variance / 2)
        return effects[:, :sets], gap - half, gap + half

    def score(self, low: Floats, high: Floats, margin_pct: float) -> Floats:
        """Return for each pair how many ranges of its difference were right and how many wrong."""
        a, b = np.array(self.pairs).T
        m = log(1 + margin_pct / 100)
        true = self.truth[a] - self.truth[b]
        same = (low >= -m) & (high <= m)
        a_stronger, b_stronger = ~same & (low > 0), ~same & (high < 0)
        right = (a_stronger & (true > 0)) | (b_stronger & (true < 0)) | (same & (np.abs(true) <= m + 1e-12))
        decided = same | a_stronger | b_stronger
        return np.stack([right.sum(axis=0), (decided & ~right).sum(axis=0)], axis=1).astype(float)


def _fit_model(trial: DryRun) -> _Model:
    sets, layout = len(trial.names), trial.layout
    boards = 1 + max((place.board for place in layout), default=0)
    of_set = np.array([place.treatment for place in layout], dtype=np.intp)
    on_board = np.array([place.board for place in layout], dtype=np.intp)
    if sets < 2 or any(not np.any(of_set == one) for one in range(sets)):
        raise PlanError("There is nothing to compare yet.", "A dry run needs at least two sets with pieces.")
    parts = find_parts(of_set, on_board, sets, boards, np.zeros(sets, dtype=bool))
    joined = boards > 1 and parts.boards.size == 1
    design = np.hstack([np.eye(sets)[of_set], np.eye(boards)[on_board][:, 1 if joined else boards :]])
    df = len(layout) - design.shape[1]
    if df < 1:
        raise PlanError(
            "The scatter could not be known.", "Each set needs more than one piece.", "Plan more pieces of each."
        )
    truth = np.log(np.asarray(trial.guesses, dtype=float))
    return _Model(truth, of_set, on_board, boards, sigma_log_from_cv(trial.cv_pct), joined, design, df)


def run_dry(trial: DryRun, times: int | None = None) -> Outlook:
    """Return the outlook of a dry run without hearing how far it has come. Raises `PlanError`."""
    *_, outlook = trial.run(times)
    assert isinstance(outlook, Outlook)
    return outlook
