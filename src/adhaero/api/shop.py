"""Routes of the shop and of Today, and the stream of changes."""

import asyncio
from collections.abc import AsyncIterator
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel, Field
from sse_starlette import EventSourceResponse
from starlette.responses import Response

from adhaero.api.body import Body, ClampKindName, FamilyName, MarkName, RigKindName, Unsaid
from adhaero.api.context import Shop
from adhaero.api.demo import DEMO_PORT
from adhaero.api.plan import Created, Edit, RowId, Said
from adhaero.bench.over import calendar, today, undo
from adhaero.bench.saw import labels
from adhaero.bench.shop import boards, clamps, glue_figures, glues, photos, rigs, units
from adhaero.bench.shop import view as shop_view
from adhaero.core.rig.kinds import RigKind
from adhaero.core.rig.lines import DecimalMark
from adhaero.store.file import ShopFile
from adhaero.store.history import list_changed_trials, newest_change_id

router = APIRouter(prefix="/api", tags=["shop"])

EVENTS_S = 0.2


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


class DemoAddress(BaseModel):
    """Where the demo opens, and whether it is there yet."""

    url: str
    ready: bool


@router.get("/today")
def get_today(shop: Shop) -> today.TodayView:
    """Return what stands over all trials now."""
    return today.view_today(shop.file)


class JpegResponse(Response):
    """A picture."""

    media_type = "image/jpeg"


class CalendarResponse(Response):
    """A calendar file."""

    media_type = "text/calendar"


@router.get("/calendar.ics", response_class=CalendarResponse)
def get_calendar(shop: Shop) -> CalendarResponse:
    """Return what comes by itself as a calendar that can be subscribed to."""
    return CalendarResponse(calendar.make_calendar(shop.file))


@router.get("/labels")
def find_label(shop: Shop, code: Annotated[str, Query(max_length=300)]) -> labels.FoundPiece:
    """Return the piece of a label by what its code holds."""
    return labels.find_piece(shop.file, code)


@router.get("/shop")
def get_shop(shop: Shop) -> shop_view.ShopView:
    """Return everything in the shop."""
    return shop_view.view_shop(shop.file)


@router.patch("/shop/units", status_code=204)
def set_unit(shop: Shop, body: Edit) -> None:
    """Choose one unit of the screens."""
    units.set_unit(shop.file, body.field, body.was, body.now)


@router.post("/shop/glues", status_code=201)
def add_glue(shop: Shop, body: GlueBody) -> Created:
    """Put a glue on the shelf."""
    return Created(id=glues.add_glue(shop.file, body.entry()))


@router.patch("/shop/glues/{glue_id}", status_code=204)
def edit_glue(shop: Shop, glue_id: RowId, body: Edit) -> None:
    """Set one thing about a glue on the shelf."""
    glues.edit_glue(shop.file, glue_id, body.field, body.was, body.now)


@router.delete("/shop/glues/{glue_id}", status_code=204)
def delete_glue(shop: Shop, glue_id: RowId) -> None:
    """Take a glue off the shelf."""
    glues.delete_glue(shop.file, glue_id)


@router.patch("/shop/glues/{glue_id}/figures", status_code=204)
def edit_figure(shop: Shop, glue_id: RowId, body: Edit) -> None:
    """Set one figure of a glue's card."""
    glue_figures.edit_figure(shop.file, glue_id, body.field, body.was, body.now)


@router.post("/shop/boards", status_code=201)
def add_stock_board(shop: Shop, body: StockBoardBody) -> Created:
    """Put boards into the shop."""
    return Created(id=boards.save_stock_board(shop.file, body.entry())[0])


@router.put("/shop/boards/{board_id}", status_code=204)
def change_stock_board(shop: Shop, board_id: RowId, body: StockBoardEdit) -> None:
    """Change a board of the shop."""
    boards.save_stock_board(shop.file, body.now.entry(), board_id, body.was.entry())


@router.delete("/shop/boards/{board_id}", status_code=204)
def remove_stock_board(shop: Shop, board_id: RowId) -> None:
    """Take a board out of the shop."""
    boards.remove_stock_board(shop.file, board_id)


@router.post(
    "/shop/boards/{board_id}/photo",
    status_code=201,
    openapi_extra={"requestBody": {"content": {"image/*": {"schema": {"type": "string", "format": "binary"}}}}},
)
async def add_board_photo(shop: Shop, board_id: RowId, request: Request) -> Created:
    """Put a photo beside a board."""
    content = await request.body()
    return Created(id=await asyncio.to_thread(photos.add_photo, shop.file, board_id, content))


@router.get("/shop/photos/{photo_id}", response_class=JpegResponse)
def get_photo(shop: Shop, photo_id: RowId) -> JpegResponse:
    """Return a photo."""
    return JpegResponse(photos.read_photo(shop.file, photo_id))


@router.post("/shop/clamps", status_code=201)
def add_clamps(shop: Shop, body: ClampsBody) -> Created:
    """Put clamps or weights into the shop."""
    return Created(id=clamps.save_clamps(shop.file, body.entry()))


@router.put("/shop/clamps/{clamps_id}", status_code=204)
def change_clamps(shop: Shop, clamps_id: RowId, body: ClampsEdit) -> None:
    """Change clamps of the shop."""
    clamps.save_clamps(shop.file, body.now.entry(), clamps_id, body.was.entry())


@router.delete("/shop/clamps/{clamps_id}", status_code=204)
def remove_clamps(shop: Shop, clamps_id: RowId) -> None:
    """Take clamps out of the shop."""
    clamps.remove_clamps(shop.file, clamps_id)


@router.post("/shop/rigs", status_code=201)
def add_rig(shop: Shop, body: RigBody) -> Created:
    """Add a rig."""
    return Created(id=rigs.save_rig(shop.file, body.entry()))


@router.put("/shop/rigs/{rig_id}", status_code=204)
def change_rig(shop: Shop, rig_id: RowId, body: RigEdit) -> None:
    """Change a rig; another offset or factor is a new calibration."""
    rigs.save_rig(shop.file, body.now.entry(), rig_id, body.was.entry())
    shop.hub.refresh(rig_id)


@router.delete("/shop/rigs/{rig_id}", status_code=204)
def delete_rig(shop: Shop, rig_id: RowId) -> None:
    """Remove a rig that has broken nothing."""
    rigs.delete_rig(shop.file, rig_id)
    shop.hub.disconnect(rig_id)


@router.post("/shop/rigs/{rig_id}/unit", status_code=204)
def choose_unit(shop: Shop, rig_id: RowId, body: UnitChoice) -> None:
    """Say which unit is right where a rig prints another than its card says."""
    rigs.choose_unit(shop.file, rig_id, body.printed, body.right)
    shop.hub.refresh(rig_id)


@router.post("/shop/undo")
def undo_shop(shop: Shop) -> Said:
    """Take back the latest change of the shop."""
    return Said(what=undo.undo(shop.file, None))


@router.post("/demo")
def open_demo(shop: Shop) -> DemoAddress:
    """Start the demo beside this shop, on a throw-away file; this shop stays as it is."""
    shop.demo.start()
    return find_demo(shop)


@router.get("/demo")
def find_demo(shop: Shop) -> DemoAddress:
    """Return where the demo opens, and whether it is there yet."""
    return DemoAddress(url=f"http://127.0.0.1:{DEMO_PORT}/", ready=shop.demo.is_ready())


@router.get(
    "/events",
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
