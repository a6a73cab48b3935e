"""A photo's pixels: turned upright, made small, stripped of what a camera adds."""

import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from jaxel.core.errors import InvalidValue

from .photos import LIMIT_BYTES

FORMATS = ("JPEG", "PNG", "WEBP")
LONGEST, SMALL = 2000, 320
"""Longest side of a photo kept, and of its small copy [px]."""
MOST_PIXELS, MOST_PIXELS_WHOLE = 60_000_000, 25_000_000
"""Pixels of a JPEG, which is decoded at a fraction of its size, and of what must be decoded whole."""
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

    Its bytes and pixels are counted before any is decoded. Raises InvalidValue (field `photo`) for what is too large or
    no JPEG, PNG or WebP.
    """
    if len(data) > LIMIT_BYTES:
        raise InvalidValue("photo", f"is larger than {LIMIT_BYTES // 1_000_000} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
                flat = _flat(opened)
    except UnidentifiedImageError:
        raise InvalidValue("photo", "is no photo read here: JPEG, PNG or WebP") from None
    except InvalidValue:
        raise
    except _DAMAGE:
        raise InvalidValue("photo", "is damaged: it cannot be read whole") from None
    width, height = flat.size
    image = _jpeg(flat)
    flat.thumbnail((SMALL, SMALL))
    return Encoded(image, _jpeg(flat), width, height)


def _flat(opened: ImageFile.ImageFile) -> Image.Image:
    """A photo small, upright and on white; no whole copy is made of it beside the one that is decoded."""
    most = MOST_PIXELS if opened.format == "JPEG" else MOST_PIXELS_WHOLE
    if opened.width * opened.height > most:
        raise InvalidValue("photo", f"has more than {most // 1_000_000} million pixels")
    opened.draft("RGB", (LONGEST, LONGEST))
    image: Image.Image = opened
    if image.mode not in ("RGB", "RGBA", "L"):
        image = image.convert("RGBA" if "transparency" in image.info or "A" in image.mode else "RGB")
    image.thumbnail((LONGEST, LONGEST))
    image = ImageOps.exif_transpose(image)
    if image.mode != "RGBA":
        return image.convert("RGB")
    flat = Image.new("RGB", image.size, "white")
    flat.paste(image, mask=image.getchannel("A"))
    return flat


def _jpeg(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85)
    return out.getvalue()


def check_kept(data: bytes) -> None:
    """Refuse bytes that are no JPEG as one is kept here; raises InvalidValue (field `photo`)."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=("JPEG",)) as opened:
                if max(opened.size) > LONGEST:
                    raise InvalidValue("photo", f"is larger than {LONGEST} pixels a side")
                opened.load()
    except InvalidValue:
        raise
    except _DAMAGE:
        raise InvalidValue("photo", "is no JPEG that can be read whole") from None
