"""Incidence angle modifiers: how much of slanting light the cover lets through."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
LINEAR_FROM_DEG = 60.0
"""Angle (deg) beyond which the b0 form is replaced by a line to zero at 90 deg (no doubt stated).
Source: Duffie & Beckman, Solar Engineering of Thermal Processes, 4th ed., sec. 6.17."""


def b0_modifier(cos_incidence: Array, b0: float) -> Array:
    """Beam modifier K_b (0 to 1, no unit) from cos of incidence (no unit) and b0 (0 to 0.6).

    ``K = 1 - b0 (1/cos - 1)`` up to 60 deg, then linear to 0 at 90 deg; 0 behind the plane.
    Reference: Souka & Safwat (1966), Solar Energy 10, 170-174; ISO 9806:2017, annex.
    """
    cos_edge = float(np.cos(np.radians(LINEAR_FROM_DEG)))
    at_edge = 1.0 - b0 * (1.0 / cos_edge - 1.0)
    angle_deg = np.degrees(np.arccos(np.clip(cos_incidence, 0.0, 1.0)))
    near = 1.0 - b0 * (1.0 / np.maximum(cos_incidence, cos_edge) - 1.0)
    far = at_edge * (90.0 - angle_deg) / (90.0 - LINEAR_FROM_DEG)
    modifier = np.where(cos_incidence >= cos_edge, near, far)
    return np.where(cos_incidence <= 0.0, 0.0, np.maximum(modifier, 0.0))


def hemispherical_modifier(b0: float) -> float:
    """Diffuse modifier K_d (no unit): K_b for b0 integrated over a uniform hemisphere.

    ``K_d = integral of K(theta) sin(2 theta) d theta, 0 to 90 deg``, by Gauss-Legendre on both
    branches. Reference: Brandemuehl & Beckman (1980), Solar Energy 24, 511-513.
    """
    nodes, weights = np.polynomial.legendre.leggauss(24)
    edge = np.radians(LINEAR_FROM_DEG)
    total = 0.0
    for low, high in ((0.0, edge), (edge, np.pi / 2)):
        theta = 0.5 * (high - low) * nodes + 0.5 * (high + low)
        modifier = b0_modifier(np.cos(theta), b0)
        total += 0.5 * (high - low) * float(np.sum(weights * modifier * np.sin(2 * theta)))
    return total
