"""A design's pipes as runs of the loop, and the heat its fluid carries."""

import numpy as np

from heat.common.fluid import fluid_property
from heat.constants import WATER_J_KGK
from heat.design import Design, Pipe
from heat.loop.circulation import GRAVITY, Passage, pressure_drop
from heat.loop.fields import pipe_contents_l, pipe_loss_w_k
from heat.loop.pipe import Pipe as PipeRun

LEAST_HEADER_M = 0.02
"""Bore of a header where only that of its tubes is given (m): 22 mm tube. Source: our own choice."""
PUMPED_AT_C = 40.0
"""Temperature (°C) at which a loop's resistance is given. Source: our own choice, a usual mean of the year's running
hours."""
WITH_EXCHANGER = ("coil", "plate", "passive", "pool")
"""Ways of giving heat on that resist the pump (no unit)."""
BEST_PUMP, USUAL_PUMP = 0.5, 0.3
"""Efficiency from the plug to the water, the best of small pumps and a usual one (1). Source: EU 641/2009 and 547/2012,
data of the market, small wet rotors below, large pool pumps at the upper end."""
LEAST_FLOW_KG_H = 5.0
"""Flow no pump falls below (kg/h). Source: the range of the document's field."""
FLUID_REFERENCE_C = 50.0
"""Loop fluid's properties are taken at this temperature (°C); heat capacity varies by ±2 % over
20 to 80 °C. Source: table of heat.common.fluid."""


def loop_heat_capacity(design: Design) -> float:
    """Heat capacity of the loop's fluid (J/kgK): as typed, else by its glycol at 50 °C.

    Where the store's or the pool's own water passes the collectors it is that of the store.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Heat capacity of the loop's fluid (J/kgK).
    """
    loop = design.system.loop
    if design.system.scheme.exchange in ("direct", "none"):
        return WATER_J_KGK
    if loop.heat_capacity_j_kgk is not None:
        return loop.heat_capacity_j_kgk
    return fluid_property("heat_capacity_j_kgk", loop.glycol_percent, FLUID_REFERENCE_C)


def store_side_w_k(design: Design) -> float:
    """Capacity rate of the store's water past a plate exchanger (W/K): as typed, else matched to the loop's.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Capacity rate of the store's water past a plate exchanger (W/K).
    """
    typed = design.system.plate.store_flow_kg_h
    if typed is not None:
        return typed / 3600.0 * WATER_J_KGK
    return loop_flow_kg_h(design) / 3600.0 * loop_heat_capacity(design)


def pipe_run(pipe: Pipe, design: Design) -> PipeRun:
    """Loss (W/K) and contents (J/K) of one run, from geometry where not typed.

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).
    design
        The design.

    Returns
    -------
    PipeRun
        Loss (W/K) and contents (J/K).
    """
    density = fluid_property("density_kg_m3", design.system.loop.glycol_percent, FLUID_REFERENCE_C)
    current = pipe_contents_l(pipe) / 1000.0 * density * loop_heat_capacity(design)
    return PipeRun(float(pipe_loss_w_k(pipe)), current)


def riser_passage(design: Design) -> Passage:
    """The way of the fluid through the collectors (m, tubes): its risers side by side, or one header along them all.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Passage
        The way of the fluid through the collectors (m, tubes).
    """
    collector = design.system.collector
    bore = collector.tube_bore_mm / 1000.0
    in_row = min(collector.in_series or (collector.count if collector.manifold else 1), collector.count)
    groups = collector.count / in_row
    if collector.manifold:
        wide = collector.gross_area_m2 or collector.area_m2
        length = collector.tube_length_m or wide / design.plane.slope_m
        return Passage(length * in_row, max(bore, LEAST_HEADER_M), groups, 2.0)
    length = collector.tube_length_m or design.plane.slope_m
    return Passage(length * in_row, bore, collector.tubes_inside * groups, 2.0 * in_row)


