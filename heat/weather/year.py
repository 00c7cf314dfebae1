"""One checked year of weather, the only form the rest of the core knows."""

import hashlib
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from heat.constants import HOURS, HOURS_OF_MONTH
from heat.weather.solar_position import SunYear, sun_positions

Array = NDArray[np.float64]
COLUMNS = ("ghi_w_m2", "dni_w_m2", "dhi_w_m2", "air_c", "wind_m_s", "humidity_pct", "pressure_pa")


@dataclass(frozen=True)
class Note:
    """Something found or done while reading: kind (``repair``, ``warning``, ``info``), text, line."""

    kind: str
    text: str
    line: int | None = None


@dataclass(frozen=True, kw_only=True)
class WeatherYear:
    """8,760 hours of weather, hours named by their start, local standard time.

    ``ghi``, ``dni``, ``dhi`` (W/m², mean over the hour), ``air_c`` (°C), ``wind_m_s`` (m/s),
    ``humidity_pct`` (%), ``pressure_pa`` (Pa), ``infrared_w_m2`` from the sky (W/m²) where measured. ``sun_moment_h``:
    the moment within the hour the
    sun is calculated for (h; 0.5 where values are hourly means).
    """

    name: str
    kind: str
    latitude_deg: float
    longitude_deg: float
    elevation_m: float
    utc_offset_h: float
    ghi_w_m2: Array
    dni_w_m2: Array
    dhi_w_m2: Array
    air_c: Array
    wind_m_s: Array
    humidity_pct: Array
    pressure_pa: Array
    infrared_w_m2: Array | None = None
    sun_moment_h: float = 0.5
    made_up: bool = False
    notes: tuple[Note, ...] = field(default=())

    def checksum(self) -> str:
        """SHA-256 (64 hex digits, no unit) over place, clock and every hourly value."""
        digest = hashlib.sha256()
        place = (self.latitude_deg, self.longitude_deg, self.elevation_m)
        digest.update(np.array([*place, self.utc_offset_h, self.sun_moment_h]).tobytes())
        for column in COLUMNS:
            digest.update(np.ascontiguousarray(getattr(self, column)).tobytes())
        if self.infrared_w_m2 is not None:
            digest.update(np.ascontiguousarray(self.infrared_w_m2).tobytes())
        return digest.hexdigest()


def shifted(weather: WeatherYear, hours: int) -> WeatherYear:
    """The same year with every value moved later by whole hours (h), round the turn of the year.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    hours
        Hourly inputs, a row for each and a column for each of 8,760 hours.

    Returns
    -------
    WeatherYear
        The same year with every value moved later by whole hours (h), round the turn of the year.
    """
    moved = {c: np.roll(getattr(weather, c), hours) for c in COLUMNS}
    if weather.infrared_w_m2 is not None:
        moved["infrared_w_m2"] = np.roll(weather.infrared_w_m2, hours)
    return replace(weather, **moved)


def monthly_sums(values: Array) -> Array:
    """Twelve sums of 8,760 hourly values (same unit, times h).

    Parameters
    ----------
    values
        8,760 hourly values.

    Returns
    -------
    ndarray, shape (8760,)
        Twelve sums of 8,760 hourly values (same unit, times h).
    """
    edges = np.concatenate(([0], np.cumsum(HOURS_OF_MONTH)[:-1]))
    return np.add.reduceat(values[:HOURS], edges, axis=0)


def monthly_means(values: Array) -> Array:
    """Twelve means of 8,760 hourly values (same unit).

    Parameters
    ----------
    values
        8,760 hourly values.

    Returns
    -------
    ndarray, shape (8760,)
        Twelve means of 8,760 hourly values (same unit).
    """
    return (monthly_sums(values).T / np.array(HOURS_OF_MONTH, dtype=float)).T


def sun_year(weather: WeatherYear) -> SunYear:
    """The sun over the place (degrees) and clock (h) of a weather year.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.

    Returns
    -------
    SunYear
        The sun over the place (degrees) and clock (h).
    """
    return sun_positions(
        weather.latitude_deg, weather.longitude_deg, weather.elevation_m, weather.utc_offset_h, weather.sun_moment_h
    )
