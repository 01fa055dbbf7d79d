"""Wood: the surfaces that meet in a joint, reference values of species, and how wood moves."""

import csv
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache, lru_cache
from importlib import resources
from types import MappingProxyType
from typing import Final

FIBRE_SATURATION_PCT: Final = 28.0
CROSS_GRAIN_CAUTION_MM: Final = 75.0


class Grain(StrEnum):
    """Which surface of a part meets the glue."""

    FACE = "face"
    EDGE = "edge"
    END = "end"


GRAIN_WORDS: Final = MappingProxyType({Grain.FACE: "face grain", Grain.EDGE: "edge grain", Grain.END: "end grain"})


class SurfacePair(StrEnum):
    """Which kinds of surface a glue line joins; face and edge are both long grain."""

    LONG = "face or edge to face or edge"
    END_TO_LONG = "end to face"
    END_TO_END = "end to end"


class Rings(StrEnum):
    """How the growth rings lie in a board."""

    FLAT = "flat"
    RIFT = "rift"
    QUARTER = "quarter"


@dataclass(frozen=True)
class Species:
    """Typical published values of clear wood at 12 % moisture: where to start, not what a board is.

    Attributes
    ----------
    density_kg_m3 : at 12 % moisture. bending_mpa, stiffness_mpa : modulus of rupture and of elasticity.
    shear_mpa : along the grain. tension_across_mpa, compression_across_mpa : across the grain.
    radial_pct, tangential_pct : shrinkage from green to oven dry. source : where the values come from.
    """

    name: str
    density_kg_m3: float
    bending_mpa: float
    stiffness_mpa: float
    shear_mpa: float
    tension_across_mpa: float
    compression_across_mpa: float
    radial_pct: float
    tangential_pct: float
    source: str


@cache
def list_species() -> Mapping[str, Species]:
    """Return the reference table of species by name."""
    text = (resources.files("adhaero.core") / "data" / "species.csv").read_text(encoding="utf-8")
    rows = csv.DictReader(line for line in text.splitlines() if not line.startswith("#"))
    found = {}
    for row in rows:
        numbers = {key: float(value) for key, value in row.items() if key not in ("name", "source")}
        found[row["name"]] = Species(name=row["name"], source=row["source"], **numbers)
    return MappingProxyType(found)


@lru_cache(maxsize=512)
def find_species(words: str) -> Species | None:
    """Return the species that someone's words mean: the longest name of the table that stands in them.

    Examples
    --------
    >>> find_species("Sitka spruce, quarter sawn").name
    'Sitka spruce'
    >>> find_species("mystery wood") is None
    True
    """
    spoken = f" {' '.join(words.lower().replace(',', ' ').split())} "
    names = [name for name in list_species() if f" {name.lower()} " in spoken]
    if not names:
        return None
    return list_species()[max(names, key=len)]


def compute_movement(width_mm: float, shrinkage_pct: float, moisture_change_pct: float) -> float:
    """Return by how many mm a width across the grain changes: W · C · ΔM, C = shrinkage / 28 / 100.

    Parameters
    ----------
    width_mm : W, across the grain. shrinkage_pct : green to oven dry, radial or tangential.
    moisture_change_pct : ΔM, percentage points; negative when it dries.

    Examples
    --------
    >>> round(compute_movement(100, 7.8, 4), 2)
    1.11
    """
    return width_mm * shrinkage_pct / FIBRE_SATURATION_PCT / 100 * moisture_change_pct


def pair_surfaces(first: Grain, second: Grain) -> SurfacePair:
    """Return what kind of glue line two surfaces make."""
    ends = (first is Grain.END) + (second is Grain.END)
    return (SurfacePair.LONG, SurfacePair.END_TO_LONG, SurfacePair.END_TO_END)[ends]
