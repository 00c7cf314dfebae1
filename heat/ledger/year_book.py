"""The ledger: what a year's books add up to, whether they close, and the solar fractions."""

from dataclasses import dataclass
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from heat.collector.standing import is_unglazed, standing_c
from heat.control.timetable import pasteurising
from heat.design import Design
from heat.ledger import accounts as acc
from heat.ledger.closure import gaps, signs_of
from heat.ledger.without_solar import Heated, paid, without_solar
from heat.weather.year import monthly_sums

Array = NDArray[np.float64]

LOSSES = {
    "optics": (acc.OPTICAL_LOSS,),
    "collector": (acc.COLLECTOR_LOSS, acc.COLLECTOR_IDLE),
    "pipes": (acc.SUPPLY_PIPE_LOSS, acc.RETURN_PIPE_LOSS, acc.DRAINED),
    "store": (acc.STORE_LOSS, acc.SECOND_STORE_LOSS),
    "boil-off": (acc.BOIL_OFF,),
    "dump": (acc.DUMP, acc.COLLECTOR_DUMP),
    "over-warm rooms": (acc.STOVE_EXCESS, acc.SLAB_EXCESS),
    "floor": (acc.SLAB_LOSS,),
}
"""Losses of the account and the columns (Wh) each gathers."""

SUN = (acc.SUN_BEAM, acc.SUN_SKY, acc.SUN_GROUND, acc.SUN_MIRROR, acc.SKY_EXCHANGE)
BOUGHT = (
    acc.BOUGHT_TANKLESS,
    acc.BOUGHT_ELEMENT,
    acc.BOUGHT_BOILER,
    acc.BOUGHT_STOVE,
    acc.BOUGHT_HEATING,
    acc.BOUGHT_POOL,
)
DELIVERED = (
    acc.TO_TAP,
    acc.OVER_TEMPERATURE,
    acc.TO_HEATING,
    acc.TO_CIRCULATION,
    acc.TO_FRESH,
    acc.TO_PROCESS,
    acc.INTO_POOL,
    acc.TO_POOL,
)
NEEDED = (
    acc.DEMAND,
    acc.HEATING_DEMAND,
    acc.CIRCULATION_DEMAND,
    acc.FRESH_DEMAND,
    acc.PROCESS_DEMAND,
    acc.INTO_POOL,
    acc.TO_POOL,
)
"""What the uses ask for (Wh); a pool asks for what it is given, its warmth is judged by its temperature."""
SOLAR_IN = (acc.INTO_STORE, acc.INTO_POOL)
CARRIED = (acc.STORE_STORED, acc.COLLECTOR_STORED, acc.PIPE_STORED, acc.SLAB_STORED)
LOADS = {
    "hot water": (acc.DEMAND, acc.TO_TAP),
    "rooms": (acc.HEATING_DEMAND, acc.TO_HEATING),
    "circulation": (acc.CIRCULATION_DEMAND, acc.TO_CIRCULATION),
    "process": (acc.PROCESS_DEMAND, acc.TO_PROCESS),
    "fresh air": (acc.FRESH_DEMAND, acc.TO_FRESH),
}
"""Uses with a demand of their own: the column (Wh) asked for and the one delivered."""


