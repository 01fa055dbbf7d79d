"""Any table that people keep, opened: by what the file is, never by its name; nothing in it is ever run."""

import io
import zipfile
from typing import Final

from adhaero.core.errors import DataError
from adhaero.core.tables.grid import Book
from adhaero.files.sheets.limits import MOST_BYTES
from adhaero.files.sheets.office import read_ods, read_xls, read_xlsx
from adhaero.files.sheets.text import read_text

_PICTURES: Final = {b"\x89PNG": "PNG", b"\xff\xd8\xff": "JPEG", b"GIF8": "GIF", b"%PDF": "PDF", b"RIFF": "WebP"}
_OLE: Final = b"\xd0\xcf\x11\xe0"
_MOST_UNPACKED: Final = 200_000_000


def open_book(content: bytes, encoding: str = "") -> Book:
    """Return what stands in a workbook or a text table.

    Parameters
    ----------
    encoding : of a text table, where the person says another than is recognised.

    Raises
    ------
    DataError : it is empty, broken, locked, far too large, or no table at all.
    """
    if not content:
        raise DataError("The file is empty.", "Expected a workbook or a text table.")
    if len(content) > MOST_BYTES:
        raise DataError(
            f"The file has {len(content) / 1e6:.0f} MB.",
            f"A table of breaks has {MOST_BYTES / 1e6:.0f} MB at most.",
            "Bring in its sheets one by one.",
        )
    for mark, kind in _PICTURES.items():
        if content.startswith(mark):
            raise DataError(
                f"The file is a picture ({kind}), not a table.",
                "Expected a workbook (.xlsx, .ods, .xls) or a text table (.csv, .tsv, .txt).",
                "Type the numbers into a table, or add the picture to a piece as a photo.",
            )
    if content.startswith(b"PK"):
        return _open_zip(content)
    if content.startswith(_OLE):
        if "EncryptedPackage".encode("utf-16-le") in content:
            raise DataError(
                "The workbook is locked with a password.", do="Save a copy without the password, and bring that in."
            )
        return read_xls(content)
    return read_text(content, encoding)


def _open_zip(content: bytes) -> Book:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            sizes = {one.filename: one.file_size for one in packed.infolist()}
    except (zipfile.BadZipFile, ValueError, OSError) as error:
        raise DataError(
            "The file is broken: it ends too early, or is damaged.",
            "A workbook is a zip file with an end.",
            "Copy it again from where it came from.",
        ) from error
    if sum(sizes.values()) > _MOST_UNPACKED:
        raise DataError(
            f"The file unpacks to {sum(sizes.values()) / 1e6:,.0f} MB.",
            f"A table of breaks has {_MOST_UNPACKED / 1e6:.0f} MB at most.",
            "This may be a trap: it was not opened.",
        )
    if "xl/workbook.xml" in sizes:
        return read_xlsx(content)
    if "content.xml" in sizes:
        return read_ods(content)
    if any(name.startswith("xl/") for name in sizes):
        raise DataError("The workbook is of a kind that cannot be read (.xlsb).", do="Save it as .xlsx.")
    raise DataError(
        "The file is a zip of other things, not a workbook.",
        "Expected .xlsx, .ods or .xls.",
        "A data package of this program comes in under “Bring in” as such.",
    )
