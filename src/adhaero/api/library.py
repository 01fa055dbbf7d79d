"""Routes of the shop's book: its tables, what things are called in it, and what to test next."""

from typing import Annotated

from fastapi import APIRouter, Query

from adhaero.api.body import Sent
from adhaero.api.common import Created, RowId, TrialId
from adhaero.api.context import Shop
from adhaero.bench.library import book, names, next_step, uses

router = APIRouter(tags=["library"])
Words = Annotated[str, Query(max_length=400)]


@router.get("/api/book")
def get_book(shop: Shop, subject: Words = "", place: Words = "", against: Words = "") -> book.BookView:
    """Return the tables over all trials of the shop, one of them worked out."""
    return book.view_book(shop.file, subject, place, against)


@router.get("/api/book/pair")
def get_book_pair(shop: Shop, subject: Words, place: Words, a: Words, b: Words) -> book.BookPair:
    """Return two things of a table compared, trial by trial."""
    return book.view_pair(shop.file, subject, place, a, b)


@router.get("/api/book/uses")
def list_uses(shop: Shop) -> list[uses.UseView]:
    """Return which glues of this shop lead for which use, on what evidence, and what is unknown."""
    return book.view_uses(shop.file)


@router.post("/api/book/calls", status_code=204)
def call_thing(shop: Shop, body: Sent[names.CallEntry]) -> None:
    """Call a thing otherwise in the book."""
    names.call_thing(shop.file, body)


@router.delete("/api/book/calls/{call_id}", status_code=204)
def forget_call(shop: Shop, call_id: RowId) -> None:
    """Let a thing have its own name again."""
    names.forget_call(shop.file, call_id)


@router.post("/api/book/joins", status_code=204)
def join_tables(shop: Shop, body: Sent[names.JoinEntry]) -> None:
    """Make two tables of the book one."""
    names.join_tables(shop.file, body)


@router.delete("/api/book/joins/{join_id}", status_code=204)
def part_tables(shop: Shop, join_id: RowId) -> None:
    """Part two tables that were joined."""
    names.part_tables(shop.file, join_id)


@router.get("/api/trials/{trial_id}/next")
def list_next(shop: Shop, trial_id: TrialId) -> list[next_step.NextView]:
    """Return what this shop would learn most from after a trial."""
    return next_step.view_next(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/next", status_code=201)
def begin_test(shop: Shop, trial_id: TrialId, body: Sent[next_step.BeginEntry]) -> Created:
    """Begin the plan of a test of two values from a trial."""
    return Created(id=next_step.begin_test(shop.file, trial_id, body))
