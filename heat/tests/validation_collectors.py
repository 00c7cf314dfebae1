"""Collectors held against independent numbers: sky, covers, incidence, water behind glass."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from math import exp

import numpy as np
from scipy.optimize import fsolve

from heat.collector.builder import Build, sky_loss, surface, takes_from, top_loss, water_under_covers
from heat.collector.incidence import b0_modifier
from heat.demand.hot_water import draw
from heat.simulation.taps import draw_mixed
from heat.sizing.batch_water import batch_temperatures
from heat.store.layers import LayeredStore
from heat.tests.claims import Row
from heat.tests.samples import clear_year
from heat.weather.solar_position import sun_positions
from heat.weather.year import WeatherYear

SIGMA = 5.670374419e-8


def bare_plate() -> Iterator[Row]:
    """1 m² at 60 °C, air 15, sky -4, sun 820 W/m², film 6.2 W/m²K."""
    source = "worked by hand: emitted and taken in below and above 4 µm, film to the air"
    for name, build, expected in (
        ("semi-grey 0.93/0.15", {"absorptance": 0.93, "absorptance_long": 0.15, "cutoff_um": 4.0}, 414.5),
        ("grey 0.94", {"absorptance": 0.94, "emittance": 0.94}, 114.9),
    ):
        made = Build(covers=(), wind_w_m2k=6.2, air_c=15, sky_c=-4, **build)  # type: ignore[arg-type]
        heat = 820.0 * surface(made, 60.0)[0] - top_loss(made, 60.0) * 45.0 - sky_loss(made, 60.0)
        yield Row(f"bare plate under a cold sky, {name}, W/m²", expected, heat, 0.1, source)
        if made.cutoff_um:
            yield Row("semi-grey plate: absorbs of the sun", 0.922, surface(made, 60.0)[0], 5e-4, source)
            yield Row("semi-grey plate: emits at 60 °C", 0.154, surface(made, 60.0)[1], 5e-4, source)
            yield Row("semi-grey plate: takes from the sky", 0.151, takes_from(made, -4.0), 5e-4, source)


def glass_and_paint(angle_deg: float) -> float:
    """Fresnel's equations in cosines, both polarisations, two faces with many reflections, and black paint."""
    outside = np.cos(np.radians(angle_deg))
    inside = np.sqrt(1.0 - (1.0 - outside**2) / 1.526**2)
    faces = (
        (outside - 1.526 * inside) / (outside + 1.526 * inside),
        (inside - 1.526 * outside) / (inside + 1.526 * outside),
    )
    passes = sum((1 - r**2) / (1 + r**2) for r in faces) / 2 * np.exp(-0.0128 / inside)
    t = angle_deg
    paint = 1 - 1.5879e-3 * t + 2.7314e-4 * t**2 - 2.3026e-5 * t**3 + 9.0244e-7 * t**4 - 1.8e-8 * t**5
    return float(passes * (paint + 1.7734e-10 * t**6 - 6.9937e-13 * t**7))


def incidence() -> Iterator[Row]:
    source = "Fresnel's equations; black paint by Duffie & Beckman, 4th ed., eq. 4.11.1"
    for angle in (65.0, 75.0, 80.0):
        expected = 0.88 * glass_and_paint(angle) / glass_and_paint(60.0)
        got = float(b0_modifier(np.array([np.cos(np.radians(angle))]), 0.12)[0])
        yield Row(f"incidence at {angle:.0f} deg for b0 0.12", expected, got, 0.01, source)


def gap_film(warm_c: float, cold_c: float) -> float:
    """Hollands et al. (1976), J. Heat Transfer 98, 189-193: a horizontal gap of 25 mm, W/m²K."""
    mean = 0.5 * (warm_c + cold_c) + 273.15
    thin = 1.6e-5 * (mean / 300.0) ** 1.7
    rayleigh = 9.81 * max(warm_c - cold_c, 0.0) * 0.025**3 * 0.71 / (mean * thin**2)
    nusselt = 1.0
    if rayleigh > 1708.0:
        nusselt += 1.44 * (1 - 1708.0 / rayleigh) + max((rayleigh / 5830.0) ** (1 / 3) - 1.0, 0.0)
    return nusselt * 0.0262 * (mean / 300.0) ** 0.8 / 0.025


