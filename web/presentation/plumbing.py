"""The pipes and vessels of every kind of system, as paths and words on a sheet of 676 x 600 (SVG units, y downwards).

Each kind is put together from the same parts: collectors at their tilt, a store cut open, exchangers, valves, taps.
"""

from dataclasses import dataclass
from math import cos, radians, sin

from heat.design import Design
from web.presentation.picture import FINE, GROUND_Y, PAPER, RED, RED_LIGHT, STROKE, Picture, colour
from web.presentation.vessels import DrawnVessel, heaters, inside, second_of, store, vessel_of

ROOF_FOOT, ROOF_LENGTH = (66.0, 262.0), 160.0
GROUND_FOOT, GROUND_LENGTH = (62.0, 486.0), 168.0
HOT_X, TAP_Y = 514.0, 378.0
DISPLAYED_WH = 5.0
"""Bought heat (Wh in an hour) from which a heater is drawn at work: what the page shows as more than nothing."""
DISPLAYED = 6
"""Collectors drawn one by one; more are given in words."""


@dataclass(frozen=True)
class WaterShape:
    """Temperatures of an hour (°C): out of the collectors, back to them, store bottom and top, mains, pool; pump's
    share (1),
    flow of the loop (kg/h, negative backwards), hot water drawn (L), heat bought (Wh)."""

    supply: float
    back: float
    bottom: float
    top: float
    mains: float
    pool: float
    running: float
    flow: float = 0.0
    drawn: float = 0.0
    bought: float = 0.0


def field_of(design: Design) -> tuple[tuple[float, float], float]:
    """Foot and length of the collectors on the sheet."""
    low = design.system.scheme.driven_by == "buoyancy"
    return (GROUND_FOOT, GROUND_LENGTH) if low else (ROOF_FOOT, ROOF_LENGTH)


def on_slope(design: Design, distance: float, off: float = 0.0) -> tuple[float, float]:
    """A point along the collectors' slope and off it."""
    (x, y), _ = field_of(design)
    tilt = radians(design.plane.tilt_deg)
    return round(x + distance * cos(tilt) - off * sin(tilt), 1), round(y - distance * sin(tilt) - off * cos(tilt), 1)


def plumbing(
    design: Design, water: WaterShape, layers: list[float], second_layers: list[float] | None = None
) -> Picture:
    """The whole picture of a kind of system at one hour."""
    pic = Picture()
    scheme = design.system.scheme
    vessel = vessel_of(design)
    if scheme.driven_by != "buoyancy":
        _house(pic, design)
    if design.plane.mirror.fitted:
        _mirror(pic, design)
    if scheme.driven_by == "none":
        _taps(pic, design, water, None)
        _integral(pic, design, water, layers)
        second = second_of(design)
        if second:
            _second(pic, second, second_layers or [water.top], design.system.second_store.count)
            heaters(pic, design, second)
    elif scheme.exchange == "pool":
        if design.demand.hot_water:
            _taps(pic, design, water, None)
        _pool(pic, design, water)
        _collectors(pic, design)
    else:
        _taps(pic, design, water, vessel)
        _loop(pic, design, water, vessel)
        _collectors(pic, design)
        store(pic, vessel, layers)
        second = second_of(design)
        if second:
            _second(pic, second, second_layers or [water.top], design.system.second_store.count)
        inside(pic, design, vessel, second)
        if design.demand.heating.fitted:
            _rooms(pic, design, water, vessel)
        _relief(pic, design, vessel)
    return pic


def _house(pic: Picture, design: Design) -> None:
    ridge, eaves = on_slope(design, ROOF_LENGTH + 16, -8), on_slope(design, -26, -8)
    far = (ridge[0] + 84, ridge[1] + 40)
    pic.line(f"M{eaves[0]},{eaves[1]}L{ridge[0]},{ridge[1]}L{far[0]},{far[1]}", 1.3)
    pic.line(f"M{far[0]},{far[1]}l5,-7l3,13l5,-7", 1.3)
    pic.line(f"M34,{on_slope(design, -14, -8)[1]}V516", 1.3, "#B9AB8A")


