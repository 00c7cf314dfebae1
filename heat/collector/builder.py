"""A collector from its materials: covers, coating, fins, tubes, insulation; fitted to the rated form.

Everything about the mean plate temperature: Klein's top loss, Hottel-Whillier-Bliss fins, flow in tubes.
"""

from dataclasses import dataclass
from math import cosh, exp, log, pi, sinh, sqrt, tanh

import numpy as np
from pydantic import Field, model_validator
from scipy.optimize import brentq

from heat.common.fluid import fluid_property
from heat.constants import KELVIN, STEFAN_BOLTZMANN
from heat.design.base import Part, optional, quantity

SUN_C = 5504.0
"""Temperature of the black body taken for the sun's spectrum (°C; 5777 K). Source: Duffie & Beckman, 4th ed., sec.
1.1."""
PLANCK_2 = 1.438776877e-2
"""Second radiation constant (m K), exact. Source: CODATA 2018."""
FILM_A_WIND = 3.0
"""Rise of the film outside (W/m²K) for each m/s of wind. Source: Watmuff et al. (1977), h = 2.8 + 3.0 u."""
COVER_REFLECTS = (0.0, 0.16, 0.24, 0.29)
"""Diffuse reflectance of 0 to 3 covers from below (no unit), ±0.02. Source: Duffie & Beckman, 4th ed., sec. 5.5 (1,
2); 3 extrapolated."""


class Cover(Part):
    """One transparent cover."""

    transmittance: float = quantity(0.88, "1", 0.2, 1, "Passes of the sun")
    emittance: float = quantity(0.88, "1", 0.05, 1, "Emittance")


class Build(Part):
    """A flat plate as it is made."""

    area_m2: float = quantity(2.0, "m2", 0.1, 30, "Absorber area")
    tilt_deg: float = quantity(45, "deg", 0, 90, "Tilt")
    covers: tuple[Cover, ...] = Field((Cover(),), max_length=3, title="Covers")
    absorptance: float = quantity(0.95, "1", 0.05, 1, "Plate absorbs")
    emittance: float = quantity(0.9, "1", 0.02, 1, "Plate emits")
    cutoff_um: float | None = Field(
        None, ge=0.5, le=20, title="Semi-grey cut-off wavelength", json_schema_extra={"unit": "um"}
    )
    absorptance_long: float = quantity(0.1, "1", 0.02, 1, "Beyond the cut-off, absorbs and emits")
    back_mm: float = quantity(50, "mm", 0, 500, "Back insulation")
    edge_mm: float = quantity(25, "mm", 0, 500, "Edge insulation")
    insulation_w_mk: float = quantity(0.04, "W/m/K", 0.015, 0.3, "Insulation, conductivity")
    height_mm: float = quantity(90, "mm", 10, 500, "Height of the casing")
    perimeter_m: float = quantity(6, "m", 0.5, 60, "Perimeter")
    plate_mm: float = quantity(0.3, "mm", 0.05, 10, "Plate thickness")
    plate_w_mk: float = quantity(385, "W/m/K", 0.1, 420, "Plate, conductivity")
    tube_spacing_mm: float = quantity(110, "mm", 5, 500, "Tube to tube")
    tube_outer_mm: float = quantity(10, "mm", 3, 120, "Tube, outer diameter")
    tube_inner_mm: float = quantity(8.6, "mm", 2, 119, "Tube, bore")
    bond_w_mk: float = quantity(300, "W/m/K", 0.5, 10_000, "Bond, conductance per length")
    layout_serpentine: bool = Field(False, title="One serpentine instead of parallel tubes")
    tubes: int = Field(9, ge=1, le=200, title="Tubes", json_schema_extra={"unit": "1"})
    flow_kg_h: float = quantity(60, "kg/h", 2, 2000, "Flow through it")
    glycol_percent: float = quantity(0, "percent", 0, 60, "Propylene glycol")
    wind_w_m2k: float = quantity(10, "W/m2/K", 2, 60, "Film outside")
    air_c: float = quantity(20, "degC", -40, 45, "Air")
    sky_c: float | None = optional("degC", -80, 45, "Sky, if colder than the air")

    @model_validator(mode="after")
    def _tubes_fit(self) -> "Build":
        if self.tube_inner_mm >= self.tube_outer_mm:
            raise ValueError("tube_inner_mm|the bore must be less than the outer diameter")
        if self.tube_outer_mm > self.tube_spacing_mm:
            raise ValueError("tube_spacing_mm|the tubes must stand at least their own diameter apart")
        return self


