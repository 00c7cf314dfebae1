"""The uses of heat: a list to add to, and the chosen one with its values, shapes and months."""

import numpy as np

from heat.common.documents import Document, value_at
from heat.demand.profile import circulation_watts, household_litres, shower_litres
from heat.demand.rooms import fuel_heat_kwh, known_heating
from heat.demand.shapes import SHAPES
from heat.design.needs import Demand
from heat.design.rooms import FUEL_KWH, SERIES
from heat.sizing.ranking import uses as uses_by_hour
from heat.weather.year import monthly_sums
from web.editor.design_page import DesignPage
from web.editor.tables import mapping
from web.ui import units
from web.ui.calendar import MONTHS
from web.ui.rows import Row

D = "demand."
USES: dict[str, tuple[str, str, str, tuple[str, ...]]] = {
    # key: name, switch, what it is, fields
    "water": (
        "Hot water",
        f"{D}hot_water",
        "taps and showers of the house",
        (
            "people",
            "counted",
            "litres_per_person_day",
            "litres_a_draw",
            "tap_c",
            "pattern",
            "weekend_factor",
            "leaks_l_day",
        ),
    ),
    "circulation": (
        "Circulation",
        f"{D}circulation.fitted",
        "keeps the pipes to the taps warm",
        tuple(f"circulation.{n}" for n in ("loss_w", "length_m", "diameter_mm", "insulation_mm", "drop_k")),
    ),
    "rooms": (
        "Space heating",
        f"{D}heating.fitted",
        "floor, radiators or air coil, by the weather",
        tuple(
            f"heating.{n}"
            for n in (
                "source",
                "fuel",
                "fuel_year",
                "fuel_other",
                "fuel_efficiency",
                "loss_w_k",
                "base_c",
                "room_c",
                "set_back_k",
                "heat_up",
                "design_air_c",
                "supply_c",
                "return_c",
                "exponent",
                "reserve_c",
                "free_w",
                "window_m2",
                "storage_kwh_k",
                "coil.fitted",
                "coil.ua_w_k",
                "second.fitted",
                "second.order",
                "second.power_kw",
                "second.share",
                "second.supply_c",
                "second.return_c",
                "second.exponent",
                "slab.fitted",
                "slab.area_m2",
                "slab.depth_m",
                "slab.heat_kj_m3k",
                "slab.charge_w_m2k",
                "slab.room_w_m2k",
                "slab.ground_w_m2k",
                "slab.ground_c",
                "slab.most_c",
                "slab.sun_w_m2",
                "slab.reserve_c",
            )
        ),
    ),
    "fresh": (
        "Fresh air",
        f"{D}fresh_air.fitted",
        "outdoor air warmed before it enters",
        tuple(f"fresh_air.{n}" for n in ("flow_m3_h", "recovered", "from_c", "to_c", "approach_k", "reserve_c")),
    ),
    "pool": (
        "Pool surface",
        f"{D}pool.fitted",
        "what its water loses while in use",
        tuple(
            f"pool.{n}"
            for n in (
                "area_m2",
                "depth_m",
                "set_c",
                "indoor",
                "wind_share",
                "hall_air_m_s",
                "evaporation",
                "activity",
                "cover_saves",
                "cover_passes",
                "exchanger_w_k",
                "heater_kw",
                "limit_c",
            )
        ),
    ),
    "makeup": (
        "Pool make-up",
        "",
        "fresh water the pool takes",
        tuple(f"pool.{n}" for n in ("bathers_day", "fresh_l_bather", "fresh_l_day", "surface")),
    ),
    "showers": (
        "Pool showers",
        f"{D}showers.fitted",
        "counted by the bather",
        tuple(f"showers.{n}" for n in ("count_day", "litres_each", "at_c", "weekend_factor")),
    ),
    "load": (
        "Imported load",
        f"{D}process.fitted",
        "any heat, hour by hour",
        tuple(f"process.{n}" for n in ("supply_c", "return_c", "reserve_c", "weekend_factor")),
    ),
}
FRESH_WORDS = (
    "Give the building’s loss without this air: it is warmed here, before it enters, by the store’s cooler water too."
)
MAKEUP_WORDS = (
    "Water for bathers, filter and leaks, warmed up from the mains. What evaporates is replaced in the year as well."
)
RANK_NAMES = {
    "hot water": "water",
    "circulation": "circulation",
    "rooms": "rooms",
    "fresh air": "fresh",
    "pool surface": "pool",
    "pool make-up": "makeup",
    "pool showers": "showers",
    "process": "load",
}


def in_use(demand: Demand) -> list[str]:
    """Keys of the uses that are on."""
    pool = demand.pool
    on = {
        "water": demand.hot_water,
        "circulation": demand.circulation.fitted,
        "rooms": demand.heating.fitted,
        "fresh": demand.fresh_air.fitted,
        "pool": pool.fitted,
        "makeup": pool.fitted,
        "showers": demand.showers.fitted,
        "load": demand.process.fitted,
    }
    return [key for key, is_on in on.items() if is_on]


