"""Made-up climates of made-up places, for trying things out. No measured place is meant.

The Merrow coast lies in open ocean on purpose: nothing stands at these coordinates.
"""

from functools import cache

from heat.weather.synthetic import MonthlyMeans, synthetic_year
from heat.weather.year import WeatherYear

MERROW_COAST = MonthlyMeans(
    ghi_kwh_m2_day=(1.25, 2.1, 3.3, 4.6, 5.6, 6.1, 5.9, 5.0, 3.8, 2.4, 1.45, 1.05),
    air_c=(6.2, 6.4, 7.9, 9.8, 12.7, 15.6, 17.6, 17.8, 16.0, 12.9, 9.4, 7.1),
    daily_range_k=(4.5, 5.2, 6.2, 7.0, 7.4, 7.2, 7.0, 6.8, 6.4, 5.4, 4.8, 4.3),
    humidity_pct=(86, 83, 80, 77, 77, 78, 79, 80, 81, 84, 86, 87),
    wind_m_s=(6.1, 5.8, 5.5, 5.0, 4.6, 4.3, 4.2, 4.3, 4.7, 5.3, 5.7, 6.0),
)


@cache
def merrow_coast() -> WeatherYear:
    """The made-up year of the Merrow coast, seeded: the same on every machine."""
    return synthetic_year(
        MERROW_COAST,
        name="Merrow coast, made-up climate",
        latitude_deg=46.4,
        longitude_deg=-11.6,
        elevation_m=20.0,
        utc_offset_h=-1.0,
        seed=1907,
        made_up=True,
    )
