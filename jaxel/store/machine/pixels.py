"""A photo's pixels: turned upright, made small, stripped of what a camera adds."""

import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from jaxel.core.errors import InvalidValue

from .photos import LIMIT_BYTES

FORMATS = ("JPEG", "PNG", "WEBP")
LONGEST, SMALL = 2000, 320
"""Longest side of a photo kept, and of its small copy [px]."""
MOST_PIXELS = 60_000_000
_DAMAGE = (
    OSError,
    SyntaxError,
    ValueError,
    ArithmeticError,
    EOFError,
    MemoryError,
    Warning,
    Image.DecompressionBombError,
)
"""What the decoders raise for bytes that begin like a photo and go on otherwise."""


@dataclass(frozen=True)
class Encoded:
    """A photo as it is kept: an upright JPEG of at most LONGEST, its small copy, and its size [px]."""

    image: bytes
    small: bytes
    width: int
    height: int


def encoded(data: bytes) -> Encoded:
    """A photo upright, made small and stripped of what a camera adds; no one waits for it to write.

    Raises InvalidValue (field `photo`) for what is too large or no JPEG, PNG or WebP.
    """
    if len(data) > LIMIT_BYTES:
        raise InvalidValue("photo", f"is larger than {LIMIT_BYTES // 1_000_000} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
                if opened.width * opened.height > MOST_PIXELS:
                    raise InvalidValue("photo", f"has more than {MOST_PIXELS // 1_000_000} million pixels")
                upright = ImageOps.exif_transpose(opened)
                flat = Image.new("RGB", upright.size, "white")
                rgba = upright.convert("RGBA")
                flat.paste(rgba, mask=rgba.getchannel("A"))
    except UnidentifiedImageError:
        raise InvalidValue("photo", "is no photo read here: JPEG, PNG or WebP") from None
    except InvalidValue:
        raise
    except _DAMAGE:
        raise InvalidValue("photo", "is damaged: it cannot be read whole") from None
    flat.thumbnail((LONGEST, LONGEST))
    width, height = flat.size
    image = _jpeg(flat)
    flat.thumbnail((SMALL, SMALL))
    return Encoded(image, _jpeg(flat), width, height)


def _jpeg(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()
