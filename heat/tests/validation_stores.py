"""Stores held against analytic and independent numbers: ports, heaters, losses, exchangers."""

from collections.abc import Callable, Iterator

import numpy as np

from heat.design import parse
from heat.store.layers import LayeredStore, heat_above, mix_inversions
from heat.store.ports import pass_through
from heat.tests.claims import Row
from heat.tests.test_kinds import example, weather_for
from heat.year import simulate


def _column(celsius: np.ndarray, kg: float) -> tuple[np.ndarray, np.ndarray, int]:
    room = 3 * len(celsius) + 16
    temperature, mass = np.zeros(room), np.zeros(room)
    temperature[: len(celsius)], mass[: len(celsius)] = celsius, kg / len(celsius)
    return temperature, mass, len(celsius)


def _at(share: float, temperature: np.ndarray, mass: np.ndarray, count: int) -> float:
    """Temperature (°C) at a height (share of the mass)."""
    return float(temperature[np.searchsorted(np.cumsum(mass[:count]), share * mass[:count].sum())])


def ports() -> Iterator[Row]:
    """A store at 20 + 40 z °C takes 10 % of its water at 30 °C in at the lid and gives as much away at the floor."""
    source = "analytic: water sinks unmixed to its own temperature (Morrison & Braun 1985, sec. 3)"
    store = LayeredStore(300.0, 200, 0.0, 20.0, 0.0, False)
    temperature, mass, count = _column(20.0 + 40.0 * (np.arange(200) + 0.5) / 200, 300.0)
    count = pass_through(0.0, 1.0, 30.0, 30.0, store, temperature, mass, count)
    for share, expected in ((0.1, 28.0), (0.2, 30.0), (0.6, 44.0), (0.95, 58.0)):
        got = _at(share, temperature, mass, count)
        yield Row(f"cool inlet at the lid, water at {share:.0%} of the height, °C", expected, got, 0.25, source)
    source = "analytic: lighter water mixes what lies above its port until that is stable"
    temperature, mass, count = _column(20.0 + 40.0 * (np.arange(200) + 0.5) / 200, 300.0)
    for _ in range(300):  # 0.3 of the store's mass at 80 °C, crumb by crumb, at half the height
        count = pass_through(0.0, 0.5, 0.3, 80.0, store, temperature, mass, count)
        mix_inversions(temperature, mass, count)
    # The water above the port is a pool of its own: it gives as much away at its mean as comes in, and takes in what
    # lies above it once that is colder. Followed here in ten thousand steps.
    pool_c, height = 40.0, 1e-4
    for _ in range(10000):
        pool_c += (80.0 - pool_c) * 3e-5 / height
        while height < 0.5 and pool_c > 40.0 + 40.0 * height:
            pool_c = (pool_c * height + (40.0 + 40.0 * height) * 1e-4) / (height + 1e-4)
            height += 1e-4
    yield Row("warm inlet at half the height, lid, °C", pool_c, float(temperature[count - 1]), 0.3, source)


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
        yield Row(f"rod at 43 % of 200 L, {layers} layers, 15 to 55 °C, kWh", expected, given, 0.002 * expected,
                  "heat capacity of what lies above")  # fmt: skip


def reckoning() -> Iterator[Row]:
    """The kinds with plain ports, reckoned coarsely and finely."""
    for kind in ("pumped_plate", "direct", "drain_down"):
        found = []
        for minutes, layers in ((1, 100), (12, 10)):
            document = example(kind)
            document.setdefault("reckoning", {}).update(step_minutes=minutes, layers=layers)
            design = parse(document)
            found.append(100.0 * simulate(design, weather_for(design)).fractions.at_tap)
        yield Row(f"{kind}: fraction at 12 min and 10 layers, %", found[0], found[1], 0.3, "at 1 min and 100 layers")


STORE_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (ports, heater, reckoning)
