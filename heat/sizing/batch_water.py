"""Water that is its own collector: how warm it is in the evening and the morning, by depth and covers."""

from dataclasses import dataclass
from typing import Literal

from heat.collector.builder import Build, Cover, cover_and_plate, film_w_m2k, water_under_covers
from heat.constants import HOURS_OF_MONTH
from heat.design import Design
from heat.design.needs import Demand
from heat.simulation.year import simulate
from heat.weather.year import WeatherYear

EVENING_H, MORNING_H = 18, 6
"""Hours of the day read (h)."""


AREA_M2 = 2.0
"""Glass over the water calculated (m²); temperatures do not depend on it. Source: our own choice."""
WET_B0 = 0.08
"""Incidence factor (no unit) of a sheet of glass over black water, which takes light at any angle. Source: Fresnel at
60 deg, :func:`heat.collector.incidence.fresnel_glass` without its black paint."""


@dataclass(frozen=True)
class BatchTemperatures:
    """Mean temperatures (°C) of a month's evenings and mornings, the year's coldest hour of the water, the mean day."""

    depth_mm: float
    covers: int
    evening_c: float
    morning_c: float
    coldest_c: float
    day_c: tuple[float, ...]


def batch_temperatures(
    weather: WeatherYear,
    *,
    kind: Literal["bag", "batch_tank"],
    depths_mm: tuple[float, ...],
    tilt_deg: float,
    azimuth_deg: float,
    month: int,
    blanket: bool = False,
    back_w_m2k: float = 0.8,
) -> list[BatchTemperatures]:
    """Undrawn water of each depth (mm) under one, two and three covers in a month (0 to 11), by a simulated year each.

    Plane tilt and azimuth (deg), loss through the back (W/m²K); the blanket lies from 18 to 7 h. Cover loss to air
    and sky by Klein's top loss with the water as the plate, transmittance-absorptance for 0.88 a cover.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    kind
        ``bag`` or ``batch_tank``.
    depths_mm
        Depths of water (mm).
    tilt_deg
        Tilt from horizontal (deg).
    azimuth_deg
        Azimuth, clockwise from true north (deg).
    month
        Month, 0 for January.
    blanket
        Whether a blanket lies on it by night.
    back_w_m2k
        Loss coefficient of the back (W/m²K).

    Returns
    -------
    list[BatchTemperatures]
        Undrawn water of each depth (mm).

    Raises
    ------
    HeatError
        Where a value is refused.
    """
    rows = []
    first = sum(HOURS_OF_MONTH[:month])
    then = slice(first, first + HOURS_OF_MONTH[month])
    air_c, wind_m_s = float(weather.air_c[then].mean()), float(weather.wind_m_s[then].mean())
    blankets = [blanket and (h >= EVENING_H or h < MORNING_H + 1) for h in range(24)]
    for covers in (1, 2, 3):
        a1, a2, a4 = water_under_covers(covers, tilt_deg, wind_w_m2k=film_w_m2k(wind_m_s), air_c=air_c)
        eta0 = cover_and_plate(Build(covers=(Cover(),) * covers, absorptance=0.95), 40.0)
        collector = {
            "count": 1,
            "area_m2": AREA_M2,
            "eta0": eta0,
            "a1_w_m2k": a1,
            "a2_w_m2k2": a2,
            "a4": a4,
            "iam_b0": WET_B0,
            "diffuse_calculated": True,
        }
        for depth in depths_mm:
            document = {
                "demand": Demand(people=1, litres_per_person_day=1).model_dump(mode="json"),
                "site": {
                    "latitude_deg": weather.latitude_deg,
                    "longitude_deg": weather.longitude_deg,
                    "elevation_m": weather.elevation_m,
                },
                "plane": {"tilt_deg": tilt_deg, "azimuth_deg": azimuth_deg},
                "system": {
                    "kind": kind,
                    "collector": collector,
                    "store": {"volume_l": AREA_M2 * depth, "start_c": 15.0},
                    "integral": {"depth_mm": depth, "back_w_m2k": back_w_m2k, "blanket": blankets},
                },
            }
            mean = simulate(Design.model_validate(document), weather).profile.mean(axis=1)
            days = mean[then].reshape(-1, 24).mean(axis=0)
            rows.append(
                BatchTemperatures(
                    depth,
                    covers,
                    float(days[EVENING_H]),
                    float(days[MORNING_H]),
                    float(mean.min()),
                    tuple(days.tolist()),
                )
            )
    return rows
