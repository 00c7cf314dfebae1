"""The loop as its pump feels it: what each part resists, the system's curve and the working point, pipes that suit."""

from dataclasses import dataclass
from math import ceil, pi, radians, sin

import numpy as np
from numpy.typing import NDArray

from heat.common.fluid import fluid_property
from heat.design import Design, Pipe
from heat.loop.circulation import GRAVITY, Passage, pressure_drop
from heat.loop.runs import PUMPED_AT_C, exchanger_drop_pa, loop_flow_kg_h, riser_passage
from heat.sizing.pipe_tables import Norm, sold_pipes

Array = NDArray[np.float64]
BRISK_M_S, STEEP_PA_M = 0.7, 250.0
"""Speed (m/s) and loss of pressure (Pa/m) in a pipe above which the next size is taken. Source: usual practice,
0.3 to 0.7 m/s and 100 to 250 Pa/m."""


@dataclass(frozen=True)
class Resistance:
    """A part of the loop: loss of pressure (Pa), speed in it (m/s), loss for each metre (Pa/m), Reynolds number (1)."""

    words: str
    drop_pa: float
    speed_m_s: float
    per_metre_pa: float
    reynolds: float


def _fluid(design: Design, temperature_c: float) -> tuple[float, float]:
    percent = design.system.loop.glycol_percent
    viscosity = fluid_property("viscosity_mpas", percent, temperature_c) / 1000.0
    return viscosity, fluid_property("density_kg_m3", percent, temperature_c)


def through(words: str, passage: Passage, flow_kg_h: float, viscosity: float, density: float) -> Resistance:
    """A passage (m) at a flow (kg/h) of a fluid of viscosity (Pa s) and density (kg/m³): Darcy-Weisbach, as the year
    has it (heat.loop.circulation).

    Parameters
    ----------
    words
        What it is called.
    passage
        Length, bore, area and loss coefficients (m, m², no unit).
    flow_kg_h
        Flow (kg/h).
    viscosity
        Dynamic viscosity (Pa s).
    density
        Density (kg/m³).

    Returns
    -------
    Resistance
        A passage (m) at a flow (kg/h) of a fluid of viscosity (Pa s) and density (kg/m³): Darcy-Weisbach, as
        the year has it (heat.loop.circulation).
    """
    flow = flow_kg_h / 3600.0 / passage.tubes
    speed = flow / density / (pi * passage.bore_m**2 / 4.0)
    bare = float(pressure_drop(flow, viscosity, density, Passage(passage.length_m, passage.bore_m, 1.0, 0.0)))
    whole = float(pressure_drop(flow_kg_h / 3600.0, viscosity, density, passage))
    return Resistance(words, whole, speed, bare / passage.length_m, density * speed * passage.bore_m / viscosity)


def _pipe(pipe: Pipe, fittings: float) -> Passage:
    return Passage(pipe.length_m, (pipe.outer_diameter_mm - 2 * pipe.wall_mm) / 1000.0, 1.0, fittings)


def resistances(design: Design, flow_kg_h: float, temperature_c: float = PUMPED_AT_C) -> list[Resistance]:
    """Every part of the loop at a flow (kg/h) and temperature (°C): pipes with their fittings, collectors, and the
    exchanger, whose typed loss grows with the square of the flow (Pa).

    Parameters
    ----------
    design
        The design.
    flow_kg_h
        Flow (kg/h).
    temperature_c
        Temperature of the fluid (°C).

    Returns
    -------
    list[Resistance]
        Every part of the loop at a flow (kg/h) and temperature (°C): pipes with their fittings, collectors, and
        the exchanger, whose typed loss grows with the square of the flow (Pa).
    """
    loop = design.system.loop
    viscosity, density = _fluid(design, temperature_c)
    found = [
        through(words, _pipe(pipe, loop.geometry.fittings / 2), flow_kg_h, viscosity, density)
        for words, pipe in (("pipe to the store", loop.supply_pipe), ("pipe to the collectors", loop.return_pipe))
        if pipe.length_m > 0
    ]
    found.append(through("collectors", riser_passage(design), flow_kg_h, viscosity, density))
    exchanger = exchanger_drop_pa(design, flow_kg_h)
    if exchanger > 0.0:
        found.append(Resistance("exchanger", exchanger, 0.0, 0.0, 0.0))
    return found


def drop_pa(design: Design, flow_kg_h: float, temperature_c: float = PUMPED_AT_C) -> float:
    """Loss of pressure of the whole loop (Pa) at a flow (kg/h) and temperature (°C).

    Parameters
    ----------
    design
        The design.
    flow_kg_h
        Flow (kg/h).
    temperature_c
        Temperature of the fluid (°C).

    Returns
    -------
    float
        Loss of pressure of the whole loop (Pa).
    """
    return sum(part.drop_pa for part in resistances(design, flow_kg_h, temperature_c))


def lift_m(design: Design) -> float:
    """Height (m) that the pump of a loop that drains must lift water over: from the vessel to the collectors' top.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Height (m).
    """
    if not design.system.scheme.drains:
        return 0.0
    return rise_m(design) + design.plane.slope_m * sin(radians(design.plane.tilt_deg))


