"""Sun on a tilted plane: beam by geometry, sky by one of three models, ground by reflection."""

from dataclasses import dataclass
from math import acos, cos, degrees, radians, sin

import numpy as np
from numpy.typing import NDArray

from heat.common.compiled import kernel
from heat.weather.solar_position import SunYear
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]

PEREZ_BINS = np.array([1.065, 1.23, 1.5, 1.95, 2.8, 4.5, 6.2])
PEREZ = np.array(
    [
        [-0.008, 0.588, -0.062, -0.060, 0.072, -0.022],
        [0.130, 0.683, -0.151, -0.019, 0.066, -0.029],
        [0.330, 0.487, -0.221, 0.055, -0.064, -0.026],
        [0.568, 0.187, -0.295, 0.109, -0.152, -0.014],
        [0.873, -0.392, -0.362, 0.226, -0.462, 0.001],
        [1.132, -1.237, -0.412, 0.288, -0.823, 0.056],
        [1.060, -1.600, -0.359, 0.264, -1.127, 0.131],
        [0.678, -0.327, -0.250, 0.156, -1.377, 0.251],
    ]
)
"""Brightness coefficients F11 F12 F13 F21 F22 F23 by clearness bin (no unit).
Source: Perez et al. (1990), Solar Energy 44, 271-289, table 6; bins: table 1."""

SKY_MODELS = {"isotropic": 0, "haydavies": 1, "perez": 2}
LOW_SUN_COS = 0.01745  # 89 deg: guards the division by cos z near sunrise


@dataclass(frozen=True)
class ThrownBeam:
    """Beam a mirror throws on a plane in 8,760 hours (W/m²), cos of its incidence and of the zenith it seems to come
    from (no unit), and that azimuth (deg).
    """

    beam_w_m2: Array
    cos_incidence: Array
    cos_zenith: Array
    azimuth_deg: Array


@dataclass(frozen=True)
class PlaneSun:
    """Sun on a plane in 8,760 hours (W/m²): beam, sky, ground, all that a mirror throws on; cos of incidence
    (no unit); the mirror's beams, each from where it comes.
    """

    beam_w_m2: Array
    sky_w_m2: Array
    ground_w_m2: Array
    cos_incidence: Array
    mirror_w_m2: Array | None = None
    thrown: tuple["ThrownBeam", ...] = ()

    def total_w_m2(self) -> Array:
        """All sun on the plane (W/m²)."""
        total = self.beam_w_m2 + self.sky_w_m2 + self.ground_w_m2
        return total if self.mirror_w_m2 is None else total + self.mirror_w_m2


@kernel
def incidence_cosine(cos_zenith: float, azimuth_rad: float, tilt_rad: float, plane_azimuth_rad: float) -> float:
    """Cos of the angle of incidence (no unit).

    ``cos i = cos z cos b + sin z sin b cos(az - plane az)``.

    Parameters
    ----------
    cos_zenith
        Cosine of the sun's zenith angle (no unit).
    azimuth_rad
        Azimuth of the sun, clockwise from north (rad).
    tilt_rad
        Tilt from horizontal (rad).
    plane_azimuth_rad
        Azimuth of the plane, clockwise from north (rad).

    Returns
    -------
    float
        Cos of the angle of incidence (no unit).

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 1.6.3.
    """
    sin_zenith = max(1.0 - cos_zenith * cos_zenith, 0.0) ** 0.5
    return cos_zenith * cos(tilt_rad) + sin_zenith * sin(tilt_rad) * cos(azimuth_rad - plane_azimuth_rad)


@kernel
def relative_air_mass(cos_zenith: float) -> float:
    """Relative optical air mass (no unit).

    Parameters
    ----------
    cos_zenith
        Cosine of the sun's zenith angle (no unit).

    Returns
    -------
    float
        Relative optical air mass (no unit).

    References
    ----------
    Kasten & Young (1989), Applied Optics 28, 4735.
    """
    zenith_deg = min(degrees(acos(min(max(cos_zenith, -1.0), 1.0))), 90.0)
    return 1.0 / (cos(radians(zenith_deg)) + 0.50572 * (96.07995 - zenith_deg) ** -1.6364)


@kernel
def isotropic_sky(dhi: float, tilt_rad: float) -> float:
    """Sky diffuse on a plane (W/m²) from dhi (W/m²) under a uniform sky.

    Liu & Jordan (1963), Solar Energy 7, 53-74.

    Parameters
    ----------
    dhi
        Diffuse horizontal irradiance (W/m²).
    tilt_rad
        Tilt from horizontal (rad).

    Returns
    -------
    float
        Sky diffuse on a plane (W/m²).
    """
    return dhi * 0.5 * (1.0 + cos(tilt_rad))


