"""Weather years by file, kept a while: the same object while it is kept, so that its planes are kept too."""

from threading import Lock

from cachetools import LRUCache, cached

from heat.weather.year import WeatherYear
from web.projects.models import WeatherFile
from web.projects.weather_files import unpacked

YEARS_KEPT = 4


@cached(LRUCache(YEARS_KEPT), key=lambda file: file.pk, lock=Lock())
def weather_year(file: WeatherFile) -> WeatherYear:
    """The weather year a file holds."""
    return unpacked(file)
