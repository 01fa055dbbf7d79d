"""Guess and conclusion held against the numbers, and what would change the verdict."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from adhaero.bench.compare.breaks import Breaks, Choice, collect_breaks
from adhaero.bench.compare.curves import find_curve_evidence
from adhaero.bench.compare.findings.asked import Asked
from adhaero.bench.compare.findings.changes import check, find_changes
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import kept
from adhaero.core.claims.check import CHECKABLE, Answer
from adhaero.core.claims.pass_claims import PASS_CHECKABLE, check_passes
from adhaero.core.claims.standing import Standing
from adhaero.core.response import Response
from adhaero.core.stats.pass_groups import compare_passes
from adhaero.core.units import Units
from adhaero.store.file import ShopFile


@dataclass(frozen=True)
class ChecksView:
    """What the person guessed and concludes, and how it stands.

    Attributes
    ----------
    conclusion, claims, guess_claims : what the person concludes, and guessed, clause by clause.
    checkable : what a conclusion may say to be checked.
    changes : what would change the verdict, in sentences.
    """

    conclusion: str
    claims: list[Answer]
    guess_claims: list[Answer]
    checkable: Sequence[str]
    changes: list[str]


def view_checks(file: ShopFile, trial_id: int, choice: Choice) -> ChecksView:
    """Return how guess and conclusion stand, and what would change the verdict."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_result_units(connection, facts, choice)
    return _view(facts, units, choice)


@kept(most=32)
def _view(facts: PieceFacts, units: Units, choice: Choice) -> ChecksView:
    trial, breaks = facts.trial, collect_breaks(facts, choice)
    if breaks.analysis is None:
        claims, guesses = (_check_passes(breaks, text) for text in (trial.conclusion, trial.guess))
        return ChecksView(trial.conclusion, claims, guesses, PASS_CHECKABLE if breaks.passes else CHECKABLE, [])
    changes = list(find_changes(Asked(facts, breaks, breaks.analysis)))
    if not (trial.conclusion.strip() or trial.guess.strip()):
        return ChecksView(trial.conclusion, [], [], CHECKABLE, changes)
    # held against the strengths of all pieces, whatever else is looked at meanwhile
    strengths = collect_breaks(facts, replace(choice, response=Response.STRENGTH, slice=""))
    whole = breaks if strengths.analysis is None else strengths
    assert whole.analysis is not None
    claimed = Asked(facts, whole, whole.analysis)
    curves = find_curve_evidence(facts, whole, units)
    claims, guesses = (
        _join(_check_passes(breaks, text), check(claimed, text, curves)) for text in (trial.conclusion, trial.guess)
    )
    checkable = (*PASS_CHECKABLE, *CHECKABLE) if breaks.passes else CHECKABLE
    return ChecksView(trial.conclusion, claims, guesses, checkable, changes)


def _check_passes(breaks: Breaks, text: str) -> list[Answer]:
    """Return the clauses held against what passed; none where nothing is to pass or fail."""
    if not breaks.passes or not text.strip():
        return []
    return check_passes(text, compare_passes(breaks.passes, list(dict.fromkeys(one for one, _, _ in breaks.passes))))


def _join(of_passes: Sequence[Answer], of_strengths: Sequence[Answer]) -> list[Answer]:
    """Return each clause by what it is about: passes where it is read so, else strengths."""
    read = [one for one in of_passes if one.standing is not Standing.NOT_CHECKED]
    texts = {one.text.strip(" .") for one in read}
    return [*read, *(one for one in of_strengths if one.text.strip(" .") not in texts)]
