"""Routes of the timetable."""

from fastapi import APIRouter
from starlette.responses import Response

from adhaero.api.body import Sent
from adhaero.api.common import RowId, TrialId
from adhaero.api.context import JsonLines, Shop, as_json, as_json_lines
from adhaero.bench.timetable import search
from adhaero.bench.timetable import view as timetable_view
from adhaero.bench.timetable.search import Pin
from adhaero.bench.timetable.view import TimetableEntry

router = APIRouter(tags=["timetable"])


@router.get("/api/trials/{trial_id}/timetable", response_model=timetable_view.TimetableView)
def get_timetable(shop: Shop, trial_id: TrialId) -> Response:
    """Return the timetable of a trial."""
    return as_json(timetable_view.view_timetable(shop.file, trial_id))


@router.post(
    "/api/trials/{trial_id}/timetable",
    response_class=JsonLines,
    responses={200: {"model": search.Found, "description": "One line for each better timetable, then the end"}},
)
def make_timetable(shop: Shop, trial_id: TrialId, body: Sent[TimetableEntry]) -> JsonLines:
    """Search the best timetable; a line of JSON tells how far it has come, and the best is kept."""
    return as_json_lines(search.make_timetable(shop.file, trial_id, body))


@router.delete("/api/trials/{trial_id}/timetable", status_code=204)
def remove_timetable(shop: Shop, trial_id: TrialId) -> None:
    """Take the timetable away."""
    search.remove_timetable(shop.file, trial_id)


@router.patch("/api/trials/{trial_id}/timetable/tasks/{task_id}", status_code=204)
def pin_task(shop: Shop, trial_id: TrialId, task_id: RowId, body: Sent[Pin]) -> None:
    """Pin a task, or let it move again."""
    search.pin_task(shop.file, trial_id, task_id, pinned=body.pinned, begin_utc=body.begin_utc)
