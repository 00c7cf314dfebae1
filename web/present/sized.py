"""Safety parts sized: rows of a word, a value and a note, beside the fields they go by."""

from typing import Any

from heat.sizing.antifreeze import antifreeze
from heat.sizing.boiling import bearing, cooler_kw
from heat.sizing.circuit import (
    BRISK_M_S,
    STEEP_PA_M,
    groups_of,
    lift_m,
    pipe_sizes,
    recommended,
    resistances,
    rise_m,
    system_curve,
    working_point,
)  # fmt: skip
from heat.sizing.exchange import exchange_of
from heat.sizing.siphon import LEAST_RISE, NOON_W_M2, pool_flow, siphon
from heat.sizing.vessel import contents, drainback_l, expansion_vessel, open_tank
from heat.sizing.weight import wet_weight
from heat.sizing.wind import wind_load
from web.present.cautions.seen import Seen
from web.sheet.page import Sheet
from web.ui import units

Rows = list[dict[str, str]]
WIDTH, HEIGHT, LEFT, FOOT = 460, 210, 46, 182
LONG_YEARS = 50.0


def row(words: str, value: str, note: str = "") -> dict[str, str]:
    """A line: what, how much, and what it goes by."""
    return {"words": words, "value": value, "note": note}


def pens(sheet: Sheet, *names: str) -> list[Any]:
    """Fields of the papers by name."""
    return [sheet.pen(name) for name in names]


def loop_view(sheet: Sheet) -> dict[str, Any]:
    """Flow and pump: what resists, the curve with its point, pipes that suit, rows; siphons and pools by their kind."""
    seen = Seen(sheet)
    design, told = seen.design, seen.told
    page: dict[str, Any] = {"by_kind": _siphon_rows(seen) + _pool_rows(seen), "pens": []}
    if design.system.scheme.moved != "pump":
        page["conclusion"] = _siphon_words(seen)
        page["pens"] = pens(sheet, "safety.rise_mm_m", "safety.heat_trap") if page["by_kind"] else []
        return page
    point = working_point(design)
    parts, sizes, rows = resistances(design, point.flow_kg_h), pipe_sizes(design), groups_of(design)
    best, now = recommended(sizes), design.system.loop.supply_pipe
    page |= {
        "parts": [
            {"words": part.words, "drop": told(part.drop_pa / 1000.0, "kPa", 2),
             "speed": told(part.speed_m_s, "flow m/s") if part.speed_m_s else "–",
             "metre": told(part.per_metre_pa, "Pa/m") if part.per_metre_pa else "–",
             "flow": "–" if not part.reynolds else "laminar" if part.reynolds < 2000 else
             "turbulent" if part.reynolds > 4000 else "between"}
            for part in parts
        ],
        "sizes": [
            {"size": seen.size(size.outer_mm, "mm"), "speed": told(size.speed_m_s, "flow m/s"),
             "metre": told(size.per_metre_pa, "Pa/m"), "best": size is best,
             "now": size.outer_mm == now.outer_diameter_mm, "outer": size.outer_mm, "wall": size.wall_mm}
            for size in sizes
        ],
        "rows": [
            row("flow at full speed", told(point.flow_kg_h, "kg/h"),
                "where the pump’s curve meets the loop" if point.by_curve else "as typed"),
            row("for the area of collectors", told(point.flow_kg_h / design.system.gross_m2, "kg/h/m2")),
            row("head it needs, running", told(point.head_m, "m", 2), f"fluid at {seen.degrees(40.0)}"),
            row("head it needs, at the start", told(point.start_m, "m", 2),
                f"lifted over {told(lift_m(design), 'm', 1)}" if lift_m(design) else "a loop that stays full"),
            row("work done on the fluid", told(point.hydraulic_w, "W", 1), "a pump takes three to ten times as much"),
            row("rows of collectors", f"{rows.rows} of {rows.in_row}" + (
                f", the last of {rows.last}" if rows.last != rows.in_row else ""),
                "each its share" if rows.last == rows.in_row else
                f"the last takes {100 * rows.shares[-1]:.0f} % of its share"),
        ],
        "brisk": told(BRISK_M_S, "flow m/s"), "steep": told(STEEP_PA_M, "Pa/m"),
        "picture": _picture(seen, point.flow_kg_h, point.head_m),
        "pens": pens(sheet, "safety.static_m", "safety.exchanger_kpa", "system.loop.geometry.fittings",
                     "system.loop.drive.curve"),
        "conclusion": f"At {told(point.flow_kg_h, 'kg/h')} the pump needs {told(point.head_m, 'm', 2)} of head; pipes "
                      f"of {seen.size(best.outer_mm, 'mm')} suit, {seen.size(now.outer_diameter_mm, 'mm')} are drawn.",
    }  # fmt: skip
    return page


