"""The core held against published and independent numbers: one row a claim, for tests and for docs/validation.md."""

import json
from collections.abc import Callable, Iterator
from dataclasses import asdict, replace
from functools import cache
from math import exp
from pathlib import Path

import numpy as np
import pandas as pd
from pvlib import solarposition

from heat.collector.builder import klein_top_loss
from heat.collector.rated import RatedCollector, running_temperature
from heat.common.fluid import density, viscosity
from heat.constants import WATER_J_KGK
from heat.demand.hot_water import draw
from heat.demand.profile import TAPPING_KWH
from heat.design import Design, parse
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, YearBook
from heat.loop.circulation import Passage, driving_pressure, pressure_drop
from heat.simulation.loop import natural_flow
from heat.simulation.parts import Hour, State, Water
from heat.simulation.prepare import prepare_parts
from heat.simulation.year import simulate
from heat.sizing.monthly_correlation import second_opinion
from heat.store.layers import LayeredStore, conduct, lose_to_room
from heat.sun.magnetic import declination_deg
from heat.sun.plane import incidence_cosine
from heat.sun.site import plane_sun
from heat.tests.claims import Row
from heat.tests.samples import DATA, case, case_design, clear_year, pvgis, tmy3
from heat.tests.validation_collectors import COLLECTOR_CHECKS
from heat.tests.validation_light import LIGHT_CHECKS
from heat.tests.validation_loops import LOOP_CHECKS
from heat.tests.validation_rooms import ROOM_CHECKS
from heat.tests.validation_sizing import SIZING_CHECKS
from heat.tests.validation_stores import STORE_CHECKS
from heat.tests.validation_uses import USE_CHECKS
from heat.weather.synthetic import clearness_mean, largest_clearness
from heat.weather.year import WeatherYear


def sun_position() -> Iterator[Row]:
    time = pd.DatetimeIndex(["2003-10-17 12:30:30"], tz="Etc/GMT+7")
    found = solarposition.spa_python(time, 39.742476, -105.1786, 1830.14, pressure=82000, temperature=11)
    source = "Reda & Andreas (2004), NREL/TP-560-34302, table A5.1"
    yield Row("sun, apparent zenith, deg", 50.1116, float(found["apparent_zenith"].iloc[0]), 5e-4, source)
    yield Row("sun, azimuth, deg", 194.340, float(found["azimuth"].iloc[0]), 5e-3, source)
    lat, dec, hour = np.radians([43.0, -13.95, -22.5])
    cos_z = np.sin(lat) * np.sin(dec) + np.cos(lat) * np.cos(dec) * np.cos(hour)
    azimuth = np.pi + np.arctan2(np.sin(hour), np.cos(hour) * np.sin(lat) - np.tan(dec) * np.cos(lat))
    angle = np.degrees(np.arccos(incidence_cosine(cos_z, azimuth, np.radians(45.0), np.radians(195.0))))
    yield Row("angle of incidence, deg", 35.2, float(angle), 0.05, "Duffie & Beckman, ch. 1 (book: 35)")


def magnetic() -> Iterator[Row]:
    source = "World Magnetic Model 2020, published test values"
    with (DATA / "wmm2020_test_values.csv").open() as table:
        for point in pd.read_csv(table, comment="#").itertuples():
            got = declination_deg(point.latitude_deg, point.longitude_deg, 1000.0 * point.height_km, point.year)
            name = f"declination at {point.latitude_deg} {point.longitude_deg}, {point.year}, deg"
            yield Row(name, point.declination_deg, got, 0.011, source)


def top_loss() -> Iterator[Row]:
    book, equation = "Duffie & Beckman, ch. 6 (book: 6.6)", "Klein (1979)"
    yield Row("top loss, 1 cover, eps 0.95, W/m2K", 6.64, klein_top_loss(100, 10, 1, 0.95, 0.88, 10, 45), 0.005, book)
    yield Row(
        "top loss, 1 cover, eps 0.10, W/m2K", 3.64, klein_top_loss(100, 10, 1, 0.10, 0.88, 10, 45), 0.005, equation
    )
    yield Row(
        "top loss, 2 covers, eps 0.95, W/m2K", 3.88, klein_top_loss(100, 10, 2, 0.95, 0.88, 10, 45), 0.005, equation
    )


