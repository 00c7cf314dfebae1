"""A tiny picture from an array of shades, as a data address: no file, no script."""

from base64 import b64encode
from io import BytesIO

import numpy as np
from numpy.typing import NDArray
from PIL import Image

PAPER = "F7F1E3"
TINTS = ("F7F1E3", "F2EAD6", "EBE0C6", "E2D4B3", "D8C79F", "CDB98B", "C1AB78", "B59D67", "8F7B4E", "6E5D38")

RED_TINTS = ("F7F1E3", "F0D9CD", "E8BFB3", "DFA399", "D58580", "CA6468", "BD4151", "AD1220")
"""From paper to the red of bought heat."""


def _picture(shade: NDArray[np.uint8], palette: tuple[str, ...], clear: bytes = b"") -> str:
    """A data address of a PNG: a number of the palette a pixel; ``clear``: how opaque its first colours are (0 to
    255)."""
    picture = Image.fromarray(shade)
    picture.putpalette(bytes.fromhex("".join(c.strip("#") for c in palette)))
    written = BytesIO()
    picture.save(written, "PNG", **({"transparency": clear} if clear else {}))
    return "data:image/png;base64," + b64encode(written.getvalue()).decode()


def banded(values: NDArray[np.float64], low: float, high: float, palette: tuple[str, ...]) -> str:
    """A data address of a PNG, one pixel a value (rows x columns), coloured in equal steps from low to high; NaN is
    paper."""
    span = max(high - low, 1e-9)
    blank = ~np.isfinite(values)
    shade = np.clip(np.where(blank, 0.0, values - low) / span * len(palette), 0, len(palette) - 1).astype(np.uint8)
    shade[blank] = len(palette)
    return _picture(shade, (*palette, PAPER))


def veil(bare: NDArray[np.bool_]) -> str:
    """A data address of a PNG of paper over every pixel (rows x columns) but the bare ones."""
    return _picture(bare.astype(np.uint8), (PAPER, PAPER), b"\xd4\x00")


def tinted(values: NDArray[np.float64], top: float) -> str:
    """The same, shaded from 0 to top in ten tints."""
    return banded(values, 0.0, top, TINTS)
