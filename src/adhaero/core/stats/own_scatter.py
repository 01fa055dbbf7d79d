"""Each set by itself: its centre and scatter on logarithms, borrowed from the others where its pieces are silent."""

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from math import inf, sqrt
from typing import Final

import numpy as np
from numpy.typing import NDArray

from adhaero.core.stats.censored import Bounds, fit_censored
from adhaero.core.stats.design import Codes, one_hot
from adhaero.core.stats.scatter import NORMAL, Floats

Flags = NDArray[np.bool_]

_STEPS = 200
_STILL = 1e-12
# below this curvature of a log-likelihood over logarithms a centre is known to a factor of e^1000 at best
_FLAT: Final = 1e-6


class Origin(StrEnum):
    """Whose scatter the numbers of a set stand on."""

    OWN = "own"
    BORROWED = "borrowed"
    COMMON = "common"
    NONE = "none"


@dataclass(frozen=True)
class Tally:
    """What the pieces of k sets are, (k,) each.

    Attributes
    ----------
    n : pieces; numbers : those that broke, at a value or between two; held, fell : bounds to one side.
    one_sided : 1 where all held, −1 where all fell apart, else 0.
    varied : no single value fits all its numbers; plain : none is a bound.
    """

    n: Floats
    numbers: Floats
    held: Floats
    fell: Floats
    one_sided: NDArray[np.intp]
    varied: Flags
    plain: Flags

    @property
    def weight(self) -> Floats:
        """Return n*, the pieces as they count for the scatter: a held one fully up to half the numbers."""
        found: Floats = self.numbers + np.minimum(self.held, self.numbers / 2)
        return found

    @property
    def own(self) -> Flags:
        """Return which sets have a scatter of their own: three numbers or more that differ."""
        found: Flags = (self.numbers >= 3) & self.varied
        return found

    @property
    def estimated(self) -> Flags:
        """Return which sets have an estimate: some piece, and not all bounds to one side."""
        found: Flags = (self.n > 0) & (self.one_sided == 0)
        return found


def tally_sets(bounds: Bounds, sets: Codes, k: int) -> Tally:
    """Return what the pieces of each of k sets are; `sets` (n,) says whose each piece is."""
    up, down = np.isinf(bounds.upper), np.isinf(bounds.lower)
    n, held, fell = (np.bincount(sets, one, k).astype(np.float64) for one in (np.ones(sets.size), up, down))
    number = ~(up | down)
    most, least = np.full(k, -inf), np.full(k, inf)
    np.maximum.at(most, sets[number], bounds.lower[number])
    np.minimum.at(least, sets[number], bounds.upper[number])
    inexact = np.bincount(sets, ~bounds.exact, k)
    return Tally(
        n=n,
        numbers=n - held - fell,
        held=held,
        fell=fell,
        one_sided=np.where((n > 0) & (held == n), 1, np.where((n > 0) & (fell == n), -1, 0)),
        varied=most > least,
        plain=(n > 0) & (inexact == 0),
    )


@dataclass(frozen=True)
class OwnScatter:
    """Every set by its own pieces.

    Attributes
    ----------
    tally : what the pieces are.
    mu, se, sigma, df : (k,) centre, its standard error, the scatter it stands on and that scatter's degrees of freedom;
        NaN where there is none, infinite `df` by the likelihood alone.
    origin : (k,) whose scatter that is.
    lent, lent_df : the scatter that sets without their own borrow; NaN without one.
    sources, source_df : (k, g), (g,) each set's variance se² by the g independent scatters behind it, and their
        degrees of freedom (for Satterthwaite's rule).
    """

    tally: Tally
    mu: Floats
    se: Floats
    sigma: Floats
    df: Floats
    origin: tuple[Origin, ...]
    lent: float
    lent_df: float
    sources: Floats
    source_df: Floats

    @cached_property
    def known(self) -> Flags:
        """Return which sets have a centre with a standard error."""
        found: Flags = np.isfinite(self.mu) & (self.se > 0)
        return found

    def find_df(self, weights: Floats) -> Floats:
        """Return the degrees of freedom of (m, k) weighted sums of the sets, by Satterthwaite over their scatters."""
        by_source = weights**2 @ self.sources
        with np.errstate(divide="ignore", invalid="ignore"):
            found: Floats = by_source.sum(axis=1) ** 2 / (by_source**2 / self.source_df).sum(axis=1)
        return np.where(np.isnan(found), inf, found)


