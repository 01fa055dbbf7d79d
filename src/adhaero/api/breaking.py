"""Routes of the Break station, and the live view of a rig."""

import asyncio
from dataclasses import asdict
from typing import Annotated

from fastapi import APIRouter, Depends, Path, Query, Request, WebSocket, WebSocketDisconnect
from starlette.responses import PlainTextResponse

from adhaero.api.body import Sent
from adhaero.api.common import Created, RowId, Said, TrialId, raw_body
from adhaero.api.context import Context, Shop, get_context
from adhaero.bench.breaking import (
    corrections,
    faces,
    hand_break,
    load_point,
    log_pulls,
    practice_rig,
    pulls,
    recompute,
    stacks,
    typed_load,
)
from adhaero.bench.breaking import judgement as breaking_judgement
from adhaero.bench.breaking import view as breaking_view
from adhaero.bench.breaking.corrections import CorrectionEntry
from adhaero.bench.breaking.hand_break import HandBreak
from adhaero.bench.breaking.judgement import FaceEntry, Judgement
from adhaero.bench.breaking.live_rigs import LiveView
from adhaero.bench.breaking.load_point import PointEntry
from adhaero.bench.breaking.log_pulls import LogChoice, LogTake, LogView
from adhaero.bench.breaking.practice_rig import Command, PracticePiece
from adhaero.bench.breaking.pulls import ArmEntry
from adhaero.bench.breaking.recompute import RigChosen
from adhaero.bench.breaking.rig_used import Reading, Weighed
from adhaero.bench.breaking.stacks import StackEntry
from adhaero.bench.facts.entry import Why
from adhaero.core.errors import AdhaeroError

router = APIRouter(tags=["break"])


LIVE_S = 0.05


RowQuery = Annotated[int | None, Query(ge=1, le=2**62)]


@router.get("/api/trials/{trial_id}/break")
def get_break(shop: Shop, trial_id: TrialId, piece: RowQuery = None) -> breaking_view.BreakView:
    """Return the piece at the rig: the chosen one, else the next."""
    return breaking_view.view_break(shop.file, trial_id, piece)


@router.get("/api/trials/{trial_id}/typed-load")
def understand_load(
    shop: Shop,
    trial_id: TrialId,
    typed: Annotated[str, Query(max_length=200)],
    piece: RowQuery = None,
    rig: RowQuery = None,
    no_rig: bool = False,
    weighed: Weighed = Weighed.FULL,
) -> typed_load.TypedLoad:
    """Return what is understood of a load as it is being typed, and what is doubtful about it."""
    reading = Reading(load=typed, rig=rig, no_rig=no_rig, weighed=weighed)
    return typed_load.understand_load(shop.file, trial_id, piece, reading)


@router.post("/api/trials/{trial_id}/stack")
def weigh_stack(shop: Shop, trial_id: TrialId, body: Sent[StackEntry]) -> stacks.StackView:
    """Return what the plates on a hanger put on a piece, and which comes next; nothing is kept."""
    return stacks.weigh_stack(shop.file, trial_id, body, pulls.find_expected_low(shop.file, trial_id, body.piece))


@router.post("/api/trials/{trial_id}/breaks", status_code=201)
def break_by_hand(shop: Shop, trial_id: TrialId, body: Sent[HandBreak]) -> Created:
    """Keep a break that was read off by a person."""
    return Created(id=hand_break.break_by_hand(shop.file, trial_id, body))


@router.post("/api/trials/{trial_id}/pulls", status_code=201)
def arm(shop: Shop, trial_id: TrialId, body: Sent[ArmEntry]) -> Created:
    """Zero the rig and start recording a pull."""
    return Created(id=pulls.arm(shop.file, shop.hub, trial_id, body.piece, body.rig))


@router.post("/api/trials/{trial_id}/pulls/{pull_id}/stop", status_code=204)
def stop_pull(shop: Shop, trial_id: TrialId, pull_id: RowId) -> None:
    """End a running pull by hand."""
    pulls.stop_pull(shop.file, shop.hub, trial_id, pull_id)


