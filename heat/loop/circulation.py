"""Flow without a pump: where the weight of cold water balances friction.

The driving pressure is ``g`` times the integral of density round the loop; friction is Darcy-Weisbach.
Reference: Duffie & Beckman, 4th ed., sec. 12.5; Incropera & DeWitt, 6th ed., eq. 8.22.
"""

from math import pi
from typing import NamedTuple

from heat.common.compiled import inline_kernel
from heat.common.fluid import Fluid, density

GRAVITY = 9.80665
"""Standard gravity (m/s²), exact. Source: CGPM 1901."""


LEAST_FLOW = 1e-5
"""Natural flow taken as none (kg/s): it would carry 2 W over 50 K. Source: our own choice."""


class Passage(NamedTuple):
    """One run of tube: length (m), bore (m), tubes side by side (1), fittings (sum of loss coefficients, 1)."""

    length_m: float
    bore_m: float
    tubes: float
    fittings: float


class Heights(NamedTuple):
    """Above the collectors' lower edge (m): their upper edge, the exchanger's upper and lower connection."""

    collector_top_m: float
    upper_m: float
    lower_m: float


@inline_kernel
def darcy_factor(reynolds: float) -> float:
    """Darcy friction factor (no unit) of a smooth round tube at a Reynolds number (no unit).

    64/Re up to 2000; Blasius 0.3164 Re^-0.25 from 4000 to 1e5; a straight line between.

    Parameters
    ----------
    reynolds
        Reynolds number (no unit).

    Returns
    -------
    float
        Darcy friction factor (no unit).

    References
    ----------
    Incropera & DeWitt, 6th ed., eq. 8.19 and 8.20a (with Blasius' 0.3164).
    """
    if reynolds <= 2000.0:
        return 64.0 / max(reynolds, 1e-12)
    if reynolds >= 4000.0:
        return 0.3164 * reynolds**-0.25
    at_4000 = 0.3164 * 4000.0**-0.25
    return 0.032 + (at_4000 - 0.032) * (reynolds - 2000.0) / 2000.0


@inline_kernel
def pressure_drop(flow_kg_s: float, viscosity_pa_s: float, density_kg_m3: float, passage: Passage) -> float:
    """Pressure drop (Pa) of flow_kg_s (kg/s) in a passage, by viscosity (Pa s) and density (kg/m³).

    Darcy-Weisbach with the fittings' loss coefficients: ``(f L/d + K) G²/(2 rho)``.

    Parameters
    ----------
    flow_kg_s
        Flow (kg/s).
    viscosity_pa_s
        Dynamic viscosity (Pa s).
    density_kg_m3
        Density (kg/m³).
    passage
        Length, bore, area and loss coefficients (m, m², no unit).

    Returns
    -------
    float
        Pressure drop (Pa).
    """
    section = pi * passage.bore_m * passage.bore_m / 4.0
    mass_flux = flow_kg_s / (passage.tubes * section)
    reynolds = mass_flux * passage.bore_m / viscosity_pa_s
    lost = darcy_factor(reynolds) * passage.length_m / passage.bore_m + passage.fittings
    return lost * mass_flux * mass_flux / (2.0 * density_kg_m3)


@inline_kernel
def laminar_terms(viscosity_pa_s: float, density_kg_m3: float, passage: Passage) -> tuple[float, float, float]:
    """:func:`pressure_drop` while laminar as ``a m + b m²`` of the flow m (kg/s): a (Pa s/kg), b (Pa s²/kg²), and the
    flow (kg/s) up to which that holds.

    Hagen-Poiseuille and the fittings.

    Parameters
    ----------
    viscosity_pa_s
        Dynamic viscosity (Pa s).
    density_kg_m3
        Density (kg/m³).
    passage
        Length, bore, area and loss coefficients (m, m², no unit).

    Returns
    -------
    tuple[float, float, float]
        :func:`pressure_drop` while laminar as ``a m + b m²`` of the flow m (kg/s): a (Pa s/kg), b (Pa s²/kg²),
        and the flow (kg/s) up to which that holds.
    """
    section = pi * passage.bore_m * passage.bore_m / 4.0 * passage.tubes
    linear = 32.0 * viscosity_pa_s * passage.length_m / (density_kg_m3 * passage.bore_m * passage.bore_m * section)
    square = passage.fittings / (2.0 * density_kg_m3 * section * section)
    return linear, square, 2000.0 * viscosity_pa_s * section / passage.bore_m


