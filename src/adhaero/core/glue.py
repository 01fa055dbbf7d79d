"""Glue families, what is usual with each and what to mind: never instead of the maker's sheet."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from adhaero.core.quantity import Bounds, Kind


class GlueFamily(StrEnum):
    """The generic families of wood glue."""

    PVA = "aliphatic PVA"
    XPVA = "cross-linking PVA"
    LIQUID_HIDE = "liquid hide"
    HOT_HIDE = "hot hide"
    FISH = "fish"
    CASEIN = "casein"
    EPOXY = "epoxy"
    POLYURETHANE = "polyurethane"
    CA_THIN = "cyanoacrylate thin"
    CA_THICK = "cyanoacrylate thick"
    CA_GEL = "cyanoacrylate gel"
    UREA = "powdered urea resin"
    RESORCINOL = "resorcinol"
    CONSTRUCTION = "construction adhesive"
    CONTACT = "contact cement"
    HOT_MELT = "hot melt"


_CYANOACRYLATE = "Bonds skin in seconds and its fumes irritate eyes and lungs: air, glasses, no cotton gloves."
_HOT = "Hot enough to burn: keep water within reach, do not touch the pot."
_SOLVENT = "Solvent vapour: air, no flame and no sparks."

_CAUTIONS: Final = MappingProxyType(
    {
        GlueFamily.EPOXY: "Resin and hardener can make you allergic for life: gloves, air, no skin contact. "
        "A large mix heats itself.",
        GlueFamily.POLYURETHANE: "Contains isocyanates until cured: gloves, air, no sanding before it is hard.",
        GlueFamily.CA_THIN: _CYANOACRYLATE,
        GlueFamily.CA_THICK: _CYANOACRYLATE,
        GlueFamily.CA_GEL: _CYANOACRYLATE,
        GlueFamily.UREA: "Gives off formaldehyde, and its powder is harmful dust: mask while mixing, air while curing.",
        GlueFamily.RESORCINOL: "Gives off formaldehyde, and its hardener dust is harmful: mask, gloves, air.",
        GlueFamily.HOT_HIDE: _HOT,
        GlueFamily.HOT_MELT: _HOT,
        GlueFamily.CONTACT: _SOLVENT,
        GlueFamily.CONSTRUCTION: _SOLVENT,
        GlueFamily.CASEIN: "Alkaline when mixed: gloves and glasses, and no dust in the lungs.",
    }
)


def caution_for(family: GlueFamily) -> str:
    """Return what to mind with a glue family, ending with the maker's sheet."""
    words = _CAUTIONS.get(family, "Keep it off skin and out of eyes.")
    return f"{words} Read the maker's sheet."


@dataclass(frozen=True)
class Figure:
    """One figure of a glue's card: its name on the screen, what it measures, what makes sense, its own unit if any."""

    words: str
    kind: Kind
    bounds: Bounds
    unit: str = ""


_DAY = 86_400.0

FIGURES: Final[Mapping[str, Figure]] = MappingProxyType(
    {
        "open_time_s": Figure("open time", Kind.TIME, Bounds(highest=7 * _DAY), "min"),
        "clamp_time_s": Figure("clamp time", Kind.TIME, Bounds(highest=30 * _DAY)),
        "load_time_s": Figure("time before load", Kind.TIME, Bounds(highest=90 * _DAY)),
        "lowest_temperature_c": Figure("lowest temperature", Kind.TEMPERATURE, Bounds(lowest=-30, highest=80)),
        "pressure_low_mpa": Figure("clamp pressure from", Kind.STRESS, Bounds(highest=20, zero_allowed=True)),
        "pressure_high_mpa": Figure("clamp pressure to", Kind.STRESS, Bounds(highest=20)),
        "solids_pct": Figure("solids", Kind.PERCENT, Bounds(highest=100)),
        "mix_ratio": Figure("mix, parts to one by weight", Kind.NUMBER, Bounds(highest=100)),
        "pot_life_s": Figure("pot life", Kind.TIME, Bounds(highest=7 * _DAY), "min"),
        "spread_g_m2": Figure("spread, g/m² per face", Kind.NUMBER, Bounds(highest=2000)),
        "density_g_ml": Figure("density, g/ml", Kind.NUMBER, Bounds(lowest=0.3, highest=3)),
        "pack_g": Figure("pack, by weight", Kind.MASS, Bounds(highest=1e6)),
        "pack_ml": Figure("or by volume", Kind.VOLUME, Bounds(highest=1e6)),
        "price": Figure("price of the pack", Kind.NUMBER, Bounds(highest=1e6, zero_allowed=True)),
        "left_g": Figure("left in it, g", Kind.MASS, Bounds(highest=1e6, zero_allowed=True)),
    }
)


