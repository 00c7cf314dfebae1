"""The planes that could carry collectors, and the chosen one."""

from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np

from heat.design.place import Plane, SurveyedPlane
from heat.sun.survey import WET_KG_M2, collectors_that_fit
from heat.weather.year import monthly_sums
from web.editor.design_page import DesignPage
from web.editor.typed import COMPASS, declination
from web.simulations.planes import as_plane, best_plane, on_plane
from web.steps.site.place import needle
from web.ui import units
from web.ui.calendar import MONTHS
from web.ui.rows import Row

KINDS = {"roof": "roof face", "flat_roof": "flat roof", "wall": "wall", "ground": "ground rack", "awning": "awning"}


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


def chosen_plane(page: DesignPage) -> Chosen:
    """The plane asked for, else the one the design stands on, else the first, else the design's own."""
    design = page.year.book.design
    planes = design.site.planes
    wanted = page.state.chosen if any(p.key == page.state.chosen for p in planes) else design.plane.on
    for index, surveyed in enumerate(planes):
        if surveyed.key == wanted:
            return Chosen(surveyed.key, index, as_plane(design, surveyed), surveyed)
    if planes and page.state.chosen:
        return Chosen(planes[0].key, 0, as_plane(design, planes[0]), planes[0])
    return Chosen("", -1, design.plane, None)


def plane_rows(page: DesignPage, chosen: Chosen) -> list[dict[str, object]]:
    """Each surveyed plane with its sun, its loss against the best, and how many collectors fit."""
    design = page.year.book.design
    collector = design.system.collector
    gross = collector.gross_area_m2 or collector.area_m2
    _, _, most = best_plane(page.year.book.design, page.project.weather)
    rows = []
    for index, surveyed in enumerate(design.site.planes):
        sun = on_plane(page.year.book.design, page.project.weather, as_plane(design, surveyed))
        fit, way = collectors_that_fit(surveyed, design.plane.slope_m, gross)
        left = float(sun.left.sum())
        rows.append(
            {
                "key": surveyed.key,
                "index": index,
                "name": surveyed.name,
                "tilt": f"{surveyed.tilt_deg:.0f}°",
                "azimuth": f"{surveyed.azimuth_deg:.0f}°",
                "sun": page.show(left, "kWh/m2"),
                "below": units.number(100 * max(1 - left / most, 0.0), 0),
                "fit": fit,
                "way": way,
                "here": surveyed.key == design.plane.on,
                "chosen": surveyed.key == chosen.key,
            }
        )
    return rows


def planes_view(page: DesignPage) -> Row:
    """The list of planes, and the chosen one: values, compass, sun by month against the best, what fits."""
    chosen = chosen_plane(page)
    design, weather = page.year.book.design, page.weather
    site, plane = design.site, chosen.plane
    tilt, azimuth, most = best_plane(page.year.book.design, page.project.weather)
    sun = on_plane(page.year.book.design, page.project.weather, plane)
    left = float(sun.left.sum())
    open_sky = float(sun.open_kwh_m2.sum())
    level = monthly_sums(weather.ghi_w_m2) / 1000.0
    top = max(float(sun.open_kwh_m2.max()), float(level.max()))
    toward = 180.0 if site.latitude_deg >= 0 else 0.0
    off = (plane.azimuth_deg - toward + 180) % 360 - 180
    turned = declination(page.document["site"])
    collector = design.system.collector
    gross = collector.gross_area_m2 or collector.area_m2
    show = page.show
    context: Row = {
        "chosen": chosen,
        "rows": plane_rows(page, chosen),
        "count": collector.count,
        "best": {"tilt": f"{tilt:.0f}°", "azimuth": f"{azimuth:.0f}°", "sun": show(most, "kWh/m2")},
        "below_best": units.number(100 * (1 - open_sky / most), 1),
        "shaded_away": units.number(100 * (1 - left / max(open_sky, 1e-9)), 1),
        "off": units.number(abs(off), 0),
        "off_side": ("east" if (off < 0) == (toward == 180.0) else "west") if abs(off) >= 0.5 else "",
        "faces_away": abs(off) > 90 and plane.tilt_deg > 10,
        "declination": needle(turned),
        "azimuth": f"{plane.azimuth_deg:.0f}",
        "needle": _hand(plane.azimuth_deg, 62),
        "north_needle": _hand(turned, 66),
        "equator_y": 164 if toward == 180.0 else 16,
        "months": [
            {
                "name": MONTHS[m],
                "plane": show(sun.left[m], "kWh/m2"),
                "x": 44 + 40 * m,
                "h": round(100 * float(sun.left[m]) / top, 1),
                "y": round(122 - 100 * float(sun.left[m]) / top, 1),
                "lost_y": round(122 - 100 * float(sun.open_kwh_m2[m]) / top, 1),
                "lost_h": round(100 * float(sun.lost[m]) / top, 1),
                "level_y": round(122 - 100 * float(level[m]) / top, 1),
            }
            for m in range(12)
        ],
        "sun_year": show(left, "kWh/m2"),
        "level_year": show(level.sum(), "kWh/m2"),
        "tilt_field": page.field(f"{chosen.path}tilt_deg"),
        "azimuth_field": page.field(f"{chosen.path}azimuth_deg", "True azimuth"),
        "compass_field": page.field(f"{chosen.path}azimuth_deg{COMPASS}", "Read by compass"),
        "plane_kinds": KINDS.items(),
        "rise": f"{units.number(12 * np.tan(radians(plane.tilt_deg)), 1)} : 12" if plane.tilt_deg < 80 else "",
    }
    if chosen.surveyed:
        surveyed = chosen.surveyed
        fit, way = collectors_that_fit(surveyed, design.plane.slope_m, gross)
        weight = WET_KG_M2 * collector.total_gross_m2
        over = surveyed.load_kg_m2 < WET_KG_M2
        fields = ["width_m", "height_m", "load_kg_m2", "pipe_m", "rise_m", "pipe_runs", "overhang.fitted"]
        fields += ["overhang.depth_m", "overhang.gap_m"] if surveyed.overhang.fitted else []
        labels = {"overhang.fitted": "Roof edge above"}
        context |= {
            "name_field": page.field(f"{chosen.path}name"),
            "kind_field": page.field(f"{chosen.path}kind"),
            "plane_fields": [page.field(chosen.path + f, labels.get(f, "")) for f in fields],
            "fit": fit,
            "way": way,
            "fit_area": show(fit * gross, "m2", 1),
            "weight": show(weight, "kg", 0),
            "per_area": show(WET_KG_M2, "kg/m2", 0),
            "too_heavy": over and surveyed.kind in ("roof", "flat_roof", "awning"),
            "too_many": collector.count > fit,
            "stands_here": surveyed.key == design.plane.on,
            "area": show(surveyed.width_m * surveyed.height_m, "m2", 1),
        }
    return context


def _hand(bearing: float, length: float) -> dict[str, float]:
    return {"x": round(90 + length * sin(radians(bearing)), 1), "y": round(90 - length * cos(radians(bearing)), 1)}