@inline_kernel
def driving_pressure(
    heights: Heights, fluid: Fluid, collector_c: float, supply_c: float, exchange_density: float, back_c: float
) -> float:
    """Pressure (Pa) that drives fluid up through the collectors; negative drives it backwards.

    Mean temperatures (°C) of collectors, supply and return pipe; mean density between the exchanger's connections
    (kg/m³).

    Parameters
    ----------
    heights
        Heights of collectors, pipes and store (m).
    fluid
        Density and viscosity as curves of temperature.
    collector_c
        Mean temperature of the collectors (°C).
    supply_c
        Mean temperature of the supply pipe (°C).
    exchange_density
        Mean density between the exchanger's connections (kg/m³).
    back_c
        Mean temperature of the return pipe (°C).

    Returns
    -------
    float
        Pressure (Pa).
    """
    column = density(fluid, back_c) * heights.lower_m
    column += exchange_density * (heights.upper_m - heights.lower_m)
    column -= density(fluid, supply_c) * (heights.upper_m - heights.collector_top_m)
    column -= density(fluid, collector_c) * heights.collector_top_m
    return GRAVITY * column


@inline_kernel
def near_log(a: float, b: float) -> float:
    """``2 (a - b)/(a + b)``, which is ln(a/b) (no unit) to 1 % within a factor of 1.4.

    Parameters
    ----------
    a
        One value.
    b
        The other.

    Returns
    -------
    float
        ``2 (a - b)/(a + b)``, which is ln(a/b) (no unit) to 1 % within a factor of 1.4.
    """
    return 2.0 * (a - b) / (a + b)


@inline_kernel
def next_flow(
    flow: float, drive: float, friction: float, search: tuple[float, float, float, float, float, float]
) -> tuple[float, tuple[float, float, float, float, float, float]]:
    """Next trial of a flow (kg/s) after one whose drive and friction (Pa) do not agree, and the search so far.

    In logarithms drive ~ 1/flow and friction ~ flow make a straight line of slope -2, so secants there need few
    trials; where they leave the bracket, or drive vanishes, false position (Illinois) takes over.

    Parameters
    ----------
    flow
        Flow (kg/s).
    drive
        Pressure that drives the flow (Pa).
    friction
        Pressure that friction takes (Pa).
    search
        A flow too small and its surplus of drive, one too large (-1: none yet) and its lack, and the last trial
        with its (near) logarithm of drive over friction.

    Returns
    -------
    tuple[float, tuple[float, float, float, float, float, float]]
        Next trial of a flow (kg/s) after one whose drive and friction (Pa) do not agree, and the search so far.

    References
    ----------
    Dowell & Jarratt (1971), BIT 11, 168-174.
    """
    low, surplus, high, lack, last, last_error = search
    gap = drive - friction
    if gap > 0.0:
        if low > 0.0 and high > 0.0:
            lack *= 0.5  # the same side twice: lean the other way
        low = flow
        surplus = gap
    else:
        if high > 0.0:
            surplus *= 0.5
        high = flow
        lack = -gap
    error = 0.0
    trial = -1.0
    if drive > 1e-9 * friction:
        error = near_log(drive, friction)
        slope = -2.0
        if last > 0.0 and last != flow:
            slope = (error - last_error) / near_log(flow, last)
            if slope > -0.8:
                slope = -2.0
        step = min(max(-error / slope, -1.2), 1.8)
        trial = flow * (2.0 + step) / (2.0 - step)
        last = flow
        last_error = error
    else:
        last = 0.0
    if high > 0.0 and (trial <= low or trial >= high):
        trial = (low * lack + high * surplus) / (lack + surplus)
        if trial <= low or trial >= high:
            trial = 0.5 * (low + high)
    if high > 0.0 and (high <= LEAST_FLOW or high - low < 1e-9 * high):
        trial = 0.0 if high <= LEAST_FLOW else 0.5 * (low + high)
    return trial, (low, surplus, high, lack, last, last_error)