_LOST = tuple(column for columns in LOSSES.values() for column in columns)
_STORE_OUT = (
    acc.DRAWN,
    acc.STORE_TO_HEATING,
    acc.STORE_TO_SLAB,
    acc.STORE_TO_CIRCULATION,
    acc.STORE_TO_FRESH,
    acc.STORE_TO_PROCESS,
    acc.STORE_TO_POOL,
)
_REQUESTED = tuple(requested for requested, _given in LOADS.values())
_GIVEN = tuple(given for _requested, given in LOADS.values())
BALANCES = (
    (SUN, (acc.OPTICAL_LOSS, acc.ABSORBED)),
    (
        (acc.ABSORBED,),
        (acc.COLLECTOR_LOSS, acc.COLLECTOR_IDLE, acc.COLLECTOR_DUMP, acc.COLLECTOR_STORED, acc.FROM_COLLECTOR),
    ),
    (
        (acc.FROM_COLLECTOR,),
        (acc.SUPPLY_PIPE_LOSS, acc.RETURN_PIPE_LOSS, acc.PIPE_STORED, acc.DRAINED, acc.INTO_STORE, acc.INTO_POOL),
    ),
    (
        (acc.INTO_STORE, acc.BOUGHT_ELEMENT, acc.BOUGHT_BOILER, acc.STOVE_TO_STORE),
        (*_STORE_OUT, acc.STORE_LOSS, acc.SECOND_STORE_LOSS, acc.BOIL_OFF, acc.DUMP, acc.STORE_STORED),
    ),
    (
        (acc.DRAWN, acc.STORE_TO_CIRCULATION, acc.BOUGHT_TANKLESS),
        (acc.TO_TAP, acc.OVER_TEMPERATURE, acc.TO_CIRCULATION),
    ),
    ((acc.BOUGHT_STOVE, acc.OWN_STOVE), (acc.STOVE_TO_STORE, acc.STOVE_TO_ROOMS, acc.STOVE_EXCESS)),
    (
        (
            acc.STORE_TO_HEATING,
            acc.STOVE_TO_ROOMS,
            acc.SLAB_TO_ROOMS,
            acc.STORE_TO_FRESH,
            acc.STORE_TO_PROCESS,
            acc.BOUGHT_HEATING,
        ),
        (acc.TO_HEATING, acc.TO_FRESH, acc.TO_PROCESS),
    ),
    ((acc.STORE_TO_SLAB,), (acc.SLAB_TO_ROOMS, acc.SLAB_EXCESS, acc.SLAB_LOSS, acc.SLAB_STORED)),
    ((*_GIVEN, acc.UNMET), _REQUESTED),
    (
        (acc.INTO_POOL, acc.TO_POOL, acc.POOL_SUN),
        (acc.POOL_EVAPORATION, acc.POOL_AIR, acc.POOL_SKY, acc.POOL_WATER, acc.POOL_STORED),
    ),
    ((acc.STORE_TO_POOL, acc.BOUGHT_POOL), (acc.TO_POOL,)),
    ((*SUN, acc.OWN_STOVE, *BOUGHT), (*_LOST, *DELIVERED, *CARRIED)),
)
"""What must close in every hour: columns (Wh) that come in, columns that go out. Sun; collectors; loop;
stores; taps and circulation; a stove; rooms, fresh air and process; a heavy floor; asked and given; the pool; its
heat; the whole."""
SIGNS = signs_of(BALANCES)


REACHED_K = 0.5
"""How near its target the coldest point counts as reached (K). Source: our own choice, a good sensor's tolerance."""


@dataclass(frozen=True)
class HeatedThrough:
    """A store's pasteurisations: how many were planned and reached their temperature at the coldest point (1), and the
    coldest point (°C) of the worst of them.
    """

    planned: int
    reached: int
    coldest_c: float


@dataclass(frozen=True)
class Fractions:
    """The three solar fractions (0 to 1, no unit), and the share of the need that own wood carried."""

    at_tap: float
    of_supply: float
    fuel_saved: float
    of_wood: float = 0.0


class Source(NamedTuple):
    """A source of heat beside the sun: its heat (kWh), efficiency (1), price of its energy (currency/kWh) and CO2
    (kg/kWh), which energy that is, and its account.
    """

    kwh: float
    efficiency: float
    price_kwh: float
    co2_kg_kwh: float
    burns: str
    column: int

    @property
    def electric(self) -> bool:
        """Whether its energy is power."""
        return self.burns == "power"

    @property
    def fuel_kwh(self) -> float:
        """Energy behind the heat (kWh)."""
        return self.kwh / self.efficiency


