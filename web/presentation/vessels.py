"""The stores of a system cut open: water in layers, coils, jackets, elements and sensors at their true heights."""

from dataclasses import dataclass

from heat.design import Design
from web.editor.fields import height_words
from web.presentation.picture import GROUND_Y, PAPER, RED, STROKE, Picture, colour

STORE_MIDDLE, STORE_FOOT, STORE_HEIGHT = 392.0, 500.0, 206.0
FIRST_MIDDLE, SECOND_MIDDLE, SECOND_HEIGHT, SECOND_WIDTH = 346.0, 462.0, 144.0, 54.0
"""Where two stores stand side by side."""
HIGH_MIDDLE, HIGH_FOOT, HIGH_HEIGHT = 356.0, 330.0, 150.0
"""Where a store stands that must be above its collectors."""
STOVE_W, STOVE_H = 14.0, 30.0
"""A stove beside its store."""
EDGE = 6.0
"""How near to floor and top a port or sensor is drawn."""


@dataclass(frozen=True)
class DrawnVessel:
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
        """Height on the sheet of a share of the store's height, kept off its floor and top."""
        y = self.y + self.h * (1.0 - share)
        return round(min(max(y, self.y + EDGE), self.y + self.h - EDGE), 1)


@dataclass(frozen=True)
class Height:
    """Something that sits at a height of a store and can be moved: its value's path, where it is drawn, its store."""

    path: str
    x: float
    vessel: DrawnVessel

    @property
    def words(self) -> str:
        return height_words(self.path)


def vessel_of(design: Design) -> DrawnVessel:
    """Where the store stands: in the plant room, or above the collectors where weight moves the water."""
    system = design.system
    high = system.scheme.driven_by == "buoyancy"
    foot, height = (HIGH_FOOT, HIGH_HEIGHT) if high else (STORE_FOOT, STORE_HEIGHT)
    two = second_of(design) is not None
    widest = 84.0 if two else 132.0
    width = min(max(height / system.store.height_to_width, 64.0), widest)
    middle = HIGH_MIDDLE if high else FIRST_MIDDLE if two else STORE_MIDDLE
    return DrawnVessel(middle - width / 2, foot - height, width, height)


def second_of(design: Design) -> DrawnVessel | None:
    """The second store, which the first one preheats."""
    system = design.system
    if not system.second_store.fitted or system.scheme.exchange == "pool":
        return None
    return DrawnVessel(SECOND_MIDDLE - SECOND_WIDTH / 2, STORE_FOOT - SECOND_HEIGHT, SECOND_WIDTH, SECOND_HEIGHT)


def store(pic: Picture, vessel: DrawnVessel, layers: list[float], name: str = "layer") -> None:
    """A vessel cut open: insulation, water in layers, legs."""
    x, y, w, h = vessel.x, vessel.y, vessel.w, vessel.h
    pic.box(x - 7, y - 7, w + 14, h + 14, "#F1E9D5", STROKE, 1.3)
    pic.box(x - 7, y - 7, w + 14, h + 14, "url(#wrap)", "none", 0)
    each = h / len(layers)
    for k, celsius in enumerate(layers):
        pic.box(x, y + h - (k + 1) * each, w, each + 0.4, colour(celsius), "none", 0, of=f"{name}-{k}" if name else "")
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


def inside(pic: Picture, design: Design, vessel: DrawnVessel, second: DrawnVessel | None) -> None:
    """Coils, jacket, sensors and heaters at their true heights; heaters sit in the second store where there is one."""
    scheme, system = design.system.scheme, design.system
    if scheme.exchange == "coil":
        top, low = vessel.level(system.coil.top_share), vessel.level(system.coil.bottom_share)
        d = serpentine(vessel.x, vessel.w, top, max(low, top + 4))
        pic.line(d, 5.5)
        pic.line(d, 3, "#C9C2AE")
    if scheme.exchange == "jacket":
        upper, lower = vessel.level(system.jacket.top_share), vessel.level(system.jacket.bottom_share)
        for x in (vessel.x - 9, vessel.right + 2):
            pic.box(x, upper, 7, lower - upper, "#C9C2AE")
        pic.word(vessel.right + 14, upper + 12, "jacket")
    if scheme.draw_coil or system.draw_coil.fitted:
        top, low = vessel.level(system.draw_coil.top_share), vessel.level(system.draw_coil.bottom_share)
        d = serpentine(vessel.x + 10, vessel.w - 16, top, max(low, top + 4))
        pic.line(d, 4.5)
        pic.line(d, 2.4, PAPER)
    if scheme.driven_by == "pump":
        for share, fill in ((system.control.sensor_share, STROKE), (system.control.limit_sensor_share, "none")):
            pic.line(f"M{vessel.x},{vessel.level(share)}h14", 2.4, STROKE)
            pic.disc(vessel.x + 17, vessel.level(share), 3, fill)
        y = vessel.level(system.control.sensor_share)
        if scheme.exchange == "coil":
            pic.word(vessel.x - 12, y - 4, "sensor", "tick", "end")
        else:
            pic.word(vessel.x + 26, y + 4, "sensor", "onwater")
        pic.word(vessel.x + 26, vessel.level(system.control.limit_sensor_share) + 4, "limit", "onwater")
    if design.demand.heating.fitted and design.demand.heating.coil.fitted and second is None:
        coil = design.demand.heating.coil
        top, low = vessel.level(coil.top_share), vessel.level(coil.bottom_share)
        d = serpentine(vessel.x + 22, vessel.w - 18, top, max(low, top + 4))
        pic.line(d, 4.5)
        pic.line(d, 2.4, "#E6DAC0")
    heaters(pic, design, second or vessel)


