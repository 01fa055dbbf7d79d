"""The load forecast: what each set will roughly break at, held against the rig, and the size that would fit it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import exp, log, sqrt

from adhaero.core.errors import EntryError
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture, compute_strength
from adhaero.core.glue import GlueFamily, rough_shear_mpa
from adhaero.core.joint import Joint, compute_glued_area, compute_shares
from adhaero.core.wood import Grain, Species, SurfacePair

MOST_OF_CAPACITY = 0.9
AIM_OF_CAPACITY = 0.5
FEWEST_STEPS = 50
_ROUGH_SPREAD = 0.4
_OWN_SPREAD = 2.0
_PEEL = 0.6
_TENSION_OF_SHEAR = 0.7
_ACROSS_BENDING = 1.6
_BEST_GLUE_MPA = 11.5
# a size further from the one planned makes another joint of it
_MOST_CHANGE = 2.0
# share of the long-grain strength of a glue line that other surfaces reach: rough, from common bench experience
_SURFACE_SHARE = {SurfacePair.LONG: 1.0, SurfacePair.END_TO_LONG: 0.45, SurfacePair.END_TO_END: 0.3}


@dataclass(frozen=True)
class OwnBreaks:
    """Breaks of the shop's own that are like a set: their strengths in the unit of the fixture, and what they are."""

    strengths: tuple[float, ...]
    words: str


@dataclass(frozen=True)
class ForecastTreatment:
    """A set as the forecast sees it; `family` and `species` None where they are not known.

    Attributes
    ----------
    species, second : of either part. unknown : materials that are no wood of the table, as typed.
    """

    name: str
    joint: Joint
    sizes: Mapping[str, float]
    solid: bool = False
    family: GlueFamily | None = None
    species: Species | None = None
    grains: tuple[Grain, Grain] = (Grain.FACE, Grain.FACE)
    own: OwnBreaks | None = None
    second: Species | None = None
    unknown: tuple[str, ...] = ()

    @property
    def woods(self) -> tuple[Species, ...]:
        """Return the woods of its parts that are known."""
        return tuple(one for one in (self.species, self.second) if one is not None)


@dataclass(frozen=True)
class LoadBand:
    """What a set will roughly break at, N, and where that comes from; `pieces` of the shop's own behind it."""

    name: str
    low_n: float
    expected_n: float
    high_n: float
    pieces: int
    words: str


class Reach(StrEnum):
    """Whether a rig can break and read a set."""

    FITS = "fits"
    OUT_PULLS = "out_pulls"
    TOO_WEAK = "too_weak"


@dataclass(frozen=True)
class SizeChange:
    """A size that would bring the sets into the rig's reach; `names` are set to the same value together."""

    names: tuple[str, ...]
    value: float
    words: str


@dataclass(frozen=True)
class RigReach:
    """The sets against one rig: each set's reach, and the size that would fit where some do not.

    `safe_n` is up to where the rig is planned to pull: some of its capacity is left.
    """

    capacity_n: float
    safe_n: float
    resolution_n: float
    reaches: tuple[Reach, ...]
    change: SizeChange | None


def forecast_load(one: ForecastTreatment, fixture: Fixture) -> LoadBand | None:
    """Return the load band of one set.

    From the shop's own breaks: the geometric mean, and two standard deviations of the logarithms either way (at least
    15 %). Otherwise the weaker of wood and glue: a rough guess, a factor of 1.5 either way.

    Returns
    -------
    None where sizes are missing, the fixture has no strength, or neither wood nor glue is known.
    """
    per_newton = _per_newton(one, fixture)
    if per_newton is None:
        return None
    if one.own is not None and len(one.own.strengths) >= 3:
        logs = [log(value) for value in one.own.strengths]
        middle = sum(logs) / len(logs)
        spread = sqrt(sum((value - middle) ** 2 for value in logs) / (len(logs) - 1))
        reach = max(_OWN_SPREAD * spread, log(1.15))
        return _band(one.name, exp(middle) / per_newton, reach, len(logs), one.own.words)
    strength = _guess_strength(one, fixture)
    if strength is None:
        return None
    return _band(one.name, strength / per_newton, _ROUGH_SPREAD, 0, "a rough guess from wood and glue family")


def _band(name: str, expected_n: float, reach: float, pieces: int, words: str) -> LoadBand:
    return LoadBand(name, expected_n * exp(-reach), expected_n, expected_n * exp(reach), pieces, words)


def _per_newton(one: ForecastTreatment, fixture: Fixture) -> float | None:
    try:
        sizes = dict(one.sizes)
        if "area_mm2" in FIXTURES[fixture].sizes:
            sizes["area_mm2"] = compute_glued_area(one.joint, one.sizes)
        strength = compute_strength(fixture, 1.0, sizes)
    except EntryError:
        return None
    return strength.strength_mpa if strength.strength_mpa is not None else strength.moment_nm


def say_unknown(one: ForecastTreatment, fixture: Fixture) -> str | None:
    """Return why a set has no forecast, and what to do; None where it has one, or only a size is missing."""
    if one.unknown and (one.own is None or len(one.own.strengths) < 3):
        listed = " and ".join(f"“{words}”" for words in one.unknown)
        return f"{one.name}: not known, {listed} is no wood of the table. Break a pilot piece first."
    if _per_newton(one, fixture) is not None and forecast_load(one, fixture) is None:
        return f"{one.name}: not known from this wood, grain and glue. Break a pilot piece first."
    return None


