"""A photograph as it is taken in: read by its own bytes, turned as it was held, drawn anew and smaller, so that nothing
its camera wrote (place, owner, time) comes with it."""

import io

from heat.errors import HeatError

MOST_BYTES, MOST_SIDE, KEPT_SIDE = 15_000_000, 12_000, 1600
"""Largest photograph taken (bytes, pixels), and the side it is kept at (pixels)."""
FORMATS = ("JPEG", "PNG")


def drawn_anew(raw: bytes) -> bytes:
    """A photograph as a JPEG of our own. Raises HeatError with the words for the page."""
    from PIL import Image, ImageOps, UnidentifiedImageError

    if len(raw) > MOST_BYTES:
        raise HeatError(f"This photograph is larger than {MOST_BYTES // 1_000_000} MB: take a smaller one.")
    try:
        with Image.open(io.BytesIO(raw), formats=FORMATS) as picture:
            if max(picture.size) > MOST_SIDE:
                raise HeatError(f"This photograph is wider than {MOST_SIDE} points: take a smaller one.")
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except HeatError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise HeatError("This is no JPEG or PNG that can be read.") from error
    upright.thumbnail((KEPT_SIDE, KEPT_SIDE))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82)
    return out.getvalue()
