"""What routes of several rooms send and answer."""

from typing import Annotated

from fastapi import Path
from pydantic import BaseModel, Field
from starlette.responses import Response

from adhaero.api.body import Body

TrialId = Annotated[int, Path(ge=1, le=2**62)]


RowId = Annotated[int, Path(ge=1, le=2**62)]


BodyId = Annotated[int, Field(ge=1, le=2**62)]


class Created(BaseModel):
    """The id of what was made."""

    id: int


class Said(BaseModel):
    """What was done, in words."""

    what: str


class Edit(Body):
    """One field: what it held when it was shown, and what it shall hold."""

    field: str = Field(max_length=60)
    was: str = Field(max_length=2000)
    now: str = Field(max_length=2000)


class Tick(Body):
    """Whether a step is done."""

    done: bool


class Chosen(Body):
    """Chosen pieces, and when it was done if not now."""

    pieces: list[BodyId] = Field(max_length=20_000)
    at_utc: str | None = Field(default=None, max_length=40)


class Note(Body):
    """A note, and what stood there when it was shown."""

    was: str = Field(max_length=2000)
    now: str = Field(max_length=2000)


class Reason(Body):
    """Why."""

    reason: str = Field(max_length=1000)


class JpegResponse(Response):
    """A picture."""

    media_type = "image/jpeg"