def _guess_strength(one: ForecastTreatment, fixture: Fixture) -> float | None:
    """Return the weaker of the woods and the glue line, by how the grain of both parts meets; None where not known."""
    kind = FIXTURES[fixture].kind
    if one.unknown:
        return None
    try:
        shares = compute_shares(one.joint, one.sizes, *one.grains)
    except EntryError:
        return None
    across = one.joint in (Joint.EDGE, Joint.FACE) and Grain.END not in one.grains
    woods = [_wood_limit(wood, kind, one, across) for wood in one.woods]
    known = [value for value in woods if value is not None]
    if not one.solid:
        surface = sum(share * _SURFACE_SHARE[pair] for pair, share in shares.items())
        glue = None if one.family is None else _glue_limit(one, kind, surface, across)
        if glue is None and one.family is not None:
            return None
        known += [] if glue is None else [glue]
    limit = min(known) if known else None
    if limit is None:
        return None
    if fixture is Fixture.LAP_TENSION and not one.solid:
        limit *= _PEEL
    return limit if kind != "moment" else _to_moment(limit, one.sizes)


def _wood_limit(species: Species, kind: str, one: ForecastTreatment, across: bool) -> float | None:
    """Return what the wood of one part holds; None where it is pulled along its grain, and no limit."""
    end_to_end = one.grains == (Grain.END, Grain.END)
    if kind == "shear":
        return None if end_to_end and not one.solid else species.shear_mpa
    if kind == "tension":
        return None if end_to_end else species.tension_across_mpa
    return _ACROSS_BENDING * species.tension_across_mpa if across else species.bending_mpa


def _glue_limit(one: ForecastTreatment, kind: str, surface: float, across: bool) -> float | None:
    shear = rough_shear_mpa(one.family or GlueFamily.PVA)
    if kind == "shear":
        return shear * surface
    if kind == "tension":
        return _TENSION_OF_SHEAR * shear * surface
    if across:
        return _ACROSS_BENDING * _TENSION_OF_SHEAR * shear * surface
    if one.joint in (Joint.EDGE, Joint.FACE, Joint.BUTT):
        # a glue line across the piece bends as it is pulled apart: on end grain that is nothing like the wood's bending
        return _ACROSS_BENDING * _TENSION_OF_SHEAR * shear * surface
    if not one.woods:
        return None
    bending = min(wood.bending_mpa for wood in one.woods)
    quality = shear / _BEST_GLUE_MPA
    slope = one.sizes.get("slope")
    reach = slope / (slope + 2) if one.joint is Joint.SCARF and slope else surface * 0.8
    return bending * min(1.0, quality) * reach


def _to_moment(bending_mpa: float, sizes: Mapping[str, float]) -> float | None:
    width, depth = sizes.get("width_mm"), sizes.get("depth_mm")
    return None if width is None or depth is None else bending_mpa * width * depth**2 / 6 / 1000


def check_reach(
    bands: Sequence[LoadBand], capacity_n: float, resolution_n: float, fixture: Fixture, sizes: Mapping[str, float]
) -> RigReach:
    """Hold load bands against a rig.

    Above 90 % of the capacity a band out-pulls the rig; an expected load below 50 steps of its resolution is too weak
    to read. The size proposed brings the strongest set to half of the capacity.
    """
    reaches = tuple(
        Reach.OUT_PULLS
        if band.high_n > MOST_OF_CAPACITY * capacity_n
        else Reach.TOO_WEAK
        if band.expected_n < FEWEST_STEPS * resolution_n
        else Reach.FITS
        for band in bands
    )
    change = None
    if any(reach is not Reach.FITS for reach in reaches):
        strongest = max(band.expected_n for band in bands)
        change = propose_size(fixture, sizes, AIM_OF_CAPACITY * capacity_n / strongest)
    return RigReach(capacity_n, MOST_OF_CAPACITY * capacity_n, resolution_n, reaches, change)


def propose_size(fixture: Fixture, sizes: Mapping[str, float], factor: float) -> SizeChange | None:
    """Return the size that multiplies the breaking load by a factor; None where none within half to double does.

    A square bending section stays square: its load goes with the cube of its side.

    Examples
    --------
    >>> propose_size(Fixture.BEND_4, {"width_mm": 24, "depth_mm": 24}, 0.6699).value
    21.0
    """
    scales = [(name, power) for name, power in FIXTURES[fixture].scales if sizes.get(name)]
    if not scales:
        return None
    square = len(scales) > 1 and len({sizes[name] for name, _ in scales}) == 1
    chosen = scales if square else scales[:1]
    power = sum(power for _, power in chosen)
    value = sizes[chosen[0][0]] * factor ** (1 / power)
    value = float(round(value * 2) / 2 if value >= 10 else round(value, 1))
    now = sizes[chosen[0][0]]
    if value <= 0 or value == now or not now / _MOST_CHANGE <= value <= now * _MOST_CHANGE:
        return None
    names = tuple(name for name, _ in chosen)
    words = " and ".join(name.removesuffix("_mm").replace("_", " ") for name in sorted(names, reverse=True))
    return SizeChange(names, value, words)
