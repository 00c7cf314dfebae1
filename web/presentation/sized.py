"""Safety parts sized: rows of a word, a value and a note, beside the fields they go by."""

from typing import Any

from heat.sizing.antifreeze import antifreeze
from heat.sizing.boiling import bearing, heat_dump_kw
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
)
from heat.sizing.exchange import exchange_of
from heat.sizing.thermosiphon import LEAST_RISE, NOON_W_M2, pool_flow, siphon
from heat.sizing.vessel import contents, drainback_l, expansion_vessel, open_tank, pipes_m
from web.editor.design_page import DesignPage
from web.presentation.cautions.case import CautionCase
from web.ui import units
from web.ui.rows import Row

Rows = list[dict[str, str]]
WIDTH, HEIGHT, LEFT, FOOT = 460, 210, 46, 182
LONG_YEARS = 50.0


def rows_text(rows: int, in_row: int, last: int) -> str:
    """How the collectors are piped: rows in parallel, and the collectors of each in series."""
    collectors = f"{in_row} collector{'s' if in_row > 1 else ''}"
    shorter = f", the last of {last}" if last != in_row else ""
    return f"one row of {collectors}" if rows == 1 else f"{rows} rows of {collectors}{shorter}"


def row(words: str, value: str, note: str = "") -> dict[str, str]:
    """A line: what, how much, and what it goes by."""
    return {"words": words, "value": value, "note": note}


def fields(page: DesignPage, *names: str) -> list[Any]:
    """Fields of the papers by name."""
    return [page.field(name) for name in names]


def loop_view(page: DesignPage) -> Row:
    """Flow and pump: what resists, the curve with its point, pipes that suit, rows; siphons and pools by their kind."""
    case = CautionCase(page)
    design, text = case.design, case.text
    content: dict[str, object] = {"by_kind": _siphon_rows(case) + _pool_rows(case), "fields": []}
    if design.system.scheme.driven_by != "pump":
        content["conclusion"] = _siphon_words(case)
        content["fields"] = fields(page, "safety.rise_mm_m", "safety.heat_trap") if content["by_kind"] else []
        return content
    point = working_point(design)
    parts, rows = resistances(design, point.flow_kg_h), groups_of(design)
    sizes = pipe_sizes(design, norm=page.pipe_norm)
    best, now = recommended(sizes), design.system.loop.supply_pipe
    sold = next((size for size in sizes if abs(size.outer_mm - now.outer_diameter_mm) < 0.01), None)
    drawn = page.pipe_text(sold) if sold else case.size(now.outer_diameter_mm, "mm")
    content |= {
        "parts": [
            {
                "words": part.words,
                "drop": text(part.drop_pa / 1000.0, "kPa", 2),
                "speed": text(part.speed_m_s, "flow m/s") if part.speed_m_s else "–",
                "metre": text(part.per_metre_pa, "Pa/m") if part.per_metre_pa else "–",
                "flow": "–"
                if not part.reynolds
                else "laminar"
                if part.reynolds < 2000
                else "turbulent"
                if part.reynolds > 4000
                else "between",
            }
            for part in parts
        ],
        "fluid_at": case.degrees(40.0),
        "material": "Plastic" if now.material == "plastic" else "Copper",
        "sizes": [
            {
                "size": page.pipe_text(size),
                "speed": text(size.speed_m_s, "flow m/s"),
                "metre": text(size.per_metre_pa, "Pa/m"),
                "best": size is best,
                "now": abs(size.outer_mm - now.outer_diameter_mm) < 0.01,
                "outer": size.outer_mm,
                "wall": size.wall_mm,
            }
            for size in sizes
        ],
        "rows": [
            row(
                "flow at full speed",
                text(point.flow_kg_h, "kg/h"),
                "where the pump’s curve meets the loop" if point.by_curve else "as typed",
            ),
            row("for the area of collectors", text(point.flow_kg_h / design.system.gross_m2, "kg/h/m2")),
            row("head it needs, running", text(point.head_m, "m", 2), f"fluid at {case.degrees(40.0)}"),
            row(
                "head it needs, at the start",
                text(point.start_m, "m", 2),
                f"lifted over {text(lift_m(design), 'm', 1)}" if lift_m(design) else "a loop that stays full",
            ),
            row("work done on the fluid", text(point.hydraulic_w, "W", 1), "a pump takes three to ten times as much"),
            row(
                "collectors",
                rows_text(rows.rows, rows.in_row, rows.last),
                ("all the flow through each" if rows.rows == 1 else "flow divided equally")
                if rows.last == rows.in_row
                else f"the last takes {100 * rows.shares[-1]:.0f} % of its share",
            ),
        ],
        "brisk": text(BRISK_M_S, "flow m/s"),
        "steep": text(STEEP_PA_M, "Pa/m"),
        "picture": _picture(case, point.flow_kg_h, point.head_m),
        "fields": fields(
            page, "safety.static_m", "safety.exchanger_kpa", "system.loop.geometry.fittings", "system.loop.drive.curve"
        ),
        "conclusion": f"At {text(point.flow_kg_h, 'kg/h')} the pump needs {text(point.head_m, 'm', 2)} of head; pipes "
        f"of {page.pipe_text(best)} suit, {drawn} are drawn.",
    }
    return content


