"""First come, first served: a timetable as someone would make it by hand, to begin the search with and to beat."""

from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, field

from adhaero.core.plan.tasks import EXPOSE_MIN, TEST_AFTER_MIN, Line, Making, PlannedBatch, find_close

_STEP_MIN = 5


@dataclass
class _Shop:
    """What is taken when; `waiting` are lines that may break at any time from a moment on."""

    making: Making
    hands: list[tuple[int, int]] = field(default_factory=list)
    rig: list[tuple[int, int]] = field(default_factory=list)
    clamps: list[tuple[str, int, int, int]] = field(default_factory=list)
    waiting: list[tuple[Line, int]] = field(default_factory=list)
    starts: list[tuple[str, int]] = field(default_factory=list)

    def save(self) -> tuple[int, int, int, int, int]:
        return len(self.hands), len(self.rig), len(self.clamps), len(self.waiting), len(self.starts)

    def restore(self, kept: tuple[int, int, int, int, int]) -> None:
        del self.hands[kept[0] :], self.rig[kept[1] :], self.clamps[kept[2] :], self.waiting[kept[3] :]
        del self.starts[kept[4] :]

    def take(self, key: str, length: int, low: int, high: int, *, rig: bool = False) -> int | None:
        """Give hands to a task at the first moment from `low` that is free and not after `high`."""
        for begin in self._moments(length, low, high, rig):
            if self._free(begin, begin + length, rig):
                self.hands.append((begin, begin + length))
                if rig:
                    self.rig.append((begin, begin + length))
                self.starts.append((key, begin))
                return begin
        return None

    def _moments(self, length: int, low: int, high: int, rig: bool) -> Iterator[int]:
        windows = self.making.windows
        for at in range(bisect_left(windows, low + length, key=lambda one: one[1]), len(windows)):
            begin, end = windows[at]
            if begin > high:
                return
            first, last = max(begin, low), min(end - length, high)
            if first <= last:
                yield first
                yield from sorted({end for _, end in (*self.hands, *(self.rig if rig else ())) if first < end <= last})

    def _free(self, begin: int, end: int, rig: bool) -> bool:
        if sum(low < end and begin < high for low, high in self.hands) >= self.making.hands:
            return False
        return not rig or not any(low < end and begin < high for low, high in self.rig)

    def clamp(self, name: str, number: int, begin: int, end: int) -> bool:
        """Take clamps of a name for a time; false where there are too few."""
        stock = dict(self.making.clamps).get(name)
        if stock is not None:
            mine = [one for one in self.clamps if one[0] == name and one[1] < end and begin < one[2]]
            peaks = [begin, *(one[1] for one in mine if one[1] > begin)]
            if any(sum(n for _, low, high, n in mine if low <= at < high) + number > stock for at in peaks):
                return False
        self.clamps.append((name, begin, end, number))
        return True


def place_in_turn(making: Making) -> dict[str, int] | None:
    """Return the begin of every task when each glue-up in turn begins as early as it goes; None where one never fits.

    Pinned tasks and tasks at odd hours are not tried: it is a beginning, not the best.
    """
    shop = _Shop(making)
    for one in sorted(making.batches, key=lambda batch: all(line.clamped_at is None for line in batch.lines)):
        if not _place(one, shop):
            return None
    # what may wait does: it would be in the way of clamps that have to come off on time
    for line, ready in sorted(shop.waiting, key=lambda one: one[1]):
        if not _measure_and_break(line, ready, making.horizon, shop):
            return None
    return dict(shop.starts)


def find_finish(making: Making, starts: dict[str, int]) -> int:
    """Return when the last break of placed tasks ends."""
    left = [line for one in making.batches for line in one.lines if not line.broken]
    return max((starts[f"measure {line.key}"] + line.measure_min + line.break_min for line in left), default=0)


def _place(one: PlannedBatch, shop: _Shop) -> bool:
    if all(line.clamped_at is not None or line.broken for line in one.lines):
        return all(line.broken or _place_line(line, 0, shop) for line in one.lines)
    for begin, end in shop.making.windows:
        for moment in range(max(begin, shop.making.now), end - one.glue_min + 1, _STEP_MIN):
            kept = shop.save()
            at = shop.take(f"glue {one.key}", one.glue_min, moment, moment)
            if at is not None and all(_place_line(line, at + find_close(one, line), shop) for line in one.lines):
                return True
            shop.restore(kept)
    return False


def _place_line(line: Line, closed: int, shop: _Shop) -> bool:
    now = shop.making.now
    on = closed if line.clamped_at is None else line.clamped_at
    shut = closed if line.closed_at is None else line.closed_at
    after = line.released_at
    if after is None:
        due = max(on + line.clamp_min, now)
        latest = max(on + line.clamp_min + line.give_min, due)
        off = shop.take(f"release {line.key}", line.release_min, due, latest)
        if off is None and line.clamped_at is None:
            off = shop.take(f"release {line.key}", line.release_min, max(on, due - line.give_min), latest)
        if off is None:
            return False
        after = off + line.release_min
        if not all(shop.clamp(name, number, on, after) for name, number in line.clamps):
            return False
    aged = shut + line.cure_min - (line.age_give_min or 0)
    ready = max(after, aged - line.measure_min, now)
    latest = shop.making.horizon if line.age_give_min is None else max(shut + line.cure_min + line.age_give_min, now)
    if line.age_give_min is None and not line.expose_min:
        shop.waiting.append((line, ready))
        return True
    if line.expose_min:
        ready = max(after, aged, now)
        for put in range(ready, min(ready + 14 * 24 * 60, latest + 1), 60):
            kept = shop.save()
            at = shop.take(f"put_in {line.key}", EXPOSE_MIN, put, min(put + 59, latest))
            out = None if at is None else at + EXPOSE_MIN + line.expose_min
            if out is not None and shop.take(f"take_out {line.key}", EXPOSE_MIN, out, out) is not None:
                dry = out + EXPOSE_MIN
                if _measure_and_break(line, dry, dry + TEST_AFTER_MIN, shop):
                    return True
            shop.restore(kept)
        return False
    return _measure_and_break(line, ready, latest, shop)


def _measure_and_break(line: Line, ready: int, latest: int, shop: _Shop) -> bool:
    length = line.measure_min + line.break_min
    low = max(shop.making.now, ready)
    return shop.take(f"measure {line.key}", length, low, max(low, latest - line.measure_min), rig=True) is not None
