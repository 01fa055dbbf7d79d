"""What every request's body has in common: its types are taken at their word, and its texts can be seen."""

from typing import Annotated, Any, Final, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic_core import PydanticCustomError

from adhaero.core.glue import GlueFamily
from adhaero.core.plan.clamping import ClampKind
from adhaero.core.plan.fields import Factor
from adhaero.core.plan.treatments import SetKind, Spacing
from adhaero.core.rig.kinds import RigKind
from adhaero.core.rig.lines import DecimalMark
from adhaero.core.text import find_unseen, looks_empty

_BY_NAME: Final = Field(strict=False)
FactorName = Annotated[Factor, _BY_NAME]
SetKindName = Annotated[SetKind, _BY_NAME]
SpacingName = Annotated[Spacing, _BY_NAME]
FamilyName = Annotated[GlueFamily, _BY_NAME]
ClampKindName = Annotated[ClampKind, _BY_NAME]
RigKindName = Annotated[RigKind, _BY_NAME]
MarkName = Annotated[DecimalMark, _BY_NAME]
Unsaid = Literal[""]


class Body(BaseModel):
    """A body as it came.

    `0` is no “false” and `true` is no number; a field that nobody knows is refused. Texts hold nothing that cannot be
    seen: no control characters, no byte order mark, no blanks without a width.
    """

    model_config = ConfigDict(strict=True, extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _check_texts(cls, given: Any) -> Any:  # noqa: ANN401 (whatever came)
        if isinstance(given, dict):
            for value in given.values():
                for text in value if isinstance(value, list) else [value]:
                    if isinstance(text, str):
                        _check_text(text)
        return given


def _check_text(text: str) -> None:
    unseen = find_unseen(text)
    if unseen is not None:
        raise PydanticCustomError(
            "unseen",
            "“{text}” holds a character that cannot be seen (U+{code}). Type it again.",
            {"text": text.replace(unseen, "·")[:40], "code": f"{ord(unseen):04X}"},
        )
    if text.strip() and looks_empty(text):
        raise PydanticCustomError("unseen", "It holds nothing that can be seen. Type it again.")
