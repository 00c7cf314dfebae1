"""The Site step: place, weather, planes, horizon. Each view is a function of the sheet."""

from collections import OrderedDict
from dataclasses import dataclass
from math import cos, radians, sin
from threading import Lock
from typing import Any

import numpy as np

from heat.constants import HOURS_OF_MONTH
from heat.design import Design
from heat.design.place import Plane, SurveyedPlane
from heat.prepare import mains_temperature, sun_of
from heat.sun.shade import has_horizon, sky_seen
from heat.sun.survey import WET_KG_M2, Sun, best_orientation, collectors_that_fit, plane_sun_account, shaded_months
from heat.weather.place import ground_m, standard_offset_h
from heat.weather.year import WeatherYear, monthly_means, monthly_sums
from web.demo.climates import CLIMATES
from web.projects import horizon
from web.projects.drafts import means_form
from web.projects.models import WeatherFile
from web.projects.reckon import weather_year
from web.projects.sheet import Pen, Sheet
from web.projects.tables import mapping
from web.projects.typed import COMPASS, MONTHS, declination, obstacle_beside
from web.ui import units
from web.ui.png import tinted

CARPET_TOP_W_M2 = 1000.0
VIEWS = {"place": "Place", "weather": "Weather", "planes": "Planes", "horizon": "Horizon"}
KINDS = {"roof": "roof face", "flat_roof": "flat roof", "wall": "wall", "ground": "ground rack", "awning": "awning"}
DAYS = np.array(HOURS_OF_MONTH) / 24
_BEST: "OrderedDict[tuple[object, ...], tuple[WeatherYear, tuple[float, float, float]]]" = OrderedDict()
_BEST_LOCK = Lock()


@dataclass(frozen=True)
class Chosen:
    """The plane a view looks at: a surveyed one, or the design's own."""

    key: str
    index: int
    plane: Plane
    surveyed: SurveyedPlane | None

    @property
    def path(self) -> str:
        return f"site.planes.{self.index}." if self.surveyed else "plane."

    @property
    def name(self) -> str:
        return f"{self.surveyed.key} {self.surveyed.name}" if self.surveyed else "the design’s plane"


def as_plane(design: Design, surveyed: SurveyedPlane) -> Plane:
    """A surveyed plane with the design's collectors on it."""
    return design.plane.model_copy(update={
        "on": surveyed.key, "tilt_deg": surveyed.tilt_deg, "azimuth_deg": surveyed.azimuth_deg,
        "overhang": surveyed.overhang,
    })  # fmt: skip


def chosen_plane(sheet: Sheet) -> Chosen:
    """The plane asked for, else the one the design stands on, else the first, else the design's own."""
    design = sheet.year.book.design
    planes = design.site.planes
    wanted = sheet.chosen if any(p.key == sheet.chosen for p in planes) else design.plane.on
    for index, surveyed in enumerate(planes):
        if surveyed.key == wanted:
            return Chosen(surveyed.key, index, as_plane(design, surveyed), surveyed)
    if planes and sheet.chosen:
        return Chosen(planes[0].key, 0, as_plane(design, planes[0]), planes[0])
    return Chosen("", -1, design.plane, None)


def on_plane(sheet: Sheet, plane: Plane) -> Sun:
    """Sun on a plane and what its horizon takes."""
    design = sheet.year.book.design.model_copy(update={"plane": plane})
    return plane_sun_account(weather_year(sheet.project.weather), sun_of(design, _weather(sheet)), design)


def _weather(sheet: Sheet) -> WeatherYear:
    return weather_year(sheet.project.weather)


def best_plane(sheet: Sheet) -> tuple[float, float, float]:
    """Best tilt and azimuth (deg) for the year's sun and that sun (kWh/m²), kept by weather and place."""
    design, weather = sheet.year.book.design, _weather(sheet)
    site = design.site
    key = (
        id(weather),
        site.latitude_deg,
        site.longitude_deg,
        site.elevation_m,
        site.ground_reflectance,
        design.reckoning.sky,
    )
    with _BEST_LOCK:
        if key in _BEST:
            return _BEST[key][1]
    found = best_orientation(weather, sun_of(design, weather), site.ground_reflectance, design.reckoning.sky)
    with _BEST_LOCK:
        _BEST[key] = (weather, found)
        while len(_BEST) > 8:
            _BEST.popitem(last=False)
    return found


