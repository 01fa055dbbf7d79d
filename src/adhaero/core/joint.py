"""Joints: the surfaces that are glued, what they are made of, what their sizes are called, the parts they take."""

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from adhaero.core.errors import EntryError
from adhaero.core.wood import Grain, SurfacePair, pair_surfaces

Sizes = Mapping[str, float]


class Joint(StrEnum):
    """How the two parts of a piece meet."""

    LAPPED_BLOCK = "lapped-block"
    EDGE = "edge"
    FACE = "face"
    BUTT = "butt"
    HALF_LAP = "half-lap"
    CROSSED = "crossed"
    SCARF = "scarf"
    V_JOINT = "v-joint"
    FINGER = "finger"
    MITER = "miter"
    RABBET = "rabbet"
    MORTISE_TENON = "mortise-tenon"
    MORTISE_TENON_EDGES = "mortise-tenon-edges"
    LOOSE_TENON = "loose-tenon"
    DOWELS = "dowels"
    SPLINE = "spline"


@dataclass(frozen=True)
class GluedFace:
    """One glued surface of a piece: its area in mm² and the kinds of wood that meet in it, as shares of it."""

    words: str
    area_mm2: float
    shares: Mapping[SurfacePair, float]


@dataclass(frozen=True)
class Member:
    """One part of a piece as it is cut: along the grain, across it, and thick, mm."""

    words: str
    length_mm: float
    width_mm: float
    thickness_mm: float


Faces = Callable[[Sizes, Grain, Grain], tuple[GluedFace, ...]]


@dataclass(frozen=True)
class JointForm:
    """A joint in words.

    Attributes
    ----------
    sizes : the sizes that its area is computed from. formula : that computation in words.
    closes : whether the surfaces can follow the glue as it shrinks. faces : the glued surfaces.
    end_to_end : whether its parts run in one line (their lengths add up to the piece) or meet in a corner.
    grain : which size of the piece the grain runs along; edge and face joints cross the line of the piece.
    extra : by how much the first part is longer than its share, mm.
    """

    name: str
    sizes: tuple[str, ...]
    usual_fixture: str
    formula: str
    closes: bool
    faces: Faces
    end_to_end: bool = True
    grain: str = "length_mm"
    extra: Callable[[Sizes], float] = lambda _: 0.0


def _flat(first: str, second: str) -> Faces:
    """Return one flat surface whose kind is that of the two surfaces that the parts show."""
    return lambda s, a, b: (GluedFace("the joint", s[first] * s[second], {pair_surfaces(a, b): 1.0}),)


def _sloping(sine: float, area_mm2: float) -> tuple[GluedFace, ...]:
    """Return a surface at an angle to the grain: sin² of it counts as end grain, as Hankinson weighs directions."""
    shares = {SurfacePair.LONG: 1 - sine**2, SurfacePair.END_TO_END: sine**2}
    return (GluedFace("the sloping faces", area_mm2, shares),)


def _scarf(s: Sizes, _a: Grain, _b: Grain) -> tuple[GluedFace, ...]:
    stretch = math.sqrt(1 + s["slope"] ** 2)
    return _sloping(1 / stretch, s["width_mm"] * s["depth_mm"] * stretch)


def _miter(s: Sizes, _a: Grain, _b: Grain) -> tuple[GluedFace, ...]:
    return _sloping(math.sqrt(0.5), s["width_mm"] * s["depth_mm"] * math.sqrt(2))


def _v_joint(s: Sizes, _a: Grain, _b: Grain) -> tuple[GluedFace, ...]:
    sine = math.sin(math.radians(s["half_angle_deg"]))
    return _sloping(sine, s["width_mm"] * s["depth_mm"] / sine)


def _rabbet(s: Sizes, _a: Grain, _b: Grain) -> tuple[GluedFace, ...]:
    return (
        GluedFace("the bottom of the rabbet", s["width_mm"] * s["rabbet_width_mm"], {SurfacePair.END_TO_LONG: 1.0}),
        GluedFace("its shoulder", s["width_mm"] * s["rabbet_depth_mm"], {SurfacePair.LONG: 1.0}),
    )


