"""Room for what grows: expansion vessel, pressures, steam, cooling vessel, drainback vessel, water of open tanks."""

from dataclasses import dataclass
from math import sqrt

from heat.common.fluid import density as density_at
from heat.common.fluid import fluid_curves
from heat.design import Design
from heat.loop.fields import pipe_contents_l
from heat.sizing.circuit import rise_m
from heat.sizing.roof_load import CONTENT_L_M2

COIL_L = 8.0
"""Fluid in a coil or plate exchanger and its fittings (L). Source: usual data sheets."""
FILLED_AT_C, HOTTEST_C = 10.0, 130.0
"""Fluid when filled, and mean of a loop that boils (°C). Source: VDI 6002-1, practice."""
STEAM_W_M2 = {True: 50.0, False: 110.0}
"""Steam power of collectors (W/m²) that empty well, and of others. Source: IEA SHC task 26, Hausner & Fink (2003)."""
PIPE_W_M = 25.0
"""What an insulated pipe full of steam gives away (W/m). Source: as above."""
RESERVE_SHARE, RESERVE_L = 0.02, 3.0
"""Fluid held ready in the vessel for what is vented: of the contents, at least (L). Source: VDI 6002-1."""
COLDEST_C = -20.0
"""Loop with antifreeze on the coldest night (°C), whose contraction the reserve makes good. Source: our own choice."""
COVER_BAR, ABOVE_BAR = 0.5, 0.3
"""Pressure kept at the loop's top (bar), and of the filling above the vessel's (bar). Source: usual practice."""
BAR_M = 0.0981
"""Pressure of a metre of water (bar)."""
NOMINAL_L = (8, 12, 18, 25, 35, 50, 80, 110, 140, 200, 250, 300, 400, 500, 600, 800, 1000, 1500, 2000, 3000)
"""Vessels as sold (L). Source: usual sizes."""
DRAINED_MORE = 1.25
"""A drainback vessel holds so much more than what runs into it (1). Source: usual practice."""


def boiling_c(pressure_bar: float) -> float:
    """Temperature (°C) at which water boils at an absolute pressure (bar).

    Parameters
    ----------
    pressure_bar
        Pressure above the air's (bar).

    Returns
    -------
    float
        Temperature (°C).

    References
    ----------
    IAPWS-IF97, backward equation of the saturation line (eq. 31), 0.006 to 220 bar.
    """
    n = (
        1167.0521452767,
        -724213.16703206,
        -17.073846940092,
        12020.82470247,
        -3232555.0322333,
        14.91510861353,
        -4823.2657361591,
        405113.40542057,
        -0.23855557567849,
        650.17534844798,
    )
    beta = (pressure_bar / 10.0) ** 0.25
    e = beta**2 + n[2] * beta + n[5]
    f = n[0] * beta**2 + n[3] * beta + n[6]
    g = n[1] * beta**2 + n[4] * beta + n[7]
    d = 2.0 * g / (-f - sqrt(f * f - 4.0 * e * g))
    return 0.5 * (n[9] + d - sqrt((n[9] + d) ** 2 - 4.0 * (n[8] + n[9] * d))) - 273.15


@dataclass(frozen=True)
class Contents:
    """Fluid in collectors, pipes and the rest (L)."""

    collectors_l: float
    pipes_l: float
    rest_l: float

    @property
    def whole_l(self) -> float:
        """All of it (L)."""
        return self.collectors_l + self.pipes_l + self.rest_l


def contents(design: Design) -> Contents:
    """Fluid in a loop (L): collectors by area, pipes by bore, a coil or plate.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Contents
        Fluid in a loop (L).
    """
    loop = design.system.loop
    pipes = float(sum(pipe_contents_l(pipe) for pipe in (loop.supply_pipe, loop.return_pipe)))
    return Contents(CONTENT_L_M2 * design.system.gross_m2, pipes, COIL_L)


def pipes_m(design: Design) -> float:
    """Length of the loop's pipes, there and back (m).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Length of the loop's pipes, there and back (m).
    """
    loop = design.system.loop
    return float(loop.supply_pipe.length_m + loop.return_pipe.length_m)


def reserve_l(filled: Contents, glycol_percent: float) -> float:
    """Fluid kept ready in the vessel (L): what vents let out, and what the loop shrinks by on a cold night.

    Parameters
    ----------
    filled
        Fluid in the loop (L).
    glycol_percent
        Glycol (% by volume); without it a loop is not left to the frost.

    Returns
    -------
    float
        Fluid kept ready in the vessel (L).
    """
    shrinks = grown_l(filled.whole_l, glycol_percent, COLDEST_C, FILLED_AT_C) if glycol_percent else 0.0
    return max(RESERVE_SHARE * filled.whole_l + shrinks, RESERVE_L)