def heaters(pic: Picture, design: Design, vessel: DrawnVessel) -> None:
    """Elements, boiler and stove of a store, at their true heights."""
    backup = design.system.backup
    long = vessel.w - 14
    for part in (backup.element, backup.top_element):
        if part.fitted:
            y = vessel.level(part.height_share)
            pic.line(f"M{vessel.right},{y - 2.5}h{-long}v5h{long}", 2, RED)
            pic.disc(vessel.right - 6, vessel.level(part.sensor_share), 3, RED, RED)
    if backup.boiler.fitted:
        y = vessel.level(backup.boiler.height_share)
        pic.line(f"M{vessel.right + 24},{y - 6}h{-long - 24}v12h{long + 24}", 2, RED)
        pic.word(vessel.right + 26, y + 4, "boiler", "red")
        pic.disc(vessel.right - 6, vessel.level(backup.boiler.sensor_share), 3, RED, RED)
    if backup.stove.fitted:
        _stove(pic, design, vessel)


def _stove(pic: Picture, design: Design, vessel: DrawnVessel) -> None:
    """A stove close by its store: water rises from its jacket and comes back from the floor."""
    stove = design.system.backup.stove
    into, out = vessel.level(stove.height_share), vessel.level(stove.out_share)
    top = min(into + 6, out - STOVE_H)
    x = vessel.right + 6
    middle = x + STOVE_W / 2
    pic.pipe(f"M{middle},{top}V{into}H{vessel.right}", colour(70.0))
    pic.pipe(f"M{vessel.right},{out}H{middle}V{top + STOVE_H}", colour(30.0))
    pic.box(x, top, STOVE_W, STOVE_H, PAPER, STROKE, 1.5)
    foot = top + STOVE_H - 4
    pic.line(f"M{middle - 4},{foot}c-3,-7 2,-10 2,-16c4,5 3,7 4,9c1,-2 1,-3 1,-4c3,5 2,8 0,11z", 1.2, RED)
    if stove.circulation == "pump" and out - top - STOVE_H > 12:
        pic.disc(middle, (out + top + STOVE_H) / 2, 5)
    pic.word(vessel.right + 7, into - 7, "stove", "tick")


def heights(design: Design, vessel: DrawnVessel, second: DrawnVessel | None) -> list[Height]:
    """Everything that sits at a height of a store of this design, and where it is taken hold of."""
    scheme, system, backup = design.system.scheme, design.system, design.system.backup
    left, right = vessel.x, vessel.right
    found = []
    if scheme.exchange in ("coil", "jacket"):
        side = left - (6 if scheme.exchange == "jacket" else 0)
        found += [
            (f"system.{scheme.exchange}.top_share", side, vessel),
            (f"system.{scheme.exchange}.bottom_share", side, vessel),
        ]
    if scheme.exchange in ("direct", "plate", "passive"):
        found += [("system.loop.in_share", left, vessel), ("system.loop.out_share", left, vessel)]
    if scheme.draw_coil or system.draw_coil.fitted:
        found += [
            ("system.draw_coil.top_share", left + 24, vessel),
            ("system.draw_coil.bottom_share", left + 24, vessel),
        ]
    if scheme.driven_by == "pump":
        found += [
            ("system.control.sensor_share", left + 17, vessel),
            ("system.control.limit_sensor_share", left + 17, vessel),
        ]
    heated = second or vessel
    for name in ("element", "top_element", "boiler"):
        if getattr(backup, name).fitted:
            found += [
                (f"system.backup.{name}.height_share", heated.right, heated),
                (f"system.backup.{name}.sensor_share", heated.right - 10, heated),
            ]
    if backup.stove.fitted:
        found += [
            ("system.backup.stove.height_share", heated.right, heated),
            ("system.backup.stove.out_share", heated.right, heated),
        ]
    if design.demand.heating.fitted and design.demand.heating.coil.fitted and second is None:
        found += [(f"demand.heating.coil.{n}", left + 36, vessel) for n in ("top_share", "bottom_share")]
    elif design.demand.heating.fitted and scheme.exchange != "pool":
        found += [("demand.heating.out_share", right, vessel), ("demand.heating.in_share", right, vessel)]
    return [Height(*item) for item in found]
