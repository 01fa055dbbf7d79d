"""Broken faces that are not judged yet, shuffled, so that nothing says set, board or load."""

from collections.abc import Iterator
from dataclasses import dataclass
from random import Random

from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.choice import Worded, offer
from adhaero.core.pulls import FAILED_IN_WORDS, FailedIn, PullOutcome
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull


@dataclass(frozen=True)
class FaceToJudge:
    """A broken face that is not judged: its piece and pull; nothing says its set, its board or its load."""

    piece_id: int
    label: str
    pull_id: int


@dataclass(frozen=True)
class FacesView:
    """The broken faces that are not judged, shuffled, and where a face can have failed."""

    faces: list[FaceToJudge]
    failures: list[Worded[FailedIn]]


def view_faces(file: ShopFile, trial_id: int) -> FacesView:
    """Return the broken faces of a trial that are not judged, in an order that says nothing of set or board."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    faces = [FaceToJudge(piece.id, piece.label, pull.id) for piece, pull in list_unjudged(facts)]
    # by a number that the seed gives each piece: the rest keeps its order while faces are judged
    faces.sort(key=lambda one: Random(f"{facts.trial.seed} face {one.piece_id}").random())
    return FacesView(faces, offer(FAILED_IN_WORDS))


def list_unjudged(facts: PieceFacts) -> Iterator[tuple[Piece, Pull]]:
    """Return the pieces with a broken face that is not judged, and the pull that broke each."""
    for piece in facts.pieces.values():
        pull = facts.result_of(piece)
        if (
            pull is not None
            and pull.outcome is not PullOutcome.HELD
            and pull.wood_failure_pct is None
            and not facts.treatments[piece.treatment_id].solid
        ):
            yield piece, pull
