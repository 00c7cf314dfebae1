"""Pictures as they are taken in: read by their own bytes, turned as they were held, drawn anew and smaller, so that
nothing their maker wrote (place, owner, time) comes with them. One at a time on this machine: unpacked, a small file
may be very large."""

import io
from dataclasses import dataclass

from heat.errors import HeatError
from web.ui.exclusive import exclusive

FORMATS = ("JPEG", "PNG")
MOST_PIXELS = 40_000_000
"""What a phone's camera takes, and some 160 MB unpacked (pixels)."""
PATIENCE_S = 20.0
"""How long a picture waits for its turn (s)."""


@dataclass(frozen=True)
class Wanted:
    """A use of pictures: largest file (bytes), largest picture (pixels), the side it is stored at (pixels), its format
    and mode."""

    most_bytes: int
    side: int
    format: str
    mode: str
    most_pixels: int = MOST_PIXELS


PHOTO = Wanted(15_000_000, 1600, "JPEG", "RGB")
STORED_PHOTO = Wanted(4_000_000, 1600, "JPEG", "RGB", most_pixels=1600 * 1600)
"""A photograph inside a project's file: no larger than it was stored, for a file may hold hundreds."""
LOGO = Wanted(2_000_000, 600, "PNG", "RGBA")


def drawn_anew(raw: bytes, wanted: Wanted) -> bytes:
    """A picture of our own, from an upload. Raises HeatError with the words for the page, Busy where others' pictures
    take too long."""
    if len(raw) > wanted.most_bytes:
        raise HeatError(f"This picture is larger than {wanted.most_bytes // 1_000_000} MB: take a smaller one.")
    with exclusive("picture", PATIENCE_S):
        return _drawn(raw, wanted)


def _drawn(raw: bytes, wanted: Wanted) -> bytes:
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(raw), formats=FORMATS) as picture:
            width, height = picture.size
            if width * height > wanted.most_pixels:
                raise HeatError(
                    f"This picture has {width} x {height} points, more than {wanted.most_pixels / 1e6:.1f} million: "
                    "take a smaller one."
                )
            picture.draft(wanted.mode, (wanted.side, wanted.side))  # a JPEG is unpacked at a fraction of its size
            small = picture if picture.mode in ("RGB", "RGBA", "L") else picture.convert(wanted.mode)
            small.thumbnail((wanted.side, wanted.side))
            small = ImageOps.exif_transpose(small).convert(wanted.mode)
    except HeatError:
        raise
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError, Image.DecompressionBombError) as error:
        raise HeatError("This is no JPEG or PNG that can be read.") from error
    out = io.BytesIO()
    small.save(out, wanted.format, **({"quality": 82} if wanted.format == "JPEG" else {}))
    return out.getvalue()