def _cheeks(s: Sizes, _a: Grain, _b: Grain) -> tuple[GluedFace, ...]:
    return (GluedFace("both cheeks", 2 * s["tenon_length_mm"] * s["tenon_width_mm"], {SurfacePair.LONG: 1.0}),)


def _cheeks_and_edges(s: Sizes, a: Grain, b: Grain) -> tuple[GluedFace, ...]:
    edges = 2 * s["tenon_length_mm"] * s["tenon_thickness_mm"]
    return (*_cheeks(s, a, b), GluedFace("both edges", edges, {SurfacePair.END_TO_LONG: 1.0}))


def _dowels(s: Sizes, a: Grain, b: Grain) -> tuple[GluedFace, ...]:
    """Return the walls of the holes; one that runs across the grain meets end grain over half its wall."""
    across = a is not Grain.END or b is not Grain.END
    shares = {SurfacePair.LONG: 0.5, SurfacePair.END_TO_LONG: 0.5} if across else {SurfacePair.LONG: 1.0}
    area = s["dowel_count"] * math.pi * s["dowel_diameter_mm"] * s["dowel_depth_mm"]
    return (GluedFace("the dowels in one part", area, shares),)


def _finger(s: Sizes, _a: Grain, _b: Grain) -> tuple[GluedFace, ...]:
    area = (2 * s["finger_count"] - 1) * s["depth_mm"] * s["finger_length_mm"]
    return (GluedFace("the sides of the fingers", area, {SurfacePair.LONG: 1.0}),)


def _spline(s: Sizes, _a: Grain, _b: Grain) -> tuple[GluedFace, ...]:
    area = 2 * s["spline_depth_mm"] * s["width_mm"]
    return (GluedFace("both faces of the spline in one part", area, {SurfacePair.LONG: 1.0}),)


_WIDTH_DEPTH = ("width_mm", "depth_mm")
_TENON = ("tenon_length_mm", "tenon_width_mm")

