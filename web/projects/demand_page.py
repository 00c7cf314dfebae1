"""The Demand step: cut first, the uses, the year. Each view is a function of the sheet."""

from typing import Any

import numpy as np

from heat import accounts as acc
from heat.constants import HOURS_OF_MONTH, WATER_J_KGK
from heat.demand.profile import (
    as_it_is,
    circulation_watts,
    fuel_heat_kwh,
    household_litres,
    household_tap_litres,
    known_heating,
    shower_litres,
)  # fmt: skip
from heat.design import Design
from heat.design.needs import FUEL_KWH, SERIES, Demand
from heat.ledger import BOUGHT
from heat.prepare import mains_temperature, sun_of
from heat.sizing.ranking import BRIGHT_W_M2, SMALL_KWH_M2, rank_uses
from heat.sizing.ranking import uses as uses_by_hour
from heat.sun.plane import tilted_irradiance
from heat.weather.year import monthly_means, monthly_sums
from web.projects.drawing import date_of
from web.projects.lists import FIXTURES
from web.projects.reckon import reckon, weather_year
from web.projects.sheet import Sheet
from web.projects.site_page import best_plane
from web.projects.tables import mapping
from web.projects.typed import MONTHS
from web.ui import units

D = "demand."
VIEWS = {"cut": "Cut first", "uses": "Uses", "year": "The year"}
SHAPES = {
    "morning house": (0, 0, 0, 0, 1, 4, 14, 18, 10, 4, 2, 2, 3, 2, 1, 1, 2, 3, 5, 4, 3, 2, 1, 0),
    "evening house": (0, 0, 0, 0, 0, 1, 4, 6, 3, 2, 2, 3, 4, 2, 2, 2, 4, 8, 14, 16, 12, 8, 4, 1),
    "all day": (1, 1, 1, 1, 1, 2, 5, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 5, 4, 2, 1),
    "profile M": (
        0,
        0,
        0,
        0,
        0,
        0,
        0,
        161,
        42,
        21,
        10.5,
        21,
        31.5,
        0,
        10.5,
        10.5,
        10.5,
        0,
        31.5,
        10.5,
        73.5,
        150.5,
        0,
        0,
    ),
    "profile L": (
        0,
        0,
        0,
        0,
        0,
        0,
        0,
        171.5,
        392,
        21,
        10.5,
        21,
        31.5,
        0,
        10.5,
        10.5,
        10.5,
        0,
        31.5,
        10.5,
        73.5,
        371,
        0,
        0,
    ),
}
"""Shapes of the day to start from (parts, no unit): three kinds of household made up by us; EU 814/2013, annex III, for the
profiles."""
USES: dict[str, tuple[str, str, str, tuple[str, ...]]] = {
    # key: name, switch, what it is, fields
    "water": ("Hot water", f"{D}hot_water", "taps and showers of the house", (
        "people", "counted", "litres_per_person_day", "tap_c", "pattern", "weekend_factor", "leaks_l_day")),
    "circulation": ("Circulation", f"{D}circulation.fitted", "keeps the pipes to the taps warm", tuple(
        f"circulation.{n}" for n in ("loss_w", "length_m", "diameter_mm", "insulation_mm", "drop_k"))),
    "rooms": ("Space heating", f"{D}heating.fitted", "floor, radiators or air coil, by the weather", tuple(
        f"heating.{n}" for n in ("source", "fuel", "fuel_year", "fuel_other", "fuel_efficiency", "loss_w_k", "base_c", "room_c", "design_air_c", "supply_c", "return_c", "exponent",
                                 "reserve_c", "free_w", "window_m2", "storage_kwh_k"))),
    "pool": ("Pool surface", f"{D}pool.fitted", "what its water loses while in use", tuple(
        f"pool.{n}" for n in ("area_m2", "depth_m", "set_c", "indoor", "wind_share", "activity", "cover_saves", "cover_passes",
                              "exchanger_w_k", "heater_kw", "limit_c"))),
    "makeup": ("Pool make-up", "", "fresh water the pool takes", tuple(
        f"pool.{n}" for n in ("bathers_day", "fresh_l_bather", "fresh_l_day"))),
    "showers": ("Pool showers", f"{D}showers.fitted", "counted by the bather", tuple(
        f"showers.{n}" for n in ("count_day", "litres_each", "at_c", "weekend_factor"))),
    "load": ("Imported load", f"{D}process.fitted", "any heat, hour by hour", tuple(
        f"process.{n}" for n in ("supply_c", "return_c", "reserve_c", "weekend_factor"))),
}  # fmt: skip
RANK_NAMES = {"hot water": "water", "circulation": "circulation", "rooms": "rooms", "pool surface": "pool", "pool make-up": "makeup",
              "pool showers": "showers", "process": "load"}  # fmt: skip
