"""Routes of the stations Saw, Glue and Cure."""

import asyncio
from typing import Annotated

from fastapi import APIRouter, Query, Request
from pydantic import Field
from starlette.responses import HTMLResponse, Response, StreamingResponse

from adhaero.api.body import Body, FamilyName, Unsaid
from adhaero.api.context import Shop, as_json
from adhaero.api.plan import BodyId, Created, Edit, RowId, TrialId
from adhaero.bench.cure import sizes
from adhaero.bench.glue import clamps, glue_ups, run_sheet, run_steps, wrong_set
from adhaero.bench.glue.run_sheet import GlueStep
from adhaero.bench.over import making, void
from adhaero.bench.saw import labels
from adhaero.bench.saw import pieces as saw_pieces
from adhaero.files.labels import SHEETS

router = APIRouter(prefix="/api/trials/{trial_id}", tags=["making"])


SheetName = Annotated[str, Query(max_length=40)]
First = Annotated[int, Query(ge=1, le=1000)]


class SvgResponse(Response):
    """A drawing."""

    media_type = "image/svg+xml"


class LabelSheet(Body):
    """A sheet of labels that can be printed on."""

    name: str
    words: str
    places: int


class Chosen(Body):
    """Chosen pieces, and when it was done if not now."""

    pieces: list[BodyId] = Field(max_length=20_000)
    at_utc: str | None = Field(default=None, max_length=40)


class Sawn(Body):
    """Pieces to tick as sawn, or to take the tick back from."""

    pieces: list[BodyId] = Field(max_length=20_000)
    sawn: bool = True


class NewBatch(Body):
    """A glue-up as typed."""

    pieces: list[BodyId] = Field(max_length=20_000)
    glue: str = Field(max_length=200)
    family: FamilyName | Unsaid = ""
    opened_on: str | None = Field(default=None, max_length=40)
    lot: str = Field(default="", max_length=80)
    kept: str = Field(default="", max_length=200)
    shop_temperature: str = Field(default="", max_length=60)
    humidity: str = Field(default="", max_length=60)
    wood_moisture: str = Field(default="", max_length=60)
    started_utc: str | None = Field(default=None, max_length=40)
    note: str = Field(default="", max_length=1000)


class RunStep(Chosen):
    """A step of the run sheet: `spread`, `closed` or `clamped`."""

    step: Annotated[GlueStep, Field(strict=False)]


class ClampForce(Body):
    """Pieces in the clamp that a load cell reads, and which rig reads it."""

    pieces: list[BodyId] = Field(max_length=1000)
    rig_id: BodyId


class Swap(Body):
    """The piece whose second part it got."""

    other: BodyId


class Moved(Body):
    """The set that a piece was really made as, and why it changes."""

    set_id: BodyId
    reason: str = Field(default="", max_length=300)


class Prepared(Body):
    """Pieces whose faces are prepared now, or not after all."""

    pieces: list[BodyId] = Field(max_length=20_000)
    done: bool = True


class Note(Body):
    """A note, and what stood there when it was shown."""

    was: str = Field(max_length=2000)
    now: str = Field(max_length=2000)


class Reason(Body):
    """Why."""

    reason: str = Field(max_length=1000)


class Label(Body):
    """A label as it was shown, and as it shall be."""

    was: str = Field(max_length=100)
    label: str = Field(max_length=100)


class Size(Body):
    """One measured size as typed, and what stood there when it was shown."""

    name: str = Field(max_length=40)
    was: str = Field(max_length=200)
    now: str = Field(max_length=200)


@router.get("/making", response_model=making.MakingView)
def get_making(shop: Shop, trial_id: TrialId) -> Response:
    """Return the pieces in the making."""
    return as_json(making.view_making(shop.file, trial_id))


@router.post("/sawn", status_code=204)
def mark_sawn(shop: Shop, trial_id: TrialId, body: Sawn) -> None:
    """Tick pieces as sawn and labelled."""
    saw_pieces.mark_sawn(shop.file, trial_id, body.pieces, sawn=body.sawn)


@router.post("/batches", status_code=201)
def start_batch(shop: Shop, trial_id: TrialId, body: NewBatch) -> Created:
    """Make a glue-up from chosen pieces."""
    entry = glue_ups.GlueUpEntry(body.pieces, **body.model_dump(exclude={"pieces"}))
    return Created(id=glue_ups.start_batch(shop.file, trial_id, entry))


@router.put("/batches/{batch_id}/note", status_code=204)
def note_batch(shop: Shop, trial_id: TrialId, batch_id: RowId, body: Note) -> None:
    """Write the note of a glue-up."""
    glue_ups.note_batch(shop.file, trial_id, batch_id, body.was, body.now)


@router.post("/clamps/on", status_code=204)
def clamps_on(shop: Shop, trial_id: TrialId, body: Chosen) -> None:
    """Record that clamps went on."""
    clamps.put_clamps_on(shop.file, trial_id, body.pieces, body.at_utc)


@router.post("/clamps/off", status_code=204)
def clamps_off(shop: Shop, trial_id: TrialId, body: Chosen) -> None:
    """Record that clamps came off."""
    clamps.take_clamps_off(shop.file, trial_id, body.pieces, body.at_utc)


