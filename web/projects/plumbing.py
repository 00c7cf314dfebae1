"""The pipes and vessels of every kind of system, as paths and words on a sheet of 676 x 600 (SVG units, y downwards).

Each kind is put together from the same parts: collectors at their tilt, a store cut open, exchangers, valves, taps.
"""

from dataclasses import dataclass, field
from math import cos, radians, sin
from typing import Any

from heat.design import Design

INK, PAPER, FINE, RED = "#1A2124", "#F7F1E3", "#625E50", "#AD1220"
SCALE = (
    "#2D4A5D", "#3F5968", "#516873", "#64787E", "#778889", "#949683", "#B2A47B", "#D0B270", "#EFC061",
)  # fmt: skip
ROOF_FOOT, ROOF_LENGTH = (66.0, 262.0), 160.0
GROUND_FOOT, GROUND_LENGTH = (62.0, 486.0), 168.0
GROUND_Y, HOT_X, TAP_Y = 510.0, 514.0, 378.0
STORE_MIDDLE, STORE_FOOT, STORE_HEIGHT = 392.0, 500.0, 206.0
HIGH_FOOT, HIGH_HEIGHT = 330.0, 150.0
"""Where a store stands that must be above its collectors."""


def colour(celsius: float) -> str:
    """The temperature scale, 10 to 90 °C in nine steps."""
    return SCALE[min(max(int((celsius - 10.0) / 80.0 * 9), 0), 8)]


@dataclass
class Picture:
    """Paths in the order they are drawn, and words over them."""

    shapes: list[dict[str, Any]] = field(default_factory=list)
    words: list[dict[str, Any]] = field(default_factory=list)

    def line(self, d: str, width: float = 1.5, stroke: str = INK, fill: str = "none", dash: str = "") -> None:
        self.shapes.append({"d": d, "width": width, "stroke": stroke, "fill": fill, "dash": dash})

    def pipe(self, d: str, fill: str) -> None:
        self.line(d, 7)
        self.line(d, 4.4, fill)

    def box(
        self, x: float, y: float, w: float, h: float, fill: str = PAPER, stroke: str = INK, width: float = 1.5
    ) -> None:
        self.line(f"M{x:.1f},{y:.1f}h{w:.1f}v{h:.1f}h{-w:.1f}z", width, stroke, fill)

    def disc(self, x: float, y: float, r: float, fill: str = PAPER, stroke: str = INK, width: float = 1.6) -> None:
        self.line(f"M{x - r:.1f},{y:.1f}a{r},{r} 0 1 0 {2 * r},0a{r},{r} 0 1 0 {-2 * r},0z", width, stroke, fill)

    def word(self, x: float, y: float, text: str, style: str = "", anchor: str = "start") -> None:
        self.words.append({"x": round(x, 1), "y": round(y, 1), "text": text, "style": style, "anchor": anchor})


@dataclass(frozen=True)
class Water:
    """Temperatures of an hour (°C): out of the collectors, back to them, store bottom and top, mains, pool; pump's share."""

    supply: float
    back: float
    bottom: float
    top: float
    mains: float
    pool: float
    running: float


@dataclass(frozen=True)
class Vessel:
    """A store on the sheet: left edge, top, width, height."""

    x: float
    y: float
    w: float
    h: float

    @property
    def right(self) -> float:
        return self.x + self.w

    @property
    def middle(self) -> float:
        return self.x + self.w / 2

    def level(self, share: float) -> float:
        return round(self.y + self.h * (1.0 - share), 1)


def vessel_of(design: Design) -> Vessel:
    """Where the store stands: in the plant room, or above the collectors where weight moves the water."""
    high = design.system.scheme.moved == "weight"
    foot, height = (HIGH_FOOT, HIGH_HEIGHT) if high else (STORE_FOOT, STORE_HEIGHT)
    width = min(max(height / design.system.store.height_to_width, 64.0), 132.0)
    return Vessel(STORE_MIDDLE - width / 2, foot - height, width, height)


def field_of(design: Design) -> tuple[tuple[float, float], float]:
    """Foot and length of the collectors on the sheet."""
    low = design.system.scheme.moved == "weight"
    return (GROUND_FOOT, GROUND_LENGTH) if low else (ROOF_FOOT, ROOF_LENGTH)