TINTS = ("ink", "hatch", "cross", "bars", "dots", "plain", "dash")
KIND_WORDS = {"unglazed": "mat", "flat_selective": "flat", "tube_direct": "tubes"}


def demand_page(sheet: Sheet, **more: Any) -> dict[str, Any]:
    """The chosen view of the Demand step."""
    sheet.view = sheet.view if sheet.view in VIEWS else "uses"
    build = {"cut": cut_view, "year": year_view}.get(sheet.view, uses_view)
    return {"views": VIEWS, "next_line": next_line(sheet)} | build(sheet, **more)


def next_line(sheet: Sheet) -> str:
    """What the next steps take from here, in one line."""
    design = sheet.year.book.design
    found = uses_by_hour(design, weather_year(sheet.project.weather))
    need = sum(float(w.sum()) for w, _ in found.values()) / 1000.0
    if need < 0.5:
        return "Nothing is wanted in this year yet: give some month or use its share, and the scheme has work to do."
    names = ", ".join(found)
    return f"Site and scheme take from here: {sheet.show(need, 'kWh')} {sheet.energy_sign} a year for {names}."


# ---- cut first


def _heat_kwh(design: Design, demand: Demand, mains: np.ndarray) -> tuple[float, float]:
    """Heat of a year (kWh) that taps and circulation ask for."""
    lift = WATER_J_KGK * np.maximum(demand.tap_c - mains, 0.0) / 3.6e6
    return float((household_tap_litres(demand, mains) * lift).sum()), float(circulation_watts(demand).sum()) / 1000.0


def cut_view(sheet: Sheet, **more: Any) -> dict[str, Any]:
    """Fixtures, leaks and circulation now and after; litres, heat and money before and after; what the sun then carries."""
    book = sheet.year.book
    design, weather = book.design, weather_year(sheet.project.weather)
    after, before = design.demand, as_it_is(design.demand)
    mains = mains_temperature(design.site.mains, weather, design.site.latitude_deg)
    heat_after, loop_after = _heat_kwh(design, after, mains)
    heat_before, loop_before = _heat_kwh(design, before, mains)
    old = reckon(design.model_copy(update={"demand": before}), sheet.project.weather).book
    bought = book.total(*BOUGHT)
    price = book.cost() / bought if bought > 1 else 0.0
    if not price:
        price = old.cost() / max(old.total(*BOUGHT), 1e-9)
    saved = heat_before + loop_before - heat_after - loop_after
    show, number = sheet.show, units.number
    currency = sheet.project.currency

    def line(
        name: str, a: float, b: float, quantity: str, places: int = 0, sign: str = "", red: bool = False
    ) -> dict[str, Any]:
        return {"name": name, "before": show(a, quantity, places), "after": show(b, quantity, places),
                "less": show(a - b, quantity, places), "sign": sign or sheet.sign(quantity), "red": red,
                "bar_before": 200.0 if a > 0 else 0.0, "bar_after": round(200 * b / a, 1) if a > 0 else 0.0}  # fmt: skip

    lines = [
        line("Hot water drawn, a day", before.litres_per_day, after.litres_per_day, "L"),
        line("Heat of hot water, a year", heat_before, heat_after, "kWh"),
    ]
    if after.circulation.fitted:
        lines.append(line("Heat of circulation, a year", loop_before, loop_after, "kWh"))
    lines += [
        line("That heat, if all were bought", price * (heat_before + loop_before), price * (heat_after + loop_after), "1", 0, currency, True),
        line("Bought beside this system", old.total(*BOUGHT), bought, "kWh", 0, "", True),
        line("Its money", old.cost(), book.cost(), "1", 0, currency, True),
    ]  # fmt: skip
    fixtures = []
    for i, fixture in enumerate(design.demand.fixtures):
        people = design.demand.people
        fixtures.append({
            "index": i, "name": sheet.pen(f"{D}fixtures.{i}.name", f"fixture {i + 1}"),
            "pens": [sheet.pen(f"{D}fixtures.{i}.{n}") for n in ("flow_l_min", "minutes_day", "flow_after_l_min", "minutes_after_day", "at_c")],
            "before": show(people * fixture.litres_a_person(False), "L", 0), "after": show(people * fixture.litres_a_person(True), "L", 0),
        })  # fmt: skip
    loop = [f"{D}before.circulation_mm", f"{D}circulation.insulation_mm", f"{D}before.circulation_hours"]
    return {
        "fixtures": fixtures, "presets": list(FIXTURES), "lines": lines, "saves": saved > 0.5, "nothing": abs(saved) < 0.5,
        "saved": show(abs(saved), "kWh"), "saved_money": number(price * abs(saved), 0),
        "share": number(100 * saved / max(heat_before + loop_before, 1e-9), 0),
        "fraction_before": number(100 * old.fractions.at_tap, 1), "fraction_after": number(100 * book.fractions.at_tap, 1),
        "counted": design.demand.counted, "loop_pens": [sheet.pen(p) for p in loop] if after.circulation.fitted else [],
        "loop_hours": sum(after.circulation.hours_on),
    }  # fmt: skip


