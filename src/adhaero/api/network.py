"""Routes about the computer that the application runs on: other devices, and copies of the shop."""

import io
from pathlib import Path

import segno
from fastapi import APIRouter
from pydantic import BaseModel
from starlette.requests import Request

from adhaero.api import problems
from adhaero.api.context import Shop
from adhaero.core.errors import NotAllowed, NotThere, StateError
from adhaero.store.copies import copy_shop, list_daily_copies

_PACKAGE = Path(__file__).resolve().parent.parent

router = APIRouter(prefix="/api", tags=["computer"])


class DevicesView(BaseModel):
    """How another device comes in: what it opens, the pairing word, and both as a code to scan (SVG).

    All are empty where only this computer is listened to.
    """

    address: str
    word: str
    code: str


class CopiesView(BaseModel):
    """Where the shop file lies, and the copies of days that are kept beside it, newest first."""

    path: str
    days: list[str]


class CopyMade(BaseModel):
    """A copy that was just made."""

    path: str


@router.get("/devices")
def get_devices(shop: Shop, request: Request) -> DevicesView:
    """Return how another device comes in; told on this computer only."""
    _require_this_computer(shop, request)
    pairing, address = shop.door.pairing, shop.door.address
    if pairing is None:
        return DevicesView(address="", word="", code="")
    drawn = io.BytesIO()
    segno.make_qr(f"{address}/pair?word={pairing.word}").save(drawn, kind="svg", xmldecl=False, scale=5, border=2)
    return DevicesView(address=address, word=pairing.word, code=drawn.getvalue().decode())


@router.post("/devices/renew", status_code=204)
def renew_pairing(shop: Shop, request: Request) -> None:
    """Choose another pairing word: every device that was paired is sent away."""
    _require_this_computer(shop, request)
    if shop.door.pairing is None:
        raise StateError("Only this computer is listened to.", "No device is paired.")
    shop.door.pairing.renew()


class NoticeView(BaseModel):
    """Whose work is shipped with the application, and under which licence."""

    text: str


@router.get("/problems")
def get_problems() -> list[problems.ProblemType]:
    """Return the kinds of problems that answers name."""
    return problems.list_problem_types()


@router.get("/notice")
def get_notice() -> NoticeView:
    """Return the licences of the fonts and programs that are shipped."""
    for place in (_PACKAGE / "NOTICE", _PACKAGE.parent.parent / "NOTICE"):
        if place.is_file():
            return NoticeView(text=place.read_text(encoding="utf-8"))
    raise NotThere("The notice is not there.", "It is part of the program.", "Run: make notice")


@router.get("/copies")
def get_copies(shop: Shop) -> CopiesView:
    """Return where the shop lies and which days are kept."""
    days = [day for day, _ in reversed(list_daily_copies(shop.file.path))]
    return CopiesView(path=str(shop.file.path), days=days)


@router.post("/copies", status_code=201)
def make_copy(shop: Shop) -> CopyMade:
    """Copy the shop as it stands now, beside it."""
    return CopyMade(path=str(copy_shop(shop.file)))


def _require_this_computer(shop: Shop, request: Request) -> None:
    if not shop.door.is_this_computer(request.scope):
        raise NotAllowed(
            "This is told on the computer that runs Adhaero only.", "Another device was paired with it.", "Ask there."
        )
