"""Designs that cannot be, and designs that can but should not: each with field, reason and way out."""

from collections.abc import Callable
from dataclasses import dataclass
from math import sqrt
from typing import TYPE_CHECKING

from heat.design.schemes import SCHEMES

if TYPE_CHECKING:  # the document asks these rules when it is made
    from heat.design.document import Design

TEST_SUN_W_M2, TEST_AIR_C, TEST_WIND_M_S = 1000.0, 30.0, 3.0
"""Sun, air and wind in which a collector is rated (W/m², °C, m/s). Source: ISO 9806:2017, standard stagnation; its
wind terms count from 3 m/s."""
HOTTEST_C = 700.0
"""Standing temperature that no collector of this kind reaches (°C): selective tubes in a vacuum stand at 200 to 300;
room is left for curves with a linear loss alone."""
FINEST = 3600
"""Layers times steps an hour, at most (1): 20 layers at 6 min are 200; results do not change beyond some 1,000."""
SKY_W_M2K = 5.5
"""What a black surface near 15 °C exchanges with its surroundings (W/m²K): 4 sigma T³. Source: Stefan-Boltzmann."""


@dataclass(frozen=True)
class Warning:
    """Something a designer should know: path of the field, what is wrong, and a way out (no unit)."""

    path: str
    text: str
    way_out: str


def contradiction(design: "Design") -> tuple[str, str] | None:
    """Path and reason (no unit) why a design cannot be calculated, or None.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    tuple[str, str] | None
        Path and reason (no unit) why a design cannot be calculated, or None.
    """
    for rule in REFUSED:
        found = rule(design)
        if found:
            return found
    return None


def _uses(d: "Design") -> tuple[str, str] | None:
    wanted = d.demand
    on = (wanted.heating, wanted.fresh_air, wanted.process, wanted.pool, wanted.showers)
    if not (wanted.hot_water or any(use.fitted for use in on)):
        return "demand.hot_water", "no use of heat is left: switch on hot water, rooms, a process or a pool"
    return None


def _drainback_fluid(d: "Design") -> tuple[str, str] | None:
    if d.system.scheme.drains and d.system.loop.glycol_percent > 0:
        return (
            "system.loop.glycol_percent",
            "a drainback loop holds plain water: set antifreeze to 0, or choose a closed loop",
        )
    return None


def _direct_fluid(d: "Design") -> tuple[str, str] | None:
    if d.system.scheme.exchange == "direct" and d.system.loop.glycol_percent > 0:
        return (
            "system.loop.glycol_percent",
            "this loop carries the store's own water: set antifreeze to 0, or choose a loop with an exchanger",
        )
    return None


def _pool_kind(d: "Design") -> tuple[str, str] | None:
    if d.system.scheme.exchange == "pool" and not d.demand.pool.fitted:
        return "demand.pool.fitted", "a pool system needs a pool: switch the pool on"
    if d.system.scheme.exchange == "pool" and d.demand.pool.exchanger_w_k == 0 and d.system.loop.glycol_percent > 0:
        return (
            "system.loop.glycol_percent",
            "pool water passes the collectors: set antifreeze to 0, or give the pool an exchanger",
        )
    return None


def _siphon_heights(d: "Design") -> tuple[str, str] | None:
    if d.system.scheme.driven_by == "buoyancy" and d.system.store_bottom_m < -0.5 * d.plane.slope_m:
        return (
            "system.loop.geometry.store_bottom_m",
            "natural circulation needs the store above the collectors: raise it, or choose a pump",
        )
    return None


def _ports(d: "Design") -> tuple[str, str] | None:
    loop = d.system.loop
    if d.system.scheme.exchange in ("direct", "plate", "passive") and loop.in_share - loop.out_share < 0.05:
        return "system.loop.in_share", "water must enter at least 0.05 of the height above where it leaves"
    return None


def _stove(d: "Design") -> tuple[str, str] | None:
    stove = d.system.backup.stove
    if stove.fitted and d.system.scheme.driven_by == "none" and not d.system.second_store.fitted:
        reason = "a stove cannot heat a store that stands outdoors as its own collector: add a second store for it"
        return "system.backup.stove.fitted", reason
    if stove.fitted and stove.fired == "rooms" and not d.demand.heating.fitted:
        return "system.backup.stove.fired", "no rooms are heated here: fire it by the timetable, or switch rooms on"
    return None


def _lockouts(d: "Design") -> tuple[str, str] | None:
    control, backup = d.system.control, d.system.backup
    always = all(backup.boiler.hours_on) and backup.boiler.sensor_share <= control.sensor_share
    if control.rests_with_boiler and backup.boiler.fitted and always:
        reason = (
            "the boiler may heat at all hours with its thermostat at the collectors' own sensor, and the pump "
            "rests while it does: raise the thermostat or give the boiler hours"
        )
        return "system.control.rests_with_boiler", reason
    plan = backup.pasteurisation
    heated = backup.element.fitted or backup.top_element.fitted or backup.boiler.fitted
    if plan.fitted and not heated:
        return ("system.backup.pasteurisation.fitted", "nothing can heat the store through: fit an element or a boiler")
    if plan.fitted and plan.every_days == 1 and plan.hours == 12 and control.rests_while_pasteurising:
        allowed = [on for h, on in enumerate(control.hours_allowed) if (h - plan.from_hour) % 24 >= plan.hours]
        if not any(allowed):
            return (
                "system.control.hours_allowed",
                "the pump may only run while it must rest for pasteurisation: allow other hours",
            )
    return None


