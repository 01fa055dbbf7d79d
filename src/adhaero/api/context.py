"""What every request works on: the shop file and the connected rigs."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

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


Shop = Annotated[Context, Depends(get_context)]
