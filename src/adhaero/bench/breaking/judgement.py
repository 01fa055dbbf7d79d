"""The judgement of a broken face: torn wood, where it failed, and words."""

from dataclasses import dataclass
from typing import Literal, TypedDict

from adhaero.bench.breaking.attempts import require_pull
from adhaero.bench.facts.entry import Entry, Note, Short
from adhaero.bench.facts.reading import read_trial
from adhaero.core.choice import read_choice
from adhaero.core.errors import EntryError, ReasonNeeded, StateError
from adhaero.core.pulls import FailedIn, PullOutcome, PullState
from adhaero.core.quantity import Bounds, Kind, parse_quantity
from adhaero.store.file import ShopFile
from adhaero.store.pulls import amend_pull


@dataclass(frozen=True)
class Judgement(Entry):
    """What the person saw: what happened, torn wood in percent as typed, where it failed, a note."""

    outcome: PullOutcome | Literal[""]
    wood_failure: Short = ""
    failure: FailedIn | None = None
    note: Note = ""


class Judged(TypedDict):
    """What a person saw, as a pull keeps it."""

    outcome: PullOutcome
    wood_failure_pct: float | None
    failure: FailedIn | None
    note: str


def read_judgement(judgement: Judgement) -> Judged:
    """Return what a person saw as columns of a pull; raises `EntryError`."""
    if not judgement.outcome:
        raise EntryError(
            "It is not said what happened.", "It broke, it held, or it fell apart.", "Choose one.", field="outcome"
        )
    outcome = read_choice(PullOutcome, judgement.outcome, "outcome", "is no outcome")
    failure = (
        None if judgement.failure is None else read_choice(FailedIn, judgement.failure, "failure", "is no failure")
    )
    torn = None
    if judgement.wood_failure.strip():
        bounds = Bounds(0, 100, zero_allowed=True)
        torn = parse_quantity(judgement.wood_failure, Kind.PERCENT, bounds=bounds, field="wood_failure").si
    return Judged(outcome=outcome, wood_failure_pct=torn, failure=failure, note=judgement.note.strip()[:1000])


@dataclass(frozen=True)
class FaceEntry(Entry):
    """What is seen on a broken face: torn wood in percent as typed, and where it failed."""

    wood_failure: Short
    failure: FailedIn | None = None


def judge_face(file: ShopFile, trial_id: int, pull_id: int, entry: FaceEntry) -> None:
    """Judge the face of a kept break that was not judged yet.

    Raises
    ------
    ReasonNeeded : it was judged, and this is something else: that is a correction. StateError : it is not kept.
    """
    with file.changing("Judged a broken face", trial_id) as connection:
        piece, pull = require_pull(read_trial(connection, trial_id), pull_id)
        if pull.state is not PullState.KEPT or pull.outcome is None:
            raise StateError(f"This pull of {piece.label} is {pull.state}.", "Only a kept one has a face to judge.")
        seen = read_judgement(Judgement(pull.outcome, entry.wood_failure, entry.failure, pull.note))
        torn, failure = seen["wood_failure_pct"], seen["failure"]
        if (pull.wood_failure_pct is not None and torn != pull.wood_failure_pct) or (
            pull.failure is not None and failure != pull.failure
        ):
            raise ReasonNeeded(
                f"{piece.label} was judged already.",
                "What was seen first stays; a change of it is a correction.",
                "Choose “Correct” and say why.",
                field="wood_failure",
            )
        amend_pull(connection, pull_id, wood_failure_pct=torn, failure=failure)
