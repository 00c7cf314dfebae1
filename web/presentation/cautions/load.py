"""Weight, wind, snow and tilt: what the roof bears and what the wind would take."""

from math import ceil

from heat.sizing.roof_load import wet_weight
from heat.sizing.wind import ground_snow, wind_load
from web.presentation.cautions.case import COSTS, HURTS, Caution, CautionCase, Remedy

TUBE_LEAST_DEG, SIPHON_LEAST_DEG, SIPHON_USUAL_DEG = 20.0, 15.0, 45.0
"""Least tilt of heat-pipe tubes, and of a thermosiphon by two rules of thumb (deg). Source: usual instructions."""
FLOOR_KG = 600.0
"""Weight of a full store from which its floor is asked about (kg): some 200 kg on each m² of 3 m². Source: our own
choice, after EN 1991-1-1, table 6.2, category A."""
ENGINEER = "An engineer must check it."


def load(case: CautionCase) -> list[Caution]:
    """What presses, lifts and leans."""
    return [*_weight(case), *_wind(case), *_tilt(case), *_clearances(case)]


def _weight(case: CautionCase) -> list[Caution]:
    design, found = case.design, []
    weight, wind = wet_weight(design), wind_load(design)
    per_m2 = lambda value: case.text(value, "kg/m2")
    plane = next((p for p in design.site.planes if p.key == design.plane.on), None)
    if plane and weight.per_m2 > plane.load_kg_m2:
        found.append(
            Caution(
                "weight",
                HURTS,
                "Weight",
                f"the collectors weigh {per_m2(weight.per_m2)} full of water; plane {plane.key} was surveyed to carry "
                f"{per_m2(plane.load_kg_m2)}. {ENGINEER}",
                f"{weight.per_m2:.0f}/{plane.load_kg_m2:.0f}",
                "plane",
                "Rafters give slowly, then at once.",
                "EN 1991-1-1, or the local code.",
                "cautions?view=load",
                "weights and loads",
            )
        )
    elif plane and wind.presses_kg_m2 > plane.load_kg_m2 + ground_snow(case.design):
        found.append(
            Caution(
                "snow",
                HURTS,
                "Snow",
                f"collectors and snow press with {per_m2(wind.presses_kg_m2)}, more than the "
                f"{per_m2(plane.load_kg_m2)} that plane {plane.key} carries beside its own snow. {ENGINEER}",
                f"{wind.presses_kg_m2:.0f}/{plane.load_kg_m2:.0f}",
                "plane",
                "Snow that slid from above lies there too.",
                "EN 1991-1-3, or the local code.",
                "cautions?view=load",
                "weights and loads",
            )
        )
    if weight.store_kg:
        found.append(
            Caution(
                "high store",
                HURTS,
                "Weight",
                f"the store above the collectors weighs {case.text(weight.store_kg, 'kg')} full: what bears it must be "
                "checked.",
                f"{weight.store_kg:.0f}",
                "store",
                "It stands on few points, high up.",
                ENGINEER,
                "cautions?view=load",
                "weights and loads",
            )
        )
    if weight.floor_kg > FLOOR_KG:
        found.append(
            Caution(
                "store on floor",
                HURTS,
                "Weight",
                f"the store weighs {case.text(weight.floor_kg, 'kg', 0)} full: what it stands on must be checked. "
                f"{ENGINEER}",
                f"{weight.floor_kg:.0f}",
                "store",
                f"It stands on few feet; a floor between rooms bears some {per_m2(150)} to {per_m2(200)}.",
                f"EN 1991-1-1 (table 6.2), or the local code; not looked at below {case.text(FLOOR_KG, 'kg', 0)} full.",
                "cautions?view=load",
                "weights and loads",
            )
        )
    return found


def _guessed(case: CautionCase) -> str:
    """Words beside a load by wind while the wind of the place is a guess."""
    return "" if case.design.exposure.wind_m_s is not None else " by a guessed wind: type that of the local code"


