"""Changing a design document: values at paths, another kind with what it needs, ways out of a contradiction."""

from collections.abc import Callable
from typing import Any

from heat.common.documents import Document, Values
from heat.design.document import Design, parse
from heat.design.schemes import SCHEMES
from heat.errors import HeatError, InputError

PLATE_RETURNS_AT = 0.55
"""Height at which water warmed beside the store returns (share): a cool morning does not stir the warm top. Source:
common practice, 0.5 to 0.6."""
GLYCOL_PERCENT = 40.0
"""Antifreeze given to a closed loop that had none (%). Source: usual strength for frost to -20 °C."""
WHOLE_YEAR = (1, 365)
FROST_FREE = {True: (91, 304), False: (274, 120)}
"""Months a system drained for the winter is in use, north and south of the equator (days): April to October, October to
April. Source: usual practice; the coldest hour of the site is warned of apart."""
SHORT_PIPE = {"length_m": 3.0, "outer_diameter_mm": 28.0, "outdoors": True}
"""Pipes of a system that weight moves: short, wide, rising. Source: our own choice, rise of 1 in 20 and more."""


def with_changes(document: Document, changes: Values) -> Document:
    """A design document with values set at dotted paths, in the fields' own units (such as W/K).

    The document given stays as it is; what is not changed is shared with it.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    changes
        Values by dotted path.

    Returns
    -------
    Values
        The document with the values in it; what is unchanged is shared.

    Raises
    ------
    KeyError
        For an unknown path.
    """
    made = document
    for path, value in changes.items():
        made = _with_value(made, path.split("."), value, path)
    return made


def varied(document: Document, values: Values) -> Document:
    """A copy of a document with values at dotted paths (each in its field's unit, such as m²), rows of lists by
    number.

    As :func:`with_changes`, also for a document whose parts are left to their defaults.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    values
        Values by name, each in its field's unit.

    Returns
    -------
    Values
        A copy of a document with values at dotted paths (each in its field's unit, such as m²), rows of lists
        by number.

    Raises
    ------
    InputError
        Where a list has no such row; a name that no design has is refused when the document is parsed.
    """
    try:
        made = document
        for path, value in values.items():
            made = _with_value(made, path.split("."), value, path, parts_may_be_missing=True)
        return made
    except KeyError as error:
        path = str(error.args[0])
        raise InputError(path, path.rpartition(".")[2], "a row of the list") from error


def _with_value(holder: Any, names: list[str], value: Any, path: str, parts_may_be_missing: bool = False) -> Any:
    """A copy of a part or a list with one value set below it."""
    try:
        if isinstance(holder, list) and not names[0].isdecimal():
            raise IndexError(names[0])
        key: Any = int(names[0]) if isinstance(holder, list) else names[0]
        missing = parts_may_be_missing and isinstance(holder, dict) and key not in holder
        inner = {} if missing else holder[key]
        made = holder.copy()
    except (KeyError, IndexError, ValueError, TypeError, AttributeError) as error:
        raise KeyError(path) from error
    last = len(names) == 1
    made[key] = value if last else _with_value(inner, names[1:], value, path, parts_may_be_missing)
    return made


def kind_changes(document: Document, kind: str) -> Values:
    """The changes that make a design another kind: fluid, pipes and ports that suit it.

    KeyError for an unknown kind.

    Values by dotted path, in the fields' own units (such as kg/h).

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    kind
        Kind of system.

    Returns
    -------
    Values
        The changes that make a design another kind: fluid, pipes and ports that suit it.
    """
    scheme, was = SCHEMES[kind], SCHEMES[document["system"]["kind"]]
    fresh = Design().model_dump(mode="json")["system"]
    loop = document["system"]["loop"]
    changes: Values = {"system.kind": kind}
    if scheme.drains or scheme.exchange in ("direct", "pool"):
        changes["system.loop.glycol_percent"] = 0.0
    elif scheme.driven_by != "none" and loop["glycol_percent"] == 0:
        changes["system.loop.glycol_percent"] = GLYCOL_PERCENT
    if was.exchange == "plate" and scheme.exchange != "plate":
        changes["system.loop.in_share"] = fresh["loop"]["in_share"]
    if scheme.driven_by == "buoyancy" and was.driven_by != "buoyancy":
        changes |= {
            f"system.loop.{pipe}.{n}": v for pipe in ("supply_pipe", "return_pipe") for n, v in SHORT_PIPE.items()
        }
        changes |= {
            "system.loop.check_valve": False,
            "system.loop.in_share": 0.85,
            "system.loop.out_share": 0.02,
            "system.store.outdoors": True,
            "system.loop.geometry.store_bottom_m": None,
        }
    if scheme.driven_by == "pump" and loop["supply_pipe"]["length_m"] == SHORT_PIPE["length_m"]:
        changes |= {
            f"system.loop.{pipe}.{n}": fresh["loop"][pipe][n]
            for pipe in ("supply_pipe", "return_pipe")
            for n in SHORT_PIPE
        }
        changes |= {f"system.loop.{n}": fresh["loop"][n] for n in ("check_valve", "in_share", "out_share")}
        changes["system.store.outdoors"] = False
    if scheme.exchange == "plate" and was.exchange != "plate":
        changes |= {"system.loop.in_share": PLATE_RETURNS_AT, "system.plate.store_flow_kg_h": None}
    if scheme.driven_by == "none" and document["system"]["backup"]["stove"]["fitted"]:
        changes["system.second_store.fitted"] = True  # the stove heats that
    if scheme.driven_by == "none" and document["system"]["store"]["volume_l"] > 160:
        changes |= {"system.store.volume_l": 160.0}
    if scheme.exchange == "pool":
        changes |= {"demand.pool.fitted": True, "demand.pool.exchanger_w_k": 0.0}
    control = document["system"]["control"]
    season = (control["season_from_day"], control["season_to_day"])
    if kind == "seasonal_preheat" and season == WHOLE_YEAR:
        season = FROST_FREE[document["site"]["latitude_deg"] >= 0]
    elif kind != "seasonal_preheat" and season in FROST_FREE.values():
        season = WHOLE_YEAR
    changes |= {"system.control.season_from_day": season[0], "system.control.season_to_day": season[1]}
    if kind == "combi":
        changes["demand.heating.fitted"] = True
    return changes


