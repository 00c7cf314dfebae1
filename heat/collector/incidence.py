"""Incidence angle modifiers: how much of slanting light the cover lets through."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
LINEAR_FROM_DEG = 60.0
"""Angle (deg) beyond which the b0 form no longer holds (no uncertainty stated).
Source: Duffie & Beckman, Solar Engineering of Thermal Processes, 4th ed., sec. 6.17."""
GLASS_INDEX = 1.526
"""Index of refraction of window glass (no unit). Source: Duffie & Beckman, 4th ed., sec. 5.1."""
GLASS_PATH = 0.0128
"""Extinction times thickness of clear solar glass (no unit), 4/m and 3.2 mm. Source: Duffie & Beckman, 4th ed., sec.
5.2."""
BLACK = (1.0, -1.5879e-3, 2.7314e-4, -2.3026e-5, 9.0244e-7, -1.8000e-8, 1.7734e-10, -6.9937e-13)
"""Absorptance of flat black over that at normal incidence (no unit), a polynomial of the angle (deg), 0 to 80.
Source: Duffie & Beckman, 4th ed., eq. 4.11.1."""


def fresnel_glass(angle_deg: Array) -> Array:
    """One sheet of glass before a flat black plate: transmitted times absorbed (no unit) by angle (deg).

    Parameters
    ----------
    angle_deg
        Angle of incidence (deg).

    Returns
    -------
    ndarray
        One sheet of glass before a flat black plate: transmitted times absorbed (no unit) by angle (deg).

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 5.1.1 to 5.3.4 (both polarisations) and 4.11.1.
    """
    angle = np.radians(np.clip(np.asarray(angle_deg, dtype=float), 0.01, 89.99))
    inside = np.arcsin(np.sin(angle) / GLASS_INDEX)
    across = np.sin(inside - angle) ** 2 / np.sin(inside + angle) ** 2
    along = np.tan(inside - angle) ** 2 / np.tan(inside + angle) ** 2
    passes = 0.5 * ((1 - across) / (1 + across) + (1 - along) / (1 + along)) * np.exp(-GLASS_PATH / np.cos(inside))
    degrees = np.minimum(np.degrees(angle), 80.0)
    black = np.polynomial.polynomial.polyval(degrees, BLACK)
    return np.asarray(passes * black)


_BEYOND_DEG = np.arange(LINEAR_FROM_DEG, 91.0, 1.0)
_BEYOND = fresnel_glass(_BEYOND_DEG) / fresnel_glass(np.array([LINEAR_FROM_DEG]))
_BEYOND[-1] = 0.0


def b0_modifier(cos_incidence: Array, b0: float, *, straight: bool = False) -> Array:
    """Beam modifier K_b (0 to 1, no unit) from cos of incidence (no unit) and b0 (0 to 0.6).

    ``K = 1 - b0 (1/cos - 1)`` up to 60 deg; from there it falls as glass before black paint does, or on a
    ``straight`` line to 0 at 90 deg; 0 behind the plane.

    Parameters
    ----------
    cos_incidence
        Cosine of the angle of incidence (no unit).
    b0
        Incidence angle coefficient (no unit).
    straight
        Whether the modifier falls on a straight line beyond 60 deg.

    Returns
    -------
    ndarray
        Beam modifier K_b (0 to 1, no unit).

    References
    ----------
    Souka & Safwat (1966), Solar Energy 10, 170-174; ISO 9806:2017, annex; :func:`fresnel_glass`.
    """
    cos_edge = float(np.cos(np.radians(LINEAR_FROM_DEG)))
    at_edge = 1.0 - b0 * (1.0 / cos_edge - 1.0)
    angle_deg = np.degrees(np.arccos(np.clip(cos_incidence, 0.0, 1.0)))
    near = 1.0 - b0 * (1.0 / np.maximum(cos_incidence, cos_edge) - 1.0)
    if straight:
        far = at_edge * (90.0 - angle_deg) / (90.0 - LINEAR_FROM_DEG)
    else:
        far = at_edge * np.interp(angle_deg, _BEYOND_DEG, _BEYOND)
    modifier = np.where(cos_incidence >= cos_edge, near, far)
    return np.where(cos_incidence <= 0.0, 0.0, np.maximum(modifier, 0.0))


def hemispherical_modifier(b0: float, *, straight: bool = False) -> float:
    """Diffuse modifier K_d (no unit): K_b for b0 integrated over a uniform hemisphere.

    ``K_d = integral of K(theta) sin(2 theta) d theta, 0 to 90 deg``, by midpoints.

    Parameters
    ----------
    b0
        Incidence angle coefficient (no unit).
    straight
        Whether the modifier falls on a straight line beyond 60 deg.

    Returns
    -------
    float
        Diffuse modifier K_d (no unit).

    References
    ----------
    Brandemuehl & Beckman (1980), Solar Energy 24, 511-513.
    """
    theta = (np.arange(3600) + 0.5) / 3600 * np.pi / 2
    modifier = b0_modifier(np.cos(theta), b0, straight=straight)
    return float(np.sum(modifier * np.sin(2 * theta)) * np.pi / 2 / 3600)


def table_modifier(cos_incidence: Array, table: tuple[float, ...]) -> Array:
    """Beam modifier (no unit) from ten values at 0, 10 ... 90 deg, straight between; 0 behind the plane.

    Parameters
    ----------
    cos_incidence
        Cosine of the angle of incidence (no unit).
    table
        Modifiers at 0, 10 ... 90 deg (no unit).

    Returns
    -------
    ndarray
        Beam modifier (no unit).
    """
    angle_deg = np.degrees(np.arccos(np.clip(cos_incidence, 0.0, 1.0)))
    modifier = np.interp(angle_deg, np.arange(0.0, 91.0, 10.0), table)
    return np.where(cos_incidence <= 0.0, 0.0, modifier)


def biaxial_angles(
    cos_zenith: Array, sun_azimuth_deg: Array, tilt_deg: float, azimuth_deg: float
) -> tuple[Array, Array]:
    """Angles of incidence projected across and along the slope (deg): transversal to a tube that runs up it.

    ``tan t = s_x/s_n`` (sideways) and ``tan l = s_u/s_n`` (up the slope), s the unit vector to the sun.

    Parameters
    ----------
    cos_zenith
        Cosine of the sun's zenith angle (no unit).
    sun_azimuth_deg
        Azimuth of the sun, clockwise from true north (deg).
    tilt_deg
        Tilt from horizontal (deg).
    azimuth_deg
        Azimuth, clockwise from true north (deg).

    Returns
    -------
    tuple[Array, Array]
        Angles of incidence projected across and along the slope (deg): transversal to a tube that runs up it.

    References
    ----------
    Theunissen & Beckman (1985), Solar Energy 35, 311-320.
    """
    tilt = np.radians(tilt_deg)
    sin_zenith = np.sqrt(np.maximum(1.0 - cos_zenith**2, 0.0))
    turn = np.radians(sun_azimuth_deg - azimuth_deg)
    side = sin_zenith * np.sin(turn)
    ahead = sin_zenith * np.cos(turn)
    normal = cos_zenith * np.cos(tilt) + ahead * np.sin(tilt)
    upslope = cos_zenith * np.sin(tilt) - ahead * np.cos(tilt)
    safe = np.where(normal > 1e-9, normal, 1e-9)
    return np.degrees(np.arctan(np.abs(side) / safe)), np.degrees(np.arctan(np.abs(upslope) / safe))


def biaxial_modifier(across_deg: Array, along_deg: Array, across: tuple[float, ...], along: tuple[float, ...]) -> Array:
    """``K = K_T(theta_T) K_L(theta_L)`` (no unit) from two tables at 0, 10 ... 90 deg.

    Parameters
    ----------
    across_deg
        Angle of incidence projected across the slope (deg).
    along_deg
        Angle of incidence projected along the slope (deg).
    across
        Modifiers across, at 0, 10 ... 90 deg (no unit).
    along
        Modifiers along, at 0, 10 ... 90 deg (no unit).

    Returns
    -------
    ndarray
        ``K = K_T(theta_T) K_L(theta_L)`` (no unit) from two tables at 0, 10 ... 90 deg.

    References
    ----------
    McIntire (1982), Solar Energy 29, 315-323.
    """
    at = np.arange(0.0, 91.0, 10.0)
    return np.asarray(np.interp(across_deg, at, across) * np.interp(along_deg, at, along))


def hemispherical_table(modifier_of: Callable[[Array, Array], Array]) -> float:
    """Diffuse modifier (no unit): a modifier of two projected angles (deg) over a uniform hemisphere.

    ``K_d = sum K cos(i) w / sum cos(i) w`` on a grid of directions before the plane.

    Parameters
    ----------
    modifier_of
        Modifier (no unit) of two projected angles (deg).

    Returns
    -------
    float
        Diffuse modifier (no unit).
    """
    theta, phi = np.meshgrid(np.radians(np.arange(1.0, 90.0, 2.0)), np.radians(np.arange(2.5, 360.0, 5.0)))
    weight = np.cos(theta) * np.sin(theta)
    across = np.degrees(np.arctan(np.abs(np.tan(theta) * np.sin(phi))))
    along = np.degrees(np.arctan(np.abs(np.tan(theta) * np.cos(phi))))
    return float((modifier_of(across, along) * weight).sum() / weight.sum())
