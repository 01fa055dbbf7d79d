"""Pictures are measured before they are decoded, turned upright, and lose what the camera wrote into them."""

import io

import pytest
from PIL import Image

from adhaero.core.errors import EntryError
from adhaero.files.photos import shrink_photo

ORIENTATION, MAKER, PLACE = 0x0112, 0x010F, 0x8825


def picture(mode: str = "RGB", size: tuple[int, int] = (400, 200), form: str = "JPEG", **more: object) -> bytes:
    out = io.BytesIO()
    Image.new(mode, size).save(out, form, **more)
    return out.getvalue()


def test_a_small_file_of_many_pixels_is_refused_before_it_is_decoded(monkeypatch: pytest.MonkeyPatch) -> None:
    many = picture("L", (6000, 4100), "PNG")
    monkeypatch.setattr(Image.Image, "load", lambda _: pytest.fail("it was decoded"))
    with pytest.raises(EntryError, match="6000 × 4100 pixels"):
        shrink_photo(many)


def test_it_stands_upright_without_place_and_camera() -> None:
    exif = Image.Exif()
    exif[ORIENTATION], exif[MAKER] = 6, "a camera"
    exif.get_ifd(PLACE)[2] = (47.0, 22.0, 0.0)
    made = Image.open(io.BytesIO(shrink_photo(picture(size=(400, 200), exif=exif.tobytes()))))
    assert made.size == (200, 400)
    assert dict(made.getexif()) == {}
    assert "exif" not in made.info


@pytest.mark.parametrize(
    ("mode", "form"), [("RGBA", "PNG"), ("P", "PNG"), ("1", "PNG"), ("L", "JPEG"), ("CMYK", "JPEG")]
)
def test_every_kind_of_picture_becomes_a_jpeg_of_1600_pixels(mode: str, form: str) -> None:
    made = Image.open(io.BytesIO(shrink_photo(picture(mode, (2400, 1200), form))))
    assert (made.format, made.mode, made.size) == ("JPEG", "RGB", (1600, 800))


@pytest.mark.parametrize("content", [b"", b"GIF89a", b"\x89PNG\r\n\x1a\n", picture()[:200], b"x" * 20_000_001])
def test_what_is_no_picture_is_told(content: bytes) -> None:
    with pytest.raises(EntryError):
        shrink_photo(content)