def clearness() -> Iterator[Row]:
    for gamma, expected in ((1.5, 0.3237), (-2.0, 0.2038), (5.0, 0.4645)):
        k = np.linspace(0.0, 0.8, 400_001)
        density_ = (0.8 - k) * np.exp(gamma * k)
        integral = float(np.trapezoid(k * density_, k) / np.trapezoid(density_, k))
        got = clearness_mean(gamma, 0.8)
        yield Row(f"mean clearness, gamma {gamma:g}", expected, got, 5e-5, "Hollands & Huget (1983)")
        yield Row(f"the same as an integral, gamma {gamma:g}", integral, got, 1e-8, "numerical integration")
    yield Row(
        "largest clearness at mean 0.75", 0.83155, largest_clearness(0.75), 1e-9, "Hollands & Huget (1983), eq. 12"
    )


def tapping() -> Iterator[Row]:
    for name, expected in (("M", 5.845), ("L", 11.655)):
        yield Row(f"tapping {name}, kWh a day", expected, sum(TAPPING_KWH[name]), 1e-9, "EU 814/2013, annex III")


def store() -> Iterator[Row]:
    t, m = np.array([80.0]), np.array([300.0])
    retention = exp(-2.0 * 360.0 / (300.0 * WATER_J_KGK))
    for _ in range(240):
        lose_to_room(20.0, retention, t, m, 1)
    exact = 20.0 + 60.0 * exp(-2.0 * 86400 / (300.0 * WATER_J_KGK))
    yield Row("store of one layer after a day, C", exact, float(t[0]), 1e-9, "exponential, analytic")
    layers = 20
    t, m = np.full(60, 60.0), np.full(60, 15.0)
    count, outlet = layers, []
    for _ in range(1100):
        outlet.append(float(t[count - 1]))
        count, *_ = draw(0.3, 90.0, 10.0, True, 15.0, t, m, count)
    series = np.array(outlet)
    source = "plug flow, analytic"
    yield Row(
        "plug flow: share of the volume drawn hot", 1.0, float((series > 59.9).sum()) * 0.3 / 300, 1 / layers, source
    )
    step = ((series < 55.0) & (series > 15.0)).sum() * 0.3 / 300
    yield Row("plug flow: 90 % of the step within, share of volume", 0.0, float(step), 1 / layers, source)