Way = tuple[str, Callable[[Values], Values]]


def _set(words: str, **values: Any) -> Way:
    """A way out that sets values; a double underscore stands for a dot."""
    changes = {path.replace("__", "."): value for path, value in values.items()}
    return words, lambda document: changes


def _kind(words: str, kind: str) -> Way:
    return words, lambda document: kind_changes(document, kind)


WAYS_OUT: dict[str, tuple[Way, ...]] = {
    "demand.hot_water": (
        _set("heat the rooms", demand__heating__fitted=True),
        _set("heat a pool", demand__pool__fitted=True),
    ),
    "system.loop.glycol_percent": (
        _set("plain water", system__loop__glycol_percent=0.0),
        _kind("a closed loop with a coil", "pumped_coil"),
        _set("an exchanger at the pool", demand__pool__exchanger_w_k=2000.0),
    ),
    "demand.pool.fitted": (
        _set(
            "heat a pool", demand__pool__fitted=True, demand__pool__exchanger_w_k=0.0, system__loop__glycol_percent=0.0
        ),
        _kind("a coil in a store instead", "pumped_coil"),
    ),
    "system.loop.geometry.store_bottom_m": (
        _set("the usual height above the collectors", system__loop__geometry__store_bottom_m=None),
        _kind("a pump instead", "pumped_coil"),
    ),
    "system.loop.in_share": (
        _set("in at 0.9, out at the floor", system__loop__in_share=0.9, system__loop__out_share=0.0),
    ),
    "system.backup.stove.fitted": (
        _set("a second store for it", system__second_store__fitted=True),
        _set("no stove", system__backup__stove__fitted=False),
    ),
    "system.backup.stove.fired": (
        _set("fire it by the timetable", system__backup__stove__fired="timetable"),
        _set("heat the rooms", demand__heating__fitted=True),
    ),
    "system.backup.stove.height_share": (
        _set(
            "from the floor to 0.4 of the height",
            system__backup__stove__out_share=0.0,
            system__backup__stove__height_share=0.4,
        ),
    ),
    "system.control.rests_with_boiler": (
        _set("the pump need not rest", system__control__rests_with_boiler=False),
        _set("boiler's thermostat higher", system__backup__boiler__sensor_share=0.75),
    ),
    "system.backup.pasteurisation.fitted": (
        _set("fit an element for it", system__backup__element__fitted=True),
        _set("no pasteurisation", system__backup__pasteurisation__fitted=False),
    ),
    "system.control.hours_allowed": (
        _set("the pump may run at all hours", system__control__hours_allowed=[True] * 24),
    ),
    "demand.tap_c": (_set("45 °C at the tap", demand__tap_c=45.0),),
    "system.backup.element.set_c": (_set("element at 55 °C", system__backup__element__set_c=55.0),),
    "system.backup.top_element.set_c": (_set("element at 55 °C", system__backup__top_element__set_c=55.0),),
    "system.backup.boiler.set_c": (_set("boiler at 55 °C", system__backup__boiler__set_c=55.0),),
    "system.dump.above_c": (
        _set("dump from 88 °C, relief at 98 °C", system__dump__above_c=88.0, system__store__relief_c=98.0),
    ),
    "system.coil.top_share": (("coil 0.3 of the height tall", lambda d: _tall(d, "coil")),),
    "system.jacket.top_share": (("jacket 0.3 of the height tall", lambda d: _tall(d, "jacket")),),
    "system.draw_coil.top_share": (("coil 0.3 of the height tall", lambda d: _tall(d, "draw_coil")),),
    "system.control.off_k": (
        (
            "the start 4 K above the stop",
            lambda d: {"system.control.on_k": min(d["system"]["control"]["off_k"] + 4.0, 30.0)},
        ),
        ("the stop at half the start", lambda d: {"system.control.off_k": d["system"]["control"]["on_k"] / 2.0}),
    ),
}
"""Ways out of a contradiction, by the path it names."""
TALL_SHARE = 0.3


def _tall(document: Document, part: str) -> Values:
    low = min(document["system"][part]["bottom_share"], 1.0 - TALL_SHARE)
    return {f"system.{part}.bottom_share": low, f"system.{part}.top_share": round(low + TALL_SHARE, 2)}


def ways_out(document: Document, attempted: Values, error: InputError) -> list[tuple[str, Values]]:
    """Words and changes (values by path, in their own units, such as K) that make an attempted change possible.

    Only such as the whole document then allows, and that do not lead back to where it was.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    attempted
        Values by dotted path that were refused.
    error
        The refusal.

    Returns
    -------
    list[tuple[str, Values]]
        Words and changes (values by path, in their own units, such as K).
    """
    found = []
    tried = with_changes(document, attempted)
    for words, make in WAYS_OUT.get(error.name, ()):
        changes = {**attempted, **make(tried)}
        made = with_changes(document, changes)
        try:
            parse(made)
        except HeatError:
            continue
        if made != document:
            found.append((words, changes))
    return found