def _usual(
    open_min: float,
    clamp_h: float,
    load_h: float,
    coldest: float,
    low: float,
    high: float,
    solids: float,
    spread: float,
) -> dict[str, float]:
    return {
        "open_time_s": open_min * 60,
        "clamp_time_s": clamp_h * 3600,
        "load_time_s": load_h * 3600,
        "lowest_temperature_c": coldest,
        "pressure_low_mpa": low,
        "pressure_high_mpa": high,
        "solids_pct": solids,
        "spread_g_m2": spread,
        "density_g_ml": 1.1,
    }


_CA_USUAL = _usual(0.5, 0.1, 24, 10, 0, 0.3, 100, 80)

USUAL: Final[Mapping[GlueFamily, Mapping[str, float]]] = MappingProxyType(
    {
        GlueFamily.PVA: _usual(5, 0.75, 24, 10, 0.7, 1.2, 46, 200),
        GlueFamily.XPVA: _usual(5, 1, 24, 10, 0.7, 1.4, 50, 200),
        GlueFamily.LIQUID_HIDE: _usual(5, 2, 24, 10, 0.5, 1.0, 50, 220),
        GlueFamily.HOT_HIDE: _usual(1, 4, 24, 18, 0.3, 0.8, 35, 220),
        GlueFamily.FISH: _usual(20, 12, 24, 10, 0.3, 0.8, 45, 200),
        GlueFamily.CASEIN: _usual(15, 6, 48, 5, 0.7, 1.4, 40, 260),
        GlueFamily.EPOXY: _usual(40, 14, 72, 12, 0.0, 0.2, 100, 250) | {"pot_life_s": 1500.0, "mix_ratio": 2.0},
        GlueFamily.POLYURETHANE: _usual(20, 4, 24, 8, 0.5, 1.0, 100, 150),
        GlueFamily.CA_THIN: _CA_USUAL,
        GlueFamily.CA_THICK: _CA_USUAL,
        GlueFamily.CA_GEL: _CA_USUAL,
        GlueFamily.UREA: _usual(15, 10, 72, 18, 0.7, 1.4, 65, 220) | {"pot_life_s": 10_800.0},
        GlueFamily.RESORCINOL: _usual(30, 12, 168, 21, 0.7, 1.4, 60, 250) | {"pot_life_s": 10_800.0},
        GlueFamily.CONSTRUCTION: _usual(15, 24, 72, 5, 0.05, 0.3, 70, 400),
        GlueFamily.CONTACT: _usual(60, 0.05, 24, 18, 0.1, 0.5, 25, 250),
        GlueFamily.HOT_MELT: _usual(0.5, 0.05, 1, 18, 0.05, 0.3, 100, 300),
    }
)

# what a well made long-grain joint of a family carries in shear, MPa: a rough guess for the forecast, nothing else
_ROUGH_SHEAR_MPA: Final = MappingProxyType(
    {
        GlueFamily.PVA: 11.0, GlueFamily.XPVA: 11.5, GlueFamily.LIQUID_HIDE: 10.0, GlueFamily.HOT_HIDE: 10.5,
        GlueFamily.FISH: 10.0, GlueFamily.CASEIN: 9.5, GlueFamily.EPOXY: 11.0, GlueFamily.POLYURETHANE: 9.0,
        GlueFamily.CA_THIN: 7.0, GlueFamily.CA_THICK: 8.0, GlueFamily.CA_GEL: 8.0, GlueFamily.UREA: 11.0,
        GlueFamily.RESORCINOL: 11.5, GlueFamily.CONSTRUCTION: 4.0, GlueFamily.CONTACT: 1.5, GlueFamily.HOT_MELT: 2.5,
    }
)  # fmt: skip

WATER_BORNE: Final = frozenset(
    {
        GlueFamily.PVA,
        GlueFamily.XPVA,
        GlueFamily.LIQUID_HIDE,
        GlueFamily.HOT_HIDE,
        GlueFamily.FISH,
        GlueFamily.CASEIN,
        GlueFamily.UREA,
    }
)


def rough_shear_mpa(family: GlueFamily) -> float:
    """Return what a long-grain joint of a family roughly carries in shear, MPa."""
    return _ROUGH_SHEAR_MPA[family]
