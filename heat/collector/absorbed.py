"""What a rated collector absorbs and loses, hour by hour: incidence, wind and sky."""

from math import radians, sin

import numpy as np
from numpy.typing import NDArray

from heat.collector.incidence import (
    b0_modifier,
    biaxial_angles,
    biaxial_modifier,
    hemispherical_modifier,
    hemispherical_table,
    table_modifier,
)
from heat.constants import HOURS, KELVIN, STEFAN_BOLTZMANN, WATER_J_KGK
from heat.design import Collector, Design, Plane
from heat.sun.plane import PlaneSun
from heat.weather.sky import sky_temperature_c
from heat.weather.solar_position import SunYear
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
LEAST_LOSS = 0.25
"""Share of a1 that calm air leaves at least (no unit): ISO 9806's straight line in the wind ends there. Source: our
own choice."""


def mean_rating(collector: Collector) -> tuple[float, float, float]:
    """eta0 (no unit), a1 (W/m²K) and a2 (W/m²K²) about the mean fluid temperature.

    Inlet-based data: ``F' = F_R/(1 - F_R U_L/(2 m c))`` with the flow of the test.

    Parameters
    ----------
    collector
        The collector.

    Returns
    -------
    tuple[float, float, float]
        Eta0 (no unit), a1 (W/m²K) and a2 (W/m²K²) about the mean fluid temperature.

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 6.19.1 (with 6.7.4).
    """
    eta0, a1, a2 = collector.eta0, collector.a1_w_m2k, collector.a2_w_m2k2
    if collector.rating == "inlet":
        per_area = collector.test_flow_kg_h_m2 / 3600.0 * WATER_J_KGK
        rise = 1.0 / (1.0 - min(a1 / (2.0 * per_area), 0.9))
        return eta0 * rise, a1 * rise, a2 * rise
    return eta0, a1, a2


def modifiers(collector: Collector, sun: PlaneSun, position: SunYear, design: Design) -> tuple[Array, float]:
    """Beam modifier in 8,760 h and the diffuse modifier (no unit) of one kind of collector on the plane.

    Parameters
    ----------
    collector
        The collector.
    sun
        Sun on the plane.
    position
        The sun over the site, 8,760 hours.
    design
        The design.

    Returns
    -------
    tuple[Array, float]
        Beam modifier in 8,760 h and the diffuse modifier (no unit) of one kind of collector on the plane.
    """
    beam = beam_modifier(collector, sun.cos_incidence, position.cos_zenith, position.azimuth_deg, design.plane)
    return beam, diffuse_modifier(collector)


def beam_modifier(
    collector: Collector, cos_incidence: Array, cos_zenith: Array, azimuth_deg: Array, plane: Plane
) -> Array:
    """Modifier (no unit) of beam that comes from a cos of zenith (no unit) and an azimuth (deg), in 8,760 h.

    Parameters
    ----------
    collector
        The collector.
    cos_incidence
        Cosine of the angle of incidence (no unit).
    cos_zenith
        Cosine of the sun's zenith angle (no unit).
    azimuth_deg
        Azimuth, clockwise from true north (deg).
    plane
        The plane of the collectors (deg, m).

    Returns
    -------
    ndarray, shape (8760,)
        Modifier (no unit).
    """
    across: Array | None = None
    along: Array | None = None
    if collector.iam == "biaxial" or collector.trough:
        across, along = biaxial_angles(cos_zenith, azimuth_deg, plane.tilt_deg, plane.azimuth_deg)
        if collector.tubes == "across":
            across, along = along, across
    if collector.iam == "biaxial":
        assert across is not None
        assert along is not None
        beam = biaxial_modifier(across, along, collector.iam_across, collector.iam_table)
        beam = np.where(cos_incidence > 0.0, beam, 0.0)
    elif collector.iam == "table":
        beam = table_modifier(cos_incidence, collector.iam_table)
    else:
        beam = b0_modifier(cos_incidence, collector.iam_b0, straight=collector.iam_beyond == "straight")
    if collector.trough:
        assert across is not None
        beam = np.where(across <= collector.acceptance_deg, beam, 0.0)
    return beam


