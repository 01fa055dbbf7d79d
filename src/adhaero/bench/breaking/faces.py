"""Broken faces: those not judged yet, shuffled, so that nothing says set, board or load; and their photos."""

from collections.abc import Iterator
from dataclasses import dataclass
from random import Random

from adhaero.bench.breaking.attempts import require_pull
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.choice import Worded, offer
from adhaero.core.errors import StateError
from adhaero.core.pulls import FAILED_IN_WORDS, FailedIn, PullOutcome, PullState
from adhaero.files.photos import shrink_photo
from adhaero.store.file import ShopFile
from adhaero.store.photos import insert_photo
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull, amend_pull


@dataclass(frozen=True)
class FaceToJudge:
    """A broken face that is not judged: its piece and pull; nothing says its set, its board or its load."""

    piece_id: int
    label: str
    pull_id: int
    photo_id: int | None


@dataclass(frozen=True)
class FacesView:
    """The broken faces that are not judged, shuffled, and where a face can have failed."""

    faces: list[FaceToJudge]
    failures: list[Worded[FailedIn]]


def view_faces(file: ShopFile, trial_id: int) -> FacesView:
    """Return the broken faces of a trial that are not judged, in an order that says nothing of set or board."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    faces = [FaceToJudge(piece.id, piece.label, pull.id, pull.photo_id) for piece, pull in list_unjudged(facts)]
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


def add_face_photo(file: ShopFile, trial_id: int, pull_id: int, content: bytes) -> int:
    """Put a photo beside the broken face of a kept pull; return its id.

    Raises
    ------
    EntryError : it is no picture that can be read, or too large. StateError : the pull is not kept.
    """
    jpeg = shrink_photo(content)
    with file.changing("Added a photo of a broken face", trial_id) as connection:
        piece, pull = require_pull(read_trial(connection, trial_id), pull_id)
        if pull.state is not PullState.KEPT:
            raise StateError(f"This pull of {piece.label} is {pull.state}.", "Only a kept one has a face.")
        photo_id = insert_photo(connection, jpeg=jpeg, added_utc=file.now())
        amend_pull(connection, pull_id, photo_id=photo_id)
        return photo_id
