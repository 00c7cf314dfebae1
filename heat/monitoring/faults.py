"""What can go wrong in a system: each fault with its size, its sign on the readings, and how to bring it in."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from heat.common.documents import Document, Values
from heat.design import Design
from heat.design.changing import with_changes

Sizes = Mapping[str, float]


@dataclass(frozen=True)
class Fault:
    """Something that goes wrong: words, the core's field of it, what happens, and the sign of it on the readings.

    ``size``: a typical one in ``unit``, from ``low`` to ``high``; ``core``: the field's value for a size. A fault
    without a unit
    is there or not. ``design``: for what is built wrong from the start, values by path from the document and the size.
    Source of the sizes: our own choice, as a designer would meet them.
    """

    words: str
    field: str
    what: str
    sign: str
    size: float = 1.0
    unit: str = ""
    low: float = 0.0
    high: float = 1.0
    core: Callable[[float], Any] = bool
    design: Callable[[Values, float], Values] | None = None

    def values(self, document: Document, size: float) -> Values:
        """Values by path that bring the fault into a document.

        Parameters
        ----------
        document
            The design document; numbers in the units its schema names.
        size
            Size of the fault in its unit.

        Returns
        -------
        Values
            Values by path that bring the fault into a document.
        """
        return self.design(document, size) if self.design else {f"system.faults.{self.field}": self.core(size)}


def _same(size: float) -> float:
    return size


def _share(percent: float) -> float:
    return percent / 100.0


def _bare_pipes(document: Document, metres: float) -> Values:
    """Both pipes longer (m) and without a wrap."""
    values: Values = {}
    for pipe in ("supply_pipe", "return_pipe"):
        path, length = f"system.loop.{pipe}", document["system"]["loop"][pipe]["length_m"]
        values |= {f"{path}.length_m": length + metres, f"{path}.insulation_mm": 0.0, f"{path}.loss_w_k": None}
    return values


def _low_element(document: Document, celsius: float) -> Values:
    """An element at the floor that keeps the whole store warm (°C) at all hours."""
    at = {"fitted": True, "height_share": 0.05, "sensor_share": 0.1, "set_c": celsius, "hours_on": [True] * 24}
    return {f"system.backup.element.{name}": value for name, value in at.items()}


def _small_store(document: Document, percent: float) -> Values:
    """A store of a share (percent) of its volume, of like shape: its loss follows its surface, volume to the power of
    2/3.
    """
    share, store = percent / 100.0, document["system"]["store"]
    return {
        "system.store.volume_l": store["volume_l"] * share,
        "system.store.loss_w_k": store["loss_w_k"] * share ** (2 / 3),
    }


def _small_collectors(document: Document, percent: float) -> Values:
    """Each collector of a share (percent) of its area."""
    return {"system.collector.area_m2": document["system"]["collector"]["area_m2"] * percent / 100.0}


FAULTS = {
    "boiler": Fault(
        "boiler heats the solar store by night, pump forced on",
        "boiler_overnight",
        "The collectors cool what the boiler has just heated: bought heat goes to the night sky.",
        "the pump runs at night and the collector is warmer than the air without any sun",
    ),
    "night": Fault(
        "boiler heats the solar store by night, pump at rest",
        "boiler_at_night",
        "The sun finds the store hot in the morning and has nowhere to put its heat.",
        "the store is hot to its floor before the sun is up, though the pump rests all night",
    ),
    "valve": Fault(
        "no check valve",
        "no_check_valve",
        "Warm water rises to the cold collectors at night and the store empties to the sky.",
        "the pump rests, yet the collector stays well above the air at night and the store cools faster",
    ),
    "high": Fault(
        "collector sensor high by",
        "collector_sensor_k",
        "The controller sees gain where there is none and the pump carries heat out of the store.",
        "the pump starts early, runs on late, and the store falls while it runs; without sun the sensor "
        "stands above the air",
        10.0,
        "delta_degC",
        0.0,
        30.0,
        _same,
    ),
    "low": Fault(
        "store sensor low by",
        "store_sensor_k",
        "The store seems cold, so the pump hardly rests, and the limit comes too late.",
        "the pump runs on although collector and store are alike, and the store sensor stands below cold water",
        10.0,
        "delta_degC",
        0.0,
        30.0,
        lambda size: -size,
    ),
    "feels": Fault(
        "collector sensor feels the air by",
        "collector_sensor_feels",
        "The sensor feels the air as well as the collector: the pump starts late and stops early.",
        "the collector grows hot before the pump starts, and again after it has stopped",
        50.0,
        "percent",
        0.0,
        95.0,
        lambda size: 1.0 - size / 100.0,
    ),
    "top": Fault(
        "store sensor too high, at",
        "store_sensor_share",
        "The controller compares with the warmest water: cool water below is not heated.",
        "the pump waits until the collector beats the top; the bottom stays cold in the sun",
        100.0,
        "percent",
        0.0,
        100.0,
        _share,
    ),
    "air": Fault(
        "air in the loop",
        "air_lock",
        "Nothing flows: the collectors stand, the store gets nothing.",
        "the pump runs and the collector still grows as hot as if it stood; the store does not rise",
    ),
    "dirt": Fault(
        "dirt on the glass takes",
        "soiling",
        "Less sun reaches the plate, in every hour alike.",
        "everything as usual, only a little lower each day",
        15.0,
        "percent",
        0.0,
        90.0,
        _share,
    ),
    "tree": Fault(
        "a tree has grown to",
        "tree_deg",
        "It takes the low sun of morning, evening and winter.",
        "the collector wakes later in the low sun; high noon is as ever",
        30.0,
        "deg",
        0.0,
        60.0,
        _same,
    ),
    "slow": Fault(
        "flow too low, at",
        "flow_factor",
        "The collectors run hotter and lose more; the exchanger passes less.",
        "the collector is hotter while the pump runs",
        10.0,
        "percent",
        5.0,
        100.0,
        _share,
    ),
    "fast": Fault(
        "flow too high, at",
        "flow_factor",
        "The lead falls below the stop and the pump cuts in and out.",
        "the collector hardly leads the store while the pump runs",
        300.0,
        "percent",
        100.0,
        500.0,
        _share,
    ),
    "bundled": Fault(
        "pipes bundled, passing",
        "bundled_w_mk",
        "Hot pipe warms cold pipe: what was gained goes back to the roof.",
        "the collector runs warmer and less arrives at the store",
        0.4,
        "W/m/K",
        0.0,
        5.0,
        _same,
    ),
    "cooked": Fault(
        "antifreeze cooked, spent by",
        "cooked",
        "Thick and sooty, it flows less and hands its heat on badly.",
        "the collector is hotter than it should be while the pump runs",
        90.0,
        "percent",
        0.0,
        100.0,
        _share,
    ),
    "bare": Fault(
        "bare pipes, longer each way by",
        "",
        "Both pipes give heat to the air whenever they are warm.",
        "the collector runs as usual while the store gains less, most of all on cool days",
        10.0,
        "m",
        0.0,
        100.0,
        design=_bare_pipes,
    ),
    "element": Fault(
        "element at the floor keeps it at",
        "",
        "Bought heat fills the store to its floor: the sun has nothing left to do.",
        "the store is warm to its floor each morning and the flow starts late or not at all",
        65.0,
        "degC",
        30.0,
        85.0,
        design=_low_element,
    ),
    "small": Fault(
        "store too small, at",
        "",
        "It is full by noon in summer and cold by evening in spring.",
        "the store swings further, up to its limit and down again",
        40.0,
        "percent",
        5.0,
        100.0,
        design=_small_store,
    ),
    "few": Fault(
        "collectors too small, at",
        "",
        "In winter they do not reach the temperature that is wanted.",
        "it flows as usual and the store, or the pool, stays cooler",
        50.0,
        "percent",
        5.0,
        100.0,
        design=_small_collectors,
    ),
}
"""Every fault of the core, and four of the design (sizes in each one's unit)."""


def suffers(design: Design, key: str) -> bool:
    """Whether a design has what this fault spoils.

    Parameters
    ----------
    design
        The design.
    key
        Key of the fault.

    Returns
    -------
    bool
        Whether a design has what this fault spoils.
    """
    scheme, loop = design.system.scheme, design.system.loop
    pumped = scheme.driven_by == "pump"
    if key in ("dirt", "tree", "few"):
        return True
    if key in ("bundled", "bare"):
        return scheme.driven_by != "none"
    if key in ("element", "small"):
        return scheme.driven_by != "none" and scheme.exchange != "pool"
    if key == "cooked":
        return scheme.driven_by != "none" and not scheme.water_outdoors and loop.glycol_percent > 0
    if key == "valve":  # a loop that drains, or meets an exchanger below its collectors, does not drift
        return pumped and scheme.exchange == "coil" and not scheme.drains and loop.check_valve
    if key in ("boiler", "night", "top"):
        return pumped and scheme.exchange != "pool"
    return pumped


def faulty_document(document: Document, sizes: Sizes, from_day: int) -> Document:
    """A copy of a document with faults of these sizes (each in its unit) from a day (1 to 365) on.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    sizes
        Sizes by key, each in its unit.
    from_day
        First day of the fault, 1 to 365.

    Returns
    -------
    Values
        A copy of a document with faults of these sizes (each in its unit) from a day (1 to 365) on.
    """
    values: Values = {"system.faults.from_day": from_day}
    for key, size in sizes.items():
        values |= FAULTS[key].values(document, size)
    return with_changes(document, values)


def sized(keys: Iterable[str], sizes: Sizes | None = None) -> dict[str, float]:
    """Faults with their sizes (each in its unit, such as K): those given, the typical ones of the others.

    Parameters
    ----------
    keys
        Keys of what is asked for.
    sizes
        Sizes by key, each in its unit.

    Returns
    -------
    dict[str, float]
        Faults with their sizes (each in its unit, such as K).
    """
    return {key: (sizes or {}).get(key, FAULTS[key].size) for key in keys}
