"""Routes of the shop: its cards, units, hours and the log of its air."""

import asyncio
from typing import Annotated

from fastapi import APIRouter, Query, Request

from adhaero.api.body import Sent
from adhaero.api.common import Created, JpegResponse, RowId, raw_body
from adhaero.api.context import Shop
from adhaero.bench.facts.entry import Edit
from adhaero.bench.shop import air, boards, clamps, glue_figures, glues, hours, photos, plates, rig_truth, rigs, units
from adhaero.bench.shop import view as shop_view
from adhaero.bench.shop.boards import StockBoardEdit, StockBoardEntry
from adhaero.bench.shop.clamps import ClampsEdit, ClampsEntry
from adhaero.bench.shop.glues import GlueEntry
from adhaero.bench.shop.plates import PlateEdit, PlateEntry
from adhaero.bench.shop.rig_form import RigEntry
from adhaero.bench.shop.rig_truth import CalibrationEntry, CheckWeightEntry
from adhaero.bench.shop.rigs import RigEdit, UnitChoice

router = APIRouter(tags=["shop"])


FileName = Annotated[str, Query(max_length=200)]


@router.get("/api/shop/air")
def list_climate_logs(shop: Shop) -> list[air.LogView]:
    """Return the logger files that are laid over the trials."""
    return air.list_logs(shop.file)


@router.post(
    "/api/shop/air",
    status_code=201,
    openapi_extra=raw_body("text/csv"),
)
async def lay_over(shop: Shop, request: Request, name: FileName = "logger") -> Created:
    """Lay a logger's file over the trials."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(air.lay_over, shop.file, name, content))


@router.delete("/api/shop/air/{log_id}", status_code=204)
def take_climate_away(shop: Shop, log_id: RowId) -> None:
    """Take a logger's file away."""
    air.take_away(shop.file, log_id)


@router.patch("/api/shop/hours", status_code=204)
def edit_hours(shop: Shop, body: Sent[Edit]) -> None:
    """Set the working hours of a day, the days off, how many people there are, or the clock."""
    hours.edit_hours(shop.file, body.field, body.was, body.now)


@router.get("/api/shop")
def get_shop(shop: Shop) -> shop_view.ShopView:
    """Return everything in the shop."""
    return shop_view.view_shop(shop.file)


@router.patch("/api/shop/units", status_code=204)
def set_unit(shop: Shop, body: Sent[Edit]) -> None:
    """Choose one unit of the screens."""
    units.set_unit(shop.file, body.field, body.was, body.now)


@router.post("/api/shop/glues", status_code=201)
def add_glue(shop: Shop, body: Sent[GlueEntry]) -> Created:
    """Put a glue on the shelf."""
    return Created(id=glues.add_glue(shop.file, body))


@router.patch("/api/shop/glues/{glue_id}", status_code=204)
def edit_glue(shop: Shop, glue_id: RowId, body: Sent[Edit]) -> None:
    """Set one thing about a glue on the shelf."""
    glues.edit_glue(shop.file, glue_id, body.field, body.was, body.now)


@router.delete("/api/shop/glues/{glue_id}", status_code=204)
def delete_glue(shop: Shop, glue_id: RowId) -> None:
    """Take a glue off the shelf."""
    glues.remove_glue(shop.file, glue_id)


@router.patch("/api/shop/glues/{glue_id}/figures", status_code=204)
def edit_figure(shop: Shop, glue_id: RowId, body: Sent[Edit]) -> None:
    """Set one figure of a glue's card."""
    glue_figures.edit_figure(shop.file, glue_id, body.field, body.was, body.now)


@router.post("/api/shop/boards", status_code=201)
def add_stock_board(shop: Shop, body: Sent[StockBoardEntry]) -> Created:
    """Put boards into the shop."""
    return Created(id=boards.save_stock_board(shop.file, body)[0])


@router.put("/api/shop/boards/{board_id}", status_code=204)
def change_stock_board(shop: Shop, board_id: RowId, body: Sent[StockBoardEdit]) -> None:
    """Change a board of the shop."""
    boards.save_stock_board(shop.file, body.now, board_id, body.was)


@router.delete("/api/shop/boards/{board_id}", status_code=204)
def remove_stock_board(shop: Shop, board_id: RowId) -> None:
    """Take a board out of the shop."""
    boards.remove_stock_board(shop.file, board_id)


