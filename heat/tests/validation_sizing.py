"""Safety parts held against published values and sums by hand."""

from collections.abc import Callable, Iterator
from math import cos, exp, log10, pi, radians, sin, sqrt

import numpy as np
from scipy.optimize import brentq

from heat.common.fluid import fluid_property
from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.sizing.antifreeze import needed_percent
from heat.sizing.boiling import heat_dump_kw
from heat.sizing.circuit import pipe_sizes, resistances
from heat.sizing.exchange import exchange_of
from heat.sizing.hygiene import dead_leg
from heat.sizing.thermosiphon import siphon
from heat.sizing.vessel import boiling_c, drainback_l, expansion_vessel, grown_l, open_tank
from heat.sizing.wind import gust_pa, lift_coefficient, snow_kg_m2, wind_load
from heat.tests.claims import Row
from heat.tests.samples import example
from heat.tests.validation_loops import _viscosity_pa_s, _water_kg_m3


def plain(**changes: object) -> Design:
    """The usual pumped coil with values put in."""
    return parse(with_changes(Design().model_dump(mode="json"), {k.replace("__", "."): v for k, v in changes.items()}))


def steam() -> Iterator[Row]:
    source = "IAPWS-IF97 (2007), table 36"
    for bar, kelvin in ((1.0, 372.755919), (10.0, 453.035632), (100.0, 584.149488)):
        yield Row(f"water boils at {bar:g} bar, C", kelvin - 273.15, boiling_c(bar), 1e-4, source)


def gusts() -> Iterator[Row]:
    basic = 0.5 * 1.25 * 25.0**2
    source = "EN 1991-1-4, figure 4.2, read off"
    for terrain, height, factor, off in (
        ("sea", 10, 3.0, 0.05),
        ("open", 10, 2.35, 0.02),
        ("suburb", 10, 1.7, 0.03),
        ("open", 40, 3.3, 0.05),
    ):
        yield Row(
            f"exposure factor, {terrain}, {height} m", factor, gust_pa("EN", 25.0, terrain, height) / basic, off, source
        )
    for terrain, factor in (("suburb", 0.70), ("open", 0.98), ("sea", 1.16)):
        got = gust_pa("ASCE", 50.0, terrain, 9.144) / (0.613 * 0.85 * 50.0**2)
        yield Row(f"velocity exposure coefficient, {terrain}, 30 ft", factor, got, 0.006, "ASCE 7-16, table 26.10-1")


def pressing() -> Iterator[Row]:
    yield Row(
        "snow on 45 deg, share of the ground's", 0.4, snow_kg_m2(100.0, 45.0) / 100.0, 1e-9, "EN 1991-1-3, table 5.2"
    )
    yield Row(
        "canopy of 12.5 deg, coefficient",
        -1.0,
        lift_coefficient("flat_roof", 12.5, True),
        1e-9,
        "EN 1991-1-4, table 7.6, between rows",
    )
    plane = {"key": "P1", "kind": "flat_roof", "tilt_deg": 30, "load_kg_m2": 100}
    design = plain(
        site__planes=[plane],
        plane__on="P1",
        plane__tilt_deg=30.0,
        exposure__height_m=10.0,
        exposure__terrain="open",
        exposure__edge=True,
        system__collector__count=4,
        safety__friction=0.5,
    )
    area = design.system.gross_m2
    lifts = 1.5 * 1.8 * 2.35 * 390.625 * area
    dry = 25.0 * area * 9.80665 * 0.9
    by_hand = ((lifts * cos(radians(30)) - dry) + lifts * sin(radians(30)) / 0.5) / (0.9 * 9.80665)
    yield Row(
        "ballast of four collectors at 30 deg, kg",
        by_hand,
        wind_load(design).ballast_kg,
        0.01 * by_hand,
        "by hand from the same codes",
    )
    steep = parse(with_changes(design.model_dump(mode="json"), {"plane.tilt_deg": 75.0}))
    # moments over the lower feet, 1 m of slope: the force at 0.75 m, what holds at half of cos 75 m
    tips = (lifts * 0.75 / (cos(radians(75)) / 2) - dry) / (0.9 * 9.80665)
    yield Row(
        "ballast of four collectors at 75 deg, where tipping governs, kg",
        tips,
        wind_load(steep).ballast_kg,
        0.01 * tips,
        "by hand: moments over the feet",
    )


