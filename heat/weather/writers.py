"""A weather year as a file that other tools read."""

from datetime import datetime, timedelta

import numpy as np

from heat.common.tables import csv_table, harmless
from heat.weather.year import WeatherYear

EPW_MISSING = {10: 9999, 11: 9999, 12: 9999, 16: 999999, 17: 999999, 18: 999999, 19: 9999, 20: 999, 22: 99, 23: 99,
               24: 9999, 25: 99999, 26: 9, 27: 999999999, 28: 999, 29: 0.999, 30: 999, 31: 99, 32: 999, 33: 999,
               34: 99}  # fmt: skip
"""Codes for what is not known, by column from 0. Source: EnergyPlus Auxiliary Programs, EPW data dictionary."""


def csv_text(weather: WeatherYear) -> str:
    """Hourly values with units in the heading (W/m², °C, m/s, %, Pa); hours named by their start, local standard time.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.

    Returns
    -------
    str
        Hourly values with units in the heading (W/m², °C, m/s, %, Pa).
    """
    made_up = ", made up" if weather.made_up else ""
    about = (
        f"# {harmless(weather.name)}{made_up}\n"
        f"# latitude {weather.latitude_deg:g} deg, longitude {weather.longitude_deg:g} deg, "
        f"elevation {weather.elevation_m:g} m, clock UTC{weather.utc_offset_h:+g}\n"
    )
    start = datetime(1990, 1, 1)
    head = ["start", "ghi_W_m2", "dni_W_m2", "dhi_W_m2", "air_C", "wind_m_s", "humidity_pct", "pressure_Pa"]
    return about + csv_table(
        [
            head,
            *(
                [f"{start + timedelta(hours=hour):%m-%d %H:%M}", *(f"{v:.6g}" for v in values)]
                for hour, values in enumerate(_rows(weather))
            ),
        ]
    )


def epw_text(weather: WeatherYear) -> str:
    """The year as EPW: sun in Wh/m² of each hour, °C, %, Pa, m/s; what is not known carries the format's codes.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.

    Returns
    -------
    str
        The year as EPW: sun in Wh/m² of each hour, °C, %, Pa, m/s; what is not known carries the format's
        codes.

    References
    ----------
    EnergyPlus Auxiliary Programs, EPW data dictionary.
    """
    name = harmless(weather.name.replace(",", " "))
    out = [
        (
            f"LOCATION,{name},-,-,{'made up' if weather.made_up else weather.kind},-,{weather.latitude_deg:g},"
            f"{weather.longitude_deg:g},{weather.utc_offset_h:g},{weather.elevation_m:g}"
        ),
        "DESIGN CONDITIONS,0",
        "TYPICAL/EXTREME PERIODS,0",
        "GROUND TEMPERATURES,0",
        "HOLIDAYS/DAYLIGHT SAVINGS,No,0,0,0",
        f"COMMENTS 1,{name}",
        "COMMENTS 2,",
        "DATA PERIODS,1,1,Data,Monday,1/1,12/31",
    ]
    start = datetime(1990, 1, 1)
    dew = _dew_point_c(weather)
    for hour, (ghi, dni, dhi, air, wind, humidity, pressure) in enumerate(_rows(weather)):
        at = start + timedelta(hours=hour)
        line = ["0"] * 35
        for column, code in EPW_MISSING.items():
            line[column] = str(code)
        line[:6] = [str(at.year), str(at.month), str(at.day), str(at.hour + 1), "60", "?9"]
        line[6:10] = [f"{air:.2f}", f"{dew[hour]:.2f}", f"{humidity:.1f}", f"{pressure:.0f}"]
        if weather.infrared_w_m2 is not None:
            line[12] = f"{weather.infrared_w_m2[hour]:.1f}"
        line[13:16] = [f"{ghi:.2f}", f"{dni:.2f}", f"{dhi:.2f}"]
        line[21] = f"{wind:.2f}"
        out.append(",".join(line))
    return "\n".join(out) + "\n"


def _rows(weather: WeatherYear):  # type: ignore[no-untyped-def]
    return zip(
        weather.ghi_w_m2,
        weather.dni_w_m2,
        weather.dhi_w_m2,
        weather.air_c,
        weather.wind_m_s,
        weather.humidity_pct,
        weather.pressure_pa,
        strict=True,
    )


def _dew_point_c(weather: WeatherYear) -> np.ndarray:
    """Dew point (°C) from air (°C) and humidity (%). Reference: Buck (1981), inverted."""
    e = np.log(np.clip(weather.humidity_pct, 1.0, 100.0) / 100.0) + 17.502 * weather.air_c / (240.97 + weather.air_c)
    return np.asarray(240.97 * e / (17.502 - e))
