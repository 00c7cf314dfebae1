"""The drawing of the system: every coordinate from the design, every colour from the year.

Coordinates are SVG units on a sheet of 676 x 600; y grows downwards.
"""

from dataclasses import dataclass
from math import cos, radians, sin
from typing import Any

from heat import accounts as acc
from heat.constants import HOURS_OF_MONTH
from heat.ledger import BOUGHT, SUN
from web.projects.sheet import Sheet

SCALE = (
    "#2D4A5D", "#3F5968", "#516873", "#64787E", "#778889", "#949683", "#B2A47B", "#D0B270", "#EFC061",
)  # fmt: skip
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
FOOT = (66.0, 262.0)
GLASS = 160.0
STORE_BOTTOM, STORE_HEIGHT, STORE_MIDDLE = 500.0, 206.0, 392.0
RISER_X, HOT_X, TAP_X = 272.0, 520.0, 640.0


def colour(celsius: float) -> str:
    """The temperature scale, 10 to 90 °C in nine steps."""
    return SCALE[min(max(int((celsius - 10.0) / 80.0 * 9), 0), 8)]


def date_of(day: int) -> str:
    """A day of the year (0 to 364) as day and month."""
    for month, hours in enumerate(HOURS_OF_MONTH):
        if day < hours // 24:
            return f"{day + 1} {MONTHS[month]}"
        day -= hours // 24
    return ""


