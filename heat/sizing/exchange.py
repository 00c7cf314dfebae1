"""The exchanger at its design point: how effective it is, and what the collectors lose by it."""

from dataclasses import dataclass
from math import exp

from heat.collector.absorbed import mean_rating
from heat.design import Design
from heat.loop.plate import counterflow_effectiveness
from heat.loop.runs import loop_flow_kg_h, loop_heat_capacity, store_side_w_k


@dataclass(frozen=True)
class Exchange:
    """An exchanger: heat transfer (W/K), number of transfer units (1), effectiveness (1), the collectors' factor by it
    (1), and how much hotter than the store they run for each kW (K).
    """

    ua_w_k: float
    ntu: float
    effectiveness: float
    factor: float
    lead_k_kw: float


def exchange_of(design: Design) -> Exchange | None:
    """A coil in still water, a jacket, or a plate in counterflow at full flow; None where the loop has none.

    ``eff = 1 - exp(-NTU)`` for the first two. Factor: de Winter (1975), Solar Energy 17, 335-337: ``1/(1 + (A
    U/C)(C/(eff C_min) - 1))``. Duffie & Beckman, 4th ed., 10.2.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Exchange | None
        A coil in still water, a jacket, or a plate in counterflow at full flow; None where the loop has none.
    """
    system, kind = design.system, design.system.scheme.exchange
    if kind not in ("coil", "jacket", "plate"):
        return None
    loop_w_k = loop_flow_kg_h(design) / 3600.0 * loop_heat_capacity(design)
    other = store_side_w_k(design) if kind == "plate" else 0.0
    least = min(loop_w_k, other) if other else loop_w_k
    ua = {"coil": system.coil.ua_w_k, "jacket": system.jacket.ua_w_k, "plate": system.plate.ua_w_k}[kind]
    effectiveness = float(counterflow_effectiveness(ua, loop_w_k, other)) if other else 1.0 - exp(-ua / least)
    loss = mean_rating(system.collector)[1] * system.collector.total_area_m2
    factor = 1.0 / (1.0 + loss / loop_w_k * (loop_w_k / (effectiveness * least) - 1.0))
    return Exchange(ua, ua / least, effectiveness, factor, 1000.0 / (effectiveness * least))
