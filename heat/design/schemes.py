"""The kinds of system: what moves the loop of each, how it hands its heat on, where frost could bite."""

from typing import Literal, NamedTuple


class Scheme(NamedTuple):
    """What a kind of system does (no unit): what moves the loop, how heat is handed on, where frost could bite."""

    words: str
    driven_by: Literal["pump", "buoyancy", "none"]
    exchange: Literal["coil", "direct", "plate", "passive", "jacket", "pool", "none"]
    water_outdoors: bool
    drains: bool = False
    draw_coil: bool = False
    vented: bool = False


SCHEMES: dict[str, Scheme] = {
    "pumped_coil": Scheme("pumped closed loop, coil in the store", "pump", "coil", False),
    "pumped_plate": Scheme("pumped closed loop, plate exchanger and two pumps", "pump", "plate", False),
    "pumped_passive": Scheme(
        "pumped closed loop, exchanger whose store side moves by itself", "pump", "passive", False
    ),
    "drainback": Scheme("drainback: water that runs back when the pump stops", "pump", "coil", False, drains=True),
    "drain_down": Scheme("drain-down: store water, let out before frost", "pump", "direct", True),
    "direct": Scheme("store water through the collectors", "pump", "direct", True),
    "seasonal_preheat": Scheme("store water through the collectors, emptied in winter", "pump", "direct", True),
    "thermosiphon_open": Scheme(
        "natural circulation into an open store with a draw coil",
        "buoyancy",
        "direct",
        True,
        draw_coil=True,
        vented=True,
    ),
    "thermosiphon_sealed": Scheme("natural circulation, sealed, into a jacket", "buoyancy", "jacket", False),
    "batch_tank": Scheme("batch tank: the store is the collector", "none", "none", True),
    "tube_bank": Scheme("bank of wide tubes: the store is the collector", "none", "none", True),
    "bag": Scheme("flat water bag with a draw coil", "none", "none", True, draw_coil=True, vented=True),
    "pool_direct": Scheme("pool water through the collectors", "pump", "pool", True),
    "combi": Scheme("hot water and rooms from one store", "pump", "coil", False),
}
"""Every kind of system. Adding one is a row here and a path through the exchange kinds of heat.simulation."""

Kind = Literal[
    "pumped_coil",
    "pumped_plate",
    "pumped_passive",
    "drainback",
    "drain_down",
    "direct",
    "seasonal_preheat",
    "thermosiphon_open",
    "thermosiphon_sealed",
    "batch_tank",
    "tube_bank",
    "bag",
    "pool_direct",
    "combi",
]
