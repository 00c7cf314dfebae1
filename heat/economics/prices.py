"""The items of a price book, each with its unit and a made-up starting price.

The prices are invented, in round numbers, to begin with and to be replaced: they are no market's.
"""

from typing import NamedTuple


class Item(NamedTuple):
    """An item of the price book: words, unit, made-up price of one (currency), and the trade or shelf it belongs to."""

    words: str
    unit: str
    price: float
    group: str


ITEMS: dict[str, Item] = {
    "collector_flat": Item("flat-plate collector", "m2", 260, "Collectors"),
    "collector_tube": Item("tube collector", "m2", 380, "Collectors"),
    "collector_bare": Item("uncovered collector", "m2", 70, "Collectors"),
    "collector_store": Item("collector that stores, without its tank", "m2", 240, "Collectors"),
    "mount_roof": Item("roof mounting, one collector", "piece", 70, "Collectors"),
    "mount_flat": Item("flat-roof frame, one collector", "piece", 130, "Collectors"),
    "mount_ground": Item("ground rack, one collector", "piece", 190, "Collectors"),
    "mount_wall": Item("wall frame, one collector", "piece", 150, "Collectors"),
    "ballast": Item("concrete or ballast", "kg", 0.35, "Collectors"),
    "roof_entry": Item("roof entry", "piece", 45, "Collectors"),
    "mirror": Item("mirror with its frame", "m2", 60, "Collectors"),
    "store": Item("store, apart from its size", "piece", 420, "Store"),
    "store_litre": Item("store, by its size", "L", 2.6, "Store"),
    "draw_coil": Item("draw coil", "piece", 260, "Store"),
    "plate": Item("plate exchanger", "piece", 190, "Store"),
    "element": Item("electric element", "piece", 110, "Store"),
    "mixing_valve": Item("mixing valve against scalding", "piece", 75, "Safety"),
    "relief_store": Item("temperature and pressure relief of the store", "piece", 60, "Safety"),
    "cold_group": Item("safety group of the cold supply", "piece", 70, "Safety"),
    "relief_loop": Item("relief valve and gauge of the loop", "piece", 55, "Safety"),
    "vessel": Item("expansion vessel with its shut-off", "piece", 95, "Safety"),
    "drainback_vessel": Item("drainback vessel", "piece", 210, "Safety"),
    "drain_valves": Item("drain valves with frost sensor", "piece", 160, "Safety"),
    "vent": Item("open vent and overflow", "piece", 40, "Safety"),
    "vacuum_valve": Item("vacuum breaker", "piece", 35, "Safety"),
    "pump": Item("pump with valves and flow gauge", "piece", 190, "Loop"),
    "controller": Item("controller with three sensors", "piece", 160, "Loop"),
    "check_valve": Item("check valve", "piece", 22, "Loop"),
    "fill_valve": Item("fill and flush valves", "piece", 40, "Loop"),
    "air_vent": Item("air vent with shut-off", "piece", 28, "Loop"),
    "diverter": Item("diverting valve of the pool", "piece", 140, "Loop"),
    "pipe_copper": Item("copper pipe of 18 mm", "m", 9, "Loop"),
    "pipe_steel": Item("steel pipe of 18 mm", "m", 11, "Loop"),
    "pipe_plastic": Item("plastic pipe of 18 mm", "m", 3.5, "Loop"),
    "insulation": Item("pipe insulation, 19 mm on 18 mm", "m", 4.5, "Loop"),
    "trench": Item("trench", "m", 22, "Loop"),
    "fluid": Item("antifreeze, ready mixed", "L", 4.2, "Loop"),
    "anode": Item("anode", "piece", 35, "Store"),
    "fitter": Item("fitter", "h", 58, "Work"),
    "roofer": Item("roofer", "h", 55, "Work"),
    "electrician": Item("electrician", "h", 62, "Work"),
    "permit": Item("permit and papers", "piece", 120, "Work"),
    "transport": Item("transport and hoisting", "piece", 150, "Work"),
    "commissioning": Item("commissioning and instruction", "piece", 180, "Work"),
}
"""Items by key. Prices: made up for this application."""
PRICES = {key: item.price for key, item in ITEMS.items()}
