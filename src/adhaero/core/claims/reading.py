"""A conclusion read sentence by sentence, clause by clause: nothing is claimed by words that were skipped."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from adhaero.core.claims.lexing import DROPPED, Typed, are_values, combine, lex
from adhaero.core.claims.names import Names, Ref
from adhaero.core.claims.normal_form import Form, Statement, Who, Whom
from adhaero.core.claims.parsing import parse

_ENDS = frozenset(".;!?")
# kinds of words with which a clause of its own begins after “and” or a comma
_OWN = frozenset(
    {
        "STRONGER", "BEATS", "WEAKER", "LOSES", "AS_STRONG", "AS_WEAK", "AT_LEAST_AS_STRONG", "NEARLY_AS_STRONG",
        "REACHES", "MATCHES", "SAME", "NO_DIFFERENCE", "DIFFERENT", "APART", "MATTERS_MORE", "MAKES_STRONGER",
        "MAKES_WEAKER", "KEEPS", "LOST", "GAINED", "LOST_STRENGTH", "LOST_NOTHING", "LOST_MOST_OF", "LOST_MOST",
        "KEEPS_MOST", "KEEPS_LEAST", "LOST_LEAST", "KEEPS_MORE", "KEEPS_LESS", "LOSES_MORE", "LOSES_LESS",
        "HALVED", "STRONGEST", "WEAKEST", "ORD", "STEADIER", "LESS_STEADY", "STEADIEST", "LEAST_STEADY",
        "SCATTERS", "AVERAGE", "TORN_AVERAGE", "MEDIAN", "LEAST", "GREATEST", "BROKE", "BELOW_LINE", "ABOVE_LINE",
        "IN_WOOD", "IN_GLUE", "PCT", "TIMES", "QTY",
    }
)  # fmt: skip
_AMOUNT_FORMS = frozenset({Form.KEEPS, Form.LOST, Form.GAINED, Form.STRONGER, Form.WEAKER})
_VERBS = frozenset({"KEEPS", "REACHES", "OF", "AT", "AS_STRONG", "AS_WEAK", "OWN", "HALVED"})
_WITH_OBJECT = frozenset(
    {
        Form.STRONGER, Form.WEAKER, Form.NEARLY, Form.AT_LEAST_AS_STRONG, Form.AS_STRONG, Form.SAME, Form.DIFFERENT,
        Form.APART, Form.KEEPS, Form.LOST, Form.GAINED, Form.STEADIER, Form.LESS_STEADY, Form.SHARE_MORE,
        Form.SHARE_LESS,
    }
)  # fmt: skip
_PREPOSITIONS = frozenset({"IN", "AFTER", "ON", "BY", "AT"})


@dataclass(frozen=True)
class Clause:
    """One clause: what it claims, or why it claims nothing that can be checked.

    Attributes
    ----------
    left_out : hedges; not_understood : words that are none; taken_as : names mended, as written and as taken.
    """

    text: str
    statement: Statement | None
    why: str = ""
    left_out: tuple[str, ...] = ()
    not_understood: tuple[str, ...] = ()
    taken_as: tuple[tuple[str, str], ...] = ()


@dataclass
class _Before:
    """What clauses before have said: what a clause leaves out is taken from there."""

    statement: Statement | None = None
    together: tuple[Ref, ...] = ()
    where: tuple[Ref, ...] = ()


def read_conclusion(text: str, names: Names) -> list[Clause]:
    """Return the clauses of a conclusion in order."""
    found: list[Clause] = []
    before = _Before()
    for line in text.splitlines():
        best: tuple[list[Clause], _Before] | None = None
        for typed in lex(line, names):
            after = replace(before)
            clauses = [one for sentence in _split_sentences(typed) for one in _read_sentence(line, sentence, after)]
            if best is None:
                best = clauses, after
            if all(one.statement is not None for one in clauses):
                best = clauses, after
                break
        if best is not None:
            found += best[0]
            before = best[1]
    return found


def _split_sentences(typed: Sequence[Typed]) -> Iterator[list[Typed]]:
    sentence: list[Typed] = []
    for one in typed:
        sentence.append(one)
        if one.kind == "UNKNOWN" and one.text in _ENDS:
            yield sentence
            sentence = []
    if sentence:
        yield sentence


def _read_sentence(line: str, sentence: list[Typed], before: _Before) -> Iterator[Clause]:
    asked = sentence[-1].text == "?" and sentence[-1].kind == "UNKNOWN"
    if sentence[-1].kind == "UNKNOWN" and sentence[-1].text in _ENDS:
        sentence = sentence[:-1]
    if not any(one.kind != "COMMA" for one in sentence):
        return
    text = line[sentence[0].start : sentence[-1].end]
    if asked:
        yield Clause(text, None, "a question claims nothing")
        return
    first = True
    for clause in _split_clauses(sentence):
        yield _read_clause(line, clause, before, begins=first)
        first = False


def _split_clauses(sentence: Sequence[Typed]) -> list[list[Typed]]:
    """Return the clauses of a sentence: at “but”, “because” and the like, and where a claim of its own follows."""
    pieces: list[list[Typed]] = [[]]
    for one in sentence:
        if one.kind == "BUT":
            pieces.append([])
        else:
            pieces[-1].append(one)
    found = []
    for piece in pieces:
        found += _split_joined(piece)
    return [one for one in (_trim(clause) for clause in found) if one]


def _split_joined(piece: list[Typed]) -> list[list[Typed]]:
    marks = [at for at, one in enumerate(piece) if one.kind in ("AND", "COMMA")]
    chunks, start = [], 0
    for turn, at in enumerate(marks):
        end = marks[turn + 1] if turn + 1 < len(marks) else len(piece)
        if _claims(piece[start:at]) and _claims(piece[at + 1 : end]):
            chunks.append(piece[start:at])
            start = at + 1
    return [*chunks, piece[start:]]


def _claims(words: Sequence[Typed]) -> bool:
    return any(one.kind in _OWN for one in words)


def _trim(clause: list[Typed]) -> list[Typed]:
    """Return a clause without the marks at its ends."""
    while clause and clause[0].kind in ("COMMA", "AND"):
        clause = clause[1:]
    while clause and clause[-1].kind in ("COMMA", "AND"):
        clause = clause[:-1]
    return clause


def _read_clause(line: str, clause: list[Typed], before: _Before, *, begins: bool) -> Clause:
    text = line[clause[0].start : clause[-1].end]
    hedges = tuple(one.text for one in clause if one.kind == "HEDGE")
    mended = tuple((one.mended, one.ref.words) for one in clause if one.mended and one.ref is not None)
    words = [one for one in clause if one.kind not in DROPPED]
    unknown = tuple(one.text for one in words if one.kind == "UNKNOWN")
    made = Clause(text, None, left_out=hedges, taken_as=mended)
    if together := _find_together(words):
        before.together = together
    if any(one.kind == "POSSIBLE" for one in words):
        return replace(made, why="a possibility claims nothing", not_understood=unknown)
    if unknown:
        listed = ", ".join(f"“{one}”" for one in unknown)
        return replace(made, why=f"not understood: {listed}", not_understood=unknown)
    if not words:
        return replace(made, why="there is no claim in it")
    words, where, base, head = _take_conditions(words)
    words, within = _take_values(_drop_factors(words))
    if len(set(where)) > 1 and not _stand_together(clause, where):
        return replace(made, why="two conditions in one clause are not compared")
    if begins and head:
        before.where = where
    statements = parse(_trim(words)) if words else None
    if statements is None:
        return replace(made, why="this is no claim that is understood", not_understood=(text,))
    statement = _complete(statements[0], before, clause)
    if isinstance(statement, str):
        return replace(made, why=statement)
    statement = replace(statement, where=statement.where or where or before.where, base=base)
    statement = _within(statement, within)
    if len(statements) > 1:
        chain = tuple(_within(replace(one, where=statement.where), within) for one in statements)
        statement = replace(statement, chain=chain)
    before.statement = statement
    return replace(made, statement=statement)


def _find_together(words: Sequence[Typed]) -> tuple[Ref, ...]:
    """Return the last names that stand together in a clause: “Heron and Wren”."""
    found: tuple[Ref, ...] = ()
    run: list[Ref] = []
    for one in words:
        if one.kind == "NAME" and one.ref is not None:
            run.append(one.ref)
        elif one.kind not in ("AND", "COMMA"):
            run = []
        if len(run) > 1:
            found = tuple(run)
    return found


def _take_conditions(words: list[Typed]) -> tuple[list[Typed], tuple[Ref, ...], Ref | None, bool]:
    """Return the words without the slices that they name, these, the base of a share, and whether a slice led."""
    if len(words) > 1 and words[0].kind == "COND" and words[1].kind in ("LOST", "HALVED", "NO_DIFFERENCE"):
        return words, (), None, False
    rest: list[Typed] = []
    found: list[Ref] = []
    base: Ref | None = None
    head = False
    for one in words:
        if one.kind != "COND" or one.ref is None:
            rest.append(one)
            continue
        if rest and rest[-1].kind == "OWN":
            # “its dry strength”: the base that a share is of
            base = one.ref
            continue
        if rest and rest[-1].kind in _PREPOSITIONS:
            rest.pop()
        head = head or not rest
        found.append(one.ref)
    return _trim(rest), tuple(found), base, head


def _stand_together(clause: Sequence[Typed], where: Sequence[Ref]) -> bool:
    """Return whether several slices are named together, “dry and soaked”, and not one here and one there."""
    places = [at for at, one in enumerate(clause) if one.kind == "COND" and one.ref in where]
    between = clause[places[0] : places[-1] + 1]
    return all(one.kind in ("COND", "AND", "COMMA") for one in between)


def _take_values(words: list[Typed]) -> tuple[list[Typed], tuple[Ref, ...]]:
    """Return the words without a value that stands as a condition, at the head or the end: “on planed wood”."""
    if len(words) > 3 and words[0].kind in _PREPOSITIONS and _is_value(words[1]):
        rest = _trim(words[2:])
        if rest and _is_value(rest[0]) and words[1].ref is not None:
            return rest, (words[1].ref,)
    if len(words) > 3 and words[-2].kind in _PREPOSITIONS and _is_value(words[-1]) and words[-1].ref is not None:
        return words[:-2], (words[-1].ref,)
    return words, ()


def _is_value(one: Typed) -> bool:
    return one.kind == "NAME" and one.ref is not None and one.ref.kind == "value"


def _within(statement: Statement, within: tuple[Ref, ...]) -> Statement:
    """Return a statement whose values of factors are taken at another value: Heron and Wren, both planed."""
    if not within:
        return statement

    def at(who: Who | None) -> Who | None:
        if who is None:
            return None
        refs = tuple(combine(one, within[0]) if are_values(one, within[0]) else one for one in who.refs)
        return replace(who, refs=refs)

    return replace(statement, subject=at(statement.subject), object=at(statement.object))


def _drop_factors(words: list[Typed]) -> list[Typed]:
    """Return the words without names of factors where these say nothing: “the glue Heron”."""
    speaking = {"MATTERS_MORE", "NO_DIFFERENCE", "STRONGEST", "WEAKEST"}
    if any(one.kind in speaking for one in words):
        return words
    return [one for one in words if one.kind != "FACTOR"]


def _complete(statement: Statement, before: _Before, clause: Sequence[Typed]) -> Statement | str:
    """Return a statement with what it leaves out taken from the clause before; words where that cannot be."""
    last = before.statement
    subject = _resolve(statement.subject, before)
    if isinstance(subject, str):
        return subject
    if subject is None and statement.form not in (Form.MATTERS, Form.FACTOR_SAME):
        if last is None or last.subject is None:
            return "of what: nothing is named"
        subject = last.subject
    obj = _resolve(statement.object, before)
    if isinstance(obj, str):
        return obj
    if statement.form is Form.KEEPS and not any(one.kind in _VERBS or _is_verb(one) for one in clause):
        # “Heron kept 80 % and Wren 40 %”: the verb is that of the clause before
        if last is None or last.amount is None or last.form not in _AMOUNT_FORMS:
            return "what is claimed of the amount is not said"
        statement = replace(statement, form=last.form, own=last.own, negated=last.negated)
    same_subject = subject is not None and last is not None and subject == last.subject
    if obj is None and statement.form in _WITH_OBJECT and not statement.own and last is not None:
        obj = _take_object(statement, subject, last, same_subject=same_subject)
    return replace(statement, subject=subject, object=obj)


def _is_verb(one: Typed) -> bool:
    return one.kind == "FILLER" and one.text.lower() in ("has", "have", "had", "is", "are", "was", "were")


def _take_object(statement: Statement, subject: Who | None, last: Statement, *, same_subject: bool) -> Who | None:
    if statement.form in (Form.SAME, Form.DIFFERENT, Form.APART) and subject is not None and len(subject.refs) > 1:
        return None
    if last.object is not None and (same_subject or last.object != subject):
        return last.object
    if subject is not None and last.subject is not None and len(last.subject.refs) == 2 and len(subject.refs) == 1:
        rest = tuple(one for one in last.subject.refs if one not in subject.refs)
        if len(rest) == 1:
            return Who(refs=rest)
    return None


def _resolve(who: Who | None, before: _Before) -> Who | str | None:
    """Return whom a pronoun means; words where nobody was named."""
    if who is None or who.whom not in (Whom.IT, Whom.THEY, Whom.BOTH):
        return who
    last = before.statement.subject if before.statement is not None else None
    if who.whom is Whom.IT:
        if last is None or last.whom is not Whom.NAMED or len(last.refs) != 1:
            return Who(Whom.IT)
        return last
    if last is not None and last.whom is Whom.NAMED and len(last.refs) > 1:
        return last
    if before.together:
        return Who(refs=before.together)
    return who
