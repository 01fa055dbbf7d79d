"""Routes of the shop: its cards, units, hours and the log of its air."""

import asyncio
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from pydantic import Field

from adhaero.api.body import Body, ClampKindName, FamilyName, MarkName, RigKindName, Unsaid
from adhaero.api.common import Created, Edit, JpegResponse, RowId
from adhaero.api.context import Shop
from adhaero.bench.shop import air, boards, clamps, glue_figures, glues, hours, photos, rigs, units
from adhaero.bench.shop import view as shop_view
from adhaero.core.rig.kinds import RigKind
from adhaero.core.rig.lines import DecimalMark

router = APIRouter(tags=["shop"])


FileName = Annotated[str, Query(max_length=200)]


@router.get("/api/climate")
def list_climate_logs(shop: Shop) -> list[air.LogView]:
    """Return the logger files that are laid over the trials."""
    return air.list_logs(shop.file)


@router.post(
    "/api/climate",
    status_code=201,
    openapi_extra={"requestBody": {"content": {"text/csv": {"schema": {"type": "string", "format": "binary"}}}}},
)
async def lay_over(shop: Shop, request: Request, name: FileName = "logger") -> Created:
    """Lay a logger's file over the trials."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(air.lay_over, shop.file, name, content))


@router.delete("/api/climate/{log_id}", status_code=204)
def take_climate_away(shop: Shop, log_id: RowId) -> None:
    """Take a logger's file away."""
    air.take_away(shop.file, log_id)


@router.patch("/api/shop/hours", status_code=204)
def edit_hours(shop: Shop, body: Edit) -> None:
    """Set the working hours of a day, the days off, how many people there are, or the clock."""
    hours.edit_hours(shop.file, body.field, body.was, body.now)


class GlueBody(Body):
    """A glue as typed."""

    name: str = Field(max_length=200)
    family: FamilyName | Unsaid
    opened_on: str | None = Field(default=None, max_length=40)
    lot: str = Field(default="", max_length=80)

    def entry(self) -> glues.GlueEntry:
        """Return it as the bench takes it."""
        return glues.GlueEntry(self.name, self.family, self.opened_on, self.lot)


class RigBody(Body):
    """A rig as typed."""

    name: str = Field(max_length=200)
    url: str = Field(default="", max_length=200)
    unit: Literal["N", "kN", "kgf", "lbf", "g", "oz"]
    capacity: str = Field(max_length=60)
    resolution: str = Field(max_length=60)
    number_index: int = Field(default=0, ge=0, le=20)
    offset: str = Field(default="0", max_length=60)
    factor: str = Field(default="1", max_length=60)
    kind: RigKindName = RigKind.PRESS
    bore: str = Field(default="", max_length=60)
    lever_ratio: str = Field(default="", max_length=60)
    tare: str = Field(default="", max_length=60)
    fixtures: str = Field(default="", max_length=300)
    decimal_mark: MarkName = DecimalMark.AUTO
    baud: int = Field(default=115_200, ge=1, le=10_000_000)
    parity: Literal["none", "even", "odd"] = "none"
    stop_bits: int = Field(default=1, ge=1, le=9)
    far_host: str = Field(default="", max_length=253)
    simulated: bool = False

    def entry(self) -> rigs.RigEntry:
        """Return it as the bench takes it."""
        return rigs.RigEntry(**self.model_dump())


class UnitChoice(Body):
    """The unit that a rig prints, and the one that is right."""

    printed: str = Field(max_length=10)
    right: str = Field(max_length=10)


class RigEdit(Body):
    """A rig as it was shown, and as it shall be."""

    was: RigBody
    now: RigBody


class StockBoardBody(Body):
    """A board as typed."""

    name: str = Field(max_length=200)
    species: str = Field(default="", max_length=200)
    length: str = Field(max_length=60)
    width: str = Field(max_length=60)
    thickness: str = Field(max_length=60)
    moisture: str = Field(default="", max_length=60)
    rings: str = Field(default="", max_length=20)
    source: str = Field(default="", max_length=300)
    defects: str = Field(default="", max_length=2000)
    count: str = Field(default="1", max_length=20)
    price: str = Field(default="", max_length=60)

    def entry(self) -> boards.StockBoardEntry:
        """Return it as the bench takes it."""
        return boards.StockBoardEntry(**self.model_dump())


class ClampsBody(Body):
    """Clamps or weights as typed."""

    name: str = Field(max_length=200)
    kind: ClampKindName
    number: str = Field(max_length=20)
    force: str = Field(max_length=60)
    force_known: Literal["guessed", "measured"] = "guessed"
    in_line: str = Field(default="1", max_length=20)
    side_by_side: str = Field(default="1", max_length=20)

    def entry(self) -> clamps.ClampsEntry:
        """Return it as the bench takes it."""
        return clamps.ClampsEntry(**self.model_dump())