def on_slope(design: Design, distance: float, off: float = 0.0) -> tuple[float, float]:
    """A point along the collectors' slope and off it."""
    (x, y), _ = field_of(design)
    tilt = radians(design.plane.tilt_deg)
    return round(x + distance * cos(tilt) - off * sin(tilt), 1), round(y - distance * sin(tilt) - off * cos(tilt), 1)


def plumbing(design: Design, water: Water, layers: list[float]) -> Picture:
    """The whole picture of a kind of system at one hour."""
    pic = Picture()
    scheme, system = design.system.scheme, design.system
    vessel = vessel_of(design)
    if scheme.moved != "weight":
        _house(pic, design)
    if scheme.moved == "none":
        _taps(pic, design, water, None)
        _integral(pic, design, water, layers)
    elif scheme.exchange == "pool":
        if design.demand.hot_water:
            _taps(pic, design, water, None)
        _pool(pic, design, water)
        _collectors(pic, design)
    else:
        _taps(pic, design, water, vessel)
        _loop(pic, design, water, vessel)
        _collectors(pic, design)
        _store(pic, vessel, layers)
        _inside(pic, design, vessel)
        if design.demand.heating.fitted:
            _rooms(pic, water, vessel, system.dump.fitted)
    return pic


def _house(pic: Picture, design: Design) -> None:
    ridge, eaves = on_slope(design, ROOF_LENGTH + 16, -8), on_slope(design, -26, -8)
    far = (ridge[0] + 84, ridge[1] + 40)
    pic.line(f"M{eaves[0]},{eaves[1]}L{ridge[0]},{ridge[1]}L{far[0]},{far[1]}", 1.3)
    pic.line(f"M{far[0]},{far[1]}l5,-7l3,13l5,-7", 1.3)
    pic.line(f"M34,{on_slope(design, -14, -8)[1]}V516", 1.3, "#B9AB8A")


def _collectors(pic: Picture, design: Design) -> None:
    count = design.system.collector.count
    shown = min(count, 6)
    _, length = field_of(design)
    each = (length - 4.0 * (shown - 1)) / shown
    for i in range(shown):
        start = i * (each + 4)
        corners = [
            on_slope(design, start),
            on_slope(design, start + each),
            on_slope(design, start + each, 11),
            on_slope(design, start, 11),
        ]
        d = "M" + "L".join(f"{x},{y}" for x, y in corners) + "z"
        pic.line(d, 2, INK, PAPER)
        pic.line(d, 0, "none", "url(#hatch)")
    if count > shown:
        x, y = on_slope(design, length, 0)
        pic.word(x + 10, y + 14, f"+ {count - shown} more")
    if design.system.second_collector.fitted:
        x, y = on_slope(design, length / 2, 30)
        pic.word(x, y, "then unlike ones in series", anchor="middle")


def _ends(design: Design) -> tuple[tuple[float, float], tuple[float, float]]:
    _, length = field_of(design)
    return on_slope(design, 0, 5), on_slope(design, length, 5)


