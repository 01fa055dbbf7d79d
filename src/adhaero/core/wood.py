"""Wood: the faces that can be glued."""

from enum import StrEnum


class Grain(StrEnum):
    """Which surface of a part meets the glue."""

    FACE = "face"
    EDGE = "edge"
    END = "end"
