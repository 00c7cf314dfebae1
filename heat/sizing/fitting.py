"""Which kinds of system fit what is wanted and the frost of the place, the fittest first, and why the rest do not."""

from dataclasses import dataclass, replace

from heat.design.schemes import SCHEMES
from heat.sizing.requirements import Wishes

HARD_FROST_C, FROST_C = -10.0, 0.0
"""Air (°C) at which thin outdoor pipes full of water are hard to keep, and at which they freeze."""
LIGHT_FROST_C = -5.0
"""Air (°C) down to which a warm tank and its short, wrapped pipes are kept through single nights. Source: trade
practice with stores that are their own collectors."""
IN_LIGHT_FROST = "Frost here is light and short: wrap its pipes well, and drain it before a cold spell."
LARGE_PEOPLE = 12.0
"""People (1) from whose hot water on a plate exchanger is the usual choice. Source: trade practice, 15 to 20 m²."""
BY_HAND = ("thermosiphon_open", "seasonal_preheat", "bag", "drain_down")
"""Kinds that ask for hands: built on site, or drained and filled with the seasons."""
FROST_FREE = ("sealed", "direct", "batch_bought", "bank_bought")
"""Ideas that lead where frost never comes: no antifreeze, the fewest parts."""


@dataclass(frozen=True)
class Idea:
    """A scheme that fits: its kind, the collector's key in the catalogue, words, and why it fits (no unit)."""

    kind: str
    collector: str
    words: str
    reasons: tuple[str, ...]


@dataclass(frozen=True)
class LeftOut:
    """A kind that does not fit, and why (no unit)."""

    kind: str
    why: str


IDEAS: dict[str, Idea] = {
    "coil": Idea(
        "pumped_coil",
        "flat_selective",
        "pumped loop with antifreeze, coil in the store",
        ("The usual way, known to every installer; the fluid is tested every few years.",),
    ),
    "tubes": Idea(
        "pumped_coil",
        "tube_heatpipe",
        "pumped loop, evacuated tubes",
        ("Less glass on the roof for the same heat in cold or cloudy air.",),
    ),
    "drainback": Idea(
        "drainback",
        "flat_selective",
        "drainback",
        (
            "Plain water that runs back when the pump stops: nothing to freeze or boil, no antifreeze to test.",
            "The pipes must slope all the way.",
        ),
    ),
    "plate": Idea(
        "pumped_plate",
        "flat_selective",
        "pumped loop, plate exchanger beside the store",
        ("Any store will do, also several; layers stay apart. A second pump and a plate that limes up.",),
    ),
    "passive": Idea(
        "pumped_passive",
        "flat_selective",
        "exchanger beside the store whose water moves by itself",
        ("Made for a tank that is already there: no second pump, no coil inside.",),
    ),
    "sealed": Idea(
        "thermosiphon_sealed",
        "flat_selective",
        "thermosiphon, sealed with a jacket",
        ("No pump and no controller: weight moves the fluid. The store stands above the collectors.",),
    ),
    "open": Idea(
        "thermosiphon_open",
        "site_parallel",
        "site-built collector below an open store",
        ("Weight moves the water; only the store must stand above the collector.",),
    ),
    "preheat": Idea(
        "seasonal_preheat",
        "site_parallel",
        "preheat tank, its collectors emptied for the cold months",
        (
            "Plain water in tube and sheet, drained by hand before the frost.",
            "The sun warms the water before the heater that is there; half a year’s work for little money.",
        ),
    ),
    "direct": Idea(
        "direct",
        "flat_selective",
        "store water through the collectors",
        ("No exchanger and no antifreeze where frost never comes.",),
    ),
    "drain_down": Idea(
        "drain_down",
        "flat_selective",
        "store water, let out before frost",
        ("No exchanger; a valve must open every cold night of the system’s life.",),
    ),
    "batch": Idea(
        "batch_tank",
        "batch",
        "batch tank: the store is the collector",
        (
            "No pump, no controller, nothing to break; built from a tank, a box and glass.",
            "Warmest in the evening, cool by morning: it fits evening households.",
        ),
    ),
    "batch_bought": Idea(
        "batch_tank",
        "batch",
        "batch tank, bought ready: the store is the collector",
        (
            "No pump, no controller, no store indoors: cold water in, warm water out.",
            "Full it is heavy: the roof has to bear it. Warmest in the evening, cool by morning.",
        ),
    ),
    "bank_bought": Idea(
        "tube_bank",
        "batch",
        "bank of wide tubes, bought ready: the store is the collector",
        (
            "No pump and no controller; more surface for its water than one tank, warm sooner, and sooner cool.",
            "Full it is heavy: the roof has to bear it.",
        ),
    ),
    "bank": Idea(
        "tube_bank",
        "batch",
        "bank of wide tubes: the store is the collector",
        ("A batch tank made of tubes: more surface for its water, warm sooner, and sooner cool.",),
    ),
    "bag": Idea(
        "bag",
        "batch",
        "flat water bag with a draw coil",
        ("The cheapest square metre there is; flat ground or a flat roof that bears the water.",),
    ),
    "combi": Idea(
        "combi",
        "flat_selective",
        "hot water and rooms, flat plates",
        (
            "Rooms want heat when the sun is low: a steep plane, and a place for summer’s surplus to go.",
            "Flat plates shed snow and cost less.",
        ),
    ),
    "combi_tubes": Idea(
        "combi",
        "tube_heatpipe",
        "hot water and rooms, evacuated tubes",
        ("Tubes keep their heat at winter’s large lead over the air; in mild air the gain over plates is small.",),
    ),
    "mats": Idea(
        "pool_direct",
        "unglazed",
        "unglazed pool mats, pool water through them",
        (
            "A pool wants little more than air temperature: without glass little heat is lost, and least money spent.",
            "Nothing to keep but draining for the winter.",
        ),
    ),
    "glazed_pool": Idea(
        "pool_direct",
        "flat_black",
        "glazed collectors, pool water through them",
        ("Longer season and windy places; dearer for each kWh.",),
    ),
}
"""Every idea by name. A kind may have several, with other collectors."""
ORDER: dict[str, tuple[str, ...]] = {
    "least": ("drainback", "sealed", "direct", "batch_bought", "bank_bought", "coil", "tubes", "plate", "passive"),
    "yearly": ("coil", "drainback", "tubes", "plate", "passive", "sealed", "direct", "batch_bought", "bank_bought"),
    "tinker": (
        "batch",
        "open",
        "preheat",
        "coil",
        "bank",
        "bag",
        "drainback",
        "drain_down",
        "tubes",
        "plate",
        "passive",
        "sealed",
        "direct",
    ),
}
"""Ideas for hot water by how much care the owner gives, the fittest first."""


