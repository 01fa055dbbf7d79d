"""What routes of several rooms answer."""

from typing import Annotated, Any

from fastapi import Path
from pydantic import BaseModel
from starlette.responses import Response

TrialId = Annotated[int, Path(ge=1, le=2**62)]
RowId = Annotated[int, Path(ge=1, le=2**62)]


class Created(BaseModel):
    """The id of what was made."""

    id: int


class Said(BaseModel):
    """What was done, in words."""

    what: str


class JpegResponse(Response):
    """A picture."""

    media_type = "image/jpeg"


def raw_body(media_type: str) -> dict[str, Any]:
    """Return how a route describes a body that is a file as it is."""
    return {"requestBody": {"content": {media_type: {"schema": {"type": "string", "format": "binary"}}}}}
