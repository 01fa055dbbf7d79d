"""The practice rig's panel: putting a piece in, pumping, letting go. Its strengths are invented."""

import json
from math import exp

from adhaero.bench.book import Book, read_book
from adhaero.bench.rigs import RigHub
from adhaero.bench.shop import require_rig
from adhaero.core.errors import RigError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece

_TYPICAL_MPA = {"bending": 52.0, "shear": 8.0}
_SOLID_BONUS = 1.4
_CV_PCT = 9.0
_SECONDS_TO_BREAK = 9.0
_MOST_OF_CAPACITY = 0.8


def load_practice_piece(file: ShopFile, hub: RigHub, trial_id: int, piece_id: int, rig_id: int) -> dict[str, object]:
    """Put a piece into the practice rig; it will break near what its set broke at so far, else near an invented value.

    Raises
    ------
    RigError : a real rig, or the practice rig does not answer.
    """
    with file.reading() as connection:
        book = read_book(connection, trial_id)
        rig = require_rig(connection, rig_id)
    piece = book.piece(piece_id)
    expected = min(_expected_load_n(book, piece), _MOST_OF_CAPACITY * rig.capacity_n)
    command = {
        "specimen": piece.label,
        "expected_N": round(expected),
        "cv_pct": _CV_PCT,
        "mode": "snap",
        "rate_N_per_s": max(5, round(expected / _SECONDS_TO_BREAK)),
    }
    return hub.command_practice(rig_id, f"LOAD {json.dumps(command)}")


def _expected_load_n(book: Book, piece: Piece) -> float:
    loads = [
        result.load_n
        for other in book.pieces.values()
        if other.treatment_id == piece.treatment_id
        and (result := book.result_of(other)) is not None
        and result.load_n
        and other.excluded_reason is None
    ]
    if loads:
        return sum(loads) / len(loads)
    per_newton = book.strength_mpa(piece, 1.0)
    typical = _TYPICAL_MPA.get(FIXTURES[book.fixture].kind)
    if per_newton is None or typical is None:
        raise RigError(f"The sizes of {piece.label} are not known.", do="Type them in the plan first.")
    treatment = book.treatments[piece.treatment_id]
    bonus = _SOLID_BONUS if treatment.solid else exp(-0.14 * (treatment.rank - 1))
    return typical * bonus / per_newton