def _mirror(pic: Picture, design: Design) -> None:
    """A mirror before the collectors' foot, as deep as there is room for."""
    mirror, (_foot, length) = design.plane.mirror, field_of(design)
    rise = radians(mirror.tilt_deg if mirror.tilt_by_month is None else mirror.tilt_by_month[0])
    deep = min(mirror.depth_m / design.plane.slope_m * length, 44.0)
    x, y = on_slope(design, -6)
    end_x, end_y = round(x - deep * cos(rise), 1), round(y - deep * sin(rise), 1)
    pic.line(f"M{x},{y}L{end_x},{end_y}", 4, STROKE)
    pic.line(f"M{x},{y}L{end_x},{end_y}", 1.6, PAPER)
    pic.word(end_x, min(end_y, y) - 8, "mirror", "tick")


def _collectors(pic: Picture, design: Design) -> None:
    """Like ones side by side on headers behind them; unlike ones follow above, in series."""
    system = design.system
    second = system.second_collector.count if system.second_collector.fitted else 0
    ones = min(system.collector.count, DISPLAYED - min(second, 2))
    others = min(second, DISPLAYED - ones)
    _, length = field_of(design)
    gap, joint = 4.0, 14.0 if others else 0.0
    each = (length - gap * (ones + others - 1) - joint) / (ones + others)
    start = 0.0
    for row, count in ((0, ones), (1, others)):
        first = start
        for _ in range(count):
            corners = [
                on_slope(design, a, off) for a, off in ((start, 0), (start + each, 0), (start + each, 11), (start, 11))
            ]
            d = "M" + "L".join(f"{x},{y}" for x, y in corners) + "z"
            pic.line(d, 2, STROKE, PAPER)
            pic.line(d, 0, "none", "url(#bars)" if row else "url(#hatch)")
            start += each + gap
        if count > 1:  # the header that feeds those side by side
            a, b = on_slope(design, first + each / 2, -4), on_slope(design, start - gap - each / 2, -4)
            pic.line(f"M{a[0]},{a[1]}L{b[0]},{b[1]}", 2)
        start += joint
    missing = system.collector.count - ones, second - others
    x, y = on_slope(design, length, 0)
    if any(missing):
        pic.word(x + 10, y + 14, f"+ {sum(missing)} more")
    if others:
        end = ones * (each + gap) - gap
        (from_x, from_y), (to_x, to_y) = on_slope(design, end, 5), on_slope(design, end + joint + gap, 5)
        pic.line(f"M{from_x},{from_y}L{to_x},{to_y}", 3)


def _ends(design: Design) -> tuple[tuple[float, float], tuple[float, float]]:
    _, length = field_of(design)
    return on_slope(design, 0, 5), on_slope(design, length, 5)


