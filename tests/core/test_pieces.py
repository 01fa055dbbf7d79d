"""How far a piece has come."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest

from adhaero.core.pieces import PieceLife, PieceState, find_ready_at, find_release_due, find_state

NOON = datetime(2026, 3, 1, 12, tzinfo=UTC)
GLUED = PieceLife(False, True, NOON, NOON, NOON + timedelta(hours=14), False, False, 14 * 3600, 24 * 3600)


@pytest.mark.parametrize(
    ("life", "hours", "state"),
    [
        (replace(GLUED, sawn=False, closed_at=None, clamped_at=None, released_at=None), 0, PieceState.PLANNED),
        (replace(GLUED, closed_at=None, clamped_at=None, released_at=None), 0, PieceState.SAWN),
        (replace(GLUED, clamped_at=None, released_at=None), 1, PieceState.SAWN),
        (replace(GLUED, released_at=None), 90, PieceState.CLAMPED),
        (GLUED, 23.9, PieceState.CURING),
        (GLUED, 24, PieceState.READY),
        (replace(GLUED, cure_time_s=None), 14, PieceState.READY),
        (replace(GLUED, broken=True), 0, PieceState.BROKEN),
        (replace(GLUED, void=True, broken=False), 99, PieceState.VOID),
        (replace(GLUED, solid=True, closed_at=None, clamped_at=None, released_at=None), 0, PieceState.READY),
        (replace(GLUED, solid=True, sawn=False, closed_at=None, clamped_at=None), 0, PieceState.PLANNED),
    ],
)
def test_a_piece_waits_for_its_next_step(life: PieceLife, hours: float, state: PieceState) -> None:
    assert find_state(life, NOON + timedelta(hours=hours)) is state


def test_cure_runs_from_closing_and_not_before_release() -> None:
    assert find_release_due(GLUED) == NOON + timedelta(hours=14)
    assert find_ready_at(GLUED) == NOON + timedelta(hours=24)
    late = replace(GLUED, released_at=NOON + timedelta(hours=30))
    assert find_ready_at(late) == NOON + timedelta(hours=30)
    assert find_release_due(replace(GLUED, clamped_at=None)) is None