@dataclass(frozen=True)
class Built:
    """What a built collector is rated at: eta0, a1 (W/m²K), a2 (W/m²K²), wind a3 (J/m³K) and a6 (s/m), sky a4 (no
    unit), stagnation (°C), F' and F_R (no unit).
    """

    eta0: float
    a1_w_m2k: float
    a2_w_m2k2: float
    a3_j_m3k: float
    a4: float
    a6_s_m: float
    stagnation_c: float
    efficiency_factor: float
    removal_factor: float
    transmittance_absorptance: float


def film_w_m2k(wind_m_s: float) -> float:
    """Film outside (W/m²K) in a wind (m/s): 2.8 + 3.0 u.

    Parameters
    ----------
    wind_m_s
        Wind (m/s).

    Returns
    -------
    float
        Film outside (W/m²K).

    References
    ----------
    Watmuff et al. (1977), Duffie & Beckman, 4th ed., eq. 3.15.2.
    """
    return 2.8 + FILM_A_WIND * wind_m_s


def klein_top_loss(
    plate_c: float,
    air_c: float,
    covers: int,
    plate_emittance: float,
    cover_emittance: float,
    wind_w_m2k: float,
    tilt_deg: float,
) -> float:
    """Top loss coefficient (W/m²K) of a plate (°C) under 1 to 3 covers in air (°C); film (W/m²K), tilt (deg).

    Within 0.3 W/m²K for plates up to 200 °C.

    Parameters
    ----------
    plate_c
        Temperature of the absorber (°C).
    air_c
        Outdoor air (°C).
    covers
        Number of covers, 1 to 3.
    plate_emittance
        Emittance of the absorber (no unit).
    cover_emittance
        Emittance of the outer cover (no unit).
    wind_w_m2k
        Heat transfer coefficient of the wind (W/m²K).
    tilt_deg
        Tilt from horizontal (deg).

    Returns
    -------
    float
        Top loss coefficient (W/m²K).

    References
    ----------
    Klein (1979), Duffie & Beckman, 4th ed., eq. 6.4.9.
    """
    plate, air = plate_c + KELVIN, air_c + KELVIN
    plate = max(plate, air + 0.01)
    n = float(covers)
    tilt = min(tilt_deg, 70.0)
    f = (1.0 + 0.089 * wind_w_m2k - 0.1166 * wind_w_m2k * plate_emittance) * (1.0 + 0.07866 * n)
    c = 520.0 * (1.0 - 0.000051 * tilt**2)
    e = 0.430 * (1.0 - 100.0 / plate)
    conduction = 1.0 / (n / (c / plate * ((plate - air) / (n + f)) ** e) + 1.0 / wind_w_m2k)
    radiation = STEFAN_BOLTZMANN * (plate + air) * (plate**2 + air**2)
    radiation /= (
        1.0 / (plate_emittance + 0.00591 * n * wind_w_m2k)
        + (2.0 * n + f - 1.0 + 0.133 * plate_emittance) / cover_emittance
        - n
    )
    return conduction + radiation


def bare_top_loss(plate_c: float, air_c: float, plate_emittance: float, wind_w_m2k: float) -> float:
    """Top loss coefficient (W/m²K) of a bare plate: film (W/m²K) and radiation to surroundings at air (°C).

    Parameters
    ----------
    plate_c
        Temperature of the absorber (°C).
    air_c
        Outdoor air (°C).
    plate_emittance
        Emittance of the absorber (no unit).
    wind_w_m2k
        Heat transfer coefficient of the wind (W/m²K).

    Returns
    -------
    float
        Top loss coefficient (W/m²K).
    """
    plate, air = plate_c + KELVIN, air_c + KELVIN
    return wind_w_m2k + plate_emittance * STEFAN_BOLTZMANN * (plate + air) * (plate**2 + air**2)


