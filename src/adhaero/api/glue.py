"""Routes of the Glue station."""

import asyncio

from fastapi import APIRouter, Request

from adhaero.api.body import Sent
from adhaero.api.common import Created, RowId, TrialId, raw_body
from adhaero.api.context import Shop
from adhaero.bench.facts.entry import Chosen, Edit, Rewrite
from adhaero.bench.glue import batches, clamps, run_sheet, run_steps, wrong_treatment
from adhaero.bench.glue.batches import BatchEntry
from adhaero.bench.glue.run_steps import ForceEntry, PrepareEntry, StepEntry
from adhaero.bench.glue.wrong_treatment import SwapEntry, TreatmentEntry

router = APIRouter(tags=["glue"])


@router.post("/api/trials/{trial_id}/batches", status_code=201)
def start_batch(shop: Shop, trial_id: TrialId, body: Sent[BatchEntry]) -> Created:
    """Make a glue-up from chosen pieces."""
    return Created(id=batches.start_batch(shop.file, trial_id, body))


@router.patch("/api/trials/{trial_id}/batches/{batch_id}/note", status_code=204)
def note_batch(shop: Shop, trial_id: TrialId, batch_id: RowId, body: Sent[Rewrite]) -> None:
    """Write the note of a glue-up."""
    batches.note_batch(shop.file, trial_id, batch_id, body.was, body.now)


@router.post("/api/trials/{trial_id}/pieces/clamp", status_code=204)
def clamps_on(shop: Shop, trial_id: TrialId, body: Sent[Chosen]) -> None:
    """Record that clamps went on."""
    clamps.put_clamps_on(shop.file, trial_id, body.pieces, body.at_utc)


@router.post("/api/trials/{trial_id}/pieces/release", status_code=204)
def clamps_off(shop: Shop, trial_id: TrialId, body: Sent[Chosen]) -> None:
    """Record that clamps came off."""
    clamps.take_clamps_off(shop.file, trial_id, body.pieces, body.at_utc)


@router.post("/api/trials/{trial_id}/pieces/prepare", status_code=204)
def mark_prepared(shop: Shop, trial_id: TrialId, body: Sent[PrepareEntry]) -> None:
    """Record that faces are prepared."""
    run_steps.mark_prepared(shop.file, trial_id, body.pieces, done=body.done)


@router.get("/api/trials/{trial_id}/batches/{batch_id}/run-sheet")
def get_run_sheet(shop: Shop, trial_id: TrialId, batch_id: RowId) -> run_sheet.RunSheet:
    """Return the run sheet of a glue-up."""
    return run_sheet.view_run_sheet(shop.file, trial_id, batch_id)


@router.post("/api/trials/{trial_id}/pieces/step", status_code=204)
def mark_step(shop: Shop, trial_id: TrialId, body: Sent[StepEntry]) -> None:
    """Record that glue was spread, that pieces were closed, or that they are in the clamp."""
    run_steps.mark_step(shop.file, trial_id, body.pieces, body.step, body.at_utc)


@router.post("/api/trials/{trial_id}/batches/{batch_id}/mix", status_code=204)
def mix_now(shop: Shop, trial_id: TrialId, batch_id: RowId) -> None:
    """Start the pot-life clock."""
    run_steps.mix_now(shop.file, trial_id, batch_id)


@router.patch("/api/trials/{trial_id}/batches/{batch_id}", status_code=204)
def edit_batch(shop: Shop, trial_id: TrialId, batch_id: RowId, body: Sent[Edit]) -> None:
    """Set who glued, or the glue weighed."""
    run_steps.edit_batch(shop.file, trial_id, batch_id, body.field, body.was, body.now)


@router.patch("/api/trials/{trial_id}/pieces/{piece_id}/deviation", status_code=204)
def note_deviation(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[Rewrite]) -> None:
    """Write what went otherwise with a piece."""
    run_steps.note_deviation(shop.file, trial_id, piece_id, body.was, body.now)


@router.post("/api/trials/{trial_id}/pieces/clamp-force", status_code=204)
def keep_clamp_force(shop: Shop, trial_id: TrialId, body: Sent[ForceEntry]) -> None:
    """Keep the force that a load cell in the clamp shows now."""
    run_steps.keep_clamp_force(shop.file, shop.hub, trial_id, body.pieces, body.rig_id)


@router.post(
    "/api/trials/{trial_id}/batches/{batch_id}/photo",
    status_code=201,
    openapi_extra=raw_body("image/*"),
)
async def add_batch_photo(shop: Shop, trial_id: TrialId, batch_id: RowId, request: Request) -> Created:
    """Put a photo beside a glue-up."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(run_steps.add_batch_photo, shop.file, trial_id, batch_id, content))


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/swap-parts", status_code=204)
def swap_partners(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[SwapEntry]) -> None:
    """Record that two pieces were glued with each other's second part."""
    wrong_treatment.swap_partners(shop.file, trial_id, piece_id, body.other)


@router.get("/api/trials/{trial_id}/pieces/{piece_id}/treatments")
def list_choices(shop: Shop, trial_id: TrialId, piece_id: RowId) -> list[wrong_treatment.TreatmentChoice]:
    """List the sets that a piece can really have been made as."""
    return wrong_treatment.list_choices(shop.file, trial_id, piece_id)


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/change-treatment", status_code=204)
def reassign_piece(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[TreatmentEntry]) -> None:
    """Let a piece count for the set that it was really made as."""
    wrong_treatment.reassign_piece(shop.file, trial_id, piece_id, body.treatment_id, body.reason)