FORMS: Final = MappingProxyType(
    {
        Joint.LAPPED_BLOCK: JointForm(
            "lapped block", ("width_mm", "overlap_mm"), "block-shear", "width · overlap", True,
            _flat("width_mm", "overlap_mm"), extra=lambda s: s["overlap_mm"],
        ),
        Joint.EDGE: JointForm(
            "edge joint", _WIDTH_DEPTH, "bend-3", "width · depth", True, _flat(*_WIDTH_DEPTH), grain="width_mm"
        ),
        Joint.FACE: JointForm(
            "face joint", _WIDTH_DEPTH, "butt-tension", "width · depth", True, _flat(*_WIDTH_DEPTH), grain="width_mm"
        ),
        Joint.BUTT: JointForm(
            "butt joint", _WIDTH_DEPTH, "butt-tension", "width · depth", True, _flat(*_WIDTH_DEPTH)
        ),
        Joint.HALF_LAP: JointForm(
            "half lap", ("width_mm", "overlap_mm"), "lap-tension", "width · overlap, one face", True,
            _flat("width_mm", "overlap_mm"), extra=lambda s: s["overlap_mm"],
        ),
        Joint.CROSSED: JointForm(
            "crossed pieces", ("width_mm", "overlap_mm"), "cross-lap", "one width · the other width", True,
            _flat("width_mm", "overlap_mm"), end_to_end=False,
        ),
        Joint.SCARF: JointForm(
            "scarf", (*_WIDTH_DEPTH, "slope"), "bend-4", "width · depth · √(1 + slope²)", True, _scarf,
            extra=lambda s: s["depth_mm"] * s["slope"],
        ),
        Joint.V_JOINT: JointForm(
            "V-joint", (*_WIDTH_DEPTH, "half_angle_deg"), "bend-3", "width · depth / sin(half angle)", True, _v_joint,
            extra=lambda s: s["depth_mm"] / 2 / math.tan(math.radians(s["half_angle_deg"])),
        ),
        Joint.FINGER: JointForm(
            "finger or box joint", ("finger_count", "finger_length_mm", "depth_mm"), "racking",
            "(2 · fingers − 1) · depth · finger length", False, _finger, end_to_end=False,
        ),
        Joint.MITER: JointForm(
            "miter at 45°", _WIDTH_DEPTH, "racking", "width · depth · √2", True, _miter, end_to_end=False
        ),
        Joint.RABBET: JointForm(
            "rabbet", ("width_mm", "rabbet_width_mm", "rabbet_depth_mm"), "racking",
            "width · (rabbet width + rabbet depth)", True, _rabbet, end_to_end=False,
        ),
        Joint.MORTISE_TENON: JointForm(
            "mortise and tenon, cheeks glued", _TENON, "racking", "2 · tenon length · tenon width", False,
            _cheeks, end_to_end=False, extra=lambda s: s["tenon_length_mm"],
        ),
        Joint.MORTISE_TENON_EDGES: JointForm(
            "mortise and tenon, cheeks and edges", (*_TENON, "tenon_thickness_mm"), "racking",
            "2 · tenon length · (tenon width + tenon thickness)", False, _cheeks_and_edges,
            end_to_end=False, extra=lambda s: s["tenon_length_mm"],
        ),
        Joint.LOOSE_TENON: JointForm(
            "loose tenon", _TENON, "withdrawal", "2 · depth in one part · tenon width", False,
            _cheeks, end_to_end=False,
        ),
        Joint.DOWELS: JointForm(
            "dowels", ("dowel_count", "dowel_diameter_mm", "dowel_depth_mm"), "withdrawal",
            "dowels · π · diameter · depth in one part", False, _dowels, end_to_end=False,
        ),
        Joint.SPLINE: JointForm(
            "spline", ("width_mm", "spline_depth_mm"), "withdrawal", "2 · depth in one part · width", False, _spline,
            end_to_end=False,
        ),
    }
)  # fmt: skip


def find_joint(words: str) -> Joint:
    """Return the joint of a name, or of words that only one name holds; raises `EntryError` that lists them.

    Examples
    --------
    >>> find_joint("Dowel joint").value, find_joint("box").value
    ('dowels', 'finger')
    """
    spoken = words.strip().lower()
    for joint, form in FORMS.items():
        if spoken in (joint.value, form.name.lower()):
            return joint
    said = _words_of(spoken) - {"joint"}
    holding = [joint for joint, form in FORMS.items() if said and said <= _words_of(form.name)]
    if len(holding) == 1:
        return holding[0]
    raise EntryError(
        f"“{words.strip()}” is not a joint known here.",
        f"Choose one of {', '.join(form.name for form in FORMS.values())}.",
        field="value",
    )


def _words_of(name: str) -> set[str]:
    return {word.removesuffix("s") for word in re.findall(r"[^\W\d_]+", name.lower())}


def list_faces(
    joint: Joint, sizes: Sizes, grain_a: Grain = Grain.FACE, grain_b: Grain = Grain.FACE
) -> tuple[GluedFace, ...]:
    """Return the glued surfaces of one piece.

    Parameters
    ----------
    joint : the joint. sizes : mm by the names in `FORMS[joint].sizes`; `slope` s of 1:s, counts and degrees as numbers.
    grain_a, grain_b : the surfaces that meet, for a flat joint.

    Raises
    ------
    EntryError : a size is missing or not above zero.
    """
    form = FORMS[joint]
    return form.faces({name: require_size(sizes, name) for name in form.sizes}, grain_a, grain_b)


