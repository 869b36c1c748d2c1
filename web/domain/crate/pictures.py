"""Photographs taken in: checked by content, bounded, turned upright, re-encoded, all that a camera noted left out."""

import io
import warnings
from typing import IO, Any

from django.core.exceptions import ValidationError
from django.core.files.uploadedfile import UploadedFile
from PIL import Image, ImageOps, UnidentifiedImageError

from web.common.serving.child import PICTURE, in_child

MOST_BYTES = 12_000_000
MOST_PIXELS = 40_000_000
KEPT = 1600  # pixels on the longer side
FORMATS = ("JPEG", "PNG", "WEBP")


def taken_in(file: "IO[bytes] | UploadedFile[Any]") -> tuple[bytes, int, int]:
    """A picture as JPEG with its width and height. Raises ValidationError that says what is wrong with it."""
    content = file.read(MOST_BYTES + 1)
    if len(content) > MOST_BYTES:
        raise ValidationError(f"The picture is too large; at most {MOST_BYTES / 1e6:.0f} MB are taken.")
    return in_child(PICTURE, _decoded, content)


def _decoded(content: bytes) -> tuple[bytes, int, int]:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(content), formats=FORMATS)
            if image.width * image.height > MOST_PIXELS:
                raise ValidationError(f"The picture has more than {MOST_PIXELS / 1e6:.0f} million pixels.")
            upright = ImageOps.exif_transpose(image).convert("RGB")
    except (
        UnidentifiedImageError,
        OSError,
        ValueError,
        SyntaxError,
        Image.DecompressionBombWarning,
        Image.DecompressionBombError,
    ):
        raise ValidationError(f"That is not a picture that can be read: {', '.join(FORMATS)}.") from None
    return encoded(upright)


def encoded(image: Image.Image) -> tuple[bytes, int, int]:
    """A picture as a JPEG of bounded size, with nothing in it but its pixels."""
    small = image.copy()
    small.thumbnail((KEPT, KEPT), Image.Resampling.LANCZOS)
    if min(small.size) < 32:
        raise ValidationError("The picture is too small to see anything in: at least 32 pixels each way.")
    bare = Image.new("RGB", small.size)
    bare.paste(small)
    held = io.BytesIO()
    bare.save(held, "JPEG", quality=90)
    return held.getvalue(), bare.width, bare.height
