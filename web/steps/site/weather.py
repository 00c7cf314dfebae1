"""The weather year in use, and beside it another one being looked at."""

import numpy as np
from django.db.models import Q

from heat.constants import HOURS_OF_MONTH
from heat.weather.cold import cold_of
from heat.weather.known_sun import distance_km, sun_band
from heat.weather.world import KIND
from heat.weather.year import monthly_means, monthly_sums
from web.editor.design_page import DesignPage
from web.editor.tables import mapping
from web.places.where import degrees
from web.projects.climates import CLIMATES
from web.projects.models import WeatherFile
from web.simulations.rough import sun_uncertainty
from web.simulations.weather import weather_year
from web.steps.site.means import means_form
from web.steps.site.place import clock_text
from web.ui.calendar import MONTHS
from web.ui.png import tinted
from web.ui.rows import Row

CARPET_TOP_W_M2 = 1000.0
DAYS = np.array(HOURS_OF_MONTH) / 24


def year_figures(page: DesignPage, file: WeatherFile) -> dict[str, object]:
    """A weather year as a table of months, a carpet of hours and its notes."""
    weather = weather_year(file)
    level = monthly_sums(weather.ghi_w_m2) / 1000.0
    beam = monthly_sums(weather.dni_w_m2) / 1000.0
    air, wind = monthly_means(weather.air_c), monthly_means(weather.wind_m_s)
    show = page.show
    return {
        "file": file,
        "notes": weather.notes,
        "clock": clock_text(weather.utc_offset_h),
        "months": [
            {
                "name": MONTHS[m],
                "level": show(level[m], "kWh/m2"),
                "day": show(level[m] / DAYS[m], "kWh/m2", 1),
                "beam": show(beam[m], "kWh/m2"),
                "air": show(air[m], "degC", 1),
                "wind": show(wind[m], "m/s", 1),
            }
            for m in range(12)
        ],
        "year": {
            "level": show(level.sum(), "kWh/m2"),
            "day": show(level.sum() / 365, "kWh/m2", 1),
            "beam": show(beam.sum(), "kWh/m2"),
            "air": show(float(weather.air_c.mean()), "degC", 1),
            "wind": show(float(weather.wind_m_s.mean()), "m/s", 1),
            "coldest": show(float(weather.air_c.min()), "degC", 1),
            "hard": show(cold_of(weather).safe_from_c, "degC", 0),
            "hottest": show(float(weather.air_c.max()), "degC", 1),
        },
        "carpet": tinted(weather.ghi_w_m2.reshape(365, 24).T, CARPET_TOP_W_M2),
        "carpet_top": f"{show(CARPET_TOP_W_M2, 'W/m2')} {page.irradiance_sign}",
        "bright": "June" if weather.latitude_deg >= 0 else "December",
        "place": degrees(weather.latitude_deg, weather.longitude_deg),
        "elevation": f"{show(weather.elevation_m, 'm', 0)} {page.sign('m')}",
    }


NEAR_KM = 5.0
"""A year from so near is this place's (km). Source: our own choice, the reach of a town."""


def weather_view(page: DesignPage) -> Row:
    """The year in use, and beside it another one being looked at, read in or made."""
    site, look = page.document["site"], page.compared_weather
    apart_km = 0.0
    if look is not None:
        made = weather_year(look)
        there = (np.array([made.latitude_deg]), np.array([made.longitude_deg]))
        apart_km = float(distance_km(site["latitude_deg"], site["longitude_deg"], *there)[0])
    return {
        "takes_place": look is not None and look.kind != "synthetic" and not page.project.place,
        "apart": f"{page.show(apart_km, 'km')} {page.sign('km')}" if apart_km > NEAR_KM else "",
        "now": year_figures(page, page.project.weather),
        "look": year_figures(page, page.compared_weather) if page.compared_weather else None,
        "map": mapping(page, page.upload) if page.upload and page.upload.purpose == "weather" else None,
        "files": page.project.weather_files.filter(deleted=None).exclude(~Q(pk=page.project.weather_id), kind=KIND),
        "deleted": page.project.weather_files.exclude(deleted=None),
        "climates": CLIMATES,
        "rough": f"{100 * sun_uncertainty(page.project.weather):.0f}" if page.project.weather.kind == KIND else "",
        "uncertainty": f"{100 * sun_band(site['latitude_deg'], site['longitude_deg']):.0f}",
        "this_place": page.project.place or degrees(site["latitude_deg"], site["longitude_deg"]),
        "means": means_form(page),
    }
