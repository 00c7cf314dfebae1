"""The accounts: one column each in the hourly books, all in Wh per hour unless said otherwise.

Plain integers, because compiled kernels write by them. Each family is a run of numbers taken from
its list of names, so that a new account is one word.
"""

from typing import Final

NAMES: Final = (
    # the sun and the collectors
    "absorbed", "collector_loss", "collector_idle", "collector_dump", "collector_stored", "from_collector",
    # the loop
    "supply_pipe_loss", "return_pipe_loss", "pipe_stored", "drained", "into_store", "into_pool", "pump_electricity",
    # the stores
    "bought_element", "bought_boiler", "stove_to_store", "store_loss", "second_store_loss", "boil_off", "dump",
    "store_stored", "drawn",
    # a stove
    "bought_stove", "own_stove", "stove_to_rooms", "stove_excess",
    # the uses
    "bought_tankless", "to_tap", "overwarm", "demand", "missing",
    "store_to_heating", "bought_heating", "to_heating", "heating_demand",
    "store_to_bed", "bed_to_rooms", "bed_excess", "bed_loss", "bed_stored",
    "store_to_fresh", "to_fresh", "fresh_demand",
    "store_to_circulation", "to_circulation", "circulation_demand",
    "store_to_process", "to_process", "process_demand",
    "store_to_pool",
    # the pool
    "pool_sun", "bought_pool", "pool_evaporation", "pool_air", "pool_sky", "pool_water", "pool_stored", "to_pool",
    # written after the loop
    "sun_beam", "sun_sky", "sun_ground", "sun_mirror", "sky_exchange", "optical_loss",
)  # fmt: skip
"""Names of the columns (each Wh per hour), in order."""

(
    ABSORBED, COLLECTOR_LOSS, COLLECTOR_IDLE, COLLECTOR_DUMP, COLLECTOR_STORED, FROM_COLLECTOR,
    SUPPLY_PIPE_LOSS, RETURN_PIPE_LOSS, PIPE_STORED, DRAINED, INTO_STORE, INTO_POOL, PUMP_ELECTRICITY,
    BOUGHT_ELEMENT, BOUGHT_BOILER, STOVE_TO_STORE, STORE_LOSS, SECOND_STORE_LOSS, BOIL_OFF, DUMP,
    STORE_STORED, DRAWN,
    BOUGHT_STOVE, OWN_STOVE, STOVE_TO_ROOMS, STOVE_EXCESS,
    BOUGHT_TANKLESS, TO_TAP, OVERWARM, DEMAND, MISSING,
    STORE_TO_HEATING, BOUGHT_HEATING, TO_HEATING, HEATING_DEMAND,
    STORE_TO_BED, BED_TO_ROOMS, BED_EXCESS, BED_LOSS, BED_STORED,
    STORE_TO_FRESH, TO_FRESH, FRESH_DEMAND,
    STORE_TO_CIRCULATION, TO_CIRCULATION, CIRCULATION_DEMAND,
    STORE_TO_PROCESS, TO_PROCESS, PROCESS_DEMAND,
    STORE_TO_POOL,
    POOL_SUN, BOUGHT_POOL, POOL_EVAPORATION, POOL_AIR, POOL_SKY, POOL_WATER, POOL_STORED, TO_POOL,
    SUN_BEAM, SUN_SKY, SUN_GROUND, SUN_MIRROR, SKY_EXCHANGE, OPTICAL_LOSS,
) = range(len(NAMES))  # fmt: skip
KERNEL_COLUMNS: Final = SUN_BEAM
COLUMNS: Final = len(NAMES)

TRACE_NAMES: Final = (
    "pump_share", "collector_c", "collector_peak_c", "stagnant_share", "cold_tap_share", "tap_c", "pump_starts",
    "hot_litres", "flow_kg_h", "reversed_share", "boiled_kg", "pool_c", "hot_fluid_95_share", "hot_fluid_120_share",
    "store_top_c", "second_top_c", "drained_kg", "cold_heating_share", "frozen_share", "outlet_c", "inlet_c",
    "full_share", "locked_share",
)  # fmt: skip
"""Hourly traces beside the accounts: shares of the hour, °C, L, kg, kg/h."""

(
    PUMP_SHARE, COLLECTOR_C, COLLECTOR_PEAK_C, STAGNANT_SHARE, COLD_TAP_SHARE, TAP_C, PUMP_STARTS,
    HOT_LITRES, FLOW_KG_H, REVERSED_SHARE, BOILED_KG, POOL_C, HOT_95_SHARE, HOT_120_SHARE,
    STORE_TOP_C, SECOND_TOP_C, DRAINED_KG, COLD_HEATING_SHARE, FROZEN_SHARE, OUTLET_C, INLET_C,
    FULL_SHARE, LOCKED_SHARE,
) = range(len(TRACE_NAMES))  # fmt: skip
TRACES: Final = len(TRACE_NAMES)
