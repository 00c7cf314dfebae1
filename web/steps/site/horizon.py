"""The sun-path sheet of the chosen plane, and what the horizon takes by month."""

from math import cos, radians

import numpy as np

from heat.design.place import Site
from heat.sun.shade import sky_view_fraction
from heat.sun.survey import shaded_months
from web.editor.design_page import DesignPage
from web.presentation.sky import sun_path_chart
from web.simulations.planes import on_plane
from web.steps.site.planes import chosen_plane
from web.ui import units
from web.ui.calendar import MONTHS


def horizon_view(page: DesignPage) -> dict[str, object]:
    """The sun-path sheet of the chosen plane, and what the horizon takes by month."""
    chosen = chosen_plane(page)
    design = page.year.book.design
    site = design.site
    sun = on_plane(page.year.book.design, page.project.weather, chosen.plane)
    opened = np.maximum(sun.open_kwh_m2, 1e-9)
    share, tree, sky = sun.lost / opened, sun.to_trees / opened, (sun.to_skyline + sun.to_edge) / opened
    window = sun.window_lost / np.maximum(sun.window_open, 1e-9)
    top = max(float(share.max()), 0.1)
    shaded = shaded_months(site)
    year = float(sun.lost.sum() / opened.sum())
    show, number = page.show, units.number

    def column(name: str, s: float, k: float, t: float, on: float, lost: float, w: float) -> dict[str, str]:
        return {
            "name": name,
            "share": number(100 * s, 0 if s >= 0.0995 or s == 0 else 1),
            "sky_h": f"{40 * k / top:.1f}",
            "sky_y": f"{46 - 40 * k / top:.1f}",
            "tree_h": f"{40 * t / top:.1f}",
            "tree_y": f"{46 - 40 * (k + t) / top:.1f}",
            "on": show(on, "kWh/m2"),
            "lost": show(lost, "kWh/m2", 1 if lost < 9.95 else 0),
            "window": number(100 * w, 1),
        }

    months = [
        column(
            MONTHS[m],
            float(share[m]),
            float(sky[m]),
            float(tree[m]),
            float(sun.open_kwh_m2[m]),
            float(sun.lost[m]),
            float(window[m]),
        )
        for m in range(12)
    ]
    lost = float(sun.lost.sum())
    return {
        "chosen": chosen,
        "plane_links": site.planes if len(site.planes) > 1 else [],
        "tilt_field": page.field(f"{chosen.path}tilt_deg", "Tilt"),
        "azimuth_field": page.field(f"{chosen.path}azimuth_deg", "Faces"),
        "edge_path": f"{chosen.path}overhang.fitted",
        "edge_fields": [page.field(f"{chosen.path}overhang.{n}") for n in ("depth_m", "gap_m")]
        if chosen.plane.overhang.fitted
        else [],
        "sky": sun_path_chart(site, chosen.plane),
        "months": [
            *months,
            column(
                "Year",
                year,
                float((sun.to_skyline + sun.to_edge).sum() / opened.sum()),
                float(sun.to_trees.sum() / opened.sum()),
                float(opened.sum()),
                lost,
                float(sun.window_lost.sum() / max(sun.window_open.sum(), 1e-9)),
            ),
        ],
        "axis": number(100 * top, 0),
        "open_year": show(float(opened.sum()), "kWh/m2"),
        "left_year": show(float(sun.left.sum()), "kWh/m2"),
        "lost_year": number(100 * year, 1),
        "sky_view_fraction": number(100 * sky_view_fraction(site, chosen.plane), 0),
        "hours_lost": number(sun.hours_lost, 0),
        "clear": "Clear from 9 to 15 h by the sun all year."
        if not shaded
        else f"Shaded between 9 and 15 h by the sun in {_runs(shaded)}.",
        "is_clear": not shaded,
        "behind_names": obstacle_beside(site, chosen.plane.azimuth_deg),
        "trees": [
            {
                "index": i,
                "fields": [
                    page.field(f"site.trees.{i}.{n}") for n in ("from_deg", "to_deg", "altitude_deg", "in_leaf", "bare")
                ],
                "name": page.field(f"site.trees.{i}.name"),
                "months": [
                    page.field(f"site.trees.{i}.leaf_months.{m}", f"tree {i + 1} in leaf in {MONTHS[m]}")
                    for m in range(12)
                ],
            }
            for i in range(len(site.trees))
        ],
        "obstacles": [
            {
                "index": i,
                "name": page.field(f"site.obstacles.{i}.name"),
                "fields": [
                    page.field(f"site.obstacles.{i}.{n}") for n in ("bearing_deg", "distance_m", "height_m", "width_m")
                ],
            }
            for i in range(len(site.obstacles))
        ],
        "months_short": [m[0] for m in MONTHS],
    }


def _runs(months: tuple[int, ...]) -> str:
    """Months in words: every one, or a list."""
    if len(months) == 12:
        return "every month"
    return ", ".join(MONTHS[m] for m in months)


def obstacle_beside(site: Site, plane_azimuth_deg: float) -> list[str]:
    """Obstacles (by name) that stand behind a plane facing plane_azimuth_deg (deg): no sun comes from there to its
    front."""
    return [o.name for o in site.obstacles if cos(radians(o.bearing_deg - plane_azimuth_deg)) < 0.0]
