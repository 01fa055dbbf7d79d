"""What is kept of work that was done before, safe for many requests at once: a lock for each look and each change."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Key = TypeVar("Key", bound=Hashable)


Thing = TypeVar("Thing")


class Shelf(Generic[Key, Thing]):
    """The latest things by their key; what was used longest ago goes first.

    Two that make the same thing at once both make it, and the later one stays: nobody waits for another's work.
    """

    def __init__(self, most: int | None = None) -> None:
        self._most = most
        self._lock = threading.Lock()
        self._things: OrderedDict[Key, Thing] = OrderedDict()

    def find(self, key: Key) -> Thing | None:
        """Return what stands under a key."""
        with self._lock:
            if key in self._things:
                self._things.move_to_end(key)
            return self._things.get(key)

    def put(self, key: Key, thing: Thing) -> None:
        """Put a thing under a key."""
        with self._lock:
            self._things[key] = thing
            self._things.move_to_end(key)
            while self._most is not None and len(self._things) > self._most:
                self._things.popitem(last=False)

    def find_or_make(self, key: Key, make: Callable[[], Thing]) -> Thing:
        """Return what stands under a key, made where there is nothing."""
        found = self.find(key)
        if found is None:
            found = make()
            self.put(key, found)
        return found

    def list_all(self) -> list[tuple[Key, Thing]]:
        """Return everything as it stands now."""
        with self._lock:
            return list(self._things.items())