def band_fraction(cutoff_um: float, temperature_c: float) -> float:
    """Share of a black body's radiation (0 to 1, no unit) below a wavelength (µm) at a temperature (°C).

    ``15/pi⁴ sum e^(-nz)/n (z³ + 3z²/n + 6z/n² + 6/n³)``, z = C2/(lambda T).

    Parameters
    ----------
    cutoff_um
        Wavelength (µm).
    temperature_c
        Temperature of the black body (°C).

    Returns
    -------
    float
        Share of a black body's radiation (0 to 1, no unit).

    References
    ----------
    Chang & Rhee (1984), Int. Comm. Heat and Mass Transfer 11, 451-455.
    """
    z = PLANCK_2 / (cutoff_um * 1e-6 * (temperature_c + KELVIN))
    total = sum(exp(-n * z) / n * (z**3 + 3 * z**2 / n + 6 * z / n**2 + 6 / n**3) for n in range(1, 60))
    return 15.0 / pi**4 * total


def surface(build: Build, plate_c: float) -> tuple[float, float]:
    """Absorptance for the sun and emittance (no unit) at a plate temperature (°C), grey or semi-grey.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    plate_c
        Temperature of the absorber (°C).

    Returns
    -------
    tuple[float, float]
        Absorptance for the sun and emittance (no unit) at a plate temperature (°C), grey or semi-grey.
    """
    if build.cutoff_um is None:
        return build.absorptance, build.emittance
    sun = band_fraction(build.cutoff_um, SUN_C)
    heat = band_fraction(build.cutoff_um, plate_c)
    absorbs = build.absorptance * sun + build.absorptance_long * (1.0 - sun)
    emits = build.absorptance * heat + build.absorptance_long * (1.0 - heat)
    return absorbs, emits


def takes_from(build: Build, source_c: float) -> float:
    """Absorptance (no unit) for the radiation of a black body at source_c (°C), grey or semi-grey.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    source_c
        Temperature of the source of radiation (°C).

    Returns
    -------
    float
        Absorptance (no unit).
    """
    return surface(build, source_c)[1]


def sky_loss(build: Build, plate_c: float) -> float:
    """Heat (W/m²) a plate (°C) loses because the sky is colder than the air; 0 where it is not.

    Bare: what it emits to the sky, less what it takes from it, beyond the exchange with surroundings at air
    temperature. Covered: the outer cover's exchange, of which ``U_t/(h_w + h_r)`` is felt by the plate.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    plate_c
        Temperature of the absorber (°C).

    Returns
    -------
    float
        Heat (W/m²) a plate (°C) loses because the sky is colder than the air; 0 where it is not.

    References
    ----------
    Duffie & Beckman, 4th ed., sec. 3.8 and 6.4.
    """
    air, sky = build.air_c, build.air_c if build.sky_c is None else build.sky_c
    black_air, black_sky = (STEFAN_BOLTZMANN * (c + KELVIN) ** 4 for c in (air, sky))
    emits = surface(build, plate_c)[1]
    if not build.covers:
        return emits * black_air - takes_from(build, sky) * black_sky
    return sky_share(build, plate_c) * (black_air - black_sky)


def sky_share(build: Build, plate_c: float) -> float:
    """Share of ``sigma (T_a⁴ - T_sky⁴)`` a plate (°C) loses (no unit): its emittance where bare, else that of the
    outer cover times ``U_t/(h_w + h_r)``.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    plate_c
        Temperature of the absorber (°C).

    Returns
    -------
    float
        Share of ``sigma (T_a⁴ - T_sky⁴)`` a plate (°C) loses (no unit): its emittance where bare, else that of
        the outer cover times ``U_t/(h_w + h_r)``.
    """
    emits = surface(build, plate_c)[1]
    if not build.covers:
        return emits
    outer = build.covers[-1].emittance
    return covered_sky_share(outer, top_loss(build, plate_c), build.wind_w_m2k, build.air_c)