@router.post("/api/trials/{trial_id}/pulls/{pull_id}/keep", status_code=204)
def keep_pull(shop: Shop, trial_id: TrialId, pull_id: RowId, body: Sent[Judgement]) -> None:
    """Keep a pull with what was seen."""
    pulls.keep_pull(shop.file, trial_id, pull_id, body)


@router.post("/api/trials/{trial_id}/pulls/{pull_id}/retry", status_code=204)
def retry_pull(shop: Shop, trial_id: TrialId, pull_id: RowId) -> None:
    """Lay a pull aside to try again."""
    pulls.retry_pull(shop.file, trial_id, pull_id)


@router.put("/api/trials/{trial_id}/pulls/{pull_id}/point", status_code=204)
def choose_point(shop: Shop, trial_id: TrialId, pull_id: RowId, body: Sent[PointEntry]) -> None:
    """Read the load of a pull elsewhere on its trace."""
    load_point.choose_point(shop.file, trial_id, pull_id, body)


@router.get("/api/trials/{trial_id}/faces")
def list_faces(shop: Shop, trial_id: TrialId) -> faces.FacesView:
    """Return the broken faces that are not judged, shuffled."""
    return faces.view_faces(shop.file, trial_id)


@router.post(
    "/api/trials/{trial_id}/pulls/{pull_id}/photo",
    status_code=201,
    openapi_extra=raw_body("image/*"),
)
async def add_face_photo(shop: Shop, trial_id: TrialId, pull_id: RowId, request: Request) -> Created:
    """Put a photo beside a broken face."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(faces.add_face_photo, shop.file, trial_id, pull_id, content))


@router.put("/api/trials/{trial_id}/pulls/{pull_id}/face", status_code=204)
def judge_face(shop: Shop, trial_id: TrialId, pull_id: RowId, body: Sent[FaceEntry]) -> None:
    """Judge the face of a kept break that was not judged yet."""
    breaking_judgement.judge_face(shop.file, trial_id, pull_id, body)


@router.post("/api/trials/{trial_id}/pulls/{pull_id}/correct", status_code=204)
def correct_break(shop: Shop, trial_id: TrialId, pull_id: RowId, body: Sent[CorrectionEntry]) -> None:
    """Correct a kept break; the old values stay, with the reason."""
    corrections.correct_break(shop.file, trial_id, pull_id, body)


@router.get("/api/trials/{trial_id}/older-calibrations")
def list_older_calibrations(shop: Shop, trial_id: TrialId) -> list[recompute.OlderBreaks]:
    """Return the breaks that were made with an older calibration than the newest of their rig."""
    return recompute.find_older(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/recompute")
def recompute_breaks(shop: Shop, trial_id: TrialId, body: Sent[RigChosen]) -> Said:
    """Compute breaks again with the newest calibration of a rig; the old numbers stay beside the new ones."""
    return Said(what=f"Computed {recompute.recompute(shop.file, trial_id, body.rig)} breaks again")


@router.put("/api/trials/{trial_id}/pieces/{piece_id}/odd", status_code=204)
def mark_odd(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[Why]) -> None:
    """Say that a piece looks odd, before its number is known."""
    hand_break.mark_odd(shop.file, trial_id, piece_id, body.reason)


@router.get("/api/pulls/{pull_id}/trace")
def get_trace(shop: Shop, pull_id: RowId) -> load_point.TraceView:
    """Return the trace of a pull."""
    return load_point.view_trace(shop.file, pull_id)


@router.get(
    "/api/pulls/{pull_id}/trace.csv", response_class=PlainTextResponse, responses={200: {"content": {"text/csv": {}}}}
)
def export_trace(shop: Shop, pull_id: RowId) -> PlainTextResponse:
    """Return the trace of a pull as text: seconds, N, mm where there are any."""
    head = {"Content-Disposition": f'attachment; filename="pull-{pull_id}.csv"'}
    return PlainTextResponse(load_point.export_trace(shop.file, pull_id), media_type="text/csv", headers=head)


@router.get("/api/trials/{trial_id}/treatments/{treatment_id}/traces")
def list_set_traces(shop: Shop, trial_id: TrialId, treatment_id: RowId) -> list[load_point.SetTrace]:
    """Return the kept traces of a set."""
    return load_point.view_set_traces(shop.file, trial_id, treatment_id)


_LOG_BODY = raw_body("text/plain")
Column = Annotated[str, Query(max_length=80)]


def _log_choice(
    rig: Annotated[int, Query(ge=1, le=2**62)],
    unit: Column = "",
    time: Column = "",
    load: Column = "",
    displacement: Column = "",
    rate: Column = "",
    take: LogTake = LogTake.TRIES,
    at_utc: Column = "",
) -> LogChoice:
    return LogChoice(rig, unit, time, load, displacement, rate, take, at_utc)


Choice = Annotated[LogChoice, Depends(_log_choice)]


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/look-at-log", openapi_extra=_LOG_BODY)
async def look_at_log(shop: Shop, trial_id: TrialId, piece_id: RowId, request: Request, choice: Choice) -> LogView:
    """Return what is understood of a log that other software recorded; nothing is kept."""
    content = await request.body()
    return await asyncio.to_thread(log_pulls.view_log, shop.file, trial_id, piece_id, content, choice)


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/take-log", openapi_extra=_LOG_BODY)
async def take_log(
    shop: Shop, trial_id: TrialId, piece_id: RowId, request: Request, choice: Choice, name: Column = "log"
) -> Said:
    """Take the pulls of a log; each waits to be judged."""
    content = await request.body()
    taken = await asyncio.to_thread(log_pulls.take_log, shop.file, trial_id, piece_id, name, content, choice)
    return Said(what=f"Took {taken} pulls")


@router.post("/api/rigs/{rig_id}/connect", status_code=204)
def connect(shop: Shop, rig_id: RowId) -> None:
    """Connect to a rig."""
    shop.hub.connect(rig_id)


@router.post("/api/rigs/{rig_id}/disconnect", status_code=204)
def disconnect(shop: Shop, rig_id: RowId) -> None:
    """Let go of a rig."""
    shop.hub.disconnect(rig_id)


@router.post("/api/rigs/{rig_id}/practice", status_code=204)
def command_practice(shop: Shop, rig_id: RowId, body: Sent[Command]) -> None:
    """Drive the practice rig."""
    shop.hub.command_practice(rig_id, body.command)


@router.post("/api/trials/{trial_id}/practice-rig", status_code=201)
def start_practice_rig(shop: Shop, trial_id: TrialId) -> Created:
    """Start a practice rig inside this program, for a practice trial."""
    return Created(id=practice_rig.start_rig(shop.file, shop.hub, trial_id))


@router.post("/api/trials/{trial_id}/pieces/practice", status_code=204)
def load_practice_piece(shop: Shop, trial_id: TrialId, body: Sent[PracticePiece]) -> None:
    """Put a piece into the practice rig."""
    practice_rig.load_practice_piece(shop.file, shop.hub, trial_id, body)


@router.get("/api/rigs/{rig_id}/live")
def get_live(shop: Shop, rig_id: RowId) -> LiveView:
    """Return what a rig shows now; over a WebSocket at the same address the same comes 20 times a second."""
    return shop.hub.view(rig_id, 0.0)


@router.websocket("/api/rigs/{rig_id}/live")
async def live(socket: WebSocket, rig_id: Annotated[int, Path(ge=1, le=2**62)]) -> None:
    """Send what a rig shows, 20 times a second: its state, its new samples, the pull it records."""
    context: Context = get_context(socket)
    await socket.accept()
    try:
        await asyncio.to_thread(context.hub.connect, rig_id)
    except AdhaeroError as error:
        await socket.close(4404, error.sentence[:120])
        return
    gone = asyncio.create_task(_wait_until_gone(socket))
    after = 0.0
    try:
        while not gone.done():
            view = context.hub.view(rig_id, after)
            if view.samples:
                after = view.samples[-1][0]
            await socket.send_json(asdict(view))
            await asyncio.sleep(LIVE_S)
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        gone.cancel()


async def _wait_until_gone(socket: WebSocket) -> None:
    try:
        while True:
            await socket.receive_text()
    except (WebSocketDisconnect, RuntimeError, KeyError):
        return
