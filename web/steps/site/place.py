"""Where the site lies: coordinates, the outline to click on, clock, height, needle, cold water."""

from math import cos, hypot, radians

from heat.simulation.prepare import mains_temperature
from heat.weather.place import ground_m, standard_offset_h
from heat.weather.year import monthly_means
from web.editor.design_page import DesignPage
from web.editor.fields import Field
from web.editor.typed import declination
from web.places.where import FAR_KM, degrees, nearest
from web.ui import units
from web.ui.calendar import MONTHS
from web.ui.rows import Row


def place_view(page: DesignPage) -> Row:
    """Coordinates, the outline to click on, clock, height, needle, cold water."""
    design, weather = page.year.book.design, page.weather
    site = design.site
    offset = standard_offset_h(site.latitude_deg, site.longitude_deg)
    turned = declination(page.document["site"])
    eastward = (weather.longitude_deg - site.longitude_deg) * cos(radians(site.latitude_deg))
    apart = hypot(weather.latitude_deg - site.latitude_deg, eastward)
    mains = monthly_means(mains_temperature(site.mains, weather, site.latitude_deg))
    ground = ground_m(site.latitude_deg, site.longitude_deg)
    show = page.show
    return {
        "cross": {"x": round(site.longitude_deg + 180, 2), "y": round(90 - site.latitude_deg, 2)},
        "dms": degrees(site.latitude_deg, site.longitude_deg),
        "near": _near(page),
        "unclear": page.given.get("unclear"),
        "typed_place": page.given.get("typed_place", page.project.place),
        "clock": clock_text(offset),
        "weather_clock": clock_text(weather.utc_offset_h),
        "clock_differs": abs(weather.utc_offset_h - offset) > 1.01,
        "declination": needle(turned),
        "ground": f"{show(ground, 'm', 0)} {page.sign('m')}",
        "ground_differs": abs(ground - site.elevation_m) > 150,
        "apart": show(apart * 111.2, "km", 0) if apart * 111.2 > 50 else "",
        "far": page.sign("km"),
        "mains": [
            {
                "name": MONTHS[m],
                "text": show(mains[m], "degC", 1),
                "x": 40 + 46 * m,
                "y": round(92 - 3.0 * float(mains[m]), 1),
                "h": round(3.0 * float(mains[m]), 1),
            }
            for m in range(12)
        ],
        "mains_year": show(float(mains.mean()), "degC", 1),
        "mains_fields": mains_fields(page),
    }


def _near(page: DesignPage) -> dict[str, str] | None:
    """The nearest town and how far it is, where the weather is not made up; without a town the place may be at sea."""
    if page.project.weather.made_up:
        return None
    site = page.document["site"]
    found = nearest(site["latitude_deg"], site["longitude_deg"])
    if found is None:
        return {"town": "", "far": f"{page.show(FAR_KM, 'km', 0)} {page.sign('km')}"}
    town, apart = found
    return {"town": str(town), "far": f"{page.show(apart, 'km', 0)} {page.sign('km')}"}


def clock_text(offset_h: float) -> str:
    return f"UTC{offset_h:+g}".replace("-", "−")


def needle(turned: float) -> str:
    return f"{units.number(abs(turned), 1)}° {'east' if turned >= 0 else 'west'}"


def mains_fields(page: DesignPage) -> list[Field]:
    source = page.document["site"]["mains"]["source"]
    if source == "monthly":
        return [page.field(f"site.mains.monthly_c.{m}", MONTHS[m]) for m in range(12)]
    if source == "wave":
        return [page.field(f"site.mains.{n}") for n in ("mean_c", "swing_c", "coldest_day")]
    return []
