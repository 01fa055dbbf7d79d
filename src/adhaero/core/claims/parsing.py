"""Typed words into the normal form: the grammar of one clause (conclusion.lark)."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import lru_cache
from importlib.resources import files
from itertools import pairwise
from typing import Any

from lark import Lark, Token, Tree
from lark.exceptions import LarkError
from lark.lexer import Lexer

from adhaero.core.claims.amounts import Amount, Kind, Near
from adhaero.core.claims.lexing import Typed
from adhaero.core.claims.normal_form import Form, Statement, Who, Whom


class GivenWords(Lexer):
    """The words come typed already."""

    def __init__(self, lexer_conf: object) -> None:
        pass

    def lex(self, data: Sequence[Typed]) -> Iterator[Token]:  # type: ignore[override]
        """Yield the typed words as the grammar's tokens."""
        for one in data:
            yield Token(one.kind, one)


@lru_cache(maxsize=1)
def _grammar() -> Lark:
    text = files("adhaero.core.claims").joinpath("conclusion.lark").read_text(encoding="utf-8")
    return Lark(text, parser="earley", lexer=GivenWords, ambiguity="resolve", keep_all_tokens=True)


def parse(typed: Sequence[Typed]) -> list[Statement] | None:
    """Return what a clause claims, several statements for an order; None where no rule of the grammar fits it."""
    try:
        tree = _grammar().parse(typed)
    except LarkError:
        return None
    return _read_start(tree)


def _read_start(tree: Tree[Token]) -> list[Statement]:
    if tree.data == "untrue":
        return [replace(one, untrue=not one.untrue) for one in _read_statement(tree.children[1])]
    return _read_statement(tree.children[0])


def _read_statement(node: Any) -> list[Statement]:  # noqa: ANN401
    kind, parts = node.data, node.children
    if kind in ("order", "between", "factors", "table", "torn_count"):  # pragma: no cover - inlined by their aliases
        return _read_statement(parts[0])
    if kind in _WHOLE:
        return _WHOLE[kind](parts)
    predicate = next(one for one in parts if isinstance(one, Tree) and one.data in _PREDICATES)
    statement = _PREDICATES[str(predicate.data)](predicate.children)
    subject = next((one for one in parts if isinstance(one, Tree) and one.data in _WHO), None)
    who = None if subject is None else _read_who(subject)
    if kind == "but_for" and who is not None:
        left_out = _refs(next(one for one in parts if isinstance(one, Tree) and one.data == "except_names"))
        who = replace(who, but=left_out)
    elif kind == "led":
        who = Who(refs=(_typed(next(one for one in parts if _is(one, "NAME"))).ref,))  # type: ignore[arg-type]
    elif kind == "based":
        base = next(one for one in parts if isinstance(one, Tree) and one.data == "object")
        statement = replace(statement, object=_read_object(base))
    elif kind == "not_all":
        statement = replace(statement, untrue=True)
    return [replace(statement, subject=who)]


def _is(node: Any, kind: str) -> bool:  # noqa: ANN401
    return isinstance(node, Token) and node.type == kind


def _has(parts: Sequence[Any], *kinds: str) -> bool:
    return any(isinstance(one, Token) and one.type in kinds for one in parts)


def _first(parts: Sequence[Any], *kinds: str) -> Typed | None:
    return next((_typed(one) for one in parts if isinstance(one, Token) and one.type in kinds), None)


def _typed(token: Token) -> Typed:
    found: Typed = token.value
    return found


def _amount(parts: Sequence[Any]) -> Amount | None:
    found = _first(_flat(parts), "PCT", "TIMES", "QTY", "NUM")
    return None if found is None else found.amount


def _flat(parts: Sequence[Any]) -> list[Any]:
    """Return parts with those of amounts and negations opened; names stay closed."""
    found: list[Any] = []
    for one in parts:
        if isinstance(one, Tree) and one.data in ("by_amount",):
            found += _flat(one.children)
        else:
            found.append(one)
    return found


_WHO = frozenset(
    {
        "names", "names_both", "names_all", "none", "others", "it", "they", "both", "neither", "only", "all",
        "all_but", "who", "all_of", "subject",
    }
)  # fmt: skip


def _refs(tree: Tree[Token]) -> tuple[Any, ...]:
    return tuple(_typed(token).ref for token in tree.scan_values(lambda one: _is(one, "NAME")))