@router.put("/pieces/{piece_id}/label", status_code=204)
def relabel(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Label) -> None:
    """Give a piece another label."""
    saw_pieces.relabel(shop.file, trial_id, piece_id, body.was, body.label)


@router.post("/pieces/{piece_id}/void", status_code=204)
def void_piece(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Reason) -> None:
    """Take a piece out before it was ever loaded."""
    void.void_piece(shop.file, trial_id, piece_id, body.reason)


@router.post("/pieces/{piece_id}/unvoid", status_code=204)
def unvoid_piece(shop: Shop, trial_id: TrialId, piece_id: RowId) -> None:
    """Put a void piece back."""
    void.unvoid_piece(shop.file, trial_id, piece_id)


@router.put("/pieces/{piece_id}/size", status_code=204)
def measure(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Size) -> None:
    """Write one measured size of a piece."""
    sizes.measure(shop.file, trial_id, piece_id, body.name, body.was, body.now)


@router.get("/label-sheets")
def list_label_sheets(trial_id: TrialId) -> list[LabelSheet]:  # noqa: ARG001
    """Return the sheets that labels can be printed on."""
    return [LabelSheet(name=name, words=sheet.words, places=sheet.places) for name, sheet in SHEETS.items()]


@router.get("/labels.svg", response_class=SvgResponse)
def draw_labels(
    shop: Shop, trial_id: TrialId, sheet: SheetName = "a4-3x8", first: First = 1, page: First = 1
) -> SvgResponse:
    """Return one page of labels, true to size."""
    drawn = labels.draw_label_page(shop.file, trial_id, shop.door.address, sheet, first, page)
    return SvgResponse(drawn)


@router.get("/labels.html", response_class=HTMLResponse)
def print_labels(shop: Shop, trial_id: TrialId, sheet: SheetName = "a4-3x8", first: First = 1) -> StreamingResponse:
    """Return all labels for the browser's print."""
    pages = labels.print_labels(shop.file, trial_id, shop.door.address, sheet, first)
    return StreamingResponse(pages, media_type="text/html")


@router.post("/prepared", status_code=204)
def mark_prepared(shop: Shop, trial_id: TrialId, body: Prepared) -> None:
    """Record that faces are prepared."""
    run_steps.mark_prepared(shop.file, trial_id, body.pieces, done=body.done)


@router.get("/batches/{batch_id}/run-sheet")
def get_run_sheet(shop: Shop, trial_id: TrialId, batch_id: RowId) -> run_sheet.RunSheet:
    """Return the run sheet of a glue-up."""
    return run_sheet.view_run_sheet(shop.file, trial_id, batch_id)


@router.post("/run-steps", status_code=204)
def mark_step(shop: Shop, trial_id: TrialId, body: RunStep) -> None:
    """Record that glue was spread, that pieces were closed, or that they are in the clamp."""
    run_steps.mark_step(shop.file, trial_id, body.pieces, body.step, body.at_utc)


@router.post("/batches/{batch_id}/mixed", status_code=204)
def mix_now(shop: Shop, trial_id: TrialId, batch_id: RowId) -> None:
    """Start the pot-life clock."""
    run_steps.mix_now(shop.file, trial_id, batch_id)


@router.patch("/batches/{batch_id}", status_code=204)
def edit_batch(shop: Shop, trial_id: TrialId, batch_id: RowId, body: Edit) -> None:
    """Set who glued, or the glue weighed."""
    run_steps.edit_batch(shop.file, trial_id, batch_id, body.field, body.was, body.now)


@router.put("/pieces/{piece_id}/deviation", status_code=204)
def note_deviation(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Note) -> None:
    """Write what went otherwise with a piece."""
    run_steps.note_deviation(shop.file, trial_id, piece_id, body.was, body.now)


@router.post("/clamp-force", status_code=204)
def keep_clamp_force(shop: Shop, trial_id: TrialId, body: ClampForce) -> None:
    """Keep the force that a load cell in the clamp shows now."""
    run_steps.keep_clamp_force(shop.file, shop.hub, trial_id, body.pieces, body.rig_id)


@router.post(
    "/batches/{batch_id}/photo",
    status_code=201,
    openapi_extra={"requestBody": {"content": {"image/*": {"schema": {"type": "string", "format": "binary"}}}}},
)
async def add_batch_photo(shop: Shop, trial_id: TrialId, batch_id: RowId, request: Request) -> Created:
    """Put a photo beside a glue-up."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(run_steps.add_batch_photo, shop.file, trial_id, batch_id, content))


@router.post("/pieces/{piece_id}/swap", status_code=204)
def swap_partners(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Swap) -> None:
    """Record that two pieces were glued with each other's second part."""
    wrong_set.swap_partners(shop.file, trial_id, piece_id, body.other)


@router.put("/pieces/{piece_id}/set", status_code=204)
def reassign_piece(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Moved) -> None:
    """Let a piece count for the set that it was really made as."""
    wrong_set.reassign_piece(shop.file, trial_id, piece_id, body.set_id, body.reason)