def _picture(case: CautionCase, flow: float, head: float) -> Row:
    """The loop's curve, the pump's where there is one, and the working point."""
    curve = case.design.system.loop.drive.curve
    most = max(2.0 * flow, curve[-1].flow_kg_h if curve else 0.0)
    flows, heads = system_curve(case.design, most)
    top = max(float(heads.max()), curve[0].head_m if curve else 0.0, 1e-6)
    if curve:
        top = min(top, 1.6 * max(curve[0].head_m, head))
    x = lambda v: round(LEFT + (WIDTH - LEFT - 12) * v / most, 1)
    y = lambda v: round(FOOT - (FOOT - 12) * min(v, top) / top, 1)
    path = lambda points: "M" + "L".join(f"{x(a)},{y(b)}" for a, b in points)
    visible = [(a, b) for a, b in zip(flows, heads, strict=True) if b <= top]
    return {
        "loop": path(visible),
        "pump": path([(p.flow_kg_h, p.head_m) for p in curve]) if curve else "",
        "x": x(flow),
        "y": y(head),
        "width": WIDTH,
        "height": HEIGHT,
        "foot": FOOT,
        "across": [{"x": x(v), "text": case.page.show(v, "kg/h")} for v in (0.0, most / 2, most)],
        "up": [{"y": y(v), "text": case.page.show(v, "m", 1)} for v in (0.0, top)],
        "across_sign": case.page.sign("kg/h"),
        "up_sign": case.page.sign("m"),
    }


def _siphon_words(case: CautionCase) -> str:
    noon = siphon(case.design)
    if noon is None:
        return "Nothing flows but what is drawn: no pump, no loop."
    return (
        f"On a sunny noon its own weight moves {case.text(noon.flow_kg_h, 'kg/h')}, "
        f"{case.text(noon.rise_k, 'delta_degC', 0)} warmer at the top."
    )


def _siphon_rows(case: CautionCase) -> Rows:
    noon, text = siphon(case.design), case.text
    if noon is None:
        return []
    return [
        row(
            "flow on a sunny noon", text(noon.flow_kg_h, "kg/h"), f"{NOON_W_M2:.0f} W/m², store at {case.degrees(40.0)}"
        ),
        row("rise through the collectors", text(noon.rise_k, "delta_degC", 0)),
        row(
            "what drives it", text(noon.drive_pa / 1000.0, "kPa", 2), f"a warm column of {text(noon.column_m, 'm', 1)}"
        ),
        row("pipes rise enough", "yes" if noon.rises else "no", f"{text(LEAST_RISE, 'mm/m')} at least"),
        row("heat trap", "yes" if noon.trapped else "no", "a dip below the store keeps the night out"),
    ]


def _pool_rows(case: CautionCase) -> Rows:
    flow, text = pool_flow(case.design), case.text
    if flow is None:
        return []
    return [
        row("one turnover of the pool", f"{units.number(flow['turnover_h'], 1)} h", "by its filter pump; 4 to 8 usual"),
        row(
            "through the collectors",
            text(flow["flow_m2"], "kg/h/m2"),
            f"{text(100, 'kg/h/m2')} to {text(250, 'kg/h/m2')} usual",
        ),
        row(
            "rise in full sun",
            text(flow["rise_k"], "delta_degC", 1),
            f"{text(5, 'delta_degC', 0)} and less keep the yield",
        ),
        row("water in the pipes", text(flow["pipes_l"], "L", 0)),
    ]


