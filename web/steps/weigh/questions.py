"""The questions a project knows to ask of a design, each with its answers: what could be otherwise."""

from typing import Any

from heat.catalogue import changes as entry_changes
from heat.catalogue import entries
from heat.common.documents import Values, value_at
from heat.demand.shapes import SHAPES
from heat.sizing.fitting import frost_reason
from heat.weather.cold import cold_of
from web.catalogue.services import in_sight
from web.editor.design_page import DesignPage
from web.editor.typed import quantity_of
from web.presentation.kinds import KINDS
from web.steps.weigh.numbers import at_equator, numbers_of
from web.ui import units
from web.ui.rows import Row

Answer = Row
Known = dict[str, tuple[str, list[Answer]]]
COLLECTORS = ("flat_selective", "flat_double", "tube_heatpipe")
"""Collectors compared, each in the number that comes nearest to the area there is; a person's own come before them."""
CLOSED = ("pumped_coil", "pumped_plate", "drainback")
"""Kinds that take each other's place with the parts as they are."""
TIMES = {"morning": "morning house", "evening": "evening house", "all day": "all day"}
BOOSTS = {
    "at any hour": (0, 24),
    "at night, 23 to 6": (23, 6),
    "by day, 10 to 16": (10, 16),
    "in the evening, 16 to 22": (16, 22),
}
"""Hours a heater in the store may heat, from and to."""
SHARES = (0.67, 1.0, 1.5, 2.0)
USUAL = ("collector", "tilt", "store", "hours")
"""What is ticked where nothing was asked yet."""
MOST_ANSWERS = 8


def known(page: DesignPage) -> Known:
    """Every question by key, with its words and its answers; those that say nothing of this kind are left out."""
    found = {**_of_collectors(page), **_of_store(page), **_of_plane(page), **_of_running(page), **_of_need(page)}
    stored = page.project.weather_files.filter(deleted=None)
    files = {file.checksum: file.name for file in stored.order_by("pk")}
    found["weather"] = (
        "Weather year",
        [{"name": name[:70], "weather": checksum} for checksum, name in files.items()][:MOST_ANSWERS],
    )
    return {key: (words, answers) for key, (words, answers) in found.items() if len(answers) > 1}


def _of_collectors(page: DesignPage) -> Known:
    system, found = page.document["system"], Known()
    scheme = page.year.book.design.system.scheme
    if scheme.driven_by != "none":
        own = [entry for entry in in_sight(page.user, "collector") if entry.key not in entries()][:4]
        found["collector"] = (
            "Collector",
            [*(_own_collector(page, entry) for entry in own), *(_collector(page, key) for key in COLLECTORS)],
        )
    count = system["collector"]["count"]
    counts = [n for n in (count - 1, count, count + 1, count + 2) if n > 0]
    found["number"] = ("How many", [value_answer("system.collector.count", n) for n in counts])
    if system["kind"] in CLOSED:
        coldest = cold_of(page.weather).safe_from_c
        ways = [kind for kind in CLOSED if not frost_reason(kind, coldest)]
        found["way"] = ("How it works", [{"name": KINDS[kind], "kind": kind} for kind in ways])
    return found


def _of_store(page: DesignPage) -> Known:
    system, found = page.document["system"], Known()
    scheme = page.year.book.design.system.scheme
    if scheme.driven_by != "none" and scheme.exchange != "pool":
        volume = system["store"]["volume_l"]
        litres = [round(share * volume / 10.0) * 10.0 for share in SHARES]
        found["store"] = ("Store volume", [value_answer("system.store.volume_l", v) for v in litres])
        found["wrap"] = ("Insulation loss of the store", _times(page, "system.store.loss_w_k", (0.5, 1.0, 1.5)))
    if scheme.exchange in ("coil", "plate", "jacket"):
        found["exchanger"] = ("Exchanger", _times(page, f"system.{scheme.exchange}.ua_w_k", (0.5, 1.0, 2.0)))
    return found


def _of_plane(page: DesignPage) -> Known:
    site, plane, found = page.document["site"], page.document["plane"], Known()
    latitude = abs(site["latitude_deg"])
    tilts = sorted({20.0, round(latitude), min(round(latitude + 15), 90), round(plane["tilt_deg"])})
    found["tilt"] = ("Tilt", [{"name": f"{t:.0f}°", "set": {"plane.on": "", "plane.tilt_deg": t}} for t in tilts])
    toward = at_equator(page)
    bearings = {"to the equator": toward, "45° east of it": toward - 45, "45° west of it": toward + 45}
    if site["latitude_deg"] < 0:
        bearings = {"to the equator": 0.0, "45° east of it": 45.0, "45° west of it": 315.0}
    found["bearing"] = (
        "Bearing",
        [{"name": name, "set": {"plane.on": "", "plane.azimuth_deg": at % 360}} for name, at in bearings.items()],
    )
    found["plane"] = (
        "Surveyed plane",
        [{"name": f"{p['key']} {p['name']}".strip()[:70], "set": {"plane.on": p["key"]}} for p in site["planes"]][
            :MOST_ANSWERS
        ],
    )
    if page.year.book.design.system.scheme.driven_by != "none":
        found["mirror"] = (
            "Mirror before the collectors",
            [
                {"name": "without a mirror", "set": {"plane.mirror.fitted": False}},
                {"name": "with a mirror", "set": {"plane.mirror.fitted": True}},
            ],
        )
    return found


