"""What went otherwise than planned by enough to be told: times in clamps, in soaks, of cure."""

from typing import Final

# a time more than this share off the planned one is told
OFF: Final = 0.1


def is_off(real_s: float, planned_s: float | None) -> bool:
    """Return whether a real time is more than a tenth off the planned one.

    Examples
    --------
    >>> is_off(3600, 3500), is_off(3600, 7200), is_off(3600, None)
    (False, True, False)
    """
    return bool(planned_s) and abs(real_s / (planned_s or 1.0) - 1) > OFF


def is_early(age_s: float | None, planned_s: float | None) -> bool:
    """Return whether a piece was broken more than a tenth before its cure was over."""
    return age_s is not None and age_s < (1 - OFF) * (planned_s or 0.0)
