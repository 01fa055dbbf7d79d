"""Copies of a shop: made while it is in use, one a day kept beside it, and going back to one."""

import re
import sqlite3
import tempfile
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Final

from adhaero.core.errors import StorageError
from adhaero.store.connecting import connect, let_go
from adhaero.store.copying import copy_online
from adhaero.store.file import HEADER, ShopFile, open_shop
from adhaero.store.migrating import newest_version
from adhaero.store.troubles import explain, explain_disk
from adhaero.store.turns import turns_of

KEPT_DAYS: Final = 14
_DAY: Final = re.compile(r"\.(\d{4}-\d{2}-\d{2})$")


def copy_shop(file: ShopFile, folder: Path | None = None) -> Path:
    """Copy a shop as it stands now into one file of a folder, beside the shop where none is given; return it.

    Raises
    ------
    StorageError : the folder cannot be written, or the disk is full.
    """
    moment = file.clock().astimezone().strftime("%Y-%m-%d-%H%M%S")
    target = (folder or file.path.parent) / f"{file.path.stem}-copy-{moment}.sqlite"
    _copy(file.path, target)
    return target


def keep_daily_copy(file: ShopFile) -> Path | None:
    """Keep a copy for today beside a shop that was used since the last one; the latest fortnight stays.

    Called again on the same day it takes the place of the one before, so that the day ends with all of it.

    Returns
    -------
    The copy; None where nothing changed since the last.
    """
    days = list_daily_copies(file.path)
    today = file.clock().astimezone().date().isoformat()
    if days and days[-1][0] > today:
        return None  # the clock went back: what is kept of later days stays
    newest = _newest_change(file.path)
    if newest == (_newest_change(days[-1][1]) if days else 0):
        return None
    target = file.path.with_name(f"{file.path.name}.{today}")
    _copy(file.path, target)
    for _, old in list_daily_copies(file.path)[:-KEPT_DAYS]:
        old.unlink(missing_ok=True)
    return target


def list_daily_copies(path: Path) -> list[tuple[str, Path]]:
    """Return the copies kept beside a shop by day, oldest first."""
    found = []
    for beside in path.parent.glob(f"{path.name}.*"):
        if day := _DAY.search(beside.name):
            found.append((day[1], beside))
    return sorted(found)


@dataclass(frozen=True)
class Holding:
    """What a shop file holds: how many of what, when it was last changed, and the questions of its trials."""

    trials: int
    pieces: int
    breaks: int
    glues: int
    changed_utc: str
    questions: frozenset[str]

    def words(self) -> str:
        """Return it in words."""
        when = self.changed_utc[:16].replace("T", " ") or "never"
        return (
            f"{self.trials} trials, {self.pieces} pieces, {self.breaks} breaks, {self.glues} glues, "
            f"last changed {when} UTC"
        )


@dataclass(frozen=True)
class Restored:
    """A shop that went back to a copy: where the one before it is kept, and what each holds."""

    kept: Path | None
    before: Holding | None
    now: Holding

    def list_differences(self) -> list[str]:
        """Return what differs in words: trials that are gone, and those that came back."""
        if self.before is None:
            return []
        gone, back = self.before.questions - self.now.questions, self.now.questions - self.before.questions
        return [
            *(f"not in the copy: {question}" for question in sorted(gone)),
            *(f"only in the copy: {question}" for question in sorted(back)),
        ]


def restore_shop(path: Path, source: Path, now: datetime) -> Restored:
    """Go back to a copy of a shop; the present one is kept beside it.

    Parameters
    ----------
    path : the shop file. source : a copy of one. now : names the file that the present shop is kept as.

    Raises
    ------
    StorageError : the copy is no shop file, is damaged or from a newer program, or the shop is in use.
    """
    check_copy(source)
    with tempfile.TemporaryDirectory(prefix="adhaero-restore-", ignore_cleanup_errors=True) as folder:
        tried = Path(folder) / "shop.sqlite"
        _copy(source, tried)
        open_shop(tried)  # brings it up to date, or says why it cannot be used, before anything is touched
        return _put_back(path, tried, now)


def _put_back(path: Path, source: Path, now: datetime) -> Restored:
    kept, before = None, None
    if path.exists() and path.stat().st_size > 0:
        before = hold(path)
        kept = path.with_name(f"{path.name}.aside-{now.astimezone():%Y-%m-%d-%H%M%S}")
        _copy(path, kept)
    let_go(path)
    try:
        with (
            turns_of(path).take(),
            closing(connect(source, read_only=True)) as copy,
            closing(connect(path, read_only=False)) as shop,
        ):
            copy.backup(shop)
            shop.execute("PRAGMA journal_mode = WAL")
    except sqlite3.Error as error:
        raise explain(error, path) or StorageError(f"{path} could not be put back ({error}).") from error
    return Restored(kept, before, hold(source))


def check_copy(source: Path) -> None:
    """Raise `StorageError` for anything that is no whole shop file that this program can read."""
    try:
        with source.open("rb") as file:
            header = file.read(len(HEADER))
    except OSError as error:
        raise explain_disk(error, source) from error
    if header != HEADER:
        raise StorageError(f"{source} is not a shop file.", "Expected a copy that Adhaero made.", "Name another file.")
    try:
        with closing(connect(source, read_only=True)) as connection:
            version = connection.execute("PRAGMA user_version").fetchone()[0]
            sound = connection.execute("PRAGMA integrity_check").fetchone()[0]
            if sound != "ok":
                raise StorageError(f"{source} is damaged ({sound[:80]}).", "Nothing was changed.", "Name another copy.")
            if not 1 <= version <= newest_version():
                raise StorageError(
                    f"{source} is a file of version {version}; this program knows up to {newest_version()}.",
                    "Nothing was changed.",
                    "Update the program.",
                )
    except sqlite3.Error as error:
        raise explain(error, source) or StorageError(f"{source} is not a shop file.") from error


def hold(path: Path) -> Holding:
    """Return what a shop file holds; raises `StorageError`."""
    counts = [
        "SELECT count(*) FROM trial WHERE removed_utc IS NULL",
        "SELECT count(*) FROM piece",
        "SELECT count(*) FROM pull WHERE state = 'kept'",
        "SELECT count(*) FROM glue",
    ]
    try:
        with closing(connect(path, read_only=True)) as connection:
            numbers = [int(connection.execute(sql).fetchone()[0]) for sql in counts]
            asked = connection.execute("SELECT question FROM trial WHERE removed_utc IS NULL")
            questions = frozenset(row["question"] for row in asked)
            newest = connection.execute("SELECT coalesce(max(at_utc), '') FROM change").fetchone()[0]
    except sqlite3.Error as error:
        raise explain(error, path) or StorageError(f"{path} is not a shop file.") from error
    trials, pieces, breaks, glues = numbers
    return Holding(trials, pieces, breaks, glues, newest, questions)


def _newest_change(path: Path) -> int:
    try:
        with closing(connect(path, read_only=True)) as connection:
            return int(connection.execute("SELECT coalesce(max(id), 0) FROM change").fetchone()[0])
    except sqlite3.Error:
        return -1


def _copy(path: Path, target: Path) -> None:
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with closing(connect(path, read_only=True)) as source:
            copy_online(source, target)
    except sqlite3.Error as error:
        raise explain(error, path) or StorageError(f"{target} could not be written ({error}).") from error
    except OSError as error:
        raise explain_disk(error, target) from error
