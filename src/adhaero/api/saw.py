"""Routes of the Saw station."""

from typing import Annotated

from fastapi import APIRouter, Query
from starlette.responses import HTMLResponse, Response, StreamingResponse

from adhaero.api.body import Sent
from adhaero.api.common import Created, RowId, TrialId
from adhaero.api.context import Shop, as_json
from adhaero.bench.facts.entry import Done, Rewrite
from adhaero.bench.plan import view as plan_view
from adhaero.bench.saw import cut_list, labels, steps
from adhaero.bench.saw import pieces as saw_pieces
from adhaero.bench.saw.pieces import SawnEntry
from adhaero.bench.saw.steps import WorkEntry
from adhaero.files.labels import SHEETS

router = APIRouter(tags=["saw"])


@router.get("/api/trials/{trial_id}/cut-list", response_model=cut_list.CutList)
def get_cut_list(shop: Shop, trial_id: TrialId) -> Response:
    """Return the cut list and the cut maps."""
    return as_json(cut_list.view_cut_list(shop.file, trial_id))


@router.post("/api/trials/{trial_id}/steps", status_code=201)
def add_step(shop: Shop, trial_id: TrialId, body: Sent[WorkEntry]) -> Created:
    """Add work on the parts besides the joint."""
    return Created(id=steps.add_step(shop.file, trial_id, body.words, body.turn))


@router.patch("/api/trials/{trial_id}/steps/{step_id}")
def tick_step(shop: Shop, trial_id: TrialId, step_id: RowId, body: Sent[Done]) -> plan_view.PlanView:
    """Tick a step off, or take the tick back."""
    steps.tick_step(shop.file, trial_id, step_id, done=body.done)
    return plan_view.view_plan(shop.file, trial_id)


@router.delete("/api/trials/{trial_id}/steps/{step_id}")
def remove_step(shop: Shop, trial_id: TrialId, step_id: RowId) -> plan_view.PlanView:
    """Remove a step."""
    steps.remove_step(shop.file, trial_id, step_id)
    return plan_view.view_plan(shop.file, trial_id)


SheetName = Annotated[str, Query(max_length=40)]


First = Annotated[int, Query(ge=1, le=1000)]


class SvgResponse(Response):
    """A drawing."""

    media_type = "image/svg+xml"


@router.post("/api/trials/{trial_id}/pieces/saw", status_code=204)
def mark_sawn(shop: Shop, trial_id: TrialId, body: Sent[SawnEntry]) -> None:
    """Tick pieces as sawn and labelled."""
    saw_pieces.mark_sawn(shop.file, trial_id, body.pieces, sawn=body.sawn)


@router.patch("/api/trials/{trial_id}/pieces/{piece_id}/label", status_code=204)
def relabel(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[Rewrite]) -> None:
    """Give a piece another label."""
    saw_pieces.relabel(shop.file, trial_id, piece_id, body.was, body.now)


@router.get("/api/trials/{trial_id}/label-sheets")
def list_label_sheets(trial_id: TrialId) -> list[labels.LabelSheet]:  # noqa: ARG001
    """Return the sheets that labels can be printed on."""
    return [labels.LabelSheet(name, sheet.words, sheet.places) for name, sheet in SHEETS.items()]


@router.get("/api/trials/{trial_id}/labels.svg", response_class=SvgResponse)
def draw_labels(
    shop: Shop, trial_id: TrialId, sheet: SheetName = "a4-3x8", first: First = 1, page: First = 1
) -> SvgResponse:
    """Return one page of labels, true to size."""
    drawn = labels.draw_label_page(shop.file, trial_id, shop.door.address, sheet, first, page)
    return SvgResponse(drawn)


@router.get("/api/trials/{trial_id}/labels.html", response_class=HTMLResponse)
def print_labels(shop: Shop, trial_id: TrialId, sheet: SheetName = "a4-3x8", first: First = 1) -> StreamingResponse:
    """Return all labels for the browser's print."""
    pages = labels.print_labels(shop.file, trial_id, shop.door.address, sheet, first)
    return StreamingResponse(pages, media_type="text/html")
