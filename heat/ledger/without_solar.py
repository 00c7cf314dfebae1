"""The same house without solar: what would heat its taps, rooms and pool."""

from collections.abc import Callable
from typing import Any, NamedTuple

from heat.constants import HOURS, TANK_HEATER_STANDING_W
from heat.design import Design
from heat.ledger import accounts as acc


class Heated(NamedTuple):
    """A use as it is heated without solar: heat (kWh), efficiency (1), price of a kWh bought (currency), its CO2 (kg),
    whether it is power, and the ledger's columns of its hours.
    """

    kwh: float
    efficiency: float
    price_kwh: float
    co2_kg_kwh: float
    electric: bool
    columns: tuple[int, ...]


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
    backup, pool = design.system.backup, design.demand.pool
    in_tank = backup.element.fitted or backup.top_element.fitted
    heater: Any = backup.element
    efficiency, electric = 1.0, True
    if not heater.fitted and backup.top_element.fitted:
        heater = backup.top_element
    if backup.tankless.fitted:
        heater, efficiency, electric = backup.tankless, backup.tankless.efficiency, False
    elif backup.boiler.fitted:
        heater, efficiency, electric = backup.boiler, backup.boiler.efficiency, False
    current = TANK_HEATER_STANDING_W * HOURS / 1000.0 if in_tank and design.demand.hot_water else 0.0

    def line(columns: tuple[int, ...], more: float, part: Any, efficiency: float, electric: bool) -> Heated:
        return Heated(total(*columns) + more, efficiency, part.price_kwh, part.co2_kg_kwh, electric, columns)

    series = backup.series
    rooms = (series, series.efficiency, False) if series.fitted else (heater, efficiency, electric)
    return (
        line((acc.DEMAND, acc.CIRCULATION_DEMAND), current, heater, efficiency, electric),
        line((acc.HEATING_DEMAND, acc.FRESH_DEMAND, acc.PROCESS_DEMAND), 0.0, *rooms),
        line((acc.INTO_POOL, acc.TO_POOL), 0.0, pool, pool.heater_efficiency, False),
    )
