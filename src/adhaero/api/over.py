"""Routes across the stations: Today, rack, pieces in the making, undo, history, the stream of changes, the demo."""

import asyncio
from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel
from sse_starlette import EventSourceResponse
from starlette.responses import Response

from adhaero.api.body import Sent
from adhaero.api.common import RowId, Said, TrialId
from adhaero.api.context import Shop, as_json
from adhaero.api.demo import DEMO_PORT
from adhaero.bench.facts.entry import Why
from adhaero.bench.over import calendar, history, making, rack, today, undo, void
from adhaero.bench.plan import trials
from adhaero.bench.saw import labels
from adhaero.store.file import ShopFile
from adhaero.store.history import list_changed_trials, newest_change_id

router = APIRouter(tags=["over"])


@router.get("/api/trials/{trial_id}/rack", response_model=rack.RackView)
def get_rack(shop: Shop, trial_id: TrialId) -> Response:
    """Return the rack and the flow."""
    return as_json(rack.view_rack(shop.file, trial_id))


@router.delete("/api/trials/{trial_id}")
def remove_trial(shop: Shop, trial_id: TrialId) -> Said:
    """Put a trial away."""
    trials.remove_trial(shop.file, trial_id)
    return Said(what="Removed")


@router.post("/api/trials/{trial_id}/restore")
def put_back(shop: Shop, trial_id: TrialId) -> Said:
    """Put a removed trial back."""
    trials.put_trial_back(shop.file, trial_id)
    return Said(what="Put back")


@router.post("/api/trials/{trial_id}/undo")
def undo_change(shop: Shop, trial_id: TrialId) -> Said:
    """Take back the latest change."""
    return Said(what=undo.undo(shop.file, trial_id))


@router.post("/api/trials/{trial_id}/redo")
def redo_change(shop: Shop, trial_id: TrialId) -> Said:
    """Bring back the change that was undone last."""
    return Said(what=undo.redo(shop.file, trial_id))


@router.get("/api/trials/{trial_id}/history")
def get_history(
    shop: Shop, trial_id: TrialId, piece: Annotated[int | None, Query(ge=1, le=2**62)] = None
) -> history.HistoryView:
    """Return the latest changes, of a trial or of one piece: when, what, from what to what, and why."""
    return history.view_history(shop.file, trial_id, piece)


@router.get("/api/trials/{trial_id}/making", response_model=making.MakingView)
def get_making(shop: Shop, trial_id: TrialId) -> Response:
    """Return the pieces in the making."""
    return as_json(making.view_making(shop.file, trial_id))


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/void", status_code=204)
def void_piece(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[Why]) -> None:
    """Take a piece out before it was ever loaded."""
    void.void_piece(shop.file, trial_id, piece_id, body.reason)


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/restore", status_code=204)
def restore_piece(shop: Shop, trial_id: TrialId, piece_id: RowId) -> None:
    """Put a void piece back."""
    void.restore_piece(shop.file, trial_id, piece_id)


EVENTS_S = 0.2


class DemoAddress(BaseModel):
    """Where the demo opens, and whether it is there yet."""

    url: str
    ready: bool


@router.get("/api/today")
def get_today(shop: Shop) -> today.TodayView:
    """Return what stands over all trials now."""
    return today.view_today(shop.file)


class CalendarResponse(Response):
    """A calendar file."""

    media_type = "text/calendar"


@router.get("/api/calendar.ics", response_class=CalendarResponse)
def get_calendar(shop: Shop) -> CalendarResponse:
    """Return what comes by itself as a calendar that can be subscribed to."""
    return CalendarResponse(calendar.make_calendar(shop.file))


@router.get("/api/labels")
def find_label(shop: Shop, code: Annotated[str, Query(max_length=300)]) -> labels.FoundPiece:
    """Return the piece of a label by what its code holds."""
    return labels.find_piece(shop.file, code)


@router.post("/api/shop/undo")
def undo_shop(shop: Shop) -> Said:
    """Take back the latest change of the shop."""
    return Said(what=undo.undo(shop.file, None))


@router.post("/api/demo")
def open_demo(shop: Shop) -> DemoAddress:
    """Start the demo beside this shop, on a throw-away file; this shop stays as it is."""
    shop.demo.start()
    return find_demo(shop)


@router.get("/api/demo")
def find_demo(shop: Shop) -> DemoAddress:
    """Return where the demo opens, and whether it is there yet."""
    return DemoAddress(url=f"http://127.0.0.1:{DEMO_PORT}/", ready=shop.demo.is_ready())


@router.get(
    "/api/events",
    response_class=EventSourceResponse,
    responses={200: {"content": {"text/event-stream": {"schema": {"type": "string"}}}}},
)
async def events(request: Request, shop: Shop) -> EventSourceResponse:
    """Tell which trials changed, as they change; `shop` for the shop itself."""
    return EventSourceResponse(_changes(request, shop.file), ping=15)


async def _changes(request: Request, file: ShopFile) -> AsyncIterator[dict[str, str]]:
    seen = await asyncio.to_thread(_newest, file)
    yield {"event": "ready", "data": str(seen)}
    while not await request.is_disconnected():
        await asyncio.sleep(EVENTS_S)
        newest = await asyncio.to_thread(_newest, file)
        if newest > seen:
            for trial_id in await asyncio.to_thread(_changed, file, seen):
                yield {"event": "change", "data": "shop" if trial_id is None else str(trial_id)}
            seen = newest


def _newest(file: ShopFile) -> int:
    with file.reading() as connection:
        return newest_change_id(connection)


def _changed(file: ShopFile, after: int) -> list[int | None]:
    with file.reading() as connection:
        return list_changed_trials(connection, after)
