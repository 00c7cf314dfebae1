"""What a person wants heated, in the words of a first talk, and what that makes of the demand."""

from dataclasses import dataclass
from typing import Literal

from heat.common.documents import Document, Values, value_at
from heat.constants import WATER_J_KGK
from heat.demand.shapes import SHAPES
from heat.design.rooms import FUEL_KWH
from heat.sizing.pipe_tables import Norm

Care = Literal["least", "yearly", "tinker"]
Backup = Literal["tankless_gas", "tankless_power", "element", "boiler", "stove", "none"]
HABITS = {"short": 30.0, "usual": 45.0, "long": 70.0}
"""Hot water for one person (L a day at the tap's 45 °C) by how people shower. Source: our own choice within the trade's
25 to 80 L."""
HOLDING_KW_M2 = 0.25
"""Heater that holds an outdoor pool warm through its season, for each m² of surface (kW/m²). Source: rule of thumb, 0.2
to 0.4."""
POOL_W_K_M2 = 60.0
"""Exchanger between a store and a pool for each m² of its surface (W/K m²). Source: our own choice, 6 K apart at 0.36
kW/m²."""
EMITTERS = {"floor": (35.0, 28.0, 1.1), "radiators": (55.0, 45.0, 1.3), "air": (45.0, 35.0, 1.0)}
"""Supply and return on the coldest day (°C) and exponent (1) by what gives the heat. Source: EN 1264-2 and EN 442-2,
usual designs of today; old radiators want more."""
FLOOR_M = 2.8
"""Height of a floor (m). Source: our own choice, usual houses."""
NIGHT = (*(True,) * 8, *(False,) * 12, *(True,) * 4)
COLD_C, MOST_OTHER = 10.0, 0.8
"""Mains in the estimate of what a boiler burnt for hot water (°C), and the most it is taken for (share of the fuel)."""


@dataclass(frozen=True)
class Wishes:
    """What a person answers: uses; people (1); litres a day at the tap (L) or habit, and when; rooms by loss (W/K) or
    last year's fuel (in its own unit), and what heats them; pool (m²), what it would have otherwise, and showers there
    a day (1); backup, care, room for collectors (m²), pipe to the store (m) and floors between (1), whose
    pipe sizes are sold there, and how far the air may fall in a hard winter (°C).

    None, or an empty text, for what was not answered: the demand stays as it is, room is ample.
    """

    hot_water: bool = True
    rooms: bool = False
    pool: bool = False
    showers: bool = False
    people: float = 4.0
    litres_day: float | None = None
    habit: str = ""
    when: str = ""
    loss_w_k: float | None = None
    fuel: str = ""
    fuel_year: float | None = None
    fuel_has_water: bool = True
    pool_m2: float | None = None
    covered: bool | None = None
    pool_heated: bool | None = None
    pool_otherwise: str = ""
    showers_day: float | None = None
    emitters: str = ""
    pipe_m: float | None = None
    floors: float | None = None
    backup: Backup = "tankless_gas"
    care: Care = "yearly"
    room_m2: float | None = None
    pipes: Norm = "EN"
    coldest_c: float | None = None

    @property
    def only_pool(self) -> bool:
        """Whether nothing but the pool's own water is heated."""
        return self.pool and not (self.hot_water or self.rooms or self.showers)


def wanted(document: Document, wishes: Wishes, kind: str = "") -> Values:
    """What the wishes, and the kind that answers them, change in the demand: by path, in its units (such as L).

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    wishes
        What is asked of the system.
    kind
        Kind of system.

    Returns
    -------
    Values
        What the wishes, and the kind that answers them, change in the demand: by path, in its units (such as
        L).
    """
    d = document["demand"]
    requested: Values = {
        "hot_water": wishes.hot_water,
        "people": wishes.people,
        "heating.fitted": wishes.rooms,
        "pool.fitted": wishes.pool,
        "showers.fitted": wishes.showers,
    }
    if wishes.hot_water:
        requested |= _water(wishes)
    if wishes.rooms:
        requested |= _rooms(d, wishes)
    if wishes.pool:
        requested |= _pool(d, wishes, kind)
    if wishes.showers and wishes.showers_day is not None:
        requested["showers.count_day"] = wishes.showers_day
    changes = {f"demand.{path}": value for path, value in requested.items()}

    def differs(path: str, value: object) -> bool:
        now = value_at(document, path)
        return value != (tuple(now) if isinstance(now, list) else now)  # wishes give rows as tuples

    return {path: value for path, value in changes.items() if differs(path, value)}


def _water(wishes: Wishes) -> Values:
    """Litres by a day's total or by habit, and the shape of the day."""
    found: Values = {}
    each = HABITS.get(wishes.habit)
    if wishes.litres_day is not None:
        each = round(min(max(wishes.litres_day / wishes.people, 1.0), 300.0), 2)
    if each is not None:
        found |= {"litres_per_person_day": each, "counted": "person", "measured_l": None}
    if wishes.when in SHAPES:
        found |= {"hour_shape": SHAPES[wishes.when], "weekend_shape": None, "pattern": "shape"}
    return found


def _rooms(demand: Document, wishes: Wishes) -> Values:
    """The rooms by what they lose, or by the fuel of last year with its share for hot water; their emitters."""
    by_emitter: Values = {}
    if wishes.emitters in EMITTERS:
        names = ("heating.supply_c", "heating.return_c", "heating.exponent")
        by_emitter = dict(zip(names, EMITTERS[wishes.emitters], strict=True))
    return by_emitter | _room_loss(demand, wishes)


def _room_loss(demand: Document, wishes: Wishes) -> Values:
    burnt = wishes.fuel_year
    if burnt is not None and wishes.fuel in FUEL_KWH:
        efficiency = demand["heating"]["fuel_efficiency"]
        each = float(HABITS.get(wishes.habit) or demand["litres_per_person_day"])
        litres = wishes.litres_day or wishes.people * each
        water_kwh = litres * 365.0 * WATER_J_KGK * (demand["tap_c"] - COLD_C) / 3.6e6
        other = water_kwh / efficiency / FUEL_KWH[wishes.fuel] if wishes.hot_water and wishes.fuel_has_water else 0.0
        return {
            "heating.source": "fuel",
            "heating.fuel": wishes.fuel,
            "heating.fuel_year": burnt,
            "heating.fuel_other": round(min(other, MOST_OTHER * burnt), 1),
        }
    if wishes.loss_w_k is not None:
        return {"heating.source": "loss", "heating.loss_w_k": wishes.loss_w_k}
    return {}


def _pool(demand: Document, wishes: Wishes, kind: str) -> Values:
    """Surface and cover of the pool, its heater, and an exchanger where it hangs on a store."""
    surface = wishes.pool_m2 or demand["pool"]["area_m2"]
    found: Values = {"pool.area_m2": surface}
    if wishes.covered is not None:
        found["pool.covered"] = NIGHT if wishes.covered else (False,) * 24
    if wishes.pool_heated is not None:
        found["pool.heater_kw"] = round(HOLDING_KW_M2 * surface, 1) if wishes.pool_heated else 0.0
    if wishes.pool_otherwise:
        found["pool.otherwise"] = wishes.pool_otherwise
    if kind == "pool_direct":
        found["pool.exchanger_w_k"] = 0.0
    elif not wishes.only_pool and not demand["pool"]["exchanger_w_k"]:
        found["pool.exchanger_w_k"] = round(POOL_W_K_M2 * surface, -1)
    return found