@dataclass(frozen=True)
class YearBook:
    """A year's hourly books (8760 x COLUMNS, Wh), traces, layer temperatures (°C), mains (°C)."""

    design: Design
    books: Array
    traces: Array
    profile: Array
    mains_c: Array
    second_profile: Array | None = None

    def hourly(self, *columns: int) -> Array:
        """Sum of columns in each hour (Wh).

        Parameters
        ----------
        columns
            What the columns of the table are.

        Returns
        -------
        ndarray, shape (8760,)
            Sum of columns in each hour (Wh).
        """
        total = np.zeros(len(self.books))
        for column in columns:
            total += self.books[:, column]
        return total

    @cached_property
    def months(self) -> Array:
        """Twelve rows of every column (kWh)."""
        return monthly_sums(self.books) / 1000.0

    def by_month(self, *columns: int) -> Array:
        """Twelve sums of columns (kWh).

        Parameters
        ----------
        columns
            What the columns of the table are.

        Returns
        -------
        ndarray
            Twelve sums of columns (kWh).
        """
        return self.months[:, list(columns)].sum(axis=1)

    @cached_property
    def _yearly(self) -> list[float]:
        """The year's sum of every column (kWh)."""
        return [float(total) for total in self.months.sum(axis=0)]

    def total(self, *columns: int) -> float:
        """The year's sum of columns (kWh).

        Parameters
        ----------
        columns
            What the columns of the table are.

        Returns
        -------
        float
            The year's sum of columns (kWh).
        """
        return sum([self._yearly[column] for column in columns], 0.0)

    @property
    def lost_columns(self) -> tuple[int, ...]:
        """Columns of the accounts that this system loses heat by."""
        return _LOST

    @cached_property
    def _gaps(self) -> tuple[Array, Array]:
        return gaps(self.books, SIGNS)

    @property
    def residual_wh(self) -> Array:
        """What each hour's books fail to close by (Wh): the largest gap of the BALANCES."""
        return self._gaps[0]

    @cached_property
    def allowance_wh(self) -> Array:
        """Largest residual an hour may show (Wh): 1e-6 of its largest account + 1e-3."""
        return 1e-6 * self._gaps[1] + 1e-3

    @property
    def hours_closed(self) -> int:
        """Hours whose books close within the allowance (h)."""
        return int((self.residual_wh <= self.allowance_wh).sum())

    @property
    def balance_kwh(self) -> float:
        """The year's own closing line (kWh): sun + own wood + bought - delivered - lost - carried over."""
        return self.total(*SUN, acc.OWN_STOVE, *BOUGHT) - self.total(*DELIVERED, *self.lost_columns, *CARRIED)

    def sources(self) -> dict[str, Source]:
        """Each source of heat beside the sun, by name (kWh, currency/kWh, kg/kWh)."""
        backup, pool = self.design.system.backup, self.design.demand.pool
        element, top = backup.element, backup.top_element
        power = element if element.fitted or not top.fitted else top

        def of(column: int, part: Any, efficiency: float) -> Source:
            return Source(self.total(column), efficiency, *paid(part, self.design.money), part.burns, column)

        return {
            "tankless": of(acc.BOUGHT_TANKLESS, backup.tankless, backup.tankless.efficiency),
            "element": of(acc.BOUGHT_ELEMENT, power, 1.0),
            "boiler": of(acc.BOUGHT_BOILER, backup.boiler, backup.boiler.efficiency),
            "bought stove": of(acc.BOUGHT_STOVE, backup.stove, backup.stove.efficiency),
            "own stove": of(acc.OWN_STOVE, backup.stove, backup.stove.efficiency),
            "heating": of(acc.BOUGHT_HEATING, backup.series, backup.series.efficiency),
            "pool": of(acc.BOUGHT_POOL, pool, pool.heater_efficiency),
        }

    def fuel_kwh(self) -> dict[str, float]:
        """Energy bought (kWh): fuel or power behind the heat, by source, and the pump's."""
        fuel = {name: source.fuel_kwh for name, source in self.sources().items()}
        return fuel | {"pump": self.total(acc.PUMP_ELECTRICITY)}

    def cost(self) -> float:
        """Money for bought heat in the year (the project's currency), pump electricity apart."""
        return sum(source.fuel_kwh * source.price_kwh for source in self.sources().values())

    def co2_kg(self) -> float:
        """CO2 of bought heat in the year (kg), pump electricity apart."""
        return sum(source.fuel_kwh * source.co2_kg_kwh for source in self.sources().values())

    @cached_property
    def fractions(self) -> Fractions:
        """The three solar fractions (no unit).

        (a) ``1 - (bought + missing + own wood)/demand`` at the uses; (b) ``solar into store/(solar + bought)``;
        (c) ``1 - (fuel + pump)/(fuel of the same house without solar)``, whose heaters have the same
        efficiency and, where the backup sits in a tank, a tank's standing loss. What is missing counts as bought.
        Wood that is one's own is not bought, and no sun either: in (a) it counts as bought wood does, less what was
        given beyond any need, with a share of its own; (c) counts it as saved.
        """
        demand = self.total(*NEEDED)
        bought = self.total(*BOUGHT)
        solar = self.total(*SOLAR_IN)
        supplied = solar + bought + self.total(acc.OWN_STOVE)
        fuel = sum(kwh for name, kwh in self.fuel_kwh().items() if name != "own stove")
        without = self.fuel_without_solar_kwh()
        wood = self.total(acc.OWN_STOVE) - self.total(acc.STOVE_EXCESS) if self.total(acc.OWN_STOVE) > 0.0 else 0.0
        return Fractions(
            at_tap=1.0 - (bought + self.total(acc.UNMET) + wood) / demand if demand else 0.0,
            of_supply=solar / supplied if supplied > 0 else 0.0,
            fuel_saved=1.0 - (fuel + self.unmet_fuel_kwh()) / without if without else 0.0,
            of_wood=wood / demand if demand else 0.0,
        )

    def without_solar(self) -> tuple[Heated, Heated, Heated]:
        """What heats the taps, the rooms and the pool without solar (kWh, and what a kWh costs and emits)."""
        return without_solar(self.design, self.total)

    def unmet_fuel_kwh(self) -> float:
        """Fuel (kWh) that heat the uses did not get would have taken, by the heater of the taps."""
        return self.total(acc.UNMET) / self.without_solar()[0].efficiency

    def fuel_without_solar_kwh(self) -> float:
        """Fuel (kWh) the same uses would take without solar, by their own heaters' efficiencies."""
        return sum(line.kwh / line.efficiency for line in self.without_solar())

    def co2_saved_kg(self) -> float:
        """CO2 (kg) saved against the same house without solar: its fuels', less those of what is bought or missing and
        of the pump's power.
        """
        without = sum(line.kwh / line.efficiency * line.co2_kg_kwh for line in self.without_solar())
        missing = self.unmet_fuel_kwh() * self.without_solar()[0].co2_kg_kwh
        pump = self.total(acc.PUMP_ELECTRICITY) * self.design.system.backup.pump_co2_kg_kwh
        return without - self.co2_kg() - missing - pump

    def fraction_by_month(self) -> Array:
        """Solar fraction (a) of each month (no unit), the sun's alone."""
        demand = self.by_month(*NEEDED)
        missed = self.by_month(*BOUGHT, acc.UNMET)
        if self.total(acc.OWN_STOVE) > 0.0:
            missed = missed + self.by_month(acc.OWN_STOVE) - self.by_month(acc.STOVE_EXCESS)
        return 1.0 - missed / np.where(demand > 0, demand, 1.0)

    def stagnation_hours(self) -> float:
        """Hours (h) the sun would have run the pump, but a limit kept it still."""
        return float(self.traces[:, acc.STAGNANT_SHARE].sum())

    def stagnation_peak_c(self) -> float:
        """Hottest mean temperature of the standing collector (°C) in those hours; else the year's. Without glass no
        hotter than radiation and air let it become.
        """
        peaks = self.traces[:, acc.COLLECTOR_PEAK_C]
        still = self.traces[:, acc.STAGNANT_SHARE] > 0
        peak = float(peaks[still].max() if still.any() else peaks.max())
        collector = self.design.system.collector
        return min(peak, standing_c(collector)) if is_unglazed(collector) else peak

    def pump_hours(self) -> float:
        """Hours the pump ran (h)."""
        return float(self.traces[:, acc.PUMP_SHARE].sum())

    def hours_below_tap(self) -> float:
        """Hours of draw (h) in which the tap stayed below its temperature."""
        return float(self.traces[:, acc.COLD_TAP_SHARE].sum())

    def days_without_backup(self) -> tuple[int, int]:
        """Days with nothing bought or missing, and the longest run of them (days)."""
        daily = self.hourly(*BOUGHT, acc.UNMET).reshape(365, 24).sum(axis=1)
        free = daily < 1.0
        longest = run = 0
        for day in free:
            run = run + 1 if day else 0
            longest = max(longest, run)
        return int(free.sum()), longest

    def reversed_hours(self) -> float:
        """Hours the loop ran backwards (h)."""
        return float(self.traces[:, acc.REVERSED_SHARE].sum())

    def fluid_hours(self) -> tuple[float, float]:
        """Hours (h) the fluid in the collectors was above 95 and above 120 °C."""
        return float(self.traces[:, acc.HOT_95_SHARE].sum()), float(self.traces[:, acc.HOT_120_SHARE].sum())

    def frozen_hours(self) -> float:
        """Hours (h) a store that is its own collector was below 0 °C somewhere."""
        return float(self.traces[:, acc.FROZEN_SHARE].sum())

    def boiled_kg(self) -> float:
        """Water boiled off or let go by the relief in the year (kg), to be made up."""
        return float(self.traces[:, acc.BOILED_KG].sum())

    def yield_kwh_m2(self) -> tuple[float, float]:
        """Solar heat into store and pool per m² gross and per m² of rated area (kWh/m²)."""
        collector = self.design.system.collector
        second = self.design.system.second_collector
        gross, rated = collector.total_gross_m2, collector.total_area_m2
        if second.fitted:
            gross, rated = gross + second.total_gross_m2, rated + second.total_area_m2
        return self.total(*SOLAR_IN) / gross, self.total(*SOLAR_IN) / rated

    def efficiency(self) -> float:
        """Solar heat into store and pool over the sun on the collectors (no unit)."""
        sun = self.total(*SUN)
        return self.total(*SOLAR_IN) / sun if sun > 0 else 0.0

    def power_kw(self, *columns: int) -> tuple[float, float]:
        """Highest hourly and mean power (kW) of columns; the mean over the hours they were at work.

        Parameters
        ----------
        columns
            What the columns of the table are.

        Returns
        -------
        tuple[float, float]
            Highest hourly and mean power (kW) of columns; the mean over the hours they were at work.
        """
        hourly = self.hourly(*columns) / 1000.0
        busy = hourly[hourly > 1e-6]
        return float(hourly.max()), float(busy.mean()) if busy.size else 0.0

    def heated_through(self) -> tuple[HeatedThrough, ...]:
        """What each store's pasteurisations reached; empty where none is planned."""
        planned = pasteurising(self.design)
        if not planned.any():
            return ()
        plan = self.design.system.backup.pasteurisation
        starts = np.flatnonzero(planned & ~np.roll(planned, 1))
        found = []
        for profile in (self.profile, self.second_profile):
            if profile is not None:
                coldest = profile.min(axis=1)
                reached = np.array([coldest[at : at + plan.hours].max() for at in starts])
                found.append(
                    HeatedThrough(len(starts), int((reached >= plan.target_c - REACHED_K).sum()), float(reached.min()))
                )
        return tuple(found)

    def legionella_hours(self, threshold_c: float = 55.0) -> float:
        """Hours (h) the top of the store that feeds the taps stayed below a temperature (°C).

        Parameters
        ----------
        threshold_c
            Temperature (°C).

        Returns
        -------
        float
            Hours (h) the top of the store that feeds the taps stayed below a temperature (°C).
        """
        trace = acc.SECOND_TOP_C if self.second_profile is not None else acc.STORE_TOP_C
        return float((self.traces[:, trace] < threshold_c).sum())