def friction() -> Iterator[Row]:
    water = plain(
        system__loop__glycol_percent=0.0,
        system__kind="direct",
        system__loop__flow_kg_h=400.0,
        system__loop__geometry__fittings=0.0,
    )
    bore, flow = 0.016, 400.0 / 3600.0
    rho, mu = float(_water_kg_m3(np.array(40.0))), _viscosity_pa_s(40.0)
    speed = flow / rho / (pi * bore**2 / 4)
    reynolds = rho * speed * bore / mu
    f = brentq(lambda f: 1 / sqrt(f) - 2 * log10(reynolds * sqrt(f)) + 0.8, 0.005, 0.2)
    got = resistances(water, 400.0)[0]
    yield Row(
        "copper 18 x 1, 400 kg/h of water at 40 C, Pa/m",
        f * rho * speed**2 / 2 / bore,
        got.per_metre_pa,
        0.04 * got.per_metre_pa,
        "Prandtl's smooth pipe, Kell, Vogel",
    )
    yield Row("speed in it, m/s", speed, got.speed_m_s, 0.002, "by hand")
    thick = plain(system__loop__geometry__fittings=0.0)
    mu = fluid_property("viscosity_mpas", 40.0, 5.0) / 1000
    rho = fluid_property("density_kg_m3", 40.0, 5.0)
    by_hand = 128 * mu * (200.0 / 3600 / rho) / (pi * bore**4) * 12.0
    yield Row(
        "12 m of it, 200 kg/h of 40 % glycol at 5 C, Pa",
        by_hand,
        resistances(thick, 200.0, 5.0)[0].drop_pa,
        1e-6 * by_hand,
        "Hagen-Poiseuille",
    )
    sizes = {size.outer_mm: size for size in pipe_sizes(water, 1200.0)}
    yield Row(
        "copper 28 x 1.5, 1200 kg/h, m/s",
        1200 / 3600 / 992.2 / (pi * 0.025**2 / 4),
        sizes[28].speed_m_s,
        0.002,
        "by hand",
    )


def vessels() -> Iterator[Row]:
    kell = float(_water_kg_m3(np.array(10.0)) / _water_kg_m3(np.array(90.0))) - 1.0
    yield Row(
        "100 L of water from 10 to 90 C grow by, L", 100 * kell, grown_l(100.0, 0.0, 10.0, 90.0), 0.12, "Kell (1975)"
    )
    # 4.6 m² gross, 2 x 12 m of 18 x 1: 6.9 L in collectors, 4.83 L in pipes, 8 L in the coil: 19.73 L.
    # Steam 110 x 4.6/25 = 20.2 m of 24: 6.9 + 4.83 x 20.24/24 = 10.97 L; reserve 3 L; growth by density.
    # Relief 6 bar: 5.4; gas 0.0981 x 4 + 0.5 = 0.892 bar: factor 6.4/4.508 = 1.4198.
    design = plain(system__collector__count=2)
    rho = lambda t: np.polyval(
        np.polyfit(range(0, 101, 5), [fluid_property("density_kg_m3", 40.0, x) for x in range(0, 101, 5)], 2), t
    )
    area = design.system.gross_m2
    pipes = 24 * pi * 0.016**2 / 4 * 1000
    current = 1.5 * area + pipes + 8.0
    taken = 3.0 + current * (rho(10.0) / rho(130.0) - 1) + 1.5 * area + pipes * min(110 * area / 25 / 24, 1.0)
    found = expansion_vessel(design)
    assert found is not None
    yield Row(
        "expansion vessel of the usual loop, L",
        taken * 6.4 / (5.4 - 0.0981 * 4 - 0.5),
        found.least_l,
        0.01,
        "VDI 6002-1, by hand",
    )
    drains = plain(system__kind="drainback", system__loop__glycol_percent=0.0)
    yield Row(
        "drainback vessel, L", 1.25 * (1.5 * drains.system.gross_m2 + pipes), drainback_l(drains), 1e-6, "by hand"
    )
    tank = open_tank(parse(example("thermosiphon_open")), 40.0)
    assert tank is not None
    yield Row("overflow for 0.3 L/s at 1 m/s, mm", 19.544, tank.overflow_mm, 0.001, "by hand")


