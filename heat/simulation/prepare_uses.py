"""What the compiled year reads of heaters and uses: rows hour by hour, and the parts behind them."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from heat.common.calendar import HOUR_OF_DAY, MONTH_OF_HOUR
from heat.common.fluid import fluid_curves
from heat.constants import WATER_J_KGK, WATER_KG_L
from heat.control.timetable import between, pasteurising
from heat.demand.profile import circulation_watts, process_watts, tap_litres
from heat.demand.rooms import (
    fresh_air,
    heating_watts,
    known_heating,
    reset_temperatures,
    second_temperatures,
    share_out,
)
from heat.design import Design
from heat.loop.circulation import Heights, Passage
from heat.loop.coil import Coil
from heat.loop.stove import Stove
from heat.simulation import parts as run
from heat.store.pool import saturation_kpa
from heat.store.vessel import store_shape, store_volume_l
from heat.weather.sky import sky_temperature_c
from heat.weather.year import WeatherYear

Array = NDArray[np.float64]
STOVE_FITTINGS = 8.0
"""Loss coefficients of a stove's pipes, summed (no unit). Source: our own choice, six bends and two ports."""
UNTRAPPED_W_K = 1.5
"""What a store loses through a stove's pipe without a heat trap (W/K). Source: our own choice, a metre or two of bare
pipe that its water climbs by night."""


def heaters_on(design: Design, rows: Array, heating_through: NDArray[np.bool_]) -> None:
    """Write when the heaters may heat (shares of their power), and what pasteurising asks for (°C).

    Parameters
    ----------
    design
        The design.
    rows
        Hourly inputs, a row for each; written in place.
    heating_through
        Hours in which the store is pasteurised.
    """
    backup = design.system.backup
    for row, part in (
        (run.ELEMENT_ON, backup.element),
        (run.TOP_ELEMENT_ON, backup.top_element),
        (run.BOILER_ON, backup.boiler),
    ):
        if part.fitted:
            rows[row] = np.asarray(part.hours_on, dtype=float)[HOUR_OF_DAY]
    rows[run.DUMP_ON] = between(design.system.dump.from_day, design.system.dump.to_day)
    rows[run.PASTEURISE_C] = np.where(heating_through, backup.pasteurisation.target_c, 0.0)


def uses_on(design: Design, weather: WeatherYear, sun_w_m2: Array, rows: Array) -> None:
    """Write what the uses want (kg, °C, W), by the sun on the collectors (W/m²).

    And when a stove is lit (share of its power): by its timetable, or as the rooms want it.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.
    sun_w_m2
        Sun on the plane (W/m²).
    rows
        Hourly inputs, a row for each; written in place.
    """
    demand = design.demand
    rows[run.TAP_C] = demand.tap_c
    rows[run.DRAW_KG] = tap_litres(demand, rows[run.MAINS]) * WATER_KG_L
    if demand.heating.fitted:
        heating = known_heating(demand.heating, weather, demand.first_weekday)
        watts = heating_watts(heating, weather, demand.first_weekday)
        rows[run.HEATING_W], rows[run.HEATING_2_W] = share_out(heating, watts)
        rows[run.HEATING_SUPPLY_C], rows[run.HEATING_RETURN_C] = reset_temperatures(heating, rows[run.HEATING_W])
        second = second_temperatures(heating, rows[run.HEATING_2_W])
        rows[run.HEATING_2_SUPPLY_C], rows[run.HEATING_2_RETURN_C] = second
        cold_days = np.repeat(watts.reshape(365, 24).any(axis=1), 24)  # on others the floor would only be too warm
        rows[run.SLAB_ON] = (sun_w_m2 >= max(heating.slab.sun_w_m2, 1.0)) & cold_days
    fresh = fresh_air(demand.fresh_air, weather.air_c)
    rows[run.FRESH_W], rows[run.FRESH_SUPPLY_C], rows[run.FRESH_RETURN_C] = fresh
    stove = design.system.backup.stove
    if stove.fitted:
        lit = np.asarray(stove.lit_hours)[HOUR_OF_DAY] & np.asarray(stove.lit_months)[MONTH_OF_HOUR]
        if stove.fired == "rooms":
            rooms_kw = (rows[run.HEATING_W] + rows[run.HEATING_2_W]) / 1000.0
            lit = lit * np.clip(rooms_kw / (stove.power_kw + stove.room_kw), 0.0, 1.0)
        rows[run.STOVE_ON] = lit
    rows[run.CIRCULATION_W] = np.where(pasteurising(design), 0.0, circulation_watts(demand))
    rows[run.PROCESS_W] = process_watts(demand)
    if demand.pool.fitted:
        pool_hours(design, weather, rows)


