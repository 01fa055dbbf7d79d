"""Glue: how much of each a plan takes, what it costs, and whether a glue-up fits the open time."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import IntEnum
from math import ceil

from adhaero.core.quantity import Kind, factor

WASTE_PCT = 30.0


@dataclass(frozen=True)
class GlueCard:
    """What is known of a glue: the person's figures, else what is usual with its family; None where neither says."""

    name: str
    family: str
    spread_g_m2: float | None = None
    density_g_ml: float | None = None
    pack_g: float | None = None
    pack_ml: float | None = None
    price: float | None = None
    left_g: float | None = None
    open_time_s: float | None = None
    clamp_time_s: float | None = None
    load_time_s: float | None = None
    lowest_temperature_c: float | None = None
    pressure_low_mpa: float | None = None
    pressure_high_mpa: float | None = None
    mix_ratio: float | None = None
    pot_life_s: float | None = None
    solids_pct: float | None = None
    usual: frozenset[str] = frozenset()

    @property
    def pack_mass_g(self) -> float | None:
        """Return what a pack weighs, g; from its volume where only that is known."""
        if self.pack_g is not None:
            return self.pack_g
        return None if self.pack_ml is None else self.pack_ml * (self.density_g_ml or 1.1)


@dataclass(frozen=True)
class GlueNeed:
    """What a plan takes of one glue.

    Attributes
    ----------
    mass_g : on the wood and wasted; None without a spread rate or an area.
    first_part_g, second_part_g : of a two-part glue; None otherwise.
    packs : to buy, beside what is left of the open one; cost : of the glue used; price_per_piece, per_100_cm2 : of it.
    missing : what the cost cannot be told without.
    """

    name: str
    pieces: int
    mass_g: float | None
    first_part_g: float | None
    second_part_g: float | None
    packs: int | None
    cost: float | None
    price_per_piece: float | None
    per_100_cm2: float | None
    missing: tuple[str, ...]


def compute_glue_mass(area_mm2: float, spread_g_m2: float, faces: int = 1, waste_pct: float = WASTE_PCT) -> float:
    """Return the glue for an area, g: area · spread rate per face · faces · (1 + waste).

    Examples
    --------
    >>> round(compute_glue_mass(10_000, 200, faces=2, waste_pct=0), 2)
    4.0
    """
    return area_mm2 / 1e6 * spread_g_m2 * faces * (1 + waste_pct / 100)


def compute_glue_need(
    card: GlueCard, areas_mm2: Sequence[tuple[int, float | None]], faces: int, waste_pct: float
) -> GlueNeed:
    """Return what a plan takes of one glue.

    Parameters
    ----------
    card : the glue. areas_mm2 : for each of its sets, how many pieces, and the glued area of one (None if unknown).
    faces : spread faces per joint, 1 or 2. waste_pct : left in the pot and squeezed out.
    """
    pieces = sum(number for number, _ in areas_mm2)
    total = sum(number * area for number, area in areas_mm2 if area is not None)
    missing = []
    if any(area is None for _, area in areas_mm2):
        missing.append("the sizes of the joint")
    if card.spread_g_m2 is None:
        missing.append("its spread rate")
    mass = None
    if not missing and card.spread_g_m2 is not None:
        mass = compute_glue_mass(total, card.spread_g_m2, faces, waste_pct)
    pack = card.pack_mass_g
    packs = None
    if mass is not None and pack:
        packs = max(0, ceil((mass - (card.left_g or 0.0)) / pack - 1e-9))
    missing += ["its price"] if card.price is None else []
    missing += ["its pack size"] if pack is None else []
    second = None if mass is None or card.mix_ratio is None else mass / (1 + card.mix_ratio)
    cost = mass * card.price / pack if mass is not None and card.price is not None and pack else None
    return GlueNeed(
        name=card.name,
        pieces=pieces,
        mass_g=mass,
        first_part_g=None if second is None or mass is None else mass - second,
        second_part_g=second,
        packs=packs,
        cost=cost,
        price_per_piece=cost / pieces if cost is not None and pieces else None,
        per_100_cm2=cost / total * 10_000 if cost is not None and total else None,
        missing=tuple(missing),
    )


@dataclass(frozen=True)
class Mix:
    """What to weigh of a two-part glue, g, to the step of the scale; `off_pct` is how far that is from the ratio."""

    first_g: float
    second_g: float
    off_pct: float


def compute_mix(mass_g: float, ratio: float, step_g: float) -> Mix:
    """Return what to weigh for at least a mass of mixed glue, the smaller part rounded up to a step of the scale first.

    Parameters
    ----------
    mass_g : needed. ratio : parts of the first to one of the second, by weight. step_g : that the scale shows.

    Examples
    --------
    >>> compute_mix(2.7, 2, 0.1)
    Mix(first_g=1.8, second_g=0.9, off_pct=0.0)
    """
    second = ceil(mass_g / (1 + ratio) / step_g - 1e-9) * step_g
    first = round(second * ratio / step_g) * step_g
    return Mix(round(first, 6), round(second, 6), abs(first / second / ratio - 1) * 100 if second else 0.0)


def find_waits(words: str) -> tuple[float, ...]:
    """Return the waiting times, s, that someone's words of spreading name.

    Examples
    --------
    >>> find_waits("coat, wait 10 min, coat again, wait 1 h")
    (600.0, 3600.0)
    """
    found = re.findall(r"wait\s+(\d+(?:[.,]\d+)?)\s*(s|sec|min|h|d)\b", words.lower())
    return tuple(float(number.replace(",", ".")) * factor(Kind.TIME, unit) for number, unit in found)


def split_batch(pieces: int, seconds_each: float, open_time_s: float) -> tuple[int, int]:
    """Return how many pieces fit one glue-up within the open time, at least one, and how many glue-ups that makes.

    Examples
    --------
    >>> split_glue_up(14, 60, 300)
    (5, 3)
    """
    fit = max(1, int(open_time_s // seconds_each))
    return fit, ceil(pieces / fit)


def compute_void_share(solids_fraction: float) -> float:
    """Return the share of a gap left empty by a water-borne glue in a joint that cannot close: 1 − solids."""
    return 1 - solids_fraction


class Urgency(IntEnum):
    """What comes first at a glue-up: glue that lies open."""

    TO_CLAMP = 1
    TO_CLOSE = 2
    SOAKED = 3
    TO_COAT = 4
    TO_SPREAD = 5
    SOAKING = 6
    DONE = 7


def find_urgency(
    *, to_clamp: bool, to_close: bool, to_spread: bool, to_coat: bool, coated: bool, soaked: bool
) -> Urgency:
    """Return how urgent the next step of a piece is.

    What is closed goes into the clamp, what is spread is closed, what has soaked in long enough is spread; then comes
    the next first coat, or the next piece; last what still soaks in.
    """
    if to_clamp:
        return Urgency.TO_CLAMP
    if to_close:
        return Urgency.TO_CLOSE
    if to_spread and coated:
        return Urgency.SOAKED if soaked else Urgency.SOAKING
    if to_coat:
        return Urgency.TO_COAT if soaked else Urgency.SOAKING
    return Urgency.TO_SPREAD if to_spread else Urgency.DONE