@router.post(
    "/api/shop/boards/{board_id}/photo",
    status_code=201,
    openapi_extra=raw_body("image/*"),
)
async def add_board_photo(shop: Shop, board_id: RowId, request: Request) -> Created:
    """Put a photo beside a board."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(photos.add_photo, shop.file, board_id, content))


@router.get("/api/shop/photos/{photo_id}", response_class=JpegResponse)
def get_photo(shop: Shop, photo_id: RowId) -> JpegResponse:
    """Return a photo."""
    return JpegResponse(photos.read_photo(shop.file, photo_id))


@router.post("/api/shop/clamps", status_code=201)
def add_clamps(shop: Shop, body: Sent[ClampsEntry]) -> Created:
    """Put clamps or weights into the shop."""
    return Created(id=clamps.save_clamps(shop.file, body))


@router.put("/api/shop/clamps/{clamps_id}", status_code=204)
def change_clamps(shop: Shop, clamps_id: RowId, body: Sent[ClampsEdit]) -> None:
    """Change clamps of the shop."""
    clamps.save_clamps(shop.file, body.now, clamps_id, body.was)


@router.delete("/api/shop/clamps/{clamps_id}", status_code=204)
def remove_clamps(shop: Shop, clamps_id: RowId) -> None:
    """Take clamps out of the shop."""
    clamps.remove_clamps(shop.file, clamps_id)


@router.post("/api/shop/plates", status_code=201)
def add_plate(shop: Shop, body: Sent[PlateEntry]) -> Created:
    """Put plates into the shop."""
    return Created(id=plates.save_plate(shop.file, body))


@router.put("/api/shop/plates/{plate_id}", status_code=204)
def change_plate(shop: Shop, plate_id: RowId, body: Sent[PlateEdit]) -> None:
    """Change plates of the shop."""
    plates.save_plate(shop.file, body.now, plate_id, body.was)


@router.delete("/api/shop/plates/{plate_id}", status_code=204)
def remove_plate(shop: Shop, plate_id: RowId) -> None:
    """Take plates out of the shop."""
    plates.remove_plate(shop.file, plate_id)


@router.post("/api/shop/rigs", status_code=201)
def add_rig(shop: Shop, body: Sent[RigEntry]) -> Created:
    """Add a rig."""
    return Created(id=rigs.save_rig(shop.file, body))


@router.put("/api/shop/rigs/{rig_id}", status_code=204)
def change_rig(shop: Shop, rig_id: RowId, body: Sent[RigEdit]) -> None:
    """Change a rig; another offset or factor is a new calibration."""
    rigs.save_rig(shop.file, body.now, rig_id, body.was)
    shop.hub.refresh(rig_id)


@router.delete("/api/shop/rigs/{rig_id}", status_code=204)
def delete_rig(shop: Shop, rig_id: RowId) -> None:
    """Remove a rig that has broken nothing."""
    rigs.remove_rig(shop.file, rig_id)
    shop.hub.disconnect(rig_id)


@router.get("/api/shop/rigs/{rig_id}/truth")
def get_truth(shop: Shop, rig_id: RowId) -> rig_truth.TruthView:
    """Return the calibrations, versions and daily checks of a rig."""
    return rig_truth.view_truth(shop.file, rig_id)


@router.post("/api/shop/rigs/{rig_id}/fit")
def fit_points(shop: Shop, rig_id: RowId, body: Sent[CalibrationEntry]) -> rig_truth.CalibrationView:
    """Return what known weights would make of a rig; nothing is kept."""
    return rig_truth.fit_points(shop.file, rig_id, body)


@router.post("/api/shop/rigs/{rig_id}/calibrate", status_code=201)
def calibrate(shop: Shop, rig_id: RowId, body: Sent[CalibrationEntry]) -> Created:
    """Calibrate a rig by known weights."""
    return Created(id=rig_truth.calibrate(shop.file, rig_id, body))


@router.post("/api/shop/rigs/{rig_id}/check", status_code=204)
def check_rig(shop: Shop, rig_id: RowId, body: Sent[CheckWeightEntry]) -> None:
    """Write down what a rig shows under its check weight."""
    rig_truth.check_rig(shop.file, rig_id, body)


@router.post("/api/shop/rigs/{rig_id}/choose-unit", status_code=204)
def choose_unit(shop: Shop, rig_id: RowId, body: Sent[UnitChoice]) -> None:
    """Say which unit is right where a rig prints another than its card says."""
    rigs.choose_unit(shop.file, rig_id, body.printed, body.right)
    shop.hub.refresh(rig_id)