def _loop(pic: Picture, design: Design, water: Water, vessel: Vessel) -> None:
    """The collector loop up to the store, by what hands the heat on."""
    scheme, loop = design.system.scheme, design.system.loop
    hot, cold = colour(water.supply if water.running > 0 else water.bottom), colour(water.back)
    foot, top = _ends(design)
    if scheme.moved == "weight":
        jacket = design.system.jacket
        share_in, share_out = (
            (jacket.top_share, jacket.bottom_share) if scheme.exchange == "jacket" else (loop.in_share, loop.out_share)
        )
        upper, lower = vessel.level(share_in), min(vessel.level(share_out), vessel.y + vessel.h - 6)
        side = vessel.x - (9 if scheme.exchange == "jacket" else 0)
        rise = min(top[0] + 26, vessel.x - 60)
        pic.pipe(f"M{top[0]},{top[1]}L{rise},{top[1] - 14}V{upper + 10}L{rise + 14},{upper}H{side}", hot)
        pic.pipe(f"M{side},{lower}H{vessel.x - 26}V{GROUND_Y - 14}H{foot[0]}V{foot[1]}", cold)
        pic.word(rise - 8, upper + 26, "rises", anchor="end")
        if scheme.exchange != "jacket":
            pic.line(f"M{vessel.x + 22},{vessel.y}V{vessel.y - 26}h-10", 3)
            pic.word(vessel.x + 8, vessel.y - 24, "open vent", anchor="end")
        return
    roof = top[1] - 14
    if scheme.exchange == "coil":
        into, out = vessel.level(design.system.coil.top_share), vessel.level(design.system.coil.bottom_share) - 10
        pic.pipe(f"M{top[0]},{top[1]}V{roof}H272V{into}H{vessel.x}", hot)
        pic.pipe(f"M{vessel.x},{out}H92V276H{foot[0]}V{foot[1]}", cold)
    elif scheme.exchange == "direct":
        into, out = vessel.level(loop.in_share), min(vessel.level(loop.out_share), vessel.y + vessel.h - 8)
        pic.pipe(f"M{top[0]},{top[1]}V{roof}H272V{into}H{vessel.x}", hot)
        pic.pipe(f"M{vessel.x},{out}H92V276H{foot[0]}V{foot[1]}", cold)
    else:  # plate or passive: an exchanger between loop and store
        into, out = vessel.level(loop.in_share), min(vessel.level(loop.out_share), vessel.y + vessel.h - 8)
        out_y = 490.0
        pic.pipe(f"M{top[0]},{top[1]}V{roof}H272V396", hot)
        pic.pipe(f"M272,462V{out_y}H92V276H{foot[0]}V{foot[1]}", cold)
        pic.pipe(f"M296,396V{into}H{vessel.x}", colour(water.top))
        pic.pipe(f"M{vessel.x},{out}H296V462", colour(water.bottom))
        pic.box(260, 396, 48, 66)
        pic.line("M260,396L308,462M260,429L284,462M284,396L308,429", 1.2)
        if scheme.exchange == "plate":
            _pump(pic, (296 + vessel.x) / 2, out, water.running, left=True)
        else:
            pic.word(250, 388, "store side moves by itself", anchor="end")
        out = out_y
    pic.line(
        f"M240,420H252V{min(vessel.level(design.system.control.sensor_share), vessel.y + vessel.h - 5)}H{vessel.x}M132,396V290M162,444V{out}",
        0.9,
        FINE,
        dash="3 3",
    )
    pic.word(280, 224, f"{water.supply:.1f}°", "ink")
    pic.line("M268.5,250h7l-3.5,7z", 0.1, INK, INK)
    _pump(pic, 162, out, water.running)
    _guards(pic, design)


def _pump(pic: Picture, x: float, y: float, running: float, left: bool = False) -> None:
    pic.disc(x, y, 13)
    way = -1 if left else 1
    pic.line(f"M{x - 7 * way},{y}l{13 * way},-8v16z", 1.5, INK, INK if running > 0 else "none")


def _guards(pic: Picture, design: Design) -> None:
    """What keeps a pumped loop safe: one-way valve, vessel and relief; or what lets it run empty."""
    scheme, kind = design.system.scheme, design.system.kind
    if scheme.drains:
        pic.box(254, 262, 36, 46)
        pic.line("M254,288q9,-5 18,0t18,0V308H254z", 1, INK, "url(#water)")
        pic.word(248, 274, "runs back", anchor="end")
        pic.word(248, 288, "when it stops", anchor="end")
        return
    if kind in ("drain_down", "seasonal_preheat"):
        for x, y in ((92.0, 330.0), (272.0, 270.0)):
            pic.line(f"M{x - 9},{y - 8}h18l-18,16h18zM{x},{y}h-24v8", 1.4, INK, PAPER)
        pic.word(80, 318, "drains", anchor="end")
        pic.word(284, 274, "drains")
        return
    if design.system.loop.check_valve:
        pic.line("M85,352h14l-14,-16h14z", 1.4, INK, PAPER)
        pic.word(80, 349, "one-way", anchor="end")
    pic.line("M92,420H60", 3)
    pic.line("M46,432a14,14 0 0 1 28,0v14a14,14 0 0 1 -28,0z", 1.5, INK, PAPER)
    pic.line("M46,440q7,-5 14,0t14,0", 1.2)
    pic.line("M60,418V408M54,400h12l-6,8z", 1.4, INK, PAPER)
    pic.word(84, 476, "vessel, relief", anchor="end")


