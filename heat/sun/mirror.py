"""A flat mirror before the collectors: which rays it throws onto them, hour by hour."""

import numpy as np
from numpy.typing import NDArray

from heat.design.place import Plane
from heat.position import SunYear

Array = NDArray[np.float64]
RAYS_DEEP = 8
RAYS_WIDE = 9


def _local_sun(sun: SunYear, azimuth_deg: float) -> Array:
    """Unit vectors to the sun (8,760 x 3): right along the field, ahead of it, up."""
    sin_zenith = np.sqrt(np.maximum(1.0 - sun.cos_zenith**2, 0.0))
    turn = np.radians(sun.azimuth_deg - azimuth_deg)
    return np.stack([sin_zenith * np.sin(turn), sin_zenith * np.cos(turn), sun.cos_zenith], axis=1)


def mirror_share(sun: SunYear, plane: Plane, width_m: float) -> Array:
    """Beam thrown onto each m² of collectors by the mirror, as a share of DNI (8,760 h, no unit).

    A grid of rays from the mirror's facets, reflected specularly; those that meet the collectors' front
    count with their facet's projected area. width_m: of the field (m). Geometry only; reflectance,
    soiling included. The mirror is taken to throw no shadow on the collectors (it lies below them).
    """
    mirror = plane.mirror
    tilt, rise = np.radians(plane.tilt_deg), np.radians(mirror.tilt_deg)
    to_sun = _local_sun(sun, plane.azimuth_deg)
    normal = np.array([0.0, -np.sin(rise), np.cos(rise)])  # of the mirror, leaning back to the collectors
    facing = to_sun @ normal
    out = np.zeros(len(to_sun))
    lit = (facing > 1e-3) & (sun.cos_zenith > 0.0)
    if not lit.any():
        return out
    rays = to_sun[lit]
    away = 2.0 * (rays @ normal)[:, None] * normal - rays  # direction of the reflected light
    front = np.array([0.0, np.sin(tilt), np.cos(tilt)])  # normal of the collectors
    upslope = np.array([0.0, -np.cos(tilt), np.sin(tilt)])
    toward = away @ front
    hits = np.zeros(lit.sum())
    for i in range(RAYS_DEEP):
        along = mirror.gap_m + mirror.depth_m * (i + 0.5) / RAYS_DEEP
        for j in range(RAYS_WIDE):
            side = mirror.width_m * ((j + 0.5) / RAYS_WIDE - 0.5)
            start = np.array([side, along * np.cos(rise), along * np.sin(rise)])
            distance = -(start @ front) / np.where(toward < -1e-6, toward, -1e-6)
            spot = start + distance[:, None] * away
            up = spot @ upslope
            on = (
                (toward < -1e-6)
                & (distance > 0)
                & (up >= 0)
                & (up <= plane.slope_m)
                & (np.abs(spot[:, 0]) <= width_m / 2)
            )
            hits += on
    area = mirror.width_m * mirror.depth_m / (RAYS_DEEP * RAYS_WIDE)
    power = hits * area * facing[lit] * mirror.reflectance * (1.0 - mirror.soiling)
    out[lit] = power / (width_m * plane.slope_m)
    return out
