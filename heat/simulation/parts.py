"""What the compiled year reads: named tuples of parts, and the numbers of its rows and columns."""

from functools import cache
from typing import Any, Final, NamedTuple, get_type_hints

import numpy as np
from numpy.typing import NDArray

from heat.collector.rated import RatedCollector
from heat.common.fluid import Fluid
from heat.control.differential import Differential
from heat.ledger import accounts as acc
from heat.loop.circulation import Heights, Passage
from heat.loop.coil import Coil
from heat.loop.pipe import Pipe
from heat.loop.stove import Stove
from heat.store.layers import LayeredStore
from heat.store.pool import Pool

Array = NDArray[np.float64]

# How the loop hands its heat on.
COIL: Final = 0
DIRECT: Final = 1
PLATE: Final = 2
PASSIVE: Final = 3
POOL: Final = 4
NONE: Final = 5

# What happens to the loop's water when the pump stops.
STAYS: Final = 0
TO_VESSEL: Final = 1

# Rows of the hourly inputs.
(
    ABSORBED,
    A1,
    ABSORBED_2,
    A1_2,
    AIR,
    MAINS,
    DRAW_KG,
    TAP_C,
    SUPPLY_AROUND,
    BACK_AROUND,
    PUMP_OK,
    FLOW_SHARE,
    DRY,
    ELEMENT_ON,
    TOP_ELEMENT_ON,
    BOILER_ON,
    NIGHT_BOILER_ON,
    STOVE_ON,
    PASTEURISE_C,
    MODE,
    STORE_AROUND,
    COVER_W_K,
    COVER_W_K2,
    STORE_GAIN_W,
    DUMP_ON,
    HEATING_W,
    HEATING_SUPPLY_C,
    HEATING_RETURN_C,
    HEATING_2_W,
    HEATING_2_SUPPLY_C,
    HEATING_2_RETURN_C,
    FRESH_W,
    FRESH_SUPPLY_C,
    FRESH_RETURN_C,
    SLAB_ON,
    CIRCULATION_W,
    PROCESS_W,
    POOL_SUN_W,
    POOL_VAPOUR,
    POOL_WIND,
    POOL_AIR,
    POOL_SKY,
    POOL_BARE,
    POOL_ACTIVITY,
    POOL_FRESH_KG,
    POOL_ON,
    POOL_SET,
) = range(47)
ROWS: Final = 47

SLOW_FLOW: Final = 3e-4
"""Natural flow (kg/s) below which a dark hour is calculated in one step. Source: our own choice, 1 kg/h."""
BALANCE: Final = 1e-3
"""How closely drive and friction agree in the year's loop (share, no unit); the flow is then right to half of it.
Source: our own choice."""
NO_TOTALS: Final = max(acc.COLUMNS, acc.TRACES)


class Heater(NamedTuple):
    """A heater in a store: power (W, 0: none), heights of its body and its sensor (shares), set point (°C), hysteresis
    (K),
    whether it sits in the second store.
    """

    power_w: float
    height_share: float
    sensor_share: float
    set_c: float
    hysteresis_k: float
    in_second: bool


class Heaters(NamedTuple):
    """Every heater with a thermostat that a store may have (W, °C, K): two elements, a boiler's coil, a boiler that
    heats the solar store by night (a fault).
    """

    element: Heater
    top_element: Heater
    boiler: Heater
    night_boiler: Heater


class Load(NamedTuple):
    """A use that takes warm water from a store and sends it back: ports (shares), heater in series (W), temperature
    below
    which the store's top is kept (°C), supply and return (°C), its own coil in the store (0 W/K: none).
    """

    out_share: float
    in_share: float
    backup_w: float
    reserve_c: float
    supply_c: float
    return_c: float
    coil: Coil


class FloorSlab(NamedTuple):
    """A heavy floor: capacity (J/K, 0: none), charging and leaks to room and ground (W/K), room, ground and hottest
    (°C), lead it is charged at (K).
    """

    heat_j_k: float
    charge_w_k: float
    room_w_k: float
    ground_w_k: float
    room_c: float
    ground_c: float
    most_c: float
    lead_k: float


class Loads(NamedTuple):
    """The uses beside the taps (W, °C): rooms by two circuits, fresh air, circulation, process, pool, and the heavy
    floor with its charging.
    """

    rooms: Load
    rooms_2: Load
    fresh: Load
    circulation: Load
    process: Load
    pool: Load
    charging: Load
    slab: FloorSlab


class State(NamedTuple):
    """What passes from step to step beside the stores' water: temperatures (°C), flow by weight (kg/s), steps the pump
    ran,
    capacity rate past a passive exchanger (W/K), share of the tap's water that passed the draw coil, the heavy
    floor (°C), segments in each store, and the sum of all accounts (J), so that a value that is no number shows.
    """

    collector_c: float
    second_c: float
    supply_c: float
    back_c: float
    inlet_c: float
    pool_c: float
    running: bool
    full: bool
    dry: bool
    boiler_on: bool
    flow_kg_s: float
    ran: float
    store_flow_w_k: float
    coil_share: float
    slab_c: float
    segments: int
    segments_2: int
    written_j: float


class Hour(NamedTuple):
    """What an hour brings to the loop: sun (W/m²) and linear loss (W/m²K) of both collector groups, air, mains and what
    surrounds pipes and stores, at work and at rest (°C), whether the pump may run (0, 1; 2: must), share of its flow,
    whether
    the loop is dry.
    """

    sun: float
    a1: float
    sun_2: float
    a1_2: float
    air_c: float
    mains_c: float
    around_supply_c: float
    around_back_c: float
    resting_supply_c: float
    resting_back_c: float
    room_c: float
    pump_ok: float
    flow_share: float
    dry: bool


