"""Conclusions about what sets keep of their own strength, and which keep more."""

from collections.abc import Sequence
from dataclasses import replace

from adhaero.core.claims.amounts import Kind
from adhaero.core.claims.evidence import Evidence, Shares
from adhaero.core.claims.normal_form import Form, Statement, Who, Whom
from adhaero.core.claims.ratio_words import say_claimed, say_range
from adhaero.core.claims.standing import Standing, Verdict, X, find_claimed, invert, judge_amount, judge_relation, merge
from adhaero.core.claims.whom import join_words, say_each_name, say_name
from adhaero.core.stats.words import and_join


def judge_shares(statement: Statement, one: Shares, evidence: Evidence) -> Verdict:
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
    subjects = f"{say_each_name(names)}, {one.after}"
    understood = found[0][2].format(subjects) if found else ""
    return Verdict(understood, invert(standing) if inverted else standing, join_words([said for _, said, _ in found]))


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
        f"{say_each_name(names)} keeps a {greater} share of its strength than {against}, {one.after} of {one.before}"
    )
    return Verdict(understood, standing, join_words(words))


def _expand_names(who: Who, everyone: Sequence[str]) -> list[str] | str:
    if who.whom in (Whom.NAMED, Whom.ONLY) or (who.whom is Whom.NONE and who.refs):
        return [say_name(one) for one in who.refs] or "of what: nothing is named"
    rest = [name for name in everyone if name not in {say_name(one) for one in who.but}]
    if who.whom is Whom.BOTH and len(rest) != 2:
        return f"both: there are {len(rest)} sets"
    if who.whom is Whom.IT:
        return rest if len(rest) == 1 else "it: nothing is named before"
    return rest
