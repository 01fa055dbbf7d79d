"""How a claim stands: supported, contradicted, neither, or not to be checked (the table of docs/method)."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from adhaero.core.claims.amounts import Amount, Kind, Near
from adhaero.core.claims.evidence import Range
from adhaero.core.claims.normal_form import Form

_MUCH, _SLIGHTLY = 1.25, 1.2


class Standing(StrEnum):
    """How a claim stands."""

    SUPPORTED = "supported"
    NOT_SUPPORTED = "not supported"
    CONTRADICTED = "contradicted"
    NOT_CHECKED = "cannot be checked"


S, N, C, X = Standing.SUPPORTED, Standing.NOT_SUPPORTED, Standing.CONTRADICTED, Standing.NOT_CHECKED


@dataclass(frozen=True)
class Verdict:
    """What a claim was understood as, how it stands, and the numbers in words."""

    understood: str
    standing: Standing
    words: str


def merge(standings: Sequence[Standing]) -> Standing:
    """Return how several claims stand together: contradicted if one is, else not supported if one is."""
    for one in (C, X, N):
        if one in standings:
            return one
    return S if standings else X


def invert(standing: Standing) -> Standing:
    """Return how the denial of something stands that is just right or wrong."""
    return {S: C, C: S}.get(standing, standing)


def judge_relation(form: Form, found: Range, margin: float, *, negated: bool = False, degree: str = "") -> Standing:
    """Return how a relation without an amount stands against the range of a ratio.

    Parameters
    ----------
    found : subject over object; margin : the smallest difference that matters, as a share.
    """
    if not found.known:
        return X
    low = -1.0 if found.low is None else found.low
    high = float("inf") if found.high is None else found.high
    most, least = 1 + margin, 1 / (1 + margin)
    same = low >= least and high <= most
    if degree == "much":
        yes, no = (low >= _MUCH, high < _MUCH) if form is Form.STRONGER else (high <= 0.8, low > 0.8)
        return decide(no, yes) if negated else decide(yes, no)
    if degree == "slightly":
        if negated:
            return X
        ends = (1.0, _SLIGHTLY) if form is Form.STRONGER else (1 / _SLIGHTLY, 1.0)
        inside = found.ratio is not None and ends[0] <= found.ratio <= ends[1] and found.ratio != 1
        return decide(inside and not low <= 1 <= high, high <= ends[0] or low >= ends[1])
    rules: dict[tuple[Form, bool], tuple[bool, bool]] = {
        (Form.STRONGER, False): (low > 1, high < 1),
        (Form.STRONGER, True): (high <= most, low > 1),
        (Form.WEAKER, False): (high < 1, low > 1),
        (Form.WEAKER, True): (low >= least, high < 1),
        (Form.AT_LEAST_AS_STRONG, False): (low >= least, high < 1),
        (Form.AT_LEAST_AS_STRONG, True): (high < 1, low > 1),
        (Form.AS_STRONG, False): (same, low > most or high < least),
        (Form.AS_STRONG, True): (high < 1, low > 1),
        (Form.SAME, False): (same, low > most or high < least),
        (Form.SAME, True): (not low <= 1 <= high and not same, same),
        (Form.DIFFERENT, False): (not low <= 1 <= high and not same, same),
        (Form.DIFFERENT, True): (same, low > most or high < least),
        (Form.APART, False): (low <= 1 <= high, not low <= 1 <= high),
        (Form.APART, True): (not low <= 1 <= high, low <= 1 <= high),
    }
    if form is Form.NEARLY:
        edge = 1 - 1.5 * margin
        yes, no = low >= edge and high <= most, high < edge or low > most
        return decide(no, yes) if negated else decide(yes, no)
    return decide(*rules[form, negated])


def decide(yes: bool, no: bool) -> Standing:
    """Return supported where `yes`, else contradicted where `no`, else not supported."""
    return S if yes else C if no else N


@dataclass(frozen=True)
class Claimed:
    """The ratio that an amount claims: a band, or where `side` is not 0 a bound, from below (1) or above (−1)."""

    low: float
    high: float
    side: int = 0


def find_claimed(
    form: Form, amount: Amount, typical: float | None, unit_factor: float, *, negated: bool
) -> Claimed | str:
    """Return the ratio that an amount claims; words where it cannot be.

    Parameters
    ----------
    typical : strength of the object, in the unit of the response; unit_factor : one unit of the amount in it.
    """
    minus = form in (Form.WEAKER, Form.LOST)

    def turn(value: float) -> float:
        if amount.kind is Kind.UNIT:
            share = value * unit_factor / (typical or 1.0)
            return 1 - share if minus else 1 + share
        if amount.kind is Kind.TIMES:
            return 1 / value if form is Form.WEAKER else value
        return 1 - value / 100 if minus else value / 100 if form is Form.KEEPS else 1 + value / 100

    if amount.kind is Kind.PLAIN:
        return "a number without a percent sign or a unit says no amount"
    if amount.kind is Kind.UNIT and typical is None:
        return "there is no typical strength that the amount could be a share of"
    if amount.kind is Kind.TIMES and form in (Form.LOST, Form.GAINED):
        return "a multiple of what was lost or gained is not read"
    downwards = minus or (amount.kind is Kind.TIMES and form is Form.WEAKER)
    if amount.bound:
        side = 1 if amount.near is Near.AT_LEAST else -1
        side = (-side if downwards else side) * (-1 if negated else 1)
        return Claimed(turn(amount.value), turn(amount.value), side)
    if negated:
        if amount.upper is not None:
            return "a range that is denied claims nothing on one side"
        return Claimed(turn(amount.value), turn(amount.value), 1 if downwards else -1)
    low, high = amount.find_band()
    ends = sorted((turn(low), turn(high)))
    return Claimed(ends[0], ends[1])


def judge_amount(claimed: Claimed, found: Range, *, needs_difference: bool = True) -> Standing:
    """Return how a claimed ratio stands against the one found and its range."""
    if not found.known:
        return X
    low = -1.0 if found.low is None else found.low
    high = float("inf") if found.high is None else found.high
    if claimed.side > 0:
        return decide(low >= claimed.low, high < claimed.low)
    if claimed.side < 0:
        return decide(high <= claimed.high, low > claimed.high)
    apart = high < claimed.low or low > claimed.high
    inside = found.ratio is not None and claimed.low - 1e-9 <= found.ratio <= claimed.high + 1e-9
    holds_one = claimed.low <= 1 <= claimed.high
    different = not low <= 1 <= high
    return decide(inside and (different or holds_one or not needs_difference), apart)
