"""Readings as a person types them: words, units and where each goes; the core's units come out."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, time

from heat.errors import HeatError
from heat.monitoring.trials import SHOWER_L_MIN
from web.logs.models import Log, Values
from web.logs.reading import YEARS
from web.ui import units
from web.ui.calendar import date_typed

SHOWER_MIN = 5.0
"""How long “a shower” is (min). Source: usual, 4 to 8."""
WORDS = {
    "collector": "collector",
    "supply": "loop, into the store",
    "return": "loop, back to the roof",
    "pool": "pool",
    "flow": "flow",
    "pump": "pump",
    "sun": "sun, level",
    "plane": "sun, on the plane",
    "cloud": "cloud, eighths",
    "air": "air",
    "draw": "drawn since",
}
DISPLAYED_AS = {
    "collector": "degC",
    "supply": "degC",
    "return": "degC",
    "pool": "degC",
    "air": "degC",
    "flow": "L/min",
    "pump": "percent",
    "sun": "W/m2",
    "plane": "W/m2",
    "cloud": "1",
    "draw": "L",
}
"""What each is shown and typed in."""
TIMES = {"flow": 60.0, "pump": 0.01}
"""From what is shown to the core's unit: L/min to kg/h, percent to a share."""
HINTS = {"pump": "0 to 100, or on, off", "draw": "litres, or a shower", "cloud": "0 clear, 8 grey"}


@dataclass(frozen=True)
class ReadingField:
    """A field of the line: name, words, sign, the value read last."""

    name: str
    words: str
    sign: str
    before: str
    hint: str = ""
    typed: str = ""


def quantity(name: str) -> str:
    """What a reading is shown in."""
    return DISPLAYED_AS.get(name, "degC")


def display_value(name: str, value: float, system: str) -> float:
    """A reading of the core in the reader's unit."""
    return units.to_display(value / TIMES.get(name, 1.0), quantity(name), system)


def as_text(name: str, value: float, system: str) -> str:
    """A reading as text, as many decimals as its sensor is worth."""
    places = 0 if name in ("sun", "plane", "pump", "cloud", "draw") else 1
    return units.number(display_value(name, value, system), places)


def sensor_words(log: Log, index: int) -> str:
    """A store's sensor by its height."""
    share = log.heights[index]
    return "store, floor" if share < 0.02 else "store, top" if share > 0.98 else f"store at {100 * share:.0f} %"


def words_of(name: str, log: Log) -> str:
    """A row's words."""
    if re.fullmatch(r"s\d+", name):
        return sensor_words(log, int(name[1:]))
    if name.startswith("store "):
        return sensor_words(log, int(name[6:]))
    return WORDS.get(name, name)


def names_of(log: Log) -> list[str]:
    """What a line of this log may hold: the store from the top down, then the rest as its kind of system has it."""
    kind = log.document["system"]["kind"]
    store = [f"s{i}" for i in reversed(range(len(log.heights)))]
    rest = ["collector", "pump", "supply", "return", "flow", "sun", "plane", "cloud", "air", "draw"]
    if kind.startswith("thermosiphon"):
        rest.remove("pump")
    if kind in ("batch_tank", "tube_bank", "bag"):
        rest = ["sun", "plane", "cloud", "air", "draw"]
    if kind == "pool_direct" or log.document["demand"]["pool"]["fitted"]:
        rest.insert(0, "pool")
    return [*store, *rest]


def fields_of(log: Log, system: str, before: Values, payload: Mapping[str, str]) -> list[ReadingField]:
    """The fields of a line, each with what was read last, and what was typed and not taken."""
    return [
        ReadingField(
            name,
            words_of(name, log),
            units.unit_of(quantity(name), system).sign,
            retyped(name, before[name], system) if name in before else "",
            HINTS.get(name, ""),
            payload.get(name, ""),
        )
        for name in names_of(log)
    ]


def retyped(name: str, value: float, system: str) -> str:
    """A reading as it would be typed."""
    return as_text(name, value, system).replace("−", "-").replace(units.THIN, "")


def value_typed(name: str, text: str, system: str) -> float:
    """A reading as typed. Raises HeatError with the words for the page."""
    word = text.strip().lower()
    if name == "pump" and word in ("on", "off"):
        return float(word == "on")
    if name == "draw" and "shower" in word:
        many = re.match(r"\d+", word)
        return SHOWER_MIN * SHOWER_L_MIN * (int(many[0][:2]) if many else 1)
    try:
        value = units.parse_number(text)
    except ValueError as error:
        raise HeatError(units.no_number(text, error)) from error
    return units.to_core(value, quantity(name), system) * TIMES.get(name, 1.0)


def line_typed(log: Log, payload: Mapping[str, str], system: str) -> Values:
    """A line as typed, in the core's units; blanks left out. Raises HeatError that names the field."""
    values: Values = {}
    for name in names_of(log):
        text = payload.get(name, "")
        if text.strip():
            try:
                values[name] = round(value_typed(name, text[:40], system), 4)
            except HeatError as error:
                raise HeatError(f"{words_of(name, log).capitalize()}: {error}") from error
    return values


def time_typed(day: str, clock: str, us: bool = False) -> datetime:
    """A moment as typed, in local standard time. Raises HeatError."""
    try:
        on = date_typed(day, us)
    except ValueError as error:
        raise HeatError(str(error)) from error
    if not YEARS[0] <= on.year <= YEARS[1]:
        raise HeatError(f"The day must lie between {YEARS[0]} and {YEARS[1]}.")
    found = re.fullmatch(r"(\d{1,2})[:.h ]?(\d{2})?(?::\d{2})?\s*(am|pm)?", clock.strip().lower())
    hour, minute = (int(found[1]), int(found[2] or 0)) if found else (99, 0)
    if found and found[3]:
        hour = hour % 12 + (12 if found[3] == "pm" else 0)
    if not found or hour > 23 or minute > 59:
        raise HeatError("The time is written as 14:05.")
    return datetime.combine(on, time(hour, minute))


COLUMN_UNITS: dict[str, tuple[tuple[str, str, float, float], ...]] = {
    "degC": (("degC", "°C", 1.0, 0.0), ("degF", "°F", 5.0 / 9.0, -160.0 / 9.0)),
    "L/min": (("L/min", "L/min", 60.0, 0.0), ("gal/min", "gal/min", 227.1247, 0.0), ("kg/h", "kg/h or L/h", 1.0, 0.0)),
    "percent": (("percent", "%", 0.01, 0.0), ("share", "on/off, 0 to 1", 1.0, 0.0)),
    "W/m2": (("W/m2", "W/m²", 1.0, 0.0), ("Btu", "Btu/h ft²", 3.154591, 0.0)),
    "1": (("1", "", 1.0, 0.0),),
    "L": (("L", "L", 1.0, 0.0), ("gal", "gal", 3.785412, 0.0)),
}
"""Units a column may be in: key, sign, and slope and offset to the core's unit."""


def meanings(log: Log) -> dict[str, tuple[str, str, float, float]]:
    """What a column may hold: words, the row's name, slope and offset to the core's unit, by key."""
    found = {}
    for name in names_of(log):
        for key, sign, slope, offset in COLUMN_UNITS[quantity(name)]:
            found[f"{name} {key}"] = (f"{words_of(name, log)}, {sign}".rstrip(", "), name, slope, offset)
    return found
