"""Every kind of system, in few words."""

KINDS = {
    "pumped_coil": "coil in the store",
    "pumped_plate": "plate exchanger",
    "pumped_passive": "passive exchanger",
    "drainback": "drainback",
    "drain_down": "drain-down",
    "direct": "direct, frost-free",
    "seasonal_preheat": "seasonal preheat",
    "thermosiphon_open": "thermosiphon, open",
    "thermosiphon_sealed": "thermosiphon, sealed",
    "batch_tank": "batch tank",
    "tube_bank": "tube bank",
    "bag": "water bag",
    "pool_direct": "pool, straight through",
    "combi": "combi with rooms",
}
"""Every kind of system, in few words."""
