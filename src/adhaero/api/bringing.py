"""Routes for bringing in what others keep: tables of earlier breaks."""

import asyncio
from typing import Annotated

from fastapi import APIRouter, Query
from fastapi import Path as FromPath
from starlette.requests import Request
from starlette.responses import Response

from adhaero.api.body import Sent
from adhaero.api.common import Created, Said, TrialId, raw_body
from adhaero.api.context import Shop, as_json
from adhaero.bench.bringing import look, newer, package_in, take, what_is
from adhaero.bench.bringing.look import FoundView, TableSaid
from adhaero.bench.bringing.newer import NewerEntry, NewerView
from adhaero.bench.bringing.package_in import PackageTaken
from adhaero.bench.bringing.package_out import Licence, export_package
from adhaero.bench.bringing.staged import Doing
from adhaero.bench.bringing.take import TakeEntry
from adhaero.bench.bringing.what_is import FileView

router = APIRouter(tags=["bringing"])

_FILE = raw_body("application/octet-stream")
Hash = Annotated[str, FromPath(pattern="^[0-9a-f]{64}$")]
Name = Annotated[str, Query(max_length=120)]
Encoding = Annotated[str, Query(max_length=20)]


@router.post("/api/tables", response_model=FoundView, openapi_extra=_FILE)
async def drop_table(shop: Shop, request: Request, name: Name = "table", encoding: Encoding = "") -> Response:
    """Look at a table; it is held for a while, and nothing of it is in the shop."""
    content = await request.body()

    def read() -> FoundView:
        try:
            staged = shop.staging.put(name, content, encoding)
            return look.look_at(shop.file, shop.staging, staged.sha256, TableSaid())
        finally:
            shop.staging.begin(0)

    return as_json(await asyncio.to_thread(read))


@router.get("/api/tables/doing")
def get_doing(shop: Shop) -> Doing:
    """Return how far the reading of a dropped table has come."""
    return shop.staging.doing


@router.post("/api/tables/{sha256}/look", response_model=FoundView)
def look_at_table(shop: Shop, sha256: Hash, body: Sent[TableSaid]) -> Response:
    """Look at a table again, with what the person said of it."""
    try:
        return as_json(look.look_at(shop.file, shop.staging, sha256, body))
    finally:
        shop.staging.begin(0)


@router.post("/api/tables/{sha256}/take", status_code=201)
def take_table(shop: Shop, sha256: Hash, body: Sent[TakeEntry]) -> Created:
    """Make a trial of a table: all of it or nothing."""
    return Created(id=take.take_table(shop.file, shop.staging, sha256, body))


@router.post("/api/files/look", openapi_extra=_FILE)
async def look_at_file(shop: Shop, request: Request) -> FileView:
    """Say what a file is and where it goes; nothing of it is in the shop."""
    content = await request.body()
    return await asyncio.to_thread(what_is.look_at_file, shop.file, content)


@router.post("/api/packages", status_code=201, openapi_extra=_FILE)
async def take_package(shop: Shop, request: Request, name: Name = "package") -> PackageTaken:
    """Make a trial of a data package: all of it or nothing."""
    content = await request.body()
    return await asyncio.to_thread(package_in.take_package, shop.file, name, content)


@router.get(
    "/api/trials/{trial_id}/package.zip", response_class=Response, responses={200: {"content": {"application/zip": {}}}}
)
def download_package(shop: Shop, trial_id: TrialId, licence: Licence = Licence.UNSAID) -> Response:
    """Download a trial as a data package: every table, trace, file and change."""
    headers = {"Content-Disposition": f'attachment; filename="adhaero-trial-{trial_id}.zip"'}
    return Response(export_package(shop.file, trial_id, licence), media_type="application/zip", headers=headers)


@router.post("/api/trials/{trial_id}/tables/{sha256}/changes")
def view_newer(shop: Shop, trial_id: TrialId, sha256: Hash, body: Sent[TableSaid]) -> NewerView:
    """Hold a table against the one that a trial was brought in from."""
    return newer.view_newer(shop.file, shop.staging, trial_id, sha256, body)


@router.post("/api/trials/{trial_id}/tables/{sha256}/take")
def take_newer(shop: Shop, trial_id: TrialId, sha256: Hash, body: Sent[NewerEntry]) -> Said:
    """Take over what was ticked of a newer table, as traced changes."""
    taken = newer.take_newer(shop.file, shop.staging, trial_id, sha256, body)
    return Said(what=f"Took over {taken} changes")
