"""What a stove or a boiler is asked for on the coldest day: rooms, hot water, and what the store loses."""

from typing import NamedTuple

from heat.constants import WATER_J_KGK
from heat.demand.rooms import design_watts, known_heating
from heat.design import Design
from heat.weather.year import WeatherYear

COLD_MAINS_C = 8.0
"""Mains on the coldest day (°C). Source: our own choice, 5 to 12 in temperate climates."""


class SourceNeeds(NamedTuple):
    """Power asked for as means of the coldest day (kW): rooms, hot water, losses of the store; and the share of the
    day in which a fire is lit (1), within which all of it must be given.
    """

    rooms_kw: float
    water_kw: float
    store_kw: float
    lit_share: float

    @property
    def whole_kw(self) -> float:
        """All of it, as the mean of the day (kW)."""
        return self.rooms_kw + self.water_kw + self.store_kw

    @property
    def lit_kw(self) -> float:
        """All of it, given while the fire is lit (kW)."""
        return self.whole_kw / self.lit_share if self.lit_share > 0.0 else float("inf")


def needs_of_source(design: Design, weather: WeatherYear) -> SourceNeeds:
    """What rooms, taps and the store ask of their heat source on the coldest day that was designed for.

    Parameters
    ----------
    design
        The design.
    weather
        The weather, 8,760 hours; a building known by its fuel is found by it.

    Returns
    -------
    SourceNeeds
        Powers (kW).

    References
    ----------
    EN 12831-1: the design heat load, losses times the difference of room and design air; the day's hot water over 24 h.
    """
    demand, system = design.demand, design.system
    rooms = 0.0
    if demand.heating.fitted:
        rooms = design_watts(known_heating(demand.heating, weather, demand.first_weekday)) / 1000.0
    litres = demand.litres_per_day if demand.hot_water else 0.0
    water = litres * WATER_J_KGK * (demand.tap_c - COLD_MAINS_C) / 86_400_000.0
    store = system.store.loss_w_k * max(demand.tap_c - system.store.room_c, 0.0) / 1000.0
    stove = system.backup.stove
    lit = sum(stove.lit_hours) / 24.0 if stove.fired == "timetable" else 1.0
    return SourceNeeds(rooms, water, store, lit)