def fit_own(bounds: Bounds, sets: Codes, k: int, *, few_pieces: bool = True) -> OwnScatter:
    """Fit every set by itself, normal on logarithms, bounds as bounds (analyse.md §3, docs/method).

    A set of three numbers or more that differ has its own scatter; few pieces are counted as few: σ̂² and the variance
    of μ times n*/(n*−1), n*−1 degrees of freedom. Any other borrows the pooled scatter of these. Where none has its
    own, one scatter is fitted to all.

    Parameters
    ----------
    bounds : of n logarithms; sets : (n,) whole numbers from 0; k : how many sets.
    few_pieces : where there are bounds; else the likelihood alone, as if its scatter were known.
    """
    tally = tally_sets(bounds, sets, k)
    mu, se, sigma, df = (np.full(k, np.nan) for _ in range(4))
    own, estimated = tally.own, tally.estimated
    origin = [Origin.NONE] * k
    plain = own & tally.plain
    if plain.any():
        logs, n = np.where(bounds.exact, bounds.lower, 0.0), np.maximum(tally.n, 1)
        centre = np.bincount(sets, logs, k) / n
        spread = np.bincount(sets, (logs - centre[sets]) ** 2, k) / np.maximum(tally.n - 1, 1)
        mu[plain], sigma[plain], df[plain] = centre[plain], np.sqrt(spread[plain]), tally.n[plain] - 1
        se[plain] = sigma[plain] / np.sqrt(tally.n[plain])
    bounded = own & ~tally.plain
    if bounded.any():
        mu[bounded], sigma[bounded], se[bounded] = _fit_bounded(bounds, sets, bounded)
        weight = tally.weight[bounded]
        if few_pieces:
            larger = np.sqrt(weight / (weight - 1))
            sigma[bounded] *= larger
            se[bounded] *= larger
        df[bounded] = weight - 1 if few_pieces else inf
    origin = [Origin.OWN if one else Origin.NONE for one in own]
    lent, lent_df, kind, groups = np.nan, np.nan, Origin.BORROWED, np.flatnonzero(own)
    shares, source_df = np.zeros(0), df[groups]
    if own.any():
        each_df = tally.weight[groups] - 1
        variance = each_df * sigma[groups] ** 2
        lent = sqrt(float(variance.sum() / each_df.sum()))
        lent_df = float(df[groups].sum())
        shares = variance / variance.sum()
    elif (estimated & tally.varied).any():
        lent, lent_df = _fit_common(bounds, sets, tally, few_pieces=few_pieces)
        kind, shares, source_df = Origin.COMMON, np.ones(1), np.array([lent_df])
    sources = np.zeros((k, source_df.size))
    if own.any():
        sources[groups, np.arange(groups.size)] = se[groups] ** 2
    borrowing = estimated & ~own
    if np.isfinite(lent) and borrowing.any():
        mu[borrowing], se[borrowing] = _fit_centres(bounds, sets, borrowing, lent)
        sigma[borrowing] = lent
        df[borrowing] = np.where(tally.plain[borrowing] | few_pieces, lent_df, inf)
        sources[borrowing] = se[borrowing, None] ** 2 * shares
    elif not np.isfinite(lent):
        single = tally.plain & estimated
        mu[single] = (np.bincount(sets, np.where(bounds.exact, bounds.lower, 0.0), k) / np.maximum(tally.n, 1))[single]
    if np.isfinite(lent):
        for at in np.flatnonzero((tally.n > 0) & ~own):
            origin[at] = kind
    return OwnScatter(tally, mu, se, sigma, df, tuple(origin), lent, lent_df, sources, source_df)


def _fit_common(bounds: Bounds, sets: Codes, tally: Tally, *, few_pieces: bool) -> tuple[float, float]:
    """Return one scatter of all sets with an estimate, σ̂²·N/(N−p), and its N − p degrees of freedom."""
    chosen = tally.estimated[sets]
    codes = np.unique(sets[chosen], return_inverse=True)[1].astype(np.intp)
    some = bounds.take(chosen)
    fit = fit_censored(one_hot(codes, int(codes.max()) + 1), some)
    if fit is None:
        return np.nan, np.nan
    with_numbers = tally.estimated & (tally.numbers >= 1)
    total, p = float(tally.weight[with_numbers].sum()), int(with_numbers.sum())
    if few_pieces or bool(some.exact.all()):
        return fit.sigma * sqrt(total / (total - p)), total - p
    return fit.sigma, inf


