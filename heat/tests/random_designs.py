"""Random valid designs of every kind, from hypothesis or from a plain generator."""

from typing import Any

import numpy as np
from hypothesis import strategies as st

from heat.design import Design, parse
from heat.design.schemes import SCHEMES
from heat.errors import InputError


class Dice:
    """Picks values from a numpy generator."""

    def __init__(self, seed: int) -> None:
        self.rng = np.random.default_rng(seed)

    def number(self, low: float, high: float) -> float:
        return float(self.rng.uniform(low, high))

    def whole(self, low: int, high: int) -> int:
        return int(self.rng.integers(low, high + 1))

    def flag(self, chance: float = 0.5) -> bool:
        return bool(self.rng.random() < chance)

    def choice(self, options: Any) -> Any:
        return options[int(self.rng.integers(len(options)))]


class Drawn(Dice):
    """Picks values by hypothesis, which can shrink them."""

    def __init__(self, draw: Any) -> None:
        self.draw = draw

    def number(self, low: float, high: float) -> float:
        return self.draw(st.floats(low, high))

    def whole(self, low: int, high: int) -> int:
        return self.draw(st.integers(low, high))

    def flag(self, chance: float = 0.5) -> bool:
        return self.draw(st.booleans())

    def choice(self, options: Any) -> Any:
        return self.draw(st.sampled_from(options))


def hours_of(pick: Dice) -> list[bool]:
    start, length = pick.whole(0, 23), pick.whole(1, 24)
    return [(h - start) % 24 < length for h in range(24)]


def collector(pick: Dice) -> dict[str, Any]:
    loss = pick.number(0.5, 20)
    return {
        "count": pick.whole(1, 20),
        "area_m2": pick.number(0.5, 5),
        "eta0": pick.number(0.2, 0.9),
        "a1_w_m2k": loss,
        "a2_w_m2k2": pick.number(0, 0.1),
        "a3_j_m3k": pick.number(0, 4),
        "a4": pick.choice([0.0, 0.8]) if loss > 8 else 0.0,
        "a5_kj_m2k": pick.number(0, 60),
        "a6_s_m": pick.number(0, 0.05),
        "iam": pick.choice(["b0", "table", "biaxial"]),
        "tubes": pick.choice(["up", "across"]),
        "trough": pick.flag(0.1),
        "diffuse_calculated": pick.flag(),
        "rating": pick.choice(["mean", "inlet"]),
    }


def pipe(pick: Dice) -> dict[str, Any]:
    return {
        "length_m": pick.number(0, 60),
        "insulation_mm": pick.number(0, 50),
        "outdoors": pick.flag(),
        "buried": pick.flag(0.2),
        "material": pick.choice(["copper", "steel", "plastic"]),
    }


def heater(pick: Dice, chance: float = 0.3) -> dict[str, Any]:
    return {
        "fitted": pick.flag(chance),
        "power_kw": pick.number(0.5, 12),
        "height_share": pick.number(0, 1),
        "sensor_share": pick.number(0, 1),
        "set_c": pick.number(40, 80),
        "hours_on": hours_of(pick),
    }


def span(pick: Dice) -> dict[str, float]:
    low = pick.number(0, 0.6)
    return {"bottom_share": low, "top_share": pick.number(low + 0.05, 1.0)}


def stove(pick: Dice) -> dict[str, Any]:
    low = pick.number(0, 0.6)
    return {
        "fitted": pick.flag(0.2),
        "power_kw": pick.number(1, 15),
        "room_kw": pick.number(0, 8),
        "out_share": low,
        "height_share": pick.number(low + 0.06, 1.0),
        "store_above_m": pick.number(-3, 5),
        "bore_mm": pick.number(10, 40),
        "circulation": pick.choice(["thermosiphon", "pump"]),
        "fired": pick.choice(["timetable", "rooms"]),
        "counts_as_bought": pick.flag(),
        "heat_trap": pick.flag(),
        "damper_c": pick.number(50, 120),
    }


def circuits(pick: Dice) -> dict[str, Any]:
    return {
        "coil": {"fitted": pick.flag(0.2), "ua_w_k": pick.number(20, 5000)} | span(pick),
        "second": {
            "fitted": pick.flag(0.2),
            "order": pick.choice(["after", "before", "beside"]),
            "power_kw": pick.number(1, 20),
        },
        "slab": {"fitted": pick.flag(0.2), "depth_m": pick.number(0.1, 1), "area_m2": pick.number(10, 300)},
    }


def mirror(pick: Dice) -> dict[str, Any]:
    return {
        "fitted": pick.flag(0.1),
        "gap_m": pick.number(0, 20),
        "foot_m": pick.number(-5, 2),
        "facets": pick.whole(1, 3),
        "tilt_deg": pick.number(-30, 60),
        "facet_step_deg": pick.number(-5, 5),
        "depth_m": pick.number(0.3, 5),
    }


