"""Logs made from the engine with known truth: a design, three days of its year with or without a fault, sensors that
are off by a little; what a controller, a weather sensor and a water meter would have read."""

from typing import Any

import numpy as np

from heat.common.calendar import MONTH_OF_HOUR
from heat.design import parse
from heat.design.changing import with_changes
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.monitoring.diagnosis import SIZES
from heat.monitoring.faults import FAULTS, faulty_document, suffers
from heat.monitoring.log import Log
from heat.monitoring.plant import read
from heat.simulation.sensors import sensors_c
from heat.simulation.year import simulate

KINDS = (
    "pumped_coil",
    "pumped_plate",
    "pumped_passive",
    "drainback",
    "direct",
    "thermosiphon_open",
    "thermosiphon_sealed",
    "pool_direct",
    "combi",
)
SHOWING = 40.0
"""A fault is drawn only where it moves what the sensors show by so much in the three days (K h, a pump's hour counted
as 20 K): one that does not show cannot be found by anybody."""


def made_document(kind: str, rng: np.random.Generator) -> dict[str, Any]:
    """A sound design of a kind, of sizes as houses have them."""
    water = kind in ("direct", "drainback", "thermosiphon_open", "pool_direct")
    count = int(rng.integers(2, 5))
    document: dict[str, Any] = {
        "demand": {"people": float(rng.integers(2, 6)), "litres_per_person_day": 45, "tap_c": 45},
        "site": {"latitude_deg": 46.4, "longitude_deg": -11.6, "elevation_m": 20},
        "plane": {"tilt_deg": float(rng.uniform(30, 60)), "azimuth_deg": float(rng.uniform(150, 210))},
        "system": {
            "kind": kind,
            "collector": {
                "count": count,
                "area_m2": 2.3,
                "eta0": float(rng.uniform(0.7, 0.82)),
                "a1_w_m2k": float(rng.uniform(3.0, 4.2)),
            },
            "loop": {"flow_kg_h": count * 2.3 * 45.0} | ({"glycol_percent": 0} if water else {}),
            "store": {"volume_l": count * 2.3 * float(rng.uniform(50, 80)), "loss_w_k": float(rng.uniform(1.6, 3.0))},
            "coil": {"ua_w_k": count * 150.0},
            "plate": {"ua_w_k": count * 250.0},
            "backup": {"tankless": {"fitted": True, "power_kw": 20}},
        },
    }
    if kind == "pool_direct":
        document["demand"] |= {"hot_water": False, "pool": {"fitted": True, "area_m2": 32}}
        document["system"]["loop"]["flow_kg_h"] = count * 2.3 * 150.0
    if kind == "combi":
        document["demand"]["heating"] = {"fitted": True, "loss_w_k": 140}
        document["system"]["store"]["volume_l"] *= 2.0
        document["system"]["backup"] = {
            "boiler": {"fitted": True, "power_kw": 12, "set_c": 50, "height_share": 0.7, "sensor_share": 0.75}
        }
    return parse(document).model_dump(mode="json")


def readings_of(document: dict[str, Any], weather: Any, first: int, days: int, rng: np.random.Generator) -> Log:
    """Days of a year as its sensors read them, every quarter of an hour, each off by a little."""
    return read(simulate(parse(document), weather), weather, first, 24 * days, rng)


def drawn_fault(document: dict[str, Any], weather: Any, first: int, rng: np.random.Generator) -> dict[str, float]:
    """A fault the design can suffer, of a size, that shows in the three days; none where none does."""
    design = parse(document)
    keys = [key for key in FAULTS if suffers(design, key)]
    sound = simulate(design, weather)
    for _ in range(12):
        key = str(rng.choice(keys))
        sizes = SIZES.get(key)
        size = float(rng.uniform(sizes[0], sizes[-1])) if sizes else FAULTS[key].size
        try:
            broken = simulate(parse(faulty_document(document, {key: size}, max(first // 24 - 3, 1))), weather)
        except HeatError:
            continue
        hours = slice(first, first + 72)
        gap = sum(
            np.abs(a - b)[hours].sum()
            for a, b in zip(sensors_c(sound, weather), sensors_c(broken, weather), strict=True)
        )
        gap += 20.0 * np.abs(sound.traces[hours, acc.PUMP_SHARE] - broken.traces[hours, acc.PUMP_SHARE]).sum()
        if gap >= SHOWING:
            return {key: size}
    return {}


def made_case(number: int, weather: Any) -> tuple[dict[str, Any], dict[str, float], Log]:
    """Case by number: the sound design, its fault (none in every third), and what was read."""
    rng = np.random.default_rng(1000 + number)
    document = made_document(KINDS[number % len(KINDS)], rng)
    season = range(12) if document["system"]["kind"] != "pool_direct" else range(4, 9)
    month = int(rng.choice(list(season)))
    days = np.flatnonzero(MONTH_OF_HOUR[::24] == month)
    first = 24 * int(rng.choice(days[4:-4]))
    sizes = {} if number % 3 == 0 else drawn_fault(document, weather, first, rng)
    broken = document
    if sizes:
        broken = faulty_document(document, sizes, max(first // 24 - 3, 1))
    return document, sizes, readings_of(broken, weather, first, 3, rng)


def grown(document: dict[str, Any], **changes: float) -> dict[str, Any]:
    """A copy with values by path (dots as double underscores), each in its field's unit."""
    return with_changes(document, {name.replace("__", "."): value for name, value in changes.items()})