def _of_running(page: DesignPage) -> Known:
    system, found = page.document["system"], Known()
    scheme = page.year.book.design.system.scheme
    if scheme.driven_by == "pump":
        pipe = system["loop"]["supply_pipe"]["insulation_mm"]
        paths = ("system.loop.supply_pipe.insulation_mm", "system.loop.return_pipe.insulation_mm")
        thick = sorted({0.0, pipe, pipe + 20.0})
        found["pipes"] = (
            "Insulation of the pipes",
            [{"name": value_answer(paths[0], v)["name"], "set": dict.fromkeys(paths, v)} for v in thick],
        )
        off = system["control"]["off_k"]
        starts = [k for k in (4.0, 7.0, 12.0) if k > off]
        found["start"] = ("Pump on at", [value_answer("system.control.on_k", k) for k in starts])
    for name, words in (("element", "Element"), ("boiler", "Boiler"), ("top_element", "Top element")):
        if system["backup"].get(name, {}).get("fitted"):
            path = f"system.backup.{name}"
            found[f"{name}_hours"] = (
                f"{words} may heat",
                [{"name": text, "set": {f"{path}.hours_on": _hours(*span)}} for text, span in BOOSTS.items()],
            )
            now = system["backup"][name]["set_c"]
            sets = [c for c in (now - 5.0, now, now + 5.0) if 30 <= c <= 90]
            found[f"{name}_set"] = (f"{words} set to", [value_answer(f"{path}.set_c", c) for c in sets])
    return found


def _of_need(page: DesignPage) -> Known:
    demand, found = page.document["demand"], Known()
    if not demand["hot_water"] or demand["measured_l"]:
        return found
    times: list[Answer] = [
        {
            "name": name,
            "set": {"demand.hour_shape": list(SHAPES[shape]), "demand.weekend_shape": None, "demand.pattern": "shape"},
        }
        for name, shape in TIMES.items()
    ]
    found["hours"] = ("When hot water is drawn", [{"name": "as drawn up", "set": {}}, *times])
    found["people"] = (
        "People",
        [value_answer("demand.people", round(s * demand["people"], 1)) for s in (0.5, 1.0, 1.5)],
    )
    if demand["counted"] == "person":
        found["litres"] = ("Litres a person", _times(page, "demand.litres_per_person_day", (0.75, 1.0, 1.25)))
    return found


def _hours(first: int, last: int) -> list[bool]:
    """Hours of the day from one to another, through midnight where the last comes before the first."""
    return [first <= h < last if first < last else h >= first or h < last for h in range(24)]


def _times(page: DesignPage, path: str, shares: tuple[float, ...]) -> list[Answer]:
    """A value and shares of it."""
    value = value_at(page.document, path)
    return [value_answer(path, round(s * value, 3)) for s in shares]


def _in_number(page: DesignPage, values: Values) -> int:
    """How many of a collector come nearest to the area there is."""
    area = page.year.book.design.system.collector.total_gross_m2
    return min(max(round(area / float(values.get("gross_area_m2") or values["area_m2"])), 1), 500)


def _collector(page: DesignPage, key: str) -> Answer:
    """A collector of the catalogue, in the number that comes nearest to the area there is."""
    entry = entries()[key]
    return {"name": entry.name, "entry": key, "set": {"system.collector.count": _in_number(page, entry.values)}}


def _own_collector(page: DesignPage, entry: Any) -> Answer:
    """A collector of the person's own, as the values it puts in."""
    values = entry_changes(entry, page.document) | {"system.collector.count": _in_number(page, entry.values)}
    return {"name": f"{entry.name} (own)"[:80], "set": values}


def value_answer(path: str, value: float) -> Answer:
    """An answer that sets one value, named by it: in SI units, so that it is one question whoever asks it."""
    return {"name": _named(path, value, "si"), "set": {path: value}}


def _named(path: str, value: float, system: str) -> str:
    quantity = quantity_of(path)
    return f"{units.field_text(value, quantity, system)} {units.unit_of(quantity, system).sign}".strip()


def answer_text(page: DesignPage, name: str, values: Values) -> str:
    """An answer's name as its reader writes it: one that is named by its value, in their units."""
    path, value = next(iter(values.items()), ("", None))
    if page.system == "si" or not isinstance(value, int | float) or name != _named(path, value, "si"):
        return name
    return _named(path, value, page.system)


def own_question(page: DesignPage, path: str, text: str) -> tuple[str, list[Answer]]:
    """A question of any number of the design, its answers typed with semicolons between. Raises ValueError with the
    words for the page."""
    number = numbers_of(page).get(path)
    if number is None:
        raise ValueError("Choose a number of this design.")
    parts = [part for part in text.split(";") if part.strip()]
    if not 2 <= len(parts) <= MOST_ANSWERS:
        raise ValueError(f"{number.name}: two to {MOST_ANSWERS} answers are needed, with semicolons between them.")
    values = []
    for part in parts:
        try:
            values.append(units.to_core(units.parse_number(part), number.quantity, page.system))
        except ValueError as error:
            raise ValueError(f"{number.name}: {units.no_number(part, error)}") from error
    whole = [round(v) if number.whole else round(v, 9) for v in values]
    return number.name[0].upper() + number.name[1:], [value_answer(path, v) for v in whole]