def _loop(pic: Picture, design: Design, water: WaterShape, vessel: DrawnVessel) -> None:
    """The collector loop up to the store, by what hands the heat on."""
    scheme, loop = design.system.scheme, design.system.loop
    hot, cold = colour(water.supply if water.running > 0 else water.bottom), colour(water.back)
    foot, top = _ends(design)
    if scheme.driven_by == "buoyancy":
        jacket = design.system.jacket
        share_in, share_out = (
            (jacket.top_share, jacket.bottom_share) if scheme.exchange == "jacket" else (loop.in_share, loop.out_share)
        )
        upper, lower = vessel.level(share_in), vessel.level(share_out)
        side = vessel.x - (9 if scheme.exchange == "jacket" else 0)
        rise = min(top[0] + 26, vessel.x - 60)
        pic.pipe(f"M{top[0]},{top[1]}L{rise},{top[1] - 14}V{upper + 10}L{rise + 14},{upper}H{side}", hot, "supply")
        pic.pipe(f"M{side},{lower}H{vessel.x - 26}V{GROUND_Y - 14}H{foot[0]}V{foot[1]}", cold, "back")
        pic.flows(rise, (upper + 10 + top[1] - 14) / 2, "u", water.flow)
        pic.flows(vessel.x - 26, (lower + GROUND_Y - 14) / 2, "d", water.flow)
        pic.word(rise - 8, upper + 26, "rises", anchor="end")
        if scheme.exchange != "jacket":
            pic.line(f"M{vessel.x + 22},{vessel.y}V{vessel.y - 26}h-10", 3)
            pic.word(vessel.x + 8, vessel.y - 24, "open vent", anchor="end")
        return
    roof = top[1] - 14
    if scheme.exchange == "coil":
        into, out = vessel.level(design.system.coil.top_share), vessel.level(design.system.coil.bottom_share)
        pic.pipe(f"M{top[0]},{top[1]}V{roof}H272V{into}H{vessel.x}", hot, "supply")
        pic.pipe(f"M{vessel.x},{out}H92V276H{foot[0]}V{foot[1]}", cold, "back")
    elif scheme.exchange == "direct":
        into, out = vessel.level(loop.in_share), vessel.level(loop.out_share)
        pic.pipe(f"M{top[0]},{top[1]}V{roof}H272V{into}H{vessel.x}", hot, "supply")
        pic.pipe(f"M{vessel.x},{out}H92V276H{foot[0]}V{foot[1]}", cold, "back")
    else:  # plate or passive: an exchanger between loop and store
        into, out = vessel.level(loop.in_share), vessel.level(loop.out_share)
        out_y = 490.0
        pic.pipe(f"M{top[0]},{top[1]}V{roof}H272V396", hot, "supply")
        pic.pipe(f"M272,462V{out_y}H92V276H{foot[0]}V{foot[1]}", cold, "back")
        pic.pipe(f"M296,396V{into}H{vessel.x}", colour(water.top), "top")
        pic.pipe(f"M{vessel.x},{out}H296V462", colour(water.bottom), "bottom")
        pic.box(260, 396, 48, 66)
        pic.line("M260,396L308,462M260,429L284,462M284,396L308,429", 1.2)
        if scheme.exchange == "plate":
            _pump(pic, (296 + vessel.x) / 2, out, water.running, left=True)
        else:
            pic.word(250, 388, "store side moves by itself", anchor="end")
        out = out_y
    pic.line(
        f"M240,420H252V{vessel.level(design.system.control.sensor_share)}H{vessel.x}M132,396V290M162,444V{out}",
        0.9,
        FINE,
        dash="3 3",
    )
    pic.word(280, 224, f"{water.supply:.1f}°", "ink")
    pic.flows(272, min(340.0, (into if scheme.exchange in ("coil", "direct") else 396.0) - 26.0), "d", water.flow)
    pic.flows(92, 384, "u", water.flow)
    _pump(pic, 162, out, water.running)
    _guards(pic, design)


def _pump(pic: Picture, x: float, y: float, running: float, left: bool = False) -> None:
    pic.disc(x, y, 13)
    way = -1 if left else 1
    pic.line(f"M{x - 7 * way},{y}l{13 * way},-8v16z", 1.5, STROKE, STROKE if running > 0 else "none", of="pump")


def _guards(pic: Picture, design: Design) -> None:
    """What keeps a pumped loop safe: one-way valve, vessel and relief; or what lets it run empty."""
    scheme, kind = design.system.scheme, design.system.kind
    if scheme.drains:
        pic.box(254, 262, 36, 46)
        pic.line("M254,288q9,-5 18,0t18,0V308H254z", 1, STROKE, "url(#water)")
        pic.word(248, 274, "runs back", anchor="end")
        pic.word(248, 288, "when it stops", anchor="end")
        return
    if kind in ("drain_down", "seasonal_preheat"):
        for x, y in ((92.0, 330.0), (272.0, 270.0)):
            pic.line(f"M{x - 9},{y - 8}h18l-18,16h18zM{x},{y}h-24v8", 1.4, STROKE, PAPER)
        pic.word(80, 318, "drains", anchor="end")
        pic.word(284, 274, "drains")
        return
    roof = _ends(design)[1][1] - 14
    pic.line(f"M250,{roof - 3}v-5M245,{roof - 16}h10v8h-10z", 1.3, STROKE, PAPER)
    pic.word(262, roof - 9, "air vent", "tick")
    if design.system.loop.check_valve:
        pic.line("M85,352h14l-14,-16h14z", 1.4, STROKE, PAPER)
        pic.word(80, 349, "one-way", anchor="end")
    pic.line("M92,420H60", 3)
    pic.line("M46,432a14,14 0 0 1 28,0v14a14,14 0 0 1 -28,0z", 1.5, STROKE, PAPER)
    pic.line("M46,440q7,-5 14,0t14,0", 1.2)
    pic.line("M60,418V408M54,400h12l-6,8z", 1.4, STROKE, PAPER)
    pic.word(84, 476, "vessel, relief", anchor="end")


