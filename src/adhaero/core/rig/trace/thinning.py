"""Fewer points of a trace, for a drawing."""

from collections.abc import Sequence


def thin_trace(times_s: Sequence[float], loads_n: Sequence[float], most: int) -> list[tuple[float, float]]:
    """Return at most about `most` samples for a drawing: lowest and highest of each stretch, so peaks stay."""
    count = len(times_s)
    if count <= most:
        return list(zip(times_s, loads_n, strict=True))
    per = -(-2 * count // most)
    kept: set[int] = {0, count - 1}
    for start in range(0, count, per):
        part = range(start, min(start + per, count))
        kept.add(min(part, key=lambda i: loads_n[i]))
        kept.add(max(part, key=lambda i: loads_n[i]))
    return [(times_s[i], loads_n[i]) for i in sorted(kept)]