def _store(pic: Picture, vessel: Vessel, layers: list[float]) -> None:
    """A vessel cut open: insulation, water in layers, legs."""
    x, y, w, h = vessel.x, vessel.y, vessel.w, vessel.h
    pic.box(x - 7, y - 7, w + 14, h + 14, "#F1E9D5", INK, 1.3)
    pic.box(x - 7, y - 7, w + 14, h + 14, "url(#wrap)", "none", 0)
    each = h / len(layers)
    for k, celsius in enumerate(layers):
        pic.box(x, y + h - (k + 1) * each, w, each + 0.4, colour(celsius), "none", 0)
    pic.box(x, y, w, h, "none")
    legs = GROUND_Y + 6
    pic.line(f"M{x + 12},{y + h + 7}V{legs}M{x + w - 12},{y + h + 7}V{legs}", 1.5)


def serpentine(left: float, width: float, top: float, low: float) -> str:
    """A coil from its top to its foot, entering and leaving at the left."""
    turns = max(1, round((low - top) / 18))
    gap = (low - top) / (2 * turns)
    inner, outer = left + 20, left + width - 18
    d = f"M{left - 4:.1f},{top:.1f} H{outer:.1f}"
    for i in range(2 * turns):
        sweep, end = (1, inner) if i % 2 == 0 else (0, outer)
        if i == 2 * turns - 1:
            end, sweep = left - 4, 0
        d += f" a{gap / 2:.1f},{gap / 2:.1f} 0 0 {sweep} 0,{gap:.1f} H{end:.1f}"
    return d


def _inside(pic: Picture, design: Design, vessel: Vessel) -> None:
    """Coils, jacket, sensors and elements at their true heights."""
    scheme, system = design.system.scheme, design.system
    if scheme.exchange == "coil":
        d = serpentine(
            vessel.x, vessel.w, vessel.level(system.coil.top_share), vessel.level(system.coil.bottom_share) - 10
        )
        pic.line(d, 5.5)
        pic.line(d, 3, "#C9C2AE")
    if scheme.exchange == "jacket":
        upper, lower = vessel.level(system.jacket.top_share), vessel.level(system.jacket.bottom_share)
        for x in (vessel.x - 9, vessel.right + 2):
            pic.box(x, upper, 7, lower - upper, "#C9C2AE")
        pic.word(vessel.right + 14, upper + 12, "jacket")
    if scheme.draw_coil or system.draw_coil.fitted:
        d = serpentine(vessel.x + 10, vessel.w - 16, vessel.level(0.94), vessel.level(0.06))
        pic.line(d, 4.5)
        pic.line(d, 2.4, PAPER)
    if scheme.moved == "pump":
        pic.disc(vessel.x, min(vessel.level(system.control.sensor_share), vessel.y + vessel.h - 5), 3, INK)
        pic.disc(vessel.x, max(vessel.level(system.control.limit_sensor_share), vessel.y + 5), 3)
    for part in (system.backup.element, system.backup.top_element):
        if part.fitted:
            pic.line(f"M{vessel.right},{vessel.level(part.height_share)}h-52v5h52", 2, RED)
    if system.backup.boiler.fitted:
        y = vessel.level(system.backup.boiler.height_share)
        pic.line(f"M{vessel.right + 30},{y}h-70v12h70", 2, RED)
        pic.word(vessel.right + 20, y - 4, "boiler", "red")
    if system.backup.stove.fitted:
        y = vessel.level(system.backup.stove.height_share)
        pic.line(f"M{vessel.right + 30},{y + 26}h-60", 2, RED)
        pic.word(vessel.right + 20, y + 22, "stove", "red")


def _taps(pic: Picture, design: Design, water: Water, vessel: Vessel | None) -> None:
    """From the store's top to the tap, by valve and heater; cold water to its foot."""
    top, mains = colour(water.top), colour(water.mains)
    if vessel is None:
        foot, end = _ends(design)
        if design.system.scheme.moved == "none":
            pic.pipe(f"M{end[0]},{end[1]}V{end[1] - 14}H272V287H{HOT_X}V368", top)
            pic.pipe(f"M666,{GROUND_Y}H{foot[0]}V{foot[1]}M{HOT_X},{GROUND_Y}V388", mains)
        else:
            pic.pipe(f"M666,{GROUND_Y}H{HOT_X}V388", mains)
    else:
        pic.pipe(f"M{vessel.middle},{vessel.y}V{vessel.y - 7}H{HOT_X}V368", top)
        pic.pipe(f"M666,{GROUND_Y}H{vessel.middle}V{vessel.y + vessel.h - 2}M{HOT_X},{GROUND_Y}V388", mains)
    pic.pipe(f"M{HOT_X},{TAP_Y}H650", top)
    pic.disc(HOT_X, TAP_Y, 11)
    pic.line(f"M{HOT_X},{TAP_Y - 11}a11,11 0 0 1 0,22z", 0.1, INK, INK)
    if design.system.backup.tankless.fitted:
        pic.box(548, 356, 52, 40, PAPER, RED, 1.8)
        pic.line("M548,376h10l4,-6 6,12 6,-12 6,12 4,-6h16", 1.4, RED)
    pic.line("M636,378v24h12M630,366h12", 2)
    pic.word(560, 503, "cold main")
    pic.word(618, 503, f"{water.mains:.1f}°", "ink")
    if design.system.second_store.fitted:
        pic.box(536, 296, 44, 50)
        pic.word(584, 320, "heater's store", "ink")