def pool_hours(design: Design, weather: WeatherYear, rows: Array) -> None:
    """Write the pool's rows of hourly inputs (°C, kPa, m/s, W, kg/s, shares).

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours.
    rows
        Hourly inputs, a row for each; written in place.
    """
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
    """The heaters of a design (W, heights and sensors as shares, °C, K); one of no power for each that is not fitted.

    Parameters
    ----------
    design
        The design.
    at_fault
        Whether the design's faults are at work.

    Returns
    -------
    run.Heaters
        The heaters of a design (W, heights and sensors as shares, °C, K).
    """
    backup, in_second = design.system.backup, design.system.second_store.fitted
    none = run.Heater(0.0, 0.0, 0.0, 0.0, 0.0, False)

    def heater(part: Any) -> run.Heater:
        if not part.fitted:
            return none
        return run.Heater(
            1000.0 * part.power_kw, part.height_share, part.sensor_share, part.set_c, part.hysteresis_k, in_second
        )

    boiler = backup.boiler  # at night it heats the store the collectors are on, from its floor
    night = run.Heater(1000.0 * boiler.power_kw, 0.0, 0.1, boiler.set_c, boiler.hysteresis_k, False)
    made = run.Heaters(
        heater(backup.element),
        heater(backup.top_element),
        heater(boiler),
        night if at_fault and design.system.faults.night_boiler else none,
    )
    return run.exact(made)


def prepare_stove(design: Design) -> Stove:
    """The stove of a design (W, kg/s, m, shares); its heights count from the floor of its jacket.

    Where rooms are not in the books neither is what it gives its room.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Stove
        The stove of a design (W, kg/s, m, shares).
    """
    stove, second = design.system.backup.stove, design.system.second_store
    volume = second.volume_l if second.fitted else store_volume_l(design)
    _width, height = store_shape(design.system.store, volume)
    pumped = stove.circulation == "pump"
    return run.exact(
        Stove(
            water_w=1000.0 * stove.power_kw,
            room_w=1000.0 * stove.room_kw if design.demand.heating.fitted else 0.0,
            out_share=stove.out_share,
            in_share=stove.height_share,
            hot_share=stove.hot_share,
            damper_c=stove.damper_c,
            pumped_kg_s=stove.pump_kg_h / 3600.0 if pumped else 0.0,
            pump_w=stove.pump_w if pumped else 0.0,
            heights=Heights(
                stove.jacket_m,
                stove.store_above_m + stove.height_share * height,
                stove.store_above_m + stove.out_share * height,
            ),
            pipes=Passage(stove.pipe_m, stove.bore_mm / 1000.0, 1.0, STOVE_FITTINGS),
            water=fluid_curves(0.0, WATER_J_KGK),
            in_second=second.fitted,
            bought=stove.counts_as_bought,
        )
    )


def prepare_loads(design: Design) -> run.Loads:
    """The uses beside the taps (ports as shares, heater in W, reserve, supply and return in °C).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    run.Loads
        The uses beside the taps (ports as shares, heater in W, reserve, supply and return in °C).
    """
    demand, backup = design.demand, design.system.backup
    series = 1000.0 * backup.series.power_kw if backup.series.fitted else 0.0
    tankless = 1000.0 * backup.tankless.power_kw if backup.tankless.fitted else 0.0
    heating, process, pool, fresh = demand.heating, demand.process, demand.pool, demand.fresh_air
    back, second, slab = demand.tap_c - demand.circulation.drop_k, heating.second, heating.slab
    ports, coil = Coil(0.0, 0.0, 1.0), heating.coil
    through = Coil(float(coil.ua_w_k), float(coil.bottom_share), float(coil.top_share)) if coil.fitted else ports
    area = slab.area_m2 if slab.fitted and heating.fitted else 0.0
    return run.exact(
        run.Loads(
            rooms=run.Load(
                heating.out_share,
                heating.in_share,
                series,
                heating.reserve_c,
                heating.supply_c,
                heating.return_c,
                through,
            ),
            rooms_2=run.Load(
                second.out_share, second.in_share, series, heating.reserve_c, second.supply_c, second.return_c, ports
            ),
            fresh=run.Load(1.0, 0.1, series, fresh.reserve_c, 0.0, 0.0, ports),
            circulation=run.Load(1.0, 0.6, tankless, back, demand.tap_c, back, ports),
            process=run.Load(
                process.out_share,
                process.in_share,
                series,
                process.reserve_c,
                process.supply_c,
                process.return_c,
                ports,
            ),
            pool=run.Load(1.0, 0.1, 0.0, pool.reserve_c, 0.0, 0.0, ports),
            charging=run.Load(heating.out_share, 0.05, 0.0, slab.reserve_c, 0.0, 0.0, ports),
            slab=run.FloorSlab(
                1000.0 * area * slab.depth_m * slab.heat_kj_m3k,
                area * slab.charge_w_m2k,
                area * slab.room_w_m2k,
                area * slab.ground_w_m2k,
                heating.room_c,
                slab.ground_c,
                slab.most_c,
                slab.lead_k,
            ),
        )
    )
