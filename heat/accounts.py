"""The accounts: one column each in the hourly books, all in Wh per hour unless said otherwise.

Plain integers, because compiled kernels write by them.
"""

from typing import Final

ABSORBED: Final = 0
COLLECTOR_LOSS: Final = 1
COLLECTOR_IDLE: Final = 2
COLLECTOR_STORED: Final = 3
FROM_COLLECTOR: Final = 4
SUPPLY_PIPE_LOSS: Final = 5
RETURN_PIPE_LOSS: Final = 6
PIPE_STORED: Final = 7
INTO_STORE: Final = 8
BOUGHT_ELEMENT: Final = 9
STORE_LOSS: Final = 10
STORE_STORED: Final = 11
DRAWN: Final = 12
BOUGHT_TANKLESS: Final = 13
TO_TAP: Final = 14
OVERWARM: Final = 15
DEMAND: Final = 16
MISSING: Final = 17
PUMP_ELECTRICITY: Final = 18
KERNEL_COLUMNS: Final = 19

SUN_BEAM: Final = 19
SUN_SKY: Final = 20
SUN_GROUND: Final = 21
OPTICAL_LOSS: Final = 22
COLUMNS: Final = 23

NAMES: Final = (
    "absorbed", "collector_loss", "collector_idle", "collector_stored", "from_collector",
    "supply_pipe_loss", "return_pipe_loss", "pipe_stored", "into_store", "bought_element",
    "store_loss", "store_stored", "drawn", "bought_tankless", "to_tap", "overwarm", "demand",
    "missing", "pump_electricity", "sun_beam", "sun_sky", "sun_ground", "optical_loss",
)  # fmt: skip
"""Names of the columns (each Wh per hour), in order."""

# Hourly traces beside the accounts.
PUMP_SHARE: Final = 0
COLLECTOR_C: Final = 1
COLLECTOR_PEAK_C: Final = 2
STAGNANT_SHARE: Final = 3
COLD_TAP_SHARE: Final = 4
TAP_C: Final = 5
PUMP_STARTS: Final = 6
HOT_LITRES: Final = 7
TRACES: Final = 8
