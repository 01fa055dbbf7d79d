"""What a displacement says, as the columns of a pull."""

from typing import TypedDict

from adhaero.core.rig.trace.bending import Bending


class Bent(TypedDict, total=False):
    """What a displacement says, as a pull keeps it."""

    stiffness_n_per_mm: float | None
    bend_starts_n: float | None
    bend_by_span_n: float | None
    energy_j: float | None
    stayed_bent_mm: float | None
    reached_mm: float | None


def keep_bending(bending: Bending | None) -> Bent:
    """Return what a displacement says as the columns of a pull; nothing known without one."""
    return Bent(
        stiffness_n_per_mm=bending.stiffness_n_per_mm if bending else None,
        bend_starts_n=bending.bend_starts_n if bending else None,
        bend_by_span_n=bending.bend_starts_by_span_n if bending else None,
        energy_j=bending.energy_j if bending else None,
        stayed_bent_mm=bending.stayed_bent_mm if bending else None,
        reached_mm=bending.reached_mm if bending else None,
    )