def _picture(seen: Seen, flow: float, head: float) -> dict[str, Any]:
    """The loop's curve, the pump's where there is one, and the working point."""
    curve = seen.design.system.loop.drive.curve
    most = max(2.0 * flow, curve[-1].flow_kg_h if curve else 0.0)
    flows, heads = system_curve(seen.design, most)
    top = max(float(heads.max()), curve[0].head_m if curve else 0.0, 1e-6)
    if curve:
        top = min(top, 1.6 * max(curve[0].head_m, head))
    x = lambda v: round(LEFT + (WIDTH - LEFT - 12) * v / most, 1)
    y = lambda v: round(FOOT - (FOOT - 12) * min(v, top) / top, 1)
    path = lambda points: "M" + "L".join(f"{x(a)},{y(b)}" for a, b in points)
    shown = [(a, b) for a, b in zip(flows, heads, strict=True) if b <= top]
    return {
        "loop": path(shown), "pump": path([(p.flow_kg_h, p.head_m) for p in curve]) if curve else "",
        "x": x(flow), "y": y(head), "width": WIDTH, "height": HEIGHT, "foot": FOOT,
        "across": [{"x": x(v), "text": seen.sheet.show(v, "kg/h")} for v in (0.0, most / 2, most)],
        "up": [{"y": y(v), "text": seen.sheet.show(v, "m", 1)} for v in (0.0, top)],
        "across_sign": seen.sheet.sign("kg/h"), "up_sign": seen.sheet.sign("m"),
    }  # fmt: skip


def _siphon_words(seen: Seen) -> str:
    noon = siphon(seen.design)
    if noon is None:
        return "Nothing flows but what is drawn: no pump, no loop."
    return (
        f"On a sunny noon its own weight moves {seen.told(noon.flow_kg_h, 'kg/h')}, "
        f"{seen.told(noon.rise_k, 'delta_degC', 0)} warmer at the top."
    )


def _siphon_rows(seen: Seen) -> Rows:
    noon, told = siphon(seen.design), seen.told
    if noon is None:
        return []
    return [
        row("flow on a sunny noon", told(noon.flow_kg_h, "kg/h"),
            f"{NOON_W_M2:.0f} W/m², store at {seen.degrees(40.0)}"),
        row("rise through the collectors", told(noon.rise_k, "delta_degC", 0)),
        row("what drives it", told(noon.drive_pa / 1000.0, "kPa", 2),
            f"a warm column of {told(noon.column_m, 'm', 1)}"),
        row("pipes rise enough", "yes" if noon.rises else "no", f"{told(LEAST_RISE, 'mm/m')} at least"),
        row("heat trap", "yes" if noon.trapped else "no", "a dip below the store keeps the night out"),
    ]  # fmt: skip


def _pool_rows(seen: Seen) -> Rows:
    flow, told = pool_flow(seen.design), seen.told
    if flow is None:
        return []
    return [
        row("one turnover of the pool", f"{units.number(flow['turnover_h'], 1)} h", "by its filter pump; 4 to 8 usual"),
        row(
            "through the collectors",
            told(flow["flow_m2"], "kg/h/m2"),
            f"{told(100, 'kg/h/m2')} to {told(250, 'kg/h/m2')} usual",
        ),
        row(
            "rise in full sun",
            told(flow["rise_k"], "delta_degC", 1),
            f"{told(5, 'delta_degC', 0)} and less keep the yield",
        ),
        row("water in the pipes", told(flow["pipes_l"], "L", 0)),
    ]


