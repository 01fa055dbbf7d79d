"""What a dropped file is, and where it goes: by what stands in it, never by its name."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from adhaero.bench.bringing.package_in import PackageView, look_at_package
from adhaero.bench.shop.hours import read_zone
from adhaero.core.errors import AdhaeroError
from adhaero.files.logger_csv import read_logger
from adhaero.files.package.reading import is_package
from adhaero.files.rig_log import LogColumns, read_rig_log
from adhaero.store.file import HEADER, ShopFile

_PICTURES: Final = (b"\x89PNG", b"\xff\xd8\xff", b"RIFF")
_LEAST_SAMPLES: Final = 40


class FileKind(StrEnum):
    """What a file is."""

    TABLE = "table"
    PACKAGE = "package"
    LOG = "log"
    AIR = "air"
    PHOTO = "photo"
    SHOP = "shop"


@dataclass(frozen=True)
class FileView:
    """What a file is, in words, with what to do with it; `package` where it is a trial."""

    kind: FileKind
    words: str
    do: str
    package: PackageView | None = None


def look_at_file(file: ShopFile, content: bytes) -> FileView:
    """Return what a file is; what is nothing else is taken for a table, which says itself what is wrong with it.

    Raises
    ------
    DataError : it is a data package with a fault, told by file, row and column.
    """
    if content.startswith(HEADER):
        return FileView(
            FileKind.SHOP,
            "A copy of a shop.",
            "Stop the program and type “adhaero restore” with the name of this file: it says what differs, and keeps "
            "the present shop beside it.",
        )
    if content.startswith(_PICTURES):
        return FileView(
            FileKind.PHOTO, "A photo.", "It goes to its glue-up, under Glue, or to its board, in the shop drawer."
        )
    if is_package(content):
        package = look_at_package(file, content)
        return FileView(FileKind.PACKAGE, "A trial that left another shop whole.", "", package)
    if content.startswith(b"PK"):
        return FileView(FileKind.TABLE, "A workbook.", "")
    with file.reading() as connection:
        zone = read_zone(connection)
    try:
        air = read_logger(content, zone)
    except AdhaeroError:
        air = []
    if len(air) > 1:
        first, last = f"{air[0].at:%Y-%m-%d}", f"{air[-1].at:%Y-%m-%d}"
        return FileView(
            FileKind.AIR, f"The air of the shop from {first} to {last}: {len(air)} readings.",
            "It is laid over every glue-up of that time.",
        )  # fmt: skip
    if (samples := _count_samples(content)) >= _LEAST_SAMPLES:
        return FileView(
            FileKind.LOG, f"The log of a rig: {samples} readings of a load over time.",
            "It belongs to a piece: open Break of its trial, choose the piece, and drop it there.",
        )  # fmt: skip
    return FileView(FileKind.TABLE, "A table.", "")


def _count_samples(content: bytes) -> int:
    """Return how many readings a log of a rig has whose times only rise within each of its pulls; 0 for no log."""
    try:
        log = read_rig_log(content, LogColumns())
    except AdhaeroError:
        return 0
    falls = sum(later < earlier for earlier, later in zip(log.times_s, log.times_s[1:], strict=False))
    steps = [later - earlier for earlier, later in zip(log.times_s, log.times_s[1:], strict=False) if later > earlier]
    even = bool(steps) and sorted(steps)[len(steps) // 2] < 10
    return len(log.loads) if even and falls < max(1, len(log.loads) // 20) else 0
