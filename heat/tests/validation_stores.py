"""Stores held against analytic and independent numbers: ports, heaters, losses, exchangers."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from math import log, pi

import numpy as np

from heat.design import parse
from heat.simulation.year import simulate
from heat.store.layers import LayeredStore, heat_above, mix_inversions
from heat.store.ports import pass_through
from heat.tests.claims import Row
from heat.tests.samples import clear_year, example, weather_for


def _column(celsius: np.ndarray, kg: float) -> tuple[np.ndarray, np.ndarray, int]:
    room = 3 * len(celsius) + 16
    temperature, mass = np.zeros(room), np.zeros(room)
    temperature[: len(celsius)], mass[: len(celsius)] = celsius, kg / len(celsius)
    return temperature, mass, len(celsius)


def _at(share: float, temperature: np.ndarray, mass: np.ndarray, count: int) -> float:
    """Temperature (°C) at a height (share of the mass)."""
    return float(temperature[np.searchsorted(np.cumsum(mass[:count]), share * mass[:count].sum())])


def ports() -> Iterator[Row]:
    """A store at 20 + 40 z °C takes 10 % of its water at 30 °C in at the top and gives as much away at the floor."""
    source = "analytic: water sinks unmixed to its own temperature (Morrison & Braun 1985, sec. 3)"
    store = LayeredStore(300.0, 200, 0.0, 20.0, 0.0, False)
    temperature, mass, count = _column(20.0 + 40.0 * (np.arange(200) + 0.5) / 200, 300.0)
    count = pass_through(0.0, 1.0, 30.0, 30.0, False, store, temperature, mass, count)
    for share, expected in ((0.1, 28.0), (0.2, 30.0), (0.6, 44.0), (0.95, 58.0)):
        got = _at(share, temperature, mass, count)
        yield Row(f"cool inlet at the top, water at {share:.0%} of the height, °C", expected, got, 0.25, source)
    source = "analytic: lighter water mixes what lies above its port until that is stable"
    temperature, mass, count = _column(20.0 + 40.0 * (np.arange(200) + 0.5) / 200, 300.0)
    for _ in range(300):  # 0.3 of the store's mass at 80 °C, crumb by crumb, at half the height
        count = pass_through(0.0, 0.5, 0.3, 80.0, False, store, temperature, mass, count)
        mix_inversions(temperature, mass, count)
    # The water above the port is a pool of its own: it gives as much away at its mean as comes in, and takes in what
    # lies above it once that is colder. Followed here in ten thousand steps.
    pool_c, height = 40.0, 1e-4
    for _ in range(10000):
        pool_c += (80.0 - pool_c) * 3e-5 / height
        while height < 0.5 and pool_c > 40.0 + 40.0 * height:
            pool_c = (pool_c * height + (40.0 + 40.0 * height) * 1e-4) / (height + 1e-4)
            height += 1e-4
    yield Row("warm inlet at half the height, top, °C", pool_c, float(temperature[count - 1]), 0.3, source)


def heater() -> Iterator[Row]:
    """A rod at 40 % of the height warms what lies above it, whatever the layers."""
    for layers in (10, 33, 100):
        store = LayeredStore(200.0, layers, 0.0, 20.0, 0.0, False)
        temperature, mass, count = _column(np.full(layers, 15.0), 200.0)
        given = 0.0
        for _ in range(2000):
            heat_j, count = heat_above(0.43, 36e3, 55.0, store, temperature, mass, count)
            mix_inversions(temperature, mass, count)
            given += heat_j / 3.6e6
        expected = 0.57 * 200.0 * 4186.0 * 40.0 / 3.6e6
        yield Row(
            f"rod at 43 % of 200 L, {layers} layers, 15 to 55 °C, kWh",
            expected,
            given,
            0.002 * expected,
            "heat capacity of what lies above",
        )


def numerics() -> Iterator[Row]:
    """The kinds with plain ports, calculated coarsely and finely."""
    for kind in ("pumped_plate", "direct", "drain_down"):
        found = []
        for minutes, layers in ((1, 100), (12, 10)):
            document = example(kind)
            document.setdefault("numerics", {}).update(step_minutes=minutes, layers=layers)
            design = parse(document)
            found.append(100.0 * simulate(design, weather_for(design)).fractions.at_tap)
        yield Row(f"{kind}: fraction at 12 min and 10 layers, %", found[0], found[1], 0.3, "at 1 min and 100 layers")


def cold() -> Iterator[Row]:
    """A bag on a dark, windless plain at -10 °C: cools, stands at 0 °C until its latent heat is gone, cools on."""
    steady = np.ones(8760)
    dark = replace(
        clear_year(),
        ghi_w_m2=0 * steady,
        dni_w_m2=0 * steady,
        dhi_w_m2=0 * steady,
        air_c=-10 * steady,
        wind_m_s=0 * steady,
    )
    document = example("bag")
    document["demand"] = {"people": 0.5, "litres_per_person_day": 1}
    document["system"]["collector"] |= {"a1_w_m2k": 5.0, "a2_w_m2k2": 0.0, "a3_j_m3k": 0, "a4": 0, "a6_s_m": 0}
    document["system"]["integral"] = {"depth_mm": 50, "back_w_m2k": 1.0, "blanket": [False] * 24}
    document["system"]["store"] = {"start_c": 10.0}
    design = parse(document)
    book = simulate(design, dark)
    per_m2, loss = 50.0 * 4186.0, 6.0
    hours_to_zero = per_m2 / loss * log(20.0 / 10.0) / 3600.0
    hours_frozen = 50.0 * 333.55e3 / (loss * 10.0) / 3600.0
    bottom = book.profile[:, 0]
    source = "analytic: Newton's cooling, then latent heat 333.55 kJ/kg at a steady loss"
    yield Row("bag at -10 °C, hours until 0 °C", hours_to_zero, float(np.argmax(bottom <= 0.05)), 1.5, source)
    solid = float(np.argmax(bottom < -0.05)) - hours_to_zero
    yield Row("bag at -10 °C, hours at 0 °C", hours_frozen, solid, 0.03 * hours_frozen, source)


def flat() -> Iterator[Row]:
    """A lying store, 0.6 as high as wide, two days in the cold: top, floor and sides lose by their surfaces."""
    steady = np.ones(8760)
    dark = replace(clear_year(), ghi_w_m2=0 * steady, dni_w_m2=0 * steady, dhi_w_m2=0 * steady, air_c=5 * steady)
    document = example("thermosiphon_sealed")
    document["demand"] = {"people": 0.5, "litres_per_person_day": 1}
    document["system"]["loop"]["check_valve"] = True
    document["system"]["store"] |= {"start_c": 60}
    book = simulate(parse(document), dark)
    width = (4 * 0.22 / (pi * 0.6)) ** (1 / 3)
    section, height = pi * width**2 / 4, 0.6 * width
    loss = 2.4 / (2 * section + pi * width * height)
    nodes = 60
    water = np.full(nodes, 60.0)
    node_j_k, thick = 220.0 / nodes * 4186.0, height / nodes
    sides = loss * pi * width * height / nodes
    for _ in range(48 * 360):  # steps of 10 s
        flow = 1.0 * section / thick * np.diff(water)
        heat = -sides * (water - 5.0)
        heat[:-1] += flow
        heat[1:] -= flow
        heat[0] -= loss * section * (water[0] - 5.0)
        heat[-1] -= loss * section * (water[-1] - 5.0)
        water += heat * 10.0 / node_j_k
        mixed = nodes - 1  # water cooled at the top sinks and mixes down to where it is as cold
        while mixed > 0 and water[mixed:].mean() < water[mixed - 1]:
            mixed -= 1
        water[mixed:] = water[mixed:].mean()
    source = "independent program: sixty slices, ten seconds"
    yield Row("flat store after two days, mean, °C", float(water.mean()), float(book.profile[47].mean()), 0.5, source)
    yield Row("flat store after two days, floor, °C", float(water[:3].mean()), float(book.profile[47, 0]), 1.0, source)
    yield Row("flat store after two days, top, °C", float(water[-3:].mean()), float(book.profile[47, -1]), 0.5, source)


STORE_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (ports, heater, numerics, flat, cold)
