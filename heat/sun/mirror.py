"""A flat mirror before the collectors, in one facet or several: which rays it throws onto them, hour by hour, what sky
it shows them, and what it hides.
"""

from dataclasses import dataclass
from math import cos, radians, sin, sqrt

import numpy as np
from numpy.typing import NDArray

from heat.common.calendar import MONTH_OF_HOUR
from heat.common.compiled import kernel
from heat.design.place import Plane
from heat.weather.solar_position import SunYear

Array = NDArray[np.float64]
RAYS_DEEP, RAYS_WIDE = 12, 9
"""Rays traced from a facet, away from the collectors and along them (1). Source: our own choice; twice as many change a
year's light by less than a hundredth."""
SPOTS_UP, SPOTS_WIDE = 12, 5
"""Spots of the collectors that look at the mirror (1). Source: our own choice, as above."""


@dataclass(frozen=True)
class Thrown:
    """Beam that one facet throws on the collectors in 8,760 hours: share of DNI, cos of its incidence on them, and from
    where it seems to come: cos of zenith (no unit) and azimuth (deg).
    """

    share: Array
    cos_incidence: Array
    cos_zenith: Array
    azimuth_deg: Array


@dataclass(frozen=True)
class MirrorView:
    """What the mirror does to the collectors' view in 12 months, shares of their hemisphere (no unit): of the ground it
    hides, of the sky it hides, of the sky it shows, reflectance included.
    """

    ground_hidden: Array
    sky_hidden: Array
    sky_mirrored: Array


def facets(plane: Plane) -> Array:
    """The mirror's facets by month (12 x facets x 5): near edge ahead of and above the collectors' lower edge (m),
    length (m), cos and sin of its rise (no unit).

    Each begins where the last ended.

    Parameters
    ----------
    plane
        The plane of the collectors (deg, m).

    Returns
    -------
    ndarray
        The mirror's facets by month (12 x facets x 5).
    """
    mirror = plane.mirror
    tilts = mirror.tilt_by_month or (mirror.tilt_deg,) * 12
    made = np.zeros((12, mirror.facets, 5))
    length = mirror.depth_m / mirror.facets
    for month, tilt in enumerate(tilts):
        ahead, up = mirror.gap_m, mirror.foot_m
        for k in range(mirror.facets):
            rise = radians(tilt + k * mirror.facet_step_deg)
            made[month, k] = ahead, up, length, cos(rise), sin(rise)
            ahead, up = ahead + length * cos(rise), up + length * sin(rise)
    return made


@kernel
def crosses(
    x: float,
    y: float,
    z: float,
    a: float,
    b: float,
    c: float,
    near_y: float,
    near_z: float,
    length: float,
    along_y: float,
    along_z: float,
    half_m: float,
) -> bool:
    """Whether a ray from a point (m) along a direction meets a rectangle: its near edge (m), length (m), the direction
    it goes on, half its width (m).

    Parameters
    ----------
    x
        First coordinate of the point (m).
    y
        Second coordinate of the point (m).
    z
        Third coordinate of the point (m).
    a
        First component of the direction (no unit).
    b
        Second component of the direction (no unit).
    c
        Third component of the direction (no unit).
    near_y
        The rectangle's near edge, second coordinate (m).
    near_z
        The rectangle's near edge, third coordinate (m).
    length
        Length of the rectangle (m).
    along_y
        Direction it goes on, second component (no unit).
    along_z
        Direction it goes on, third component (no unit).
    half_m
        Half its width (m).

    Returns
    -------
    bool
        Whether the ray meets the rectangle.
    """
    normal_y, normal_z = -along_z, along_y
    toward = b * normal_y + c * normal_z
    if abs(toward) < 1e-9:
        return False
    distance = ((near_y - y) * normal_y + (near_z - z) * normal_z) / toward
    if distance <= 1e-6:
        return False
    on = (y + distance * b - near_y) * along_y + (z + distance * c - near_z) * along_z
    return 0.0 <= on <= length and abs(x + distance * a) <= half_m


