"""Turns at writing into a shop file: whoever waited longest goes next, and a recorder before all others.

SQLite's own waiting is not fair: with several windows saving, a recorder could wait for seconds.
"""

import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


class Turns:
    """One writer at a time."""

    def __init__(self) -> None:
        self._condition = threading.Condition()
        self._urgent: deque[object] = deque()
        self._waiting: deque[object] = deque()
        self._busy = False

    @contextmanager
    def take(self, *, urgent: bool = False) -> Iterator[None]:
        """Wait for the turn and hold it; `urgent` goes before everybody who is not."""
        ticket = object()
        queue = self._urgent if urgent else self._waiting
        with self._condition:
            queue.append(ticket)
            self._condition.wait_for(lambda: not self._busy and self._next() is ticket)
            queue.popleft()
            self._busy = True
        try:
            yield
        finally:
            with self._condition:
                self._busy = False
                self._condition.notify_all()

    def _next(self) -> object:
        return (self._urgent or self._waiting)[0]


_turns: dict[Path, Turns] = {}
_lock = threading.Lock()


def turns_of(path: Path) -> Turns:
    """Return the turns of a shop file: the same for everybody in this program."""
    with _lock:
        return _turns.setdefault(path.absolute(), Turns())
