"""How a claim stands: supported, contradicted, neither, or not to be checked (the table of docs/method)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from adhaero.core.claims.amounts import Amount, Kind, Near
from adhaero.core.claims.evidence import Evidence, Range, SetSlice, Shares
from adhaero.core.claims.names import Ref
from adhaero.core.claims.normal_form import Form, Statement, Who, Whom
from adhaero.core.claims.ratio_words import say_claimed, say_range
from adhaero.core.stats.words import and_join

_GLUE_TO = 25.0
_MOSTLY = 0.75
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
        return _decide(no, yes) if negated else _decide(yes, no)
    if degree == "slightly":
        if negated:
            return X
        ends = (1.0, _SLIGHTLY) if form is Form.STRONGER else (1 / _SLIGHTLY, 1.0)
        inside = found.ratio is not None and ends[0] <= found.ratio <= ends[1] and found.ratio != 1
        return _decide(inside and not low <= 1 <= high, high <= ends[0] or low >= ends[1])
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
        return _decide(no, yes) if negated else _decide(yes, no)
    return _decide(*rules[form, negated])


def _decide(yes: bool, no: bool) -> Standing:
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
        return _decide(low >= claimed.low, high < claimed.low)
    if claimed.side < 0:
        return _decide(high <= claimed.high, low > claimed.high)
    apart = high < claimed.low or low > claimed.high
    inside = found.ratio is not None and claimed.low - 1e-9 <= found.ratio <= claimed.high + 1e-9
    holds_one = claimed.low <= 1 <= claimed.high
    different = not low <= 1 <= high
    return _decide(inside and (different or holds_one or not needs_difference), apart)


def judge(statement: Statement, evidence: Evidence) -> Verdict:
    """Return how a statement stands, in the slice that it names or in every slice."""
    if evidence.curves:
        return Verdict("", X, "only what a curve says can be checked here")
    if statement.base is not None and statement.base.key[-1] != evidence.before:
        return Verdict("", X, f"shares are of the strength {evidence.before}" if evidence.before else "of what base")
    if isinstance(problem := _find_parts(statement, evidence), str):
        return Verdict("", X, problem)
    parts, condition = problem
    if statement.form in _SHARE_FORMS and evidence.shares and _is_share(statement):
        found = [_judge_shares(statement, one, evidence) for one in _shares_of(parts, evidence)]
        if not found:
            return Verdict("", X, f"what is kept is told of {evidence.before}, not in it")
    else:
        chosen = [(value, evidence.slices[value]) for value in parts if value in evidence.slices]
        found = [_judge_slice(statement, one, evidence) for _, one in chosen]
        condition = and_join([value for value, _ in chosen if value]) if len(evidence.slices) > 1 else condition
    standing = merge([one.standing for one in found])
    if X in [one.standing for one in found] and C not in [one.standing for one in found]:
        standing = X
    extra = f", {condition}" if condition and found else ""
    words = " ".join(dict.fromkeys(one.words for one in found))
    return Verdict(f"{found[0].understood}{extra}" if found else "", standing, words)


_SHARE_FORMS = frozenset(
    {
        Form.KEEPS, Form.LOST, Form.GAINED, Form.SHARE_MORE, Form.SHARE_LESS, Form.SHARE_MOST, Form.SHARE_LEAST,
        Form.LOST_STRENGTH, Form.LOST_NOTHING,
    }
)  # fmt: skip


def _is_share(statement: Statement) -> bool:
    return statement.own or statement.object is None or statement.form in (Form.SHARE_MORE, Form.SHARE_LESS)


def _find_parts(statement: Statement, evidence: Evidence) -> tuple[list[str], str] | str:
    """Return the slices that a statement is about, and what it says of the condition; words where there is none."""
    values = list(evidence.slices) or list(evidence.shares)
    wanted = []
    for ref in statement.where:
        column, value = ref.key
        if (column, value) in evidence.said:
            continue
        if column == evidence.column and value in values:
            wanted.append(value)
        else:
            return f"{value} is not what these pieces went through"
    said = and_join([ref.key[1] for ref in statement.where]) if statement.where else ""
    return (wanted or values, said)


def _shares_of(parts: Sequence[str], evidence: Evidence) -> list[Shares]:
    return [evidence.shares[value] for value in parts if value in evidence.shares]


def _judge_slice(statement: Statement, one: SetSlice, evidence: Evidence) -> Verdict:
    return _Judge(one, evidence).judge(statement)


def _names(refs: Sequence[Ref]) -> str:
    return and_join([_name(one) for one in refs])


def _name(ref: Ref) -> str:
    return ", ".join(ref.key[1::2]) if ref.kind == "values" else ref.words


class _Judge:
    """One slice, asked."""

    def __init__(self, one: SetSlice, evidence: Evidence) -> None:
        self.slice, self.evidence = one, evidence

    def judge(self, statement: Statement) -> Verdict:
        """Return how a statement stands in this slice."""
        form = statement.form
        handlers: dict[Form, Callable[[Statement], Verdict]] = {
            Form.MOST: self._judge_most,
            Form.LEAST: self._judge_most,
            Form.PLACE: self._judge_place,
            Form.STEADIER: self._judge_steadier,
            Form.LESS_STEADY: self._judge_steadier,
            Form.STEADIEST: self._judge_steadiest,
            Form.LEAST_STEADY: self._judge_steadiest,
            Form.READING: self._judge_reading,
            Form.SCATTERS: self._judge_reading,
            Form.TORN_AVERAGE: self._judge_torn_average,
            Form.PIECES_AT: self._judge_pieces,
            Form.COUNT: self._judge_count,
            Form.ENDS: self._judge_ends,
            Form.TORN: self._judge_torn,
            Form.MATTERS: self._judge_matters,
            Form.FACTOR_SAME: self._judge_factor,
            Form.MAKES: self._judge_makes,
        }
        if form in handlers:
            return handlers[form](statement)
        if form in (Form.SHARE_MORE, Form.SHARE_LESS, Form.SHARE_MOST, Form.SHARE_LEAST):
            return Verdict("", X, "what is kept needs a condition before and after")
        if form in (Form.LOST_STRENGTH, Form.LOST_NOTHING):
            return Verdict("", X, "of what: no base is named")
        return self._judge_compared(statement)

    def _expand(self, who: Who | None, against: Sequence[Ref] = (), like: Ref | None = None) -> tuple[Ref, ...] | str:
        """Return the sets that are meant; `against` are those on the other side."""
        if who is None:
            return ()
        if who.whom in (Whom.NAMED, Whom.ONLY):
            return who.refs
        everyone = tuple(one for one in self.slice.everyone(like) if one not in against and one not in who.but)
        if who.whom in (Whom.ALL, Whom.OTHERS):
            return everyone
        if who.whom is Whom.NONE:
            return who.refs or everyone
        if who.whom is Whom.THEY or (who.whom is Whom.BOTH and len(everyone) == 2):
            return everyone
        if who.whom is Whom.BOTH:
            return f"both: there are {len(everyone)} sets"
        return "it: nothing is named before"

    def _find_base(self, statement: Statement, subjects: Sequence[Ref]) -> Who | str:
        if statement.object is not None:
            return statement.object
        if statement.own:
            return "of its strength in which condition: none is named"
        if self.slice.control is not None and self.slice.control not in subjects:
            return Who(refs=(self.slice.control,))
        like = subjects[0] if subjects else None
        everyone = self.slice.everyone(like)
        rest = [one for one in everyone if one not in subjects]
        if len(everyone) == 2 and len(rest) == 1 and len(subjects) == 1:
            return Who(refs=(rest[0],))
        amount = statement.form in (Form.KEEPS, Form.LOST, Form.GAINED)
        return "of what: no base is named" if amount else "than what: nothing is named"

    def _judge_compared(self, statement: Statement) -> Verdict:
        """Judge a relation or an amount of one or several sets against one or several."""
        subject = statement.subject or Who()
        sided = statement.form in (Form.SAME, Form.DIFFERENT, Form.APART) and statement.object is None
        if sided:
            mutual = self._expand(subject)
            if isinstance(mutual, str):
                return Verdict("", X, mutual)
            if len(mutual) > 1:
                return self._judge_mutual(statement, mutual)
        named = subject.refs
        base = self._find_base(statement, named)
        if isinstance(base, str):
            return Verdict("", X, base)
        like = (base.refs or named or (None,))[0]
        objects = self._expand(base, named, like)
        if isinstance(objects, str):
            return Verdict("", X, objects)
        subjects = self._expand(subject, objects, like)
        if isinstance(subjects, str):
            return Verdict("", X, subjects)
        if not subjects or not objects:
            return Verdict("", X, "there is no set that is meant")
        none = subject.whom is Whom.NONE
        negated = statement.negated
        inverted = False
        if none:
            if negated or statement.untrue:
                return Verdict("", X, "two negations in one clause are not read")
            negated = True
        elif statement.untrue:
            if negated:
                return Verdict("", X, "two negations in one clause are not read")
            if subject.whom in (Whom.ALL, Whom.ONLY, Whom.OTHERS) or len(subjects) * len(objects) > 1:
                inverted = True
            else:
                negated = True
        inner = replace(statement, negated=negated, untrue=False)
        standings, words, understood = [], [], ""
        for one in subjects:
            for other in objects:
                standing, said, meaning = self._judge_pair(inner, one, other)
                standings.append(standing)
                words.append(said)
                understood = meaning.format(_each(subjects), _names(objects))
        standing = merge(standings)
        if subject.whom is Whom.ONLY:
            standing, more = self._judge_only(inner, subjects, objects, standing)
            words += more
        if subject.but:
            understood = f"{understood} (all but {_names(subject.but)})"
        return Verdict(
            f"not: {understood}" if inverted else understood, invert(standing) if inverted else standing, _join(words)
        )

    def _judge_only(
        self, statement: Statement, subjects: Sequence[Ref], objects: Sequence[Ref], standing: Standing
    ) -> tuple[Standing, list[str]]:
        """Judge that what holds for some holds for no other set."""
        others = [one for one in self.slice.everyone(subjects[0]) if one not in subjects and one not in objects]
        form, negated = statement.form, not statement.negated
        if form in (Form.AS_STRONG, Form.SAME):
            form, negated = Form.DIFFERENT, False
        found = [
            self._judge_pair(replace(statement, form=form, negated=negated), one, other)
            for one in others
            for other in objects
        ]
        return merge([standing, *(one for one, _, _ in found)]), [said for _, said, _ in found]

    def _judge_mutual(self, statement: Statement, refs: Sequence[Ref]) -> Verdict:
        negated = statement.negated or statement.untrue
        if statement.negated and statement.untrue:
            return Verdict("", X, "two negations in one clause are not read")
        if negated and len(refs) > 2:
            plain = self._judge_mutual(replace(statement, negated=False, untrue=False), refs)
            return Verdict(f"not: {plain.understood}", invert(plain.standing), plain.words)
        standings, words, understood = [], [], ""
        for at, one in enumerate(refs):
            for other in refs[at + 1 :]:
                standing, said, meaning = self._judge_pair(replace(statement, negated=negated), one, other)
                standings.append(standing)
                words.append(said)
                understood = meaning
        listed = _names(refs[:-1]), _name(refs[-1])
        return Verdict(understood.format(*listed), merge(standings), _join(words))

    def _judge_pair(self, statement: Statement, one: Ref, other: Ref) -> tuple[Standing, str, str]:
        """Judge one set against another; the meaning has places for both."""
        found = self.slice.compare(one, other)
        if found is None:
            return X, f"{_name(one)} and {_name(other)} cannot be compared here", "{} against {}"
        said = say_range(_name(one), _name(other), found)
        amount = statement.amount
        if amount is None:
            meaning = _MEANINGS[statement.form, statement.negated, statement.degree]
            standing = judge_relation(
                statement.form, found, self.slice.margin, negated=statement.negated, degree=statement.degree
            )
            return standing, said, meaning
        factor = 1.0
        if amount.unit is not None:
            unit = self.evidence.unit
            if unit is None or unit.measures != amount.unit.measures:
                return X, _say_unit(amount, unit), "{} against {}"
            factor = amount.unit.factor / unit.factor
        claimed = find_claimed(
            statement.form, amount, self.slice.find_typical(other), factor, negated=statement.negated
        )
        if isinstance(claimed, str):
            return X, claimed, "{} against {}"
        standing = judge_amount(claimed, found)
        return standing, said, "{} " + say_claimed(claimed.low, claimed.high, claimed.side, "the strength of {}")

    def _rivals(self, statement: Statement, subjects: Sequence[Ref]) -> list[Ref]:
        like = subjects[0]
        if statement.factors and like.kind == "set":
            return []
        but = statement.subject.but if statement.subject is not None else ()
        return [one for one in self.slice.everyone(like) if one not in subjects and one not in but]

    def _say_others(self, subjects: Sequence[Ref]) -> str:
        """Return the sets that the most is said against, those left out named."""
        out = (
            []
            if subjects[0].kind == "value"
            else [one for one in self.slice.controls if Ref("set", (one,)) not in subjects]
        )
        return "every other set" + (f" but {and_join(out)}" if out else "")

    def _judge_most(self, statement: Statement) -> Verdict:
        subjects = self._expand(statement.subject)
        if isinstance(subjects, str) or not subjects:
            return Verdict("", X, subjects if isinstance(subjects, str) else "of what: nothing is named")
        if statement.subject is not None and statement.subject.whom not in (Whom.NAMED, Whom.ONLY):
            return Verdict("", X, "one set must be named that is the strongest or the weakest")
        rivals = self._rivals(statement, subjects)
        if not rivals:
            return Verdict("", X, "there is no other set")
        form = Form.STRONGER if statement.form is Form.MOST else Form.WEAKER
        found = [self._judge_pair(Statement(form), one, other) for one in subjects for other in rivals]
        standing = merge([one for one, _, _ in found])
        negated = statement.negated != statement.untrue
        words = "stronger" if form is Form.STRONGER else "weaker"
        understood = f"{_each(subjects)} is {words} than {self._say_others(subjects)}"
        if statement.subject is not None and statement.subject.but:
            understood = f"{_each(subjects)} is {words} than {_names(rivals)} (all but {_names(statement.subject.but)})"
        if negated:
            return Verdict(f"not: {understood}", invert(standing), _join([said for _, said, _ in found]))
        return Verdict(understood, standing, _join([said for _, said, _ in found]))

    def _judge_place(self, statement: Statement) -> Verdict:
        subjects = self._expand(statement.subject)
        if isinstance(subjects, str) or len(subjects) != 1:
            return Verdict("", X, "one set has a place")
        rivals = self._rivals(statement, subjects)
        found = [self.slice.compare(subjects[0], one) for one in rivals]
        if not rivals or any(one is None or not one.known for one in found):
            return Verdict("", X, "not every other set can be compared with it")
        above = sum(one is not None and one.high is not None and one.high < 1 for one in found)
        below = sum(one is not None and one.low is not None and one.low > 1 for one in found)
        over = statement.place - 1 if statement.place > 0 else len(rivals) + 1 + statement.place
        if not 0 <= over <= len(rivals):
            return Verdict("", X, f"there are only {len(rivals) + 1} places")
        standing = _decide(above == over and below == len(rivals) - over, above > over or below > len(rivals) - over)
        ahead = "one set is" if over == 1 else f"{over} sets are"
        understood = f"{_names(subjects)} has place {over + 1}: {ahead} stronger, the other {len(rivals) - over} weaker"
        words = f"of the {len(rivals)} other sets {above} are shown to be stronger, {below} to be weaker"
        if statement.negated != statement.untrue:
            return Verdict(f"not: {understood}", invert(standing), words)
        return Verdict(understood, standing, words)

    def _judge_steadier(self, statement: Statement) -> Verdict:
        subjects = self._expand(statement.subject)
        objects = self._expand(statement.object, subjects if not isinstance(subjects, str) else ())
        if isinstance(subjects, str) or isinstance(objects, str) or not subjects or not objects:
            return Verdict("", X, "than what: nothing is named")
        if statement.negated or statement.untrue:
            return Verdict("", X, "that a set does not scatter less is not read")
        found = [self._steadier(statement.form, one, other) for one in subjects for other in objects]
        words = "scatters less" if statement.form is Form.STEADIER else "scatters more"
        return Verdict(
            f"{_each(subjects)} {words} than {_names(objects)}: ratio of scatters below 1"
            if statement.form is Form.STEADIER
            else f"{_each(subjects)} {words} than {_names(objects)}: ratio of scatters above 1",
            merge([one for one, _ in found]),
            _join([said for _, said in found]),
        )

    def _steadier(self, form: Form, one: Ref, other: Ref) -> tuple[Standing, str]:
        found = self.slice.compare_scatter(one, other)
        if found is None or found.low is None or found.high is None or found.ratio is None:
            return X, f"the scatter of {_name(one)} or {_name(other)} is not known from its own pieces"
        yes, no = found.high < 1, found.low > 1
        said = f"{_name(one)} scatters {found.ratio**0.5:.2g} times as much as {_name(other)} ({found.low**0.5:.2g} to {found.high**0.5:.2g})"  # noqa: E501
        return (_decide(yes, no) if form is Form.STEADIER else _decide(no, yes)), said

    def _judge_steadiest(self, statement: Statement) -> Verdict:
        subjects = self._expand(statement.subject)
        if isinstance(subjects, str) or len(subjects) != 1:
            return Verdict("", X, "one set must be named")
        form = Form.STEADIER if statement.form is Form.STEADIEST else Form.LESS_STEADY
        found = [self._steadier(form, subjects[0], one) for one in self._rivals(statement, subjects)]
        standing = merge([one for one, _ in found])
        words = "less" if form is Form.STEADIER else "more"
        understood = f"{_names(subjects)} scatters {words} than {self._say_others(subjects)}"
        if statement.negated != statement.untrue:
            return Verdict(f"not: {understood}", invert(standing), _join([said for _, said in found]))
        return Verdict(understood, standing, _join([said for _, said in found]))

    def _read_amount(self, amount: Amount) -> Amount | str:
        """Return an amount in the unit of the response."""
        unit = self.evidence.unit
        if amount.unit is None:
            return amount
        if unit is None or unit.measures != amount.unit.measures:
            return _say_unit(amount, unit)
        factor = amount.unit.factor / unit.factor
        return replace(
            amount,
            value=amount.value * factor,
            upper=None if amount.upper is None else amount.upper * factor,
            last_digit=amount.last_digit * factor,
            unit=unit,
        )

    def _right(self, statement: Statement, right: bool) -> Standing:
        return S if right != (statement.negated != statement.untrue) else C

    def _one_set(self, statement: Statement) -> Ref | str:
        subjects = self._expand(statement.subject)
        if isinstance(subjects, str):
            return subjects
        if statement.subject is None or statement.subject.whom is not Whom.NAMED or len(subjects) != 1:
            return "one set must be named"
        return subjects[0]

    def _judge_reading(self, statement: Statement) -> Verdict:
        ref = self._one_set(statement)
        if isinstance(ref, str) or statement.amount is None:
            return Verdict("", X, ref if isinstance(ref, str) else "how much is not said")
        if statement.form is Form.SCATTERS:
            level = self.slice.find_set(ref)
            cv = None if level is None else self.slice.groups[level].as_read.cv_pct
            if cv is None:
                return Verdict("", X, f"{_name(ref)} has too few numbers for a scatter")
            right = statement.amount.is_right(cv, least=0.1 * statement.amount.value)
            return Verdict(
                f"the coefficient of variation of {_name(ref)} is {statement.amount.say(unit=' %')}",
                self._right(statement, right),
                f"It is {cv:.3g} %",
            )
        amount = self._read_amount(statement.amount)
        if isinstance(amount, str):
            return Verdict("", X, amount)
        if statement.what in ("average", "median") and self.slice.find_set(ref) is None:
            return Verdict("", X, "averages are read off the table set by set")
        found = self.slice.read_numbers(ref, statement.what)
        if not found:
            return Verdict("", X, f"{_name(ref)} has no number")
        right = any(amount.is_right(one) for one in found)
        unit = f" {self.evidence.unit.symbol}" if self.evidence.unit else ""
        return Verdict(
            f"the {statement.what} of {_name(ref)} is {amount.say('.4g', unit)}",
            self._right(statement, right),
            f"It is {' (as read), '.join(f'{one:.4g}' for one in found)}{unit}{' (typical)' if len(found) > 1 else ''}",
        )

    def _judge_torn_average(self, statement: Statement) -> Verdict:
        ref = self._one_set(statement)
        if isinstance(ref, str) or statement.amount is None:
            return Verdict("", X, ref if isinstance(ref, str) else "how much is not said")
        torn = [one.wood_failure_pct for one in self.slice.pieces(ref) if one.wood_failure_pct is not None]
        if not torn:
            return Verdict("", X, f"no piece of {_name(ref)} was judged")
        mean = sum(torn) / len(torn)
        return Verdict(
            f"the average torn wood of {_name(ref)} is {statement.amount.say(unit=' %')}",
            self._right(statement, statement.amount.is_right(mean, least=2.5)),
            f"It is {mean:.3g} %",
        )

    def _judge_pieces(self, statement: Statement) -> Verdict:
        ref = self._one_set(statement)
        if isinstance(ref, str) or statement.amount is None:
            return Verdict("", X, ref if isinstance(ref, str) else "how much is not said")
        amount = self._read_amount(statement.amount)
        if isinstance(amount, str):
            return Verdict("", X, amount)
        if amount.near is not Near.PLAIN or amount.upper is not None:
            return Verdict("", X, "pieces are counted beyond one number")
        values = [one.value for one in self.slice.pieces(ref) if one.value is not None]
        if not values:
            return Verdict("", X, f"{_name(ref)} has no number")
        below = statement.what == "below"
        count = sum(one < amount.value if below else one > amount.value for one in values)
        wanted = {"none": 0.0, "all": float(len(values))}.get(statement.against, statement.count)
        if wanted is None:
            return Verdict("", X, "of how many pieces is not said")
        right = count == wanted and (statement.of is None or statement.of == len(values))
        unit = f" {self.evidence.unit.symbol}" if self.evidence.unit else ""
        side = "below" if below else "above"
        return Verdict(
            f"{wanted:g} of {len(values)} pieces of {_name(ref)} are {side} {amount.value:.4g}{unit}",
            self._right(statement, right),
            f"{count} of {len(values)} are",
        )

    def _judge_count(self, statement: Statement) -> Verdict:
        ref = self._one_set(statement)
        if isinstance(ref, str) or statement.count is None:
            return Verdict("", X, ref if isinstance(ref, str) else "how many is not said")
        n = len(self.slice.pieces(ref))
        right = self._right(statement, n == statement.count)
        return Verdict(f"{_name(ref)} has {statement.count:g} pieces that count", right, f"It has {n}")

    def _judge_ends(self, statement: Statement) -> Verdict:
        first, second = statement.subject or Who(), statement.object or Who()
        if len(first.refs) != 1 or len(second.refs) != 1:
            return Verdict("", X, "whose best or worst piece is not said")
        ends = [
            self.slice.read_numbers(who.refs[0], what)
            for who, what in ((first, statement.what), (second, statement.against))
        ]
        if not ends[0] or not ends[1]:
            return Verdict("", X, "one of the sets has no number")
        return Verdict(
            f"the {statement.what} of {_names(first.refs)} is above the {statement.against} of {_names(second.refs)}",
            self._right(statement, ends[0][0] > ends[1][0]),
            f"They are {ends[0][0]:.4g} and {ends[1][0]:.4g}",
        )

    def _judge_torn(self, statement: Statement) -> Verdict:
        subjects = self._expand(statement.subject)
        if isinstance(subjects, str) or not subjects:
            return Verdict("", X, "one set must be named")
        if statement.subject is not None and statement.subject.whom is Whom.NONE:
            statement = replace(statement, negated=not statement.negated)
        found = [self._torn_of(statement, one) for one in subjects]
        return Verdict(
            found[0].understood if len(found) == 1 else f"each of {_names(subjects)}: {found[0].understood}",
            merge([one.standing for one in found]),
            _join([one.words for one in found]),
        )

    def _torn_of(self, statement: Statement, ref: Ref) -> Verdict:
        torn = [one.wood_failure_pct for one in self.slice.pieces(ref) if one.wood_failure_pct is not None]
        if not torn:
            return Verdict("", X, f"no piece of {_name(ref)} was judged")
        wood = statement.what == "wood"
        count = sum(one >= self.slice.wood_failure_from if wood else one <= _GLUE_TO for one in torn)
        share, n = count / len(torn), len(torn)
        line = f"{self.slice.wood_failure_from:g} % torn wood or more" if wood else f"{_GLUE_TO:g} % torn wood or less"
        words = f"{count} of {n} judged pieces of {_name(ref)} have {line}"
        if statement.count is not None:
            right = count == statement.count and (statement.of is None or n == statement.of)
            said = f"{statement.count:g} of {statement.of or n:g}"
            return Verdict(f"{said} judged pieces of {_name(ref)} have {line}", self._right(statement, right), words)
        if statement.amount is not None:
            right = statement.amount.is_right(100 * share, least=2.5)
            said = f"{statement.amount.say('.3g', ' %')} of the judged pieces of {_name(ref)} have {line}"
            return Verdict(said, self._right(statement, right), words)
        if statement.against:
            right = {"none": count == 0, "all": count == n, "always": count == n, "mostly": share > 0.5}[
                statement.against
            ]
            said = {"none": "no", "mostly": "more than half of the"}.get(statement.against, "all")
            return Verdict(f"{said} judged pieces of {_name(ref)} have {line}", self._right(statement, right), words)
        understood = f"three quarters of the judged pieces of {_name(ref)} or more have {line}"
        if statement.negated != statement.untrue:
            return Verdict(f"not: {understood}", _decide(share < 0.5, share >= _MOSTLY), words)
        return Verdict(understood, _decide(share >= _MOSTLY, share < 0.5), words)

    def _judge_matters(self, statement: Statement) -> Verdict:
        swings = []
        for name in statement.factors:
            effect = self.slice.find_effect(name)
            ranges = [Range(one.ratio, *(one.ratio_ci95 or (None, None))) for one in (effect.pairs if effect else ())]
            up = [one if (one.ratio or 0) >= 1 else one.turn() for one in ranges if one.ratio is not None]
            if not up:
                return Verdict("", X, f"what {name} does cannot be told")
            swings.append(max(up, key=lambda one: one.ratio or 0))
        if len(swings) != 2 or statement.negated or statement.untrue:
            return Verdict("", X, "two things that are varied are compared")
        first, second = swings
        if None in (first.low, first.high, second.low, second.high):
            return Verdict("", X, "what one of them does has no range")
        standing = _decide(first.low > second.high, second.low > first.high)  # type: ignore[operator]
        return Verdict(
            f"{statement.factors[0]} changes strength more than {statement.factors[1]}, strongest value over weakest",
            standing,
            _join(
                [
                    f"{name}: {say_range('strongest', 'weakest', one)}"
                    for name, one in zip(statement.factors, swings, strict=True)
                ]
            ),
        )

    def _judge_factor(self, statement: Statement) -> Verdict:
        name = statement.factors[0]
        effect = self.slice.find_effect(name)
        if effect is not None:
            refs: tuple[Ref, ...] = tuple(Ref("value", (name, one.level)) for one in effect.levels)
        else:
            refs = self.slice.everyone(None)
        if len(refs) < 2:
            return Verdict("", X, f"{name} does not vary here")
        found = self._judge_mutual(Statement(Form.SAME, untrue=statement.untrue), refs)
        return replace(found, understood=f"all values of {name} are the same within the margin")

    def _judge_makes(self, statement: Statement) -> Verdict:
        ref = self._one_set(statement)
        if isinstance(ref, str):
            return Verdict("", X, ref)
        if ref.kind != "value":
            return Verdict("", X, "what it is compared with is not said")
        form = Form.STRONGER if statement.what == "stronger" else Form.WEAKER
        others = tuple(one for one in self.slice.everyone(ref) if one != ref)
        return self._judge_compared(replace(statement, form=form, object=Who(refs=others), what=""))


def _judge_shares(statement: Statement, one: Shares, evidence: Evidence) -> Verdict:
    """Judge what sets keep of their own strength in one condition."""
    slice_ = evidence.slices.get(one.after) or evidence.one_slice
    margin = slice_.margin if slice_ is not None else 0.1
    everyone = [name for name in one.kept if slice_ is None or name not in slice_.controls]
    subject = statement.subject or Who()
    names = _expand_names(subject, everyone)
    if isinstance(names, str):
        return Verdict("", X, names)
    negated = statement.negated
    inverted = False
    if subject.whom is Whom.NONE or statement.untrue:
        if negated:
            return Verdict("", X, "two negations in one clause are not read")
        if subject.whom is Whom.ALL and statement.untrue:
            inverted = True
        else:
            negated = True
    if statement.form in (Form.SHARE_MORE, Form.SHARE_LESS, Form.SHARE_MOST, Form.SHARE_LEAST):
        return _compare_shares(replace(statement, negated=negated), one, names, everyone, margin)
    found = []
    for name in names:
        if name not in one.kept:
            found.append((X, f"{name} has no share here", ""))
            continue
        found.append(_judge_share(replace(statement, negated=negated), name, one, margin))
    standing = merge([standing for standing, _, _ in found])
    subjects = f"{_each_name(names)}, {one.after}"
    understood = found[0][2].format(subjects) if found else ""
    return Verdict(understood, invert(standing) if inverted else standing, _join([said for _, said, _ in found]))


def _judge_share(statement: Statement, name: str, one: Shares, margin: float) -> tuple[Standing, str, str]:
    found = one.kept[name]
    said = say_range(f"{name}, {one.after},", f"{name} {one.before}", found)
    if not found.known:
        return X, f"what {name} keeps has no range", ""
    if statement.form is Form.LOST_STRENGTH:
        standing = judge_relation(Form.WEAKER, found, margin, negated=statement.negated)
        return standing, said, "{} is weaker than " + one.before
    if statement.form is Form.LOST_NOTHING:
        standing = judge_relation(Form.SAME, found, margin, negated=statement.negated)
        return standing, said, "{} is the same as " + one.before + ", within the margin"
    amount = statement.amount
    if amount is None or amount.kind is Kind.UNIT:
        return X, "how much is said as a share of its strength", ""
    claimed = find_claimed(statement.form, amount, None, 1.0, negated=statement.negated)
    if isinstance(claimed, str):
        return X, claimed, ""
    standing = judge_amount(claimed, found)
    return standing, said, "{} " + say_claimed(claimed.low, claimed.high, claimed.side, f"its strength {one.before}")


def _compare_shares(
    statement: Statement, one: Shares, names: Sequence[str], everyone: Sequence[str], margin: float
) -> Verdict:
    most = statement.form in (Form.SHARE_MOST, Form.SHARE_LEAST)
    if most:
        objects: Sequence[str] | str = [name for name in everyone if name not in names]
    else:
        objects = _expand_names(statement.object or Who(Whom.OTHERS), [name for name in everyone if name not in names])
    if isinstance(objects, str) or not objects:
        return Verdict("", X, objects if isinstance(objects, str) else "than what: nothing is named")
    form = Form.STRONGER if statement.form in (Form.SHARE_MORE, Form.SHARE_MOST) else Form.WEAKER
    found, words = [], []
    for name in names:
        for other in objects:
            ratio = one.compare(name, other)
            if ratio is None:
                found.append(X)
                continue
            words.append(say_range(f"the share that {name} keeps", f"that of {other}", ratio))
            if statement.amount is not None:
                claimed = find_claimed(Form.KEEPS, statement.amount, None, 1.0, negated=statement.negated)
                found.append(X if isinstance(claimed, str) else judge_amount(claimed, ratio))
            else:
                found.append(judge_relation(form, ratio, margin, negated=statement.negated and not most))
    standing = merge(found)
    if most and statement.negated:
        standing = invert(standing)
    greater = "greater" if form is Form.STRONGER else "smaller"
    against = "every other set" if most else and_join(list(objects))
    understood = (
        f"{_each_name(names)} keeps a {greater} share of its strength than {against}, {one.after} of {one.before}"
    )
    return Verdict(understood, standing, _join(words))


def _expand_names(who: Who, everyone: Sequence[str]) -> list[str] | str:
    if who.whom in (Whom.NAMED, Whom.ONLY) or (who.whom is Whom.NONE and who.refs):
        return [_name(one) for one in who.refs] or "of what: nothing is named"
    rest = [name for name in everyone if name not in {_name(one) for one in who.but}]
    if who.whom is Whom.BOTH and len(rest) != 2:
        return f"both: there are {len(rest)} sets"
    if who.whom is Whom.IT:
        return rest if len(rest) == 1 else "it: nothing is named before"
    return rest


def _each(refs: Sequence[Ref]) -> str:
    return _names(refs) if len(refs) == 1 else f"each of {_names(refs)}"


def _each_name(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"each of {and_join(list(names))}"


def _join(words: Sequence[str]) -> str:
    said = list(dict.fromkeys(one for one in words if one))
    more = f"; and {len(said) - 4} more" if len(said) > 4 else ""
    return "; ".join(said[:4]) + more


def _say_unit(amount: Amount, unit: object) -> str:
    assert amount.unit is not None
    symbol = getattr(unit, "symbol", None)
    measures = getattr(unit, "measures", None)
    column = f"the column is a {measures} in {symbol}" if symbol else "the column says no unit"
    return f"{amount.unit.symbol} is a {amount.unit.measures}, {column}"


_MEANINGS = {
    (Form.STRONGER, False, ""): "{} is stronger than {}: ratio above 1",
    (Form.STRONGER, True, ""): "{} is not stronger than {}: ratio at most 1 + margin",
    (Form.WEAKER, False, ""): "{} is weaker than {}: ratio below 1",
    (Form.WEAKER, True, ""): "{} is not weaker than {}: ratio at least 1/(1 + margin)",
    (Form.AT_LEAST_AS_STRONG, False, ""): "{} is not weaker than {}: ratio at least 1/(1 + margin)",
    (Form.AT_LEAST_AS_STRONG, True, ""): "{} is weaker than {}: ratio below 1",
    (Form.AS_STRONG, False, ""): "{} and {} are the same within the margin",
    (Form.AS_STRONG, True, ""): "{} is weaker than {}: ratio below 1",
    (Form.SAME, False, ""): "{} and {} are the same within the margin",
    (Form.SAME, True, ""): "{} and {} differ: one is stronger, and they are not the same within the margin",
    (Form.DIFFERENT, False, ""): "{} and {} differ: one is stronger, and they are not the same within the margin",
    (Form.DIFFERENT, True, ""): "{} and {} are the same within the margin",
    (Form.APART, False, ""): "{} and {} cannot be told apart: the likely range holds 1",
    (Form.APART, True, ""): "{} and {} can be told apart: the likely range leaves out 1",
    (Form.NEARLY, False, ""): "{} is nearly as strong as {}",
    (Form.NEARLY, True, ""): "{} is not nearly as strong as {}",
    (Form.STRONGER, False, "slightly"): "{} is stronger than {} by at most 20 %",
    (Form.WEAKER, False, "slightly"): "{} is weaker than {} by at most a sixth",
    (Form.STRONGER, True, "slightly"): "{} is not slightly stronger than {}",
    (Form.WEAKER, True, "slightly"): "{} is not slightly weaker than {}",
    (Form.STRONGER, False, "much"): "{} is stronger than {} by at least 25 %",
    (Form.WEAKER, False, "much"): "{} is weaker than {} by at least 20 %",
    (Form.STRONGER, True, "much"): "{} is not 25 % or more stronger than {}",
    (Form.WEAKER, True, "much"): "{} is not 20 % or more weaker than {}",
}