def _taps(pic: Picture, design: Design, water: WaterShape, vessel: DrawnVessel | None) -> None:
    """From the store's top to the tap, by valve and heater; cold water to its foot."""
    top, mains = colour(water.top), colour(water.mains)
    if vessel is None:
        foot, end = _ends(design)
        if design.system.scheme.driven_by == "none":
            second = second_of(design)
            if second:
                pic.pipe(f"M{end[0]},{end[1]}V{end[1] - 14}H272V287H{second.middle - 12}V{second.y}", top, "top")
                pic.pipe(f"M{second.middle + 12},{second.y}V{second.y - 16}H{HOT_X}V368", top, "top")
            else:
                pic.pipe(f"M{end[0]},{end[1]}V{end[1] - 14}H272V287H{HOT_X}V368", top, "top")
            pic.pipe(f"M666,{GROUND_Y}H{foot[0]}V{foot[1]}M{HOT_X},{GROUND_Y}V388", mains, "mains")
        else:
            pic.pipe(f"M666,{GROUND_Y}H{HOT_X}V388", mains, "mains")
    else:
        second = second_of(design)
        if second:
            pic.pipe(f"M{vessel.middle},{vessel.y}V{vessel.y - 16}H{second.middle - 12}V{second.y}", top, "top")
            pic.pipe(f"M{second.middle + 12},{second.y}V{second.y - 16}H{HOT_X}V368", top, "top")
        else:
            pic.pipe(f"M{vessel.middle},{vessel.y}V{vessel.y - 14}H{HOT_X}V368", top, "top")
        pic.pipe(f"M666,{GROUND_Y}H{vessel.middle}V{vessel.y + vessel.h - 2}M{HOT_X},{GROUND_Y}V388", mains, "mains")
        pic.line(f"M532,{GROUND_Y - 7}v14l-14,-7z", 1.4, STROKE, PAPER)  # nothing warm runs back into the main
    pic.pipe(f"M{HOT_X},{TAP_Y}H650", top, "top")
    pic.disc(HOT_X, TAP_Y, 11)
    pic.line(f"M{HOT_X},{TAP_Y - 11}a11,11 0 0 1 0,22z", 0.1, STROKE, STROKE)
    if design.system.backup.tankless.fitted:
        pic.box(548, 356, 52, 40, RED_LIGHT if water.bought >= DISPLAYED_WH else PAPER, RED, 1.8, of="bought")
        pic.line("M548,376h10l4,-6 6,12 6,-12 6,12 4,-6h16", 1.4, RED)
    pic.line("M636,378v24h12M630,366h12", 2)
    if vessel is not None or design.system.scheme.driven_by == "none":
        pic.arrow(HOT_X, 330, "d", "drawn", water.drawn > 0)
        pic.arrow(HOT_X, 450, "u", "drawn", water.drawn > 0)
        pic.arrow(614, TAP_Y, "r", "drawn", water.drawn > 0)
    pic.word(560, 503, "cold main")
    pic.word(618, 503, f"{water.mains:.1f}°", "ink")


def _integral(pic: Picture, design: Design, water: WaterShape, layers: list[float]) -> None:
    """A store that is its own collector: a glazed box on the roof with its water inside."""
    depth, length = 46.0, ROOF_LENGTH
    corners = [
        on_slope(design, 0, -2),
        on_slope(design, length, -2),
        on_slope(design, length, depth),
        on_slope(design, 0, depth),
    ]
    d = "M" + "L".join(f"{x},{y}" for x, y in corners) + "z"
    pic.line(d, 2, STROKE, PAPER)
    kind = design.system.kind
    mean = sum(layers) / len(layers)
    if kind == "bag":
        rim = [
            on_slope(design, 6, 4),
            on_slope(design, length - 6, 4),
            on_slope(design, length - 6, 24),
            on_slope(design, 6, 24),
        ]
        pic.line("M" + "L".join(f"{x},{y}" for x, y in rim) + "z", 1.5, STROKE, colour(mean), of="mean")
    else:
        count = 1 if kind == "batch_tank" else 6
        radius = 20.0 if count == 1 else 11.0
        for i in range(count):
            x, y = on_slope(design, length * (i + 0.5) / count, depth / 2)
            k = min(int((i + 0.5) / count * len(layers)), len(layers) - 1)
            pic.disc(x, y, radius, colour(layers[k]), of=f"layer-{k}")
    glass = [on_slope(design, 0, depth), on_slope(design, length, depth)]
    pic.line("M" + "L".join(f"{x},{y}" for x, y in glass), 3)
    pic.word(280, 224, f"{mean:.1f}°", "ink")


