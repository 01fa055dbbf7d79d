"""Kept work under a forced schedule: looking through it while another adds to it."""

import sys
import threading

from adhaero.bench.facts.shelf import Shelf


def test_a_shelf_is_looked_through_while_others_add_to_it() -> None:
    shelf: Shelf[int, int] = Shelf(most=500)
    failed: list[Exception] = []
    stop = threading.Event()

    def add(first: int) -> None:
        at = first
        while not stop.is_set():
            shelf.put(at, at)
            shelf.find(at - 40)
            at += 2

    def look() -> None:
        try:
            for _ in range(400):
                assert all(key == thing for key, thing in shelf.list_all())
        except Exception as error:
            failed.append(error)
        finally:
            stop.set()

    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    try:
        threads = [threading.Thread(target=add, args=(first,)) for first in (0, 1)]
        threads.append(threading.Thread(target=look))
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    finally:
        sys.setswitchinterval(before)
    assert failed == []
    assert len(shelf.list_all()) <= 500


def test_what_was_used_longest_ago_goes_first() -> None:
    shelf: Shelf[str, int] = Shelf(most=2)
    shelf.put("a", 1)
    shelf.put("b", 2)
    assert shelf.find("a") == 1
    shelf.put("c", 3)
    assert [key for key, _ in shelf.list_all()] == ["a", "c"]
    assert shelf.find_or_make("a", lambda: 9) == 1
    assert shelf.find_or_make("d", lambda: 4) == 4