# ---- the uses


def in_use(demand: Demand) -> list[str]:
    """Keys of the uses that are on."""
    pool = demand.pool
    on = {
        "water": demand.hot_water, "circulation": demand.circulation.fitted, "rooms": demand.heating.fitted,
        "pool": pool.fitted, "makeup": pool.fitted, "showers": demand.showers.fitted, "load": demand.process.fitted,
    }  # fmt: skip
    return [key for key, is_on in on.items() if is_on]


def uses_view(sheet: Sheet, upload: Any = None, **more: Any) -> dict[str, Any]:
    """The list of uses, and the chosen one with its values, shapes, months and measured series."""
    design, weather = sheet.year.book.design, weather_year(sheet.project.weather)
    demand = design.demand
    on = in_use(demand)
    chosen = sheet.chosen if sheet.chosen in on else (on[0] if on else "water")
    hourly = {RANK_NAMES[name]: watts for name, (watts, _) in uses_by_hour(design, weather).items()}
    need = {name: float(watts.sum()) / 1000.0 for name, watts in hourly.items()}
    whole = max(sum(need.values()), 1e-9)
    name, _switch, words, fields = USES[chosen]
    fields = tuple(f for f in fields if _matters(f, sheet.document["demand"]))
    return {
        "uses": [
            {"key": k, "name": USES[k][0], "switch": USES[k][1], "words": USES[k][2], "need": sheet.show(need.get(k, 0.0), "kWh"),
             "bar": round(150 * need.get(k, 0.0) / whole, 1), "chosen": k == chosen, "removable": bool(USES[k][1]) and len(on) > 1}
            for k in on
        ],
        "need_year": sheet.show(sum(need.values()), "kWh"),
        "offers": [{"switch": USES[k][1], "name": USES[k][0], "key": k, "words": USES[k][2]} for k in USES if k not in on and USES[k][1]],
        "use": {"key": chosen, "name": name, "words": words, "pens": [sheet.pen(D + f) for f in fields]},
        "litres_day": sheet.show(demand.litres_per_day, "L", 0), "litre": sheet.sign("L"),
        "map": mapping(sheet, upload) if upload else None,
        "by_month": _by_month(sheet, hourly.get(chosen, np.zeros(8760))) if chosen != "water" else [],
        **_detail(sheet, chosen, demand),
    }  # fmt: skip


