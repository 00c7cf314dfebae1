"""Make heat/data/clocks.npz anew: standard time by place, from the IANA zones, on a grid of a quarter degree.

Run with the environment's Python and tzfpy 2.1.1 beside it; the made file is committed, so nothing else needs that
library.
"""

from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from zoneinfo import ZoneInfo

import numpy as np
from tzfpy import get_tz

STEP = 0.25
TARGET = Path(__file__).parents[1] / "heat" / "data" / "clocks.npz"


@cache
def standard_quarters(zone: str) -> int:
    """Standard offset of a zone in quarter hours: the smaller of January's and July's."""
    offsets = [datetime(2025, month, 15, tzinfo=UTC).astimezone(ZoneInfo(zone)).utcoffset() for month in (1, 7)]
    return round(min(o.total_seconds() for o in offsets if o is not None) / 900)


def main() -> None:
    latitudes = np.arange(-66 + STEP / 2, 66, STEP)
    longitudes = np.arange(-180 + STEP / 2, 180, STEP)
    grid = np.zeros((latitudes.size, longitudes.size), dtype=np.int8)
    for i, latitude in enumerate(latitudes):
        for k, longitude in enumerate(longitudes):
            zone = get_tz(float(longitude), float(latitude))
            at_sea = not zone or zone.startswith("Etc/")
            grid[i, k] = 4 * round(longitude / 15.0) if at_sea else standard_quarters(zone)
    np.savez_compressed(TARGET, quarters=grid)
    print(f"{TARGET}: {TARGET.stat().st_size} bytes")


if __name__ == "__main__":
    main()
