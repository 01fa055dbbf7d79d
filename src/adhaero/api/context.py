"""What every request works on: the shop file and the connected rigs."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import chain
from typing import Annotated

from fastapi import Depends
from pydantic_core import to_json
from starlette.requests import HTTPConnection
from starlette.responses import Response, StreamingResponse

from adhaero.api.demo import DemoProgram
from adhaero.api.door import Door
from adhaero.bench.breaking.live_rigs import RigHub
from adhaero.bench.bringing.staged import Staging
from adhaero.store.file import ShopFile


@dataclass(frozen=True)
class Context:
    """The shop file that is open, the rigs connected to this program, who may come in, and tables being looked at."""

    file: ShopFile
    hub: RigHub
    door: Door
    demo: DemoProgram = field(default_factory=DemoProgram)
    staging: Staging = field(default_factory=Staging)


def get_context(connection: HTTPConnection) -> Context:
    """Return the application's context."""
    context: Context = connection.app.state.context
    return context


def as_json(view: object) -> Response:
    """Return a view as JSON without a second check of each field: for lists of thousands of pieces."""
    return Response(to_json(view, inf_nan_mode="null"), media_type="application/json")


class JsonLines(StreamingResponse):
    """An answer of one line of JSON after another, as each is ready."""

    media_type = "application/x-ndjson"


def as_json_lines(views: Iterator[object]) -> JsonLines:
    """Return views as JSON, a line each, as they come; what is wrong before the first is told as a problem."""
    first = next(views)
    return JsonLines(to_json(view) + b"\n" for view in chain([first], views))


Shop = Annotated[Context, Depends(get_context)]