@dataclass(frozen=True)
class Moment:
    """The hour the drawing shows."""

    day: int
    hour: int

    @property
    def index(self) -> int:
        return 24 * self.day + self.hour

    def moved(self, hours: int) -> "Moment":
        index = (self.index + hours) % 8760
        return Moment(index // 24, index % 24)


def default_day(sheet: Sheet) -> int:
    """A middling sunny day: the one whose sun is nearest the 70th percentile in the spring half."""
    daily = sheet.year.book.hourly(*SUN).reshape(365, 24).sum(axis=1)
    wanted = sorted(daily)[255]
    return int(min(range(59, 151), key=lambda d: abs(daily[d] - wanted)))


def moment(sheet: Sheet) -> Moment:
    day = default_day(sheet) if sheet.day is None else min(max(sheet.day, 0), 364)
    return Moment(day, min(max(sheet.hour, 0), 23))


def drawing(sheet: Sheet) -> dict[str, Any]:
    """Everything the drawing's template needs."""
    book, now = sheet.year.book, moment(sheet)
    design = book.design
    system = design.system
    hour, trace, layers = book.books[now.index], book.traces[now.index], book.profile[now.index]
    tilt = radians(design.plane.tilt_deg)
    along, up = (cos(tilt), -sin(tilt)), (-sin(tilt), -cos(tilt))

    def on_roof(distance: float, off: float = 0.0) -> tuple[float, float]:
        return (
            round(FOOT[0] + distance * along[0] + off * up[0], 1),
            round(FOOT[1] + distance * along[1] + off * up[1], 1),
        )

    count = min(system.collector.count, 6)
    each = (GLASS - 4.0 * (count - 1)) / count
    panels = [
        [on_roof(i * (each + 4)), on_roof(i * (each + 4) + each),
         on_roof(i * (each + 4) + each, 11), on_roof(i * (each + 4), 11)]
        for i in range(count)
    ]  # fmt: skip
    ridge = on_roof(GLASS + 16, -8)
    width = min(max(STORE_HEIGHT / system.store.height_to_width, 64.0), 132.0)
    left = STORE_MIDDLE - width / 2
    top = STORE_BOTTOM - STORE_HEIGHT

    def level(share: float) -> float:
        return round(STORE_BOTTOM - share * STORE_HEIGHT, 1)

    layer = STORE_HEIGHT / len(layers)
    bands = [
        {"y": round(STORE_BOTTOM - (k + 1) * layer, 2), "h": round(layer + 0.4, 2), "fill": colour(t)}
        for k, t in enumerate(layers)
    ]
    marks = []
    for share in (0.95, 0.77, 0.59, 0.41, 0.23, 0.05):
        celsius = float(layers[min(int(share * len(layers)), len(layers) - 1)])
        marks.append({"y": level(share), "text": sheet.show(celsius, "degC", 1)})
    supply_c = float(trace[acc.COLLECTOR_C])
    running = trace[acc.PUMP_SHARE]
    bottom_c = float(layers[0])
    top_end = on_roof(GLASS, 5)
    coil_top, coil_low = level(system.coil.top_share), level(system.coil.bottom_share) - 10
    sun = float(hour[list(SUN)].sum()) / system.collector.total_area_m2
    return {
        "now": now,
        "date": date_of(now.day),
        "panels": [" ".join(f"{x},{y}" for x, y in p) for p in panels],
        "more": system.collector.count - count,
        "rafter": [on_roof(-26, -8), ridge],
        "far_slope": (ridge[0] + 84, ridge[1] + 40),
        "wall_top": on_roof(-14, -8)[1],
        "tilt_arc": _arc(design.plane.tilt_deg),
        "foot": on_roof(0, 5),
        "top_end": top_end,
        "roof_y": top_end[1] - 14,
        "supply_fill": colour(supply_c if running > 0 else bottom_c),
        "back_fill": colour(bottom_c),
        "top_fill": colour(float(layers[-1])),
        "tempered": system.tempering_valve,
        "supply_c": sheet.show(supply_c, "degC", 1),
        "bottom_c": sheet.show(bottom_c, "degC", 1),
        "mains_c": sheet.show(float(book.mains_c[now.index]), "degC", 1),
        "mains_fill": colour(float(book.mains_c[now.index])),
        "sun": f"{sheet.show(sun, 'W/m2')} {sheet.sign('W/m2')}",
        "running": running,
        "pump_share": f"{100 * running:.0f}",
        "store": {"x": round(left, 1), "y": top, "w": round(width, 1), "h": STORE_HEIGHT,
                  "right": round(left + width, 1), "middle": STORE_MIDDLE},
        "bands": bands,
        "marks": marks,
        "coil": _coil(left, width, coil_top, coil_low),
        "coil_top": coil_top,
        "coil_low": coil_low,
        "sensor_y": min(level(system.control.sensor_share), STORE_BOTTOM - 5),
        "limit_y": max(level(system.control.limit_sensor_share), top + 5),
        "element_y": level(system.backup.element.height_share),
        "thermostat_y": level(system.backup.element.sensor_share),
        "draw": sheet.show(float(trace[acc.HOT_LITRES]), "L", None),
        "bought_now": sheet.show(float(hour[list(BOUGHT)].sum()) / 1000.0, "kWh", 2),
        "bought_year": sheet.show(book.total(*BOUGHT), "kWh"),
        "element_year": sheet.show(book.total(acc.BOUGHT_ELEMENT), "kWh"),
        "tankless_year": sheet.show(book.total(acc.BOUGHT_TANKLESS), "kWh"),
        "legend": [{"x": 50 + 18 * i, "fill": c} for i, c in enumerate(SCALE)],
        "legend_low": sheet.show(10, "degC", 0),
        "legend_mid": sheet.show(50, "degC", 0),
        "legend_high": sheet.show(90, "degC", 0),
    }  # fmt: skip


def _arc(tilt_deg: float) -> str:
    """The angle of tilt drawn at the foot of the collector."""
    end_x = FOOT[0] + 46 * cos(radians(tilt_deg))
    end_y = FOOT[1] + 8 - 46 * sin(radians(tilt_deg))
    x, y = FOOT[0] + 46, FOOT[1] + 8
    return f"M{x:.1f},{y:.1f} A46,46 0 0 0 {end_x:.1f},{end_y:.1f}"


def _coil(left: float, width: float, top: float, low: float) -> str:
    """A serpentine from the top of the coil to its foot, entering and leaving at the left."""
    turns = max(1, round((low - top) / 18))
    gap = (low - top) / (2 * turns)
    inner, outer = left + 20, left + width - 18
    path = f"M{left - 4:.1f},{top:.1f} H{outer:.1f}"
    for i in range(2 * turns):
        sweep, end = (1, inner) if i % 2 == 0 else (0, outer)
        if i == 2 * turns - 1:
            end = left - 4
            sweep = 0
        path += f" a{gap / 2:.1f},{gap / 2:.1f} 0 0 {sweep} 0,{gap:.1f} H{end:.1f}"
    return path