class StockBoardEdit(Body):
    """A board as it was shown, and as it shall be."""

    was: StockBoardBody
    now: StockBoardBody


class ClampsEdit(Body):
    """Clamps as they were shown, and as they shall be."""

    was: ClampsBody
    now: ClampsBody


@router.get("/api/shop")
def get_shop(shop: Shop) -> shop_view.ShopView:
    """Return everything in the shop."""
    return shop_view.view_shop(shop.file)


@router.patch("/api/shop/units", status_code=204)
def set_unit(shop: Shop, body: Edit) -> None:
    """Choose one unit of the screens."""
    units.set_unit(shop.file, body.field, body.was, body.now)


@router.post("/api/shop/glues", status_code=201)
def add_glue(shop: Shop, body: GlueBody) -> Created:
    """Put a glue on the shelf."""
    return Created(id=glues.add_glue(shop.file, body.entry()))


@router.patch("/api/shop/glues/{glue_id}", status_code=204)
def edit_glue(shop: Shop, glue_id: RowId, body: Edit) -> None:
    """Set one thing about a glue on the shelf."""
    glues.edit_glue(shop.file, glue_id, body.field, body.was, body.now)


@router.delete("/api/shop/glues/{glue_id}", status_code=204)
def delete_glue(shop: Shop, glue_id: RowId) -> None:
    """Take a glue off the shelf."""
    glues.remove_glue(shop.file, glue_id)


@router.patch("/api/shop/glues/{glue_id}/figures", status_code=204)
def edit_figure(shop: Shop, glue_id: RowId, body: Edit) -> None:
    """Set one figure of a glue's card."""
    glue_figures.edit_figure(shop.file, glue_id, body.field, body.was, body.now)


@router.post("/api/shop/boards", status_code=201)
def add_stock_board(shop: Shop, body: StockBoardBody) -> Created:
    """Put boards into the shop."""
    return Created(id=boards.save_stock_board(shop.file, body.entry())[0])


@router.put("/api/shop/boards/{board_id}", status_code=204)
def change_stock_board(shop: Shop, board_id: RowId, body: StockBoardEdit) -> None:
    """Change a board of the shop."""
    boards.save_stock_board(shop.file, body.now.entry(), board_id, body.was.entry())


@router.delete("/api/shop/boards/{board_id}", status_code=204)
def remove_stock_board(shop: Shop, board_id: RowId) -> None:
    """Take a board out of the shop."""
    boards.remove_stock_board(shop.file, board_id)


@router.post(
    "/api/shop/boards/{board_id}/photo",
    status_code=201,
    openapi_extra={"requestBody": {"content": {"image/*": {"schema": {"type": "string", "format": "binary"}}}}},
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
def add_clamps(shop: Shop, body: ClampsBody) -> Created:
    """Put clamps or weights into the shop."""
    return Created(id=clamps.save_clamps(shop.file, body.entry()))


@router.put("/api/shop/clamps/{clamps_id}", status_code=204)
def change_clamps(shop: Shop, clamps_id: RowId, body: ClampsEdit) -> None:
    """Change clamps of the shop."""
    clamps.save_clamps(shop.file, body.now.entry(), clamps_id, body.was.entry())


@router.delete("/api/shop/clamps/{clamps_id}", status_code=204)
def remove_clamps(shop: Shop, clamps_id: RowId) -> None:
    """Take clamps out of the shop."""
    clamps.remove_clamps(shop.file, clamps_id)


@router.post("/api/shop/rigs", status_code=201)
def add_rig(shop: Shop, body: RigBody) -> Created:
    """Add a rig."""
    return Created(id=rigs.save_rig(shop.file, body.entry()))


@router.put("/api/shop/rigs/{rig_id}", status_code=204)
def change_rig(shop: Shop, rig_id: RowId, body: RigEdit) -> None:
    """Change a rig; another offset or factor is a new calibration."""
    rigs.save_rig(shop.file, body.now.entry(), rig_id, body.was.entry())
    shop.hub.refresh(rig_id)


@router.delete("/api/shop/rigs/{rig_id}", status_code=204)
def delete_rig(shop: Shop, rig_id: RowId) -> None:
    """Remove a rig that has broken nothing."""
    rigs.remove_rig(shop.file, rig_id)
    shop.hub.disconnect(rig_id)


@router.post("/api/shop/rigs/{rig_id}/unit", status_code=204)
def choose_unit(shop: Shop, rig_id: RowId, body: UnitChoice) -> None:
    """Say which unit is right where a rig prints another than its card says."""
    rigs.choose_unit(shop.file, rig_id, body.printed, body.right)
    shop.hub.refresh(rig_id)
