"""What it saves that connections wait for their next use: ratios of a reading and a change, as often as said.

Run: python -m benchmarks.connecting [TIMES]
"""

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from time import perf_counter

from adhaero.store.connecting import let_go
from adhaero.store.file import ShopFile, open_shop
from adhaero.store.trials import list_trials


def read(file: ShopFile) -> None:
    with file.reading() as connection:
        list_trials(connection)


def change(file: ShopFile) -> None:
    with file.changing("Tried", undoable=False):
        pass


def time_it(what: Callable[[ShopFile], None], file: ShopFile, times: int, *, anew: bool) -> float:
    """Return the time of one use, s; `anew` with a connection of its own each time."""
    what(file)
    begin = perf_counter()
    for _ in range(times):
        if anew:
            let_go(file.path)
        what(file)
    return (perf_counter() - begin) / times


def main() -> None:
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    with tempfile.TemporaryDirectory() as folder:
        file = open_shop(Path(folder) / "shop.sqlite")
        for name, what in (("reading", read), ("change", change)):
            anew, waiting = (time_it(what, file, times, anew=one) for one in (True, False))
            print(f"{name}: {1000 * waiting:.2f} ms, {anew / waiting:.0f} times as fast as with a new connection")
        let_go(file.path)


if __name__ == "__main__":
    main()
