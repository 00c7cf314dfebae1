"""The questions of a guided beginning: what was answered, in the reader's units, and what is wrong with it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from heat.design.rooms import FUEL_KWH
from heat.sizing.requirements import HABITS, Wishes
from heat.weather.cold import cold_of
from web.editor.design_page import DesignPage
from web.editor.typed import pitch
from web.ui import units
from web.ui.rows import Row

BACKUPS = {
    "tankless_gas": "tankless heater, gas",
    "tankless_power": "tankless heater, electric",
    "element": "element in the store",
    "boiler": "boiler on a top coil",
    "stove": "wood stove",
    "none": "none",
}
EMITTER_WORDS = {"floor": "a warm floor", "radiators": "radiators", "air": "warm air"}
OTHERWISE = {
    "nothing": "not heated at all",
    "cover": "a cover alone",
    "heater": "heated with gas, or as its heater is",
    "heat_pump": "heated by a heat pump",
}
CARES = {"least": "as little as can be", "yearly": "a look every year", "tinker": "I build and tinker"}
OFTEN = {
    "bath": ("a household’s hot water", ("hot_water",)),
    "house": ("hot water and rooms", ("hot_water", "rooms")),
    "pool": ("a pool and its showers", ("pool", "showers")),
}
HABIT_WORDS = {"short": "short showers", "usual": "usual", "long": "long showers, baths"}
TIMES = {"morning house": "mostly mornings", "evening house": "mostly evenings", "all day": "all day"}
US_FUELS, SI_FUELS = ("therm", "gal"), (", L", "m³", ", kg")
AMPLE_M2 = 1e9


@dataclass
class Read:
    """Numbers read from an answered form, and what is wrong by question."""

    query: Mapping[str, str]
    system: str
    wrong: dict[str, str] = field(default_factory=dict)

    def number(self, name: str, low: float, high: float, quantity: str = "1") -> float | None:
        """A typed number in the core's unit; None where none was typed, or none that can be taken."""
        text = self.query.get(name, "")
        if not text.strip():
            return None
        ends = [units.field_text(end, quantity, self.system) for end in (low, high)]
        span = f"{' to '.join(ends)} {units.unit_of(quantity, self.system).sign}".strip()
        try:
            value = units.to_core(units.parse_number(text), quantity, self.system)
        except ValueError as error:
            self.wrong[name] = f"{units.no_number(text, error)} Allowed: {span}."
            return None
        if not low <= value <= high:
            self.wrong[name] = f"Allowed: {span}."
            return None
        return value

    def one_of(self, name: str, known: Any, usual: str) -> Any:
        """A chosen word among those known."""
        return self.query[name] if self.query.get(name) in known else usual


def answers(page: DesignPage, query: Mapping[str, str]) -> tuple[Wishes, Row, dict[str, str]]:
    """What was answered, the plane it gives (by path), and what is wrong by question; the survey where nothing was
    asked."""
    read, demand, requested = Read(query, page.system), page.document["demand"], "people" in query
    backup = page.document["system"]["backup"]
    usual = "element" if backup["element"]["fitted"] else "boiler" if backup["boiler"]["fitted"] else "tankless_gas"
    uses = {
        "hot_water": demand["hot_water"],
        "rooms": demand["heating"]["fitted"],
        "pool": demand["pool"]["fitted"],
        "showers": demand["showers"]["fitted"],
    }
    on = {name: query.get(name) == "1" if requested else valid for name, valid in uses.items()}
    if query.get("often") in OFTEN:
        on = {name: name in OFTEN[query["often"]][1] for name in uses}
    ticked = lambda name: query.get(name) == "1" if query.get(f"{name}_asked") == "1" else None
    if not any(on.values()):
        read.wrong["uses"] = "Choose something to heat; hot water is taken until then."
        on["hot_water"] = True
    wishes = Wishes(
        **on,
        people=read.number("people", 0.5, 500) or demand["people"],
        litres_day=read.number("litres", 1, 100_000, "L"),
        habit=read.one_of("habit", HABITS, ""),
        when=read.one_of("when", TIMES, ""),
        loss_w_k=read.number("loss", 1, 1e6, "W/K"),
        fuel=read.one_of("fuel", FUEL_KWH, ""),
        fuel_year=read.number("fuel_year", 0.1, 1e8),
        fuel_has_water=ticked("fuel_water") is not False,
        pool_m2=read.number("pool_area", 2, 5000, "m2"),
        covered=ticked("covered"),
        pool_heated=ticked("pool_heated" if "pool_heated_asked" in query else "held"),  # its earlier name
        emitters=read.one_of("emitters", EMITTER_WORDS, ""),
        pipe_m=read.number("pipe", 0, 300, "m"),
        floors=read.number("floors", 0, 20),
        pool_otherwise=read.one_of("pool_otherwise", OTHERWISE, ""),
        showers_day=read.number("showers_day", 0, 10_000),
        backup=read.one_of("backup", BACKUPS, usual),
        care=read.one_of("care", CARES, "yearly"),
        room_m2=read.number("room", 1, 10_000, "m2"),
        pipes=page.pipe_norm,
        coldest_c=cold_of(page.weather).safe_from_c,
    )
    if wishes.fuel_year is not None and not wishes.fuel:
        read.wrong["fuel_year"] = "Choose which fuel it was; until then the rooms’ loss is taken."
    return wishes, _plane(page, read, requested), read.wrong


