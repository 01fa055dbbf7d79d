"""Routes of the Cure station."""

from fastapi import APIRouter
from starlette.responses import Response

from adhaero.api.body import Sent
from adhaero.api.common import RowId, TrialId
from adhaero.api.context import Shop, as_json
from adhaero.bench.cure import checks, exposures, panels, readings, sizes
from adhaero.bench.cure import view as cure_view
from adhaero.bench.cure.checks import CheckEntry
from adhaero.bench.cure.exposures import PutIn, Tested
from adhaero.bench.cure.panels import PanelEntry
from adhaero.bench.facts.entry import Chosen, Edit, Rewrite

router = APIRouter(tags=["cure"])


@router.patch("/api/trials/{trial_id}/pieces/{piece_id}/sizes", status_code=204)
def measure(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[Edit]) -> None:
    """Write one measured size of a piece."""
    sizes.measure(shop.file, trial_id, piece_id, body.field, body.was, body.now)


@router.get("/api/trials/{trial_id}/curing", response_model=cure_view.CuringView)
def get_curing(shop: Shop, trial_id: TrialId) -> Response:
    """Return what the pieces go through before the test."""
    return as_json(cure_view.view_curing(shop.file, trial_id))


@router.post("/api/trials/{trial_id}/pieces/put-in", status_code=204)
def put_in(shop: Shop, trial_id: TrialId, body: Sent[PutIn]) -> None:
    """Record that pieces went into something."""
    exposures.put_in(shop.file, trial_id, body.pieces, body.kind, body.planned, body.note, body.at_utc)


@router.post("/api/trials/{trial_id}/pieces/take-out", status_code=204)
def take_out(shop: Shop, trial_id: TrialId, body: Sent[Chosen]) -> None:
    """Record that pieces came out."""
    exposures.take_out(shop.file, trial_id, body.pieces, body.at_utc)


@router.post("/api/trials/{trial_id}/pieces/count-cycle", status_code=204)
def count_cycle(shop: Shop, trial_id: TrialId, body: Sent[Chosen]) -> None:
    """Count one more cycle."""
    exposures.count_cycle(shop.file, trial_id, body.pieces)


@router.patch("/api/trials/{trial_id}/exposures/{exposure_id}/note", status_code=204)
def note_exposure(shop: Shop, trial_id: TrialId, exposure_id: RowId, body: Sent[Rewrite]) -> None:
    """Write the weather, the water, or what else belongs to a exposure."""
    exposures.note_exposure(shop.file, trial_id, exposure_id, body.was, body.now)


@router.post("/api/trials/{trial_id}/pieces/tested-as", status_code=204)
def set_tested_as(shop: Shop, trial_id: TrialId, body: Sent[Tested]) -> None:
    """Note in which state pieces are tested."""
    exposures.set_tested_as(shop.file, trial_id, body.pieces, body.state)


@router.post("/api/trials/{trial_id}/pieces/check", status_code=204)
def tick_check(shop: Shop, trial_id: TrialId, body: Sent[CheckEntry]) -> None:
    """Tick what pieces have had before the test."""
    checks.tick_check(shop.file, trial_id, body.pieces, body.words, done=body.done)


@router.patch("/api/trials/{trial_id}/pieces/{piece_id}/readings", status_code=204)
def read_off(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[Edit]) -> None:
    """Write a mass, a moisture or a gap."""
    readings.read_off(shop.file, trial_id, piece_id, body.field, body.was, body.now)


@router.post("/api/trials/{trial_id}/panels/{panel}/move", status_code=204)
def take_panel(shop: Shop, trial_id: TrialId, panel: RowId, body: Sent[PanelEntry]) -> None:
    """Let a panel be pulled at another age, one of the reserve at an age."""
    panels.take_panel(shop.file, trial_id, panel, body.level, body.reason)
