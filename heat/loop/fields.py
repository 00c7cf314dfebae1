"""Loss and contents of a pipe as the design document describes it."""

from heat.design.system import Pipe
from heat.loop.pipe import contents_litres, insulated_loss_w_k

WALL_W_MK = {"copper": 380.0, "steel": 50.0, "plastic": 0.4}
"""Conductivity of pipe walls (W/mK), ±10 %. Source: VDI Heat Atlas, 2nd ed., part D; cross-linked polyethylene 0.35 to
0.45."""


def pipe_loss_w_k(pipe: Pipe) -> float:
    """Loss of a run (W/K): as typed, else from geometry, wall and insulation.

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).

    Returns
    -------
    float
        Loss of a run (W/K).
    """
    if pipe.loss_w_k is not None:
        return pipe.loss_w_k
    return insulated_loss_w_k(
        pipe.length_m,
        pipe.outer_diameter_mm,
        pipe.insulation_mm,
        pipe.insulation_w_mk,
        wall_mm=pipe.wall_mm,
        wall_w_mk=WALL_W_MK[pipe.material],
        buried_m=pipe.depth_m if pipe.buried else None,
    )


def pipe_contents_l(pipe: Pipe) -> float:
    """Contents of a run (L): as typed, else from geometry.

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).

    Returns
    -------
    float
        Contents of a run (L).
    """
    if pipe.contents_l is not None:
        return pipe.contents_l
    return contents_litres(pipe.length_m, pipe.outer_diameter_mm - 2 * pipe.wall_mm)