def _read_who(tree: Tree[Token]) -> Who:
    kind = str(tree.data)
    if kind in ("who", "subject", "all_of"):
        return _read_who(next(one for one in tree.children if isinstance(one, Tree)))
    simple = {"none": Whom.NONE, "others": Whom.OTHERS, "it": Whom.IT, "they": Whom.THEY, "both": Whom.BOTH}
    if kind in simple:
        return Who(simple[kind])
    if kind == "neither":
        return Who(Whom.NONE, _refs(tree))
    if kind == "only":
        return Who(Whom.ONLY, _refs(tree))
    if kind in ("all", "all_but"):
        return Who(Whom.ALL, but=_refs(tree))
    return Who(refs=_refs(tree))


def _read_object(tree: Tree[Token]) -> Who:
    if tree.data == "object":
        return _read_object(next(one for one in tree.children if isinstance(one, Tree)))
    return _read_who(tree)


def _object(parts: Sequence[Any]) -> Who | None:
    found = next(
        (
            one
            for one in parts
            if isinstance(one, Tree) and (one.data in ("object", "all_but", "others", "all", "it", "they"))
        ),
        None,
    )
    return None if found is None else _read_object(found)


def _negated(parts: Sequence[Any]) -> bool:
    return _has(parts, "NOT", "NO")


def _compared(parts: Sequence[Any]) -> Statement:
    degree = "slightly" if _has(parts, "SLIGHTLY") else "much" if _has(parts, "MUCH") else ""
    return Statement(
        Form.STRONGER if _has(parts, "STRONGER") else Form.WEAKER,
        object=_object(parts),
        amount=_amount(parts),
        degree=degree,
        negated=_negated(parts),
    )


def _beats(parts: Sequence[Any]) -> Statement:
    form = Form.STRONGER if _has(parts, "BEATS") else Form.WEAKER
    return Statement(form, object=_object(parts), amount=_amount(parts), negated=_negated(parts))


def _as_strong(parts: Sequence[Any]) -> Statement:
    amount = _amount(parts)
    if amount is not None:
        return Statement(Form.KEEPS, object=_object(parts), amount=amount, negated=_negated(parts))
    form = Form.NEARLY if _has(parts, "NEARLY_AS_STRONG") else Form.AS_STRONG
    if _has(parts, "AT_LEAST_AS_STRONG"):
        form = Form.AT_LEAST_AS_STRONG
    return Statement(form, object=_object(parts), negated=_negated(parts))


def _as_weak(parts: Sequence[Any]) -> Statement:
    amount = _amount(parts)
    assert amount is not None
    if amount.kind is Kind.PERCENT:
        turned = replace(amount, value=100 / (amount.value / 100), upper=None)
    else:
        turned = replace(amount, value=1 / amount.value, upper=None)
    return Statement(Form.KEEPS, object=_object(parts), amount=turned, negated=_negated(parts), what="weak")


def _matches(parts: Sequence[Any]) -> Statement:
    negated = _negated(parts)
    if _has(parts, "MATCHES"):
        return Statement(Form.AS_STRONG, object=_object(parts), negated=negated)
    return Statement(Form.AS_STRONG if negated else Form.AT_LEAST_AS_STRONG, object=_object(parts), negated=negated,
                     what="reaches")  # fmt: skip


def _share_compared(parts: Sequence[Any]) -> Statement:
    form = Form.SHARE_MORE if _has(parts, "KEEPS_MORE", "LOSES_LESS") else Form.SHARE_LESS
    return Statement(form, object=_object(parts), negated=_negated(parts))


def _share_times(parts: Sequence[Any]) -> Statement:
    return Statement(Form.SHARE_MORE, object=_object(parts), amount=_amount(parts), negated=_negated(parts))


def _keeps(parts: Sequence[Any]) -> Statement:
    return Statement(
        Form.KEEPS, object=_object(parts), amount=_amount(parts), negated=_negated(parts), own=_has(parts, "OWN")
    )


def _lost(parts: Sequence[Any]) -> Statement:
    form = Form.LOST if _has(parts, "LOST") else Form.GAINED
    return Statement(
        form, object=_object(parts), amount=_amount(parts), negated=_negated(parts), own=_has(parts, "OWN")
    )


def _half(value: float) -> Amount:
    return Amount(Kind.PERCENT, value)


def _likeness(form: Form) -> Callable[[Sequence[Any]], Statement]:
    return lambda parts: Statement(form, object=_object(parts), negated=_negated(parts))