def covered_sky_share(cover_emittance: float, top_w_m2k: float, wind_w_m2k: float, air_c: float) -> float:
    """``eps U_t/(h_w + h_r)`` (no unit): top loss and film (W/m²K), h_r = 4 eps sigma T_a³ of the outer cover.

    Parameters
    ----------
    cover_emittance
        Emittance of the outer cover (no unit).
    top_w_m2k
        Top loss coefficient (W/m²K).
    wind_w_m2k
        Heat transfer coefficient of the wind (W/m²K).
    air_c
        Outdoor air (°C).

    Returns
    -------
    float
        ``eps U_t/(h_w + h_r)`` (no unit): top loss and film (W/m²K), h_r = 4 eps sigma T_a³ of the outer cover.
    """
    radiated = 4.0 * cover_emittance * STEFAN_BOLTZMANN * (air_c + KELVIN) ** 3
    return cover_emittance * min(top_w_m2k / (wind_w_m2k + radiated), 1.0)


def cover_and_plate(build: Build, plate_c: float) -> float:
    """Effective transmittance-absorptance (no unit): ``tau alpha/(1 - (1 - alpha) rho_d)``.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    plate_c
        Temperature of the absorber (°C).

    Returns
    -------
    float
        Effective transmittance-absorptance (no unit).

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 5.5.1.
    """
    absorbs, _ = surface(build, plate_c)
    passes = 1.0
    for cover in build.covers:
        passes *= cover.transmittance
    return passes * absorbs / (1.0 - (1.0 - absorbs) * COVER_REFLECTS[len(build.covers)])


def top_loss(build: Build, plate_c: float) -> float:
    """Loss coefficient of the top (W/m²K) at a plate temperature (°C), to surroundings at air temperature.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    plate_c
        Temperature of the absorber (°C).

    Returns
    -------
    float
        Loss coefficient of the top (W/m²K).
    """
    _, emits = surface(build, plate_c)
    if build.covers:
        cover_emits = sum(c.emittance for c in build.covers) / len(build.covers)
        return klein_top_loss(
            plate_c, build.air_c, len(build.covers), emits, cover_emits, build.wind_w_m2k, build.tilt_deg
        )
    return bare_top_loss(plate_c, build.air_c, emits, build.wind_w_m2k)


def overall_loss(build: Build, plate_c: float) -> float:
    """Loss coefficient U_L (W/m²K) at a plate temperature (°C): top, back and edge.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    plate_c
        Temperature of the absorber (°C).

    Returns
    -------
    float
        Loss coefficient U_L (W/m²K).
    """
    top = top_loss(build, plate_c)
    back = 1.0 / (build.back_mm / 1000.0 / build.insulation_w_mk + 1.0 / build.wind_w_m2k)
    edge = build.perimeter_m * build.height_mm / 1000.0 / build.area_m2
    edge /= build.edge_mm / 1000.0 / build.insulation_w_mk + 1.0 / build.wind_w_m2k
    return top + back + edge


def tube_film(build: Build, fluid_c: float) -> float:
    """Film coefficient inside the tubes (W/m²K) at a fluid temperature (°C).

    Laminar Nu 4.36 with Hausen's entry term; turbulent ``0.023 Re^0.8 Pr^0.4`` from Re 4000, straight between.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    fluid_c
        Temperature of the fluid (°C).

    Returns
    -------
    float
        Film coefficient inside the tubes (W/m²K).

    References
    ----------
    Incropera & DeWitt, 6th ed., eq. 8.53, 8.57, 8.60.
    """
    bore = build.tube_inner_mm / 1000.0
    flow = build.flow_kg_h / 3600.0 / (1 if build.layout_serpentine else build.tubes)
    mu = fluid_property("viscosity_mpas", build.glycol_percent, fluid_c) / 1000.0
    k = fluid_property("conductivity_w_mk", build.glycol_percent, fluid_c)
    heat = fluid_property("heat_capacity_j_kgk", build.glycol_percent, fluid_c)
    reynolds, prandtl = 4.0 * flow / (pi * bore * mu), heat * mu / k
    length = tube_length_m(build)
    entry = bore / max(length, 0.1) * reynolds * prandtl
    laminar = 4.36 + 0.0668 * entry / (1.0 + 0.04 * entry ** (2.0 / 3.0))
    turbulent = 0.023 * max(reynolds, 4000.0) ** 0.8 * prandtl**0.4
    share = min(max((reynolds - 2300.0) / 1700.0, 0.0), 1.0)
    return k / bore * ((1.0 - share) * laminar + share * turbulent)


