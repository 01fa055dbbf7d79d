"""A dropped file is told by what stands in it, and where it goes."""

from pathlib import Path

import pytest

from adhaero.bench.bringing.package_out import export_package
from adhaero.bench.bringing.what_is import look_at_file
from tests.bench.bringing.test_take import TALL
from tests.shops import Shop, new_shop, ready_shop

AIR = b"Time,Temperature (C),Humidity (%)\n" + b"".join(
    f"2026-03-0{day} {hour:02}:00:00,18.{hour % 10},4{day}\n".encode() for day in range(1, 4) for hour in range(24)
)
LOG = b"t (s);load (N)\n" + b"".join(
    f"{at / 50:.2f};{min(at * 4, 1200 if at < 350 else 30)}\n".encode() for at in range(400)
)


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return new_shop(tmp_path)


@pytest.mark.parametrize(
    ("content", "kind", "words"),
    [
        (TALL, "table", "A table"),
        (AIR, "air", "from 2026-03-01 to 2026-03-03: 72 readings"),
        (LOG, "log", "400 readings"),
        (b"\x89PNG\r\n\x1a\n", "photo", "A photo"),
        (b"PK\x03\x04", "table", "A workbook"),
        (b"Load (N)\n1200\n1300\n1100\n1250\n", "table", "A table"),
        (b"", "table", "A table"),
        ("paddle, Gruß\n1;2\n".encode("utf-16"), "table", "A table"),
    ],
)
def test_a_file_is_what_stands_in_it(shop: Shop, content: bytes, kind: str, words: str) -> None:
    view = look_at_file(shop.file, content)
    assert (view.kind.value, words in view.words) == (kind, True), view


def test_a_shop_and_a_trial_are_known(shop: Shop, tmp_path_factory: pytest.TempPathFactory) -> None:
    other = ready_shop(tmp_path_factory.mktemp("other"))
    assert look_at_file(shop.file, other.file.path.read_bytes()).kind == "shop"
    view = look_at_file(shop.file, export_package(other.file, other.trial))
    assert view.kind == "package"
    assert view.package is not None
    assert view.package.pieces == len(other.pieces)