def slab_shifted(layers: int, height_m: float, hours: int) -> float:
    """Share of the heat between a cold and a warm half that conduction has evened out (no unit), by the core."""
    mass_kg = 200.0 * height_m
    tank = LayeredStore(mass_kg, layers, 0.0, 20.0, 0.2**2 * 1000.0, False)
    t, m = np.where(np.arange(layers) < layers / 2, 20.0, 60.0), np.full(layers, mass_kg / layers)
    for _ in range(hours):
        conduct(tank, 3600.0, t, m, layers, *np.zeros((2, layers)))
    return 1.0 - (float(t[layers // 2 :].mean()) - 40.0) / 20.0


def conduction() -> Iterator[Row]:
    source = "Carslaw & Jaeger, 2nd ed., ch. III: insulated slab, 1 W/m/K"
    for height_m, hours in ((1.5, 72), (1.5, 240), (0.4, 24)):
        odd = np.arange(1, 4001, 2)
        pace = odd**2 * np.pi**2 / (1000.0 * WATER_J_KGK) * hours * 3600.0 / height_m**2
        exact = 1.0 - float((8.0 / np.pi**2 / odd**2 * np.exp(-pace)).sum())
        for layers in (10, 20, 50, 100):
            name = f"conduction, {height_m} m in {layers} layers, {hours} h: share evened out"
            yield Row(name, exact, slab_shifted(layers, height_m, hours), 0.03 * exact, source)


def collector() -> Iterator[Row]:
    flat = RatedCollector(4.0, 0.014, 0.0)
    mean, outlet = running_temperature(600.0, 10.0, 0.0, 360.0, 3.6, flat, 200.0, 0.0, 40.0)
    q = 4.0 * (600.0 - 3.6 * (mean - 10.0) - 0.014 * (mean - 10.0) ** 2)
    yield Row(
        "collector at fixed inlet against its curve", 1.0, 200.0 * (outlet - 40.0) / q, 1e-9, "ISO 9806:2017, eq. 12"
    )


def siphon_design() -> Design:
    pipe = {"length_m": 3.0, "outer_diameter_mm": 28, "outdoors": True}
    return parse(
        {
            "site": {"latitude_deg": 40.0, "longitude_deg": 0.0},
            "system": {
                "kind": "thermosiphon_open",
                "loop": {"glycol_percent": 0, "check_valve": False, "supply_pipe": pipe, "return_pipe": pipe},
                "store": {"volume_l": 250, "outdoors": True},
            },
        }
    )


def balance_of_flow(sun_w_m2: float, store_c: tuple[float, float]) -> tuple[float, float, float]:
    """Flow (kg/s) found, and driving pressure and friction (Pa) calculated anew around the loop by hand."""
    design = siphon_design()
    weather = clear_year()
    parts = prepare_parts(design, weather)
    light = parts.supply._replace(contents_j_k=0.0)  # a steady loop: nothing is stored on the way
    parts = parts._replace(supply=light, back=light, collector=parts.collector._replace(a5=0.0))
    t, m = np.zeros(60), np.zeros(60)
    t[:20], m[:20] = np.linspace(*store_c, 20), 250.0 / 20
    water = Water(t, m, np.zeros(1), np.zeros(1), np.zeros(60), np.zeros(60))
    rest = store_c[0]
    hot = 80.0 if sun_w_m2 > 0 else rest
    hour = Hour(sun_w_m2, 3.6, 0.0, 3.6, 20.0, rest, rest, rest, rest, rest, 20.0, 1.0, 1.0, False)
    state = State(hot, hot, rest, rest, rest, 20.0, False, False, False, False, 0.0, 0.0, 0.0, 1.0, 20.0, 20, 1, 0.0)
    flow = natural_flow(parts, hour, state, water, 1e-8, 60.0)
    if flow == 0.0:
        return 0.0, 0.0, 0.0
    fluid, heights = parts.natural.fluid, parts.natural.heights
    rate = flow * fluid.heat_j_kgk
    area = parts.collector.area_m2
    retention_s, retention_b = exp(-parts.supply.loss_w_k / rate), exp(-parts.back.loss_w_k / rate)
    into = rest + (t[0] - rest) * retention_b
    outlet = into
    units = area * 3.6 / rate
    late = 1.0 / (1.0 - exp(-units)) - 1.0 / units  # weight of the outlet in the mean of an exponential profile
    for _ in range(200):  # the collector's balance by plain iteration
        x = late * outlet + (1.0 - late) * into - 20.0
        outlet = into + area * (sun_w_m2 - 3.6 * x - parts.collector.a2 * x * x) / rate
    warm = rest + (outlet - rest) * retention_s
    low, high = parts.loop.out_share * 250.0, parts.loop.in_share * 250.0
    tops = np.cumsum(m[:20])
    share = np.clip(np.minimum(tops, high) - np.maximum(tops - m[:20], low), 0, None)
    column = density(fluid, float((share * t[:20]).sum() / share.sum()))
    mean = late * outlet + (1.0 - late) * into
    supply = rest + (outlet - warm) * rate / parts.supply.loss_w_k
    back = rest + (t[0] - into) * rate / parts.back.loss_w_k
    drive = driving_pressure(heights, fluid, mean, supply, column, back)
    weight = density(fluid, hot)
    friction = pressure_drop(flow, viscosity(fluid, rest), weight, parts.natural.pipes)
    friction += pressure_drop(flow, viscosity(fluid, hot), weight, parts.natural.risers)
    return flow, drive, friction


def circulation() -> Iterator[Row]:
    for sun in (100.0, 400.0, 800.0):
        _flow, drive, friction = balance_of_flow(sun, (20.0, 50.0))
        yield Row(f"natural flow at {sun:.0f} W/m2: drive over friction", 1.0, drive / friction, 1e-6, "definition")
    yield Row("natural flow of an isothermal loop, kg/s", 0.0, balance_of_flow(0.0, (20.0, 20.0))[0], 0.0, "definition")
    passage = Passage(10.0, 0.02, 1.0, 0.0)
    laminar = 128 * 1e-3 * 10.0 * 0.01 / (np.pi * 1000.0 * 0.02**4)
    got = float(pressure_drop(0.01, 1e-3, 1000.0, passage))
    yield Row("laminar pressure drop, Pa", laminar, got, 1e-9, "Hagen-Poiseuille")
    turbulent = 0.3164 * 20000**-0.25 * 10 / 0.02 * 1000 * 1.0**2 / 2
    got = float(pressure_drop(np.pi * 0.02**2 / 4 * 1000, 1e-3, 1000.0, passage))
    yield Row("turbulent pressure drop at Re 20000, Pa", turbulent, got, 1e-6 * turbulent, "Blasius")


def placed(weather: WeatherYear, azimuth: float) -> Design:
    made = case_design().model_dump(mode="json")
    made["site"] |= {"latitude_deg": weather.latitude_deg, "longitude_deg": weather.longitude_deg, "elevation_m": 100.0}
    made["site"]["mains"] = {"source": "calculated"}
    made["plane"]["azimuth_deg"] = azimuth
    return parse(made)


def hemispheres() -> Iterator[Row]:
    south_weather = clear_year(latitude_deg=-40.0)
    north = simulate(placed(clear_year(), 180), clear_year()).total(acc.INTO_STORE)
    south = simulate(placed(south_weather, 0), south_weather).total(acc.INTO_STORE)
    yield Row("mirror year south of the equator, yield over the north's", 1.0, south / north, 0.005, "symmetry")


def monotony() -> Iterator[Row]:
    base = simulate(case_design(), tmy3()).total(acc.INTO_STORE)
    made = case_design().model_dump(mode="json")
    for field, value in (("eta0", 0.80), ("a1_w_m2k", 3.2)):
        better = json.loads(json.dumps(made))
        better["system"]["collector"][field] = value
        gain = simulate(parse(better), tmy3()).total(acc.INTO_STORE) - base
        yield Row(f"better {field} yields more (1 = yes)", 1.0, float(gain > 0), 0.0, "monotony")
    dim = tmy3()
    bright = replace(dim, ghi_w_m2=1.05 * dim.ghi_w_m2, dni_w_m2=1.05 * dim.dni_w_m2, dhi_w_m2=1.05 * dim.dhi_w_m2)
    gain = simulate(case_design(), bright).total(acc.INTO_STORE) - base
    yield Row("more sun yields more (1 = yes)", 1.0, float(gain > 0), 0.0, "monotony")


def computed_case() -> Iterator[Row]:
    source = "independent program, tests/data/domestic_coil.json"
    expected = case()["expected_year"]
    sun = case()["irradiance"]["expected_kwh_per_m2"]["tilted"]
    got = float(plane_sun(tmy3(), case_design()).total_w_m2().sum()) / 1000.0
    yield Row("case: sun on the plane, kWh/m2", sun, got, 0.001 * sun, source)
    for inflow in ("plug", "stirred"):
        book = simulate(case_design(inflow=inflow), tmy3())
        found = {
            "from_collector_kWh": book.total(acc.FROM_COLLECTOR),
            "into_store_kWh": book.total(acc.INTO_STORE),
            "demand_kWh": book.total(acc.DEMAND),
            "bought_kWh": book.total(*BOUGHT),
            "store_loss_kWh": book.total(acc.STORE_LOSS),
        }
        for name, value in found.items():
            band = expected[name]
            yield Row(f"case, {inflow}: {name}", band["value"], value, band["tolerance"] * band["value"], source)
        band = expected["solar_fraction_a"]
        yield Row(
            f"case, {inflow}: solar fraction", band["value"], book.fractions.at_tap, band["tolerance_points"], source
        )
        yield Row(f"case, {inflow}: hours closed", 8760, book.hours_closed, 0, "conservation")


SYSTEMS = {
    "coil 4 m2 300 L": (4.0, 300.0, "pumped_coil"),
    "coil 6 m2 450 L": (6.0, 450.0, "pumped_coil"),
    "coil 8 m2 600 L": (8.0, 600.0, "pumped_coil"),
    "plate 5 m2 400 L": (5.0, 400.0, "pumped_plate"),
    "direct 5 m2 400 L": (5.0, 400.0, "direct"),
    "drainback 6 m2 450 L": (6.0, 450.0, "drainback"),
}


def correlated(kind: str, area: float, litres: float, weather: WeatherYear) -> YearBook:
    made = case_design(layers=3, inflow="stirred", area=area, litres=litres).model_dump(mode="json")
    made["site"] |= {
        "latitude_deg": weather.latitude_deg,
        "longitude_deg": weather.longitude_deg,
        "elevation_m": weather.elevation_m,
    }
    made["system"]["kind"] = kind
    made["system"]["loop"]["glycol_percent"] = 0 if kind in ("direct", "drainback") else 40
    made["system"]["plate"] |= {"ua_w_k": 500.0, "store_flow_kg_h": 50 * area}
    return simulate(parse(made), weather)


def correlation() -> Iterator[Row]:
    for year, weather in (("TMY3 36 N", tmy3()), ("PVGIS 45 N", pvgis())):
        for name, (area, litres, kind) in SYSTEMS.items():
            book = correlated(kind, area, litres, weather)
            opinion = second_opinion(book, weather)
            assert opinion is not None
            source = "Klein, Beckman & Duffie (1976); 3 mixed layers"
            yield Row(f"{year}, {name}: solar fraction", opinion.yearly, book.fractions.at_tap, 0.03, source)


CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (
    sun_position,
    magnetic,
    top_loss,
    clearness,
    tapping,
    store,
    conduction,
    *STORE_CHECKS,
    collector,
    circulation,
    *LOOP_CHECKS,
    *COLLECTOR_CHECKS,
    *USE_CHECKS,
    *ROOM_CHECKS,
    *LIGHT_CHECKS,
    *SIZING_CHECKS,
    hemispheres,
    monotony,
    computed_case,
    correlation,
)


@cache
def all_rows() -> tuple[Row, ...]:
    return tuple(row for check in CHECKS for row in check())


def as_table(rows: tuple[Row, ...]) -> str:
    lines = [
        "# Validation",
        "",
        "Written by `./ledger validate --write docs/validation.md`. Units stand in the names.",
        "",
        "| what | expected | got | may differ by | holds | source |",
        "| --- | ---: | ---: | ---: | --- | --- |",
    ]
    for r in rows:
        lines.append(
            f"| {r.name} | {r.expected:.6g} | {r.got:.6g} | {r.tolerance:.2g} | {'yes' if r.ok else 'NO'} | "
            f"{r.source} |"
        )
    return "\n".join(lines) + "\n"


def main(*, as_json: bool, write: Path | None) -> int:
    rows = all_rows()
    if write:
        write.write_text(as_table(rows))
    if as_json:
        print(json.dumps([asdict(r) | {"ok": r.ok} for r in rows], indent=1))
    else:
        for r in rows:
            print(
                f"{'ok ' if r.ok else 'NO '} {r.name:62} {r.expected:12.6g} {r.got:12.6g} ± {r.tolerance:<8.2g} "
                f"{r.source}"
            )
        print(f"{sum(r.ok for r in rows)} of {len(rows)} rows hold")
    return 0 if all(r.ok for r in rows) else 1