def curve(pick: Dice) -> list[dict[str, float]]:
    if not pick.flag(0.2):
        return []
    return [{"flow_kg_h": 0.0, "head_m": pick.number(0.5, 8)}, {"flow_kg_h": pick.number(50, 4000), "head_m": 0.0}]


def document(pick: Dice) -> dict[str, Any]:
    kind = pick.choice(sorted(SCHEMES))
    scheme = SCHEMES[kind]
    water = scheme.drains or scheme.exchange in ("direct", "pool")
    low_port = pick.number(0, 0.4)
    months = [pick.flag(0.6) for _ in range(12)]
    return {
        "demand": {
            "people": pick.number(0.5, 40),
            "litres_per_person_day": pick.number(1, 200),
            "tap_c": pick.number(36, 65),
            "pattern": pick.choice(["shape", "M", "L"]),
            "weekend_factor": pick.number(0, 3),
            "first_weekday": pick.whole(0, 6),
            "holidays": [[pick.whole(1, 365), pick.whole(1, 365)]],
            "circulation": {
                "fitted": pick.flag(0.3),
                "loss_w": pick.number(0, 800) if pick.flag(0.5) else None,
                "hours_on": hours_of(pick),
            },
            "heating": {
                "fitted": kind == "combi" or pick.flag(0.2),
                "loss_w_k": pick.number(20, 2000),
                "reserve_c": pick.number(0, 60),
                "storage_kwh_k": pick.number(0, 40),
                "set_back_k": pick.choice([0.0, pick.number(0, 8)]),
                **circuits(pick),
            },
            "fresh_air": {
                "fitted": pick.flag(0.15),
                "flow_m3_h": pick.number(20, 3000),
                "recovered": pick.number(0, 0.9),
            },
            "process": {"fitted": pick.flag(0.15), "hourly_kw": [pick.number(0, 5) for _ in range(24)]},
            "pool": {
                "fitted": scheme.exchange == "pool" or pick.flag(0.15),
                "area_m2": pick.number(4, 300),
                "depth_m": pick.number(0.3, 3),
                "indoor": pick.flag(0.3),
                "months": months,
                "covered": hours_of(pick),
                "heater_kw": pick.choice([0.0, 20.0]),
                "exchanger_w_k": pick.choice([0.0, 800.0]) if scheme.exchange == "pool" else 800.0,
            },
        },
        "site": {
            "latitude_deg": 36.1,
            "longitude_deg": -79.95,
            "skyline": [
                {"bearing_deg": 90.0, "altitude_deg": pick.number(0, 40)},
                {"bearing_deg": 200.0, "altitude_deg": pick.number(0, 30)},
            ]
            if pick.flag(0.3)
            else [],
        },
        "plane": {
            "tilt_deg": pick.number(0, 90),
            "azimuth_deg": pick.number(0, 360),
            "overhang": {"fitted": pick.flag(0.1)},
            "mirror": mirror(pick),
        },
        "system": {
            "kind": kind,
            "collector": collector(pick),
            "second_collector": collector(pick) | {"fitted": pick.flag(0.15)},
            "loop": {
                "flow_kg_h": pick.number(10, 3000),
                "glycol_percent": 0.0 if water else pick.number(0, 60),
                "check_valve": pick.flag(0.8),
                "supply_pipe": pipe(pick),
                "return_pipe": pipe(pick),
                "out_share": low_port,
                "in_share": pick.number(low_port + 0.1, 1.0),
                "drive": {"rule": pick.choice(["fixed", "fixed", "variable", "by_sun"]), "curve": curve(pick)},
                "geometry": {
                    "store_bottom_m": pick.number(-0.1, 2) if scheme.driven_by == "buoyancy" else pick.number(-8, 2)
                },
            },
            "coil": {"ua_w_k": pick.number(10, 3000)} | span(pick),
            "jacket": {"ua_w_k": pick.number(10, 2000)} | span(pick),
            "plate": {"ua_w_k": pick.number(10, 4000), "store_flow_kg_h": pick.number(20, 2000)},
            "draw_coil": {"fitted": pick.flag(0.15), "ua_w_k": pick.number(50, 3000)} | span(pick),
            "control": {
                "sensor_share": pick.number(0, 1),
                "stop_without_gain": pick.flag(),
                "store_limit_c": pick.number(40, 100),
                "least_run_minutes": pick.choice([0.0, 20.0]),
                "hours_allowed": hours_of(pick),
                "rests_with_boiler": pick.flag(0.3),
                "season_from_day": pick.whole(1, 365),
                "season_to_day": pick.whole(1, 365),
                "mode": pick.choice(["preheat", "direct", "bypass"]),
                "other_mode": pick.choice(["preheat", "preheat", "direct"]),
                "other_from_day": pick.whole(1, 365),
                "other_to_day": pick.whole(1, 365),
            },
            "store": {
                "volume_l": pick.number(50, 5000),
                "loss_w_k": pick.number(0, 30),
                "outdoors": pick.flag(0.2),
                "conductivity_w_mk": pick.number(0, 10),
                "open_vented": pick.flag(0.2),
                "top_loss_w_k": pick.number(0, 3),
                "floor_loss_w_k": pick.number(0, 3),
            },
            "second_store": {"fitted": pick.flag(0.25), "volume_l": pick.number(50, 2000), "count": pick.whole(1, 3)},
            "integral": {"depth_mm": pick.number(30, 400), "blanket": hours_of(pick)},
            "tempering_valve": pick.flag(),
            "dump": {"fitted": pick.flag(0.3), "above_c": pick.number(60, 95), "to_rooms": pick.flag()},
            "backup": {
                "tankless": {"fitted": pick.flag(), "power_kw": pick.number(1, 30)},
                "element": heater(pick),
                "top_element": heater(pick, 0.15),
                "boiler": heater(pick, 0.3),
                "stove": stove(pick),
                "series": {"fitted": pick.flag()},
                "pasteurisation": {"fitted": pick.flag(0.2), "every_days": 3},
            },
            "faults": {
                "from_day": pick.whole(1, 365),
                "boiler_overnight": pick.flag(0.1),
                "boiler_at_night": pick.flag(0.1),
                "no_check_valve": pick.flag(0.1),
                "collector_sensor_k": pick.choice([0.0, 0.0, pick.number(-15, 15)]),
                "air_lock": pick.flag(0.05),
                "soiling": pick.choice([0.0, 0.2]),
                "tree_deg": pick.choice([0.0, 0.0, 30.0]),
                "flow_factor": pick.choice([1.0, 0.3, 3.0]),
                "bundled_w_mk": pick.choice([0.0, 1.0]),
                "cooked": pick.choice([0.0, 0.8]),
                "store_sensor_share": pick.choice([None, 0.9]),
            },
        },
        "numerics": {
            "layers": pick.whole(1, 40),
            "step_minutes": pick.choice([6, 10, 15]),
            "inflow": pick.choice(["plug", "plug", "stirred"]),
        },
    }


