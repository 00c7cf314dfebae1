"""The sun-path sheet: bearing across, altitude up, as seen from a plane. Coordinates are SVG units, y downwards."""

import itertools
from dataclasses import dataclass
from math import ceil, cos, radians, tan
from typing import Any

import numpy as np

from heat.design.place import Plane, Site
from heat.sun.paths import DAY_21, declination_deg, path, sunrise_hour
from heat.sun.shade import skyline_altitude
from web.ui.calendar import MONTHS
from web.ui.rows import Row

LEFT, RIGHT, TOP, FOOT = 40.0, 800.0, 8.0, 304.0
OBLIQUITY = 23.45
PAIRS = ((5,), (4, 6), (3, 7), (2, 8), (1, 9), (0, 10), (11,))
"""Months whose 21st have nearly the same path, from the highest sun of the north to the lowest."""
WORDS = {
    0: "north",
    45: "north-east",
    90: "east",
    135: "south-east",
    180: "south",
    225: "south-west",
    270: "west",
    315: "north-west",
}


@dataclass(frozen=True)
class Scale:
    """Bearings (deg) across from centre - reach to centre + reach, altitudes (deg) up to top."""

    centre: float
    reach: float
    top: float

    @property
    def per_deg(self) -> float:
        return (RIGHT - LEFT) / (2 * self.reach)

    def off(self, bearing: float) -> float:
        """Degrees right of the centre, -180 to 180."""
        return (bearing - self.centre + 180.0) % 360.0 - 180.0

    def x(self, bearing: float) -> float:
        return round(LEFT + (self.off(bearing) + self.reach) * self.per_deg, 1)

    def y(self, altitude: float) -> float:
        return round(FOOT - altitude * (FOOT - TOP) / self.top, 1)


def scale_of(latitude_deg: float) -> Scale:
    """The sheet's scale at a latitude (deg): the equator's side amid, wide enough for the longest day."""
    centre = 180.0 if latitude_deg >= 0 else 0.0
    noon = 90.0 - max(abs(latitude_deg) - OBLIQUITY, 0.0)
    longest = OBLIQUITY if latitude_deg >= 0 else -OBLIQUITY
    hour = sunrise_hour(latitude_deg, longest)
    bearing, _ = path(latitude_deg, longest, np.array([hour + 1e-6]))
    off = abs((float(bearing[0]) - centre + 180.0) % 360.0 - 180.0)
    reach = 180.0 if abs(latitude_deg) <= OBLIQUITY else min(15.0 * ceil((off + 4.0) / 15.0), 180.0)
    return Scale(centre, reach, min(10.0 * ceil((noon + 4.0) / 10.0), 90.0))


def _line(scale: Scale, bearing: Any, altitude: Any) -> str:
    """A path through points above the horizon, parted where it leaves one side and enters the other."""
    parts: list[str] = []
    last = None
    for b, a in zip(bearing, altitude, strict=True):
        if a < -0.3 or abs(scale.off(b)) > scale.reach:
            last = None
            continue
        x, y = scale.x(b), scale.y(max(a, 0.0))
        parts.append(f"{'L' if last is not None and abs(x - last) < 120 else 'M'}{x},{y}")
        last = x
    return "".join(parts)


def sun_path_chart(site: Site, plane: Plane) -> Row:
    """Everything the sheet's template draws: paths, hours, window, skyline, trees, obstacles, what lies behind."""
    scale = scale_of(site.latitude_deg)
    north = site.latitude_deg >= 0
    curves: list[Row] = []
    for months in PAIRS:
        declination = declination_deg(DAY_21[months[0]])
        rise = sunrise_hour(site.latitude_deg, declination)
        hours = np.linspace(rise, 24.0 - rise, 97)
        bearing, altitude = path(site.latitude_deg, declination, hours)
        _, noon = path(site.latitude_deg, declination, np.array([12.0]))
        names = " · ".join(MONTHS[m] for m in months)
        curves.append(
            {
                "d": _line(scale, bearing, altitude),
                "y": scale.y(float(noon[0])),
                "x": scale.x(scale.centre),
                "name": f"21 {names}" if len(months) == 1 else names,
                "end": len(months) == 1,
            }
        )
    for upper, lower in itertools.pairwise(curves) if north else zip(curves[::-1], curves[-2::-1], strict=False):
        lower["y"] = max(float(lower["y"]), float(upper["y"]) + 14.0)
    declinations = np.linspace(-OBLIQUITY, OBLIQUITY, 33)
    hour_lines = []
    for hour in range(4, 21):
        points = [path(site.latitude_deg, d, np.array([float(hour)])) for d in declinations]
        bearing = np.array([float(b[0]) for b, _ in points])
        altitude = np.array([float(a[0]) for _, a in points])
        if altitude.max() < 2.0:
            continue
        high = int(altitude.argmax())
        if abs(scale.off(bearing[high])) > scale.reach or altitude[high] < 12.0:
            continue
        side = 0 if hour == 12 else int(np.sign(scale.off(bearing[high])))
        hour_lines.append(
            {
                "d": _line(scale, bearing, altitude),
                "bold": hour in (9, 15),
                "hour": hour,
                "x": scale.x(bearing[high]) + side * 6,
                "y": round(scale.y(altitude[high]) - (4 if hour != 12 else 13), 1),
                "anchor": ("end", "middle", "start")[side + 1],
            }
        )
    return {
        "scale": scale,
        "frame": {"left": LEFT, "right": RIGHT, "top": TOP, "foot": FOOT, "w": RIGHT - LEFT, "h": FOOT - TOP},
        "curves": curves,
        "hour_lines": hour_lines,
        "window": _window(site.latitude_deg, scale),
        "altitudes": [{"y": scale.y(a), "text": f"{a}°"} for a in range(0, int(scale.top) + 1, 10)],
        "bearings": _bearings(scale),
        "skyline": _skyline(site, scale),
        "points": [
            {"i": i, "x": scale.x(p.bearing_deg), "y": scale.y(p.altitude_deg), "b": p.bearing_deg, "a": p.altitude_deg}
            for i, p in enumerate(site.skyline)
            if abs(scale.off(p.bearing_deg)) <= scale.reach
        ],
        "trees": [_tree(tree.from_deg, tree.to_deg, tree.altitude_deg, tree.name, scale) for tree in site.trees],
        "obstacles": [_obstacle(o, scale) for o in site.obstacles],
        "behind": _behind(plane, scale),
        "facing": {
            "x": scale.x(plane.azimuth_deg),
            "expected": abs(scale.off(plane.azimuth_deg)) <= scale.reach,
            "text": f"plane faces {plane.azimuth_deg:.0f}°",
        },
        "toward": "south" if north else "north",
    }


