"""The accounts people decide by: what a line is called, where its number comes from, and which end of it is the better
one."""

from dataclasses import dataclass
from typing import Literal

Better = Literal["least", "most", ""]


@dataclass(frozen=True)
class Line:
    """A line of the comparison: its key, words, figure, quantity, decimals, better end, and whether it is bought.

    ``times``: what the figure is multiplied by to be shown."""

    key: str
    words: str
    figure: str
    quantity: str
    decimals: int
    better: Better = ""
    red: bool = False
    times: float = 1.0
    sign: str = ""


GROUPS: tuple[tuple[str, tuple[Line, ...]], ...] = (
    (
        "Heat",
        (
            Line("sun", "Sun received", "sun_kwh", "kWh", 0),
            Line("into", "Into store", "solar_kwh", "kWh", 0, "most"),
            Line("lost", "Lost", "lost_kwh", "kWh", 0),
            Line("delivered", "Delivered", "delivered_kwh", "kWh", 0),
            Line("bought", "Bought", "bought_kwh", "kWh", 0, "least", True),
            Line("missing", "Unmet", "missing_kwh", "kWh", 0, "least", True),
        ),
    ),
    (
        "Worth",
        (
            Line("fraction", "Solar fraction", "fraction", "percent", 1, "most", times=100.0),
            Line("dark", "in the three darkest months", "dark_fraction", "percent", 0, "most", times=100.0),
            Line("yield", "Yield", "yield_kwh_m2", "kWh/m2", 0, "most"),
            Line("free", "Days nothing is bought", "free_days", "day", 0, "most"),
        ),
    ),
    (
        "Wear",
        (
            Line("stagnation", "Stagnation", "stagnation_h", "h", 0, "least"),
            Line("peak", "Hottest collector", "collector_peak_c", "degC", 0, "least"),
            Line("hottest", "Hottest in the store", "store_hottest_c", "degC", 0, "least"),
            Line("fluid", "Fluid above its limit", "fluid_above_120_c_h", "h", 0, "least"),
            Line("pump", "Pump running", "pump_h", "h", 0, "least"),
            Line("power", "Pump’s power", "pump_kwh", "kWh", 0, "least"),
        ),
    ),
    (
        "Comfort",
        (
            Line("cold", "Tap too cold", "below_tap_h", "h", 0, "least"),
            Line("litres", "Usable on a midwinter evening", "usable_l_midwinter_evening", "L", 0, "most"),
            Line("lukewarm", "Store’s top below the safe warmth", "top_below_55_c_h", "h", 0, "least"),
        ),
    ),
    ("Size", (Line("area", "Collectors, gross", "area_m2", "m2", 1), Line("volume", "Store", "volume_l", "L", 0))),
    (
        "Money",
        (
            Line("first", "First cost, after grants", "first_cost", "1", 0, "least", sign="money"),
            Line("money", "Energy of a year", "energy_with_sun", "1", 0, "least", True, sign="money"),
            Line("life", "Life-cycle cost", "life_cycle_cost", "1", 0, "least", sign="money"),
            Line("worth", "Net present value", "present_value", "1", 0, "most", sign="money"),
            Line("payback", "Paid back after", "payback_years", "year", 1, "least"),
            Line("solar", "A kilowatt-hour of solar heat", "solar_kwh_cost", "1", 3, "least", sign="money"),
        ),
    ),
    ("Air", (Line("co2", "CO₂ of a year’s energy", "co2_with_sun_kg", "kg", 0, "least"),)),
    ("Books", (Line("closed", "Hours closed", "hours_closed", "h", 0),)),
)
"""Lines in their groups. Fluid: 120 °C, where usual antifreeze begins to age; safe warmth: 55 °C at the store's top."""
LINES = {line.key: line for _title, lines in GROUPS for line in lines}