class LoopCommand(NamedTuple):
    """What moves the loop in a step: whether it flows, by weight or by pump, backwards, forced; capacity rate (W/K),
    flow by
    weight (kg/s), reading of the lower sensor (°C), whether the store is full, how long the step is to be (s).
    """

    dt_s: float
    go: bool
    drifting: bool
    backwards: bool
    forced: bool
    flow_w_k: float
    flow_kg_s: float
    low_c: float
    full: bool


class Water(NamedTuple):
    """The stores' segments (°C, kg), bottom first, and room to work in: effectiveness and warming of each layer (1)."""

    layers: Array
    mass: Array
    layers_2: Array
    mass_2: Array
    effect: Array
    warming: Array


class Totals(NamedTuple):
    """The hour being written: its accounts (J) and traces (summed over its steps)."""

    book: Array
    trace: Array


class Loop(NamedTuple):
    """The loop after a step: temperatures (°C), time the pump ran (s), segments of the store, whether it took heat."""

    collector_c: float
    second_c: float
    supply_c: float
    back_c: float
    inlet_c: float
    pool_c: float
    ran: float
    segments: int
    heated: bool


class Served(NamedTuple):
    """The stores after a step: segments in each, the pool and the heavy floor (°C), whether the boiler heats, share
    of the tap's water that passed the draw coil.
    """

    segments: int
    segments_2: int
    pool_c: float
    slab_c: float
    boiler_on: bool
    coil_share: float


class LoopAnswer(NamedTuple):
    """How collectors and loop agree in a step: whether the pump goes on; mean of both groups, outlet, inlet (°C), the
    exchange's share (1) and offset (°C), the topmost layer of the coil, what the pipes keep (1), capacity rate on the
    store's side (W/K), how long it holds (s).
    """

    dt_s: float
    go: bool
    mean_c: float
    mean_2_c: float
    outlet_c: float
    inlet_c: float
    share: float
    offset_c: float
    upper: int
    supply_retention: float
    back_retention: float
    store_flow_w_k: float


class LoopPart(NamedTuple):
    """The loop: how it hands heat on, what moves it, how it stops (W/K, W, m, shares, s).

    ``supply_retention``, ``back_retention``: what fluid keeps of its excess along each pipe at full flow (1).
    """

    exchange: int
    natural: bool
    check_valve: bool
    flow_w_k: float
    steady: bool
    supply_retention: float
    back_retention: float
    pump_w: float
    variable: bool
    least_share: float
    target_k: float
    by_sun: bool
    least_run_s: float
    bundled: float
    blocked: bool
    drains: int
    lift_j: float
    lock_with_boiler: bool
    convective: bool
    out_share: float
    in_share: float
    layering: bool
    exchanger_w_k: float
    store_flow_w_k: float
    store_pump_w: float
    water_kg: float


class NaturalPart(NamedTuple):
    """What a loop without a pump needs: heights, passages and fluids."""

    heights: Heights
    pipes: Passage
    risers: Passage
    store_side: Passage
    exchanger_m: float
    fluid: Fluid
    water: Fluid


class TapPart(NamedTuple):
    """Tap: tempering valve, tankless heater (W), draw coil (0 W/K: none), its flow (W/K), and the share of a draw that
    stood in it.
    """

    tempered: bool
    tankless_w: float
    coil: Coil
    coil_flow_w_k: float
    own_share: float


class VesselPart(NamedTuple):
    """Beyond a plain store: boiling or relief (°C), latent heat (J/kg), dump (°C, W at the store, whether it warms
    the rooms, W of its pump, W at the collectors), extra
    loss through top and floor (W/K), whether a draw mixes all, whether the sun warms the upper water first, whether
    loss must be calculated each step.
    """

    limit_c: float
    steam_j_kg: float
    dump_c: float
    dump_w: float
    dump_to_rooms: bool
    dump_pump_w: float
    collector_dump_w: float
    top_w_k: float
    floor_w_k: float
    draws_mix: bool
    sun_above: bool
    quick: bool


class Parts(NamedTuple):
    """All parts of one system, and the steps in an hour.

    ``store_retention``: what the store keeps of its excess over the room in an hour (1).
    """

    collector: RatedCollector
    second: RatedCollector
    supply: Pipe
    back: Pipe
    coil: Coil
    control: Differential
    loop: LoopPart
    natural: NaturalPart
    store: LayeredStore
    store_retention: float
    vessel: VesselPart
    main: LayeredStore
    two_stores: bool
    tap: TapPart
    pool: Pool
    has_pool: bool
    has_loads: bool
    heaters: int
    has_stove: bool
    stove: Stove
    transfer_kg_s: float
    steps: int


@cache
def _field_types(kind: type) -> dict[str, type]:
    return get_type_hints(kind)


def exact(part: Any) -> Any:
    """The same tuple of parts with every number of the type it declares (units unchanged, such as W/K).

    An int where another design has a float would compile the loop a second time, for twenty seconds.
    """
    types = _field_types(type(part))  # type: ignore[arg-type]
    values = [
        exact(value) if hasattr(value, "_fields") else types[name](value)
        for name, value in zip(part._fields, part, strict=True)
    ]
    return type(part)(*values)
