"""Starters: common questions with everything that a first plan needs; all of it can be changed."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Final

from adhaero.core.glue import GlueFamily
from adhaero.core.plan.fields import AnswerKind, Factor
from adhaero.core.plan.treatments import TreatmentKind

GLUES: Final = (GlueFamily.XPVA, GlueFamily.EPOXY, GlueFamily.POLYURETHANE)


@dataclass(frozen=True)
class StarterFactor:
    """What a starter varies: its values as a person would type them; a glue without values takes the shelf's."""

    kind: Factor
    values: tuple[str, ...] = ()
    name: str = ""


@dataclass(frozen=True)
class Starter:
    """A common question and a plan for it.

    Attributes
    ----------
    words : when to use it. factors, controls : what is varied and what it is held against.
    pieces : of each set. answer : the kind of answer. fields : of the plan, as typed; species : of its boards.
    """

    question: str
    words: str
    factors: tuple[StarterFactor, ...]
    pieces: int
    fields: Mapping[str, str]
    answer: AnswerKind = AnswerKind.COMPARE
    controls: tuple[TreatmentKind, ...] = ()
    species: str = "ash"
    pilot: int = 0
    extra: Mapping[str, str] = field(default_factory=dict)


_BLOCK = {
    "joint": "lapped-block",
    "fixture": "block-shear",
    "width_mm": "21 mm",
    "overlap_mm": "13 mm",
    "depth_mm": "14 mm",
    "length_mm": "62 mm",
    "material_a": "ash",
    "material_b": "ash",
}
_BUTT = {
    "joint": "butt",
    "fixture": "bend-4",
    "width_mm": "24 mm",
    "depth_mm": "24 mm",
    "length_mm": "370 mm",
    "span_mm": "330 mm",
    "load_arm_mm": "110 mm",
    "grain_a": "end",
    "grain_b": "end",
    "material_a": "ash",
    "material_b": "ash",
}
_SCARF = {
    "joint": "scarf",
    "fixture": "bend-4",
    "width_mm": "24 mm",
    "depth_mm": "24 mm",
    "length_mm": "370 mm",
    "slope": "1:8",
    "span_mm": "330 mm",
    "load_arm_mm": "110 mm",
    "material_a": "ash",
    "material_b": "ash",
}
_CORNER = {
    "joint": "dowels",
    "fixture": "racking",
    "width_mm": "48 mm",
    "depth_mm": "21 mm",
    "length_mm": "210 mm",
    "arm_mm": "190 mm",
    "dowel_count": "2",
    "dowel_diameter_mm": "8 mm",
    "dowel_depth_mm": "20 mm",
    "tenon_length_mm": "25 mm",
    "tenon_width_mm": "30 mm",
    "spline_depth_mm": "8 mm",
    "material_a": "ash",
    "material_b": "ash",
}


def _one(kind: Factor, *values: str, name: str = "") -> tuple[StarterFactor, ...]:
    return (StarterFactor(kind, values, name),)


STARTERS: Final[Mapping[str, Starter]] = MappingProxyType(
    {
        "which-glue": Starter(
            "Which glue holds this joint best?", "Glues side by side, everything else alike.",
            _one(Factor.GLUE), 8, _SCARF, controls=(TreatmentKind.SOLID,),
        ),
        "clamp-time": Starter(
            "How long must the clamps stay on?",
            "Times spaced by ratio: most happens at the start. All break at the same age.",
            _one(Factor.CLAMP_TIME, "15 min", "30 min", "1 h", "2 h", "4 h", "8 h"), 6, _BLOCK,
            answer=AnswerKind.CURVE,
        ),
        "pressure": Starter(
            "How much clamp pressure does it take?", "From hardly any to the top of the usual range.",
            _one(Factor.CLAMP_PRESSURE, "0.05 MPa", "0.2 MPa", "0.7 MPa", "1.4 MPa"), 8, _BLOCK,
            answer=AnswerKind.CURVE,
        ),
        "fit": Starter(
            "How tight must the fit be?", "A known gap in the glue line, set with shims.",
            _one(Factor.GAP, "0 mm", "0.1 mm", "0.25 mm", "0.5 mm", "1 mm"), 6, _BLOCK,
            answer=AnswerKind.CURVE,
        ),
        "prep": Starter(
            "Which surface should the glue go on?", "The same joint on differently prepared faces.",
            _one(Factor.PREP, "planed the same day", "scraped", "sanded 120", "sawn"), 8, _BLOCK,
        ),
        "grain": Starter(
            "What does grain orientation cost?", "Long grain, end grain, and one against the other.",
            _one(Factor.GRAIN, "face to face", "edge to edge", "end to face", "end to end"), 8, _BLOCK,
            controls=(TreatmentKind.SOLID,),
        ),
        "joint": Starter(
            "Which corner joint takes most?", "Different joints of the same stock, opened at the same arm.",
            _one(Factor.JOINT, "dowels", "mortise-tenon", "spline"), 8, _CORNER,
        ),
        "species": Starter(
            "Does this glue hold every wood alike?", "One glue on several woods, each off boards of its own.",
            _one(Factor.SPECIES, "ash", "larch", "cherry"), 8, _BLOCK, species="ash",
        ),
        "still-good": Starter(
            "Is this glue still good?", "The doubtful bottle against a fresh one of the same kind.",
            _one(Factor.OWN, "fresh", "in doubt", name="bottle"), 10, _BLOCK,
        ),
        "survives": Starter(
            "Does the joint survive wet and weather?", "Pairs of pieces alike: one stays dry, the other suffers.",
            (*_one(Factor.GLUE), StarterFactor(Factor.CONDITION, ("kept dry", "soaked 24 h"))), 8, _BLOCK,
            answer=AnswerKind.RETENTION, extra={"matched": "neighbours"},
        ),
        "lasts": Starter(
            "Does it last?", "Sets made together and broken years apart, dealt at random to the dates.",
            _one(Factor.CURE_TIME, "7 d", "6 mo", "1 y", "2 y", "5 y"), 8, _BLOCK, answer=AnswerKind.TREND,
        ),
        "end-grain-coats": Starter(
            "One coat or two on end grain?", "End grain drinks: a second coat after the first has soaked in.",
            _one(Factor.SPREAD, "one coat", "coat, wait 10 min, coat again", "thinned size first, then a coat"),
            8, _BUTT, controls=(TreatmentKind.SOLID,),
        ),
        "witness": Starter(
            "Is this mix sound?", "Witness pieces of one mix, broken open by hand: torn wood is a pass.",
            _one(Factor.OWN, "this mix", name="mix"), 5,
            {**_BLOCK, "fixture": "pry", "glue": "Epoxy"}, answer=AnswerKind.PASS_FAIL,
        ),
    }
)  # fmt: skip