def interval_slopes(bounds: Bounds, eta: Floats, sigma: Floats | float) -> tuple[Floats, Floats, Floats]:
    """Return each piece's log-likelihood at centre `eta`, its slope in eta, and minus its curvature.

    Breaks by their density on logarithms, bounds by their chance.
    """
    wide = np.broadcast_to(np.asarray(sigma, dtype=np.float64), eta.shape)
    low, high = (bounds.lower - eta) / wide, (bounds.upper - eta) / wide
    exact = bounds.exact
    value, slope, curve = np.empty_like(eta), np.empty_like(eta), np.empty_like(eta)
    z, width = low[exact], wide[exact]
    value[exact] = NORMAL.log_density(z)[0] - np.log(width)
    slope[exact], curve[exact] = z / width, 1 / width**2
    open_ = ~exact
    if open_.any():
        z_low, z_high, width = low[open_], high[open_], wide[open_]
        chance = NORMAL.log_between(z_low, z_high)
        at_low, at_high = (_density_over(z, chance) for z in (z_low, z_high))
        steep = at_low - at_high
        bent = np.where(np.isfinite(z_high), z_high, 0.0) * at_high - np.where(np.isfinite(z_low), z_low, 0.0) * at_low
        value[open_], slope[open_], curve[open_] = chance, steep / width, (bent + steep**2) / width**2
    return value, slope, curve


def _density_over(z: Floats, log_chance: Floats) -> Floats:
    finite = np.isfinite(z)
    with np.errstate(over="ignore", invalid="ignore"):
        density = np.exp(NORMAL.log_density(np.where(finite, z, 0.0))[0] - log_chance)
    return np.where(finite, density, 0.0)


def _start(bounds: Bounds) -> Floats:
    low, high = np.isfinite(bounds.lower), np.isfinite(bounds.upper)
    with np.errstate(invalid="ignore"):
        middle = (bounds.lower + bounds.upper) / 2
    return np.where(low & high, middle, np.where(low, bounds.lower, bounds.upper))


def _fit_centres(bounds: Bounds, sets: Codes, chosen: Flags, sigma: float) -> tuple[Floats, Floats]:
    """Return μ and its standard error of the chosen sets, their scatter given: Newton's method, all sets at once."""
    k = chosen.size
    inside = chosen[sets]
    some, codes = bounds.take(inside), sets[inside]
    mu = np.bincount(codes, _start(some), k) / np.maximum(np.bincount(codes, minlength=k), 1)
    value, slope, curve = interval_slopes(some, mu[codes], sigma)
    total = np.bincount(codes, value, k)
    for _ in range(_STEPS):
        up, bend = np.bincount(codes, slope, k), np.bincount(codes, curve, k)
        step = np.where(bend > 0, up / np.where(bend > 0, bend, 1.0), np.sign(up) * sigma)
        step = np.clip(step, -5 * sigma, 5 * sigma)
        length = np.ones(k)
        for _ in range(60):
            trial = mu + length * step
            value, slope, curve = interval_slopes(some, trial[codes], sigma)
            new = np.bincount(codes, value, k)
            worse = new < total - 1e-12 * (1 + np.abs(total))
            if not worse.any():
                break
            length = np.where(worse, length / 2, length)
        mu, total = trial, new
        if float(np.max(np.abs(length * step)[chosen])) < _STILL * max(1.0, sigma):
            break
    bend = np.bincount(codes, curve, k)
    found, sharp = mu[chosen], bend[chosen]
    # a likelihood flat as far as the eye reaches gives no error of its centre: the set is known by its bounds alone
    se: Floats = np.where(sharp > _FLAT, 1 / np.sqrt(np.where(sharp > _FLAT, sharp, 1.0)), np.nan)
    return found, se