def _most(parts: Sequence[Any]) -> Statement:
    form = Form.MOST if _has(parts, "STRONGEST") else Form.LEAST
    factor = _first(parts, "FACTOR")
    named = () if factor is None or factor.ref is None else factor.ref.key
    return Statement(form, negated=_negated(parts), factors=named)


def _place(parts: Sequence[Any]) -> Statement:
    order = _first(parts, "ORD")
    assert order is not None
    assert order.amount is not None
    place = int(order.amount.value)
    return Statement(Form.PLACE, place=-place if _has(parts, "WEAKEST") else place, negated=_negated(parts))


def _steadier(parts: Sequence[Any]) -> Statement:
    form = Form.STEADIER if _has(parts, "STEADIER") else Form.LESS_STEADY
    return Statement(form, object=_object(parts), negated=_negated(parts))


def _reading(parts: Sequence[Any]) -> Statement:
    kinds = {"AVERAGE": "average", "MEDIAN": "median", "LEAST": "least", "GREATEST": "greatest"}
    kinds |= {"WEAKEST": "least", "STRONGEST": "greatest"}
    what = next(kinds[one.type] for one in parts if isinstance(one, Token) and one.type in kinds)
    return Statement(Form.READING, amount=_amount(parts), what=what)


def _torn(parts: Sequence[Any]) -> Statement:
    how = "always" if _has(parts, "ALWAYS") else "mostly" if _has(parts, "MOSTLY") else ""
    what = "wood" if _has(parts, "IN_WOOD") else "glue"
    return Statement(Form.TORN, what=what, against=how, negated=_negated(parts))


_PREDICATES: dict[str, Callable[[Sequence[Any]], Statement]] = {
    "compared": _compared,
    "beats": _beats,
    "as_strong": _as_strong,
    "as_weak": _as_weak,
    "matches": _matches,
    "share_compared": _share_compared,
    "share_times": _share_times,
    "keeps": _keeps,
    "lost": _lost,
    "lost_strength": lambda parts: Statement(Form.LOST_STRENGTH, negated=_negated(parts)),
    "lost_nothing": lambda parts: Statement(Form.LOST_NOTHING, negated=_negated(parts)),
    "lost_most_of": lambda parts: Statement(
        Form.LOST, object=_object(parts), amount=replace(_half(50.0), near=Near.AT_LEAST), own=_has(parts, "OWN")
    ),
    "halved": lambda _: Statement(Form.KEEPS, amount=_half(50.0)),
    "share_most": lambda parts: Statement(
        Form.SHARE_MOST if _has(parts, "KEEPS_MOST", "LOST_LEAST") else Form.SHARE_LEAST, negated=_negated(parts)
    ),
    "same": _likeness(Form.SAME),
    "different": _likeness(Form.DIFFERENT),
    "no_difference": lambda parts: Statement(Form.SAME, object=_object(parts)),
    "apart": lambda parts: Statement(Form.APART, object=_object(parts)),
    "most": _most,
    "place": _place,
    "steadier": _steadier,
    "steadiest": lambda parts: Statement(
        Form.STEADIEST if _has(parts, "STEADIEST") else Form.LEAST_STEADY, negated=_negated(parts)
    ),
    "scatters": lambda parts: Statement(Form.SCATTERS, amount=_amount(parts)),
    "reading": _reading,
    "torn": _torn,
}


def _named(parts: Sequence[Any]) -> Who:
    return Who(refs=tuple(_typed(one).ref for one in parts if _is(one, "NAME")))  # type: ignore[misc]


def _table_torn(parts: Sequence[Any]) -> list[Statement]:
    return [Statement(Form.TORN_AVERAGE, subject=_named(parts), amount=_amount(parts))]


def _pieces_at(parts: Sequence[Any]) -> list[Statement]:
    numbers = [_typed(one).amount for one in parts if _is(one, "NUM")]
    read = _amount(list(reversed(parts)))
    counts = [one.value for one in numbers if one is not None and one is not read]
    what = "below" if _has(parts, "BELOW_LINE") else "above"
    how = "none" if _has(parts, "NONE", "NO") else "all" if _has(parts, "ALL") else ""
    return [
        Statement(
            Form.PIECES_AT,
            subject=_named(parts),
            amount=read,
            what=what,
            against=how,
            count=counts[0] if counts else None,
            of=counts[1] if len(counts) > 1 else None,
        )
    ]