def tube_length_m(build: Build) -> float:
    """True length of each tube (m): of one serpentine all there is, of parallel tubes a share.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).

    Returns
    -------
    float
        True length of each tube (m): of one serpentine all there is, of parallel tubes a share.
    """
    return build.area_m2 / (build.tube_spacing_mm / 1000.0) / (1 if build.layout_serpentine else build.tubes)


def efficiency_factor(build: Build, loss_w_m2k: float, film_w_m2k: float) -> float:
    """Collector efficiency factor F' (no unit) of fins with tubes, U_L and film in W/m²K.

    ``(1/U_L)/(W (1/(U_L (D + (W - D) F)) + 1/C_b + 1/(pi D_i h)))``, F = tanh(m (W - D)/2)/(m (W - D)/2).

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    loss_w_m2k
        Overall loss coefficient U_L (W/m²K).
    film_w_m2k
        Heat transfer coefficient inside the tubes (W/m²K).

    Returns
    -------
    float
        Collector efficiency factor F' (no unit).

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 6.5.12 and 6.5.18.
    """
    spacing, outer, bore = build.tube_spacing_mm / 1000, build.tube_outer_mm / 1000, build.tube_inner_mm / 1000
    m = sqrt(loss_w_m2k / (build.plate_w_mk * build.plate_mm / 1000.0))
    reach = m * (spacing - outer) / 2.0
    fin = tanh(reach) / reach if reach > 1e-9 else 1.0
    resistance = 1.0 / (loss_w_m2k * (outer + (spacing - outer) * fin))
    resistance += 1.0 / build.bond_w_mk + 1.0 / (pi * bore * film_w_m2k)
    return 1.0 / loss_w_m2k / (spacing * resistance)


def serpentine_removal(build: Build, loss_w_m2k: float, film_w_m2k: float) -> float:
    """Removal factor F_R (no unit) of a serpentine of two runs that exchange heat through the fin between them.

    More runs lie a few percent lower.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    loss_w_m2k
        Overall loss coefficient U_L (W/m²K).
    film_w_m2k
        Heat transfer coefficient inside the tubes (W/m²K).

    Returns
    -------
    float
        Removal factor F_R (no unit).

    References
    ----------
    Zhang & Lavan (1985), Solar Energy 34, 175-177; Duffie & Beckman, 4th ed., eq. 6.10.1 to 6.10.9.
    """
    spacing, outer, bore = build.tube_spacing_mm / 1000, build.tube_outer_mm / 1000, build.tube_inner_mm / 1000
    page = build.plate_w_mk * build.plate_mm / 1000.0
    reach = max((spacing - outer) * sqrt(loss_w_m2k / page), 1e-6)
    k = sqrt(page * loss_w_m2k) / sinh(reach)
    gamma = -2.0 * cosh(reach) - outer * loss_w_m2k / k
    r = k * (1.0 / build.bond_w_mk + 1.0 / (pi * bore * film_w_m2k))
    bracket = r * (1.0 + gamma) ** 2 - 1.0 - gamma - r
    f1 = k / (loss_w_m2k * spacing) * bracket / ((r * (1.0 + gamma) - 1.0) ** 2 - r**2)
    f2 = 1.0 / bracket
    rate = build.flow_kg_h / 3600.0 * fluid_property("heat_capacity_j_kgk", build.glycol_percent, 40.0)
    f3 = rate / (f1 * loss_w_m2k * build.area_m2)
    f4 = sqrt(max(1.0 / f2**2 - 1.0, 0.0))
    f5 = 1.0 / f2 + f4 - 1.0
    f6 = 1.0 - 1.0 / f2 + f4
    return f1 * f3 * f5 * (2.0 * f4 / (f6 * exp(-sqrt(1.0 - f2**2) / f3) + f5) - 1.0)