def diffuse_modifier(collector: Collector) -> float:
    """Modifier of even light (no unit): as typed, or from the incidence curve; a trough takes 1/C of it, its
    concentration C being that of an ideal one of its acceptance, 1/sin.

    Parameters
    ----------
    collector
        The collector.

    Returns
    -------
    float
        Modifier of even light (no unit).

    References
    ----------
    Rabl (1976), Solar Energy 18, 93-111 (compound parabolic trough, diffuse taken 1/C).
    """
    diffuse = collector.iam_diffuse
    if collector.diffuse_calculated and collector.iam == "biaxial":
        tables = collector.iam_across, collector.iam_table
        diffuse = hemispherical_table(lambda t, n: biaxial_modifier(t, n, *tables))
    elif collector.diffuse_calculated and collector.iam == "table":
        angle = np.radians(np.arange(0.5, 90.0, 1.0))
        weight = np.sin(2 * angle)
        diffuse = float((table_modifier(np.cos(angle), collector.iam_table) * weight).sum() / weight.sum())
    elif collector.diffuse_calculated:
        diffuse = hemispherical_modifier(collector.iam_b0, straight=collector.iam_beyond == "straight")
    return diffuse * sin(radians(collector.acceptance_deg)) if collector.trough else diffuse


def absorbed_and_loss(
    collector: Collector, sun: PlaneSun, position: SunYear, design: Design, weather: WeatherYear
) -> tuple[Array, Array, Array]:
    """Absorbed sun (W/m²), linear loss a1 (W/m²K) and exchange with the sky (W/m²) in 8,760 h.

    The wind over the collectors, a share of that at 10 m, enters as ``a1 + a3 (u - 3)`` and ``- a6 (u - 3) G``, the
    sky as ``a4 (E_L - sigma T_a⁴)`` (half of the sky's share is seen by a vertical plane). What the collector loses
    to the sky is part of its loss, so that it cools no lower than the sky.

    Parameters
    ----------
    collector
        The collector.
    sun
        Sun on the plane.
    position
        The sun over the site, 8,760 hours.
    design
        The design.
    weather
        The weather, 8,760 hours.

    Returns
    -------
    tuple[Array, Array, Array]
        Absorbed sun (W/m²), linear loss a1 (W/m²K) and exchange with the sky (W/m²) in 8,760 h.

    References
    ----------
    ISO 9806:2017, eq. 12; the bound our own.
    """
    eta0, a1, _a2 = mean_rating(collector)
    beam, diffuse = modifiers(collector, sun, position, design)
    light = beam * sun.beam_w_m2 + diffuse * (sun.sky_w_m2 + sun.ground_w_m2)
    if sun.mirror_w_m2 is not None:
        light = light + diffuse * (sun.mirror_w_m2 - sum(b.beam_w_m2 for b in sun.thrown))
        for b in sun.thrown:
            passes = beam_modifier(collector, b.cos_incidence, b.cos_zenith, b.azimuth_deg, design.plane)
            light = light + passes * b.beam_w_m2
    absorbed = eta0 * light
    loss = np.full(HOURS, a1)
    sky = np.zeros(HOURS)
    gust = weather.wind_m_s * design.site.wind_share - 3.0
    if collector.a3_j_m3k > 0.0:
        loss = np.maximum(a1 + collector.a3_j_m3k * gust, LEAST_LOSS * a1)
    if collector.a6_s_m > 0.0:
        total = sun.total_w_m2()
        absorbed = np.clip(absorbed - collector.a6_s_m * gust * total, 0.0, np.maximum(total, absorbed))
    if collector.a4 > 0.0:
        sky_view = 0.5 * (1.0 + np.cos(radians(design.plane.tilt_deg)))
        cold = sky_temperature_c(weather) + KELVIN
        air = weather.air_c + KELVIN
        sky = collector.a4 * sky_view * STEFAN_BOLTZMANN * (cold**4 - air**4)
        sky = np.maximum(sky, -loss * np.maximum(air - cold, 0.0))
    return absorbed, loss, sky


def collector_heat(collector: Collector) -> float:
    """Thermal capacity of a collector (J/m²K), never quite 0 for one that may cool below the air.

    Parameters
    ----------
    collector
        The collector.

    Returns
    -------
    float
        Thermal capacity of a collector (J/m²K).
    """
    return collector.a5_kj_m2k * 1000.0
