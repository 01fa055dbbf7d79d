"""Conclusions about curves: a share of the final strength at an x, the x of a share, what every unit adds."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import lru_cache
from importlib.resources import files
from math import exp, log, sqrt

import numpy as np
from lark import Lark, Token, Tree
from lark.exceptions import LarkError

from adhaero.core.claims.amounts import Amount, Kind, Near, Unit
from adhaero.core.claims.evidence import CurveSlice, Evidence, Range
from adhaero.core.claims.lexing import DROPPED, Typed, lex
from adhaero.core.claims.names import Names, Ref
from adhaero.core.claims.normal_form import Form
from adhaero.core.claims.parsing import GivenWords
from adhaero.core.claims.standing import (
    Claimed,
    Standing,
    Verdict,
    find_claimed,
    judge_amount,
    merge,
)
from adhaero.core.stats.laws import LIKELY, find_t
from adhaero.core.stats.shape import Shape

X = Standing.NOT_CHECKED
_ENDS = frozenset(".;!?")
_SPLITS = frozenset({"BUT"})


@lru_cache(maxsize=1)
def _grammar() -> Lark:
    text = files("adhaero.core.claims").joinpath("curve.lark").read_text(encoding="utf-8")
    return Lark(text, parser="earley", lexer=GivenWords, ambiguity="resolve", keep_all_tokens=True)


def check_curve_claim(text: str, evidence: Evidence) -> Iterator[tuple[str, Verdict]]:
    """Yield the clauses of a conclusion about curves, and how each stands."""
    names = Names(evidence.refs)
    for line in text.splitlines():
        typed = next(iter(lex(line, names)))
        clause: list[Typed] = []
        for one in [*typed, Typed("UNKNOWN", ".", 0, 0)]:
            if (one.kind == "UNKNOWN" and one.text in _ENDS) or one.kind in _SPLITS:
                if any(word.kind not in ("COMMA", "AND") for word in clause):
                    said = line[clause[0].start : clause[-1].end]
                    asked = one.text == "?"
                    yield said, Verdict("", X, "a question claims nothing") if asked else _judge(clause, evidence)
                clause = []
            else:
                clause.append(one)


def _judge(clause: Sequence[Typed], evidence: Evidence) -> Verdict:
    words = [one for one in clause if one.kind not in DROPPED and one.kind != "COMMA"]
    unknown = [one.text for one in words if one.kind == "UNKNOWN"]
    if unknown:
        return Verdict("", X, f"not understood: {', '.join(f'“{one}”' for one in unknown)}")
    if any(one.kind == "POSSIBLE" for one in words):
        return Verdict("", X, "a possibility claims nothing")
    named = [one.ref for one in words if one.kind == "COND" and one.ref is not None]
    rest = [one for one in words if one.kind != "COND"]
    try:
        tree = _grammar().parse(rest)
    except LarkError:
        return Verdict("", X, "this is no claim about a curve that is understood")
    chosen = _choose(named, evidence)
    found = [_judge_one(tree, one) for one in chosen.values()]
    if not found:
        return Verdict("", X, "there is no such curve")
    return Verdict(found[0].understood, merge([one.standing for one in found]), "; ".join(one.words for one in found))


def _choose(named: Sequence[Ref], evidence: Evidence) -> dict[str, CurveSlice]:
    wanted = [ref.key[1] for ref in named if ref.key[0] == "by"]
    return {level: one for level, one in evidence.curves.items() if not wanted or level in wanted}


def _first(tree: Tree[Token], *kinds: str) -> Amount | None:
    for token in tree.scan_values(lambda one: isinstance(one, Token) and one.type in kinds):
        found: Amount | None = token.value.amount
        return found
    return None


def _has(tree: Tree[Token], kind: str) -> bool:
    return any(True for _ in tree.scan_values(lambda one: isinstance(one, Token) and one.type == kind))


def _judge_one(tree: Tree[Token], one: CurveSlice) -> Verdict:
    curve = one.curve
    if not curve.fits:
        return Verdict("", X, "the curve does not fit the pieces (lack of fit)")
    share = _first(tree, "PCT")
    if share is None:
        return Verdict("", X, "what share is not said")
    if tree.data == "slope":
        return _judge_slope(tree, share, one)
    if curve.shape is Shape.STRAIGHT:
        return Verdict("", X, "a straight line has no final strength")
    at = _first(tree, "QTY", "NUM")
    x = None if at is None else _in_unit(at, one.x_unit)
    if x is None:
        return Verdict("", X, "the unit of x is not that of the column")
    negated = _has(tree, "NOT")
    if tree.data == "at_x":
        return _judge_share(share, x, one, negated=negated)
    if negated:
        return Verdict("", X, "that a share is not reached at a time is not read")
    return _judge_reach(share, x, one, lost=_has(tree, "LOST"))


def _in_unit(at: Amount, unit: Unit | None) -> Amount | None:
    if at.unit is None:
        return at
    if unit is None or unit.measures != at.unit.measures:
        return None
    factor = at.unit.factor / unit.factor
    return replace(at, value=at.value * factor, upper=None if at.upper is None else at.upper * factor)


def _judge_share(share: Amount, at: Amount, one: CurveSlice, *, negated: bool) -> Verdict:
    if at.bound or at.upper is not None:
        return Verdict("", X, "at what x exactly is not said")
    curve, x = one.curve, at.value
    if x > curve.most_x:
        return Verdict("", X, "that lies beyond the largest x that was tested")
    found = _share_at(one, x)
    claimed = find_claimed(Form.KEEPS, share, None, 1.0, negated=negated)
    if isinstance(claimed, str):
        return Verdict("", X, claimed)
    standing = judge_amount(claimed, found, needs_difference=False)
    base = "the final strength" if curve.shape is Shape.CURE else "the strength at 0"
    return Verdict(
        f"at {x:g} the curve has {_say_band(claimed)} of {base} of the curve",
        standing,
        f"it has {100 * (found.ratio or 0):.0f} % ({100 * (found.low or 0):.0f} to {100 * (found.high or 0):.0f} %)",
    )


def _say_band(claimed: Claimed) -> str:
    if claimed.side > 0:
        return f"at least {100 * claimed.low:.3g} %"
    if claimed.side < 0:
        return f"at most {100 * claimed.high:.3g} %"
    return f"{100 * claimed.low:.3g} to {100 * claimed.high:.3g} %"


def _share_at(one: CurveSlice, x: float) -> Range:
    """Return y/S at an x with its range by the delta method."""
    curve = one.curve
    covariance = np.array(curve.covariance)
    names = list(curve.parameters)
    theta = {name: value.value for name, value in curve.parameters.items()}
    slope = np.zeros(len(names))
    if curve.shape is Shape.CURE:
        tau, k = theta["tau"], theta["k"]
        power = (x / tau) ** k if x > 0 else 0.0
        share = 1 - exp(-power)
        slope[names.index("tau")] = -exp(-power) * power * k / tau
        slope[names.index("k")] = exp(-power) * power * (log(x / tau) if x > 0 else 0.0)
    else:
        share = exp(-x / theta["lambda"])
        slope[names.index("lambda")] = share * x / theta["lambda"] ** 2
    far = find_t(LIKELY, curve.df) * sqrt(max(0.0, float(slope @ covariance @ slope)))
    return Range(share, share - far, share + far)


def _judge_reach(share: Amount, at: Amount, one: CurveSlice, *, lost: bool) -> Verdict:
    curve = one.curve
    if share.bound or share.upper is not None:
        return Verdict("", X, "what share exactly is not said")
    if (curve.shape is Shape.GAP) != lost and curve.shape is Shape.GAP:
        return Verdict("", X, "strength falls here: what is lost at an x can be checked")
    if lost and curve.shape is Shape.CURE:
        return Verdict("", X, "strength rises here: what is reached at an x can be checked")
    if not 0 < share.value < 100:
        return Verdict("", X, f"{share.value:g} % is never reached")
    found = _reach(one, share.value / 100)
    if found.ratio is None or found.ratio > curve.most_x:
        return Verdict("", X, "that lies beyond the largest x that was tested")
    if at.bound:
        claimed = Claimed(at.value, at.value, 1 if at.near is Near.AT_LEAST else -1)
    elif at.upper is not None:
        claimed = Claimed(at.value, at.upper)
    else:
        wide = {Near.ABOUT: 0.25, Near.EXACTLY: 0.05}.get(at.near, 0.1)
        claimed = Claimed(at.value * (1 - wide), at.value * (1 + wide))
    standing = judge_amount(claimed, found, needs_difference=False)
    word = "lost" if lost else "reached"
    where = (
        f"{claimed.low:.3g} or later" if claimed.side > 0 else f"{claimed.high:.3g} or before" if claimed.side < 0
        else f"{claimed.low:.3g} to {claimed.high:.3g}"
    )  # fmt: skip
    return Verdict(
        f"{share.value:g} % of the final strength is {word} at {where} ({one.x_name})",
        standing,
        f"it is at {found.ratio:.3g} ({found.low or 0:.3g} to {found.high or 0:.3g})",
    )


def _reach(one: CurveSlice, share: float) -> Range:
    """Return the x of a share with its range by the delta method."""
    curve = one.curve
    covariance = np.array(curve.covariance)
    names = list(curve.parameters)
    theta = {name: value.value for name, value in curve.parameters.items()}
    slope = np.zeros(len(names))
    base = -log(1 - share)
    if curve.shape is Shape.CURE:
        x = theta["tau"] * base ** (1 / theta["k"])
        slope[names.index("tau")] = x / theta["tau"]
        slope[names.index("k")] = -x * log(base) / theta["k"] ** 2
    else:
        x = theta["lambda"] * base
        slope[names.index("lambda")] = base
    far = find_t(LIKELY, curve.df) * sqrt(max(0.0, float(slope @ covariance @ slope)))
    return Range(x, x - far, x + far)


def _judge_slope(tree: Tree[Token], share: Amount, one: CurveSlice) -> Verdict:
    curve = one.curve
    if curve.shape is not Shape.STRAIGHT or curve.change_pct_per_unit is None or curve.change_ci95 is None:
        return Verdict("", X, "only a straight line adds as much with every unit")
    quantity = _first(tree, "QTY")
    if quantity is not None and (found := _in_unit(quantity, one.x_unit)) is not None:
        per = found.value
    elif quantity is None:
        per = 1.0
    else:
        return Verdict("", X, "the unit of x is not that of the column")
    sign = -1.0 if _has(tree, "LOST") else 1.0
    ends = sorted((sign * curve.change_ci95[0] * per / 100, sign * curve.change_ci95[1] * per / 100))
    change = Range(sign * curve.change_pct_per_unit * per / 100, *ends)
    if share.bound:
        claimed = Claimed(share.value / 100, share.value / 100, 1 if share.near is Near.AT_LEAST else -1)
    else:
        low, high = share.find_band()
        claimed = Claimed(low / 100, high / 100)
    assert share.kind is Kind.PERCENT
    word = "costs" if sign < 0 else "adds"
    return Verdict(
        f"every {per:g} of {one.x_name} {word} {_say_band(claimed)} of the strength at 0",
        judge_amount(claimed, change, needs_difference=False),
        f"it {word} {100 * (change.ratio or 0):.3g} % ({100 * ends[0]:.3g} to {100 * ends[1]:.3g} %)",
    )
