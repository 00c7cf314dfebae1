"""A tiny picture from an array of shades, as a data address: no file, no script."""

import struct
import zlib
from base64 import b64encode

import numpy as np
from numpy.typing import NDArray

PAPER = "F7F1E3"
TINTS = ("F7F1E3", "F2EAD6", "EBE0C6", "E2D4B3", "D8C79F", "CDB98B", "C1AB78", "B59D67", "8F7B4E", "6E5D38")

RED_TINTS = ("F7F1E3", "F0D9CD", "E8BFB3", "DFA399", "D58580", "CA6468", "BD4151", "AD1220")
"""From paper to the red of bought heat."""


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def _picture(shade: NDArray[np.uint8], palette: tuple[str, ...], clear: bytes = b"") -> str:
    """A data address of a PNG: a number of the palette a pixel; ``clear``: how opaque its first colours are (0 to
    255)."""
    rows, columns = shade.shape
    colours = bytes.fromhex("".join(c.strip("#") for c in palette))
    pixels = b"".join(b"\x00" + row.tobytes() for row in shade)
    png = b"\x89PNG\r\n\x1a\n" + _chunk(b"IHDR", struct.pack(">IIBBBBB", columns, rows, 8, 3, 0, 0, 0))
    png += _chunk(b"PLTE", colours) + (_chunk(b"tRNS", clear) if clear else b"")
    png += _chunk(b"IDAT", zlib.compress(pixels, 6)) + _chunk(b"IEND", b"")
    return "data:image/png;base64," + b64encode(png).decode()


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