def layout_factor(build: Build, loss_w_m2k: float, film_w_m2k: float) -> float:
    """F' (no unit) of the layout; a serpentine's is that whose straight F_R would equal its own.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    loss_w_m2k
        Overall loss coefficient U_L (W/m²K).
    film_w_m2k
        Heat transfer coefficient inside the tubes (W/m²K).

    Returns
    -------
    float
        F' (no unit).
    """
    if not build.layout_serpentine:
        return efficiency_factor(build, loss_w_m2k, film_w_m2k)
    rate = build.flow_kg_h / 3600.0 * fluid_property("heat_capacity_j_kgk", build.glycol_percent, 40.0)
    share = build.area_m2 * loss_w_m2k / rate
    return -log(1.0 - share * serpentine_removal(build, loss_w_m2k, film_w_m2k)) / share


def removal_factor(build: Build, loss_w_m2k: float, factor: float) -> float:
    """Heat removal factor F_R (no unit): ``m c/(A U_L) (1 - exp(-A U_L F'/(m c)))``.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    loss_w_m2k
        Overall loss coefficient U_L (W/m²K).
    factor
        Collector efficiency factor F' (no unit).

    Returns
    -------
    float
        Heat removal factor F_R (no unit).

    References
    ----------
    Duffie & Beckman, 4th ed., eq. 6.7.4.
    """
    rate = build.flow_kg_h / 3600.0 * fluid_property("heat_capacity_j_kgk", build.glycol_percent, 40.0)
    share = build.area_m2 * loss_w_m2k / rate
    return (1.0 - exp(-share * factor)) / share


def plate_balance(build: Build, fluid_c: float, sun_w_m2: float) -> tuple[float, float, float]:
    """Heat gained (W/m²), plate temperature (°C) and F' for a mean fluid temperature (°C) in sun (W/m²).

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    fluid_c
        Temperature of the fluid (°C).
    sun_w_m2
        Sun on the plane (W/m²).

    Returns
    -------
    tuple[float, float, float]
        Heat gained (W/m²), plate temperature (°C) and F' for a mean fluid temperature (°C) in sun (W/m²).
    """
    film = tube_film(build, min(max(fluid_c, 0.0), 100.0))

    def gap(plate_c: float) -> float:
        loss = overall_loss(build, plate_c)
        factor = layout_factor(build, loss, film)
        absorbed = sun_w_m2 * cover_and_plate(build, plate_c) - sky_loss(build, plate_c)
        gain = factor * (absorbed - loss * (fluid_c - build.air_c))
        return build.air_c + (absorbed - gain) / loss - plate_c  # absorbed = gain + U_L (plate - air)

    plate = float(brentq(gap, build.air_c - 60.0, 600.0))
    loss = overall_loss(build, plate)
    factor = layout_factor(build, loss, film)
    absorbed = sun_w_m2 * cover_and_plate(build, plate) - sky_loss(build, plate)
    gain = factor * (absorbed - loss * (fluid_c - build.air_c))
    return gain, plate, factor


def stagnation_c(build: Build, sun_w_m2: float = 1000.0) -> float:
    """Plate temperature (°C) without flow in sun (W/m²): absorbed = U_L (plate - air), and what the sky takes.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    sun_w_m2
        Sun on the plane (W/m²).

    Returns
    -------
    float
        Plate temperature (°C).
    """

    def gap(plate_c: float) -> float:
        absorbed = sun_w_m2 * cover_and_plate(build, plate_c) - sky_loss(build, plate_c)
        return absorbed - overall_loss(build, plate_c) * (plate_c - build.air_c)

    return float(brentq(gap, build.air_c - 80.0, 900.0))