def covered_loss(water_c: float, covers: int, air_c: float, sky_c: float, film: float) -> float:
    """Loss (W/m²) of water under covers: each gap by convection and radiation, the outer one to air and sky."""

    def passed(warm: float, cold: float, emits: float) -> float:
        exchange = SIGMA / (1 / emits + 1 / 0.88 - 1)
        return gap_film(warm, cold) * (warm - cold) + exchange * ((warm + 273.15) ** 4 - (cold + 273.15) ** 4)

    def gaps(glass: np.ndarray) -> list[float]:
        at = [water_c, *glass]
        flows = [passed(at[k], at[k + 1], 0.95 if k == 0 else 0.88) for k in range(covers)]
        out = film * (at[-1] - air_c) + 0.88 * SIGMA * ((at[-1] + 273.15) ** 4 - (sky_c + 273.15) ** 4)
        return [flows[k] - (flows[k + 1] if k + 1 < covers else out) for k in range(covers)]

    glass = fsolve(gaps, [water_c + (air_c - water_c) * (k + 1) / (covers + 1) for k in range(covers)])
    return passed(water_c, glass[0], 0.95)


def covers() -> Iterator[Row]:
    source = "independent balance of covers, gaps (Hollands 1976) and sky"
    for number in (1, 2, 3):
        a1, a2, a4 = water_under_covers(number, 0.0, wind_w_m2k=8.8, air_c=20.0)
        for water_c in (40.0, 60.0, 80.0):
            excess = water_c - 20.0
            expected = covered_loss(water_c, number, 20.0, 20.0, 8.8)
            yield Row(
                f"{number} cover{'s' * (number > 1)}, water at {water_c:.0f} °C: loss, W/m²",
                expected,
                a1 * excess + a2 * excess**2,
                0.03 * expected,
                source,
            )
        expected = covered_loss(60.0, number, 20.0, 2.0, 8.8) - covered_loss(60.0, number, 20.0, 20.0, 8.8)
        got = a4 * SIGMA * (293.15**4 - 275.15**4)
        yield Row(
            f"{number} cover{'s' * (number > 1)}: more under a sky of 2 °C, W/m²",
            expected,
            got,
            0.06 * expected,
            source,
        )


def july() -> WeatherYear:
    """Every day like one at 43° N in mid-July with 8.6 kWh/m²: air 14 to 26 °C, 55 %, 2 m/s."""
    sun = sun_positions(43.0, 0.0, 100.0, 0.0)
    up = np.maximum(sun.cos_zenith, 0.0)
    dni = np.where(up > 0, 1000.0 * np.exp(-0.14 / np.maximum(up, 0.03)), 0.0)
    dhi = 95.0 * np.sqrt(up)
    day = slice(196 * 24, 197 * 24)
    dni *= (8600.0 - dhi[day].sum()) / (dni * up)[day].sum()
    hour = np.arange(8760) % 24 + 0.5
    air = 20.0 + 6.0 * np.cos(2 * np.pi * (hour - 15.0) / 24.0)
    steady = np.ones(8760)
    return replace(
        clear_year(latitude_deg=43.0),
        ghi_w_m2=dni * up + dhi,
        dni_w_m2=dni,
        dhi_w_m2=dhi,
        air_c=air,
        wind_m_s=2.0 * steady,
        humidity_pct=55.0 * steady,
    )


def bags() -> Iterator[Row]:
    """A bag 130 mm deep, undrawn and level, with 0.7 W/m²K behind it: its day's peak, and what is left at six."""
    source = "independent balance of covers, gaps and sky"
    settled = batch_temperatures(
        july(), kind="bag", depths_mm=(130.0,), tilt_deg=0.0, azimuth_deg=180.0, month=6, back_w_m2k=0.7
    )
    for found, peak, six in zip(settled, (72.7, 85.0, 91.7), (49.7, 64.8, 74.0), strict=True):
        yield Row(f"July bag under {found.covers} of glass: peak, °C", peak, max(found.day_c), 2.0, source)
        yield Row(f"July bag under {found.covers} of glass: at six, °C", six, found.day_c[5], 2.0, source)


def batches() -> Iterator[Row]:
    """80 L drawn from 160 L at 60 °C, mains 10 °C, from one fat tank and from tubes in series."""
    store = LayeredStore(160.0, 20, 0.0, 20.0, 0.0, False)
    whole = 160.0 * 4186.0 * 50.0 / 3.6e6
    for name, expected, source in (
        ("a fat tank", whole * (1.0 - exp(-0.5)), "analytic: exp(-V/M) of a stirred tank"),
        ("tubes in series", 0.5 * whole, "analytic: plug flow"),
    ):
        temperature, mass = np.zeros(60), np.zeros(60)
        temperature[:20], mass[:20], count, drawn = 60.0, 8.0, 20, 0.0
        for _ in range(8):
            if name == "a fat tank":
                count, heat, *_rest = draw_mixed(10.0, 60.0, 10.0, False, store, temperature, mass, count)
            else:
                count, heat, *_rest = draw(10.0, 60.0, 10.0, False, 8.0, temperature, mass, count)
            drawn += heat / 3.6e6
        yield Row(f"half of {name} drawn, kWh", expected, drawn, 0.01 * expected, source)


COLLECTOR_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (bare_plate, incidence, covers, bags, batches)
