"""Water that scalds and water that breeds: seconds to a burn, what stands in a pipe to a tap, hygiene guidelines."""

from itertools import pairwise
from math import ceil, exp, log, pi

from heat.common.documents import Document, Values
from heat.constants import WATER_J_KGK
from heat.control.timetable import pasteurising
from heat.design import Design
from heat.design.changing import with_changes
from heat.ledger import accounts as acc
from heat.ledger.year_book import YearBook
from heat.store.vessel import store_volume_l

BURNS = ((48.0, 900.0), (49.0, 570.0), (51.0, 240.0), (53.0, 90.0), (55.0, 30.0), (60.0, 5.0), (65.0, 1.5))
"""Water (°C) and time (s) until an adult's skin is burnt deep. Source: Moritz & Henriques (1947), Am. J. Pathol. 23,
695-720, figure and table, rounded."""
THREE_L = 3.0
"""Water that may stand in a pipe to a tap (L). Source: DVGW W 551, the rule of three litres."""
SMALL_L, SAFE_C = 400.0, 60.0
"""Water stored in a small system at most (L), and the temperature that keeps a system safe (°C). Source: DVGW W 551."""
TAP_L_S = 0.1
"""What a tap draws (L/s). Source: a basin, 6 L/min."""


def burns_in_s(water_c: float) -> float:
    """Time (s) until water (°C) burns deep; straight between the points in the logarithm of time, and on beyond them.

    Children and old people burn sooner. The table ends at 65 °C; hotter water never takes longer.

    Parameters
    ----------
    water_c
        Temperature of the water (°C).

    Returns
    -------
    float
        Time (s) until water (°C) burns deep; straight between the points in the logarithm of time, and on
        beyond them.
    """
    if water_c < BURNS[0][0]:
        return 86_400.0
    after = water_c
    for (a, slow), (b, fast) in pairwise(BURNS):
        after = log(slow) + (water_c - a) / (b - a) * (log(fast) - log(slow))
        if water_c <= b:
            break
    return exp(after)


BRANCH_GUESS_M = 8.0
"""Longest pipe to a tap until it is measured (m). Source: our own choice, for a house of two floors."""


def stagnant_l(length_m: float, bore_mm: float) -> float:
    """Water (L) that stands in a pipe of a length (m) and bore (mm).

    Parameters
    ----------
    length_m
        Length (m).
    bore_mm
        Bore (mm).

    Returns
    -------
    float
        Water (L).
    """
    return length_m * pi * (bore_mm / 1000.0) ** 2 / 4.0 * 1000.0


def dead_leg(design: Design) -> tuple[float, float]:
    """Water in the longest pipe to a tap (L), and how long a basin's tap waits for warm (s).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    tuple[float, float]
        Water in the longest pipe to a tap (L), and how long a basin's tap waits for warm (s).
    """
    typed = design.safety.branch_m
    litres = stagnant_l(BRANCH_GUESS_M if typed is None else typed, design.safety.branch_bore_mm)
    return litres, litres / TAP_L_S


def is_small_system(design: Design) -> bool:
    """Whether codes take the hot water for a small system: the store and the pipes to the taps hold little.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    bool
        Whether it is small: up to 400 L stored, up to 3 L in the longest pipe, no ring.

    References
    ----------
    DVGW W 551 (2004), 3.2: 400 L and 3 L; one- and two-family houses whatever they hold.
    """
    second = design.system.second_store
    stored = store_volume_l(design) + (second.volume_l * second.count if second.fitted else 0.0)
    return stored <= SMALL_L and dead_leg(design)[0] <= THREE_L and not design.demand.circulation.fitted


def made_safe_after(design: Design) -> bool:
    """Whether a heater after the store makes all that is drawn hot enough.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    bool
        Whether it leaves at 60 °C and more.
    """
    backup = design.system.backup
    return backup.tankless.fitted and design.demand.tap_c >= SAFE_C


def meanwhile(book: YearBook) -> tuple[float, float, float]:
    """While the store is pasteurised: hours that takes in the year (h), hours of them in which the sun's pump moved
    (h), and heat the circulation took in them (kWh).

    A pump that rests meanwhile cannot cool what must get hot.

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    tuple[float, float, float]
        While the store is pasteurised: hours that takes in the year (h), hours of them in which the sun's pump
        moved (h), and heat the circulation took in them (kWh).
    """
    hours = pasteurising(book.design)
    moved = book.traces[:, acc.PUMP_SHARE] > 0.0
    ring = float(book.books[hours][:, acc.TO_CIRCULATION].sum()) / 1000.0
    return float(hours.sum()), float((hours & moved).sum()), ring


DAILY, WEEKLY = "daily to 60 °C", "weekly to 70 °C, both stores, the sun's pump resting"
HYGIENE_GUIDELINES: dict[str, Values] = {
    DAILY: {"every_days": 1, "target_c": 60.0},
    WEEKLY: {"every_days": 7, "target_c": 70.0},
}
"""Plans of heating through (°C, days). Source: two rules of thumb of usual codes; the third keeps no drinking water."""
COLD_C, SPARE = 10.0, 1.25
"""A store is taken to be heated from this (°C), with that much more than it holds (1). Source: our own choice."""
COIL = "no drinking water in the store: a draw coil"


def plan_changes(document: Document, words: str) -> Values:
    """The values (°C, days, hours) that make a plan of heating through part of a design: the one plan of its words,
    wherever it is offered.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    words
        The plan's words, of HYGIENE_GUIDELINES.

    Returns
    -------
    Values
        Values by dotted path, hours enough for its heater to heat all that is stored from cold; an element of its own,
        used for nothing else, where nothing heats the store.
    """
    plan, backup = "system.backup.pasteurisation.", document["system"]["backup"]
    changes: Values = {f"{plan}{name}": value for name, value in HYGIENE_GUIDELINES[words].items()}
    changes |= {f"{plan}fitted": True, f"{plan}transfer_pump": True, "system.control.rests_while_pasteurising": True}
    heater = backup["boiler"] if backup["boiler"]["fitted"] else backup["element"]
    second = document["system"]["second_store"]
    litres = document["system"]["store"]["volume_l"] + (second["volume_l"] if second["fitted"] else 0.0)
    heat_kwh = litres * WATER_J_KGK * (changes[f"{plan}target_c"] - COLD_C) / 3.6e6
    changes[f"{plan}hours"] = min(max(ceil(SPARE * heat_kwh / heater["power_kw"]) + 1, 3), 12)
    if not (backup["element"]["fitted"] or backup["boiler"]["fitted"]):
        changes |= {"system.backup.element.fitted": True, "system.backup.element.hours_on": [False] * 24}
    return changes


def guidelines(document: Document) -> dict[str, Values]:
    """Each rule of thumb of hygiene as a whole document (values in their fields' units, such as °C): pasteurised daily
    or weekly by the element, or a draw coil.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    dict[str, Values]
        Each rule of thumb of hygiene as a whole document (values in their fields' units, such as °C).
    """
    made = {words: with_changes(document, plan_changes(document, words)) for words in HYGIENE_GUIDELINES}
    without = {"system.draw_coil.fitted": True, "system.backup.pasteurisation.fitted": False}
    made[COIL] = with_changes(document, without)
    return made
