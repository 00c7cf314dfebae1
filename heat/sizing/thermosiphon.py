"""A thermosiphon on a sunny noon: what drives it, how much flows, whether its pipes rise enough."""

from dataclasses import dataclass
from math import radians, sin

from heat.collector.absorbed import mean_rating
from heat.common.fluid import fluid_property
from heat.design import Design
from heat.loop.circulation import GRAVITY
from heat.loop.runs import loop_drop_pa, loop_heat_capacity
from heat.sizing.hygiene import stagnant_l
from heat.store.vessel import store_shape, store_volume_l

NOON_W_M2, AIR_C, STORE_C = 800.0, 20.0, 40.0
"""Sun on the collectors (W/m²), air and store (°C) of the noon it is worked out for. Source: our own choice."""
LEAST_RISE = 50.0
"""Rise of pipes without a pump (mm for each m): 1 in 20. Source: usual practice."""


@dataclass(frozen=True)
class Siphon:
    """A noon of natural circulation: flow (kg/h), rise through the collectors (K), what drives it (Pa), how high the
    warm column is (m), and whether its pipes rise enough and dip below the store.
    """

    flow_kg_h: float
    rise_k: float
    drive_pa: float
    column_m: float
    rises: bool
    trapped: bool


def siphon(design: Design) -> Siphon | None:
    """The flow (kg/h) at which a column of warm fluid balances friction on a sunny noon; None where a pump moves it.

    ``g (rho_cold - rho_mean) h``, with half the collectors' height and what lies above them up to where the warm pipe
    enters as ``h``; friction as the year has it. Found by halving.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Siphon | None
        The flow (kg/h).

    References
    ----------
    Duffie & Beckman, 4th ed., 12.5.
    """
    if design.system.scheme.driven_by != "buoyancy":
        return None
    eta0, a1, a2 = mean_rating(design.system.collector)
    capacity, percent = loop_heat_capacity(design), design.system.loop.glycol_percent
    area = design.system.collector.total_area_m2
    up = design.plane.slope_m * sin(radians(design.plane.tilt_deg))
    column = 0.5 * up + max(design.system.store_bottom_m, 0.0) + entry_m(design)
    weight = lambda c: fluid_property("density_kg_m3", percent, c)

    def at(flow_kg_h: float) -> tuple[float, float, float]:
        """Rise (K), drive and friction (Pa) of a flow (kg/h)."""
        rate = flow_kg_h / 3600.0 * capacity
        lead = STORE_C - AIR_C
        gain = max(area * (eta0 * NOON_W_M2 - a1 * lead - a2 * lead * lead), 0.0)
        rise = gain / (rate + 0.5 * area * a1)
        drive = GRAVITY * (weight(STORE_C) - weight(min(STORE_C + rise, 100.0))) * column
        return rise, drive, loop_drop_pa(design, flow_kg_h, min(STORE_C + 0.5 * rise, 95.0))

    low, high = 1.0, 5000.0
    for _ in range(50):
        middle = 0.5 * (low + high)
        _rise, drive, friction = at(middle)
        low, high = (middle, high) if drive > friction else (low, middle)
    rise, drive, _friction = at(low)
    rises = design.safety.rise_mm_m >= LEAST_RISE
    return Siphon(low, rise, drive, column, rises, design.safety.heat_trap)


def entry_m(design: Design) -> float:
    """How far above the store's floor the warm pipe enters it, or the exchanger in it.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Height above the store's floor (m).
    """
    system = design.system
    _width, height = store_shape(system.store, store_volume_l(design))
    share = {"jacket": system.jacket.top_share, "coil": system.coil.top_share}.get(
        system.scheme.exchange, system.loop.in_share
    )
    return float(share * height)


def stove_budget(design: Design) -> dict[str, float] | None:
    """A stove's heat against what can take it (kW): into the room, water and radiators; without power only what flows
    by itself, and hours until the store boils with nothing drawn (h); None without one.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    dict[str, float] | None
        Power to the room, to water and to radiators (kW), and hours until the store boils (h); None without a
        stove.
    """
    stove = design.system.backup.stove
    if not stove.fitted:
        return None
    water_kwh_k = design.system.store.volume_l * 4.186 / 3600.0
    still = max(stove.power_kw - design.safety.radiator_kw, 0.0)
    return {
        "whole_kw": stove.power_kw + stove.room_kw,
        "room_kw": stove.room_kw,
        "water_kw": stove.power_kw,
        "radiators_kw": design.safety.radiator_kw,
        "left_kw": still,
        "boils_h": water_kwh_k * (95.0 - 60.0) / still if still > 0 else float("inf"),
    }


def pool_flow(design: Design) -> dict[str, float] | None:
    """A pool that passes its collectors: time of one turnover (h), flow for each m² of collectors (kg/h m²) and their
    rise in full sun (K), litres in the pipes; None without one.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    dict[str, float] | None
        A pool that passes its collectors: time of one turnover (h), flow for each m² of collectors (kg/h m²)
        and their rise in full sun (K), litres in the pipes; None without one.
    """
    pool, system = design.demand.pool, design.system
    if system.scheme.exchange != "pool" or not pool.fitted:
        return None
    eta0 = mean_rating(system.collector)[0]
    flow = design.system.loop.flow_kg_h
    pipes = (system.loop.supply_pipe, system.loop.return_pipe)
    current = sum(stagnant_l(pipe.length_m, pipe.outer_diameter_mm - 2 * pipe.wall_mm) for pipe in pipes)
    return {
        "turnover_h": pool.area_m2 * pool.depth_m * 1000.0 / design.safety.filter_kg_h,
        "flow_m2": flow / system.collector.total_area_m2,
        "rise_k": eta0 * 1000.0 * system.collector.total_area_m2 / (flow / 3600.0 * loop_heat_capacity(design)),
        "pipes_l": current,
    }
