"""Uses held against independent numbers: pools, wind."""

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from heat.collector.absorbed import absorbed_and_loss
from heat.design import parse
from heat.ledger import accounts as acc
from heat.simulation import parts as run
from heat.simulation.prepare import prepare_hours
from heat.simulation.year import simulate
from heat.store.pool import Pool, pool_losses, surface_coefficients
from heat.sun.site import plane_sun, sun_of
from heat.tests.claims import Row
from heat.tests.samples import clear_year, example


def surfaces() -> Iterator[Row]:
    """100 m² at 28 °C: vapour pressures 3.782 kPa over the water, 1.900 in the air (IAPWS-95), wind 1.5 m/s."""
    document = example("pool_direct")
    for name, expected, source in (
        ("quiet", 100 * (64.7 + 64.2 * 1.5) * (3.782 - 1.900), "Smith, Löf & Jones (1994), 69.4 + 30.8 mph"),
        ("busy", 100 * (89.0 + 78.2 * 1.5) * (3.782 - 1.900), "ASHRAE, 0.089 + 0.0782 V"),
        ("standard", 100 * (50.6 + 66.9 * 1.5) * (3.782 - 1.900), "ISO/TR 12596:1995, 50.6 + 66.9 v"),
    ):
        document["demand"]["pool"]["evaporation"] = name
        still, windy = surface_coefficients(parse(document).demand.pool)
        pool = Pool(1.0, 100.0, still, windy, 0.0, 0.0, 99.0)
        got, *_rest = pool_losses(pool, 28.0, 24.0, 1.900, 1.5, 24.0, 1.0, 1.0)
        yield Row(f"outdoor evaporation, {name}, W", expected, got, 0.01 * expected, source)


def halls() -> Iterator[Row]:
    """Air that moves over an indoor pool takes (0.089 + 0.0782 V)/0.089 of what still air would."""
    document = example("pool_direct")
    document["demand"]["pool"] |= {
        "indoor": True,
        "heater_kw": 500,
        "covered": [False] * 24,
        "bathers_day": 0,
        "months": [True] * 12,
        "limit_c": 27,
        "set_c": 27,
    }
    taken = []
    for air in (0.0, 0.1):
        document["demand"]["pool"]["hall_air_m_s"] = air
        design = parse(document)
        rows, _sky = prepare_hours(design, clear_year(), plane_sun(clear_year(), design))
        taken.append(simulate(design, clear_year()).total(acc.POOL_EVAPORATION))
        assert rows[run.POOL_WIND].max() == air
    yield Row(
        "indoor evaporation at 0.1 m/s over still air", 1.0879, taken[1] / taken[0], 0.01, "ASHRAE, 0.089 + 0.0782 V"
    )


def makeup() -> Iterator[Row]:
    """Fresh water alone: 2,000 L a day from 10 to 27 °C."""
    document = example("pool_direct")
    document["site"]["mains"] = {"source": "monthly", "monthly_c": [10] * 12}
    document["demand"]["pool"] |= {
        "surface": False,
        "heater_kw": 50,
        "bathers_day": 0,
        "fresh_l_day": 2000,
        "months": [True] * 12,
        "set_c": 27,
        "limit_c": 27,
    }
    document["demand"]["hot_water"] = False
    book = simulate(parse(document), clear_year())
    expected = 365 * 2000 * 4186.0 * 17.0 / 3.6e6
    got = book.total(acc.POOL_WATER)
    yield Row("pool make-up alone, kWh", expected, got, 0.02 * expected, "heat capacity of water")
    yield Row("pool make-up alone: surface, kWh", 0.0, book.total(acc.POOL_EVAPORATION, acc.POOL_SUN), 1e-9, "none")


def wind() -> Iterator[Row]:
    """An unglazed collector in 4 m/s at 10 m, of which 0.75 or 0.25 reaches it."""
    source = "ISO 9806:2017, eq. 12: a1 + a3 (u - 3)"
    weather = replace(clear_year(), wind_m_s=np.full(8760, 4.0))
    document = example("pool_direct")
    document["system"]["collector"] = {"a1_w_m2k": 14.0, "a2_w_m2k2": 0.0, "a3_j_m3k": 2.2, "a6_s_m": 0.02}
    for share in (0.75, 0.25):
        document["site"]["wind_share"] = share
        design = parse(document)
        sun = plane_sun(weather, design)
        _absorbed, loss, _sky = absorbed_and_loss(
            design.system.collector, sun, sun_of(design, weather), design, weather
        )
        expected = 14.0 + 2.2 * (4.0 * share - 3.0)
        yield Row(f"wind, {share:g} of 4 m/s: loss, W/m²K", expected, float(loss.mean()), 1e-9, source)


USE_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (surfaces, halls, makeup, wind)
