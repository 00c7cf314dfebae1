"""Weather where no file is at hand: the rough climate of any place, and made-up climates for trying things out.

The Merrow coast, its hills and Tarn Sound lie in open ocean on purpose: nothing stands at these coordinates.
"""

import json
from functools import cache

from django.conf import settings

from heat.weather.synthetic import read_means
from heat.weather.world import rough_year
from heat.weather.year import WeatherYear
from web.ui.rows import Row

FOLDER = settings.ROOT / "docs" / "examples" / "weather"
CLIMATES = {
    "merrow_coast": "Merrow coast: mild, cloudy winters",
    "merrow_hills": "Merrow hills: cold, clear winters",
    "tarn_sound": "Tarn Sound: south of the equator, dry summers",
}
"""Climates by name, with a line on each."""


@cache
def climate(name: str) -> WeatherYear:
    """A made-up year (W/m², °C), seeded: the same on every machine. KeyError for an unknown name."""
    if name not in CLIMATES:
        raise KeyError(name)
    return read_means(name, json.loads((FOLDER / f"{name}.json").read_text()))


def merrow_coast() -> WeatherYear:
    """The made-up year of the Merrow coast."""
    return climate("merrow_coast")


def rough_there(site: Row, words: str) -> WeatherYear:
    """The rough climate of a site (deg, m), named by its place. Raises InputError beyond a site's latitudes."""
    name = f"Rough climate of {words}"[:120]
    return rough_year(site["latitude_deg"], site["longitude_deg"], site["elevation_m"], name=name)
