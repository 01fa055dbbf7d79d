"""What is kept of work that was done before, safe for many requests at once: one lock for each look and each change.

Every cache of the bench is a shelf of this module: a dictionary of its own, or what a function `kept` returned.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import wraps
from typing import Final, Generic, ParamSpec, TypeVar

Key = TypeVar("Key", bound=Hashable)


Thing = TypeVar("Thing")


P = ParamSpec("P")

_LOCK: Final = threading.Lock()


class Shelf(Generic[Key, Thing]):
    """The latest things by their key; what was used longest ago goes first.

    Two that make the same thing at once both make it, and the later one stays: nobody waits for another's work.
    """

    def __init__(self, most: int | None = None) -> None:
        self._most = most
        self._things: OrderedDict[Key, Thing] = OrderedDict()

    def find(self, key: Key) -> Thing | None:
        """Return what stands under a key."""
        with _LOCK:
            if key in self._things:
                self._things.move_to_end(key)
            return self._things.get(key)

    def put(self, key: Key, thing: Thing) -> None:
        """Put a thing under a key."""
        with _LOCK:
            self._things[key] = thing
            self._things.move_to_end(key)
            while self._most is not None and len(self._things) > self._most:
                self._things.popitem(last=False)

    def find_or_make(self, key: Key, make: Callable[[], Thing]) -> Thing:
        """Return what stands under a key, made where there is nothing."""
        if self._most is None and key in self._things:
            return self._things[key]  # where nothing ever goes, nobody has to wait for a look
        with _LOCK:
            if key in self._things:
                self._things.move_to_end(key)
                return self._things[key]
        made = make()
        self.put(key, made)
        return made

    def list_all(self) -> list[tuple[Key, Thing]]:
        """Return everything as it stands now."""
        with _LOCK:
            return list(self._things.items())


def kept(most: int) -> Callable[[Callable[P, Thing]], Callable[P, Thing]]:
    """Keep what a function returned for its latest arguments: for what follows from rows that never change.

    Parameters
    ----------
    most : how many answers stand at once. The arguments are the key, so they can be hashed and never change.
    """

    def decorate(function: Callable[P, Thing]) -> Callable[P, Thing]:
        shelf: Shelf[tuple[Hashable, ...], Thing] = Shelf(most)

        @wraps(function)
        def answer(*args: P.args, **kwargs: P.kwargs) -> Thing:
            key = (*args, *sorted(kwargs.items()))
            return shelf.find_or_make(key, lambda: function(*args, **kwargs))

        return answer

    return decorate
