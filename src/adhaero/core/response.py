"""What of a break is compared: strength, load, moment, the usable limit before it stays bent, stiffness, work, time."""

from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final


class Response(StrEnum):
    """What of a break is compared."""

    STRENGTH = "strength"
    LOAD = "load"
    USABLE = "usable"
    USABLE_LOAD = "usable_load"
    STIFFNESS = "stiffness"
    WORK = "work"
    REACHED = "reached"
    MOMENT = "moment"
    TIME = "time"


@dataclass(frozen=True)
class ResponseForm:
    """A response in words.

    Attributes
    ----------
    words : of the heading, empty for the kind of strength that the fixture gives. noun : within a sentence.
    column : in the breaks file, empty for the fixture's own with its unit. kind : what it is measured in; empty for
    the fixture's own. says : how it is made, empty for a strength. moved : it needs a displacement.
    """

    words: str
    noun: str
    column: str
    kind: str
    says: str
    moved: bool = False


_STAYS: Final = (
    "The load from which the secant of load over displacement stays 5 % below its straight part (20 to 50 % of the "
    "peak): from there on some of the bend stays. A piece that broke before counts as one that held up to there."
)

FORMS: Final = MappingProxyType(
    {
        Response.STRENGTH: ResponseForm("", "strength", "", "", ""),
        Response.LOAD: ResponseForm(
            "Load at break", "load", "load_N", "load", "The load at break as it is: larger pieces carry more."
        ),
        Response.USABLE: ResponseForm("Usable limit", "usable limit", "usable", "", _STAYS, moved=True),
        Response.USABLE_LOAD: ResponseForm(
            "Usable limit, as load", "usable load", "usable_N", "load", _STAYS, moved=True
        ),
        Response.STIFFNESS: ResponseForm(
            "Stiffness", "stiffness", "stiffness_N_per_mm", "stiffness",
            "Load over displacement along its straight part (20 to 50 % of the peak), with what fixture and rig give.",
            moved=True,
        ),
        Response.WORK: ResponseForm(
            "Work to the peak", "work", "work_J", "work",
            "The area under load over displacement up to the highest load, the give of fixture and rig included.",
            moved=True,
        ),
        Response.REACHED: ResponseForm(
            "How far it moved to the peak", "way to the peak", "reached_mm", "length",
            "The displacement at the highest load, from where its straight part meets no load, the give of fixture and "
            "rig included.",
            moved=True,
        ),
        Response.MOMENT: ResponseForm(
            "Moment at break", "moment", "moment_Nm", "moment",
            "The moment at the joint when it broke: bending strength · width · depth² / 6. Larger sections carry more.",
        ),
        Response.TIME: ResponseForm(
            "Time until it broke", "time until it broke", "hold_s", "time",
            "How long the last load was on until the piece broke, as it was written down; loads that differ are not "
            "made alike.",
        ),
    }
)  # fmt: skip
