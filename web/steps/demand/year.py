"""The demand of the year: stacked months against the sun, a week at the hour, which use comes first."""

import numpy as np

from heat.constants import HOURS_OF_MONTH
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT
from heat.sizing.ranking import BRIGHT_W_M2, SMALL_KWH_M2, rank_uses
from heat.sizing.ranking import uses as uses_by_hour
from heat.sun.plane import tilted_irradiance
from heat.sun.site import sun_of
from heat.weather.year import monthly_means, monthly_sums
from web.editor.design_page import DesignPage
from web.simulations.planes import best_plane
from web.ui import units
from web.ui.calendar import MONTHS, date_of
from web.ui.rows import Row

TINTS = ("ink", "hatch", "cross", "bars", "dots", "plain", "dash")
KIND_WORDS = {"unglazed": "unglazed", "flat_selective": "flat", "tube_direct": "tubes"}


def next_line(page: DesignPage) -> str:
    """What the next steps take from here, in one line."""
    design = page.year.book.design
    found = uses_by_hour(design, page.weather)
    need = sum(float(w.sum()) for w, _ in found.values()) / 1000.0
    if need < 0.5:
        return "Nothing is wanted in this year yet: give some month or use its share, and the scheme has work to do."
    names = ", ".join(found)
    return f"Site and scheme take from here: {page.show(need, 'kWh')} {page.energy_sign} a year for {names}."


def year_view(page: DesignPage) -> Row:
    """Demand by month stacked by use against the sun, a week at the hour, what is bought, and which use comes first."""
    book = page.year.book
    design, weather = book.design, page.weather
    found = uses_by_hour(design, weather)
    tilt, azimuth, _ = best_plane(page.year.book.design, page.project.weather)
    best = tilted_irradiance(
        weather,
        sun_of(design, weather),
        tilt_deg=tilt,
        azimuth_deg=azimuth,
        reflectance=design.site.ground_reflectance,
        sky=design.numerics.sky,
    )
    area = design.system.collector.total_gross_m2
    sun = monthly_sums(best.total_w_m2()) / 1000.0 * area
    months = {name: monthly_sums(watts) / 1000.0 for name, (watts, _) in found.items()}
    stacked = sum(months.values())
    top = max(float(np.max(stacked)), float(sun.max()), 1e-9)
    missed = book.by_month(*BOUGHT, acc.UNMET)
    need = np.asarray(stacked)
    mains = monthly_means(book.mains_c)
    show = page.show
    fills = dict(zip(months, TINTS, strict=False))
    columns: list[Row] = []
    for m in range(12):
        base, parts = 166.0, []
        for name, values in months.items():
            height = 150.0 * float(values[m]) / top
            base -= height
            parts.append({"fill": fills[name], "y": round(base, 1), "h": round(height, 1)})
        columns.append(
            {
                "name": MONTHS[m],
                "x": 46 + 41 * m,
                "parts": parts,
                "sun_y": round(166 - 150 * float(sun[m]) / top, 1),
                "need": show(need[m], "kWh"),
                "missed": show(missed[m], "kWh"),
                "mains": show(mains[m], "degC", 1),
            }
        )
    week = _week(page, found, fills)
    return {
        "columns": columns,
        "axis_top": show(top, "kWh"),
        "axis_mid": show(top / 2, "kWh"),
        "sun_d": "".join(f"{'L' if i else 'M'}{c['x'] + 15},{c['sun_y']}" for i, c in enumerate(columns)),
        "sun_end": columns[6]["sun_y"] - 6,
        "area": f"{show(area, 'm2', 1)} {page.sign('m2')}",
        "best": f"{tilt:.0f}° facing {azimuth:.0f}°",
        "keys": [{"name": name, "fill": fill} for name, fill in fills.items()],
        "need_year": show(float(need.sum()), "kWh"),
        "missed_year": show(float(missed.sum()), "kWh"),
        "mains_year": show(float(mains.mean()), "degC", 1),
        "ranking": ranking(page),
        "kinds": list(KIND_WORDS.values()),
        "bright": f"{show(BRIGHT_W_M2, 'W/m2')} {page.sign('W/m2')}",
        "small": f"{show(1, 'm2')} {page.sign('m2')} for each {show(SMALL_KWH_M2, 'kWh')} {page.sign('kWh')}",
        **week,
    }


def _week(page: DesignPage, found: Row, fills: dict[str, str]) -> Row:
    """Seven days at the hour from a chosen day: each use stacked, in kW."""
    first = min(max(page.state.day if page.state.day is not None else 14, 0), 358)
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
        "areas": areas,
        "week_top": page.show(top, "kW", 1),
        "power": page.sign("kW"),
        "week_days": [{"x": 44 + 72 * d + 36, "line": 44 + 72 * d, "name": date_of(first + d)} for d in range(7)],
        "week_of": date_of(first),
        "week_first": first,
        "weeks": [
            {"day": sum(HOURS_OF_MONTH[:m]) // 24 + 14, "name": MONTHS[m], "here": m == month} for m in range(12)
        ],
    }


def ranking(page: DesignPage) -> list[Row]:
    """Which use first: the uses in the order a small system carries them, with the figures behind it."""
    ranks = rank_uses(page.year.book.design, page.weather)
    return [
        {
            "use": r.use,
            "reason": r.reason,
            "need": page.show(r.year_kwh, "kWh"),
            "at": page.show(r.collector_c, "degC", 0),
            "efficiency": [units.number(100 * r.efficiency[k], 0) for k in KIND_WORDS],
            "match": units.number(100 * r.match, 0),
            "carried": units.number(100 * r.carried, 0),
        }
        for r in ranks
    ]
