"""What every request works on: the shop file and the connected rigs."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends
from pydantic_core import to_json
from starlette.requests import HTTPConnection
from starlette.responses import Response

from adhaero.bench.rigs import RigHub
from adhaero.store.file import ShopFile


@dataclass(frozen=True)
class Context:
    """The shop file that is open, and the rigs connected to this program."""

    file: ShopFile
    hub: RigHub


def get_context(connection: HTTPConnection) -> Context:
    """Return the application's context."""
    context: Context = connection.app.state.context
    return context


def as_json(view: object) -> Response:
    """Return a view as JSON without a second check of each field: for lists of thousands of pieces."""
    return Response(to_json(view, inf_nan_mode="null"), media_type="application/json")


Shop = Annotated[Context, Depends(get_context)]
