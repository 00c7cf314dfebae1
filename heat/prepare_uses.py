"""What the compiled year reads of heaters and uses: rows hour by hour, and the parts behind them."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.calendar import HOUR_OF_DAY, MONTH_OF_HOUR
from heat.constants import WATER_KG_L
from heat.control.timetable import between, pasteurising
from heat.demand.profile import (
    circulation_watts,
    heating_watts,
    known_heating,
    process_watts,
    reset_temperatures,
    tap_litres,
)
from heat.design import Design
from heat.run import parts as run
from heat.store.pool import saturation_kpa
from heat.weather.sky import sky_temperature_c
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]


def heaters_on(design: Design, rows: Array, heating_through: NDArray[np.bool_]) -> None:
    """Write when the heaters may heat (shares of their power), and what pasteurising asks for (°C)."""
    backup = design.system.backup
    for row, part in (
        (run.ELEMENT_ON, backup.element), (run.TOP_ELEMENT_ON, backup.top_element), (run.BOILER_ON, backup.boiler)
    ):  # fmt: skip
        if part.fitted:
            rows[row] = np.asarray(part.hours_on, dtype=float)[HOUR_OF_DAY]
    if backup.stove.fitted:
        lit = np.asarray(backup.stove.lit_hours)[HOUR_OF_DAY] & np.asarray(backup.stove.lit_months)[MONTH_OF_HOUR]
        rows[run.STOVE_ON] = lit
    rows[run.DUMP_ON] = between(design.system.dump.from_day, design.system.dump.to_day)
    rows[run.PASTEURISE_C] = np.where(heating_through, backup.pasteurisation.target_c, 0.0)


def uses_on(design: Design, weather: WeatherYear, rows: Array) -> None:
    """Write what the uses want (kg, °C, W)."""
    demand = design.demand
    rows[run.TAP_C] = demand.tap_c
    rows[run.DRAW_KG] = tap_litres(demand, rows[run.MAINS]) * WATER_KG_L
    if demand.heating.fitted:
        heating = known_heating(demand.heating, weather, demand.first_weekday)
        rows[run.HEATING_W] = heating_watts(heating, weather, demand.first_weekday)
        rows[run.HEATING_SUPPLY_C], rows[run.HEATING_RETURN_C] = reset_temperatures(heating, rows[run.HEATING_W])
    rows[run.CIRCULATION_W] = np.where(pasteurising(design), 0.0, circulation_watts(demand))
    rows[run.PROCESS_W] = process_watts(demand)
    if demand.pool.fitted:
        pool_hours(design, weather, rows)


def pool_hours(design: Design, weather: WeatherYear, rows: Array) -> None:
    """Write the pool's rows of hourly inputs (°C, kPa, m/s, W, kg/s, shares)."""
    pool = design.demand.pool
    covered = np.asarray(pool.covered, dtype=float)[HOUR_OF_DAY]
    open_ = np.asarray(pool.months)[MONTH_OF_HOUR]
    rows[run.POOL_BARE] = 1.0 - covered * pool.cover_saves
    rows[run.POOL_ACTIVITY] = pool.activity
    fresh_l = pool.bathers_day * pool.fresh_l_bather + pool.fresh_l_day
    rows[run.POOL_FRESH_KG] = np.where(open_, fresh_l / 86_400.0, 0.0)
    rows[run.POOL_SET] = pool.set_c if pool.set_by_month is None else np.asarray(pool.set_by_month)[MONTH_OF_HOUR]
    rows[run.POOL_ON] = open_
    if pool.indoor:
        rows[run.POOL_AIR] = pool.hall_c
        rows[run.POOL_SKY] = pool.hall_c
        rows[run.POOL_WIND] = pool.hall_air_m_s
        rows[run.POOL_VAPOUR] = saturation_kpa(pool.hall_c) * pool.hall_humidity / 100.0
    else:
        passes = 1.0 - covered * (1.0 - pool.cover_passes)
        rows[run.POOL_SUN_W] = weather.ghi_w_m2 * pool.area_m2 * pool.absorptance * passes
        rows[run.POOL_AIR] = weather.air_c
        rows[run.POOL_SKY] = sky_temperature_c(weather)
        rows[run.POOL_WIND] = weather.wind_m_s * pool.wind_share
        rows[run.POOL_VAPOUR] = saturation_kpa(weather.air_c) * weather.humidity_pct / 100.0
    if not pool.surface:
        rows[run.POOL_BARE] = 0.0
        rows[run.POOL_SUN_W] = 0.0


def prepare_heaters(design: Design, *, at_fault: bool = False) -> run.Heaters:
    """The heaters of a design (W, heights and sensors as shares, °C, K); one of no power for each that is not
    fitted."""
    backup, in_second = design.system.backup, design.system.second_store.fitted
    none = run.Heater(0.0, 0.0, 0.0, 0.0, 0.0, False)

    def heater(part: Any) -> run.Heater:
        if not part.fitted:
            return none
        return run.Heater(
            1000.0 * part.power_kw, part.height_share, part.sensor_share, part.set_c, part.hysteresis_k, in_second
        )

    stove = run.Heater(1000.0 * backup.stove.power_kw, backup.stove.height_share, 0.0, 1e6, 1.0, in_second)
    boiler = backup.boiler  # at night it heats the store the collectors are on, from its floor
    night = run.Heater(1000.0 * boiler.power_kw, 0.0, 0.1, boiler.set_c, boiler.hysteresis_k, False)
    made = run.Heaters(
        heater(backup.element), heater(backup.top_element), heater(boiler),
        stove if backup.stove.fitted else none,
        night if at_fault and design.system.faults.boiler_overnight else none,
    )  # fmt: skip
    return run.exact(made)


def prepare_loads(design: Design) -> run.Loads:
    """The uses beside the taps (ports as shares, heater in W, reserve, supply and return in °C)."""
    demand, backup = design.demand, design.system.backup
    series = 1000.0 * backup.series.power_kw if backup.series.fitted else 0.0
    tankless = 1000.0 * backup.tankless.power_kw if backup.tankless.fitted else 0.0
    heating, process, pool = demand.heating, demand.process, demand.pool
    back = demand.tap_c - demand.circulation.drop_k
    return run.exact(run.Loads(
        rooms=run.Load(heating.out_share, heating.in_share, series, heating.reserve_c, heating.supply_c,
            heating.return_c),
        circulation=run.Load(1.0, 0.6, tankless, back, demand.tap_c, back),
        process=run.Load(process.out_share, process.in_share, series, process.reserve_c, process.supply_c,
            process.return_c),
        pool=run.Load(1.0, 0.1, 0.0, pool.reserve_c, 0.0, 0.0),
    ))  # fmt: skip