@kernel
def throw(
    cos_zenith: Array,
    turn: Array,
    month: NDArray[np.int64],
    made: Array,
    mirror_m: float,
    field_m: float,
    slope_m: float,
    tilt: float,
    share: Array,
    cos_i: Array,
    cos_z: Array,
    view_turn: Array,
    lit: Array,
) -> None:
    """Trace a grid of rays of each hour and facet.

    Writes each facet's beam on a m² of collectors as a share of DNI (no unit, without reflectance), its cos of
    incidence and where it seems to come from, and the share of the collectors in the sun past the mirror.

    Parameters
    ----------
    cos_zenith
        Cosine of the sun's zenith angle (no unit).
    turn
        Azimuth of the sun from the plane's (rad).
    month
        Month of each hour, 0 for January.
    made
        Facets by month: edge, length and rise (m, no unit).
    mirror_m
        Width of the mirror (m).
    field_m
        Width of the collector field (m).
    slope_m
        Length of the plane up its slope (m).
    tilt
        Tilt from horizontal (rad).
    share
        Beam thrown on a m² of collectors (share of DNI); written in place.
    cos_i
        Cosine of incidence of the thrown beam (no unit); written in place.
    cos_z
        Cosine of zenith of where it seems to come from (no unit); written in place.
    view_turn
        Azimuth of where it seems to come from (rad); written in place.
    lit
        Share of the collectors in the sun past the mirror; written in place.
    """
    up_y, up_z = -cos(tilt), sin(tilt)
    front_y, front_z = sin(tilt), cos(tilt)
    for h in range(cos_zenith.size):
        if cos_zenith[h] <= 0.0:
            continue
        level = sqrt(max(1.0 - cos_zenith[h] ** 2, 0.0))
        sun_x, sun_y, sun_z = level * sin(turn[h]), level * cos(turn[h]), cos_zenith[h]
        parts = made[month[h]]
        for k in range(parts.shape[0]):
            part = parts[k]
            ahead, above, length, go_y, go_z = part[0], part[1], part[2], part[3], part[4]
            facing = -sun_y * go_z + sun_z * go_y
            if facing <= 1e-3:
                continue
            away_x, away_y, away_z = -sun_x, -2.0 * facing * go_z - sun_y, 2.0 * facing * go_y - sun_z
            meets = -(away_y * front_y + away_z * front_z)
            if meets <= 1e-6:
                continue
            hits = 0
            for i in range(RAYS_DEEP):
                on = length * (i + 0.5) / RAYS_DEEP
                y, z = ahead + on * go_y, above + on * go_z
                for j in range(RAYS_WIDE):
                    x = mirror_m * ((j + 0.5) / RAYS_WIDE - 0.5)
                    if not crosses(x, y, z, away_x, away_y, away_z, 0.0, 0.0, slope_m, up_y, up_z, field_m / 2.0):
                        continue
                    if not crosses(x, y, z, sun_x, sun_y, sun_z, 0.0, 0.0, slope_m, up_y, up_z, field_m / 2.0):
                        hits += 1
            area = mirror_m * length / (RAYS_DEEP * RAYS_WIDE)
            share[k, h] = hits * area * facing / (field_m * slope_m)
            cos_i[k, h] = meets
            cos_z[k, h] = -away_z
            view_turn[k, h] = np.arctan2(-away_x, -away_y)
        if sun_y * front_y + sun_z * front_z <= 0.0:
            continue
        dark = 0
        for i in range(SPOTS_UP):
            on = slope_m * (i + 0.5) / SPOTS_UP
            for j in range(SPOTS_WIDE):
                x = field_m * ((j + 0.5) / SPOTS_WIDE - 0.5)
                for k in range(parts.shape[0]):
                    part = parts[k]
                    if crosses(
                        x,
                        on * up_y,
                        on * up_z,
                        sun_x,
                        sun_y,
                        sun_z,
                        part[0],
                        part[1],
                        part[2],
                        part[3],
                        part[4],
                        mirror_m / 2.0,
                    ):
                        dark += 1
                        break
        lit[h] = 1.0 - dark / (SPOTS_UP * SPOTS_WIDE)


