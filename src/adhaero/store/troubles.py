"""What SQLite and the disk raise, in words; a mistake of this program stays what it is."""

import re
import shutil
import sqlite3
from pathlib import Path
from typing import Final

from adhaero.core.errors import AdhaeroError, DataError, InUse, StateError, StorageError

NOTHING_SAVED: Final = "Nothing was saved."
_LEAST_FREE: Final = 1_000_000


def explain(error: sqlite3.Error, path: Path) -> AdhaeroError | None:
    """Return what an error of SQLite means for the person; None for a mistake of the program, which is to be logged."""
    code = getattr(error, "sqlite_errorname", "") or ""
    if code.startswith("SQLITE_IOERR") and not _is_full(path):
        return StorageError(
            f"The disk cannot be read or written at {path}.", NOTHING_SAVED, "Check the disk and its cable."
        )
    if code.startswith(("SQLITE_FULL", "SQLITE_IOERR")):
        return StorageError("The disk is full.", NOTHING_SAVED, f"Make room beside {path.name} and do it again.")
    if code.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
        return StorageError("Another program holds the shop file.", NOTHING_SAVED, "Close it and do it again.")
    if code.startswith(("SQLITE_READONLY", "SQLITE_PERM", "SQLITE_AUTH")):
        return StorageError(
            f"The shop file {path} can only be read.", NOTHING_SAVED, "Check the rights of the file and of its folder."
        )
    if code.startswith("SQLITE_CANTOPEN"):
        return StorageError(
            f"The shop file {path} cannot be opened.",
            "A folder stands in its place, its folder is gone, or it belongs to somebody else.",
            "Name another file.",
        )
    if code.startswith("SQLITE_NOTADB"):
        return StorageError(f"{path} is not a shop file.", "Expected a file made by Adhaero.", "Name another file.")
    if code.startswith("SQLITE_CORRUPT"):
        return StorageError(
            f"The shop file {path} is damaged.", NOTHING_SAVED, "Go back to a copy: adhaero restore COPY."
        )
    if code.startswith("SQLITE_CONSTRAINT"):
        return _explain_constraint(code, str(error))
    return None


def _explain_constraint(code: str, text: str) -> AdhaeroError | None:
    if code == "SQLITE_CONSTRAINT_UNIQUE":
        return StateError("The same was saved a moment before.", NOTHING_SAVED, "Look again, then do it once more.")
    if code == "SQLITE_CONSTRAINT_FOREIGNKEY":
        return InUse("Something else refers to this, or it is gone.", NOTHING_SAVED, "Look again.")
    if code == "SQLITE_CONSTRAINT_CHECK":
        names = re.findall(r"[a-z]+(?:_[a-z]+)*", text.partition(":")[2])
        return DataError(
            f"A value is outside what can be kept{f' ({names[0]})' if names else ''}.",
            NOTHING_SAVED,
            "Check the entry.",
        )
    return None


def _is_full(path: Path) -> bool:
    try:
        return shutil.disk_usage(path.parent).free < _LEAST_FREE
    except OSError:
        return False


def explain_disk(error: OSError, path: Path) -> StorageError:
    """Return what the disk said about a file that is opened, copied or put aside."""
    why = error.strerror or type(error).__name__
    return StorageError(f"{path} cannot be used ({why}).", NOTHING_SAVED, "Name another file or folder.")
