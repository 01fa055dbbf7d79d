"""Files that are being looked at: kept in memory until they are brought in; nothing of them is in the shop yet."""

import hashlib
import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import Final

from adhaero.core.errors import NotThere
from adhaero.core.tables.grid import Book
from adhaero.files.sheets.open_book import open_book

_MOST: Final = 4
STEPS: Final = ("opening the file", "reading its pieces", "checking its own arithmetic", "laying it out")


@dataclass(frozen=True)
class Doing:
    """What is being done with the file that was dropped last: its step, from 1, of how many; 0 for nothing."""

    step: int
    of: int
    words: str


@dataclass(frozen=True)
class StagedFile:
    """A file that was opened: its name, what it is known by, its bytes, and its cells."""

    name: str
    sha256: str
    content: bytes
    book: Book


class Staging:
    """The last files that were dropped, by their hash."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._files: OrderedDict[str, StagedFile] = OrderedDict()
        self._step = 0

    def begin(self, step: int) -> None:
        """Note which of `STEPS` is being done, from 1; 0 when all are."""
        self._step = step

    @property
    def doing(self) -> Doing:
        """Return what is being done."""
        step = self._step
        return Doing(step, len(STEPS), STEPS[step - 1] if step else "")

    def put(self, name: str, content: bytes, encoding: str = "") -> StagedFile:
        """Open a file and keep it for a while; raises `DataError` for one that is no table."""
        self.begin(1)
        staged = StagedFile(
            name.strip()[:120] or "table", hashlib.sha256(content).hexdigest(), content, open_book(content, encoding)
        )
        with self._lock:
            self._files[staged.sha256] = staged
            self._files.move_to_end(staged.sha256)
            while len(self._files) > _MOST:
                self._files.popitem(last=False)
        return staged

    def find(self, sha256: str) -> StagedFile:
        """Return a file that was dropped; raises `NotThere` for one that is forgotten."""
        with self._lock:
            staged = self._files.get(sha256)
        if staged is None:
            raise NotThere("That file is not held any more.", do="Drop it here again.")
        return staged