def mirror_beam(sun: SunYear, plane: Plane, width_m: float) -> tuple[tuple[Thrown, ...], Array]:
    """Beam each facet throws on the collectors (shares of DNI, no unit), and the share of them its own shade leaves
    lit (8,760 h). width_m: of the field (m).

    Specular, by the law of reflection; dirt included.

    Parameters
    ----------
    sun
        The sun over the site, 8,760 hours.
    plane
        The plane of the collectors (deg, m).
    width_m
        Width of the collector field (m).

    Returns
    -------
    tuple[tuple[Thrown, ...], Array]
        Beam each facet throws on the collectors (shares of DNI, no unit), and the share of them its own shade
        leaves lit (8,760 h). width_m: of the field (m).
    """
    mirror, made = plane.mirror, facets(plane)
    turn = np.radians(sun.azimuth_deg - plane.azimuth_deg)
    share, cos_i, cos_z, view_turn = (np.zeros((mirror.facets, turn.size)) for _ in range(4))
    lit = np.ones(turn.size)
    throw(
        sun.cos_zenith,
        turn,
        MONTH_OF_HOUR,
        made,
        mirror.width_m,
        width_m,
        plane.slope_m,
        radians(plane.tilt_deg),
        share,
        cos_i,
        cos_z,
        view_turn,
        lit,
    )
    reflected = mirror.reflectance * (1.0 - mirror.soiling)
    found = tuple(
        Thrown(share[k] * reflected, cos_i[k], cos_z[k], np.degrees(view_turn[k]) + plane.azimuth_deg)
        for k in range(mirror.facets)
    )
    return found, lit


@kernel
def view_through_mirror(
    made: Array,
    mirror_m: float,
    field_m: float,
    slope_m: float,
    tilt: float,
    theta: Array,
    phi: Array,
    weight: Array,
    out: Array,
) -> None:
    """Look from spots of the collectors in directions of their hemisphere (rad, weights sum to 1): shares in which the
    mirror hides ground and sky, and shows sky.

    Parameters
    ----------
    made
        Facets by month: edge, length and rise (m, no unit).
    mirror_m
        Width of the mirror (m).
    field_m
        Width of the collector field (m).
    slope_m
        Length of the plane up its slope (m).
    tilt
        Tilt from horizontal (rad).
    theta
        Angles from the normal (rad).
    phi
        Angles about the normal (rad).
    weight
        Weight of each direction (no unit).
    out
        The answer; written in place.
    """
    up_y, up_z = -cos(tilt), sin(tilt)
    front_y, front_z = sin(tilt), cos(tilt)
    for n in range(theta.size):
        side, climb, out_ = sin(theta[n]) * sin(phi[n]), sin(theta[n]) * cos(phi[n]), cos(theta[n])
        a, b, c = side, climb * up_y + out_ * front_y, climb * up_z + out_ * front_z
        for i in range(SPOTS_UP):
            on = slope_m * (i + 0.5) / SPOTS_UP
            for j in range(SPOTS_WIDE):
                x = field_m * ((j + 0.5) / SPOTS_WIDE - 0.5)
                for k in range(made.shape[0]):
                    part = made[k]
                    if not crosses(
                        x, on * up_y, on * up_z, a, b, c, part[0], part[1], part[2], part[3], part[4], mirror_m / 2.0
                    ):
                        continue
                    share = weight[n] / (SPOTS_UP * SPOTS_WIDE)
                    out[1 if c > 0.0 else 0] += share
                    facing = b * part[4] - c * part[3]  # of the ray that comes back along the look
                    if facing > 0.0 and c + 2.0 * facing * part[3] > 0.0:
                        out[2] += share
                    break


def mirror_view(plane: Plane, width_m: float) -> MirrorView:
    """What the mirror hides and shows of an even sky and ground, by month, over a field width_m (m) wide.

    Looks over the hemisphere before the collectors, weighted by the cosine of incidence; a mirror sends on what
    lies in the reflected direction (Duffie & Beckman, 4th ed., sec. 7.4).

    Parameters
    ----------
    plane
        The plane of the collectors (deg, m).
    width_m
        Width of the collector field (m).

    Returns
    -------
    MirrorView
        What the mirror hides and shows of an even sky and ground, by month, over a field width_m (m) wide.
    """
    mirror, made = plane.mirror, facets(plane)
    theta, phi = np.meshgrid(np.radians(np.arange(1.5, 90.0, 3.0)), np.radians(np.arange(2.5, 360.0, 5.0)))
    weight = np.cos(theta) * np.sin(theta)
    weight = weight / weight.sum()
    months = range(12) if mirror.tilt_by_month else (0,)
    shares = np.zeros((12, 3))
    for month in months:
        view_through_mirror(
            made[month],
            mirror.width_m,
            width_m,
            plane.slope_m,
            radians(plane.tilt_deg),
            theta.ravel(),
            phi.ravel(),
            weight.ravel(),
            shares[month],
        )
    if len(months) == 1:
        shares[:] = shares[0]
    reflected = mirror.reflectance * (1.0 - mirror.soiling)
    return MirrorView(shares[:, 0], shares[:, 1], reflected * shares[:, 2])