def pressure_view(sheet: Sheet) -> dict[str, Any]:
    """Pressure and heat: contents, vessel and pressures, steam, antifreeze, exchanger, what each part must bear."""
    seen = Seen(sheet)
    design, told = seen.design, seen.told
    vessel, held = expansion_vessel(design), contents(design)
    groups: list[dict[str, Any]] = []
    if design.system.scheme.moved != "none":
        groups.append({"title": "Contents", "rows": [
            row("collectors", told(held.collectors_l, "L", 1), "by their area"),
            row("pipes", told(held.pipes_l, "L", 1)), row("exchanger and fittings", told(held.rest_l, "L", 1)),
        ]})  # fmt: skip
    if vessel is not None:
        groups.append({"title": "Expansion vessel", "rows": [
            row(f"growth of the fluid, {seen.degrees(10.0)} to {seen.degrees(130.0)}", told(vessel.growth_l, "L", 1)),
            row("reserve", told(vessel.reserve_l, "L", 1), f"2 %, {told(3.0, 'L', 1)} at least"),
            row("steam", told(vessel.steam_l, "L", 1), f"it reaches {told(vessel.steam_m, 'm', 0)} of pipe"),
            row("vessel, at least", told(vessel.least_l, "L", 1), f"as sold: {told(vessel.nominal_l, 'L', 0)}"),
            row("gas pressure before filling", told(vessel.gas_bar, "bar", 1),
                f"{told(rise_m(design), 'm', 1)} of fluid above it, and {told(0.5, 'bar', 1)}"),
            row("filled, cold", told(vessel.filled_bar, "bar", 1)),
            row("highest", told(vessel.highest_bar, "bar", 1), f"relief at {told(design.safety.relief_bar, 'bar', 1)}"),
            row("fluid boils at the top at", told(vessel.boils_c, "degC", 0), "at the highest pressure, as water"),
            row("cooling vessel", told(vessel.cooling_l, "L", 0) if vessel.cooling_l else "none needed"),
        ]})  # fmt: skip
    back, tank = drainback_l(design), open_tank(design, seen.book.boiled_kg())
    if back:
        groups.append({"title": "Drainback vessel", "rows": [
            row("vessel, at least", told(back, "L", 0), "what runs back, and a quarter more")]})  # fmt: skip
    if tank is not None:
        groups.append({"title": "Open tank", "rows": [
            row("boils off in the year", told(tank.boiled_l, "L", 0), "make it up, by float or by hand"),
            row("grows, cold to boiling", told(tank.growth_l, "L", 0), "room above the water"),
            row("overflow, bore at least", told(tank.overflow_mm, "mm", 0), "what an open mains valve gives"),
        ]})  # fmt: skip
    groups += [*_fluid_rows(seen), *_exchange_rows(seen)]
    bears = bearing(design, seen.book, vessel)
    groups.append({"title": "What each part must bear", "rows": [
        *(row(part.words, seen.degrees(part.must_c), part.why) for part in bears),
        row("a cooler that ends standstills", told(cooler_kw(design, 100.0), "kW", 1),
            f"from {seen.degrees(100.0)}, in full sun"),
    ]})  # fmt: skip
    return {
        "groups": groups, "conclusion": _pressed(seen), "pens": pens(
            sheet, "safety.relief_bar", "safety.static_m", "safety.vessel_l", "safety.empties_well",
            "safety.frost_margin_k", "safety.fluid_limit_h", "system.loop.glycol_percent",
        ),
    }  # fmt: skip


def _pressed(seen: Seen) -> str:
    vessel = expansion_vessel(seen.design)
    if vessel is None:
        return "Its loop is open to the air, drains or has no vessel of its own."
    return (
        f"A vessel of {seen.told(vessel.nominal_l, 'L', 0)}, gas at {seen.told(vessel.gas_bar, 'bar', 1)}, filled to "
        f"{seen.told(vessel.filled_bar, 'bar', 1)}."
    )


