"""Weather and designs the tests share."""

import json
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import pvlib

from heat.common.compiled import PACKAGE
from heat.design import Design, parse
from heat.weather.readers import read_weather
from heat.weather.year import WeatherYear

DATA = Path(__file__).parent / "data"
EXAMPLES = PACKAGE.parent / "docs" / "examples"
TMY3 = Path(pvlib.__file__).parent / "data" / "723170TYA.CSV"


@cache
def case() -> dict[str, Any]:
    return json.loads((DATA / "domestic_coil.json").read_text())


@cache
def tmy3() -> WeatherYear:
    return read_weather(TMY3.name, TMY3.read_bytes())


@cache
def climate(name: str) -> WeatherYear:
    """A made-up climate of the examples."""
    path = EXAMPLES / "weather" / f"{name}.json"
    return read_weather(path.name, path.read_bytes())


@cache
def raw(name: str) -> bytes:
    return (DATA / name).read_bytes()


@cache
def pvgis() -> WeatherYear:
    return read_weather("pvgis.csv", raw("pvgis_tmy_45N_8E.csv"))


def case_design(
    *, layers: int = 20, step: int = 6, area: float = 4.0, litres: float = 300.0, inflow: str = "plug"
) -> Design:
    """The design of the computed case, as its file words it; other sizes keep the flow per area."""
    c = case()
    pipe = {"loss_w_k": c["loop"]["supply_pipe_UA_W_per_K"], "contents_l": 0}
    return parse(
        {
            "demand": {
                "people": 4,
                "litres_per_person_day": 50,
                "tap_c": c["draw"]["at_C"],
                "hour_shape": c["draw"]["hourly_weights"],
            },
            "site": {
                "latitude_deg": 36.10,
                "longitude_deg": -79.95,
                "elevation_m": 273,
                "mains": {"source": "wave", "mean_c": 13, "swing_c": 6, "coldest_day": 35},
            },
            "plane": {"tilt_deg": 40, "azimuth_deg": 180},
            "system": {
                "collector": {
                    "count": 1,
                    "area_m2": area,
                    "eta0": 0.78,
                    "a1_w_m2k": 3.6,
                    "a2_w_m2k2": 0.014,
                    "a5_kj_m2k": 0,
                    "iam_b0": 0.12,
                    "iam_diffuse": 0.9,
                },
                "loop": {"flow_kg_h": 50 * area, "heat_capacity_j_kgk": 3700, "supply_pipe": pipe, "return_pipe": pipe},
                "coil": {"ua_w_k": 350, "bottom_share": 0, "top_share": 0.35},
                "control": {"on_k": 7, "off_k": 3, "store_limit_c": 85, "release_k": 0, "collector_limit_c": 300},
                "store": {"volume_l": litres, "loss_w_k": 2, "room_c": 20, "start_c": 20, "conductivity_w_mk": 0},
                "backup": {"tankless": {"power_kw": 500}},
            },
            "numerics": {"sky": "haydavies", "layers": layers, "step_minutes": step, "inflow": inflow},
        }
    )


def clear_year(**changes: Any) -> WeatherYear:
    """A smooth clear year of our own at 40° N, without pvlib's readers."""
    from heat.weather.solar_position import sun_positions

    latitude = changes.get("latitude_deg", 40.0)
    sun = sun_positions(latitude, 0.0, 100.0, 0.0)
    up = np.maximum(sun.cos_zenith, 0.0)
    dni = np.where(up > 0, 900.0 * np.exp(-0.12 / np.maximum(up, 0.03)), 0.0)
    dhi = 90.0 * np.sqrt(up)
    day = np.arange(8760) / 24.0
    phase = 20.0 if latitude >= 0 else 20.0 + 182.5
    air = 12.0 - 10.0 * np.cos(2 * np.pi * (day - phase) / 365) - 4.0 * np.cos(2 * np.pi * (day % 1 - 0.1))
    steady = np.full(8760, 1.0)
    return WeatherYear(
        name="clear",
        kind="test",
        latitude_deg=latitude,
        longitude_deg=0.0,
        elevation_m=100.0,
        utc_offset_h=0.0,
        ghi_w_m2=dhi + dni * up,
        dni_w_m2=dni,
        dhi_w_m2=dhi,
        air_c=air,
        wind_m_s=2 * steady,
        humidity_pct=60 * steady,
        pressure_pa=1e5 * steady,
    )


def example(kind: str) -> dict:
    return json.loads((EXAMPLES / f"{kind}.json").read_text())


def weather_for(design: Design) -> WeatherYear:
    if design.site.latitude_deg < 0:
        return climate("tarn_sound")
    return climate("merrow_hills" if design.site.elevation_m > 100 else "merrow_coast")