def _by_month(sheet: Sheet, watts: np.ndarray) -> list[dict[str, Any]]:
    """One use by month, as bars with their numbers."""
    months = monthly_sums(watts) / 1000.0
    top = max(float(months.max()), 1e-9)
    return [
        {"name": MONTHS[m], "text": sheet.show(float(months[m]), "kWh"), "x": 16 + 48 * m,
         "y": round(110 - 90 * float(months[m]) / top, 1), "text_y": round(105 - 90 * float(months[m]) / top, 1),
         "h": round(90 * float(months[m]) / top, 1)}
        for m in range(12)
    ]  # fmt: skip


def _matters(field: str, demand: dict[str, Any]) -> bool:
    """Whether a field says anything as things stand."""
    fuel = demand["heating"]["source"] == "fuel"
    if field == "litres_per_person_day":
        return demand["counted"] == "person"
    if field == "heating.loss_w_k":
        return not fuel
    if field.startswith("heating.fuel"):
        return fuel
    if field.startswith("circulation.") and field.split(".")[1] in ("length_m", "diameter_mm", "insulation_mm"):
        return demand["circulation"]["loss_w"] is None
    return not (field == "pool.wind_share" and demand["pool"]["indoor"])


def _detail(sheet: Sheet, chosen: str, demand: Demand) -> dict[str, Any]:
    """What the chosen use shows beneath its values."""
    strips: list[dict[str, Any]] = []
    found: dict[str, Any] = {"strips": strips}

    def strip(title: str, path: str, names: list[str], note: str = "") -> None:
        strips.append({"title": title, "note": note, "pens": [sheet.pen(f"{path}.{i}", f"{title}, {n}") for i, n in enumerate(names)],
                       "names": names})  # fmt: skip

    months = list(MONTHS)
    hours = [str(h) for h in range(24)]
    if chosen == "water":
        found["bars"] = bars(sheet, f"{D}hour_shape", household_litres(demand))
        if demand.weekend_shape is not None:
            found["weekend_bars"] = bars(sheet, f"{D}weekend_shape", household_litres(demand), weekend=True)
        found |= {"shapes": [(n, " ".join(map(str, s))) for n, s in SHAPES.items()], "patterned": demand.pattern != "shape",
                  "measured": demand.measured_l is not None, "holidays": sheet.pen(f"{D}holidays"),
                  "first_weekday": sheet.pen(f"{D}first_weekday"), "weekend_path": f"{D}weekend_shape"}  # fmt: skip
        strip("Months against the mean", f"{D}month_factors", months, "1 is as much as ever, 0 nothing")
    elif chosen == "circulation":
        watts = circulation_watts(demand)
        found["says"] = f"It loses {sheet.show(float(watts.max()), 'W', 0)} {sheet.sign('W')} while it runs."
        strip("Hours it runs", f"{D}circulation.hours_on", hours)
        strip("Months it runs", f"{D}circulation.months", months)
    elif chosen == "rooms":
        found |= _rooms(sheet, demand)
        strip("Months it runs", f"{D}heating.months", months)
    elif chosen == "pool":
        strip("Months in use", f"{D}pool.months", months)
        if demand.pool.set_by_month is not None:
            strip(f"Wanted at, {sheet.temperature_sign}", f"{D}pool.set_by_month", months)
        strip("Hours covered", f"{D}pool.covered", hours)
        found |= {"pool_presets": ["night cover", "no cover", "pool by month" if demand.pool.set_by_month is None else "pool all year alike"],
                  "hall": [sheet.pen(f"{D}pool.{n}") for n in ("hall_c", "hall_humidity")] if demand.pool.indoor else []}  # fmt: skip
    elif chosen == "makeup":
        found["says"] = (
            "Water for bathers, filter and leaks, warmed up from the mains. What evaporates is replaced in the year as well."
        )
    elif chosen == "showers":
        found["bars"] = bars(sheet, f"{D}showers.hour_shape", shower_litres(demand))
        found["shapes"] = []
        strip("Months against the mean", f"{D}showers.month_factors", months, "1 is as much as ever, 0 nothing")
    else:
        whole = len(demand.process.hourly_kw) == SERIES[-1]
        found |= {"measured_heat": whole, "says": "Read from a table." if whole else ""}
        if len(demand.process.hourly_kw) == SERIES[0]:
            found |= {"bars": bars(sheet, f"{D}process.hourly_kw", None), "shapes": []}
        strip("Months against the mean", f"{D}process.month_factors", months, "1 is as much as ever, 0 nothing")
    return found


