"""Writing a data package: tables, traces and files into one zip."""

import csv
import hashlib
import io
import zipfile
from collections.abc import Iterable, Mapping
from typing import IO, Any, Final

from adhaero.core.whole import Shape
from adhaero.files.package.descriptor import DESCRIPTOR, describe_package
from adhaero.files.tidy_csv import protect

_EPOCH: Final = (1980, 1, 1, 0, 0, 0)


class PackageWriter:
    """A package that is being written; `close` says what is in it."""

    def __init__(self, target: IO[bytes]) -> None:
        self._zip = zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, compresslevel=6)
        self._shapes: list[Shape] = []
        self._hashes: dict[str, str] = {}

    def put(self, path: str, content: bytes | str) -> None:
        """Write a file."""
        written = content.encode("utf-8") if isinstance(content, str) else content
        self._hashes[path] = hashlib.sha256(written).hexdigest()
        one = zipfile.ZipInfo(path, _EPOCH)
        one.compress_type = zipfile.ZIP_DEFLATED
        one.external_attr = 0o644 << 16
        self._zip.writestr(one, written)

    def put_table(self, shape: Shape, rows: Iterable[Mapping[str, Any]]) -> None:
        """Write a table; None is a blank, numbers keep all their digits."""
        self._shapes.append(shape)
        self.put(f"{shape.name}.csv", write_table([one.name for one in shape.columns], rows))

    def close(self, name: str, said: Mapping[str, Any], written: str) -> None:
        """Write what the package says of itself, and end it."""
        self.put(DESCRIPTOR, describe_package(self._shapes, name, said, self._hashes, written))
        self._zip.close()


def write_table(columns: Iterable[str], rows: Iterable[Mapping[str, Any]]) -> str:
    """Return a table as CSV: comma, header, decimal points; a text that a spreadsheet would compute is protected."""
    names = list(columns)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(names)
    for row in rows:
        writer.writerow(["" if row[name] is None else protect(row[name]) for name in names])
    return out.getvalue()
