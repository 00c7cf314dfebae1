"""Which hour of the day, day and month each of the year's 8,760 hours belongs to."""

import numpy as np

from heat.constants import HOURS, HOURS_OF_MONTH

HOUR_OF_DAY = np.arange(HOURS) % 24
MONTH_OF_HOUR = np.repeat(np.arange(12), np.array(HOURS_OF_MONTH))
DAY_OF_HOUR = np.arange(HOURS) // 24
DAY_OF_YEAR = np.arange(HOURS) // 24 + 1
"""Day of the year (1 to 365) of each hour."""