def exchanger_drop_pa(design: Design, flow_kg_h: float) -> float:
    """Pressure drop of the exchanger of a pumped loop: as typed at the loop's flow, growing with its square.

    Parameters
    ----------
    design
        The design.
    flow_kg_h
        Flow (kg/h).

    Returns
    -------
    float
        Pressure drop (Pa); none where the loop has no exchanger or no pump.
    """
    scheme = design.system.scheme
    if scheme.driven_by != "pump" or scheme.exchange not in WITH_EXCHANGER:
        return 0.0
    if scheme.exchange == "pool" and design.demand.pool.exchanger_w_k <= 0.0:
        return 0.0  # the pool's own water passes the collectors
    share = flow_kg_h / max(design.system.loop.flow_kg_h, 1.0)
    return float(1000.0 * design.safety.exchanger_kpa * share**2)


def loop_drop_pa(design: Design, flow_kg_h: float, temperature_c: float = PUMPED_AT_C) -> float:
    """Pressure drop of the loop (Pa) at a flow (kg/h) and a temperature (°C): pipes, fittings, collectors, exchanger.

    Parameters
    ----------
    design
        The design.
    flow_kg_h
        Flow (kg/h).
    temperature_c
        Temperatures of the segments, bottom first (°C).

    Returns
    -------
    float
        Pressure drop of the loop (Pa).
    """
    loop = design.system.loop
    mu = fluid_property("viscosity_mpas", loop.glycol_percent, temperature_c) / 1000.0
    rho = fluid_property("density_kg_m3", loop.glycol_percent, temperature_c)
    flow = flow_kg_h / 3600.0
    total = 0.0
    for pipe in (loop.supply_pipe, loop.return_pipe):
        if pipe.length_m > 0:
            bore = (pipe.outer_diameter_mm - 2 * pipe.wall_mm) / 1000.0
            total += pressure_drop(flow, mu, rho, Passage(pipe.length_m, bore, 1.0, loop.geometry.fittings / 2))
    return float(total + pressure_drop(flow, mu, rho, riser_passage(design)) + exchanger_drop_pa(design, flow_kg_h))


def loop_flow_kg_h(design: Design) -> float:
    """Flow of the loop at full speed (kg/h): as typed, or where its pump's curve meets the loop's resistance.

    Found by halving between no flow and the curve's end.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Flow of the loop at full speed (kg/h).

    References
    ----------
    any pump's duty point, head of the curve = ``drop/(rho g)`` at 40 °C.
    """
    loop = design.system.loop
    if not loop.drive.curve or design.system.scheme.driven_by != "pump":
        return float(loop.flow_kg_h)
    flows, heads = [p.flow_kg_h for p in loop.drive.curve], [p.head_m for p in loop.drive.curve]
    weight = fluid_property("density_kg_m3", loop.glycol_percent, PUMPED_AT_C) * GRAVITY
    low, high = 0.0, flows[-1]
    for _ in range(40):
        middle = 0.5 * (low + high)
        if float(np.interp(middle, flows, heads)) * weight > loop_drop_pa(design, middle):
            low = middle
        else:
            high = middle
    return min(max(high, LEAST_FLOW_KG_H), 50_000.0)


def hydraulic_w(design: Design) -> float:
    """What the fluid takes up in the loop at full speed (W): ``drop x volume flow``.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Hydraulic power (W).

    References
    ----------
    Any pump: power is pressure times volume flow.
    """
    flow = loop_flow_kg_h(design)
    density = fluid_property("density_kg_m3", design.system.loop.glycol_percent, PUMPED_AT_C)
    return float(loop_drop_pa(design, flow) * flow / 3600.0 / density)


def pump_power_w(design: Design) -> float:
    """What the loop's pump draws at full speed (W): as typed, but never less than the best of pumps would need for its
    flow through this loop.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Power (W).
    """
    typed = float(design.system.loop.pump_w)
    return max(typed, hydraulic_w(design) / BEST_PUMP) if design.system.scheme.driven_by == "pump" else typed
