"""Pipes: loss along the run, and the contents that cool at each stop."""

from math import exp, log, pi
from typing import NamedTuple

from heat.common.compiled import inline_kernel
from heat.constants import PIPE_FILM_W_M2K, SOIL_W_MK

TINY_UNITS = 1e-9
"""Transfer units (1) below which a pipe changes nothing but by rounding. Source: our own choice."""


class Pipe(NamedTuple):
    """One run: loss (W/K) and heat held by its contents (J/K)."""

    loss_w_k: float
    contents_j_k: float


def insulated_loss_w_k(
    length_m: float,
    outer_diameter_mm: float,
    insulation_mm: float,
    insulation_w_mk: float,
    *,
    wall_mm: float = 0.0,
    wall_w_mk: float = 380.0,
    buried_m: float | None = None,
) -> float:
    """Loss of an insulated round pipe (W/K): length (m), diameters (mm), conductivities (W/mK), depth (m).

    ``UA = L / (ln(r1/r0)/(2 pi k) + ln(r2/r1)/(2 pi lambda) + outside)``; outside is a film of 10 W/m²K, or in the
    ground ``ln(2 z/r2)/(2 pi 1.5 W/mK)``.

    Parameters
    ----------
    length_m
        Length (m).
    outer_diameter_mm
        Outer diameter (mm).
    insulation_mm
        Thickness of the insulation (mm).
    insulation_w_mk
        Conductivity of the insulation (W/mK).
    wall_mm
        Thickness of the wall (mm).
    wall_w_mk
        Conductivity of the wall (W/mK).
    buried_m
        Depth below the ground (m); None where it is not buried.

    Returns
    -------
    float
        Loss of an insulated round pipe (W/K).

    References
    ----------
    Incropera & DeWitt, 6th ed., eq. 3.27, 3.30 and table 4.1 (case 2).
    """
    inner = outer_diameter_mm / 2000.0
    outer = inner + insulation_mm / 1000.0
    wall = log(inner / (inner - wall_mm / 1000.0)) / (2.0 * pi * wall_w_mk) if wall_mm else 0.0
    wrap = log(outer / inner) / (2.0 * pi * insulation_w_mk)
    if buried_m is None:
        outside = 1.0 / (2.0 * pi * outer * PIPE_FILM_W_M2K)
    else:
        outside = log(max(2.0 * buried_m / outer, 1.1)) / (2.0 * pi * SOIL_W_MK)
    return length_m / (wall + wrap + outside)


def contents_litres(length_m: float, inner_diameter_mm: float) -> float:
    """Volume inside a pipe (L) of length (m) and inner diameter (mm).

    Parameters
    ----------
    length_m
        Length (m).
    inner_diameter_mm
        Bore (mm).

    Returns
    -------
    float
        Volume inside a pipe (L).
    """
    return length_m * pi * (inner_diameter_mm / 2000.0) ** 2 * 1000.0


@inline_kernel
def pipe_retention(pipe: Pipe, loop_w_k: float, dt_s: float) -> float:
    """Share of its excess over the pipe's aim (no unit) that fluid keeps along a run in dt_s (s).

    ``exp(-(UA + M/dt)/C)``: fluid gives to the air and to the contents alike.

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).
    loop_w_k
        Heat capacity rate of the loop (W/K).
    dt_s
        Length of the step (s).

    Returns
    -------
    float
        Share of its excess over the pipe's aim (no unit).

    References
    ----------
    Incropera & DeWitt, 6th ed., eq. 8.45b.
    """
    return exp(-(pipe.loss_w_k + pipe.contents_j_k / dt_s) / loop_w_k)


@inline_kernel
def pipe_aim(pipe: Pipe, dt_s: float, contents_c: float, around_c: float) -> tuple[float, float]:
    """What fluid in a pipe tends to (°C), and how strongly (W/K).

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).
    dt_s
        Length of the step (s).
    contents_c
        Mean temperature of the contents (°C).
    around_c
        Temperature around (°C).

    Returns
    -------
    tuple
        The temperature (°C) and the heat transfer (W/K).
    """
    pull_w_k = pipe.loss_w_k + pipe.contents_j_k / dt_s
    if pull_w_k <= 0.0:
        return around_c, 0.0
    return around_c + (contents_c - around_c) * (pipe.contents_j_k / dt_s) / pull_w_k, pull_w_k


@inline_kernel
def pipe_response(pipe: Pipe, retention: float, dt_s: float, contents_c: float, around_c: float) -> tuple[float, float]:
    """Answer of a running pipe, ``T_out = share T_in + offset``: share (no unit), offset (°C).

    Its profile is exponential towards :func:`pipe_aim`; ``kept`` (no unit) from :func:`pipe_kept` for the same step
    dt_s (s).

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).
    retention
        Share of the excess over the surroundings that is kept over the step (no unit).
    dt_s
        Length of the step (s).
    contents_c
        Mean temperature of the contents (°C).
    around_c
        Temperature around (°C).

    Returns
    -------
    tuple[float, float]
        Answer of a running pipe, ``T_out = share T_in + offset``: share (no unit), offset (°C).
    """
    aim_c, _pull_w_k = pipe_aim(pipe, dt_s, contents_c, around_c)
    return retention, (1.0 - retention) * aim_c


@inline_kernel
def pipe_pass(
    pipe: Pipe, loop_w_k: float, retention: float, dt_s: float, contents_c: float, around_c: float, inlet_c: float
) -> tuple[float, float, float]:
    """Pass fluid through: mean of the new contents (°C), outlet (°C), loss (J) over dt_s (s).

    inlet_c, contents_c, around_c in °C; loop_w_k in W/K. The same profile as :func:`pipe_response`; its mean is
    that of the contents, so that what comes in goes out, is lost or is held.

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).
    loop_w_k
        Heat capacity rate of the loop (W/K).
    retention
        Share of the excess over the surroundings that is kept over the step (no unit).
    dt_s
        Length of the step (s).
    contents_c
        Mean temperature of the contents (°C).
    around_c
        Temperature around (°C).
    inlet_c
        Temperature at the inlet (°C).

    Returns
    -------
    tuple
        Mean of the new contents (°C), outlet (°C), loss (J).
    """
    aim_c, pull_w_k = pipe_aim(pipe, dt_s, contents_c, around_c)
    outlet = aim_c + (inlet_c - aim_c) * retention
    units = pull_w_k / loop_w_k
    mean = inlet_c
    if units > TINY_UNITS:
        mean = aim_c + (inlet_c - outlet) / units
    return mean, outlet, pipe.loss_w_k * (mean - around_c) * dt_s


@inline_kernel
def pipe_rest(pipe: Pipe, dt_s: float, contents_c: float, around_c: float) -> tuple[float, float]:
    """Contents of a standing pipe after dt_s (s): new temperature (°C) and loss (J).

    contents_c, around_c in °C. Newton's cooling of one node.

    Parameters
    ----------
    pipe
        The pipe (m, mm, W/mK).
    dt_s
        Length of the step (s).
    contents_c
        Mean temperature of the contents (°C).
    around_c
        Temperature around (°C).

    Returns
    -------
    tuple[float, float]
        Contents of a standing pipe after dt_s (s): new temperature (°C) and loss (J).
    """
    if pipe.contents_j_k <= 0.0:
        return around_c, 0.0
    new = around_c + (contents_c - around_c) * exp(-pipe.loss_w_k * dt_s / pipe.contents_j_k)
    return new, pipe.contents_j_k * (contents_c - new)
