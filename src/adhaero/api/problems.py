"""Errors as problem details (RFC 9457): one table from the core's errors to HTTP."""

from collections.abc import Iterator, Sequence
from typing import Any, Final

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ConfigDict
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse

from adhaero.core.errors import (
    AdhaeroError,
    DataError,
    EntryError,
    FormError,
    InUse,
    NotAllowed,
    NotThere,
    PlanError,
    RigError,
    StaleEdit,
    StateError,
    StorageError,
)

_STATUS: Final[tuple[tuple[type[AdhaeroError], int], ...]] = (
    (EntryError, 422),
    (PlanError, 422),
    (DataError, 422),
    (NotThere, 404),
    (StaleEdit, 409),
    (StateError, 409),
    (InUse, 409),
    (NotAllowed, 403),
    (RigError, 503),
    (StorageError, 507),
)


# What can be wrong besides what the core knows: each with when it is said.
_OTHER: Final = {
    "request": "The request was not understood: a field is missing, unknown, or of another type.",
    "http": "There is nothing at this address, or it cannot be done there.",
    "too-large": "The request is larger than what is taken.",
    "host": "The request names another host than this computer is known by.",
    "origin": "The request comes from the page of another site.",
    "pairing": "The device does not know the pairing word.",
    "unexpected": "A mistake of the program; the log says more.",
}


class Fault(BaseModel):
    """What is wrong with one field of a form."""

    field: str | None
    detail: str
    choices: list[str] = []


class Problem(BaseModel):
    """A problem: what was understood, what was expected, what to do, and where; `faults` field by field of a form."""

    model_config = ConfigDict(
        json_schema_extra={
            "examples": [
                {
                    "type": "/api/problems/entry",
                    "title": "“thick” was not understood: it holds no number.",
                    "status": 422,
                    "detail": "“thick” was not understood: it holds no number. Expected a length, e.g. 24 mm.",
                    "code": "entry",
                    "field": "thickness",
                    "choices": [],
                    "faults": [],
                }
            ]
        }
    )

    type: str
    title: str
    status: int
    detail: str
    code: str
    field: str | None = None
    choices: list[str] = []
    faults: list[Fault] = []


class ProblemType(BaseModel):
    """A kind of problem: its address, its code, and when it is said."""

    type: str
    code: str
    words: str
    status: int | None


def list_problem_types() -> list[ProblemType]:
    """Return every kind of problem that an answer can name."""
    known = [
        ProblemType(type=f"/api/problems/{kind.code}", code=kind.code, words=_first_line(kind), status=_status_of(kind))
        for kind in _walk(AdhaeroError)
    ]
    others = [
        ProblemType(type=f"/api/problems/{code}", code=code, words=words, status=None) for code, words in _OTHER.items()
    ]
    return [*known, *others]


def _walk(kind: type[AdhaeroError]) -> Iterator[type[AdhaeroError]]:
    """Return the kinds of errors below one that have a code of their own."""
    for below in kind.__subclasses__():
        if "code" in vars(below):
            yield below
        yield from _walk(below)


def _first_line(kind: type[AdhaeroError]) -> str:
    return (kind.__doc__ or "").strip().partition("\n")[0]


def _status_of(kind: type[AdhaeroError]) -> int:
    return next((status for one, status in _STATUS if issubclass(kind, one)), 500)


def make_problem(status: int, code: str, what: str, more: str = "") -> JSONResponse:
    """Return an answer that says what is wrong and what to do."""
    return _respond(status, code, what, f"{what} {more}".strip())


def _respond(
    status: int,
    code: str,
    title: str,
    detail: str,
    field: str | None = None,
    choices: tuple[str, ...] = (),
    faults: Sequence[Fault] = (),
) -> JSONResponse:
    problem = Problem(
        type=f"/api/problems/{code}",
        title=title,
        status=status,
        detail=detail,
        code=code,
        field=field,
        choices=list(choices),
        faults=list(faults),
    )
    return JSONResponse(problem.model_dump(), status, media_type="application/problem+json")


def unexpected() -> JSONResponse:
    """Return the answer to an error that nobody foresaw; nothing of the program's inside goes to the client."""
    return _respond(500, "unexpected", "Something went wrong inside Adhaero.", "Nothing was saved. The log says more.")


def describe_problems(document: dict[str, Any]) -> None:
    """Say in the OpenAPI document what a problem is sent as."""
    schema = {"schema": {"$ref": "#/components/schemas/Problem"}}
    for operations in document["paths"].values():
        for operation in operations.values():
            for status in ("default", "422"):
                if status in operation["responses"]:
                    operation["responses"][status] = {
                        "description": "A problem (RFC 9457)",
                        "content": {"application/problem+json": schema},
                    }


def _fault_of(error: dict[str, Any]) -> Fault:
    place = ".".join(str(part) for part in error["loc"] if part not in ("body", "query", "path"))
    return Fault(field=place or None, detail=str(error["msg"]))


def add_problem_handlers(app: FastAPI) -> None:
    """Answer every known error as a problem."""

    @app.exception_handler(AdhaeroError)
    def known(_: Request, error: AdhaeroError) -> JSONResponse:
        faults = [
            Fault(field=one.field, detail=one.sentence, choices=list(one.choices))
            for one in (error.faults if isinstance(error, FormError) else ())
        ]
        status = _status_of(type(error))
        return _respond(status, error.code, error.what, error.sentence, error.field, error.choices, faults)

    @app.exception_handler(RequestValidationError)
    def malformed(_: Request, error: RequestValidationError) -> JSONResponse:
        faults = [_fault_of(one) for one in error.errors()]
        words = "; ".join(f"{one.field}: {one.detail}" if one.field else one.detail for one in faults)
        return _respond(422, "request", "The request was not understood.", words, faults[0].field, faults=faults)

    @app.exception_handler(HTTPException)
    def plain(_: Request, error: HTTPException) -> JSONResponse:
        answer = _respond(error.status_code, "http", str(error.detail), str(error.detail))
        answer.headers.update(error.headers or {})
        return answer
