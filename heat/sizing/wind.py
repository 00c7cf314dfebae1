"""Wind and snow on collectors: pressure of a gust, uplift, sliding, ballast, what each fixing bears.

EN 1991-1-4 and EN 1991-1-3 in their simplest form, or the terms of ASCE 7-16. They size a first draft; an engineer
checks it.
"""

from dataclasses import dataclass
from math import cos, log, radians, sin

import numpy as np

from heat.design import Design
from heat.loop.circulation import GRAVITY
from heat.sizing.roof_load import wet_weight

AIR_KG_M3 = 1.25
"""Density of air (kg/m³). Source: EN 1991-1-4, 4.5."""
TERRAIN = {"sea": (0.003, 1.0), "open": (0.05, 2.0), "suburb": (0.3, 5.0), "town": (1.0, 10.0)}
"""Roughness length and least height (m). Source: EN 1991-1-4, table 4.1, categories 0, II, III, IV."""
ASCE = {"sea": (11.5, 213.36), "open": (9.5, 274.32), "suburb": (7.0, 365.76), "town": (7.0, 365.76)}
"""Exponent (1) and gradient height (m) of exposures D, C, B. Source: ASCE 7-16, table 26.11-1."""
DIRECTION, LOWEST_M = 0.85, 4.57
"""Directionality factor (1), and least height (m). Source: ASCE 7-16, tables 26.6-1 and 26.10-1."""
CANOPY = ((0, -0.5), (5, -0.7), (10, -0.9), (15, -1.1), (20, -1.3), (25, -1.6), (30, -1.8), (90, -1.8))
"""Force coefficient of a framed plane by tilt (deg): uplift, unblocked, of a free-standing monopitch canopy to 30 deg,
of a signboard at 90 deg, straight between. Source: EN 1991-1-4, table 7.6 and 7.4.3."""
CENTRE = 0.75
"""Where the wind's force meets a framed plane, up from its lower edge (share of its length): a quarter in from the
edge that the wind meets, here the upper one. Source: EN 1991-1-4, figure 7.16."""
STEEPEST_DEG = 80.0
"""A frame's feet stand as far apart as a plane of this tilt is deep on the level, if it is steeper (deg). Source: our
own choice."""
FLUSH, FLUSH_EDGE = -0.9, -1.8
"""Net coefficient of collectors close to a roof, within and near its edges (1). Source: our own choice, after the roof
zones H and F of EN 1991-1-4, table 7.4a."""
INNER = 2.0 / 3.0
"""Share of that coefficient away from the roof's edges and among others (1). Source: our own choice, after inner and
edge zones of ASCE 7-16, figure 29.4-7."""
ON_WIND, ON_WEIGHT = {"EN": 1.5, "ASCE": 1.0}, 0.9
"""Factors on what lifts, by code, and on what holds (1). Source: EN 1990, table A1.2(A); ASCE 7-16, 2.3.1, whose winds
are those of strength design already."""
WIND_GUESS_M_S, SNOW_GUESS_KG_M2 = 25.0, 80.0
"""What is calculated with until the local code's values are typed (m/s, kg/m²): a guess, no verdict. Source: inland
middle values of the maps of EN 1991-1-4 and EN 1991-1-3."""
FRAMED = ("flat_roof", "ground")


def gust_pa(code: str, wind_m_s: float, terrain: str, height_m: float) -> float:
    """Pressure of the design gust (Pa) at a height (m) by the reference wind (m/s): ten minutes' mean 10 m over open
    ground by EN 1991-1-4 (4.5 to 4.8), three seconds' gust by ASCE 7-16 (26.10-1, flat ground, risk in the wind).

    Parameters
    ----------
    code
        Code the load follows.
    wind_m_s
        Wind (m/s).
    terrain
        Terrain.
    height_m
        Height above the ground (m).

    Returns
    -------
    float
        Pressure of the design gust (Pa).
    """
    if code == "ASCE":
        exponent, gradient = ASCE[terrain]
        share = 2.01 * (max(height_m, LOWEST_M) / gradient) ** (2.0 / exponent)
        return 0.613 * share * DIRECTION * wind_m_s**2
    rough, least = TERRAIN[terrain]
    lead = log(max(height_m, least) / rough)
    mean = 0.19 * (rough / 0.05) ** 0.07 * lead * wind_m_s
    return (1.0 + 7.0 / lead) * 0.5 * AIR_KG_M3 * mean**2


