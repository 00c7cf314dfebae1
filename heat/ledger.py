"""The ledger: what a year's books add up to, whether they close, and the solar fractions."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from heat import accounts as acc
from heat.constants import HOURS, TANK_HEATER_STANDING_W
from heat.design import Design
from heat.weather.year import monthly_sums

Array = NDArray[np.float64]

LOSSES = {
    "optics": (acc.OPTICAL_LOSS,),
    "collector": (acc.COLLECTOR_LOSS, acc.COLLECTOR_IDLE),
    "pipes": (acc.SUPPLY_PIPE_LOSS, acc.RETURN_PIPE_LOSS),
    "store": (acc.STORE_LOSS,),
}
"""Losses of the account and the columns (Wh) each gathers."""

SUN = (acc.SUN_BEAM, acc.SUN_SKY, acc.SUN_GROUND)
BOUGHT = (acc.BOUGHT_TANKLESS, acc.BOUGHT_ELEMENT)
DELIVERED = (acc.TO_TAP, acc.OVERWARM)
CARRIED = (acc.STORE_STORED, acc.COLLECTOR_STORED, acc.PIPE_STORED)


@dataclass(frozen=True)
class Fractions:
    """The three solar fractions (0 to 1, no unit)."""

    at_tap: float
    of_supply: float
    fuel_saved: float


@dataclass(frozen=True)
class YearBook:
    """A year's hourly books (8760 x COLUMNS, Wh), traces, layer temperatures (°C), mains (°C)."""

    design: Design
    books: Array
    traces: Array
    profile: Array
    mains_c: Array

    def hourly(self, *columns: int) -> Array:
        """Sum of columns in each hour (Wh)."""
        return self.books[:, list(columns)].sum(axis=1)

    @cached_property
    def months(self) -> Array:
        """Twelve rows of every column (kWh)."""
        return monthly_sums(self.books) / 1000.0

    def by_month(self, *columns: int) -> Array:
        """Twelve sums of columns (kWh)."""
        return self.months[:, list(columns)].sum(axis=1)

    def total(self, *columns: int) -> float:
        """The year's sum of columns (kWh)."""
        return float(self.by_month(*columns).sum())

    @property
    def lost_columns(self) -> tuple[int, ...]:
        return tuple(c for columns in LOSSES.values() for c in columns)

    @cached_property
    def residual_wh(self) -> Array:
        """What each hour's books fail to close by (Wh), the largest of the five balances.

        Sun = optics + absorbed; absorbed = collector loss + kept + given; given = pipes + store;
        into store + element = drawn + loss + kept; drawn + tankless = tap. Each term is reckoned
        on its own.
        """
        b = self.books
        pages = [
            self.hourly(*SUN) - b[:, acc.OPTICAL_LOSS] - b[:, acc.ABSORBED],
            b[:, acc.ABSORBED]
            - self.hourly(acc.COLLECTOR_LOSS, acc.COLLECTOR_IDLE, acc.COLLECTOR_STORED, acc.FROM_COLLECTOR),
            b[:, acc.FROM_COLLECTOR]
            - self.hourly(acc.SUPPLY_PIPE_LOSS, acc.RETURN_PIPE_LOSS, acc.PIPE_STORED, acc.INTO_STORE),
            self.hourly(acc.INTO_STORE, acc.BOUGHT_ELEMENT) - self.hourly(acc.DRAWN, acc.STORE_LOSS, acc.STORE_STORED),
            self.hourly(acc.DRAWN, acc.BOUGHT_TANKLESS) - self.hourly(*DELIVERED),
            self.hourly(acc.TO_TAP, acc.MISSING) - b[:, acc.DEMAND],
            self.hourly(*SUN, *BOUGHT) - self.hourly(*self.lost_columns, *DELIVERED, *CARRIED),
        ]
        return np.max(np.abs(pages), axis=0)

    @cached_property
    def allowance_wh(self) -> Array:
        """Largest residual an hour may show (Wh): 1e-6 of its largest account + 1e-3."""
        return 1e-6 * np.abs(self.books).max(axis=1) + 1e-3

    @property
    def hours_closed(self) -> int:
        """Hours whose books close within the allowance (h)."""
        return int((self.residual_wh <= self.allowance_wh).sum())

    @property
    def balance_kwh(self) -> float:
        """The year's own closing line (kWh): sun + bought - delivered - lost - carried over."""
        return self.total(*SUN, *BOUGHT) - self.total(*DELIVERED, *self.lost_columns, *CARRIED)

    def fuel_kwh(self) -> dict[str, float]:
        """Energy bought (kWh): gas or power behind the heat, by source, and the pump's."""
        tankless = self.design.system.backup.tankless
        return {
            "tankless": self.total(acc.BOUGHT_TANKLESS) / tankless.efficiency,
            "element": self.total(acc.BOUGHT_ELEMENT),
            "pump": self.total(acc.PUMP_ELECTRICITY),
        }

    def cost(self) -> float:
        """Money for bought heat in the year (the project's currency), pump electricity apart."""
        backup, fuel = self.design.system.backup, self.fuel_kwh()
        return fuel["tankless"] * backup.tankless.price_kwh + fuel["element"] * backup.element.price_kwh

    def co2_kg(self) -> float:
        """CO2 of bought heat in the year (kg), pump electricity apart."""
        backup, fuel = self.design.system.backup, self.fuel_kwh()
        return fuel["tankless"] * backup.tankless.co2_kg_kwh + fuel["element"] * backup.element.co2_kg_kwh

    @cached_property
    def fractions(self) -> Fractions:
        """The three solar fractions (no unit).

        (a) ``1 - (bought + missing)/demand`` at the tap; (b) ``solar into store/(solar + bought)``;
        (c) ``1 - (fuel + pump)/(fuel of the same house without solar)``, whose heater has the same
        efficiency and, where the backup sits in a tank, a tank's standing loss.
        """
        demand = self.total(acc.DEMAND)
        bought = self.total(*BOUGHT)
        solar = self.total(acc.INTO_STORE)
        backup = self.design.system.backup
        efficiency = backup.tankless.efficiency if backup.tankless.fitted else 1.0
        standing = 0.0
        if backup.element.fitted:
            standing = TANK_HEATER_STANDING_W * HOURS / 1000.0
        without = (demand + standing) / efficiency
        return Fractions(
            at_tap=1.0 - (bought + self.total(acc.MISSING)) / demand if demand else 0.0,
            of_supply=solar / (solar + bought) if solar + bought > 0 else 0.0,
            fuel_saved=1.0 - sum(self.fuel_kwh().values()) / without if without else 0.0,
        )

    def fraction_by_month(self) -> Array:
        """Solar fraction (a) of each month (no unit)."""
        demand = self.by_month(acc.DEMAND)
        missed = self.by_month(*BOUGHT, acc.MISSING)
        return 1.0 - missed / np.where(demand > 0, demand, 1.0)

    def stagnation_hours(self) -> float:
        """Hours (h) the sun would have run the pump, but a limit kept it still."""
        return float(self.traces[:, acc.STAGNANT_SHARE].sum())

    def stagnation_peak_c(self) -> float:
        """Hottest mean temperature of the standing collector (°C) in those hours; else the year's."""
        peaks = self.traces[:, acc.COLLECTOR_PEAK_C]
        still = self.traces[:, acc.STAGNANT_SHARE] > 0
        return float(peaks[still].max() if still.any() else peaks.max())

    def pump_hours(self) -> float:
        """Hours the pump ran (h)."""
        return float(self.traces[:, acc.PUMP_SHARE].sum())

    def hours_below_tap(self) -> float:
        """Hours of draw (h) in which the tap stayed below its temperature."""
        return float(self.traces[:, acc.COLD_TAP_SHARE].sum())

    def days_without_backup(self) -> tuple[int, int]:
        """Days with nothing bought or missing, and the longest run of them (days)."""
        daily = self.hourly(*BOUGHT, acc.MISSING).reshape(365, 24).sum(axis=1)
        free = daily < 1.0
        longest = run = 0
        for day in free:
            run = run + 1 if day else 0
            longest = max(longest, run)
        return int(free.sum()), longest
