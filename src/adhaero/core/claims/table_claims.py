"""Conclusions read off the table: averages, ends, scatters, numbers of pieces, torn wood (docs/method)."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Final

from adhaero.core.claims.amounts import Amount, Near
from adhaero.core.claims.evidence import Evidence, SetSlice
from adhaero.core.claims.names import Ref
from adhaero.core.claims.normal_form import Form, Statement, Who, Whom
from adhaero.core.claims.standing import C, S, Standing, Verdict, X, decide, merge
from adhaero.core.claims.whom import expand, find_one_set, join_words, say_name, say_names
from adhaero.core.stats.breaks import Outcome, Specimen

_GLUE_TO = 25.0
_MOSTLY = 0.75


def convert_amount(amount: Amount, evidence: Evidence) -> Amount | str:
    """Return an amount in the unit of the response."""
    unit = evidence.unit
    if amount.unit is None:
        return amount
    if unit is None or unit.measures != amount.unit.measures:
        return say_unit(amount, unit)
    factor = amount.unit.factor / unit.factor
    return replace(
        amount,
        value=amount.value * factor,
        upper=None if amount.upper is None else amount.upper * factor,
        last_digit=amount.last_digit * factor,
        unit=unit,
    )


def say_unit(amount: Amount, unit: object) -> str:
    """Return why an amount cannot be held against the response: their units measure different things."""
    assert amount.unit is not None
    symbol = getattr(unit, "symbol", None)
    measures = getattr(unit, "measures", None)
    column = f"the column is a {measures} in {symbol}" if symbol else "the column says no unit"
    return f"{amount.unit.symbol} is a {amount.unit.measures}, {column}"


def _say_right(statement: Statement, right: bool) -> Standing:
    return S if right != (statement.negated != statement.untrue) else C


def _judge_reading(statement: Statement, one: SetSlice, evidence: Evidence) -> Verdict:
    ref = find_one_set(one, statement)
    if isinstance(ref, str) or statement.amount is None:
        return Verdict("", X, ref if isinstance(ref, str) else "how much is not said")
    if statement.form is Form.SCATTERS:
        level = one.find_set(ref)
        cv = None if level is None else one.groups[level].as_read.cv_pct
        if cv is None:
            return Verdict("", X, f"{say_name(ref)} has too few numbers for a scatter")
        right = statement.amount.is_right(cv, least=0.1 * statement.amount.value)
        return Verdict(
            f"the coefficient of variation of {say_name(ref)} is {statement.amount.say(unit=' %')}",
            _say_right(statement, right),
            f"It is {cv:.3g} %",
        )
    amount = convert_amount(statement.amount, evidence)
    if isinstance(amount, str):
        return Verdict("", X, amount)
    if statement.what in ("average", "median") and one.find_set(ref) is None:
        return Verdict("", X, "averages are read off the table set by set")
    found = one.read_numbers(ref, statement.what)
    if not found:
        return Verdict("", X, f"{say_name(ref)} has no number")
    right = any(amount.is_right(number) for number in found)
    unit = f" {evidence.unit.symbol}" if evidence.unit else ""
    return Verdict(
        f"the {statement.what} of {say_name(ref)} is {amount.say('.4g', unit)}",
        _say_right(statement, right),
        f"It is {' (as read), '.join(f'{one:.4g}' for one in found)}{unit}{' (typical)' if len(found) > 1 else ''}",
    )


def _judge_torn_average(statement: Statement, one: SetSlice, _: Evidence) -> Verdict:
    ref = find_one_set(one, statement)
    if isinstance(ref, str) or statement.amount is None:
        return Verdict("", X, ref if isinstance(ref, str) else "how much is not said")
    torn = [piece.wood_failure_pct for piece in one.pieces(ref) if piece.wood_failure_pct is not None]
    if not torn:
        return Verdict("", X, f"no piece of {say_name(ref)} was judged")
    mean = sum(torn) / len(torn)
    return Verdict(
        f"the average torn wood of {say_name(ref)} is {statement.amount.say(unit=' %')}",
        _say_right(statement, statement.amount.is_right(mean, least=2.5)),
        f"It is {mean:.3g} %",
    )


def _judge_pieces(statement: Statement, one: SetSlice, evidence: Evidence) -> Verdict:
    ref = find_one_set(one, statement)
    if isinstance(ref, str) or statement.amount is None:
        return Verdict("", X, ref if isinstance(ref, str) else "how much is not said")
    amount = convert_amount(statement.amount, evidence)
    if isinstance(amount, str):
        return Verdict("", X, amount)
    if amount.near is not Near.PLAIN or amount.upper is not None:
        return Verdict("", X, "pieces are counted beyond one number")
    pieces = one.pieces(ref)
    values = [piece.value for piece in pieces if piece.value is not None]
    if not values:
        return Verdict("", X, f"{say_name(ref)} has no number")
    if any(_stays_open(piece, amount.value) for piece in pieces):
        return Verdict("", X, f"some pieces of {say_name(ref)} are bounds that leave it open")
    below = statement.what == "below"
    count = sum(value < amount.value if below else value > amount.value for value in values)
    wanted = {"none": 0.0, "all": float(len(values))}.get(statement.against, statement.count)
    if wanted is None:
        return Verdict("", X, "of how many pieces is not said")
    right = count == wanted and (statement.of is None or statement.of == len(values))
    unit = f" {evidence.unit.symbol}" if evidence.unit else ""
    side = "below" if below else "above"
    return Verdict(
        f"{wanted:g} of {len(values)} pieces of {say_name(ref)} are {side} {amount.value:.4g}{unit}",
        _say_right(statement, right),
        f"{count} of {len(values)} are",
    )


def _stays_open(piece: Specimen, line: float) -> bool:
    """Return whether a piece that held, fell apart or broke between two loads may lie on either side of a line."""
    if piece.outcome is Outcome.BROKE:
        return False
    low = piece.value if piece.outcome is Outcome.HELD else piece.held_value
    high = None if piece.outcome is Outcome.HELD else piece.value
    above = low is not None and low > line
    below = high is not None and high < line
    return not (above or below)


def _judge_count(statement: Statement, one: SetSlice, _: Evidence) -> Verdict:
    ref = find_one_set(one, statement)
    if isinstance(ref, str) or statement.count is None:
        return Verdict("", X, ref if isinstance(ref, str) else "how many is not said")
    n = len(one.pieces(ref))
    right = _say_right(statement, n == statement.count)
    return Verdict(f"{say_name(ref)} has {statement.count:g} pieces that count", right, f"It has {n}")


def _judge_ends(statement: Statement, one: SetSlice, _: Evidence) -> Verdict:
    first, second = statement.subject or Who(), statement.object or Who()
    if len(first.refs) != 1 or len(second.refs) != 1:
        return Verdict("", X, "whose best or worst piece is not said")
    ends = [one.read_numbers(who.refs[0], what) for who, what in ((first, statement.what), (second, statement.against))]
    if not ends[0] or not ends[1]:
        return Verdict("", X, "one of the sets has no number")
    if any(piece.outcome is not Outcome.BROKE for who in (first, second) for piece in one.pieces(who.refs[0])):
        return Verdict("", X, "some of their pieces are bounds: the best and the worst are not known")
    return Verdict(
        f"the {statement.what} of {say_names(first.refs)} is above the {statement.against} of {say_names(second.refs)}",
        _say_right(statement, ends[0][0] > ends[1][0]),
        f"They are {ends[0][0]:.4g} and {ends[1][0]:.4g}",
    )


def _judge_torn(statement: Statement, one: SetSlice, _: Evidence) -> Verdict:
    subjects = expand(one, statement.subject)
    if isinstance(subjects, str) or not subjects:
        return Verdict("", X, "one set must be named")
    if statement.subject is not None and statement.subject.whom is Whom.NONE:
        statement = replace(statement, negated=not statement.negated)
    found = [_torn_of(statement, one, ref) for ref in subjects]
    return Verdict(
        found[0].understood if len(found) == 1 else f"each of {say_names(subjects)}: {found[0].understood}",
        merge([verdict.standing for verdict in found]),
        join_words([verdict.words for verdict in found]),
    )


def _torn_of(statement: Statement, one: SetSlice, ref: Ref) -> Verdict:
    torn = [piece.wood_failure_pct for piece in one.pieces(ref) if piece.wood_failure_pct is not None]
    if not torn:
        return Verdict("", X, f"no piece of {say_name(ref)} was judged")
    wood = statement.what == "wood"
    count = sum(share >= one.wood_failure_from if wood else share <= _GLUE_TO for share in torn)
    share, n = count / len(torn), len(torn)
    line = f"{one.wood_failure_from:g} % torn wood or more" if wood else f"{_GLUE_TO:g} % torn wood or less"
    words = f"{count} of {n} judged pieces of {say_name(ref)} have {line}"
    if statement.count is not None:
        right = count == statement.count and (statement.of is None or n == statement.of)
        said = f"{statement.count:g} of {statement.of or n:g}"
        return Verdict(f"{said} judged pieces of {say_name(ref)} have {line}", _say_right(statement, right), words)
    if statement.amount is not None:
        right = statement.amount.is_right(100 * share, least=2.5)
        said = f"{statement.amount.say('.3g', ' %')} of the judged pieces of {say_name(ref)} have {line}"
        return Verdict(said, _say_right(statement, right), words)
    if statement.against:
        right = {"none": count == 0, "all": count == n, "always": count == n, "mostly": share > 0.5}[statement.against]
        said = {"none": "no", "mostly": "more than half of the"}.get(statement.against, "all")
        return Verdict(f"{said} judged pieces of {say_name(ref)} have {line}", _say_right(statement, right), words)
    understood = f"three quarters of the judged pieces of {say_name(ref)} or more have {line}"
    if statement.negated != statement.untrue:
        return Verdict(f"not: {understood}", decide(share < 0.5, share >= _MOSTLY), words)
    return Verdict(understood, decide(share >= _MOSTLY, share < 0.5), words)


TABLE_CLAIMS: Final[Mapping[Form, Callable[[Statement, SetSlice, Evidence], Verdict]]] = MappingProxyType(
    {
        Form.READING: _judge_reading,
        Form.SCATTERS: _judge_reading,
        Form.TORN_AVERAGE: _judge_torn_average,
        Form.PIECES_AT: _judge_pieces,
        Form.COUNT: _judge_count,
        Form.ENDS: _judge_ends,
        Form.TORN: _judge_torn,
    }
)
"""What is read off the table, and how each is held against it."""