def lift_coefficient(kind: str, tilt_deg: float, edge: bool) -> float:
    """Force coefficient (1, below zero lifts) of collectors on a plane of a kind at a tilt (deg).

    Parameters
    ----------
    kind
        Kind of the plane.
    tilt_deg
        Tilt from horizontal (deg).
    edge
        Whether the collectors lie at the roof's edge.

    Returns
    -------
    float
        Force coefficient (1, below zero lifts).
    """
    if kind not in FRAMED:
        return FLUSH_EDGE if edge else FLUSH
    tilts, values = zip(*CANOPY, strict=True)
    return float(np.interp(tilt_deg, tilts, values)) * (1.0 if edge else INNER)


def snow_kg_m2(ground_kg_m2: float, tilt_deg: float) -> float:
    """Snow on collectors (kg for each m² on the level) from that on the ground (kg/m²): shape 0.8 to 30 deg, nothing
    from 60 deg.

    Parameters
    ----------
    ground_kg_m2
        Snow on the ground (kg/m²).
    tilt_deg
        Tilt from horizontal (deg).

    Returns
    -------
    float
        Snow on collectors (kg for each m² on the level).

    References
    ----------
    EN 1991-1-3, table 5.2.
    """
    return ground_kg_m2 * 0.8 * min(max((60.0 - tilt_deg) / 30.0, 0.0), 1.0)


@dataclass(frozen=True)
class WindLoad:
    """Wind on collectors: gust (Pa), force square to them (kN, below zero lifts), the code's factor on it, what is
    left to hold after their weight, up and along (kN), ballast (kg, none on a roof) against sliding with uplift and
    against tipping, pull on each fixing (kg); snow and all that presses (kg/m²).
    """

    gust_pa: float
    coefficient: float
    factor: float
    force_kn: float
    up_kn: float
    along_kn: float
    slides_kg: float
    tips_kg: float
    per_fixing_kg: float
    snow_kg_m2: float
    presses_kg_m2: float
    framed: bool

    @property
    def ballast_kg(self) -> float:
        """The larger of both (kg)."""
        return max(self.slides_kg, self.tips_kg)


def ground_snow(design: Design) -> float:
    """Snow on the ground (kg/m²), as typed or guessed.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Snow on the ground (kg/m²).
    """
    typed = design.exposure.snow_kg_m2
    return SNOW_GUESS_KG_M2 if typed is None else typed


def plane_kind(design: Design) -> str:
    """Kind of the plane that a design's collectors stand on; a roof where none was surveyed.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    str
        Kind of the plane.
    """
    return next((p.kind for p in design.site.planes if p.key == design.plane.on), "roof")


def wind_load(design: Design) -> WindLoad:
    """Uplift, ballast and fixings of a design's collectors (kN, kg), dry as they are emptied or new, by the factors
    of its code; the ballast of a frame holds it down, keeps it from sliding, and from tipping over its lower feet when
    the wind comes from behind, ballast and weight over the middle of its feet.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    WindLoad
        Forces (kN), ballast (kg), pull on each fixing (kg).

    References
    ----------
    EN 1991-1-4, EN 1990; ASCE 7-16.
    """
    place, safety, plane = design.exposure, design.safety, design.plane
    kind = plane_kind(design)
    wind = WIND_GUESS_M_S if place.wind_m_s is None else place.wind_m_s
    gust = gust_pa(place.code, wind, place.terrain, place.height_m)
    coefficient = lift_coefficient(kind, plane.tilt_deg, place.edge)
    area, tilt = design.system.gross_m2, radians(plane.tilt_deg)
    force = gust * coefficient * area
    weight = wet_weight(design)
    current = ON_WEIGHT * weight.dry_kg * GRAVITY
    factor = ON_WIND[place.code]
    pull = -factor * force
    framed = kind in FRAMED
    up = pull * cos(tilt) - current if framed else pull - current * cos(tilt)
    along = pull * sin(tilt) if framed else 0.0
    slides = max(up + along / safety.friction, 0.0) if framed else 0.0
    tips = max(pull * CENTRE / (0.5 * max(cos(tilt), cos(radians(STEEPEST_DEG)))) - current, 0.0) if framed else 0.0
    count = design.system.collector.count + (
        design.system.second_collector.count if design.system.second_collector.fitted else 0
    )
    snow = snow_kg_m2(ground_snow(design), plane.tilt_deg)
    return WindLoad(
        gust,
        coefficient,
        factor,
        force / 1000.0,
        max(up, 0.0) / 1000.0,
        along / 1000.0,
        slides / (ON_WEIGHT * GRAVITY),
        tips / (ON_WEIGHT * GRAVITY),
        max(up, 0.0) / GRAVITY / (count * safety.fixings),
        snow,
        weight.per_m2 + snow * cos(tilt),
        framed,
    )
