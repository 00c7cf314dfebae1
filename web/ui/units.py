"""Units of display. The core stays SI; numbers change units only here, at the edge, by pint."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from functools import cache

import pint

_registry: "pint.UnitRegistry[float]" = pint.UnitRegistry()
_registry.define("water_gallon = 3.785411784 kilogram")
_registry.define("oil_gallon = 37.9 kilowatt_hour")  # lower heating value, as heat.design.rooms has it
_registry.define("hundred_feet = 100 * foot")
# a flow is kept as mass; gallons are those of water at 1 kg/L
THIN = "\u202f"
DECIMALS = {"ask": "ask me", "point": "1,500.5 (comma for thousands)", "comma": "1.500,5 (comma for decimals)"}
"""How a person writes numbers, by key: settles what “1,500” is, and the sign of what is shown."""
writing: ContextVar[str] = ContextVar("writing", default="ask")
"""How whoever asks now writes numbers."""


@dataclass(frozen=True)
class Unit:
    """How a quantity is shown: pint's unit, the sign on paper, decimals, step of the arrow keys."""

    pint: str
    sign: str
    decimals: int
    step: float


# quantity -> (SI, US); the first unit is the core's own.
UNITS: dict[str, tuple[Unit, Unit]] = {
    "1": (Unit("", "", 3, 0.01), Unit("", "", 3, 0.01)),
    "percent": (Unit("percent", "%", 0, 5), Unit("percent", "%", 0, 5)),
    "deg": (Unit("degree", "°", 1, 1), Unit("degree", "°", 1, 1)),
    "day": (Unit("day", "d", 0, 1), Unit("day", "d", 0, 1)),
    "min/day": (Unit("minute/day", "min", 1, 0.5), Unit("minute/day", "min", 1, 0.5)),
    "min": (Unit("minute", "min", 0, 1), Unit("minute", "min", 0, 1)),
    "degC": (Unit("degC", "°C", 1, 1), Unit("degF", "°F", 1, 1)),
    "delta_degC": (Unit("delta_degC", "K", 1, 1), Unit("delta_degF", "°F", 1, 1)),
    "L": (Unit("liter", "L", 0, 10), Unit("gallon", "gal", 1, 5)),
    "m2": (Unit("m**2", "m²", 2, 0.1), Unit("ft**2", "ft²", 1, 1)),
    "m": (Unit("m", "m", 1, 1), Unit("ft", "ft", 1, 1)),
    "mm": (Unit("mm", "mm", 1, 1), Unit("inch", "in", 3, 0.125)),
    "um": (Unit("micrometer", "µm", 1, 0.5), Unit("micrometer", "µm", 1, 0.5)),
    "W": (Unit("W", "W", 0, 5), Unit("W", "W", 0, 5)),
    "kW": (Unit("kW", "kW", 1, 1), Unit("kBtu/hour", "kBtu/h", 1, 1)),
    "kWh": (Unit("kWh", "kWh", 0, 1), Unit("kBtu", "kBtu", 0, 1)),
    "kWh power": (Unit("kWh", "kWh", 0, 1), Unit("kWh", "kWh", 0, 1)),
    "kWh gas": (Unit("kWh", "kWh", 0, 1), Unit("US_therm", "therms", 1, 1)),
    "kWh oil": (Unit("kWh", "kWh", 0, 1), Unit("oil_gallon", "gal of oil", 1, 1)),
    "Wh": (Unit("Wh", "Wh", 0, 1), Unit("Btu", "Btu", 0, 1)),
    "kWh/m2": (Unit("kWh/m**2", "kWh/m²", 0, 1), Unit("kBtu/ft**2", "kBtu/ft²", 0, 1)),
    "W/m2": (Unit("W/m**2", "W/m²", 0, 1), Unit("Btu/hour/ft**2", "Btu/h ft²", 0, 1)),
    "W/K": (Unit("W/delta_degC", "W/K", 1, 0.1), Unit("Btu/hour/delta_degF", "Btu/h °F", 1, 0.2)),
    "W/m/K": (Unit("W/m/delta_degC", "W/mK", 3, 0.005), Unit("Btu/hour/ft/delta_degF", "Btu/h ft °F", 3, 0.005)),
    "W/m2/K": (Unit("W/m**2/delta_degC", "W/m²K", 2, 0.1), Unit("Btu/hour/ft**2/delta_degF", "Btu/h ft² °F", 3, 0.02)),
    "W/m2/K2": (
        Unit("W/m**2/delta_degC**2", "W/m²K²", 4, 0.001),
        Unit("Btu/hour/ft**2/delta_degF**2", "Btu/h ft² °F²", 5, 0.0001),
    ),
    "kJ/m2/K": (Unit("kJ/m**2/delta_degC", "kJ/m²K", 1, 1), Unit("Btu/ft**2/delta_degF", "Btu/ft² °F", 2, 0.05)),
    "J/m3/K": (Unit("J/m**3/delta_degC", "J/m³K", 1, 0.1), Unit("Btu/ft**3/delta_degF", "Btu/ft³ °F", 5, 0.0001)),
    "s/m": (Unit("s/m", "s/m", 3, 0.01), Unit("hour/mile", "h/mi", 4, 0.005)),
    "kg/h/m2": (Unit("kg/hour/m**2", "kg/h m²", 0, 5), Unit("water_gallon/minute/ft**2", "gal/min ft²", 4, 0.002)),
    "J/kg/K": (Unit("J/kg/delta_degC", "J/kgK", 0, 10), Unit("Btu/lb/delta_degF", "Btu/lb °F", 3, 0.01)),
    "kg/h": (Unit("kg/hour", "kg/h", 0, 10), Unit("water_gallon/minute", "gal/min", 2, 0.1)),
    "kg": (Unit("kg", "kg", 0, 1), Unit("lb", "lb", 0, 1)),
    "km": (Unit("km", "km", 0, 1), Unit("mile", "mi", 0, 1)),
    "mm/m": (Unit("mm/m", "mm/m", 0, 5), Unit("inch/ft", "in/ft", 2, 0.1)),
    "m3/h": (Unit("m**3/hour", "m³/h", 0, 10), Unit("ft**3/minute", "cfm", 0, 10)),
    "kJ/m3/K": (Unit("kJ/m**3/delta_degC", "kJ/m³K", 0, 50), Unit("Btu/ft**3/delta_degF", "Btu/ft³ °F", 1, 1)),
    "L/min": (Unit("liter/minute", "L/min", 1, 0.5), Unit("gallon/minute", "gal/min", 2, 0.1)),
    "m/s": (Unit("m/s", "m/s", 1, 0.5), Unit("mile/hour", "mph", 1, 1)),
    "flow m/s": (Unit("m/s", "m/s", 2, 0.05), Unit("ft/s", "ft/s", 2, 0.1)),
    "kg/m2": (Unit("kg/m**2", "kg/m²", 0, 5), Unit("lb/ft**2", "lb/ft²", 1, 1)),
    "kWh/K": (Unit("kWh/delta_degC", "kWh/K", 1, 1), Unit("kBtu/delta_degF", "kBtu/°F", 1, 1)),
    "bar": (Unit("bar", "bar", 1, 0.1), Unit("psi", "psi", 0, 1)),
    "kPa": (Unit("kPa", "kPa", 1, 0.5), Unit("foot_H2O", "ft head", 1, 0.5)),
    "wind kPa": (Unit("kPa", "kPa", 2, 0.05), Unit("pound_force/foot**2", "psf", 1, 1)),
    "Pa/m": (Unit("Pa/m", "Pa/m", 0, 10), Unit("psi/hundred_feet", "psi/100 ft", 2, 0.1)),
    "kN": (Unit("kN", "kN", 2, 0.1), Unit("pound_force", "lbf", 0, 1)),
    "h": (Unit("hour", "h", 0, 1), Unit("hour", "h", 0, 1)),
    "money": (Unit("", "", 2, 10), Unit("", "", 2, 10)),
    "year": (Unit("year", "years", 0, 1), Unit("year", "years", 0, 1)),
    "rate": (Unit("percent", "%", 1, 0.5), Unit("percent", "%", 1, 0.5)),
    "1/m3": (Unit("1/m**3", "/m³", 2, 0.5), Unit("1/kilogallon", "/1,000 gal", 2, 1)),
    "1/kWh": (Unit("1/kWh", "/kWh", 3, 0.01), Unit("1/kWh", "/kWh", 3, 0.01)),
    "kg/kWh": (Unit("kg/kWh", "kg/kWh", 3, 0.01), Unit("lb/kWh", "lb/kWh", 3, 0.01)),
}


