"""The plain system: one pumped loop with a coil in one closed store, a tap, nothing else.

Written with the values that make it plain, so that the compiler leaves out what such a system does not have.
"""

from heat.collector.rated import RatedCollector
from heat.common.compiled import section
from heat.control.differential import Differential
from heat.simulation.parts import COIL, STAYS, LoopPart, Parts, TapPart, VesselPart
from heat.store.layers import LayeredStore


@section
def plain_parts(parts: Parts) -> Parts:
    """The same parts (W, W/K, kg, °C) with everything beyond a plain system left out.

    A system is plain where this changes nothing.
    """
    loop = parts.loop
    control = parts.control
    store = parts.store
    vessel = parts.vessel
    return Parts(
        parts.collector,
        RatedCollector(0.0, parts.second.a2, parts.second.a5),
        parts.supply,
        parts.back,
        parts.coil,
        Differential(
            control.on_k,
            control.off_k,
            control.sensor_share,
            control.limit_share,
            control.store_limit_c,
            control.release_k,
            control.stop_without_gain,
            control.collector_limit_c,
            0.0,
            1.0,
            0.0,
        ),
        LoopPart(
            COIL,
            False,
            True,
            loop.flow_w_k,
            True,
            loop.supply_retention,
            loop.back_retention,
            loop.pump_w,
            False,
            loop.least_share,
            loop.target_k,
            False,
            loop.least_run_s,
            0.0,
            False,
            STAYS,
            0.0,
            loop.lock_with_boiler,
            False,
            loop.out_share,
            loop.in_share,
            loop.layering,
            loop.exchanger_w_k,
            0.0,
            0.0,
            loop.water_kg,
        ),
        parts.natural,
        LayeredStore(store.mass_kg, store.layers, store.loss_w_k, store.room_c, store.conductance_w_kg_k, False),
        parts.store_retention,
        VesselPart(
            vessel.limit_c, vessel.steam_j_kg, vessel.dump_c, 0.0, False, 0.0, 0.0, 0.0, 0.0, False, False, False
        ),
        parts.main,
        False,
        TapPart(parts.tap.tempered, parts.tap.tankless_w, parts.tap.coil, 0.0, 0.0),
        parts.pool,
        False,
        False,
        0,
        False,
        parts.stove,
        parts.transfer_kg_s,
        parts.steps,
    )


def is_plain(parts: Parts) -> bool:
    """Whether a system is plain (no unit): leaving out what is not plain changes none of its parts."""
    return bool(getattr(plain_parts, "py_func")(parts) == parts)  # noqa: B009 - unknown to its type