def site_page(sheet: Sheet, **more: Any) -> dict[str, Any]:
    """The chosen view of the Site step."""
    design = sheet.year.book.design
    sheet.view = sheet.view if sheet.view in VIEWS else "place"
    north = design.site.latitude_deg >= 0
    common = {
        "views": VIEWS,
        "hemisphere": "north" if north else "south",
        "toward": "south (180°)" if north else "north (0°)",
        "equator_word": "south" if north else "north",
        "next_line": next_line(sheet),
    }
    build = {"weather": weather_view, "planes": planes_view, "horizon": horizon_view, "place": place_view}[sheet.view]
    return common | build(sheet, **more)


def next_line(sheet: Sheet) -> str:
    """What the scheme needs of the site, in one line."""
    design, file = sheet.year.book.design, sheet.project.weather
    plane = design.plane
    stands = next((p.name for p in design.site.planes if p.key == plane.on), "")
    roof = f"{stands or 'a plane'} {plane.tilt_deg:.0f}° steep facing {plane.azimuth_deg:.0f}°"
    sky = "horizon drawn" if has_horizon(design.site) else "no horizon drawn yet, so open sky"
    year = "a made-up year" if file.made_up else f"a year from {file.kind}"
    return f"The scheme takes from here: {year}, {roof}, {sky}."


def place_view(sheet: Sheet, **more: Any) -> dict[str, Any]:
    """Coordinates, the outline to click on, clock, height, needle, cold water."""
    design, weather = sheet.year.book.design, _weather(sheet)
    site = design.site
    offset = standard_offset_h(site.latitude_deg, site.longitude_deg)
    turned = declination(sheet.document["site"])
    apart = ((weather.latitude_deg - site.latitude_deg) ** 2
             + ((weather.longitude_deg - site.longitude_deg) * cos(radians(site.latitude_deg))) ** 2) ** 0.5  # fmt: skip
    mains = monthly_means(mains_temperature(site.mains, weather, site.latitude_deg))
    ground = ground_m(site.latitude_deg, site.longitude_deg)
    show = sheet.show
    return {
        "cross": {"x": round(site.longitude_deg + 180, 2), "y": round(90 - site.latitude_deg, 2)},
        "dms": f"{dms(site.latitude_deg, 'NS')}, {dms(site.longitude_deg, 'EW')}",
        "clock": clock_text(offset), "weather_clock": clock_text(weather.utc_offset_h),
        "clock_differs": abs(weather.utc_offset_h - offset) > 1.01,
        "declination": needle(turned), "ground": f"{show(ground, 'm', 0)} {sheet.sign('m')}",
        "ground_differs": abs(ground - site.elevation_m) > 150,
        "apart": show(apart * 111.2, "km", 0) if apart * 111.2 > 50 else "", "far": sheet.sign("km"),
        "mains": [{"name": MONTHS[m], "text": show(mains[m], "degC", 1), "x": 40 + 46 * m,
                   "y": round(92 - 3.0 * float(mains[m]), 1), "h": round(3.0 * float(mains[m]), 1)} for m in range(12)],
        "mains_year": show(float(mains.mean()), "degC", 1),
        "mains_pens": mains_pens(sheet),
    }  # fmt: skip


def clock_text(offset_h: float) -> str:
    return f"UTC{offset_h:+g}".replace("-", "−")


def needle(turned: float) -> str:
    return f"{abs(turned):.1f}° {'east' if turned >= 0 else 'west'}"


def dms(value: float, sides: str) -> str:
    """An angle in degrees and minutes with its side."""
    minutes = round(abs(value) * 60, 1)
    return f"{int(minutes // 60)}° {minutes % 60:04.1f}′ {sides[0] if value >= 0 else sides[1]}"


def mains_pens(sheet: Sheet) -> list[Pen]:
    source = sheet.document["site"]["mains"]["source"]
    if source == "monthly":
        return [sheet.pen(f"site.mains.monthly_c.{m}", MONTHS[m]) for m in range(12)]
    if source == "wave":
        return [sheet.pen(f"site.mains.{n}") for n in ("mean_c", "swing_c", "coldest_day")]
    return []