def unit_of(quantity: str, system: str) -> Unit:
    """The unit a quantity is shown in, ``si`` or ``us``."""
    return UNITS[quantity][1 if system == "us" else 0]


@cache
def _line(quantity: str, system: str) -> tuple[float, float]:
    """Slope and offset from the core's unit to the shown one."""
    own, reader_unit = UNITS[quantity][0].pint, unit_of(quantity, system).pint
    if own == reader_unit:
        return 1.0, 0.0
    at = [_registry.Quantity(v, own).to(reader_unit).magnitude for v in (0.0, 100.0)]
    return (at[1] - at[0]) / 100.0, at[0]


WHOLE_GALLONS, TIDY = 5.0, 0.01
"""Gallons from which no tenth is shown, and how near a tenth (of itself) a value lies that was typed so."""


def to_display(value: float, quantity: str, system: str) -> float:
    """A value of the core in the unit of display."""
    slope, offset = _line(quantity, system)
    return value * slope + offset


def to_core(value: float, quantity: str, system: str) -> float:
    """A displayed value in the core's unit."""
    slope, offset = _line(quantity, system)
    return (value - offset) / slope


def number(value: float, decimals: int) -> str:
    """A number on paper: thin spaces between thousands, a true minus, no negative zero, the reader's decimal sign."""
    text = f"{value:,.{decimals}f}"
    if float(text.replace(",", "")) == 0:
        text = text.lstrip("-")
    return _with_sign(text.replace(",", THIN).replace("-", "−"))


