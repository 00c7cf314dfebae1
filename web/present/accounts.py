"""Every account of the books in words, and all of them as a table."""

from heat import accounts as acc
from heat.ledger import BOUGHT
from web.sheet.page import Sheet
from web.ui.calendar import MONTHS

WORDS = {
    "sun_beam": "beam on the plane", "sun_sky": "from the sky", "sun_ground": "from the ground",
    "sun_mirror": "from the mirror",
    "sky_exchange": "exchange with the sky, below air", "optical_loss": "kept by glass and plate",
    "absorbed": "absorbed",
    "collector_loss": "to the air while running", "collector_idle": "to the air while standing",
    "collector_stored": "kept in the collectors",
    "from_collector": "from the collectors", "supply_pipe_loss": "pipe to the store",
    "return_pipe_loss": "pipe to the collectors",
    "pipe_stored": "pipe heat-up", "drained": "let out with drained water", "into_store": "into the store",
    "into_pool": "into the pool",
    "pump_electricity": "pump, electricity apart from heat", "bought_element": "elements",
    "bought_boiler": "boiler on the coil",
    "stove_to_store": "stove into the store", "bought_stove": "wood stove", "own_stove": "own wood, burnt",
    "stove_to_rooms": "stove to its room", "stove_excess": "stove, more than its room wants",
    "store_to_bed": "store to the heavy floor", "bed_to_rooms": "heavy floor to the rooms",
    "bed_excess": "heavy floor, more than the rooms want", "bed_loss": "heavy floor to the ground",
    "bed_stored": "kept in the heavy floor", "store_to_fresh": "store to fresh air", "to_fresh": "to fresh air",
    "fresh_demand": "asked for by fresh air", "store_loss": "store to its room",
    "second_store_loss": "second store to its room",
    "boil_off": "boiled off or let go", "dump": "dumped",
    "collector_dump": "dumped at the collectors", "store_stored": "kept in the stores",
    "drawn": "drawn for the taps",
    "bought_tankless": "tankless heater", "to_tap": "at the taps", "overwarm": "warmer than asked",
    "demand": "asked for at the taps",
    "missing": "missing", "store_to_heating": "store to rooms", "bought_heating": "heater of rooms and process",
    "to_heating": "to the rooms",
    "heating_demand": "asked for by the rooms", "store_to_circulation": "store to circulation",
    "to_circulation": "to the circulation",
    "circulation_demand": "asked for by the circulation", "store_to_process": "store to process",
    "to_process": "to the process",
    "process_demand": "asked for by the process", "store_to_pool": "store to pool", "pool_sun": "sun on the pool",
    "bought_pool": "pool heater",
    "pool_evaporation": "evaporated", "pool_air": "to the air", "pool_sky": "to the sky",
    "pool_water": "with fresh water",
    "pool_stored": "kept in the pool", "to_pool": "to the pool by exchanger and heater",
}  # fmt: skip
"""Every account in the trade's words."""
BOUGHT_OR_MISSING = {*BOUGHT, acc.MISSING}


def accounts_csv(sheet: Sheet) -> str:
    """Every account by month (kWh, full precision), a line each."""
    book = sheet.year.book
    lines = ["account,words," + ",".join(MONTHS) + ",year"]
    for column, name in enumerate(acc.NAMES):
        months = book.months[:, column]
        lines.append(
            f'{name},"{WORDS[name]}",' + ",".join(f"{v!r}" for v in map(float, months)) + f",{float(months.sum())!r}"
        )
    return "\n".join(lines) + "\n"