def year_figures(sheet: Sheet, file: WeatherFile) -> dict[str, Any]:
    """A weather year as a table of months, a carpet of hours and its notes."""
    weather = weather_year(file)
    level = monthly_sums(weather.ghi_w_m2) / 1000.0
    beam = monthly_sums(weather.dni_w_m2) / 1000.0
    air, wind = monthly_means(weather.air_c), monthly_means(weather.wind_m_s)
    show = sheet.show
    return {
        "file": file, "notes": weather.notes, "clock": clock_text(weather.utc_offset_h),
        "months": [
            {"name": MONTHS[m], "level": show(level[m], "kWh/m2"), "day": show(level[m] / DAYS[m], "kWh/m2", 1),
             "beam": show(beam[m], "kWh/m2"), "air": show(air[m], "degC", 1), "wind": show(wind[m], "m/s", 1)}
            for m in range(12)
        ],
        "year": {"level": show(level.sum(), "kWh/m2"), "day": show(level.sum() / 365, "kWh/m2", 1), "beam": show(beam.sum(), "kWh/m2"),
                 "air": show(float(weather.air_c.mean()), "degC", 1), "wind": show(float(weather.wind_m_s.mean()), "m/s", 1),
                 "coldest": show(float(weather.air_c.min()), "degC", 1), "hottest": show(float(weather.air_c.max()), "degC", 1)},
        "carpet": tinted(weather.ghi_w_m2.reshape(365, 24).T, CARPET_TOP_W_M2),
        "carpet_top": f"{show(CARPET_TOP_W_M2, 'W/m2')} {sheet.irradiance_sign}",
        "bright": "June" if weather.latitude_deg >= 0 else "December",
        "place": f"{dms(weather.latitude_deg, 'NS')}, {dms(weather.longitude_deg, 'EW')}",
        "elevation": f"{show(weather.elevation_m, 'm', 0)} {sheet.sign('m')}",
    }  # fmt: skip


def weather_view(sheet: Sheet, look: WeatherFile | None = None, upload: Any = None, **more: Any) -> dict[str, Any]:
    """The year in use, and beside it another one being looked at, read in or made."""
    return {
        "now": year_figures(sheet, sheet.project.weather),
        "look": year_figures(sheet, look) if look else None,
        "map": mapping(sheet, upload) if upload else None,
        "files": sheet.project.weather_files.all(),
        "climates": CLIMATES,
        "means": means_form(sheet),
    }


def plane_rows(sheet: Sheet, chosen: Chosen) -> list[dict[str, Any]]:
    """Each surveyed plane with its sun, its loss against the best, and how many collectors fit."""
    design = sheet.year.book.design
    collector = design.system.collector
    gross = collector.gross_area_m2 or collector.area_m2
    _, _, most = best_plane(sheet)
    rows = []
    for index, surveyed in enumerate(design.site.planes):
        sun = on_plane(sheet, as_plane(design, surveyed))
        fit, way = collectors_that_fit(surveyed, design.plane.slope_m, gross)
        left = float(sun.left.sum())
        rows.append({
            "key": surveyed.key, "index": index, "name": surveyed.name, "tilt": f"{surveyed.tilt_deg:.0f}°",
            "azimuth": f"{surveyed.azimuth_deg:.0f}°", "sun": sheet.show(left, "kWh/m2"),
            "below": units.number(100 * max(1 - left / most, 0.0), 0), "fit": fit, "way": way,
            "here": surveyed.key == design.plane.on, "chosen": surveyed.key == chosen.key,
        })  # fmt: skip
    return rows