def _wind(case: CautionCase) -> list[Caution]:
    wind, safety = wind_load(case.design), case.design.safety
    gust = f"a gust of {case.text(wind.gust_pa / 1000.0, 'wind kPa')}{_guessed(case)}"
    if wind.framed and wind.ballast_kg > 0:
        plane = next(p for p in case.design.site.planes if p.key == case.design.plane.on)
        return [
            Caution(
                "ballast",
                HURTS,
                "Wind",
                f"a frame at {case.design.plane.tilt_deg:.0f}° wants {case.text(wind.ballast_kg, 'kg', 0)} of ballast, "
                f"or fixings, against {gust}. {ENGINEER}",
                f"{wind.ballast_kg:.0f}",
                "plane",
                "A frame that flies kills."
                + (" A flat roof seldom bears such ballast." if plane.kind == "flat_roof" else ""),
                f"{case.design.exposure.code}, simplified; {wind.factor:g} on the wind, 0.9 on the weight; against "
                f"sliding {case.text(wind.slides_kg, 'kg', 0)}, against tipping {case.text(wind.tips_kg, 'kg', 0)}.",
                "cautions?view=load",
                "wind and ballast",
            )
        ]
    if wind.per_fixing_kg > safety.fixing_kg:
        count = min(ceil(wind.per_fixing_kg * safety.fixings / safety.fixing_kg), 40)
        return [
            Caution(
                "fixings",
                HURTS,
                "Wind",
                f"a gust pulls with {case.text(wind.per_fixing_kg, 'kg', 0)} on each fixing, which may bear "
                f"{case.text(safety.fixing_kg, 'kg', 0)}{_guessed(case)}. {ENGINEER}",
                f"{wind.per_fixing_kg:.0f}/{safety.fixing_kg:.0f}",
                "plane",
                "What the wind lifts it drops elsewhere.",
                "EN 1991-1-4 or ASCE 7, simplified.",
                "cautions?view=load",
                "wind and fixings",
                (Remedy(f"{count} fixings for each collector", {"safety.fixings": count}),),
            )
        ]
    return []


def _tilt(case: CautionCase) -> list[Caution]:
    design, found = case.design, []
    tilt = design.plane.tilt_deg
    own = lambda deg: () if design.plane.on else (Remedy(f"{deg:.0f}°", {"plane.tilt_deg": deg}),)
    common = {"at": "site?view=planes", "where": "the plane"}
    if design.system.collector.iam == "biaxial" and tilt < TUBE_LEAST_DEG:
        found.append(
            Caution(
                "tube tilt",
                COSTS,
                "Tilt",
                f"heat-pipe tubes want {TUBE_LEAST_DEG:.0f}° at least to return their fluid; this plane lies at "
                f"{tilt:.0f}°.",
                f"{tilt:.0f}",
                "plane",
                "A heat pipe that lies flat carries nothing.",
                "20 to 70°, some 25°: makers.",
                remedies=own(TUBE_LEAST_DEG),
                **common,
            )
        )
    if design.system.scheme.driven_by == "buoyancy" and tilt < SIPHON_USUAL_DEG:
        moves = "hardly moves" if tilt < SIPHON_LEAST_DEG else "needs pipes that rise all the way"
        found.append(
            Caution(
                "siphon tilt",
                COSTS,
                "Tilt",
                f"a thermosiphon at {tilt:.0f}° {moves}: rules of thumb ask for "
                f"{SIPHON_USUAL_DEG:.0f}° and more, some for "
                f"{SIPHON_LEAST_DEG:.0f}° at least.",
                f"{tilt:.0f}",
                "plane",
                "The warm column is what drives it.",
                "Two rules of thumb: 45° and more; 15° with rising pipes.",
                remedies=own(SIPHON_USUAL_DEG),
                **common,
            )
        )
    return found


def _clearances(case: CautionCase) -> list[Caution]:
    found = []
    for i, row in enumerate(case.design.exposure.clearances):
        if row.limit_m is None or (row.measured_m is not None and row.measured_m >= row.limit_m):
            continue
        text = "was not measured" if row.measured_m is None else f"measures {case.text(row.measured_m, 'm', 2)}"
        found.append(
            Caution(
                f"clearance {i} {row.name}"[:60],
                HURTS,
                "Clearance",
                f"{row.name} {text}; the code asks for {case.text(row.limit_m, 'm', 2)}.",
                f"{row.measured_m}/{row.limit_m}",
                "",
                "Flue gas, heat or snow comes where people are.",
                "Typed from the local code.",
                "cautions?view=load",
                "clearances",
            )
        )
    return found
