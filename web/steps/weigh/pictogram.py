"""A design at a glance, to one scale with its neighbours: its collectors' slope, and its store."""

from math import cos, radians, sin

from heat.design import Design

WIDTH, HEIGHT, FLOOR = 108, 46, 43
SLOPE_PX, STORE_PX = 40.0, 36.0
"""The longest slope and the tallest store on the picture (px)."""


def pictogram(design: Design, largest_l: float, longest_m: float) -> dict[str, object]:
    """Lines and boxes of a design beside others (largest store in L, longest slope in m)."""
    plane, system = design.plane, design.system
    slope = max(SLOPE_PX * plane.slope_m / longest_m, 8.0)
    x, y = slope * cos(radians(plane.tilt_deg)), slope * sin(radians(plane.tilt_deg))
    picture: dict[str, object] = {
        "width": WIDTH,
        "height": HEIGHT,
        "floor": FLOOR,
        "tubes": system.collector.iam != "b0",
        "x1": 6,
        "y1": FLOOR,
        "x2": round(6 + x, 1),
        "y2": round(FLOOR - y, 1),
        "store": None,
    }
    if system.scheme.exchange != "pool" and system.scheme.driven_by != "none":
        side = (system.store.volume_l / largest_l) ** (1 / 3)  # a tank twice as high holds eight times as much
        tall, wide = max(STORE_PX * side, 6.0), max(18.0 * side, 4.0)
        picture["store"] = {"x": 78, "y": round(FLOOR - tall, 1), "w": round(wide, 1), "h": round(tall, 1)}
    return picture