def planes_view(sheet: Sheet, **more: Any) -> dict[str, Any]:
    """The list of planes, and the chosen one: values, compass, sun by month against the best, what fits."""
    chosen = chosen_plane(sheet)
    design, weather = sheet.year.book.design, _weather(sheet)
    site, plane = design.site, chosen.plane
    tilt, azimuth, most = best_plane(sheet)
    sun = on_plane(sheet, plane)
    left = float(sun.left.sum())
    open_sky = float(sun.open_kwh_m2.sum())
    level = monthly_sums(weather.ghi_w_m2) / 1000.0
    top = max(float(sun.open_kwh_m2.max()), float(level.max()))
    toward = 180.0 if site.latitude_deg >= 0 else 0.0
    off = (plane.azimuth_deg - toward + 180) % 360 - 180
    turned = declination(sheet.document["site"])
    collector = design.system.collector
    gross = collector.gross_area_m2 or collector.area_m2
    show = sheet.show
    context: dict[str, Any] = {
        "chosen": chosen, "rows": plane_rows(sheet, chosen), "count": collector.count,
        "best": {"tilt": f"{tilt:.0f}°", "azimuth": f"{azimuth:.0f}°", "sun": show(most, "kWh/m2")},
        "below_best": units.number(100 * (1 - open_sky / most), 1), "shaded_away": units.number(100 * (1 - left / max(open_sky, 1e-9)), 1),
        "off": units.number(abs(off), 0), "off_side": ("east" if (off < 0) == (toward == 180.0) else "west") if abs(off) >= 0.5 else "",
        "faces_away": abs(off) > 90 and plane.tilt_deg > 10,
        "declination": needle(turned), "azimuth": f"{plane.azimuth_deg:.0f}",
        "needle": _hand(plane.azimuth_deg, 62), "north_needle": _hand(turned, 66), "equator_y": 164 if toward == 180.0 else 16,
        "months": [
            {"name": MONTHS[m], "plane": show(sun.left[m], "kWh/m2"), "x": 44 + 40 * m,
             "h": round(100 * float(sun.left[m]) / top, 1), "y": round(122 - 100 * float(sun.left[m]) / top, 1),
             "lost_y": round(122 - 100 * float(sun.open_kwh_m2[m]) / top, 1), "lost_h": round(100 * float(sun.lost[m]) / top, 1),
             "level_y": round(122 - 100 * float(level[m]) / top, 1)}
            for m in range(12)
        ],
        "sun_year": show(left, "kWh/m2"), "level_year": show(level.sum(), "kWh/m2"),
        "tilt_pen": sheet.pen(f"{chosen.path}tilt_deg"), "azimuth_pen": sheet.pen(f"{chosen.path}azimuth_deg", "True azimuth"),
        "compass_pen": sheet.pen(f"{chosen.path}azimuth_deg{COMPASS}", "Read by compass"),
        "plane_kinds": KINDS.items(),
        "rise": f"{12 * np.tan(radians(plane.tilt_deg)):.1f} : 12" if plane.tilt_deg < 80 else "",
    }  # fmt: skip
    if chosen.surveyed:
        surveyed = chosen.surveyed
        fit, way = collectors_that_fit(surveyed, design.plane.slope_m, gross)
        weight = WET_KG_M2 * collector.total_gross_m2
        over = surveyed.load_kg_m2 < WET_KG_M2
        fields = ["width_m", "height_m", "load_kg_m2", "pipe_m", "rise_m", "pipe_runs", "overhang.fitted"]
        fields += ["overhang.depth_m", "overhang.gap_m"] if surveyed.overhang.fitted else []
        labels = {"overhang.fitted": "Roof edge above"}
        context |= {
            "name_pen": sheet.pen(f"{chosen.path}name"), "kind_pen": sheet.pen(f"{chosen.path}kind"),
            "plane_pens": [sheet.pen(chosen.path + f, labels.get(f, "")) for f in fields],
            "fit": fit, "way": way, "fit_area": show(fit * gross, "m2", 1), "weight": show(weight, "kg", 0),
            "per_area": show(WET_KG_M2, "kg/m2", 0), "too_heavy": over and surveyed.kind in ("roof", "flat_roof", "awning"),
            "too_many": collector.count > fit,
            "stands_here": surveyed.key == design.plane.on,
            "area": show(surveyed.width_m * surveyed.height_m, "m2", 1),
        }  # fmt: skip
    return context


def _hand(bearing: float, length: float) -> dict[str, float]:
    return {"x": round(90 + length * sin(radians(bearing)), 1), "y": round(90 - length * cos(radians(bearing)), 1)}


