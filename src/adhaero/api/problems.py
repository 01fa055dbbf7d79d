"""Errors as problem details (RFC 9457): one table from the core's errors to HTTP."""

from typing import Any, Final

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse

from adhaero.core.errors import (
    AdhaeroError,
    DataError,
    EntryError,
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


class Problem(BaseModel):
    """A problem: what was understood, what was expected, what to do, and where."""

    type: str
    title: str
    status: int
    detail: str
    code: str
    field: str | None = None
    choices: list[str] = []


def make_problem(status: int, code: str, what: str, more: str = "") -> JSONResponse:
    """Return an answer that says what is wrong and what to do."""
    return _respond(status, code, what, f"{what} {more}".strip())


def _respond(
    status: int, code: str, title: str, detail: str, field: str | None = None, choices: tuple[str, ...] = ()
) -> JSONResponse:
    problem = Problem(
        type=f"about:blank#{code}",
        title=title,
        status=status,
        detail=detail,
        code=code,
        field=field,
        choices=list(choices),
    )
    return JSONResponse(problem.model_dump(), status, media_type="application/problem+json")


def unexpected() -> JSONResponse:
    """Return the answer to an error that nobody foresaw; nothing of the program's inside goes to the client."""
    return _respond(500, "unexpected", "Something went wrong inside Adhaero.", "Nothing was saved. The log says more.")


def describe_problems(app: FastAPI) -> None:
    """Say in the OpenAPI document what a problem is sent as."""
    original = app.openapi

    def openapi() -> dict[str, Any]:
        document = original()
        schema = {"schema": {"$ref": "#/components/schemas/Problem"}}
        for operations in document["paths"].values():
            for operation in operations.values():
                for status in ("default", "422"):
                    if status in operation["responses"]:
                        operation["responses"][status] = {
                            "description": "A problem (RFC 9457)",
                            "content": {"application/problem+json": schema},
                        }
        return document

    app.openapi = openapi  # type: ignore[method-assign]


def add_problem_handlers(app: FastAPI) -> None:
    """Answer every known error as a problem."""

    @app.exception_handler(AdhaeroError)
    def known(_: Request, error: AdhaeroError) -> JSONResponse:
        status = next((status for kind, status in _STATUS if isinstance(error, kind)), 500)
        return _respond(status, error.code, error.what, error.sentence, error.field, error.choices)

    @app.exception_handler(RequestValidationError)
    def malformed(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"] if part not in ("body", "query", "path"))
        words = f"{place}: {first['msg']}" if place else str(first["msg"])
        return _respond(422, "request", "The request was not understood.", words, place or None)

    @app.exception_handler(HTTPException)
    def plain(_: Request, error: HTTPException) -> JSONResponse:
        answer = _respond(error.status_code, "http", str(error.detail), str(error.detail))
        answer.headers.update(error.headers or {})
        return answer
