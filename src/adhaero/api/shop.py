"""Routes of the shop and of Today, and the stream of changes."""

import asyncio
import socket
import subprocess
import sys
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from pydantic import BaseModel, Field
from sse_starlette import EventSourceResponse

from adhaero.api.context import Shop
from adhaero.api.plan import Created, Edit, RowId, Said
from adhaero.bench import shop as bench
from adhaero.bench import today, undo
from adhaero.store.file import ShopFile
from adhaero.store.history import list_changed_trials, newest_change_id

router = APIRouter(prefix="/api", tags=["shop"])

EVENTS_S = 0.2
DEMO_PORT = 8701


class GlueBody(BaseModel):
    """A glue as typed."""

    name: str = Field(max_length=200)
    family: str = Field(max_length=60)
    opened_on: str | None = Field(default=None, max_length=40)
    lot: str = Field(default="", max_length=80)

    def entry(self) -> bench.GlueEntry:
        """Return it as the bench takes it."""
        return bench.GlueEntry(self.name, self.family, self.opened_on, self.lot)


class RigBody(BaseModel):
    """A rig as typed."""

    name: str = Field(max_length=200)
    url: str = Field(max_length=200)
    unit: str = Field(max_length=10)
    capacity: str = Field(max_length=60)
    resolution: str = Field(max_length=60)
    number_index: int = Field(default=0, ge=0, le=20)
    offset: str = Field(default="0", max_length=60)
    factor: str = Field(default="1", max_length=60)

    def entry(self) -> bench.RigEntry:
        """Return it as the bench takes it."""
        return bench.RigEntry(**self.model_dump())


class RigEdit(BaseModel):
    """A rig as it was shown, and as it shall be."""

    was: RigBody
    now: RigBody


class DemoAddress(BaseModel):
    """Where the demo opens, and whether it is there yet."""

    url: str
    ready: bool


@router.get("/today")
def get_today(shop: Shop) -> today.TodayView:
    """Return what stands over all trials now."""
    return today.view_today(shop.file)


@router.get("/shop")
def get_shop(shop: Shop) -> bench.ShopView:
    """Return everything in the shop."""
    return bench.view_shop(shop.file)


@router.patch("/shop/units", status_code=204)
def set_unit(shop: Shop, body: Edit) -> None:
    """Choose one unit of the screens."""
    bench.set_unit(shop.file, body.field, body.was, body.now)


@router.post("/shop/glues", status_code=201)
def add_glue(shop: Shop, body: GlueBody) -> Created:
    """Put a glue on the shelf."""
    return Created(id=bench.add_glue(shop.file, body.entry()))


@router.patch("/shop/glues/{glue_id}", status_code=204)
def edit_glue(shop: Shop, glue_id: RowId, body: Edit) -> None:
    """Set one thing about a glue on the shelf."""
    bench.edit_glue(shop.file, glue_id, body.field, body.was, body.now)


@router.delete("/shop/glues/{glue_id}", status_code=204)
def delete_glue(shop: Shop, glue_id: RowId) -> None:
    """Take a glue off the shelf."""
    bench.delete_glue(shop.file, glue_id)


@router.post("/shop/rigs", status_code=201)
def add_rig(shop: Shop, body: RigBody) -> Created:
    """Add a rig."""
    return Created(id=bench.save_rig(shop.file, body.entry()))


@router.put("/shop/rigs/{rig_id}", status_code=204)
def change_rig(shop: Shop, rig_id: RowId, body: RigEdit) -> None:
    """Change a rig; another offset or factor is a new calibration."""
    bench.save_rig(shop.file, body.now.entry(), rig_id, body.was.entry())


@router.delete("/shop/rigs/{rig_id}", status_code=204)
def delete_rig(shop: Shop, rig_id: RowId) -> None:
    """Remove a rig that has broken nothing."""
    shop.hub.disconnect(rig_id)
    bench.delete_rig(shop.file, rig_id)


@router.post("/shop/undo")
def undo_shop(shop: Shop) -> Said:
    """Take back the latest change of the shop."""
    return Said(what=undo.undo(shop.file, None))


@router.post("/demo")
def open_demo() -> DemoAddress:
    """Start the demo beside this shop, on a throw-away file; this shop stays as it is."""
    subprocess.Popen(
        [sys.executable, "-m", "adhaero", "demo", "--port", str(DEMO_PORT), "--if-free"],
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    return find_demo()


@router.get("/demo")
def find_demo() -> DemoAddress:
    """Return where the demo opens, and whether it is there yet."""
    with socket.socket() as probe:
        ready = probe.connect_ex(("127.0.0.1", DEMO_PORT)) == 0
    return DemoAddress(url=f"http://127.0.0.1:{DEMO_PORT}/", ready=ready)


@router.get("/events", response_class=EventSourceResponse)
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