def horizon_view(sheet: Sheet, **more: Any) -> dict[str, Any]:
    """The sun-path sheet of the chosen plane, and what the horizon takes by month."""
    chosen = chosen_plane(sheet)
    design = sheet.year.book.design
    site = design.site
    sun = on_plane(sheet, chosen.plane)
    opened = np.maximum(sun.open_kwh_m2, 1e-9)
    share, tree, sky = sun.lost / opened, sun.to_trees / opened, (sun.to_skyline + sun.to_edge) / opened
    window = sun.window_lost / np.maximum(sun.window_open, 1e-9)
    top = max(float(share.max()), 0.1)
    shaded = shaded_months(site)
    year = float(sun.lost.sum() / opened.sum())
    show, number = sheet.show, units.number

    def column(name: str, s: float, k: float, t: float, on: float, lost: float, w: float) -> dict[str, str]:
        return {
            "name": name, "share": number(100 * s, 0 if s >= 0.0995 or s == 0 else 1), "sky_h": f"{40 * k / top:.1f}", "sky_y": f"{46 - 40 * k / top:.1f}",
            "tree_h": f"{40 * t / top:.1f}", "tree_y": f"{46 - 40 * (k + t) / top:.1f}",
            "on": show(on, "kWh/m2"), "lost": show(lost, "kWh/m2", 1 if lost < 9.95 else 0), "window": number(100 * w, 1),
        }  # fmt: skip

    months = [
        column(MONTHS[m], float(share[m]), float(sky[m]), float(tree[m]), float(sun.open_kwh_m2[m]), float(sun.lost[m]), float(window[m]))
        for m in range(12)
    ]  # fmt: skip
    lost = float(sun.lost.sum())
    return {
        "chosen": chosen,
        "plane_links": site.planes if len(site.planes) > 1 else [],
        "tilt_pen": sheet.pen(f"{chosen.path}tilt_deg", "Tilt"), "azimuth_pen": sheet.pen(f"{chosen.path}azimuth_deg", "Faces"),
        "edge_path": f"{chosen.path}overhang.fitted",
        "edge_pens": [sheet.pen(f"{chosen.path}overhang.{n}") for n in ("depth_m", "gap_m")] if chosen.plane.overhang.fitted else [],
        "sky": horizon.sheet(site, chosen.plane),
        "months": [*months, column("Year", year, float((sun.to_skyline + sun.to_edge).sum() / opened.sum()),
                   float(sun.to_trees.sum() / opened.sum()), float(opened.sum()), lost, float(sun.window_lost.sum() / max(sun.window_open.sum(), 1e-9)))],
        "axis": number(100 * top, 0),
        "open_year": show(float(opened.sum()), "kWh/m2"), "left_year": show(float(sun.left.sum()), "kWh/m2"),
        "lost_year": number(100 * year, 1), "sky_seen": number(100 * sky_seen(site, chosen.plane), 0),
        "hours_lost": number(sun.hours_lost, 0),
        "clear": "Clear from 9 to 15 h by the sun all year." if not shaded else
                 f"Shaded between 9 and 15 h by the sun in {_runs(shaded)}.",
        "is_clear": not shaded,
        "behind_names": obstacle_beside(site, chosen.plane.azimuth_deg),
        "trees": [
            {"index": i, "pens": [sheet.pen(f"site.trees.{i}.{n}") for n in ("from_deg", "to_deg", "altitude_deg", "in_leaf", "bare")],
             "name": sheet.pen(f"site.trees.{i}.name"),
             "months": [sheet.pen(f"site.trees.{i}.leaf_months.{m}", f"tree {i + 1} in leaf in {MONTHS[m]}") for m in range(12)]}
            for i in range(len(site.trees))
        ],
        "obstacles": [
            {"index": i, "name": sheet.pen(f"site.obstacles.{i}.name"),
             "pens": [sheet.pen(f"site.obstacles.{i}.{n}") for n in ("bearing_deg", "distance_m", "height_m", "width_m")]}
            for i in range(len(site.obstacles))
        ],
        "months_short": [m[0] for m in MONTHS],
    }  # fmt: skip


def _runs(months: tuple[int, ...]) -> str:
    """Months in words: every one, or a list."""
    if len(months) == 12:
        return "every month"
    return ", ".join(MONTHS[m] for m in months)