def bars(sheet: Sheet, path: str, litres: np.ndarray | None, weekend: bool = False) -> dict[str, Any]:
    """Twenty-four bars that are dragged, and the litres they stand for on an ordinary day; without litres, power."""
    sheet.told.add(path)
    shape = np.array(_at(sheet.document, path), dtype=float)
    if litres is None:
        shape = np.array([units.shown(float(power), "kW", sheet.system) for power in shape])
        beneath = [sheet.sign("kW")] * 24
    else:
        days = litres.reshape(365, 24).sum(axis=1)
        share = shape / max(float(shape.sum()), 1e-9) * float(days.max() if weekend else np.median(days))
        beneath = [sheet.show(float(part), "L", 1 if sheet.system == "si" else 2) for part in share]
    top = max(float(shape.max()), 1e-6)
    return {
        "path": path, "seen": repr(_at(sheet.document, path)), "top": top, "refusal": sheet.refusals.get(path),
        "bars": [
            {"hour": h, "weight": units.field_text(shape[h], "1", "si"), "height": round(110 * shape[h] / top, 1),
             "y": round(118 - 110 * shape[h] / top, 1), "litres": beneath[h]}
            for h in range(24)
        ],
    }  # fmt: skip


def _at(document: dict[str, Any], path: str) -> Any:
    value: Any = document
    for name in path.split("."):
        value = value[name]
    return value


def _rooms(sheet: Sheet, demand: Demand) -> dict[str, Any]:
    """What last year's fuel says of the building, with the site's own degree hours."""
    weather = weather_year(sheet.project.weather)
    heating = known_heating(demand.heating, weather, demand.first_weekday)
    hours = float(np.maximum(heating.base_c - weather.air_c, 0.0).sum()) / 1000.0
    found: dict[str, Any] = {
        "emitters": ["floor", "radiators", "air coil"],
        "says": f"{units.number(hours, 1)} thousand kelvin hours below the base temperature in this year.",
    }
    if demand.heating.source == "fuel":
        burnt = (demand.heating.fuel_year - demand.heating.fuel_other) * FUEL_KWH[demand.heating.fuel]
        found["says"] += (
            f" Fuel for {sheet.show(burnt, 'kWh')} {sheet.energy_sign} gave the rooms "
            f"{sheet.show(fuel_heat_kwh(demand.heating), 'kWh')}: the building loses "
            f"{sheet.show(heating.loss_w_k, 'W/K', 0)} {sheet.sign('W/K')}."
        )
    return found


# ---- the year


