"""The accounts people decide by: what a line is called, where its number comes from, and which end of it is the better
one."""

from dataclasses import dataclass
from typing import Literal

Better = Literal["least", "most", ""]


@dataclass(frozen=True)
class ComparisonLine:
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


GROUPS: tuple[tuple[str, tuple[ComparisonLine, ...]], ...] = (
    (
        "Heat",
        (
            ComparisonLine("sun", "Sun received", "sun_kwh", "kWh", 0),
            ComparisonLine("into", "Into store", "solar_kwh", "kWh", 0, "most"),
            ComparisonLine("lost", "Lost", "lost_kwh", "kWh", 0),
            ComparisonLine("delivered", "Delivered", "delivered_kwh", "kWh", 0),
            ComparisonLine("bought", "Bought", "bought_kwh", "kWh", 0, "least", True),
            ComparisonLine("unmet", "Unmet", "unmet_kwh", "kWh", 0, "least", True),
        ),
    ),
    (
        "Worth",
        (
            ComparisonLine("fraction", "Solar fraction", "fraction", "percent", 1, "most", times=100.0),
            ComparisonLine("dark", "in the three darkest months", "dark_fraction", "percent", 0, "most", times=100.0),
            ComparisonLine("yield", "Yield", "yield_kwh_m2", "kWh/m2", 0, "most"),
            ComparisonLine("free", "Days nothing is bought", "free_days", "day", 0, "most"),
        ),
    ),
    (
        "Wear",
        (
            ComparisonLine("stagnation", "Stagnation", "stagnation_h", "h", 0, "least"),
            ComparisonLine("peak", "Hottest collector", "collector_peak_c", "degC", 0, "least"),
            ComparisonLine("hottest", "Hottest in the store", "store_hottest_c", "degC", 0, "least"),
            ComparisonLine("fluid", "Fluid above its limit", "fluid_above_120_c_h", "h", 0, "least"),
            ComparisonLine("pump", "Pump running", "pump_h", "h", 0, "least"),
            ComparisonLine("power", "Pump’s power", "pump_kwh", "kWh power", 0, "least"),
        ),
    ),
    (
        "Comfort",
        (
            ComparisonLine("cold", "Tap too cold", "below_tap_h", "h", 0, "least"),
            ComparisonLine("litres", "Usable on a midwinter evening", "usable_l_midwinter_evening", "L", 0, "most"),
            ComparisonLine("lukewarm", "Store’s top below the safe warmth", "top_below_55_c_h", "h", 0, "least"),
        ),
    ),
    (
        "Size",
        (
            ComparisonLine("area", "Collectors, gross", "area_m2", "m2", 1),
            ComparisonLine("volume", "Store", "volume_l", "L", 0),
        ),
    ),
    (
        "Money",
        (
            ComparisonLine("first", "First cost, after grants", "first_cost", "1", 0, "least", sign="money"),
            ComparisonLine("money", "Energy of a year", "energy_with_sun", "1", 0, "least", True, sign="money"),
            ComparisonLine("life", "Life-cycle cost", "life_cycle_cost", "1", 0, "least", sign="money"),
            ComparisonLine("worth", "Net present value", "present_value", "1", 0, "most", sign="money"),
            ComparisonLine("payback", "Payback time", "payback_years", "year", 1, "least"),
            ComparisonLine("solar", "A kilowatt-hour of solar heat", "solar_kwh_cost", "1", 3, "least", sign="money"),
        ),
    ),
    ("Air", (ComparisonLine("co2", "CO₂ of a year’s energy", "co2_with_sun_kg", "kg", 0, "least"),)),
    ("Books", (ComparisonLine("closed", "Hours closed", "hours_closed", "h", 0),)),
)
"""Lines in their groups. Fluid: 120 °C, where usual antifreeze begins to age; safe warmth: 55 °C at the store's top."""
LINES = {line.key: line for _title, lines in GROUPS for line in lines}
