"""Routes of the Glue station."""

import asyncio
from typing import Annotated

from fastapi import APIRouter, Request
from pydantic import Field

from adhaero.api.body import Body, FamilyName, Unsaid
from adhaero.api.common import BodyId, Chosen, Created, Edit, Note, RowId, TrialId
from adhaero.api.context import Shop
from adhaero.bench.glue import clamps, glue_ups, run_sheet, run_steps, wrong_set
from adhaero.bench.glue.run_sheet import GlueStep

router = APIRouter(tags=["glue"])


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


@router.post("/api/trials/{trial_id}/batches", status_code=201)
def start_batch(shop: Shop, trial_id: TrialId, body: NewBatch) -> Created:
    """Make a glue-up from chosen pieces."""
    entry = glue_ups.GlueUpEntry(body.pieces, **body.model_dump(exclude={"pieces"}))
    return Created(id=glue_ups.start_batch(shop.file, trial_id, entry))


@router.put("/api/trials/{trial_id}/batches/{batch_id}/note", status_code=204)
def note_batch(shop: Shop, trial_id: TrialId, batch_id: RowId, body: Note) -> None:
    """Write the note of a glue-up."""
    glue_ups.note_batch(shop.file, trial_id, batch_id, body.was, body.now)


@router.post("/api/trials/{trial_id}/clamps/on", status_code=204)
def clamps_on(shop: Shop, trial_id: TrialId, body: Chosen) -> None:
    """Record that clamps went on."""
    clamps.put_clamps_on(shop.file, trial_id, body.pieces, body.at_utc)


@router.post("/api/trials/{trial_id}/clamps/off", status_code=204)
def clamps_off(shop: Shop, trial_id: TrialId, body: Chosen) -> None:
    """Record that clamps came off."""
    clamps.take_clamps_off(shop.file, trial_id, body.pieces, body.at_utc)


@router.post("/api/trials/{trial_id}/prepared", status_code=204)
def mark_prepared(shop: Shop, trial_id: TrialId, body: Prepared) -> None:
    """Record that faces are prepared."""
    run_steps.mark_prepared(shop.file, trial_id, body.pieces, done=body.done)


@router.get("/api/trials/{trial_id}/batches/{batch_id}/run-sheet")
def get_run_sheet(shop: Shop, trial_id: TrialId, batch_id: RowId) -> run_sheet.RunSheet:
    """Return the run sheet of a glue-up."""
    return run_sheet.view_run_sheet(shop.file, trial_id, batch_id)


@router.post("/api/trials/{trial_id}/run-steps", status_code=204)
def mark_step(shop: Shop, trial_id: TrialId, body: RunStep) -> None:
    """Record that glue was spread, that pieces were closed, or that they are in the clamp."""
    run_steps.mark_step(shop.file, trial_id, body.pieces, body.step, body.at_utc)


@router.post("/api/trials/{trial_id}/batches/{batch_id}/mixed", status_code=204)
def mix_now(shop: Shop, trial_id: TrialId, batch_id: RowId) -> None:
    """Start the pot-life clock."""
    run_steps.mix_now(shop.file, trial_id, batch_id)


@router.patch("/api/trials/{trial_id}/batches/{batch_id}", status_code=204)
def edit_batch(shop: Shop, trial_id: TrialId, batch_id: RowId, body: Edit) -> None:
    """Set who glued, or the glue weighed."""
    run_steps.edit_batch(shop.file, trial_id, batch_id, body.field, body.was, body.now)


@router.put("/api/trials/{trial_id}/pieces/{piece_id}/deviation", status_code=204)
def note_deviation(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Note) -> None:
    """Write what went otherwise with a piece."""
    run_steps.note_deviation(shop.file, trial_id, piece_id, body.was, body.now)


@router.post("/api/trials/{trial_id}/clamp-force", status_code=204)
def keep_clamp_force(shop: Shop, trial_id: TrialId, body: ClampForce) -> None:
    """Keep the force that a load cell in the clamp shows now."""
    run_steps.keep_clamp_force(shop.file, shop.hub, trial_id, body.pieces, body.rig_id)


@router.post(
    "/api/trials/{trial_id}/batches/{batch_id}/photo",
    status_code=201,
    openapi_extra={"requestBody": {"content": {"image/*": {"schema": {"type": "string", "format": "binary"}}}}},
)
async def add_batch_photo(shop: Shop, trial_id: TrialId, batch_id: RowId, request: Request) -> Created:
    """Put a photo beside a glue-up."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(run_steps.add_batch_photo, shop.file, trial_id, batch_id, content))


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/swap", status_code=204)
def swap_partners(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Swap) -> None:
    """Record that two pieces were glued with each other's second part."""
    wrong_set.swap_partners(shop.file, trial_id, piece_id, body.other)


@router.put("/api/trials/{trial_id}/pieces/{piece_id}/set", status_code=204)
def reassign_piece(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Moved) -> None:
    """Let a piece count for the set that it was really made as."""
    wrong_set.reassign_piece(shop.file, trial_id, piece_id, body.set_id, body.reason)