def pressure_view(page: DesignPage) -> Row:
    """Pressure and heat: contents, vessel and pressures, steam, antifreeze, exchanger, what each part must bear."""
    case = CautionCase(page)
    design, text = case.design, case.text
    vessel, current = expansion_vessel(design), contents(design)
    groups: list[dict[str, object]] = []
    if design.system.scheme.driven_by != "none":
        groups.append(
            {
                "title": "Contents",
                "rows": [
                    row("collectors", text(current.collectors_l, "L", 1), "by their area"),
                    row("pipes", text(current.pipes_l, "L", 1)),
                    row("exchanger and fittings", text(current.rest_l, "L", 1)),
                ],
            }
        )
    if vessel is not None:
        reached = f"it reaches {text(vessel.steam_m, 'm', 0)} of {text(pipes_m(design), 'm', 0)} of pipe"
        groups.append(
            {
                "title": "Expansion vessel",
                "rows": [
                    row(
                        f"growth of the fluid, {case.degrees(10.0)} to {case.degrees(130.0)}",
                        text(vessel.growth_l, "L", 1),
                    ),
                    row("reserve", text(vessel.reserve_l, "L", 1), f"2 %, {text(3.0, 'L', 1)} at least"),
                    row("steam", text(vessel.steam_l, "L", 1), reached),
                    row("vessel, at least", text(vessel.least_l, "L", 1), f"as sold: {text(vessel.nominal_l, 'L', 0)}"),
                    row(
                        "gas pressure before filling",
                        text(vessel.gas_bar, "bar", 1),
                        f"{text(rise_m(design), 'm', 1)} of fluid above it, and {text(0.5, 'bar', 1)}",
                    ),
                    row("filled, cold", text(vessel.filled_bar, "bar", 1)),
                    row(
                        "highest",
                        text(vessel.highest_bar, "bar", 1),
                        f"relief at {text(design.safety.relief_bar, 'bar', 1)}",
                    ),
                    row(
                        "fluid boils at the top at",
                        text(vessel.boils_c, "degC", 0),
                        "at the highest pressure, as water",
                    ),
                    row("cooling vessel", text(vessel.cooling_l, "L", 0) if vessel.cooling_l else "none needed"),
                ],
            }
        )
    back, tank = drainback_l(design), open_tank(design, case.book.boiled_kg())
    if back:
        groups.append(
            {
                "title": "Drainback vessel",
                "rows": [row("vessel, at least", text(back, "L", 0), "what runs back, and a quarter more")],
            }
        )
    if tank is not None:
        groups.append(
            {
                "title": "Open tank",
                "rows": [
                    row("boils off in the year", text(tank.boiled_l, "L", 0), "make it up, by float or by hand"),
                    row("grows, cold to boiling", text(tank.growth_l, "L", 0), "room above the water"),
                    row("overflow, bore at least", text(tank.overflow_mm, "mm", 0), "what an open mains valve gives"),
                ],
            }
        )
    groups += [*_fluid_rows(case), *_exchange_rows(case)]
    bears = bearing(design, case.book, vessel)
    groups.append(
        {
            "title": "What each part must bear",
            "rows": [
                *(row(part.words, case.degrees(part.must_c), part.why) for part in bears),
                row(
                    "a heat dump that ends stagnation",
                    text(heat_dump_kw(design, 100.0), "kW", 1),
                    f"from {case.degrees(100.0)}, in full sun",
                ),
            ],
        }
    )
    return {
        "groups": groups,
        "conclusion": _pressed(case),
        "fields": fields(
            page,
            "safety.relief_bar",
            "safety.static_m",
            "safety.vessel_l",
            "safety.empties_well",
            "safety.frost_margin_k",
            "safety.fluid_limit_h",
            "system.loop.glycol_percent",
        ),
    }


def _pressed(case: CautionCase) -> str:
    vessel = expansion_vessel(case.design)
    if vessel is None:
        return "Its loop is open to the air, drains or has no vessel of its own."
    return (
        f"A vessel of {case.text(vessel.nominal_l, 'L', 0)}, gas at {case.text(vessel.gas_bar, 'bar', 1)}, filled to "
        f"{case.text(vessel.filled_bar, 'bar', 1)}."
    )


def _fluid_rows(case: CautionCase) -> list[dict[str, object]]:
    found = antifreeze(case.book, case.design, case.coldest_c)
    if found is None:
        return []
    needed = "none is strong enough" if found.needed is None else f"{found.needed:.0f} %"
    lasts = "its age, not its heat" if found.lasts_years > LONG_YEARS else f"{units.number(found.lasts_years, 1)} years"
    return [
        {
            "title": "Antifreeze",
            "rows": [
                row("in hard winters", case.degrees(case.coldest_c), "from the coldest month, as design tables"),
                row("coldest hour of this year", case.degrees(float(case.page.weather.air_c.min()))),
                row("needed", needed, f"{case.text(case.design.safety.frost_margin_k, 'delta_degC', 0)} below it"),
                row("drawn", f"{found.percent:.0f} %", f"first ice at {case.degrees(found.ice_c)}"),
                row("amount", case.text(found.litres, "L", 0), "without reserve"),
                row(
                    f"above {case.degrees(120.0)} in the year",
                    case.hours(found.hot_h),
                    f"its limit is reached by {lasts}",
                ),
            ],
        }
    ]


def _exchange_rows(case: CautionCase) -> list[dict[str, object]]:
    found = exchange_of(case.design)
    if found is None:
        return []
    return [
        {
            "title": "Exchanger",
            "rows": [
                row("heat transfer", case.text(found.ua_w_k, "W/K", 0)),
                row("transfer units", units.number(found.ntu, 2)),
                row("effectiveness", f"{100 * found.effectiveness:.0f} %"),
                row("collectors run hotter, for each kW", case.text(found.lead_k_kw, "delta_degC", 1)),
                row("what that leaves of their yield", f"{units.number(100 * found.factor, 1)} %", "at steady flow"),
            ],
        }
    ]
