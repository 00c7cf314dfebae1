"""Fixtures to add and take away, and sets of the demand's values chosen at one touch."""

from typing import Any

from heat.common.documents import Document, Values
from web.accounts.models import User
from web.editor.step import Choice, RowList

FIXTURES = {
    "shower": {"name": "shower", "flow_l_min": 12, "minutes_day": 5, "flow_after_l_min": 7.5, "at_c": 39},
    "hand basin": {"name": "hand basin", "flow_l_min": 9, "minutes_day": 1.5, "flow_after_l_min": 5, "at_c": 37},
    "kitchen tap": {"name": "kitchen tap", "flow_l_min": 9, "minutes_day": 1.5, "flow_after_l_min": 6, "at_c": 48},
    "bath": {"name": "bath", "flow_l_min": 14, "minutes_day": 1.2, "at_c": 40},
}
"""Fixtures to start from (L/min, minutes a person and day, °C). Source: ordinary and water-saving fittings, rounded."""
NIGHT = [h >= 20 or h < 8 for h in range(24)]


def _emitter(supply: float, back: float, exponent: float) -> Choice:
    values = {"supply_c": supply, "return_c": back, "exponent": exponent}
    return lambda document, rest, user: {f"demand.heating.{name}": value for name, value in values.items()}


def _set(path: str, value: Any) -> Choice:
    return lambda document, rest, user: {path: value}


def _pool_by_month(document: Document, rest: str, user: User) -> Values:
    return {"demand.pool.set_by_month": [document["demand"]["pool"]["set_c"]] * 12}


def _weekend_of_its_own(document: Document, rest: str, user: User) -> Values:
    return {"demand.weekend_shape": document["demand"]["hour_shape"]}


CHOICES: dict[str, Choice] = {
    "floor": _emitter(35, 28, 1.1),
    "radiators": _emitter(55, 45, 1.3),
    "air coil": _emitter(45, 38, 1.0),
    "pool by month": _pool_by_month,
    "pool all year alike": _set("demand.pool.set_by_month", None),
    "weekend of its own": _weekend_of_its_own,
    "weekend as weekday": _set("demand.weekend_shape", None),
    "forget measured litres": _set("demand.measured_l", None),
    "forget measured heat": _set("demand.process.hourly_kw", [2.0] * 24),
    "night cover": _set("demand.pool.covered", NIGHT),
    "no cover": _set("demand.pool.covered", [False] * 24),
}
"""Sets of values by name. Emitters: usual supply, return (°C) and exponents of EN 442 and EN 1264 for existing
houses."""
ROWS = {
    "demand.fixtures": RowList(
        new=lambda document, name: {**FIXTURES.get(name, FIXTURES["shower"])},
        added=lambda document, row: {"demand.counted": "fixtures"},
        emptied=lambda document: {"demand.counted": "person"},
    )
}