def _fit_bounded(bounds: Bounds, sets: Codes, chosen: Flags) -> tuple[Floats, Floats, Floats]:
    """Return μ, σ̂ and the standard error of μ of the chosen sets, each by itself.

    The likelihood is concave in μ/σ and 1/σ (Olsen, Econometrica 46, 1978): Newton's method with halved steps, all sets
    at once.
    """
    k = chosen.size
    inside = chosen[sets]
    some, codes = bounds.take(inside), sets[inside]
    middle = _start(some)
    count = np.maximum(np.bincount(codes, minlength=k), 1)
    shift = np.bincount(codes, middle, k) / count
    scale = np.maximum(np.sqrt(np.bincount(codes, (middle - shift[codes]) ** 2, k) / count), 1e-9)
    some = Bounds((some.lower - shift[codes]) / scale[codes], (some.upper - shift[codes]) / scale[codes])
    b, g = np.zeros(k), np.ones(k)
    total, slopes, bends = _sum_slopes(some, codes, b, g)
    for _ in range(_STEPS):
        det = bends[0] * bends[2] - bends[1] ** 2
        det = np.where(chosen, det, 1.0)
        step_b = -(bends[2] * slopes[0] - bends[1] * slopes[1]) / det
        step_g = -(bends[0] * slopes[1] - bends[1] * slopes[0]) / det
        length = np.ones(k)
        for _ in range(80):
            trial_g = g + length * step_g
            low = chosen & (trial_g <= 0)
            new, new_slopes, new_bends = _sum_slopes(some, codes, b + length * step_b, np.where(low, g, trial_g))
            worse = low | (new < total - 1e-12 * (1 + np.abs(total)))
            if not worse[chosen].any():
                break
            length = np.where(worse, length / 2, length)
        b, g, total, slopes, bends = b + length * step_b, g + length * step_g, new, new_slopes, new_bends
        if float(np.max((np.abs(step_b) + np.abs(step_g))[chosen])) < 1e-11:
            break
    mu, sigma = b / g, 1 / g
    # the observed information in μ and log σ: at the maximum the slopes are 0, so that only the curvature turns over
    eta_eta, eta_gamma, gamma_gamma = bends
    mu_mu = -(g**2) * eta_eta
    mu_log = -(-g * (eta_eta * b * 1.0 + eta_gamma * g))
    log_log = -(b**2 * eta_eta + 2 * b * g * eta_gamma + g**2 * gamma_gamma)
    with np.errstate(divide="ignore", invalid="ignore"):
        se = 1 / np.sqrt(mu_mu - mu_log**2 / log_log)
    return ((mu * scale + shift)[chosen], (sigma * scale)[chosen], (se * scale)[chosen])


def _sum_slopes(
    bounds: Bounds, codes: Codes, b: Floats, g: Floats
) -> tuple[Floats, tuple[Floats, Floats], tuple[Floats, Floats, Floats]]:
    """Return each set's log-likelihood, its slopes in μ/σ and 1/σ, and its second derivatives."""
    k = b.size
    exact = bounds.exact
    eta, gamma = b[codes], g[codes]
    value, by_eta, by_gamma = np.empty_like(eta), np.empty_like(eta), np.empty_like(eta)
    ee, eg, gg = np.empty_like(eta), np.empty_like(eta), np.empty_like(eta)
    y, rate = bounds.lower[exact], gamma[exact]
    z = rate * y - eta[exact]
    value[exact] = NORMAL.log_density(z)[0] + np.log(rate)
    by_eta[exact], by_gamma[exact] = z, -z * y + 1 / rate
    ee[exact], eg[exact], gg[exact] = -1.0, y, -(y**2) - 1 / rate**2
    open_ = ~exact
    low, high = bounds.lower[open_], bounds.upper[open_]
    z_low, z_high = gamma[open_] * low - eta[open_], gamma[open_] * high - eta[open_]
    chance = NORMAL.log_between(z_low, z_high)
    at_low, at_high = _density_over(z_low, chance), _density_over(z_high, chance)
    low, high = np.where(np.isfinite(low), low, 0.0), np.where(np.isfinite(high), high, 0.0)
    z_low, z_high = np.where(np.isfinite(z_low), z_low, 0.0), np.where(np.isfinite(z_high), z_high, 0.0)
    # curvature: derivative of the density ratio of each end, and the cross term of the quotient
    low_low, high_high, cross = z_low * at_low - at_low**2, -z_high * at_high - at_high**2, at_low * at_high
    value[open_], by_eta[open_], by_gamma[open_] = chance, at_low - at_high, at_high * high - at_low * low
    ee[open_] = low_low + high_high + 2 * cross
    eg[open_] = -(low_low * low + high_high * high + cross * (low + high))
    gg[open_] = low_low * low**2 + high_high * high**2 + 2 * cross * low * high
    summed: list[Floats] = [
        np.asarray(np.bincount(codes, one, k), dtype=np.float64) for one in (value, by_eta, by_gamma, ee, eg, gg)
    ]
    return summed[0], (summed[1], summed[2]), (summed[3], summed[4], summed[5])