def _fluid_rows(seen: Seen) -> list[dict[str, Any]]:
    found = antifreeze(seen.book, seen.design, seen.coldest_c)
    if found is None:
        return []
    needed = "none is strong enough" if found.needed is None else f"{found.needed:.0f} %"
    lasts = "its age, not its heat" if found.lasts_years > LONG_YEARS else f"{found.lasts_years:.1f} years"
    return [{"title": "Antifreeze", "rows": [
        row("coldest hour of the year", seen.degrees(seen.coldest_c)),
        row("needed", needed, f"{seen.told(seen.design.safety.frost_margin_k, 'delta_degC', 0)} below it"),
        row("drawn", f"{found.percent:.0f} %", f"first ice at {seen.degrees(found.ice_c)}"),
        row("amount", seen.told(found.litres, "L", 0), "without reserve"),
        row(f"above {seen.degrees(120.0)} in the year", seen.hours(found.hot_h), f"its limit is reached by {lasts}"),
    ]}]  # fmt: skip


def _exchange_rows(seen: Seen) -> list[dict[str, Any]]:
    found = exchange_of(seen.design)
    if found is None:
        return []
    return [{"title": "Exchanger", "rows": [
        row("heat transfer", seen.told(found.ua_w_k, "W/K", 0)), row("transfer units", f"{found.ntu:.2f}"),
        row("effectiveness", f"{100 * found.effectiveness:.0f} %"),
        row("collectors run hotter, for each kW", seen.told(found.lead_k_kw, "delta_degC", 1)),
        row("what that leaves of their yield", f"{100 * found.factor:.1f} %", "at steady flow"),
    ]}]  # fmt: skip


def load_view(sheet: Sheet) -> dict[str, Any]:
    """Weight, wind and snow, and clearances that were measured."""
    seen = Seen(sheet)
    design, told = seen.design, seen.told
    weight, wind = wet_weight(design), wind_load(design)
    groups = [
        {"title": "Weight", "rows": [
            row("collectors and frame, full", told(weight.plane_kg, "kg", 0), told(weight.per_m2, "kg/m2")),
            row("dry", told(weight.dry_kg, "kg", 0)),
            row("one collector on the hook", told(weight.hook_kg, "kg", 0),
                f"by two, or by a hoist above {told(50, 'kg')}"),
            *([row("store beside them, full", told(weight.store_kg, "kg", 0))] if weight.store_kg else []),
        ]},
        {"title": "Wind", "rows": [
            row("pressure of the gust", told(wind.gust_pa / 1000.0, "wind kPa"), f"{design.exposure.code}, simplified"),
            row("coefficient", units.number(wind.coefficient, 2), "frame" if wind.framed else "close to the roof"),
            row("force square to them", told(abs(wind.force_kn), "kN", 1), "it lifts"),
            row("left to hold down", told(wind.up_kn, "kN", 1), "1.5 on the wind, 0.9 on the weight"),
            *([row("left to hold along", told(wind.along_kn, "kN", 1)),
               row("ballast instead of fixings", told(wind.ballast_kg, "kg", 0),
                   told(wind.ballast_kg / design.system.gross_m2, "kg/m2"))] if wind.framed else []),
            row("pull on each fixing", told(wind.per_fixing_kg, "kg", 0),
                f"may bear {told(design.safety.fixing_kg, 'kg', 0)}"),
        ]},
        {"title": "Snow", "rows": [
            row("on the collectors", told(wind.snow_kg_m2, "kg/m2"), "it slides from steep ones"),
            row("all that presses", told(wind.presses_kg_m2, "kg/m2")),
        ]},
    ]  # fmt: skip
    held = f"{told(wind.ballast_kg, 'kg', 0)} of ballast" if wind.framed else (
        f"{told(wind.per_fixing_kg, 'kg', 0)} on each fixing")  # fmt: skip
    return {
        "groups": groups,
        "conclusion": f"Full they weigh {told(weight.plane_kg, 'kg', 0)}; a gust asks for {held}.",
        "pens": pens(
            sheet, "exposure.code", "exposure.wind_m_s", "exposure.terrain", "exposure.height_m", "exposure.edge",
            "exposure.snow_kg_m2", "safety.fixings", "safety.fixing_kg", "safety.friction",
        ),
        "clearances": [
            {"index": i, "pens": pens(sheet, *(f"exposure.clearances.{i}.{name}" for name in
                                               ("name", "measured_m", "limit_m")))}
            for i in range(len(design.exposure.clearances))
        ],
    }  # fmt: skip