def _ends(parts: Sequence[Any]) -> list[Statement]:
    kinds = {"LEAST": "least", "WEAKEST": "least", "GREATEST": "greatest", "STRONGEST": "greatest"}
    split = next(at for at, one in enumerate(parts) if _has([one], "BEATS", "STRONGER", "WEAKER"))
    first, second = parts[:split], parts[split:]
    if _is(second[0], "WEAKER"):
        first, second = second[1:], first
    ends = [next(kinds[one.type] for one in side if isinstance(one, Token) and one.type in kinds)
            for side in (first, second)]  # fmt: skip
    return [
        Statement(
            Form.ENDS, subject=_named(first), object=_named(second), what=ends[0], against=ends[1],
            count=float(sum(_is(one, "NAME") for one in first)), of=float(sum(_is(one, "NAME") for one in second)),
        )
    ]  # fmt: skip


def _counts(parts: Sequence[Any]) -> list[float]:
    return [_typed(one).amount.value for one in parts if _is(one, "NUM")]  # type: ignore[union-attr]


def _torn_some(parts: Sequence[Any]) -> list[Statement]:
    counts = _counts(parts)
    return [replace(_torn_of(parts), count=counts[0], of=counts[1] if len(counts) > 1 else None)]


def _torn_share(parts: Sequence[Any]) -> list[Statement]:
    how = "none" if _has(parts, "NONE", "NO") else "all" if _has(parts, "ALL") else "mostly"
    share = _first(parts, "PCT")
    return [replace(_torn_of(parts), against="" if share else how, amount=None if share is None else share.amount)]


def _torn_of(parts: Sequence[Any]) -> Statement:
    return Statement(Form.TORN, subject=_named(parts), what="wood" if _has(parts, "IN_WOOD") else "glue")


def _chain(refs: Sequence[Any]) -> list[Statement]:
    return [
        Statement(Form.STRONGER, subject=Who(refs=(first,)), object=Who(refs=(second,)))
        for first, second in pairwise(refs)
    ]


def _in_order(parts: Sequence[Any]) -> list[Statement]:
    refs = _refs(next(one for one in parts if isinstance(one, Tree)))
    return _chain(refs if _has(parts, "DOWNWARDS") else tuple(reversed(refs)))


def _between(form: Form) -> Callable[[Sequence[Any]], list[Statement]]:
    return lambda parts: [Statement(form, subject=Who(refs=_refs(next(one for one in parts if isinstance(one, Tree)))))]


def _factors(parts: Sequence[Any]) -> tuple[str, ...]:
    return tuple(_typed(one).ref.key[0] for one in parts if _is(one, "FACTOR"))  # type: ignore[union-attr]


def _conditions(parts: Sequence[Any]) -> tuple[Any, ...]:
    return tuple(_typed(one).ref for one in parts if _is(one, "COND"))


_WHOLE: dict[str, Callable[[Sequence[Any]], list[Statement]]] = {
    "downwards": lambda parts: _chain(_named(parts).refs),
    "upwards": lambda parts: _chain(tuple(reversed(_named(parts).refs))),
    "in_order": _in_order,
    "no_difference_between": _between(Form.SAME),
    "apart_between": _between(Form.APART),
    "matters": lambda parts: [Statement(Form.MATTERS, factors=_factors(parts), negated=_negated(parts))],
    "factor_same": lambda parts: [Statement(Form.FACTOR_SAME, factors=_factors(parts))],
    "makes": lambda parts: [
        Statement(Form.MAKES, subject=_named(parts), what="stronger" if _has(parts, "MAKES_STRONGER") else "weaker")
    ],
    "costs": lambda parts: [
        Statement(
            Form.LOST, subject=_named(parts), amount=_amount(parts) or _half(50.0), own=True, where=_conditions(parts)
        )
    ],
    "no_difference_to": lambda parts: [Statement(Form.LOST_NOTHING, subject=_named(parts), where=_conditions(parts))],
    "table_reading": lambda parts: [replace(_reading(parts), subject=_named(parts))],
    "table_scatter": lambda parts: [Statement(Form.SCATTERS, subject=_named(parts), amount=_amount(parts))],
    "table_torn": _table_torn,
    "pieces_at": _pieces_at,
    "count": lambda parts: [Statement(Form.COUNT, subject=_named(parts), count=_counts(parts)[0])],
    "ends": _ends,
    "torn_some": _torn_some,
    "torn_share": _torn_share,
}
