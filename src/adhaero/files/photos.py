"""Pictures that people send: small enough to keep, upright, and without place and camera."""

import io
import threading
from typing import Final

from PIL import Image, ImageOps, UnidentifiedImageError

from adhaero.core.errors import DataError, EntryError

_MOST_BYTES: Final = 20_000_000
_MOST_PIXELS: Final = 24_000_000
_EDGE: Final = 1600
_one_at_a_time = threading.Lock()


def shrink_photo(content: bytes) -> bytes:
    """Return a picture as a JPEG of at most 1600 pixels a side, turned upright, without what the camera wrote into it.

    Its size is read before any of it is decoded, and one picture is decoded at a time: a few kilobytes can hold a
    picture that takes gigabytes.

    Raises
    ------
    EntryError : it is no picture that can be read, or too large.
    """
    if len(content) > _MOST_BYTES:
        raise EntryError(f"The picture has {len(content) // 1_000_000} MB.", "Up to 20 MB fit.", field="photo")
    try:
        with Image.open(io.BytesIO(content), formats=("JPEG", "PNG", "WEBP")) as picture:
            wide, high = picture.size
            if wide * high > _MOST_PIXELS:
                raise EntryError(
                    f"The picture has {wide} × {high} pixels.",
                    "Up to 24 million fit.",
                    "Make it smaller.",
                    field="photo",
                )
            with _one_at_a_time:
                return _shrink(picture)
    except EntryError:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, ValueError, SyntaxError) as error:
        raise EntryError(
            "That is no picture this program can read.", "Expected a JPEG, PNG or WebP.", field="photo"
        ) from error


def check_photo(content: bytes, name: str) -> None:
    """Raise `DataError` where a kept picture is none: a JPEG as `shrink_photo` gives it; its size is read alone."""
    try:
        with Image.open(io.BytesIO(content), formats=("JPEG",)) as picture:
            if max(picture.size) <= _EDGE:
                picture.verify()
                return
            found = f"{picture.size[0]} × {picture.size[1]} pixels"
    except (UnidentifiedImageError, Image.DecompressionBombError, OSError, ValueError, SyntaxError):
        found = "no JPEG"
    raise DataError(f"{name} is {found}.", f"Expected a JPEG of at most {_EDGE} pixels a side.")


def _shrink(picture: Image.Image) -> bytes:
    picture.draft("RGB", (_EDGE, _EDGE))
    picture.thumbnail((_EDGE, _EDGE))
    upright = ImageOps.exif_transpose(picture).convert("RGB")
    plain = Image.new("RGB", upright.size)
    plain.paste(upright)
    out = io.BytesIO()
    plain.save(out, "JPEG", quality=82)
    return out.getvalue()
