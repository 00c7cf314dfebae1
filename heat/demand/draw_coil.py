"""A coil of drinking water from its measures: what it passes on, and the water it holds."""

from math import log, pi

from heat.common.fluid import fluid_property
from heat.demand.profile import mean_draw_l
from heat.design import Design
from heat.design.system import DrawCoil

WALL_W_MK = {"copper": 380.0, "stainless": 15.0, "steel": 50.0, "multilayer": 0.43, "plastic": 0.35}
"""Conductivity of a coil's wall (W/mK). Source: EN ISO 10456 (metals, cross-linked polyethylene); multilayer pipe, the
common figure of its makers' standard EN ISO 21003."""
INSIDE_C, OUTSIDE_C, LEAD_K = 30.0, 50.0, 20.0
"""Mean temperature of the drinking water and of the store (°C), and lead over the wall outside (K) at which UA is
stated. Source: our own choice, the middle of a shower's draw."""


def draw_coil_ua_w_k(coil: DrawCoil) -> float:
    """Heat transfer of a draw coil (W/K): as typed, else from length, bore, wall and material at its own flow.

    Inside Gnielinski's film (Re above 2300, else Nu 4.36); outside free convection about a level cylinder in water
    at 50 °C.

    Parameters
    ----------
    coil
        The coil (W/K, shares).

    Returns
    -------
    float
        Heat transfer of a draw coil (W/K).

    References
    ----------
    Incropera & DeWitt, 6th ed., eq. 8.62 and 8.53; Churchill & Chu (1975), eq. 9.34; 3.28.
    """
    if not coil.measured:
        return coil.ua_w_k
    outer, bore = coil.outer_mm / 1000.0, (coil.outer_mm - 2.0 * coil.wall_mm) / 1000.0
    flow = coil.flow_l_min / 60.0
    mu = fluid_property("viscosity_mpas", 0.0, INSIDE_C) / 1000.0
    k = fluid_property("conductivity_w_mk", 0.0, INSIDE_C)
    prandtl = fluid_property("heat_capacity_j_kgk", 0.0, INSIDE_C) * mu / k
    reynolds = 4.0 * flow / (pi * bore * mu)
    nusselt = 4.36
    if reynolds > 2300.0:
        friction = (0.790 * log(reynolds) - 1.64) ** -2 / 8.0
        nusselt = friction * (reynolds - 1000.0) * prandtl / (1.0 + 12.7 * friction**0.5 * (prandtl ** (2 / 3) - 1.0))
    inside = nusselt * k / bore
    outside = free_convection_w_m2k(outer)
    wall = log(outer / bore) / (2.0 * pi * WALL_W_MK[coil.material])
    return coil.length_m / (1.0 / (pi * bore * inside) + wall + 1.0 / (pi * outer * outside))


def free_convection_w_m2k(diameter_m: float) -> float:
    """Film (W/m²K) about a level cylinder (m) in water at 50 °C with a lead of 20 K.

    Churchill & Chu (1975).

    Parameters
    ----------
    diameter_m
        Diameter (m).

    Returns
    -------
    float
        Film (W/m²K).
    """
    mu = fluid_property("viscosity_mpas", 0.0, OUTSIDE_C) / 1000.0
    rho = fluid_property("density_kg_m3", 0.0, OUTSIDE_C)
    k = fluid_property("conductivity_w_mk", 0.0, OUTSIDE_C)
    heat = fluid_property("heat_capacity_j_kgk", 0.0, OUTSIDE_C)
    swelling = (
        fluid_property("density_kg_m3", 0.0, OUTSIDE_C - 10.0) - fluid_property("density_kg_m3", 0.0, OUTSIDE_C + 10.0)
    ) / (20.0 * rho)
    prandtl = heat * mu / k
    rayleigh = 9.81 * swelling * LEAD_K * diameter_m**3 / (mu / rho) ** 2 * prandtl
    nusselt = (0.60 + 0.387 * rayleigh ** (1 / 6) / (1.0 + (0.559 / prandtl) ** (9 / 16)) ** (8 / 27)) ** 2
    return nusselt * k / diameter_m


def own_water_share(design: Design) -> float:
    """Share of the drinking water drawn that stood in the coil and comes at the store's temperature (0 to 1, no unit):
    what the coil holds over the litres of a draw.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Share of the drinking water drawn that stood in the coil and comes at the store's temperature (0 to 1,
        no unit): what the coil holds over the litres of a draw.
    """
    coil = design.system.draw_coil
    bore_m = (coil.outer_mm - 2.0 * coil.wall_mm) / 1000.0
    retained_l = coil.length_m * pi * bore_m**2 / 4.0 * 1000.0
    return min(retained_l / mean_draw_l(design.demand), 1.0)
