"""Where the site lies: coordinates, the outline to click on, clock, height, needle, cold water."""

from math import cos, hypot, radians
from typing import Any

from heat.prepare import mains_temperature
from heat.weather.place import ground_m, standard_offset_h
from heat.weather.year import monthly_means
from web.places.where import FAR_KM, degrees, nearest
from web.sheet.fields import Pen
from web.sheet.page import Sheet
from web.sheet.typed import declination
from web.ui.calendar import MONTHS


def place_view(sheet: Sheet) -> dict[str, Any]:
    """Coordinates, the outline to click on, clock, height, needle, cold water."""
    design, weather = sheet.year.book.design, sheet.weather
    site = design.site
    offset = standard_offset_h(site.latitude_deg, site.longitude_deg)
    turned = declination(sheet.document["site"])
    eastward = (weather.longitude_deg - site.longitude_deg) * cos(radians(site.latitude_deg))
    apart = hypot(weather.latitude_deg - site.latitude_deg, eastward)
    mains = monthly_means(mains_temperature(site.mains, weather, site.latitude_deg))
    ground = ground_m(site.latitude_deg, site.longitude_deg)
    show = sheet.show
    return {
        "cross": {"x": round(site.longitude_deg + 180, 2), "y": round(90 - site.latitude_deg, 2)},
        "dms": degrees(site.latitude_deg, site.longitude_deg),
        "near": _near(sheet), "unclear": sheet.given.get("unclear"),
        "typed_place": sheet.given.get("typed_place", sheet.project.place),
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


def _near(sheet: Sheet) -> dict[str, str] | None:
    """The nearest town and how far it is, where the weather is not made up; without a town the place may be at sea."""
    if sheet.project.weather.made_up:
        return None
    site = sheet.document["site"]
    found = nearest(site["latitude_deg"], site["longitude_deg"])
    if found is None:
        return {"town": "", "far": f"{sheet.show(FAR_KM, 'km', 0)} {sheet.sign('km')}"}
    town, apart = found
    return {"town": str(town), "far": f"{sheet.show(apart, 'km', 0)} {sheet.sign('km')}"}


def clock_text(offset_h: float) -> str:
    return f"UTC{offset_h:+g}".replace("-", "−")


def needle(turned: float) -> str:
    return f"{abs(turned):.1f}° {'east' if turned >= 0 else 'west'}"


def mains_pens(sheet: Sheet) -> list[Pen]:
    source = sheet.document["site"]["mains"]["source"]
    if source == "monthly":
        return [sheet.pen(f"site.mains.monthly_c.{m}", MONTHS[m]) for m in range(12)]
    if source == "wave":
        return [sheet.pen(f"site.mains.{n}") for n in ("mean_c", "swing_c", "coldest_day")]
    return []
