"""A design's pipes as runs of the loop, and the heat its fluid carries."""

from heat.constants import WATER_J_KGK
from heat.design import Design, Pipe
from heat.fluid import fluid_property
from heat.loop.circulation import Passage
from heat.loop.fields import pipe_contents_l, pipe_loss_w_k
from heat.loop.pipe import Pipe as PipeRun

LEAST_HEADER_M = 0.02
"""Bore of a header where only that of its tubes is given (m): 22 mm tube. Source: our own choice."""
FLUID_REFERENCE_C = 50.0
"""Loop fluid's properties are taken at this temperature (°C); heat capacity varies by ±2 % over
20 to 80 °C. Source: table of heat.fluid."""


def loop_heat_capacity(design: Design) -> float:
    """Heat capacity of the loop's fluid (J/kgK): as typed, else by its glycol at 50 °C.

    Where the store's or the pool's own water passes the collectors it is that of the store.
    """
    loop = design.system.loop
    if design.system.scheme.exchange in ("direct", "none"):
        return WATER_J_KGK
    if loop.heat_capacity_j_kgk is not None:
        return loop.heat_capacity_j_kgk
    return fluid_property("heat_capacity_j_kgk", loop.glycol_percent, FLUID_REFERENCE_C)


def store_side_w_k(design: Design) -> float:
    """Capacity rate of the store's water past a plate exchanger (W/K): as typed, else matched to the loop's."""
    typed = design.system.plate.store_flow_kg_h
    if typed is not None:
        return typed / 3600.0 * WATER_J_KGK
    return design.system.loop.flow_kg_h / 3600.0 * loop_heat_capacity(design)


def pipe_run(pipe: Pipe, design: Design) -> PipeRun:
    """Loss (W/K) and contents (J/K) of one run, from geometry where not typed."""
    density = fluid_property("density_kg_m3", design.system.loop.glycol_percent, FLUID_REFERENCE_C)
    held = pipe_contents_l(pipe) / 1000.0 * density * loop_heat_capacity(design)
    return PipeRun(float(pipe_loss_w_k(pipe)), held)


def riser_passage(design: Design) -> Passage:
    """The way of the fluid through the collectors (m, tubes): its risers side by side, or one header along them all."""
    collector = design.system.collector
    bore = collector.tube_bore_mm / 1000.0
    if collector.manifold:
        wide = collector.gross_area_m2 or collector.area_m2
        return Passage(wide / design.plane.slope_m * collector.count, max(bore, LEAST_HEADER_M), 1.0, 2.0)
    return Passage(design.plane.slope_m, bore, float(collector.tubes_inside * collector.count), 2.0)
