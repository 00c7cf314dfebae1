"""What collectors, and a store that stands with them, weigh full of water."""

from dataclasses import dataclass

from heat.collector.standing import is_unglazed
from heat.design import Design

GLAZED_KG_M2, UNGLAZED_KG_M2, BOX_KG_M2 = 20.0, 6.0, 25.0
"""Dry collectors under glass, mats, and glazed boxes for standing water (kg/m²), each within a third. Source: usual
data sheets."""
CONTENT_L_M2 = 1.5
"""Fluid in a collector (L/m²), 0.7 to 2.5. Source: usual data sheets."""
FRAME_KG_M2 = 5.0
"""Frame and fixings (kg/m²). Source: usual data sheets."""
STORE_KG_L = 0.25
"""An empty store for each litre (kg/L), steel with insulation, within a third. Source: usual data sheets."""


@dataclass(frozen=True)
class Weight:
    """Wet weight on the plane (kg), for each m² of collectors (kg/m²), of a store that stands with them (kg) and of one
    that stands on a floor (kg); dry on the plane, and one collector on the hook (kg).
    """

    plane_kg: float
    per_m2: float
    store_kg: float
    floor_kg: float
    dry_kg: float
    hook_kg: float


def wet_weight(design: Design) -> Weight:
    """Weight of a design's collectors full of water, frame included (kg, kg/m²), and of its store full (kg).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Weight
        Weights (kg), and that on each m² of collectors (kg/m²).
    """
    system = design.system
    scheme = system.scheme
    area = system.collector.total_gross_m2
    integral = scheme.driven_by == "none"
    dry = UNGLAZED_KG_M2 if is_unglazed(system.collector) else GLAZED_KG_M2
    if system.second_collector.fitted and not integral:
        area += system.second_collector.total_gross_m2
    if integral:
        water = (
            system.collector.total_area_m2 * system.integral.depth_mm if system.kind == "bag" else system.store.volume_l
        )
        empty, hook = area * (BOX_KG_M2 + FRAME_KG_M2), area / system.collector.count * BOX_KG_M2
        plane = empty + water
    else:
        empty, hook = area * (dry + FRAME_KG_M2), system.collector.total_gross_m2 / system.collector.count * dry
        plane = empty + area * CONTENT_L_M2
    store = 0.0 if integral or scheme.exchange == "pool" else system.store.volume_l * (1.0 + STORE_KG_L)
    beside = scheme.driven_by == "buoyancy"
    return Weight(plane, plane / area, store if beside else 0.0, 0.0 if beside else store, empty, hook)