@kernel
def perez_sky(
    dhi: float,
    dni: float,
    extra: float,
    cos_zenith: float,
    cos_incidence: float,
    tilt_rad: float,
    bins: Array,
    coefficients: Array,
) -> float:
    """Sky diffuse on a plane (W/m²) from dhi, dni, extra (W/m²).

    Perez et al. (1990), Solar Energy 44, 271-289, eq. 1, 6 and 9, with kappa = 1.041. F1 is a share and at most 1;
    light without a sun above the horizon (a year from elsewhere than the site) comes from the whole dome.

    Parameters
    ----------
    dhi
        Diffuse horizontal irradiance (W/m²).
    dni
        Direct normal irradiance (W/m²).
    extra
        Extraterrestrial normal irradiance (W/m²).
    cos_zenith
        Cosine of the sun's zenith angle (no unit).
    cos_incidence
        Cosine of the angle of incidence (no unit).
    tilt_rad
        Tilt from horizontal (rad).
    bins
        Upper bounds of the sky's clearness (no unit).
    coefficients
        Brightness coefficients by clearness (no unit).

    Returns
    -------
    float
        Sky diffuse on a plane (W/m²).
    """
    if cos_zenith <= 0.0:
        return isotropic_sky(dhi, tilt_rad)
    zenith = acos(min(max(cos_zenith, -1.0), 1.0))
    cube = 1.041 * zenith**3
    clearness = ((dhi + dni) / dhi + cube) / (1.0 + cube)
    row = 0
    while row < bins.size and clearness >= bins[row]:
        row += 1
    brightness = dhi * relative_air_mass(cos_zenith) / extra
    f = coefficients[row]
    f1 = min(max(f[0] + f[1] * brightness + f[2] * zenith, 0.0), 1.0)
    f2 = f[3] + f[4] * brightness + f[5] * zenith
    ratio = max(cos_incidence, 0.0) / max(cos_zenith, 0.087156)
    dome = 0.5 * (1.0 - f1) * (1.0 + cos(tilt_rad))
    return max(dhi * (dome + f1 * ratio + f2 * sin(tilt_rad)), 0.0)


@kernel
def hay_davies_sky(
    dhi: float, dni: float, extra: float, cos_zenith: float, cos_incidence: float, tilt_rad: float
) -> float:
    """Sky diffuse on a plane (W/m²) from dhi, dni, extra (W/m²).

    Hay & Davies (1980), Proc. 1st Canadian Solar Radiation Data Workshop, 59-72; the whole dome where no sun is
    above the horizon.

    Parameters
    ----------
    dhi
        Diffuse horizontal irradiance (W/m²).
    dni
        Direct normal irradiance (W/m²).
    extra
        Extraterrestrial normal irradiance (W/m²).
    cos_zenith
        Cosine of the sun's zenith angle (no unit).
    cos_incidence
        Cosine of the angle of incidence (no unit).
    tilt_rad
        Tilt from horizontal (rad).

    Returns
    -------
    float
        Sky diffuse on a plane (W/m²).
    """
    if cos_zenith <= 0.0:
        return isotropic_sky(dhi, tilt_rad)
    anisotropy = dni / extra
    ratio = max(cos_incidence, 0.0) / max(cos_zenith, LOW_SUN_COS)
    dome = (1.0 - anisotropy) * 0.5 * (1.0 + cos(tilt_rad))
    return max(dhi * (anisotropy * ratio + dome), 0.0)


@kernel
def _transpose(
    model: int,
    tilt: float,
    azimuth: float,
    ghi: Array,
    dni: Array,
    dhi: Array,
    cos_z: Array,
    sun_azimuth: Array,
    extra: Array,
    albedo: Array,
    bins: Array,
    table: Array,
    out: Array,
) -> None:
    for h in range(ghi.size):
        cos_i = incidence_cosine(cos_z[h], radians(sun_azimuth[h]), tilt, azimuth)
        out[3, h] = cos_i
        out[2, h] = ghi[h] * albedo[h] * 0.5 * (1.0 - cos(tilt))
        if cos_z[h] > 0.0:
            out[0, h] = dni[h] * max(cos_i, 0.0)
        if dhi[h] <= 0.0:
            continue
        if model == 2:
            out[1, h] = perez_sky(dhi[h], dni[h], extra[h], cos_z[h], cos_i, tilt, bins, table)
        elif model == 1:
            out[1, h] = hay_davies_sky(dhi[h], dni[h], extra[h], cos_z[h], cos_i, tilt)
        else:
            out[1, h] = isotropic_sky(dhi[h], tilt)


def tilted_irradiance(
    weather: WeatherYear,
    sun: SunYear,
    *,
    tilt_deg: float,
    azimuth_deg: float,
    reflectance: Array | float = 0.2,
    sky: str = "perez",
) -> PlaneSun:
    """Sun on a plane (W/m²) of tilt (deg) and azimuth (deg clockwise from true north), 8,760 h.

    Ground: Liu & Jordan (1963).

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.
    tilt_deg
        Tilt from horizontal (deg).
    azimuth_deg
        Azimuth, clockwise from true north (deg).
    reflectance
        Of the ground (0 to 1, no unit), one value or hourly.
    sky
        One of SKY_MODELS; KeyError otherwise.

    Returns
    -------
    PlaneSun
        Sun on a plane (W/m²).
    """
    out = np.zeros((4, weather.ghi_w_m2.size))
    albedo = np.broadcast_to(np.asarray(reflectance, dtype=float), weather.ghi_w_m2.shape).copy()
    _transpose(
        SKY_MODELS[sky],
        radians(tilt_deg),
        radians(azimuth_deg),
        weather.ghi_w_m2,
        weather.dni_w_m2,
        weather.dhi_w_m2,
        sun.cos_zenith,
        sun.azimuth_deg,
        sun.extraterrestrial_w_m2,
        albedo,
        PEREZ_BINS,
        PEREZ,
        out,
    )
    return PlaneSun(out[0], out[1], out[2], out[3])