def _fitted(build: Build, sun_w_m2: float) -> tuple[float, float, float]:
    """eta0, a1 (W/m²K) and a2 (W/m²K²) fitted over 0 to 70 K above the air, in sun (W/m²)."""
    excess = np.linspace(0.0, 70.0, 15)
    gains = np.array([plate_balance(build, build.air_c + x, sun_w_m2)[0] for x in excess])
    matrix = np.stack([np.full_like(excess, sun_w_m2), -excess, -(excess**2)], axis=1)
    eta0, a1, a2 = np.linalg.lstsq(matrix, gains, rcond=None)[0]
    if a2 < 0.0:  # a loss that does not grow with temperature: keep it linear
        eta0, a1 = np.linalg.lstsq(matrix[:, :2], gains, rcond=None)[0]
        a2 = 0.0
    return float(eta0), float(a1), float(a2)


def rate(build: Build, sun_w_m2: float = 800.0) -> Built:
    """Rate a built collector in sun (W/m²) under a sky as warm as the air; wind and sky by terms of their own.

    Wind: the fit again in a wind of 1 m/s more, for which the film grows by 3 W/m²K (Watmuff et al. 1977, Duffie &
    Beckman, 4th ed., eq. 3.15.2). Sky: :func:`sky_share` as far as fins and tubes pass it on.

    Parameters
    ----------
    build
        Construction of the collector (m, W/mK, no unit).
    sun_w_m2
        Sun on the plane (W/m²).

    Returns
    -------
    Built
        The rated collector: coefficients as a test would find them.

    References
    ----------
    ISO 9806:2017, eq. 12.
    """
    even = build.model_copy(update={"sky_c": None})
    eta0, a1, a2 = _fitted(even, sun_w_m2)
    windier = even.model_copy(update={"wind_w_m2k": even.wind_w_m2k + FILM_A_WIND})
    eta0_windy, a1_windy, a2_windy = _fitted(windier, sun_w_m2)
    middle = 30.0
    a3 = max(a1_windy - a1 + (a2_windy - a2) * middle, 0.0)
    _, plate, factor = plate_balance(even, build.air_c + middle, sun_w_m2)
    loss = overall_loss(even, plate)
    removal = removal_factor(build, loss, factor)
    return Built(
        eta0,
        a1,
        a2,
        a3,
        factor * sky_share(even, plate),
        max(eta0 - eta0_windy, 0.0),
        stagnation_c(build),
        factor,
        removal,
        cover_and_plate(build, plate),
    )


def water_under_covers(
    covers: int, tilt_deg: float, emittance: float = 0.95, wind_w_m2k: float = 10.0, air_c: float = 15.0
) -> tuple[float, float, float]:
    """Cover loss a1 (W/m²K), a2 (W/m²K²) and sky exchange a4 (no unit) of water under 1 to 3 covers.

    Klein's top loss fitted over 5 to 60 K above the air (°C); film (W/m²K), tilt (deg). The plate is the water. a4:
    :func:`covered_sky_share` in the middle of that range.

    Parameters
    ----------
    covers
        Number of covers, 1 to 3.
    tilt_deg
        Tilt from horizontal (deg).
    emittance
        Emittance of the outer cover (no unit).
    wind_w_m2k
        Heat transfer coefficient of the wind (W/m²K).
    air_c
        Outdoor air (°C).

    Returns
    -------
    tuple[float, float, float]
        Cover loss a1 (W/m²K), a2 (W/m²K²) and sky exchange a4 (no unit) of water under 1 to 3 covers.
    """
    excess = np.linspace(5.0, 60.0, 12)
    top = [klein_top_loss(air_c + x, air_c, covers, emittance, 0.88, wind_w_m2k, tilt_deg) for x in excess]
    loss = excess * np.array(top)
    a1, a2 = np.linalg.lstsq(np.stack([excess, excess**2], axis=1), loss, rcond=None)[0]
    a4 = covered_sky_share(0.88, float(np.mean(top)), wind_w_m2k, air_c)
    return float(a1), max(float(a2), 0.0), a4