def settled(made: dict[str, Any]) -> Design:
    """The design, with what contradicts itself mended the way the refusal says."""
    for _ in range(12):
        try:
            return parse(made)
        except InputError as error:
            if error.name in MENDS:
                MENDS[error.name](made)
            else:
                raise
    raise AssertionError("a random design stayed contradictory")


def _mend(*path: str, value: Any) -> Any:
    def change(made: dict[str, Any]) -> None:
        at = made
        for name in path[:-1]:
            at = at[name]
        at[path[-1]] = value

    return change


def _less_by_wind(name: str) -> Any:
    """Some loss left in calm air."""

    def change(made: dict[str, Any]) -> None:
        part = made["system"][name]
        part["a3_j_m3k"] = part["a1_w_m2k"] / 6.0

    return change


def _heat_dump(name: str) -> Any:
    """A curve by which the collector stands no hotter than one can."""

    def change(made: dict[str, Any]) -> None:
        part = made["system"][name]
        part["a1_w_m2k"], part["a2_w_m2k2"] = max(part["a1_w_m2k"], 2.0), max(part.get("a2_w_m2k2", 0.0), 0.01)
        part["a3_j_m3k"] = min(part.get("a3_j_m3k", 0.0), part["a1_w_m2k"] / 6.0)

    return change


MENDS = {
    "system.collector.a3_j_m3k": _less_by_wind("collector"),
    "system.second_collector.a3_j_m3k": _less_by_wind("second_collector"),
    "system.collector.a1_w_m2k": _heat_dump("collector"),
    "system.second_collector.a1_w_m2k": _heat_dump("second_collector"),
    "system.backup.stove.fitted": _mend("system", "second_store", "fitted", value=True),
    "system.backup.stove.fired": _mend("system", "backup", "stove", "fired", value="timetable"),
    "system.backup.pasteurisation.fitted": _mend("system", "backup", "pasteurisation", "fitted", value=False),
    "system.control.rests_with_boiler": _mend("system", "control", "rests_with_boiler", value=False),
    "demand.tap_c": _mend("demand", "tap_c", value=60.0),
    "system.loop.geometry.store_bottom_m": _mend("system", "loop", "geometry", "store_bottom_m", value=0.5),
}


def random_design(seed: int) -> Design:
    return settled(document(Dice(seed)))


@st.composite
def designs(draw: Any) -> Design:
    return settled(document(Drawn(draw)))
