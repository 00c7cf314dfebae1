"""The drawing of the system at an hour: every coordinate from the design, every colour from the year."""

from dataclasses import replace
from math import cos, radians, sin
from typing import Any

from heat.common.documents import value_at
from heat.design import Design
from heat.ledger import accounts as acc
from heat.ledger.events import sun_w_m2
from heat.ledger.year_book import BOUGHT
from heat.loop.runs import loop_flow_kg_h
from web.editor.design_page import DesignPage
from web.editor.fields import expected_text
from web.presentation.kinds import KINDS
from web.presentation.moment import moment
from web.presentation.picture import SCALE, drawn
from web.presentation.plumbing import WaterShape, on_slope, plumbing
from web.presentation.vessels import heights, second_of, vessel_of
from web.ui import units
from web.ui.calendar import date_of
from web.ui.rows import Row


def drawing(page: DesignPage) -> Row:
    """Everything the drawing's template needs: the picture of this kind of system at one hour, and what stands
    beside."""
    book, now = page.year.book, moment(page)
    design = book.design
    scheme = design.system.scheme
    hour, trace, layers = book.books[now.index], book.traces[now.index], book.profile[now.index]
    running = float(trace[acc.PUMP_SHARE])
    bottom_c, top_c = float(layers[0]), float(layers[-1])
    water = WaterShape(
        supply=float(trace[acc.COLLECTOR_C]),
        back=bottom_c,
        bottom=bottom_c,
        top=top_c,
        mains=float(book.mains_c[now.index]),
        pool=float(trace[acc.POOL_C]),
        running=running,
        flow=float(trace[acc.FLOW_KG_H]),
        drawn=float(trace[acc.HOT_LITRES]),
        bought=float(hour[list(BOUGHT)].sum()),
    )
    after = book.second_profile
    pic = plumbing(
        design, water, [float(t) for t in layers], None if after is None else [float(t) for t in after[now.index]]
    )
    for index, word in enumerate(pic.words):
        if word.text.endswith("°"):  # temperatures, in the reader's unit
            *name, celsius = word.text[:-1].split(" ")
            text = " ".join([*name, page.show(float(celsius), "degC", 1)]) + "°"
            pic.words[index] = replace(word, text=text)
    vessel, second = vessel_of(design), second_of(design)
    has_store = scheme.driven_by != "none" and scheme.exchange != "pool"
    marks = []
    if has_store:
        shares = (0.95, 0.77, 0.59, 0.41, 0.23, 0.05)
        for share in (0.95, 0.62) if design.demand.heating.fitted else shares[:4] if second else shares:
            layer = min(int(share * len(layers)), len(layers) - 1)
            marks.append({"y": vessel.level(share), "text": page.show(float(layers[layer]), "degC", 1), "layer": layer})
    sun = float(sun_w_m2(book)[now.index])
    return {
        "now": now,
        "date": date_of(now.day),
        "shapes": pic.shapes,
        "drawn": drawn(pic.shapes),
        "words": pic.words,
        "kind": design.system.kind,
        "kind_words": scheme.words,
        "kind_short": KINDS[design.system.kind],
        "place": _mounting(design),
        "has_pump": scheme.driven_by == "pump",
        "has_store": scheme.exchange != "pool",
        "has_taps": design.demand.hot_water or scheme.exchange != "pool",
        "exchange": _handed_on(design),
        "evening_c": page.show(_mean_at(book, 18), "degC", 0),
        "morning_c": page.show(_mean_at(book, 6), "degC", 0),
        "marks": marks,
        "few": [marks[0], marks[len(marks) // 2], marks[-1]] if len(marks) > 3 else marks,
        "collector_c": page.show(float(trace[acc.COLLECTOR_C]), "degC", 1),
        "sun_tint": round(min(max(sun, 0.0) / 1000.0, 1.0), 2),
        "pool_c": page.show(water.pool, "degC", 1) if design.demand.pool.fitted else "",
        "described": described(page, design),
        "points": _points(page, design) if has_store else [],
        "two": second is not None,
        "others": design.system.second_collector.fitted,
        "second_x": round(second.right, 1) if second else 0,
        "second_c": page.show(float(after[now.index][-1]), "degC", 1) if second and after is not None else "",
        "mark_x": round(vessel.right, 1),
        "tilt_arc": _arc(design),
        "tilt_foot": on_slope(design, 0),
        "tempered": design.system.tempering_valve,
        "supply_c": page.show(water.supply, "degC", 1),
        "bottom_c": page.show(bottom_c, "degC", 1),
        "top_c": page.show(top_c, "degC", 1),
        "sun": f"{page.show(sun, 'W/m2')} {page.sign('W/m2')}",
        "running": running,
        "pump_share": f"{100 * running:.0f}",
        "draw": page.show(float(trace[acc.HOT_LITRES]), "L", None),
        "bought_now": page.show(float(hour[list(BOUGHT)].sum()) / 1000.0, "kWh", 2),
        "bought_year": page.show(book.total(*BOUGHT), "kWh"),
        "element_year": page.show(book.total(acc.BOUGHT_ELEMENT), "kWh"),
        "tankless_year": page.show(book.total(acc.BOUGHT_TANKLESS), "kWh"),
        "legend": [{"x": 50 + 18 * i, "fill": c} for i, c in enumerate(SCALE)],
        "legend_low": page.show(10, "degC", 0),
        "legend_mid": page.show(50, "degC", 0),
        "legend_high": page.show(90, "degC", 0),
    }


def _mounting(design: Design) -> str:
    """Where the collectors stand on the sheet: low below a store, as the store itself, by a pool, on the roof."""
    scheme = design.system.scheme
    if scheme.driven_by == "buoyancy":
        return "low"
    if scheme.driven_by == "none":
        return "integral"
    return "pool" if scheme.exchange == "pool" else "roof"


def described(page: DesignPage, design: Design) -> str:
    """The drawing in words, for those who hear the page."""
    system, scheme = design.system, design.system.scheme
    collector, control = system.collector, system.control
    area = f"{page.show(collector.total_gross_m2, 'm2', 1)} {page.sign('m2')}"
    sentences = [f"{collector.count} collectors, {area}, tilted {design.plane.tilt_deg:.0f} degrees"]
    if system.second_collector.fitted:
        sentences.append(f"{system.second_collector.count} unlike ones after them in series")
    if scheme.driven_by == "pump":
        sentences.append(
            f"a pump of {page.show(loop_flow_kg_h(design), 'kg/h')} {page.sign('kg/h')}, started "
            f"{page.show(control.on_k, 'delta_degC', 0)} {page.sign('delta_degC')} above the store's sensor"
        )
    if scheme.driven_by != "none" and scheme.exchange != "pool":
        store = system.store
        sentences.append(
            f"a store of {page.show(store.volume_l, 'L')} {page.sign('L')}, "
            f"{units.number(store.height_to_width, 1)} times as high as wide"
        )
        vessel, second = vessel_of(design), second_of(design)
        at = [
            f"{item.words} at {100 * float(value_at(page.document, item.path)):.0f} %"
            for item in heights(design, vessel, second)
        ]
        if at:
            sentences.append("of the height: " + ", ".join(at))
    if second_of(design):
        each = f"{page.show(system.second_store.volume_l, 'L')} {page.sign('L')}"
        count = system.second_store.count
        sentences.append(f"a second store of {each}, kept hot" if count == 1 else f"{count} stores of {each} after it")
    if system.backup.stove.fitted:
        sentences.append("a wood stove's water jacket")
    if system.backup.tankless.fitted:
        sentences.append("a tankless heater after it")
    if design.demand.heating.fitted:
        sentences.append("a circuit to the rooms")
    sentences.append("a tempering valve before the taps" if system.tempering_valve else "no tempering valve")
    return f"{scheme.words[0].upper()}{scheme.words[1:]}: {'; '.join(sentences)}."


def _handed_on(design: Design) -> tuple[str, str, str] | None:
    """The part that hands the sun's heat on: its key, name and main value."""
    scheme = design.system.scheme
    if scheme.draw_coil:
        return "draw", "Draw coil", "system.draw_coil.ua_w_k"
    return {
        "coil": ("coil", "Coil", "system.coil.ua_w_k"),
        "plate": ("plate", "Exchanger", "system.plate.ua_w_k"),
        "passive": ("plate", "Exchanger", "system.plate.ua_w_k"),
        "jacket": ("jacket", "Jacket", "system.jacket.ua_w_k"),
    }.get(scheme.exchange)


def _mean_at(book: Any, hour: int) -> float:
    """The year's mean of all layers at an hour of the day (°C)."""
    return float(book.profile[hour::24].mean())


def _points(page: DesignPage, design: Design) -> list[Row]:
    """What can be moved up and down the stores: where it is, its value, and the reach of the drawing."""
    vessel, second = vessel_of(design), second_of(design)
    found = []
    for item in heights(design, vessel, second):
        value = float(value_at(page.document, item.path))
        y = item.vessel.level(value)
        found.append(
            {
                "path": item.path,
                "words": item.words,
                "text": f"{value:.2f}",
                "expected": expected_text(value_at(page.document, item.path)),
                "x": round(item.x, 1),
                "y": y,
                "top": item.vessel.y,
                "foot": item.vessel.y + item.vessel.h,
                "plate": round(item.vessel.x - 12, 1),
            }
        )
    return found


def _arc(design: Design) -> str:
    """The angle of tilt drawn at the foot of the collectors."""
    (x, y), tilt = on_slope(design, 0, -8), design.plane.tilt_deg
    end_x, end_y = x + 46 * cos(radians(tilt)), y - 46 * sin(radians(tilt))
    return f"M{x:.1f},{y:.1f}h58M{x + 46:.1f},{y:.1f}A46,46 0 0 0 {end_x:.1f},{end_y:.1f}"
