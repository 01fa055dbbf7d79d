"""Conclusions held against the numbers: what was understood, how it stands, and the numbers that say so."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from adhaero.core.claims.evidence import Evidence
from adhaero.core.claims.names import Names
from adhaero.core.claims.reading import Clause, read_conclusion
from adhaero.core.claims.set_claims import judge
from adhaero.core.claims.standing import Standing

CHECKABLE = (
    "Heron is stronger than Wren",
    "Heron is about 20 % stronger than Wren, and at least as strong as Solid",
    "Heron keeps 80 % of the strength of Solid; Wren lost a third of it",
    "Heron and Wren are the same, or cannot be told apart",
    "Heron is the strongest, Wren the weakest",
    "Heron, then Wren, then Plover",
    "Every glue but Wren beats Solid",
    "Wren is steadier than Heron",
    "The average of Heron is 9.4 MPa; no piece of it broke below 8 MPa",
    "7 of 8 pieces of Heron tore in the wood",
    "Slope matters more than glue",
    "After 4 h it has 90 % of its final strength",
)


@dataclass(frozen=True)
class Answer:
    """One clause of a conclusion.

    Attributes
    ----------
    conclusion : of which conclusion, from 0; text : the clause as written.
    understood : what it claims, in one sentence; words : the numbers that say how it stands, or why it cannot be told.
    left_out : hedges; not_understood : words that are none; taken_as : names mended.
    """

    conclusion: int
    text: str
    understood: str
    standing: Standing
    words: str
    left_out: tuple[str, ...] = ()
    not_understood: tuple[str, ...] = ()
    taken_as: dict[str, str] = field(default_factory=dict)


def check_conclusions(texts: Sequence[str], evidence: Evidence) -> list[Answer]:
    """Return how every clause of several conclusions stands."""
    if evidence.curves:
        return [one for number, text in enumerate(texts) for one in _check_curves(number, text, evidence)]
    one = evidence.one_slice
    names = Names(evidence.refs, None if one is None else one.control)
    found = []
    for number, text in enumerate(texts):
        clauses = read_conclusion(text, names)
        if not clauses and text.strip():
            clauses = [Clause(text.strip(), None, "there is no claim in it")]
        found += [one for clause in clauses for one in _answer(number, clause, evidence)]
    return found


def _check_curves(number: int, text: str, evidence: Evidence) -> list[Answer]:
    from adhaero.core.claims.curve_claims import check_curve_claim

    return [
        Answer(number, said, verdict.understood, verdict.standing, _sentence(verdict.words))
        for said, verdict in check_curve_claim(text, evidence)
    ]


def _answer(number: int, clause: Clause, evidence: Evidence) -> list[Answer]:
    extras = (clause.left_out, clause.not_understood, dict(clause.taken_as))
    if clause.statement is None:
        return [Answer(number, clause.text, "", Standing.NOT_CHECKED, _sentence(clause.why), *extras)]
    answers = []
    for statement in clause.statement.chain or (clause.statement,):
        verdict = judge(statement, evidence)
        answers.append(
            Answer(number, clause.text, verdict.understood, verdict.standing, _sentence(verdict.words), *extras)
        )
    return answers


def _sentence(words: str) -> str:
    words = words.strip()
    return f"{words[:1].upper()}{words[1:]}." if words and words[-1] not in ".…" else f"{words[:1].upper()}{words[1:]}"


def say_claim(one: Answer) -> str:
    """Return a clause with its standing in one line."""
    understood = f" (understood: {one.understood})" if one.understood else ""
    return f"“{one.text}”: {one.standing}{understood}. {one.words}"