def grown_l(litres: float, glycol_percent: float, cold_c: float, hot_c: float) -> float:
    """By how much a fluid (L, % of glycol) grows between two temperatures (°C): by its density (heat.common.fluid).

    Parameters
    ----------
    litres
        Volume of the fluid, cold (L).
    glycol_percent
        Glycol (% by volume).
    cold_c
        Cold water (°C).
    hot_c
        Hot side (°C).

    Returns
    -------
    float
        By how much a fluid (L, % of glycol) grows between two temperatures (°C): by its density
        (heat.common.fluid).
    """
    fluid = fluid_curves(glycol_percent)
    return float(litres * (density_at(fluid, cold_c) / density_at(fluid, hot_c) - 1.0))


@dataclass(frozen=True)
class SizedVessel:
    """An expansion vessel: what it must take up (L), its size (L) and the next one sold (L), pressures over the air's:
    gas before filling, filled cold, highest (bar); how far steam reaches (m), at most as far as there are pipes, and
    its litres; a cooling vessel (L).
    """

    growth_l: float
    reserve_l: float
    steam_l: float
    steam_m: float
    least_l: float
    nominal_l: float
    gas_bar: float
    filled_bar: float
    highest_bar: float
    boils_c: float
    cooling_l: float


def expansion_vessel(design: Design) -> SizedVessel | None:
    """The vessel of a closed loop (L, bar); None where the loop drains, is open, or its relief is too low for its
    height.

    ``V = (reserve + growth + steam)(p_e + 1)/(p_e - p_0)``; highest pressure half a bar, from 5 bar on a tenth,
    below the relief's.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    SizedVessel | None
        The vessel of a closed loop (L, bar).

    References
    ----------
    VDI 6002-1; EN 12977-1, annex; steam as in :data:`STEAM_W_M2`.
    """
    system = design.system
    if system.scheme.drains or system.scheme.vented or system.scheme.driven_by == "none":
        return None
    current = contents(design)
    gas = BAR_M * rise_m(design) + COVER_BAR
    relief = design.safety.relief_bar
    highest = relief - 0.5 if relief <= 5.0 else 0.9 * relief
    if highest <= gas + ABOVE_BAR + 0.1:
        return None
    growth = grown_l(current.whole_l, system.loop.glycol_percent, FILLED_AT_C, HOTTEST_C)
    reserve = reserve_l(current, system.loop.glycol_percent)
    length_m = pipes_m(design)
    reach = STEAM_W_M2[design.safety.empties_well] * system.gross_m2 / PIPE_W_M
    in_pipes = min(reach, length_m)
    steam = current.collectors_l + (current.pipes_l * in_pipes / length_m if length_m > 0 else 0.0)
    least = (reserve + growth + steam) * (highest + 1.0) / (highest - gas)
    nominal = next((float(size) for size in NOMINAL_L if size >= least), 1000.0 * (least // 1000 + 1))
    cooling = max(steam - 0.5 * current.pipes_l, 0.0) if reach > 0.5 * length_m else 0.0
    top_bar = highest - BAR_M * rise_m(design) + 1.0
    return SizedVessel(
        growth, reserve, steam, in_pipes, least, nominal, gas, gas + ABOVE_BAR, highest, boiling_c(top_bar), cooling
    )


def drainback_l(design: Design) -> float:
    """A drainback vessel (L): what runs back from collectors and pipes and a quarter more; nothing elsewhere.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        A drainback vessel (L): what runs back from collectors and pipes and a quarter more; nothing elsewhere.
    """
    if not design.system.scheme.drains:
        return 0.0
    current = contents(design)
    return DRAINED_MORE * (current.collectors_l + current.pipes_l)


@dataclass(frozen=True)
class OpenTank:
    """An open tank: what boils off in a year (L), what it grows by from cold to boiling (L), and overflow's least bore
    (mm).
    """

    boiled_l: float
    growth_l: float
    overflow_mm: float


def open_tank(design: Design, boiled_kg: float) -> OpenTank | None:
    """Make-up, room for growth and overflow of an open tank (L, mm) that loses so much in a year (kg); else None.

    The overflow takes what the mains could give through a valve that stands open, 0.3 L/s, at 1 m/s.

    Parameters
    ----------
    design
        The design.
    boiled_kg
        Water that boiled off (kg).

    Returns
    -------
    OpenTank | None
        Make-up, room for growth and overflow of an open tank (L, mm) that loses so much in a year (kg); else
        None.
    """
    if not design.system.scheme.vented:
        return None
    growth = grown_l(design.system.store.volume_l, 0.0, FILLED_AT_C, 98.0)
    return OpenTank(boiled_kg, growth, 1000.0 * sqrt(4.0 * 0.3e-3 / 1.0 / 3.141592653589793))