def _set_points(d: "Design") -> tuple[str, str] | None:
    mains = d.site.mains
    warmest = {"monthly": max(mains.monthly_c), "wave": mains.mean_c + mains.swing_c, "calculated": -99.0}[mains.source]
    if d.demand.hot_water and d.demand.tap_c <= warmest:
        return "demand.tap_c", f"the mains already reach {warmest:g} °C: ask for more than that"
    backup = d.system.backup
    for name in ("element", "top_element", "boiler"):
        part = getattr(backup, name)
        if part.fitted and part.set_c <= warmest:
            return f"system.backup.{name}.set_c", f"the mains already reach {warmest:g} °C: set it higher"
    return None


def _sources(d: "Design") -> tuple[str, str] | None:
    system = d.system
    at_store = system.dump.fitted and system.dump.at == "store"
    if at_store and system.dump.above_c > system.store.relief_c:
        return "system.dump.above_c", "the relief opens before the dump takes heat: set the dump lower"
    return None


def _stagnation_limit(d: "Design") -> tuple[str, str] | None:
    """A curve by which a collector would stand hotter than any that is built: usually a quadratic loss left out."""
    if d.system.scheme.exchange == "none":
        return None
    sun_w_m2 = TEST_SUN_W_M2 * (1.0 + (d.plane.mirror.facets if d.plane.mirror.fitted else 0))
    for name in ("collector", "second_collector"):
        part = getattr(d.system, name, None)
        if part is None or not getattr(part, "fitted", True):
            continue
        a1, a2 = part.a1_w_m2k - TEST_WIND_M_S * part.a3_j_m3k, part.a2_w_m2k2
        if a1 <= 0.0:
            return (
                f"system.{name}.a3_j_m3k",
                (
                    f"in calm air no heat loss would be left: a1 is the loss in {TEST_WIND_M_S:g} m/s of wind, a3 less "
                    f"for each m/s below; at most {part.a1_w_m2k / TEST_WIND_M_S:.2f}"
                ),
            )
        gain = min(part.eta0 + TEST_WIND_M_S * part.a6_s_m, 1.0) * sun_w_m2
        above_k = 2.0 * gain / (a1 + sqrt(a1 * a1 + 4.0 * a2 * gain))
        if TEST_AIR_C + above_k > HOTTEST_C:
            return (
                f"system.{name}.a1_w_m2k",
                (
                    f"by this curve the collector would stand at {TEST_AIR_C + above_k:.0f} °C in {sun_w_m2:.0f} W/m², "
                    f"above {HOTTEST_C:.0f} °C: is the quadratic loss (a2) left out, or the linear one too small?"
                ),
            )
    return None


def too_fine(d: "Design") -> tuple[str, str] | None:
    """Path and reason (no unit) where layers times steps are more than anything gains by, and a year of others would
    wait for: the core simulates them, a server does not.

    Parameters
    ----------
    d
        The design.

    Returns
    -------
    tuple[str, str] | None
        Path and reason (no unit) where layers times steps are more than anything gains by, and a year of others
        would wait for: the core simulates them, a server does not.
    """
    steps = 60 // d.numerics.step_minutes
    if d.numerics.layers * steps > FINEST:
        return (
            "numerics.layers",
            (
                f"{d.numerics.layers} layers at {d.numerics.step_minutes} min are {d.numerics.layers * steps} an "
                f"hour, above {FINEST}: take {FINEST // steps} layers, or a longer step"
            ),
        )
    return None


REFUSED: tuple[Callable[["Design"], tuple[str, str] | None], ...] = (
    _uses,
    _drainback_fluid,
    _direct_fluid,
    _pool_kind,
    _siphon_heights,
    _ports,
    _stove,
    _lockouts,
    _set_points,
    _sources,
    _stagnation_limit,
)


LEAST_RISE_MM_M = 50.0
"""Rise below which air and steam stay in a pipe that weight is to move (mm/m). Source: trade rule, 1 in 20."""


def _stove_warnings(design: "Design") -> list[Warning]:
    """What a stove's jacket and its pipes ask for (mm/m, m): a path upwards, a rise, and no store to cool by night."""
    stove = design.system.backup.stove
    found: list[Warning] = []
    if not stove.fitted:
        return found
    by_weight = stove.circulation == "thermosiphon"
    if by_weight and stove.store_above_m < -0.5 * stove.jacket_m:
        found.append(
            Warning(
                "system.backup.stove.store_above_m",
                "The store stands below the stove's jacket: its water hardly moves by weight, and the jacket boils.",
                "Raise the store, or give the stove a pump that also runs when the power fails.",
            )
        )
    if by_weight and stove.rise_mm_m < LEAST_RISE_MM_M:
        found.append(
            Warning(
                "system.backup.stove.rise_mm_m",
                f"The pipe from the jacket rises {stove.rise_mm_m:g} mm in a metre: air and steam stay in it.",
                "Let it rise at least 1 in 20 all the way.",
            )
        )
    if not stove.heat_trap:
        found.append(
            Warning(
                "system.backup.stove.heat_trap",
                "Without a heat trap warm water climbs the stove's pipe when the fire is out.",
                "Bring the pipe down before it enters the store.",
            )
        )
    return found