def uses_view(page: DesignPage) -> Row:
    """The list of uses, and the chosen one with its values, shapes, months and measured series."""
    design, weather = page.year.book.design, page.weather
    demand = design.demand
    on = in_use(demand)
    chosen = page.state.chosen if page.state.chosen in on else (on[0] if on else "water")
    hourly = {RANK_NAMES[name]: watts for name, (watts, _) in uses_by_hour(design, weather).items()}
    need = {name: float(watts.sum()) / 1000.0 for name, watts in hourly.items()}
    whole = max(sum(need.values()), 1e-9)
    name, _switch, words, fields = USES[chosen]
    fields = tuple(f for f in fields if _matters(f, page.document["demand"]))
    return {
        "uses": [
            {
                "key": k,
                "name": USES[k][0],
                "switch": USES[k][1],
                "words": USES[k][2],
                "need": page.show(need.get(k, 0.0), "kWh"),
                "bar": round(150 * need.get(k, 0.0) / whole, 1),
                "chosen": k == chosen,
                "removable": bool(USES[k][1]) and len(on) > 1,
            }
            for k in on
        ],
        "need_year": page.show(sum(need.values()), "kWh"),
        "offers": [
            {"switch": USES[k][1], "name": USES[k][0], "key": k, "words": USES[k][2]}
            for k in USES
            if k not in on and USES[k][1]
        ],
        "use": {"key": chosen, "name": name, "words": words, "fields": [page.field(D + f) for f in fields]},
        "litres_day": page.show(demand.litres_per_day, "L", 0),
        "litre": page.sign("L"),
        "map": mapping(page, page.upload) if page.upload and page.upload.purpose == "load" else None,
        "by_month": _by_month(page, hourly.get(chosen, np.zeros(8760))) if chosen != "water" else [],
        **_detail(page, chosen, demand),
    }


def _by_month(page: DesignPage, watts: np.ndarray) -> list[dict[str, object]]:
    """One use by month, as bars with their numbers."""
    months = monthly_sums(watts) / 1000.0
    top = max(float(months.max()), 1e-9)
    return [
        {
            "name": MONTHS[m],
            "text": page.show(float(months[m]), "kWh"),
            "x": 16 + 48 * m,
            "y": round(110 - 90 * float(months[m]) / top, 1),
            "text_y": round(105 - 90 * float(months[m]) / top, 1),
            "h": round(90 * float(months[m]) / top, 1),
        }
        for m in range(12)
    ]


def _matters(field: str, demand: Document) -> bool:
    """Whether a field says anything as things stand."""
    fuel = demand["heating"]["source"] == "fuel"
    if field in ("litres_per_person_day", "litres_a_draw"):
        return bool(demand["counted"] == "person")
    if field == "heating.loss_w_k":
        return not fuel
    if field.startswith("heating.fuel"):
        return fuel
    if field.startswith("circulation.") and field.split(".")[1] in ("length_m", "diameter_mm", "insulation_mm"):
        return demand["circulation"]["loss_w"] is None
    if field == "heating.heat_up":
        return bool(demand["heating"]["set_back_k"] > 0.0)
    for name in ("coil", "second", "slab"):
        if field.startswith(f"heating.{name}.") and not field.endswith("fitted"):
            order = demand["heating"]["second"]["order"]
            other = "heating.second.power_kw" if order == "beside" else "heating.second.share"
            return bool(demand["heating"][name]["fitted"]) and field != other
    if field == "pool.hall_air_m_s":
        return bool(demand["pool"]["indoor"])
    return not (field in ("pool.wind_share", "pool.evaporation") and demand["pool"]["indoor"])


