"""One or two pieces of each set: which order they are in, and what so few can and cannot tell."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from math import exp, inf, isfinite, log, log1p, sqrt

from adhaero.core.stats.breaks import Outcome, Specimen
from adhaero.core.stats.curve_words import say_number
from adhaero.core.stats.laws import find_normal
from adhaero.core.stats.power import LEVEL, compute_n_needed, sigma_log_from_cv
from adhaero.core.stats.words import and_join, capital, list_some, say_name

MOST_FEW = 2
_MOST_NAMED = 3
_MOST_TIED = 4


@dataclass(frozen=True)
class Span:
    """Between which values the pieces of a set broke; `high` is infinite where one only held."""

    level: str
    n: int
    low: float
    high: float

    @property
    def middle(self) -> float:
        """Return what the set is ranked by."""
        return self.low if not isfinite(self.high) else (self.low + self.high) / 2


@dataclass(frozen=True)
class FewPieces:
    """Sets of one or two pieces each.

    Attributes
    ----------
    spans : from the highest down. apart, pairs : how many pairs of sets have spans that do not meet, of how many.
    swing_pct : two pieces of one set differ by less in 19 of 20 such pairs, with the scatter that is planned for.
    beyond : how many pairs of sets differ by more than that, their middles compared.
    needed : pieces of each that usually settle the difference that matters; None for more than any shop breaks.
    """

    spans: tuple[Span, ...]
    apart: int
    pairs: int
    swing_pct: float
    beyond: int
    needed: int | None
    cv_pct: float
    margin_pct: float


def span_of(one: Specimen) -> tuple[float, float] | None:
    """Return between which values a piece broke; None for one without a number."""
    if one.outcome is Outcome.FELL_APART:
        return (0.0, one.value or 0.0)
    if one.value is None:
        return None
    match one.outcome:
        case Outcome.HELD:
            return (one.value, inf)
        case Outcome.STEP:
            return (one.held_value or 0.0, one.value)
        case _:
            return (one.value, one.value)


def are_few(counts: Sequence[int]) -> bool:
    """Return whether sets are of so few pieces that only their order can be looked at."""
    return len(counts) > 1 and max(counts) <= MOST_FEW


def judge_few(specimens: Sequence[Specimen], cv_pct: float, margin_pct: float) -> FewPieces:
    """Judge sets of one or two pieces each.

    Parameters
    ----------
    specimens : those that count. cv_pct : the scatter that the plan assumes. margin_pct : the difference that matters.
    """
    found: dict[str, list[tuple[float, float]]] = {}
    for one in specimens:
        if one.excluded is None and (span := span_of(one)) is not None:
            found.setdefault(one.level, []).append(span)
    spans = [
        Span(level, len(ends), min(end[0] for end in ends), max(end[1] for end in ends))
        for level, ends in found.items()
    ]
    spans.sort(key=lambda one: (-one.middle, one.level))
    pairs = list(combinations(spans, 2))
    sigma = sigma_log_from_cv(cv_pct)
    swing = exp(find_normal(0.975) * sigma * sqrt(2))
    level = LEVEL / max(1, len(pairs))
    return FewPieces(
        tuple(spans),
        sum(a.low > b.high or b.low > a.high for a, b in pairs),
        len(pairs),
        100 * (swing - 1),
        sum(_ratio(a, b) > swing for a, b in pairs),
        compute_n_needed(log1p(margin_pct / 100), sigma, level),
        cv_pct,
        margin_pct,
    )


def _ratio(a: Span, b: Span) -> float:
    high, low = max(a.middle, b.middle), min(a.middle, b.middle)
    return exp(log(high) - log(low)) if low > 0 else inf


def say_span_of(one: Span, unit: str, per_si: float) -> str:
    """Return between which values a set broke, in a unit.

    Examples
    --------
    >>> say_span_of(Span("Heron", 1, 300.0, 350.0), "N", 1.0), say_span_of(Span("Wren", 1, 500.0, inf), "N", 1.0)
    ('300 to 350 N', 'at least 500 N')
    """
    low, high = one.low * per_si, one.high * per_si
    if not isfinite(high):
        return f"at least {say_number(low)} {unit}"
    if one.low == 0 and one.high > 0:
        return f"at most {say_number(high)} {unit}"
    return f"{say_number(low)} {unit}" if low == high else f"{say_number(low)} to {say_number(high)} {unit}"


def say_few(result: FewPieces, unit: str, per_si: float) -> tuple[str, list[str]]:
    """Return which set broke highest, and what so few pieces can and cannot tell.

    Parameters
    ----------
    unit, per_si : what numbers are read in, and how much of it makes one of the core's unit.
    """
    first, *others = result.spans
    tied = [one for one in others if one.high >= first.low]
    held = "held most" if not isfinite(first.high) else "broke highest"
    if tied and len(tied) < _MOST_TIED:
        names = and_join([say_name(one.level) for one in (first, *tied)])
        headline = f"{capital(names)} {held}; these pieces do not tell which of them is first."
    elif tied:
        headline = f"{len(tied) + 1} of {len(result.spans)} sets broke where they cannot be told apart."
    else:
        headline = f"{say_name(first.level)} {held}, {say_span_of(first, unit, per_si)}"
        headline += f"; next {others[0].level}, {say_span_of(others[0], unit, per_si)}." if others else "."
    return headline, [_say_order(result), _say_worth(result)]


def _say_order(result: FewPieces) -> str:
    if result.apart == result.pairs:
        return "All these pieces are in a clear order: none broke where another did."
    meet = [
        f"{a.level} and {b.level}"
        for a, b in combinations(result.spans, 2)
        if not (a.low > b.high or b.low > a.high)
    ]  # fmt: skip
    return f"Of {result.pairs} pairs {result.apart} are in order; {list_some(meet)} are not."


def _say_worth(result: FewPieces) -> str:
    each = "One piece" if all(one.n == 1 for one in result.spans) else "So few pieces"
    said = (
        f"{each} of each tells the order of these pieces, not of all such pieces: with a scatter of "
        f"{result.cv_pct:g} % (the plan's) two pieces of one set differ by up to {result.swing_pct:.0f} %"
    )
    said += f", and {result.beyond} of {result.pairs} pairs differ by more." if result.beyond else ", and no pair more."
    if result.needed is not None:
        said += f" About {result.needed} pieces of each usually settle {result.margin_pct:g} %."
    return said