def frost() -> Iterator[Row]:
    source = "ASHRAE Fundamentals (2017), ch. 31, table 5"
    for coldest, percent in ((-12.7, 30.0), (-21.0, 40.0), (-33.4, 50.0)):
        yield Row(f"glycol that bears {coldest:g} C, %", percent, needed_percent(coldest, 0.0) or 0.0, 2.0, source)


def handing_on() -> Iterator[Row]:
    design = plain(system__collector__rating="mean")
    found = exchange_of(design)
    assert found is not None
    rate = 200 / 3600 * fluid_property("heat_capacity_j_kgk", 40.0, 50.0)
    ntu = 350.0 / rate
    loss = design.system.collector.a1_w_m2k * design.system.collector.total_area_m2
    factor = 1 / (1 + loss / rate * (1 / (1 - exp(-ntu)) - 1))
    yield Row("coil of 350 W/K at 200 kg/h, effectiveness", 1 - exp(-ntu), found.effectiveness, 1e-9, "by hand")
    yield Row("collectors' factor by it", factor, found.factor, 1e-9, "Duffie & Beckman, eq. 10.2.3, by hand")
    collector = design.system.collector
    gives = collector.total_area_m2 * (collector.eta0 * 1000 - collector.a1_w_m2k * 60 - collector.a2_w_m2k2 * 3600)
    yield Row("cooler that holds it at 90 C, kW", gives / 1000, heat_dump_kw(design, 90.0), 1e-9, "by hand")
    litres, _wait = dead_leg(plain(safety__branch_m=8.0, safety__branch_bore_mm=13.0))
    yield Row("8 m of 13 mm to a tap, L", 1.0619, litres, 1e-4, "by hand; DVGW W 551 bears 3 L")


def by_weight() -> Iterator[Row]:
    """Natural circulation on a sunny noon, by Kell's density, Vogel's viscosity and a search of its own."""
    design = parse(example("thermosiphon_open"))
    found = siphon(design)
    assert found is not None
    collector, loop = design.system.collector, design.system.loop
    passages = [
        (p.length_m, (p.outer_diameter_mm - 2 * p.wall_mm) / 1000, 1.0, loop.geometry.fittings / 2)
        for p in (loop.supply_pipe, loop.return_pipe)
    ]
    row = min(collector.in_series or 1, collector.count)
    passages.append(
        (
            (collector.tube_length_m or design.plane.slope_m) * row,
            collector.tube_bore_mm / 1000,
            collector.tubes_inside * collector.count / row,
            2.0 * row,
        )
    )
    area, lead = collector.total_area_m2, 20.0
    gain = area * (collector.eta0 * 800 - collector.a1_w_m2k * lead - collector.a2_w_m2k2 * lead**2)

    def surplus(flow: float) -> float:
        rise = gain / (flow * 4186 + 0.5 * area * collector.a1_w_m2k)
        drive = 9.80665 * float(_water_kg_m3(np.array(40.0)) - _water_kg_m3(np.array(40 + rise))) * found.column_m
        mu, rho = _viscosity_pa_s(40 + rise / 2), float(_water_kg_m3(np.array(40 + rise / 2)))
        lost = 0.0
        for length, bore, tubes, fittings in passages:
            speed = flow / tubes / rho / (pi * bore**2 / 4)
            reynolds = rho * speed * bore / mu
            f = 64 / reynolds if reynolds < 2000 else 0.032 + (0.3164 * 4000**-0.25 - 0.032) * (reynolds - 2000) / 2000
            lost += (f * length / bore + fittings) * rho * speed**2 / 2
        return drive - lost

    flow = 3600 * brentq(surplus, 1e-4, 0.2)
    yield Row("open thermosiphon at a sunny noon, kg/h", flow, found.flow_kg_h, 0.04 * flow, "Kell, Vogel, own search")


SIZING_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (
    steam,
    gusts,
    pressing,
    friction,
    vessels,
    frost,
    handing_on,
    by_weight,
)
