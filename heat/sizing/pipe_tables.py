"""Pipes as they are sold: outer diameters and walls by material, in metric and in nominal inch sizes."""

from typing import Literal, NamedTuple

Norm = Literal["EN", "ASTM"]
"""Whose sizes: metric ones, or nominal inches."""


class SoldPipe(NamedTuple):
    """A pipe as it is sold: outer diameter and wall (mm), and its nominal size; empty where the diameter names it."""

    outer_mm: float
    wall_mm: float
    nominal: str = ""


_COPPER_EN = ((12, 1.0), (15, 1.0), (18, 1.0), (22, 1.0), (28, 1.5), (35, 1.5), (42, 1.5), (54, 2.0))
_PLASTIC_EN = (
    (20, 1.5), (25, 1.9), (32, 1.6), (40, 1.9), (50, 2.4), (63, 3.0), (75, 3.6), (90, 4.3), (110, 4.2),
)  # fmt: skip
_COPPER_ASTM = (
    ("3/8 in", 0.500, 0.025), ("1/2 in", 0.625, 0.028), ("3/4 in", 0.875, 0.032), ("1 in", 1.125, 0.035),
    ("1¼ in", 1.375, 0.042), ("1½ in", 1.625, 0.049), ("2 in", 2.125, 0.058),
)  # fmt: skip
_PLASTIC_ASTM = (
    ("1/2 in", 0.840, 0.109), ("3/4 in", 1.050, 0.113), ("1 in", 1.315, 0.133), ("1¼ in", 1.660, 0.140),
    ("1½ in", 1.900, 0.145), ("2 in", 2.375, 0.154), ("2½ in", 2.875, 0.203), ("3 in", 3.500, 0.216),
    ("4 in", 4.500, 0.237),
)  # fmt: skip
INCH_MM = 25.4


def sold_pipes(material: str, norm: Norm = "EN") -> tuple[SoldPipe, ...]:
    """Usual sizes of a material, the smallest first.

    Parameters
    ----------
    material
        ``plastic``, else copper's sizes.
    norm
        Metric sizes (EN 1057 copper; EN ISO 1452-2 plastic, PN 10), or nominal inches (ASTM B88 copper tube, type M;
        ASTM D1785 plastic pipe, schedule 40).

    Returns
    -------
    tuple[SoldPipe, ...]
        Outer diameters and walls (mm).
    """
    plastic = material == "plastic"
    if norm == "EN":
        return tuple(SoldPipe(float(outer), wall) for outer, wall in (_PLASTIC_EN if plastic else _COPPER_EN))
    inches = _PLASTIC_ASTM if plastic else _COPPER_ASTM
    return tuple(SoldPipe(round(o * INCH_MM, 3), round(w * INCH_MM, 3), name) for name, o, w in inches)