def year_view(sheet: Sheet, **more: Any) -> dict[str, Any]:
    """Demand by month stacked by use against the sun, a week at the hour, what is bought, and which use comes first."""
    book = sheet.year.book
    design, weather = book.design, weather_year(sheet.project.weather)
    found = uses_by_hour(design, weather)
    tilt, azimuth, _ = best_plane(sheet)
    best = tilted_irradiance(weather, sun_of(design, weather), tilt_deg=tilt, azimuth_deg=azimuth,
                             reflectance=design.site.ground_reflectance, sky=design.reckoning.sky)  # fmt: skip
    area = design.system.collector.total_gross_m2
    sun = monthly_sums(best.total_w_m2()) / 1000.0 * area
    months = {name: monthly_sums(watts) / 1000.0 for name, (watts, _) in found.items()}
    stacked = sum(months.values())
    top = max(float(np.max(stacked)), float(sun.max()), 1e-9)
    missed = book.by_month(*BOUGHT, acc.MISSING)
    need = np.asarray(stacked)
    mains = monthly_means(book.mains_c)
    show = sheet.show
    fills = dict(zip(months, TINTS, strict=False))
    columns = []
    for m in range(12):
        base, parts = 166.0, []
        for name, values in months.items():
            height = 150.0 * float(values[m]) / top
            base -= height
            parts.append({"fill": fills[name], "y": round(base, 1), "h": round(height, 1)})
        columns.append({"name": MONTHS[m], "x": 46 + 41 * m, "parts": parts, "sun_y": round(166 - 150 * float(sun[m]) / top, 1),
                        "need": show(need[m], "kWh"), "missed": show(missed[m], "kWh"), "mains": show(mains[m], "degC", 1)})  # fmt: skip
    week = _week(sheet, found, fills)
    return {
        "columns": columns, "axis_top": show(top, "kWh"), "axis_mid": show(top / 2, "kWh"),
        "sun_d": "".join(f"{'L' if i else 'M'}{c['x'] + 15},{c['sun_y']}" for i, c in enumerate(columns)),
        "sun_end": columns[6]["sun_y"] - 6, "area": f"{show(area, 'm2', 1)} {sheet.sign('m2')}", "best": f"{tilt:.0f}° facing {azimuth:.0f}°",
        "keys": [{"name": name, "fill": fill} for name, fill in fills.items()],
        "need_year": show(float(need.sum()), "kWh"), "missed_year": show(float(missed.sum()), "kWh"),
        "mains_year": show(float(mains.mean()), "degC", 1),
        "ranking": ranking(sheet), "kinds": list(KIND_WORDS.values()),
        "bright": f"{show(BRIGHT_W_M2, 'W/m2')} {sheet.sign('W/m2')}",
        "small": f"{show(1, 'm2')} {sheet.sign('m2')} for each {show(SMALL_KWH_M2, 'kWh')} {sheet.sign('kWh')}",
        **week,
    }  # fmt: skip


def _week(sheet: Sheet, found: dict[str, Any], fills: dict[str, str]) -> dict[str, Any]:
    """Seven days at the hour from a chosen day: each use stacked, in kW."""
    first = min(max(sheet.day if sheet.day is not None else 14, 0), 358)
    hours = slice(24 * first, 24 * first + 168)
    rows = {name: watts[hours] / 1000.0 for name, (watts, _) in found.items()}
    total = sum(rows.values())
    top = max(float(np.max(total)), 1e-9)
    base = np.zeros(168)
    areas = []
    for name, values in rows.items():
        upper = base + values
        edge = "".join(f"V{110 - 96 * upper[h] / top:.1f}H{44 + 3 * (h + 1)}" for h in range(168))
        back = "".join(f"V{110 - 96 * base[h] / top:.1f}H{44 + 3 * h}" for h in range(167, -1, -1))
        areas.append({"fill": fills[name], "d": f"M44,110{edge}{back}Z"})
        base = upper
    month = MONTHS.index(date_of(first).split()[1])
    return {
        "areas": areas, "week_top": sheet.show(top, "kW", 1), "power": sheet.sign("kW"),
        "week_days": [{"x": 44 + 72 * d + 36, "line": 44 + 72 * d, "name": date_of(first + d)} for d in range(7)],
        "week_of": date_of(first), "week_first": first,
        "weeks": [{"day": sum(HOURS_OF_MONTH[:m]) // 24 + 14, "name": MONTHS[m], "here": m == month} for m in range(12)],
    }  # fmt: skip


def ranking(sheet: Sheet) -> list[dict[str, Any]]:
    """Which use first: the uses in the order a small system carries them, with the figures behind it."""
    ranks = rank_uses(sheet.year.book.design, weather_year(sheet.project.weather))
    return [
        {"use": r.use, "reason": r.reason, "need": sheet.show(r.year_kwh, "kWh"), "at": sheet.show(r.collector_c, "degC", 0),
         "efficiency": [units.number(100 * r.efficiency[k], 0) for k in KIND_WORDS],
         "match": units.number(100 * r.match, 0), "carried": units.number(100 * r.carried, 0)}
        for r in ranks
    ]  # fmt: skip
