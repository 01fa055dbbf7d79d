"""What looks wrong in a trace, in words."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from adhaero.core.quantity import Kind, show


class TraceFlag(StrEnum):
    """What looks wrong in a trace, in the order in which it is told."""

    CLIPPED = "clipped"
    SOFT = "soft"
    RELOADED = "reloaded"
    TWIN = "twin"
    SPIKE = "spike"
    DROPOUT = "dropout"
    GAP = "gap"
    UNREADABLE = "unreadable"
    OFFSET = "offset"
    DRIFT = "drift"
    REVERSED = "reversed"
    NOISY = "noisy"
    STROKES = "strokes"
    SHOCK = "shock"
    FEW = "few"
    CREEP = "creep"


@dataclass(frozen=True)
class Flag:
    """A flag and its sentence."""

    code: TraceFlag
    words: str


def word_flag(code: TraceFlag, numbers: Mapping[str, float], *, rested: bool) -> Flag:
    """Return a flag with its sentence; `numbers` are those found for it, `rested` whether the load rested before."""
    loads = {name: show(value, Kind.FORCE) for name, value in numbers.items() if name.endswith("_n")}
    count = round(numbers.get("count", 0))
    at, share = numbers.get("at_s", 0.0), 100 * numbers.get("share", 0.0)
    lasted, load = numbers.get("lasted_s", 0.0), loads.get("load_n", "")
    match code:
        case TraceFlag.CLIPPED:
            words = f"The load is flat at {load}, below the rig's limit: the piece held at least this much."
        case TraceFlag.SOFT:
            words = f"The load took {numbers['took_s']:.1f} s to fall: did it give way, or was it let off?"
        case TraceFlag.RELOADED:
            words = (
                f"It fell from {loads['from_n']} to {loads['to_n']} at {at:.1f} s and was loaded again: "
                "it slipped, or opened in steps."
            )
        case TraceFlag.TWIN:
            words = "Two peaks within 2 % of each other, with a drop between: it may have opened in steps."
        case TraceFlag.SPIKE:
            words = f"{_count(count, 'spike')}, the first of {load} at {at:.1f} s: not taken as load."
        case TraceFlag.DROPOUT:
            words = f"{_count(count, 'drop-out')}, the first to {load} at {at:.1f} s: not taken as load."
        case TraceFlag.GAP:
            words = f"The stream was interrupted for {lasted:.1f} s: the peak may be missing."
        case TraceFlag.UNREADABLE:
            words = f"{_count(count, 'line')} could not be read."
        case TraceFlag.OFFSET:
            what = "taken off" if rested else "not taken off"
            words = f"The rig showed {load} with nothing pulling: {what}."
        case TraceFlag.DRIFT:
            words = f"Zero moved by {load} during the pull: the peak is known to within that."
        case TraceFlag.REVERSED:
            words = "The load grows negative: the cell is wired backwards. It is read with its sign turned."
        case TraceFlag.NOISY:
            half = show(float(numbers["load_n"]) / 2, Kind.FORCE)
            words = f"The load is noisy: the peak may stand {half} too high."
        case TraceFlag.STROKES:
            words = f"Pumped in strokes that sag by {share:.0f} %: sags like these are no drops."
        case TraceFlag.SHOCK:
            words = f"The load jumped by {share:.0f} % of the peak at once: a shock, or a slip."
        case TraceFlag.FEW:
            words = f"Only {_count(count, 'reading')} on the way up: the peak may have fallen between two."
        case TraceFlag.CREEP:
            words = f"Held for {lasted:.0f} s, it sagged by {loads['sag_n']}."
    return Flag(code, words)


def _count(count: int, thing: str) -> str:
    return f"{count} {thing}" if count == 1 else f"{count} {thing}s"