def plain(value: float, decimals: int) -> str:
    """A number for an input: trailing zeros left out, the reader's decimal sign."""
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else _with_sign(text)


def field_text(value: float, quantity: str, system: str) -> str:
    """A quantity for an input: decimals of its unit, trailing zeros left out."""
    return plain(to_display(value, quantity, system), places_of(value, quantity, system, typed=True))


def places_of(value: float, quantity: str, system: str, *, typed: bool = False) -> int:
    """Decimals a value of the core is shown with: those of its unit; gallons whole from five on, but as they may have
    been typed where they are to be typed again."""
    decimals = unit_of(quantity, system).decimals
    if quantity != "L" or system != "us":
        return decimals
    gallons = to_display(value, quantity, system)
    as_typed = typed and abs(10.0 * gallons - round(10.0 * gallons)) < TIDY
    return decimals if abs(gallons) < WHOLE_GALLONS or as_typed else 0


def _with_sign(text: str) -> str:
    """A text with a decimal point as whoever asks writes it."""
    return text.replace(".", ",") if writing.get() == "comma" else text


IN_WORDS = re.compile(r"(?P<low>[-−]?\d+(?:\.\d+)?)(?P<to> to )?(?P<high>[-−]?\d+(?:\.\d+)?)? (?P<sign>°C|W/m²)(?!\w)")
SIGNED = {"°C": "degC", "W/m²": "W/m2"}
"""Units that stand in sentences of the core, and their quantities."""


def words(text: str, system: str) -> str:
    """A sentence with its temperatures and sunshine in the reader's units."""
    if system != "us":
        return text

    def turned(found: re.Match[str]) -> str:
        quantity = SIGNED[found["sign"]]
        read = lambda v: number(to_display(float(v.replace("−", "-")), quantity, system), 0)
        ends = [read(v) for v in (found["low"], found["high"]) if v]
        return f"{' to '.join(ends)} {unit_of(quantity, system).sign}"

    return IN_WORDS.sub(turned, text)