def warnings(design: "Design", coldest_air_c: float) -> list[Warning]:
    """What can be built but asks for care, given how far the air may fall in a hard winter (°C).

    Parameters
    ----------
    design
        The design.
    coldest_air_c
        Air of a hard winter's coldest hour (°C).

    Returns
    -------
    list[Warning]
        What can be built but asks for care, given how far the air may fall in a hard winter (°C); no unit.
    """
    found = []
    system, loop = design.system, design.system.loop
    scheme = SCHEMES[system.kind]
    control = system.control
    whole_year = control.season_from_day == 1 and control.season_to_day == 365
    if scheme.driven_by == "none" and coldest_air_c < 0:
        found.append(
            Warning(
                "system.kind",
                f"The water stands outdoors and the air may fall to {coldest_air_c:.0f} °C: it can freeze.",
                "Empty it in winter, cover it at night, or choose a scheme with the store indoors. "
                "Check the local code.",
            )
        )
    elif scheme.water_outdoors and system.kind not in ("drain_down",) and whole_year and coldest_air_c < 2:
        found.append(
            Warning(
                "system.control.season_from_day",
                f"Plain water stands in collectors outdoors and the air may fall to {coldest_air_c:.0f} °C.",
                "Drain them for the cold months, or choose a loop with antifreeze or drainback.",
            )
        )
    if not scheme.water_outdoors and not scheme.drains and scheme.driven_by != "none":
        from heat.common.fluid import freezing_point_c

        freezes = freezing_point_c(loop.glycol_percent)
        if freezes > coldest_air_c:
            found.append(
                Warning(
                    "system.loop.glycol_percent",
                    f"The fluid freezes at {freezes:.0f} °C; the air may fall to {coldest_air_c:.0f} °C.",
                    "Use more antifreeze.",
                )
            )
    if scheme.driven_by == "buoyancy" and system.store_bottom_m < 0:
        found.append(
            Warning(
                "system.loop.geometry.store_bottom_m",
                "The store's floor lies below the collectors' upper edge: at night the water can turn round.",
                "Raise the store or fit a check valve of low resistance.",
            )
        )
    if scheme.exchange == "coil" and system.coil.bottom_share > 0.5:
        found.append(
            Warning(
                "system.coil.bottom_share",
                "The solar coil begins above the middle: the water below it stays cold.",
                "Set it in the lower third.",
            )
        )
    if system.backup.element.fitted and system.backup.element.height_share < 0.2 and not system.second_store.fitted:
        found.append(
            Warning(
                "system.backup.element.height_share",
                "The element heats the whole store: the sun finds no cold water.",
                "Set it in the upper half.",
            )
        )
    if not system.tempering_valve and control.store_limit_c > 60:
        found.append(
            Warning(
                "system.tempering_valve",
                f"The store may reach {control.store_limit_c:.0f} °C without a tempering valve: scalding at the tap.",
                "Fit a tempering valve; check the local code.",
            )
        )
    if system.backup.stove.fitted and not system.dump.fitted and not system.store.open_vented:
        found.append(
            Warning(
                "system.dump.fitted",
                "A solid-fuel stove cannot be switched off: it needs an open, safe path for its heat.",
                "Vent the store openly or fit a dump; a licensed trade must check it.",
            )
        )
    found += _stove_warnings(design)
    if design.demand.pool.fitted and scheme.exchange != "pool" and design.demand.pool.exchanger_w_k == 0:
        found.append(
            Warning(
                "demand.pool.exchanger_w_k", "The pool has no exchanger, so the store gives it nothing.", "Give it one."
            )
        )
    collector = system.collector
    if collector.a4 * SKY_W_M2K > collector.a1_w_m2k:
        found.append(
            Warning(
                "system.collector.a4",
                f"A sky exchange of {collector.a4:g} is more than the whole loss a1 of "
                f"{collector.a1_w_m2k:g} W/m²K can "
                "carry; it is counted up to that.",
                "Set it to 0 under glass; for bare absorbers check a1 against the test report.",
            )
        )
    flow = loop.flow_kg_h / max(system.collector.total_area_m2, 0.1)
    if scheme.driven_by == "pump" and not loop.drive.curve and not 8 <= flow <= 150:
        found.append(
            Warning(
                "system.loop.flow_kg_h",
                f"{flow:.0f} kg/h for each m² of collector is outside the usual 8 to 150.",
                "15 to 50 is common.",
            )
        )
    return found
