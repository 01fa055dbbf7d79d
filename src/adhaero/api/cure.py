"""Routes of the Cure station."""

from fastapi import APIRouter
from pydantic import Field
from starlette.responses import Response

from adhaero.api.body import Body
from adhaero.api.common import BodyId, Note, RowId, TrialId
from adhaero.api.context import Shop, as_json
from adhaero.bench.cure import checks, exposures, panels, readings, sizes
from adhaero.bench.cure import view as cure_view

router = APIRouter(tags=["cure"])


class Size(Body):
    """One measured size as typed, and what stood there when it was shown."""

    name: str = Field(max_length=40)
    was: str = Field(max_length=200)
    now: str = Field(max_length=200)


@router.put("/api/trials/{trial_id}/pieces/{piece_id}/size", status_code=204)
def measure(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Size) -> None:
    """Write one measured size of a piece."""
    sizes.measure(shop.file, trial_id, piece_id, body.name, body.was, body.now)


class Pieces(Body):
    """Chosen pieces, and when it was if not now."""

    pieces: list[BodyId] = Field(max_length=20_000)
    at_utc: str | None = Field(default=None, max_length=40)


class PutIn(Pieces):
    """What pieces go into, for how long by plan, and what belongs to it."""

    kind: str = Field(max_length=20)
    planned: str = Field(default="", max_length=60)
    note: str = Field(default="", max_length=300)


class TestedAs(Body):
    """The state in which pieces are tested."""

    pieces: list[BodyId] = Field(max_length=20_000)
    state: str = Field(max_length=20)


class CheckTick(Body):
    """What pieces have had, or not after all."""

    pieces: list[BodyId] = Field(max_length=20_000)
    words: str = Field(max_length=200)
    done: bool = True


class PanelMove(Body):
    """The age at which a panel is pulled instead, and why."""

    level: BodyId
    reason: str = Field(max_length=300)


class ReadOff(Body):
    """One reading as typed, and what stood there when it was shown."""

    name: str = Field(max_length=40)
    was: str = Field(max_length=200)
    now: str = Field(max_length=200)


@router.get("/api/trials/{trial_id}/curing", response_model=cure_view.CuringView)
def get_curing(shop: Shop, trial_id: TrialId) -> Response:
    """Return what the pieces go through before the test."""
    return as_json(cure_view.view_curing(shop.file, trial_id))


@router.post("/api/trials/{trial_id}/exposures", status_code=204)
def put_in(shop: Shop, trial_id: TrialId, body: PutIn) -> None:
    """Record that pieces went into something."""
    exposures.put_in(shop.file, trial_id, body.pieces, body.kind, body.planned, body.note, body.at_utc)


@router.post("/api/trials/{trial_id}/exposures/out", status_code=204)
def take_out(shop: Shop, trial_id: TrialId, body: Pieces) -> None:
    """Record that pieces came out."""
    exposures.take_out(shop.file, trial_id, body.pieces, body.at_utc)


@router.post("/api/trials/{trial_id}/exposures/cycle", status_code=204)
def count_cycle(shop: Shop, trial_id: TrialId, body: Pieces) -> None:
    """Count one more cycle."""
    exposures.count_cycle(shop.file, trial_id, body.pieces)


@router.put("/api/trials/{trial_id}/exposures/{exposure_id}/note", status_code=204)
def note_exposure(shop: Shop, trial_id: TrialId, exposure_id: RowId, body: Note) -> None:
    """Write the weather, the water, or what else belongs to a exposure."""
    exposures.note_exposure(shop.file, trial_id, exposure_id, body.was, body.now)


@router.post("/api/trials/{trial_id}/tested-as", status_code=204)
def set_tested_as(shop: Shop, trial_id: TrialId, body: TestedAs) -> None:
    """Note in which state pieces are tested."""
    exposures.set_tested_as(shop.file, trial_id, body.pieces, body.state)


@router.post("/api/trials/{trial_id}/checks", status_code=204)
def tick_check(shop: Shop, trial_id: TrialId, body: CheckTick) -> None:
    """Tick what pieces have had before the test."""
    checks.tick_check(shop.file, trial_id, body.pieces, body.words, done=body.done)


@router.put("/api/trials/{trial_id}/pieces/{piece_id}/reading", status_code=204)
def read_off(shop: Shop, trial_id: TrialId, piece_id: RowId, body: ReadOff) -> None:
    """Write a mass, a moisture or a gap."""
    readings.read_off(shop.file, trial_id, piece_id, body.name, body.was, body.now)


@router.put("/api/trials/{trial_id}/panels/{panel}/age", status_code=204)
def take_panel(shop: Shop, trial_id: TrialId, panel: RowId, body: PanelMove) -> None:
    """Let a panel be pulled at another age, one of the reserve at an age."""
    panels.take_panel(shop.file, trial_id, panel, body.level, body.reason)
