"""A logo as it is taken: a small PNG or JPEG, read by its own bytes and drawn anew, so that nothing comes with it."""

import io

from heat.errors import HeatError

MOST_BYTES, MOST_SIDE, KEPT_SIDE = 2_000_000, 6000, 600
"""Largest picture taken (bytes, pixels), and the side it is kept at (pixels)."""
FORMATS = ("PNG", "JPEG")


def read_logo(raw: bytes) -> bytes:
    """A picture as a PNG of our own. Raises HeatError with the words for the page."""
    from PIL import Image, UnidentifiedImageError

    if len(raw) > MOST_BYTES:
        raise HeatError(f"This picture is larger than {MOST_BYTES // 1_000_000} MB: take a smaller one.")
    try:
        with Image.open(io.BytesIO(raw), formats=FORMATS) as picture:
            if max(picture.size) > MOST_SIDE:
                raise HeatError(f"This picture is wider than {MOST_SIDE} points: take a smaller one.")
            small = picture.convert("RGBA")
    except HeatError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise HeatError("This is no PNG or JPEG that can be read.") from error
    small.thumbnail((KEPT_SIDE, KEPT_SIDE))
    out = io.BytesIO()
    small.save(out, "PNG")
    return out.getvalue()