@dataclass(frozen=True)
class Change:
    """One line of a difference: its words and how much it adds to bought heat (kWh)."""

    words: str
    kwh: float


def points_between(before: YearBook, after: YearBook) -> float:
    """Change of solar fraction (a) in points, a fraction below zero taken as none.

    Where a fault buys more heat than is needed the fraction would fall by more than there was; how much is bought says
    how far.

    Parameters
    ----------
    before
        The year before the change.
    after
        The year after it.

    Returns
    -------
    float
        Change of the fraction (percentage points), between -100 and 100.
    """
    return 100.0 * (max(after.fractions.at_tap, 0.0) - max(before.fractions.at_tap, 0.0))


def difference(before: YearBook, after: YearBook) -> list[Change]:
    """Why bought heat changed between two years, account by account (kWh); the lines sum to the change.

    From ``bought = losses + delivered + carried over - sun - own wood``: less sun or more loss is bought, unless it
    goes missing; what a use does not get counts as missing and lowers what is bought.

    Parameters
    ----------
    before
        The year before the change.
    after
        The year after it.

    Returns
    -------
    list[Change]
        Why bought heat changed between two years, account by account (kWh); the lines sum to the change.
    """

    def change(*columns: int) -> float:
        return after.total(*columns) - before.total(*columns)

    lines = [Change("sun on the collectors", -change(*SUN)), Change("own wood", -change(acc.OWN_STOVE))]
    lines += [Change(f"lost: {name}", change(*columns)) for name, columns in LOSSES.items()]
    lines += [Change(f"asked for: {name}", change(requested)) for name, (requested, _given) in LOADS.items()]
    lines += [
        Change("given to the pool", change(acc.INTO_POOL, acc.TO_POOL)),
        Change("warmer than asked at the tap", change(acc.OVER_TEMPERATURE)),
        Change("left unmet", -change(acc.UNMET)),
        Change("kept in store, collectors and pipes", change(*CARRIED)),
    ]
    lines.append(Change("rounding", change(*BOUGHT) - sum(line.kwh for line in lines)))
    return lines