def _integral(pic: Picture, design: Design, water: Water, layers: list[float]) -> None:
    """A store that is its own collector: a glazed box on the roof with its water inside."""
    depth, length = 46.0, ROOF_LENGTH
    corners = [
        on_slope(design, 0, -2),
        on_slope(design, length, -2),
        on_slope(design, length, depth),
        on_slope(design, 0, depth),
    ]
    d = "M" + "L".join(f"{x},{y}" for x, y in corners) + "z"
    pic.line(d, 2, INK, PAPER)
    kind = design.system.kind
    mean = sum(layers) / len(layers)
    if kind == "bag":
        rim = [
            on_slope(design, 6, 4),
            on_slope(design, length - 6, 4),
            on_slope(design, length - 6, 24),
            on_slope(design, 6, 24),
        ]
        pic.line("M" + "L".join(f"{x},{y}" for x, y in rim) + "z", 1.5, INK, colour(mean))
    else:
        count = 1 if kind == "batch_tank" else 6
        radius = 20.0 if count == 1 else 11.0
        for i in range(count):
            x, y = on_slope(design, length * (i + 0.5) / count, depth / 2)
            pic.disc(x, y, radius, colour(layers[min(int((i + 0.5) / count * len(layers)), len(layers) - 1)]))
    glass = [on_slope(design, 0, depth), on_slope(design, length, depth)]
    pic.line("M" + "L".join(f"{x},{y}" for x, y in glass), 3)
    pic.word(280, 224, f"{mean:.1f}°", "ink")


def _pool(pic: Picture, design: Design, water: Water) -> None:
    """A pool whose water, or a loop through an exchanger, runs over the collectors."""
    foot, top = _ends(design)
    basin = Vessel(300, 440, 170, 60)
    hot, cold = colour(water.supply if water.running > 0 else water.pool), colour(water.pool)
    pic.pipe(f"M{top[0]},{top[1]}V{top[1] - 14}H272V430H330V452", hot)
    pic.pipe(f"M{basin.x},490H92V276H{foot[0]}V{foot[1]}", cold)
    pic.line(f"M{basin.x},{basin.y}V{basin.y + basin.h}H{basin.right}V{basin.y}", 3, INK, "none")
    pic.box(basin.x + 2, basin.y + 8, basin.w - 4, basin.h - 10, cold, "none", 0)
    pic.line(f"M{basin.x},{basin.y + 10}q14,-6 28,0t28,0 28,0 28,0 28,0 28,0", 1.4)
    pic.word(basin.middle, basin.y + 40, f"pool {water.pool:.1f}°", "onwater", "middle")
    if design.demand.pool.exchanger_w_k > 0:
        pic.box(260, 452, 26, 44)
        pic.line("M260,452L286,496M286,452L260,496", 1.2)
    pic.line("M132,396V290M162,444V490", 0.9, FINE, dash="3 3")
    pic.word(280, 224, f"{water.supply:.1f}°", "ink")
    _pump(pic, 162, 490, water.running)


def _rooms(pic: Picture, water: Water, vessel: Vessel, dump: bool) -> None:
    """A circuit from the store to the rooms, and a summer heat sink where one is fitted."""
    y = vessel.level(0.72)
    pic.pipe(f"M{vessel.right},{y}H500V452", colour(water.top))
    pic.pipe(f"M476,480V494H{vessel.right}", colour(water.bottom))
    pic.box(462, 448, 44, 38)
    pic.line("M470,448v38M478,448v38M486,448v38M495,448v38", 1.2)
    pic.word(452, 442, "rooms", "ink")
    if dump:
        pic.word(452, 428, "and dump")