def rise_m(design: Design) -> float:
    """Collectors above the plant room (m): as typed, else as the plane was surveyed, else 4 m.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Collectors above the plant room (m).
    """
    if design.safety.static_m is not None:
        return design.safety.static_m
    plane = next((p for p in design.site.planes if p.key == design.plane.on), None)
    return max(plane.rise_m, 0.0) if plane else 4.0


@dataclass(frozen=True)
class Working:
    """Where pump and loop meet: flow (kg/h), its head in running (m) and at the start (m), and whether a pump's curve
    was given; hydraulic power (W).
    """

    flow_kg_h: float
    head_m: float
    start_m: float
    by_curve: bool
    hydraulic_w: float


def working_point(design: Design, temperature_c: float = PUMPED_AT_C) -> Working:
    """The working point at full speed (kg/h, m): the year's flow, and the head the pump must have there.

    A loop that drains is lifted over its top at the start; running, what falls down pulls the rest up.

    Parameters
    ----------
    design
        The design.
    temperature_c
        Temperature of the fluid (°C).

    Returns
    -------
    Working
        The working point at full speed (kg/h, m).
    """
    _viscosity, density = _fluid(design, temperature_c)
    flow = loop_flow_kg_h(design)
    head = drop_pa(design, flow, temperature_c) / (density * GRAVITY)
    power = head * GRAVITY * flow / 3600.0
    return Working(flow, head, max(lift_m(design), head), bool(design.system.loop.drive.curve), power)


def system_curve(design: Design, most_kg_h: float, places: int = 25) -> tuple[Array, Array]:
    """Head of the loop (m) at flows from nothing to the most (kg/h).

    Parameters
    ----------
    design
        The design.
    most_kg_h
        Largest flow (kg/h).
    places
        Number of places.

    Returns
    -------
    tuple[Array, Array]
        Head of the loop (m) at flows from nothing to the most (kg/h).
    """
    _viscosity, density = _fluid(design, PUMPED_AT_C)
    flows = np.linspace(0.0, most_kg_h, places)
    heads = [0.0 if flow <= 0 else drop_pa(design, float(flow)) / (density * GRAVITY) for flow in flows]
    return flows, np.array(heads)


@dataclass(frozen=True)
class PipeSize:
    """A pipe (outer diameter and wall, mm; nominal size) at the loop's flow: speed (m/s), loss for each metre (Pa/m),
    whether it suits.
    """

    outer_mm: float
    wall_mm: float
    nominal: str
    speed_m_s: float
    per_metre_pa: float
    suits: bool


def pipe_sizes(design: Design, flow_kg_h: float | None = None, norm: Norm = "EN") -> list[PipeSize]:
    """Usual pipes at a flow (kg/h, else the loop's), the smallest that suits marked by all larger ones suiting too.

    Parameters
    ----------
    design
        The design.
    flow_kg_h
        Flow (kg/h).
    norm
        Metric sizes or nominal inches.

    Returns
    -------
    list[PipeSize]
        Usual pipes at a flow (kg/h, else the loop's).
    """
    flow = flow_kg_h or loop_flow_kg_h(design)
    viscosity, density = _fluid(design, PUMPED_AT_C)
    found = []
    for outer, wall, nominal in sold_pipes(design.system.loop.supply_pipe.material, norm):
        at = through("", Passage(1.0, (outer - 2 * wall) / 1000.0, 1.0, 0.0), flow, viscosity, density)
        suits = at.speed_m_s <= BRISK_M_S and at.per_metre_pa <= STEEP_PA_M
        found.append(PipeSize(outer, wall, nominal, at.speed_m_s, at.per_metre_pa, suits))
    return found


def recommended(sizes: list[PipeSize]) -> PipeSize:
    """The smallest pipe (mm) that suits, else the largest there is.

    Parameters
    ----------
    sizes
        The pipes tried.

    Returns
    -------
    PipeSize
        The smallest pipe (mm).
    """
    return next((size for size in sizes if size.suits), sizes[-1])


@dataclass(frozen=True)
class Groups:
    """How collectors are grouped: in a row, rows side by side, how many stand in the last (1), and the share of the
    flow that each row gets of an even one (1).
    """

    in_row: int
    rows: int
    last: int
    shares: tuple[float, ...]


def groups_of(design: Design) -> Groups:
    """Rows of collectors and their shares of the flow (1): it goes by the square root of one over a row's length.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Groups
        Rows of collectors and their shares of the flow (1).

    References
    ----------
    parallel branches at one loss of pressure, turbulent; laminar ones differ more.
    """
    collector = design.system.collector
    in_row = min(collector.in_series or (collector.count if collector.manifold else 1), collector.count)
    rows = ceil(collector.count / in_row)
    last = collector.count - (rows - 1) * in_row
    weights = [in_row**-0.5] * (rows - 1) + [last**-0.5]
    return Groups(in_row, rows, last, tuple(w * rows / sum(weights) for w in weights))