def _plane(page: DesignPage, read: Read, requested: bool) -> Row:
    """The plane answered, by path: a surveyed one, or tilt and bearing."""
    plane, query = page.document["plane"], read.query
    key = query.get("plane", plane["on"] if not requested else "")
    surveyed = next((p for p in page.document["site"]["planes"] if p["key"] == key), None)
    if surveyed:
        return {"plane.on": key, "plane.tilt_deg": surveyed["tilt_deg"], "plane.azimuth_deg": surveyed["azimuth_deg"]}
    tilt: float | None
    try:
        tilt = pitch(query.get("tilt", ""))
    except (ValueError, ZeroDivisionError):
        tilt = None
    tilt = read.number("tilt", 0, 90, "deg") if tilt is None else tilt
    azimuth = read.number("azimuth", 0, 360, "deg")
    return {
        "plane.on": "",
        "plane.tilt_deg": plane["tilt_deg"] if tilt is None else tilt,
        "plane.azimuth_deg": plane["azimuth_deg"] if azimuth is None else azimuth,
    }


def fuels(system: str) -> list[str]:
    """Fuels in the reader's units first among those of anywhere: gallons and therms, or litres and cubic metres."""
    other = US_FUELS if system == "si" else SI_FUELS
    return [fuel for fuel in FUEL_KWH if not any(sign in fuel for sign in other)]


def questions(page: DesignPage, query: Mapping[str, str], wishes: Wishes, stands: Row) -> Row:
    """What the form shows: every answer as typed, or what stands where nothing was."""
    system, demand = page.system, page.document["demand"]
    each, heating, pool = demand["litres_per_person_day"], demand["heating"], demand["pool"]
    litres = lambda amount: f"{page.show(amount, 'L', 0)} {page.sign('L')}"
    typed = lambda name, value, quantity: query.get(name, units.field_text(value, quantity, system))
    return {
        "often": [(key, words) for key, (words, _) in OFTEN.items()],
        "backups": BACKUPS,
        "cares": CARES,
        "times": TIMES,
        "fuels": fuels(system),
        "habits": {key: f"{words}, {litres(HABITS[key])} each" for key, words in HABIT_WORDS.items()},
        "habit_now": "as measured"
        if demand["measured_l"]
        else (f"{litres(each)} each, as in Demand" if demand["counted"] == "person" else "by the fixtures in Demand"),
        "litres": query.get("litres", ""),
        "litre_sign": page.sign("L"),
        "people": typed("people", wishes.people, "1"),
        "loss": query.get("loss", ""),
        "loss_now": units.field_text(heating["loss_w_k"], "W/K", system),
        "loss_sign": page.sign("W/K"),
        "fuel_year": query.get("fuel_year", ""),
        "fuel_now": f"{heating['fuel_year']:g}" if heating["source"] == "fuel" else "",
        "fuel_stands": heating["fuel"] if heating["source"] == "fuel" else "",
        "by_fuel": heating["source"] == "fuel",
        "pool_area": typed("pool_area", pool["area_m2"], "m2"),
        "covered": any(pool["covered"]) if wishes.covered is None else wishes.covered,
        "pool_heated": pool["heater_kw"] > 0 if wishes.pool_heated is None else wishes.pool_heated,
        "emitters": EMITTER_WORDS,
        "emitter_now": f"as in Demand, {page.show(heating['supply_c'], 'degC', 0)} {page.sign('degC')}",
        "pipe": query.get("pipe", ""),
        "pipe_now": units.field_text(page.document["system"]["loop"]["supply_pipe"]["length_m"], "m", system),
        "pipe_sign": page.sign("m"),
        "floors": query.get("floors", ""),
        "otherwise": OTHERWISE,
        "pool_otherwise": wishes.pool_otherwise or pool["otherwise"],
        "showers_day": typed("showers_day", demand["showers"]["count_day"], "1"),
        "room": query.get("room", ""),
        "area_sign": page.sign("m2"),
        "tilt": typed("tilt", stands["plane.tilt_deg"], "deg"),
        "azimuth": typed("azimuth", stands["plane.azimuth_deg"], "deg"),
        "on": stands["plane.on"],
        "planes": page.document["site"]["planes"],
    }
