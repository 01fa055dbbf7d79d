"""Glue families and what to mind with each: the usual cautions, never instead of the maker's sheet."""

from enum import StrEnum
from types import MappingProxyType
from typing import Final


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