def _detail(page: DesignPage, chosen: str, demand: Demand) -> dict[str, object]:
    """What the chosen use shows beneath its values."""
    strips: list[dict[str, object]] = []
    found: dict[str, object] = {"strips": strips}

    def strip(title: str, path: str, names: list[str], note: str = "") -> None:
        strips.append(
            {
                "title": title,
                "note": note,
                "fields": [page.field(f"{path}.{i}", f"{title}, {n}") for i, n in enumerate(names)],
                "names": names,
            }
        )

    months = list(MONTHS)
    hours = [str(h) for h in range(24)]
    if chosen == "water":
        found["bars"] = bars(page, f"{D}hour_shape", household_litres(demand))
        if demand.weekend_shape is not None:
            found["weekend_bars"] = bars(page, f"{D}weekend_shape", household_litres(demand), weekend=True)
        found |= {
            "shapes": [(n, " ".join(map(str, s))) for n, s in SHAPES.items()],
            "patterned": demand.pattern != "shape",
            "measured": demand.measured_l is not None,
            "holidays": page.field(f"{D}holidays"),
            "first_weekday": page.field(f"{D}first_weekday"),
            "weekend_path": f"{D}weekend_shape",
        }
        strip("Months against the mean", f"{D}month_factors", months, "1 is as much as ever, 0 nothing")
    elif chosen == "fresh":
        strip("Hours it runs", f"{D}fresh_air.hours_on", hours)
        strip("Months it runs", f"{D}fresh_air.months", months)
        found["says"] = FRESH_WORDS
    elif chosen == "circulation":
        watts = circulation_watts(demand)
        found["says"] = f"It loses {page.show(float(watts.max()), 'W', 0)} {page.sign('W')} while it runs."
        strip("Hours it runs", f"{D}circulation.hours_on", hours)
        strip("Months it runs", f"{D}circulation.months", months)
    elif chosen == "rooms":
        found |= _rooms(page, demand)
        strip("Months it runs", f"{D}heating.months", months)
        if demand.heating.set_back_k > 0.0:
            strip("Hours set back", f"{D}heating.set_back_hours", hours)
    elif chosen == "pool":
        strip("Months in use", f"{D}pool.months", months)
        if demand.pool.set_by_month is not None:
            strip(f"Wanted at, {page.temperature_sign}", f"{D}pool.set_by_month", months)
        strip("Hours covered", f"{D}pool.covered", hours)
        found |= {
            "pool_presets": [
                "night cover",
                "no cover",
                "pool by month" if demand.pool.set_by_month is None else "pool all year alike",
            ],
            "hall": [page.field(f"{D}pool.{n}") for n in ("hall_c", "hall_humidity")] if demand.pool.indoor else [],
        }
    elif chosen == "makeup":
        found["says"] = MAKEUP_WORDS
    elif chosen == "showers":
        found["bars"] = bars(page, f"{D}showers.hour_shape", shower_litres(demand))
        found["shapes"] = []
        strip("Months against the mean", f"{D}showers.month_factors", months, "1 is as much as ever, 0 nothing")
    else:
        whole = len(demand.process.hourly_kw) == SERIES[-1]
        found |= {"measured_heat": whole, "says": "Read from a table." if whole else ""}
        if len(demand.process.hourly_kw) == SERIES[0]:
            found |= {"bars": bars(page, f"{D}process.hourly_kw", None), "shapes": []}
        strip("Months against the mean", f"{D}process.month_factors", months, "1 is as much as ever, 0 nothing")
    return found


def bars(page: DesignPage, path: str, litres: np.ndarray | None, weekend: bool = False) -> dict[str, object]:
    """Twenty-four bars that are dragged, and the litres they stand for on an ordinary day; without litres, power."""
    page.displayed_paths.add(path)
    shape = np.array(value_at(page.document, path), dtype=float)
    if litres is None:
        shape = np.array([units.to_display(float(power), "kW", page.system) for power in shape])
        beneath = [page.sign("kW")] * 24
    else:
        days = litres.reshape(365, 24).sum(axis=1)
        share = shape / max(float(shape.sum()), 1e-9) * float(days.max() if weekend else np.median(days))
        beneath = [page.show(float(part), "L", 1 if page.system == "si" else 2) for part in share]
    top = max(float(shape.max()), 1e-6)
    return {
        "path": path,
        "expected": repr(value_at(page.document, path)),
        "top": top,
        "refusal": page.refusals.get(path),
        "bars": [
            {
                "hour": h,
                "weight": f"{round(shape[h], 3):g}",
                "height": round(110 * shape[h] / top, 1),
                "y": round(118 - 110 * shape[h] / top, 1),
                "litres": beneath[h],
            }
            for h in range(24)
        ],
    }


def _rooms(page: DesignPage, demand: Demand) -> Row:
    """What last year's fuel says of the building, with the site's own degree hours."""
    weather = page.weather
    heating = known_heating(demand.heating, weather, demand.first_weekday)
    hours = float(np.maximum(heating.base_c - weather.air_c, 0.0).sum()) / 1000.0
    found: Row = {
        "emitters": ["floor", "radiators", "air coil"],
        "says": f"{units.number(hours, 1)} thousand kelvin hours below the base temperature in this year.",
    }
    if demand.heating.source == "fuel":
        burnt = (demand.heating.fuel_year - demand.heating.fuel_other) * FUEL_KWH[demand.heating.fuel]
        found["says"] += (
            f" Fuel for {page.show(burnt, 'kWh')} {page.energy_sign} gave the rooms "
            f"{page.show(fuel_heat_kwh(demand.heating), 'kWh')}: the building loses "
            f"{page.show(heating.loss_w_k, 'W/K', 0)} {page.sign('W/K')}."
        )
    return found
