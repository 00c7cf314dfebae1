"""The commissioning sheet: what is checked on the day, each with what the design aims at."""

from heat.loop.runs import loop_flow_kg_h
from heat.sizing.antifreeze import antifreeze
from heat.sizing.vessel import expansion_vessel
from web.editor.design_page import DesignPage
from web.presentation.cautions.case import CautionCase
from web.ui.rows import Row


def checks(page: DesignPage) -> list[tuple[str, str]]:
    """Every check with its target in the reader's units; empty where the design knows none."""
    case = CautionCase(page)
    design, system = case.design, case.design.system
    bar = lambda value: case.text(value, "bar", 1)
    delta = lambda value: case.text(value, "delta_degC", 0)
    pumped = system.scheme.driven_by == "pump"
    vessel, fluid = expansion_vessel(design), antifreeze(page.year.book, design, case.coldest_c)
    control, backup, plan = system.control, system.backup, system.backup.pasteurisation
    rows = [
        ("Pressure test: bar, minutes, bar after", f"at least {bar(1.5 * vessel.filled_bar)}" if vessel else ""),
        ("Gas pressure of the vessel before filling", bar(vessel.gas_bar) if vessel else ""),
        ("Filled cold to", bar(vessel.filled_bar) if vessel else ""),
        (
            "Antifreeze: first ice measured at",
            f"{case.degrees(case.coldest_c - design.safety.frost_margin_k)} or below" if fluid else "",
        ),
        ("Flow at full speed", case.text(loop_flow_kg_h(design), "kg/h", 0) if pumped else ""),
        ("Air let out, and again after a week", ""),
        ("Sensors read: collector, store below, store above", "alike to 1 K in the morning" if pumped else ""),
        ("Pump on and off at", f"{delta(control.on_k)}, {delta(control.off_k)}" if pumped else ""),
        ("Relief valves tried by hand", f"open at {bar(design.safety.relief_bar)}" if vessel else ""),
        ("Outlets of reliefs led where nobody is burnt", ""),
        ("Mixing valve: hottest water at the tap", f"at most {case.degrees(design.safety.mixed_c)}"),
        ("Pasteurised to", case.degrees(plan.target_c) if plan.fitted else "not planned"),
        ("Insulation whole, no bare pipe", ""),
        ("Roof entries tight", ""),
        ("Fixings counted and pulled", f"{design.safety.fixings} for each collector"),
        ("Heater after the store set to", case.degrees(design.demand.tap_c) if backup.tankless.fitted else "none"),
        ("User shown how it works, papers handed over", ""),
    ]
    return [row for row in rows if row[1] not in ("none", "not planned")]


def commissioning(page: DesignPage) -> Row:
    """A sheet to fill in by hand."""
    return {"checks": checks(page)}
