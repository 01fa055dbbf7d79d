"""Conclusions about sets and what is varied, judged in the slice that they name or in every slice."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from adhaero.core.claims.evidence import Evidence, Range, SetSlice, Shares
from adhaero.core.claims.names import Ref
from adhaero.core.claims.normal_form import Form, Statement, Who, Whom
from adhaero.core.claims.ratio_words import say_claimed, say_range
from adhaero.core.claims.share_claims import judge_shares
from adhaero.core.claims.standing import (
    C,
    Standing,
    Verdict,
    X,
    decide,
    find_claimed,
    invert,
    judge_amount,
    judge_relation,
    merge,
)
from adhaero.core.claims.table_claims import TABLE_CLAIMS, say_unit
from adhaero.core.claims.whom import expand, find_one_set, join_words, say_each, say_name, say_names
from adhaero.core.stats.words import and_join


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
        found = [judge_shares(statement, one, evidence) for one in _shares_of(parts, evidence)]
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
            Form.MATTERS: self._judge_matters,
            Form.FACTOR_SAME: self._judge_factor,
            Form.MAKES: self._judge_makes,
        }
        if form in TABLE_CLAIMS:
            return TABLE_CLAIMS[form](statement, self.slice, self.evidence)
        if form in handlers:
            return handlers[form](statement)
        if form in (Form.SHARE_MORE, Form.SHARE_LESS, Form.SHARE_MOST, Form.SHARE_LEAST):
            return Verdict("", X, "what is kept needs a condition before and after")
        if form in (Form.LOST_STRENGTH, Form.LOST_NOTHING):
            return Verdict("", X, "of what: no base is named")
        return self._judge_compared(statement)

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
            mutual = expand(self.slice, subject)
            if isinstance(mutual, str):
                return Verdict("", X, mutual)
            if len(mutual) > 1:
                return self._judge_mutual(statement, mutual)
        named = subject.refs
        base = self._find_base(statement, named)
        if isinstance(base, str):
            return Verdict("", X, base)
        like = (base.refs or named or (None,))[0]
        objects = expand(self.slice, base, named, like)
        if isinstance(objects, str):
            return Verdict("", X, objects)
        subjects = expand(self.slice, subject, objects, like)
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
                understood = meaning.format(say_each(subjects), say_names(objects))
        standing = merge(standings)
        if subject.whom is Whom.ONLY:
            standing, more = self._judge_only(inner, subjects, objects, standing)
            words += more
        if subject.but:
            understood = f"{understood} (all but {say_names(subject.but)})"
        return Verdict(
            f"not: {understood}" if inverted else understood,
            invert(standing) if inverted else standing,
            join_words(words),
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
        listed = say_names(refs[:-1]), say_name(refs[-1])
        return Verdict(understood.format(*listed), merge(standings), join_words(words))

    def _judge_pair(self, statement: Statement, one: Ref, other: Ref) -> tuple[Standing, str, str]:
        """Judge one set against another; the meaning has places for both."""
        found = self.slice.compare(one, other)
        if found is None:
            return X, f"{say_name(one)} and {say_name(other)} cannot be compared here", "{} against {}"
        said = say_range(say_name(one), say_name(other), found)
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
                return X, say_unit(amount, unit), "{} against {}"
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
        """Return what the most is said against, controls left out named."""
        if subjects[0].kind == "value":
            return f"every other {subjects[0].key[0]}"
        out = [one for one in self.slice.controls if Ref("set", (one,)) not in subjects]
        return "every other set" + (f" but {and_join(out)}" if out else "")

    def _judge_most(self, statement: Statement) -> Verdict:
        subjects = expand(self.slice, statement.subject)
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
        understood = f"{say_each(subjects)} is {words} than {self._say_others(subjects)}"
        if statement.subject is not None and statement.subject.but:
            understood = (
                f"{say_each(subjects)} is {words} than {say_names(rivals)} (all but {say_names(statement.subject.but)})"
            )
        if negated:
            return Verdict(f"not: {understood}", invert(standing), join_words([said for _, said, _ in found]))
        return Verdict(understood, standing, join_words([said for _, said, _ in found]))

    def _judge_place(self, statement: Statement) -> Verdict:
        subjects = expand(self.slice, statement.subject)
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
        standing = decide(above == over and below == len(rivals) - over, above > over or below > len(rivals) - over)
        ahead = "one set is" if over == 1 else f"{over} sets are"
        understood = (
            f"{say_names(subjects)} has place {over + 1}: {ahead} stronger, the other {len(rivals) - over} weaker"
        )
        words = f"of the {len(rivals)} other sets {above} are shown to be stronger, {below} to be weaker"
        if statement.negated != statement.untrue:
            return Verdict(f"not: {understood}", invert(standing), words)
        return Verdict(understood, standing, words)

    def _judge_steadier(self, statement: Statement) -> Verdict:
        subjects = expand(self.slice, statement.subject)
        objects = expand(self.slice, statement.object, subjects if not isinstance(subjects, str) else ())
        if isinstance(subjects, str) or isinstance(objects, str) or not subjects or not objects:
            return Verdict("", X, "than what: nothing is named")
        if statement.negated or statement.untrue:
            return Verdict("", X, "that a set does not scatter less is not read")
        found = [self._steadier(statement.form, one, other) for one in subjects for other in objects]
        words = "scatters less" if statement.form is Form.STEADIER else "scatters more"
        return Verdict(
            f"{say_each(subjects)} {words} than {say_names(objects)}: ratio of scatters below 1"
            if statement.form is Form.STEADIER
            else f"{say_each(subjects)} {words} than {say_names(objects)}: ratio of scatters above 1",
            merge([one for one, _ in found]),
            join_words([said for _, said in found]),
        )

    def _steadier(self, form: Form, one: Ref, other: Ref) -> tuple[Standing, str]:
        found = self.slice.compare_scatter(one, other)
        if found is None or found.low is None or found.high is None or found.ratio is None:
            return X, f"the scatter of {say_name(one)} or {say_name(other)} is not known from its own pieces"
        yes, no = found.high < 1, found.low > 1
        said = f"{say_name(one)} scatters {found.ratio**0.5:.2g} times as much as {say_name(other)} ({found.low**0.5:.2g} to {found.high**0.5:.2g})"  # noqa: E501
        return (decide(yes, no) if form is Form.STEADIER else decide(no, yes)), said

    def _judge_steadiest(self, statement: Statement) -> Verdict:
        subjects = expand(self.slice, statement.subject)
        if isinstance(subjects, str) or len(subjects) != 1:
            return Verdict("", X, "one set must be named")
        form = Form.STEADIER if statement.form is Form.STEADIEST else Form.LESS_STEADY
        found = [self._steadier(form, subjects[0], one) for one in self._rivals(statement, subjects)]
        standing = merge([one for one, _ in found])
        words = "less" if form is Form.STEADIER else "more"
        understood = f"{say_names(subjects)} scatters {words} than {self._say_others(subjects)}"
        if statement.negated != statement.untrue:
            return Verdict(f"not: {understood}", invert(standing), join_words([said for _, said in found]))
        return Verdict(understood, standing, join_words([said for _, said in found]))

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
        standing = decide(first.low > second.high, second.low > first.high)  # type: ignore[operator]
        return Verdict(
            f"{statement.factors[0]} changes strength more than {statement.factors[1]}, strongest value over weakest",
            standing,
            join_words(
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
        ref = find_one_set(self.slice, statement)
        if isinstance(ref, str):
            return Verdict("", X, ref)
        if ref.kind != "value":
            return Verdict("", X, "what it is compared with is not said")
        form = Form.STRONGER if statement.what == "stronger" else Form.WEAKER
        others = tuple(one for one in self.slice.everyone(ref) if one != ref)
        return self._judge_compared(replace(statement, form=form, object=Who(refs=others), what=""))


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