def fitting(wishes: Wishes, coldest_c: float) -> tuple[list[Idea], list[LeftOut]]:
    """The ideas that fit, the fittest first, and the kinds that do not with the reason.

    Parameters
    ----------
    wishes
        What is asked of the system.
    coldest_c
        Air of the coldest hour (°C).

    Returns
    -------
    tuple[list[Idea], list[LeftOut]]
        The ideas that fit, the fittest first, and the kinds that do not with the reason.
    """
    names = _names(wishes, coldest_c)
    fit = [IDEAS[name] for name in names]
    if wishes.showers:
        stay = ("The showers stay with the backup.",)
        fit = [replace(i, reasons=i.reasons + stay) if i.kind == "pool_direct" else i for i in fit]
    if coldest_c < FROST_C:
        hint = (IN_LIGHT_FROST,)
        fit = [replace(i, reasons=i.reasons + hint) if SCHEMES[i.kind].driven_by == "none" else i for i in fit]
    kinds = {idea.kind for idea in fit}
    return fit, [LeftOut(kind, _why_not(kind, wishes, coldest_c)) for kind in SCHEMES if kind not in kinds]


def _names(wishes: Wishes, coldest_c: float) -> list[str]:
    if wishes.only_pool:
        return ["mats", "glazed_pool"]
    if wishes.rooms:
        return ["combi", "combi_tubes"]
    order = list(ORDER[wishes.care])
    if wishes.care != "tinker" and coldest_c >= FROST_C:
        order.sort(key=lambda name: FROST_FREE.index(name) if name in FROST_FREE else len(FROST_FREE))
    if wishes.people >= LARGE_PEOPLE and "plate" in order:
        order.remove("plate")
        order.insert(0, "plate")
    found = [name for name in order if not _why_not(IDEAS[name].kind, wishes, coldest_c)]
    if wishes.pool and not wishes.hot_water:
        found.insert(1, "mats")
    return found


def _why_not(kind: str, wishes: Wishes, coldest_c: float) -> str:
    """Why a kind does not fit (coldest air in °C); empty where it does."""
    scheme = SCHEMES[kind]
    if wishes.only_pool:
        return "" if scheme.exchange == "pool" else "a pool alone needs no store and no exchanger"
    if scheme.exchange == "pool":
        if not wishes.pool:
            return "no pool is to be heated"
        return "it warms the pool alone, and hot water is wanted" if wishes.hot_water or wishes.rooms else ""
    if wishes.rooms:
        return "" if kind == "combi" else "its store feeds no rooms"
    if kind == "combi":
        return "no rooms are to be heated"
    return frost_reason(kind, coldest_c) or _hands(kind, wishes) or _pool_beside(kind, wishes)


def frost_reason(kind: str, coldest_c: float) -> str:
    """Why the coldest air (°C) rules a kind out; empty where it does not.

    Parameters
    ----------
    kind
        Kind of system.
    coldest_c
        Air of the coldest hour (°C).

    Returns
    -------
    str
        Why the coldest air (°C) rules a kind out; empty where it does not.
    """
    if kind in ("direct", "thermosiphon_open", "bag") and coldest_c < FROST_C:
        return "its water stands outdoors and would freeze"
    if kind == "drain_down" and coldest_c < HARD_FROST_C:
        return "frost here is too hard for its outdoor water"
    if kind in ("batch_tank", "tube_bank") and coldest_c < LIGHT_FROST_C:
        return "its water and pipes stand outdoors and would freeze in cold spells"
    if kind == "seasonal_preheat" and coldest_c >= FROST_C:
        return "there is no frost to drain it for: store water all year does more"
    return ""


def _hands(kind: str, wishes: Wishes) -> str:
    if kind in BY_HAND and wishes.care != "tinker":
        return "it wants a hand with the seasons or is built on site: choose “I build and tinker”"
    return ""


def _pool_beside(kind: str, wishes: Wishes) -> str:
    if wishes.pool and SCHEMES[kind].driven_by != "pump":
        return "its store is too small to warm a pool besides"
    return ""