def compute_glued_area(joint: Joint, sizes: Sizes) -> float:
    """Return the glued area of one piece in mm², by the formula in words in `FORMS`.

    A scarf of slope 1:s over the depth d has a face of d·√(1+s²) (Pythagoras), a V of half-angle φ two of d/2/sin φ.

    Raises
    ------
    EntryError : a size is missing or not above zero.

    Examples
    --------
    >>> round(compute_glued_area(Joint.SCARF, {"width_mm": 22, "depth_mm": 22, "slope": 8}), 1)
    3902.1
    """
    return sum(face.area_mm2 for face in list_faces(joint, sizes))


def compute_area_give(joint: Joint, sizes: Sizes, gives: Mapping[str, float]) -> float:
    """Return the standard uncertainty of a glued area, mm², from those of its sizes.

    Each size is moved by its own and the changes of the area add up as independent: √Σ(∂A/∂xᵢ·uᵢ)², by differences
    (JCGM 100, Guide to the expression of uncertainty in measurement, 2008, 5.1.2).

    Parameters
    ----------
    gives : standard uncertainties, mm, by the names of the sizes; those that are not there count as exact.

    Raises
    ------
    EntryError : a size is missing or not above zero.

    Examples
    --------
    >>> round(compute_area_give(Joint.FACE, {"width_mm": 30, "depth_mm": 9}, {"width_mm": 0.05, "depth_mm": 0.05}), 2)
    1.57
    """
    area = compute_glued_area(joint, sizes)
    moved = (
        compute_glued_area(joint, {**sizes, name: sizes[name] + give}) - area
        for name, give in gives.items()
        if give > 0 and name in FORMS[joint].sizes
    )
    return math.sqrt(sum(change**2 for change in moved))


def compute_shares(
    joint: Joint, sizes: Sizes, grain_a: Grain = Grain.FACE, grain_b: Grain = Grain.FACE
) -> dict[SurfacePair, float]:
    """Return which kinds of surface make up the glued area, as shares that add up to 1. Raises `EntryError`."""
    faces = list_faces(joint, sizes, grain_a, grain_b)
    total = sum(face.area_mm2 for face in faces)
    shares = {pair: sum(face.area_mm2 * face.shares.get(pair, 0.0) for face in faces) / total for pair in SurfacePair}
    return {pair: share for pair, share in shares.items() if share > 0}


def list_members(joint: Joint, sizes: Sizes, *, solid: bool = False) -> tuple[Member, ...]:
    """Return the parts that one piece is cut from, without allowances.

    In a line the parts share the length of the piece, and what overlaps is cut twice; in a corner each part has it
    all. A solid piece is one part. Where the grain runs across the line of the piece, a part's length along its grain
    is the piece's width. Dowels, splines and loose tenons are bought or made apart.

    Raises
    ------
    EntryError : length, width, depth or a size of the joint is missing.
    """
    length = require_size(sizes, "length_mm")
    width, depth = require_size(sizes, "width_mm"), require_size(sizes, "depth_mm")
    form = FORMS[joint]

    def cut(words: str, long: float) -> Member:
        return Member(words, width, long, depth) if form.grain == "width_mm" else Member(words, long, width, depth)

    if solid:
        return (cut("the piece", length),)
    extra = form.extra({name: require_size(sizes, name) for name in form.sizes})
    if form.end_to_end:
        half = (length + extra) / 2
        return (cut("first part", half), cut("second part", half))
    return (cut("first part", length + extra), cut("second part", length))


def require_size(sizes: Sizes, name: str) -> float:
    """Return a size that must be there and above zero; raise `EntryError` naming it otherwise."""
    value = sizes.get(name)
    words = name.removesuffix("_mm").removesuffix("_mm2").removesuffix("_deg").replace("_", " ")
    if value is None:
        raise EntryError(
            f"The {words} is missing.", "It is needed for the area or the strength.", f"Type the {words}.", field=name
        )
    if not (math.isfinite(value) and value > 0):
        raise EntryError(f"The {words} is {value:g} mm.", "It must be above 0.", "Measure it again.", field=name)
    return value
