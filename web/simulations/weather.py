"""Weather years by what a file holds, kept a while: one object for all who calculate with it, so that its planes are
kept too."""

from threading import Lock

from cachetools import LRUCache, cached

from heat.weather.year import WeatherYear
from web.projects.models import WeatherFile
from web.projects.weather_files import unpacked

YEARS_CACHED = 4


@cached(LRUCache(YEARS_CACHED), key=lambda file: (file.checksum, file.name), lock=Lock())
def weather_year(file: WeatherFile) -> WeatherYear:
    """The weather year a file holds."""
    return unpacked(file)
