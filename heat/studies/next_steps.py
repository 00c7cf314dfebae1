"""What the next step buys: one sensible step of everything that could be changed, up and down."""

from dataclasses import dataclass

from heat.common.documents import Document, value_or_none
from heat.design import bounds
from heat.design.schemes import SCHEMES


@dataclass(frozen=True)
class NextStep:
    """A step of one value: its path, words, the value there is and the one tried (the field's unit)."""

    path: str
    words: str
    now: float
    then: float


STEPS: tuple[tuple[str, str, float, str], ...] = (
    # path, what it is, step, "by": add so much; "times": that share more or less
    ("system.collector.count", "collectors", 1.0, "by"),
    ("system.store.volume_l", "store volume", 0.25, "times"),
    ("system.store.loss_w_k", "store insulation loss", 0.25, "times"),
    ("plane.tilt_deg", "tilt", 10.0, "by"),
    ("plane.azimuth_deg", "bearing", 15.0, "by"),
    ("system.loop.flow_kg_h", "loop flow", 0.25, "times"),
    ("system.coil.ua_w_k", "coil", 0.5, "times"),
    ("system.plate.ua_w_k", "plate exchanger", 0.5, "times"),
    ("system.jacket.ua_w_k", "jacket", 0.5, "times"),
    ("system.loop.supply_pipe.insulation_mm", "pipe insulation", 10.0, "by"),
    ("system.backup.element.set_c", "element set point", 5.0, "by"),
    ("system.backup.boiler.set_c", "boiler set point", 5.0, "by"),
    ("system.control.on_k", "pump on at", 2.0, "by"),
    ("system.control.sensor_share", "store sensor", 0.1, "by"),
    ("demand.litres_per_person_day", "litres a person", 5.0, "by"),
    ("demand.leaks_l_day", "leaks", 5.0, "by"),
    ("demand.tap_c", "tap temperature", 2.0, "by"),
)
"""Steps tried (the fields' own units, or shares). Source: what a trade would change at once; our own choice."""


def steps(document: Document) -> list[NextStep]:
    """The steps that can be taken from a design (each value in its field's unit): those its kind knows, and that are
    within their field's range.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    list[NextStep]
        The steps that can be taken from a design (each value in its field's unit).
    """
    found = []
    for path, words, size, how in STEPS:
        now = value_or_none(document, path)
        if not isinstance(now, int | float) or not used(document, path):
            continue
        for sign in (-1.0, 1.0):
            then = now + sign * size if how == "by" else now * (1.0 + sign * size)
            then = round(then, 6) % 360.0 if path == "plane.azimuth_deg" else _within(path, round(then, 6))
            if abs(then - now) > 1e-9:
                found.append(NextStep(path, words, float(now), int(then) if isinstance(now, int) else then))
    return found


def _within(path: str, value: float) -> float:
    """A value within its field's range, at its end where the step would go beyond."""
    low, high = bounds(path)
    return min(max(value, value if low is None else low), value if high is None else high)


def _fitted(backup: Document, path: str) -> bool:
    """Whether the heater a path belongs to is there; a value of no heater always is."""
    names = path.split(".")
    heater = backup.get(names[2]) if names[1] == "backup" else None
    return bool(heater.get("fitted", True)) if isinstance(heater, dict) else True


def used(document: Document, path: str) -> bool:
    """Whether a design's kind has a use for a value.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    path
        Dotted path in the document, such as ``system.store.volume_l``.

    Returns
    -------
    bool
        Whether a design's kind has a use for a value.
    """
    system, demand = document["system"], document["demand"]
    scheme, part = SCHEMES[system["kind"]], path.split(".")[1]
    store = scheme.driven_by != "none" and scheme.exchange != "pool"
    known = {
        "store": store,
        "coil": scheme.exchange == "coil",
        "plate": scheme.exchange in ("plate", "passive"),
        "jacket": scheme.exchange == "jacket",
        "control": scheme.driven_by == "pump",
        "loop": scheme.driven_by == "pump" or ("pipe" in path and scheme.driven_by != "none"),
        "backup": store and _fitted(system["backup"], path),
        "litres_per_person_day": demand["hot_water"] and demand["counted"] == "person" and not demand["measured_l"],
        "leaks_l_day": demand["hot_water"],
        "tap_c": demand["hot_water"],
    }
    return bool(known.get(part, True))