def _pool(pic: Picture, design: Design, water: WaterShape) -> None:
    """A pool whose water, or a loop through an exchanger, runs over the collectors."""
    foot, top = _ends(design)
    basin = DrawnVessel(300, 440, 170, 60)
    hot, cold = colour(water.supply if water.running > 0 else water.pool), colour(water.pool)
    pic.pipe(f"M{top[0]},{top[1]}V{top[1] - 14}H272V430H330V452", hot, "supply")
    pic.pipe(f"M{basin.x},490H92V276H{foot[0]}V{foot[1]}", cold, "back")
    pic.line(f"M{basin.x},{basin.y}V{basin.y + basin.h}H{basin.right}V{basin.y}", 3, STROKE, "none")
    pic.box(basin.x + 2, basin.y + 8, basin.w - 4, basin.h - 10, cold, "none", 0, of="pool")
    pic.line(f"M{basin.x},{basin.y + 10}q14,-6 28,0t28,0 28,0 28,0 28,0 28,0", 1.4)
    pic.word(basin.middle, basin.y + 40, f"pool {water.pool:.1f}°", "onwater", "middle")
    if design.demand.pool.exchanger_w_k > 0:
        pic.box(260, 452, 26, 44)
        pic.line("M260,452L286,496M286,452L260,496", 1.2)
    pic.line("M132,396V290M162,444V490", 0.9, FINE, dash="3 3")
    pic.word(280, 224, f"{water.supply:.1f}°", "ink")
    pic.flows(272, 340, "d", water.flow)
    pic.flows(92, 384, "u", water.flow)
    _pump(pic, 162, 490, water.running)


def _second(pic: Picture, second: DrawnVessel, layers: list[float], count: int) -> None:
    """The store the first one preheats, or several side by side: fed at its foot through a dip tube."""
    store(pic, second, layers, "second")
    if count > 1:
        pic.word(second.middle, second.y + second.h / 2, f"{count} ×", "onwater", "middle")
    pic.line(f"M{second.middle - 12},{second.y}V{second.y + second.h - 14}", 4)
    pic.line(f"M{second.middle - 12},{second.y}V{second.y + second.h - 14}", 2, PAPER)


def _relief(pic: Picture, design: Design, vessel: DrawnVessel) -> None:
    """What opens when a closed store is too hot, and the pump that heats both stores through."""
    system = design.system
    if not (system.scheme.vented or system.store.open_vented):
        x, y = vessel.x + 10, vessel.y - 7
        pic.line(f"M{x},{y}v-9M{x - 6},{y - 17}h12l-6,8zM{x - 6},{y - 13}h-10v5", 1.3, STROKE, PAPER)
        pic.word(x, y - 20, "relief", "tick", "middle")
    second = second_of(design)
    if second and system.backup.pasteurisation.fitted and system.backup.pasteurisation.transfer_pump:
        y = second.y + second.h - 22
        pic.pipe(f"M{second.x},{y}H{vessel.right}", colour(55.0))
        middle = (second.x + vessel.right) / 2
        pic.disc(middle, y, 9)
        pic.line(f"M{middle + 5},{y}l-9,-6v12z", 1.3, STROKE, STROKE)


def _rooms(pic: Picture, design: Design, water: WaterShape, vessel: DrawnVessel) -> None:
    """A circuit from the store to the rooms, and a summer heat sink where one is fitted."""
    heating = design.demand.heating
    shares = (heating.out_share, heating.in_share)
    if heating.coil.fitted and second_of(design) is None:
        shares = (heating.coil.top_share, heating.coil.bottom_share)
    out, back = (vessel.level(share) for share in shares)
    pic.pipe(f"M{vessel.right},{out}H500V452", colour(water.top), "top")
    pic.pipe(f"M476,480V494H{vessel.right + 26}V{back}H{vessel.right}", colour(water.bottom), "bottom")
    pic.box(462, 448, 44, 38)
    pic.line("M470,448v38M478,448v38M486,448v38M495,448v38", 1.2)
    names = [
        ("rooms", True),
        ("two circuits", heating.second.fitted),
        ("heavy floor", heating.slab.fitted),
        ("fresh air", design.demand.fresh_air.fitted),
        ("dump", design.system.dump.fitted),
    ]
    for i, name in enumerate(n for n, there in names if there):
        pic.word(494, 442 - 14 * i, name, "ink", "end")
