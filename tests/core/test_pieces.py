"""How far a piece has come, and what may be done to it then."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adhaero.core.errors import StateError
from adhaero.core.pieces import (
    ALLOWED,
    Act,
    PieceLife,
    PieceState,
    Standing,
    find_ready_at,
    find_release_due,
    find_state,
    list_allowed,
    require,
)

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


SAWN = Standing(PieceState.SAWN, *(False,) * 11)
IN_CLAMPS = SAWN._replace(state=PieceState.CLAMPED, in_glue_up=True, spread=True, closed=True, clamped=True)
CURED = IN_CLAMPS._replace(state=PieceState.READY, released=True)
BROKEN = CURED._replace(state=PieceState.BROKEN, loaded=True, known=True)


@pytest.mark.parametrize(
    ("standing", "acts"),
    [
        (SAWN._replace(state=PieceState.PLANNED), "saw change_treatment change_age untick mark_odd void"),
        (SAWN, "unsaw glue prepare change_treatment change_age untick mark_odd void"),
        (
            SAWN._replace(in_glue_up=True),
            "unsaw prepare coat spread clamp change_treatment change_age untick mark_odd void",
        ),
        (IN_CLAMPS, "keep_force release change_treatment swap_parts change_age untick mark_odd void"),
        (CURED, "change_treatment swap_parts change_age put_in untick mark_odd load void"),
        (CURED._replace(loaded=True, pulling=True), "put_in untick mark_odd"),
        (BROKEN, "exclude"),
        (BROKEN._replace(set_aside=True), "exclude include"),
        (
            IN_CLAMPS._replace(state=PieceState.VOID),
            "release change_treatment swap_parts untick mark_odd restore",
        ),
    ],
)
def test_what_may_be_done_follows_from_where_a_piece_stands(standing: Standing, acts: str) -> None:
    assert sorted(list_allowed(standing)) == sorted(acts.split())


@given(st.builds(Standing, st.sampled_from(PieceState), *[st.booleans()] * 11), st.sampled_from(Act))
def test_what_is_not_listed_is_refused_with_words(standing: Standing, act: Act) -> None:
    if act in list_allowed(standing):
        require(act, "W-01", standing)
    else:
        with pytest.raises(StateError, match=r"W-01.*\."):
            require(act, "W-01", standing)


def test_every_act_has_its_line_in_the_table() -> None:
    assert set(ALLOWED) == set(Act)