def _bearings(scale: Scale) -> list[dict[str, object]]:
    marks = []
    step = 15 if scale.reach <= 150 else 30
    for off in range(-int(scale.reach), int(scale.reach) + 1, step):
        bearing = int(scale.centre + off) % 360
        word = WORDS.get(bearing, "") if abs(off) < scale.reach or step == 30 else ""
        marks.append(
            {
                "x": scale.x(scale.centre + off) if abs(off) < 180 else (RIGHT if off > 0 else LEFT),
                "text": word or f"{bearing}°",
                "word": bool(word),
                "line": bearing % 30 == 0,
            }
        )
    return marks


def _window(latitude_deg: float, scale: Scale) -> str:
    """The part of the sky the sun crosses between 9 and 15 h over the year, as a closed path."""
    if abs(latitude_deg) <= OBLIQUITY:
        return ""
    summer = OBLIQUITY if latitude_deg >= 0 else -OBLIQUITY
    rim = []
    for declination, hours in (
        (summer, np.linspace(9, 15, 25)),
        (np.linspace(summer, -summer, 17), 15.0),
        (-summer, np.linspace(15, 9, 25)),
        (np.linspace(-summer, summer, 17), 9.0),
    ):
        for d, h in np.broadcast(declination, hours):
            bearing, altitude = path(latitude_deg, float(d), np.array([float(h)]))
            rim.append(f"{scale.x(float(bearing[0]))},{scale.y(max(float(altitude[0]), 0.0))}")
    return "M" + "L".join(rim) + "Z"


def _skyline(site: Site, scale: Scale) -> str:
    """The upper edge of the skyline over the whole width: straight between its points, round the compass."""
    if not site.skyline:
        return ""
    edge = scale.reach - 1e-6
    offs = sorted(
        {-edge, edge, *(scale.off(p.bearing_deg) for p in site.skyline if abs(scale.off(p.bearing_deg)) < edge)}
    )
    heights = skyline_altitude(site, np.array([scale.centre + off for off in offs]))
    return "".join(
        f"{'L' if i else 'M'}{scale.x(scale.centre + off)},{scale.y(float(a))}"
        for i, (off, a) in enumerate(zip(offs, heights, strict=True))
    )


def _tree(start: float, end: float, altitude: float, name: str, scale: Scale) -> dict[str, object]:
    span = (end - start) % 360.0
    left, width, top = scale.x(start), max(span * scale.per_deg, 3.0), scale.y(altitude)
    soft = min(width / 2, (FOOT - top) / 2, 26.0)
    crown = (
        f"M{left},{FOOT} V{top + soft:.1f} Q{left},{top} {left + soft:.1f},{top} H{left + width - soft:.1f} "
        f"Q{left + width:.1f},{top} {left + width:.1f},{top + soft:.1f} V{FOOT} Z"
    )
    return {"d": crown, "x": round(left + width / 2, 1), "y": round(max(top - 5, 12), 1), "name": name}


def _obstacle(obstacle: Any, scale: Scale) -> dict[str, object]:
    offs = np.linspace(-obstacle.half_deg, obstacle.half_deg, 13)
    rim = [f"{scale.x(obstacle.bearing_deg + o)},{scale.y(obstacle.altitude_deg(o))}" for o in offs]
    first, last = scale.x(obstacle.bearing_deg - obstacle.half_deg), scale.x(obstacle.bearing_deg + obstacle.half_deg)
    whole = first < last  # neither side leaves the sheet
    return {
        "d": f"M{first},{FOOT} L{' L'.join(rim)} L{last},{FOOT} Z" if whole else "",
        "x": scale.x(obstacle.bearing_deg),
        "y": scale.y(obstacle.altitude_deg()) - 5,
        "name": obstacle.name,
    }


def _behind(plane: Plane, scale: Scale) -> list[str]:
    """Where the sun stands behind the plane: below the line on which it only grazes it."""
    areas: list[list[str]] = [[]]
    for off in np.arange(-scale.reach, scale.reach + 0.1, 3.0):
        ahead = cos(radians(scale.centre + off - plane.azimuth_deg))
        edge = np.degrees(np.arctan(-tan(radians(min(plane.tilt_deg, 89.9))) * ahead)) if ahead < 0 else 0.0
        if edge > 0.5:
            x = LEFT + (off + scale.reach) * scale.per_deg
            areas[-1].append(f"{x:.1f},{scale.y(min(float(edge), scale.top))}")
        elif areas[-1]:
            areas.append([])
    return [
        f"M{rim[0].split(',')[0]},{FOOT} L{' L'.join(rim)} L{rim[-1].split(',')[0]},{FOOT} Z"
        for rim in areas
        if len(rim) > 1
    ]
