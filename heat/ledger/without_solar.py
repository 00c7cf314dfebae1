"""The same house without solar: what would heat its taps, rooms and pool."""

from collections.abc import Callable
from typing import Any, NamedTuple

from heat.constants import HOURS, TANK_HEATER_STANDING_W
from heat.design import Design
from heat.design.money import Money
from heat.ledger import accounts as acc


class Heated(NamedTuple):
    """A use as it is heated without solar: heat (kWh), efficiency (1), price of a kWh bought (currency), its CO2 (kg),
    its energy, and the ledger's columns of its hours.
    """

    kwh: float
    efficiency: float
    price_kwh: float
    co2_kg_kwh: float
    burns: str
    columns: tuple[int, ...]

    @property
    def electric(self) -> bool:
        """Whether it is heated with power."""
        return self.burns == "power"


POOL_HEAT_PUMP = 5.0
"""Seasonal efficiency of a heat pump for a pool (1), 4 to 7. Source: usual data sheets, air at 15 to 25 °C."""


def _pool(design: Design, total: Callable[..., float]) -> Heated:
    """What would heat the pool: a heater, a heat pump, or nothing, so that the sun saves no money."""
    pool, columns = design.demand.pool, (acc.INTO_POOL, acc.TO_POOL)
    price, co2 = paid(pool, design.money)
    if pool.otherwise == "heater":
        return Heated(total(*columns), pool.heater_efficiency, price, co2, pool.burns, columns)
    if pool.otherwise == "heat_pump":
        return Heated(total(*columns), POOL_HEAT_PUMP, *design.money.energy("power"), "power", columns)
    bought = (acc.BOUGHT_POOL,)  # what its own heater adds is bought in either house
    return Heated(total(*bought), pool.heater_efficiency, price, co2, pool.burns, bought)


def paid(part: Any, money: Money) -> tuple[float, float]:
    """What a heater pays for a kWh of its energy (currency) and its CO2 (kg): its own, else the project's.

    Parameters
    ----------
    part
        A heater of the design.
    money
        Prices, tariffs and conditions of the project.

    Returns
    -------
    tuple[float, float]
        Price (currency/kWh) and CO2 (kg/kWh).
    """
    price, co2 = money.energy(part.burns)
    return (price if part.price_kwh is None else part.price_kwh, co2 if part.co2_kg_kwh is None else part.co2_kg_kwh)


def without_solar(design: Design, total: Callable[..., float]) -> tuple[Heated, Heated, Heated]:
    """What heats the taps, the rooms and the pool without solar, from the year's sums of columns (kWh): their own
    heaters, and where these sit in a tank, a tank's standing loss.

    Parameters
    ----------
    design
        The design.
    total
        The year's sum of columns (kWh).

    Returns
    -------
    tuple[Heated, Heated, Heated]
        What heats the taps, the rooms and the pool without solar, from the year's sums of columns (kWh): their
        own heaters, and where these sit in a tank, a tank's standing loss.
    """
    backup = design.system.backup
    in_tank = backup.element.fitted or backup.top_element.fitted
    heater: Any = backup.element
    efficiency = 1.0
    if not heater.fitted and backup.top_element.fitted:
        heater = backup.top_element
    if backup.tankless.fitted:
        heater, efficiency = backup.tankless, backup.tankless.efficiency
    elif backup.boiler.fitted:
        heater, efficiency = backup.boiler, backup.boiler.efficiency
    current = TANK_HEATER_STANDING_W * HOURS / 1000.0 if in_tank and design.demand.hot_water else 0.0

    def line(columns: tuple[int, ...], more: float, part: Any, efficiency: float) -> Heated:
        return Heated(total(*columns) + more, efficiency, *paid(part, design.money), part.burns, columns)

    series = backup.series
    rooms = (series, series.efficiency) if series.fitted else (heater, efficiency)
    return (
        line((acc.DEMAND, acc.CIRCULATION_DEMAND), current, heater, efficiency),
        line((acc.HEATING_DEMAND, acc.FRESH_DEMAND, acc.PROCESS_DEMAND), 0.0, *rooms),
        _pool(design, total),
    )
