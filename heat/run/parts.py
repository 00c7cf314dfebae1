"""What the compiled year reads: named tuples of parts, and the numbers of its rows and columns."""

from typing import Final, NamedTuple

from heat import accounts as acc
from heat.collector.rated import RatedCollector
from heat.control.differential import Differential
from heat.loop.circulation import Fluid, Heights, Passage
from heat.loop.coil import Coil
from heat.loop.pipe import Pipe
from heat.store.layers import LayeredStore
from heat.store.pool import Pool

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
    ABSORBED, A1, ABSORBED_2, A1_2, AIR, MAINS, DRAW_KG, TAP_C, SUPPLY_AROUND, BACK_AROUND, PUMP_OK, FLOW_SHARE, DRY,
    ELEMENT_ON, TOP_ELEMENT_ON, BOILER_ON, STOVE_ON, PASTEURISE_C, MODE, STORE_AROUND, COVER_W_K, COVER_W_K2,
    STORE_GAIN_W, HEATING_W, HEATING_SUPPLY_C, HEATING_RETURN_C, CIRCULATION_W, PROCESS_W, POOL_SUN_W, POOL_VAPOUR,
    POOL_WIND, POOL_AIR, POOL_SKY, POOL_BARE, POOL_ACTIVITY, POOL_FRESH_KG, POOL_ON, POOL_SET,
) = range(38)  # fmt: skip
ROWS: Final = 38

# Where a state is kept between runs; S_WRITTEN sums all accounts, so that a value that is no number shows.
(
    S_COLLECTOR, S_COLLECTOR_2, S_SUPPLY, S_BACK, S_RUNNING, S_FULL, S_POOL, S_FLOW, S_INLET, S_RAN, S_DRY,
    S_HEATING, S_COUNT, S_COUNT_2, S_WRITTEN,
) = (0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 15, 16, 17)  # fmt: skip
STATE: Final = 18
HEATERS: Final = 4

# Columns of a heater.
H_POWER, H_HEIGHT, H_SENSOR, H_SET, H_HYSTERESIS, H_STORE = range(6)

# Columns of a load: ports (shares), backup in series (W), reserve of the store's top (°C).
L_OUT, L_IN, L_BACKUP, L_RESERVE = range(4)

SLOW_FLOW: Final = 3e-4
"""Natural flow (kg/s) below which a dark hour is reckoned in one step. Source: our own choice, 1 kg/h."""
BALANCE: Final = 1e-3
"""How closely drive and friction agree in the year's loop (share, no unit); the flow is then right to half of it.
Source: our own choice."""
PAGE: Final = max(acc.COLUMNS, acc.TRACES)


class LoopPart(NamedTuple):
    """The loop: how it hands heat on, what moves it, how it stops (W/K, W, m, shares, steps)."""

    exchange: int
    natural: bool
    check_valve: bool
    flow_w_k: float
    steady: bool
    pump_w: float
    variable: bool
    least_share: float
    target_k: float
    by_sun: bool
    least_steps: float
    bundled: float
    blocked: bool
    drains: int
    lift_j: float
    lock_with_boiler: bool
    convective: bool
    out_share: float
    in_share: float
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
    """Tap: tempering valve, tankless heater (W), draw coil (0 W/K: none) and its flow (W/K)."""

    tempered: bool
    tankless_w: float
    coil: Coil
    coil_flow_w_k: float


class VesselPart(NamedTuple):
    """Beyond a plain store: boiling or relief (°C), latent heat (J/kg), dump (°C, W), extra loss through
    lid and floor (W/K), whether loss must be reckoned each step."""

    limit_c: float
    steam_j_kg: float
    dump_c: float
    dump_w: float
    top_w_k: float
    floor_w_k: float
    quick: bool


class Parts(NamedTuple):
    """All parts of one system, and the steps in an hour."""

    collector: RatedCollector
    second: RatedCollector
    supply: Pipe
    back: Pipe
    coil: Coil
    control: Differential
    loop: LoopPart
    natural: NaturalPart
    store: LayeredStore
    vessel: VesselPart
    main: LayeredStore
    two_stores: bool
    tap: TapPart
    pool: Pool
    has_pool: bool
    has_loads: bool
    heaters: int
    transfer_share: float
    steps: int