class Ambiguous(ValueError):
    """A number that can be read in two ways, a thousand times apart: ``readings``, the smaller first."""

    def __init__(self, text: str, readings: tuple[float, float]) -> None:
        small, large = (f"{value:.10g}" for value in readings)
        super().__init__(f"“{text}” can be read as {small} or as {large}: which is it? Your account can settle it.")
        self.readings = readings


TWO_WAYS = re.compile(r"(-?)([1-9]\d{0,2})([,.])(\d{3})")
"""A sign before three digits: a decimal sign in one country, thousands in another."""


@contextmanager
def written(habit: str) -> Iterator[None]:
    """Numbers read within are those of a person who writes so (a key of DECIMALS)."""
    token = writing.set(habit if habit in DECIMALS else "ask")
    try:
        yield
    finally:
        writing.reset(token)


LARGEST, SMALLEST = 1e15, 1e-15
"""The one range of numbers that are typed: beyond the first nothing is a quantity, below the second all is zero."""


def parse_number(text: str) -> float:
    """A number as typed, with point or comma, spaces and a true minus allowed; of both, the last is the decimal sign.

    “1,500” is what the person's way of writing makes of it; raises Ambiguous where that does not tell, and ValueError
    for what is no number. A point is the page's own decimal sign: only who writes 1.500,5 is asked about “1.500”.
    """
    tidy = text.strip().replace("−", "-").replace(THIN, "").replace("\u00a0", "").replace(" ", "").replace("’", "")
    two_ways = TWO_WAYS.fullmatch(tidy)
    if two_ways:
        return _one_of_two(text, *two_ways.groups())
    comma, point = tidy.rfind(","), tidy.rfind(".")
    if comma >= 0 and point >= 0:
        grouping, decimal = (",", ".") if point > comma else (".", ",")
        if not re.fullmatch(rf"-?\d{{1,3}}(\{grouping}\d{{3}})+\{decimal}\d*", tidy):
            raise ValueError(text)
        tidy = tidy.replace(grouping, "").replace(decimal, ".")
    elif tidy.count(",") == 1:
        tidy = tidy.replace(",", ".")
    elif re.fullmatch(r"-?\d{1,3}([.,])\d{3}(\1\d{3})+", tidy):
        tidy = tidy.replace(",", "").replace(".", "")
    value = float(tidy)
    if not abs(value) <= LARGEST:  # NaN neither
        raise ValueError(text)
    return value if abs(value) >= SMALLEST else 0.0


def two_readings(text: str) -> tuple[float, float] | None:
    """Both readings of a text such as “1,500” or “1.500”, the smaller first, where the person's way of writing does not
    settle it; None for every other text."""
    tidy = text.strip().replace("−", "-")
    found, habit = TWO_WAYS.fullmatch(tidy), writing.get()
    if found is None or habit == "point" or (habit == "comma" and found[3] == ","):
        return None
    minus, whole, _sign, rest = found.groups()
    return float(f"{minus}{whole}.{rest}"), float(f"{minus}{whole}{rest}")


def _one_of_two(text: str, minus: str, whole: str, sign: str, rest: str) -> float:
    """What one sign before three digits is. Raises Ambiguous where it may be either."""
    small, large = float(f"{minus}{whole}.{rest}"), float(f"{minus}{whole}{rest}")
    habit = writing.get()
    if habit == "comma" and sign == ".":
        raise Ambiguous(text.strip()[:20], (small, large))
    if sign == "." or habit == "comma":
        return small
    if habit == "point":
        return large
    raise Ambiguous(text.strip()[:20], (small, large))


def no_number(text: str, error: ValueError) -> str:
    """Why a text was not taken for a number, in words: what it may mean, or that it is none."""
    return str(error) if isinstance(error, Ambiguous) else f"“{text.strip()[:30]}” is not a number."
