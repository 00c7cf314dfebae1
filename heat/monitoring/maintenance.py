"""Upkeep: what this design asks for, how often, and when in the year; dates from what was done last."""

import calendar
from dataclasses import dataclass
from datetime import date, timedelta

from heat.ledger import accounts as acc
from heat.ledger.year_book import YearBook

FLUID_YEARS, LEAST_YEARS = 5.0, 1.0
"""Life of antifreeze that never gets hot (years), and the least between changes. Source: usual makers' sheets, 3 to 5
years; whatever is hot beyond its limit ends it sooner."""
AUTUMN, SPRING, SUMMER = 10, 4, 8
"""Months (1 to 12) in the north; half a year on in the south."""


@dataclass(frozen=True)
class Task:
    """A task: key, words, why, months between (1), the month it belongs to (1 to 12, none: any), who may do it."""

    key: str
    words: str
    why: str
    every_months: int
    month: int | None = None
    day: int = 1
    trade: str = ""


def fluid_years(book: YearBook) -> float:
    """Years until this antifreeze is spent: its hours above 120 °C against its limit, five at most.

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    float
        Years until this antifreeze is spent: its hours above 120 °C against its limit, five at most.
    """
    hot_h = float(book.traces[:, acc.HOT_120_SHARE].sum())
    return min(FLUID_YEARS, max(book.design.safety.fluid_limit_h / hot_h if hot_h > 0.0 else FLUID_YEARS, LEAST_YEARS))


def tasks(book: YearBook) -> list[Task]:
    """Every task of a year's design, in the order of how often (months, days of the year).

    Parameters
    ----------
    book
        The year's results.

    Returns
    -------
    list[Task]
        Every task of a year's design, in the order of how often (months, days of the year).
    """
    design = book.design
    system, scheme = design.system, design.system.scheme
    south = design.site.latitude_deg < 0
    month = lambda m: (m + 5) % 12 + 1 if south else m
    pool, has_store = scheme.exchange == "pool", scheme.exchange != "pool"
    found = [
        Task(
            "leaks",
            "Look for leaks and wet insulation; read the gauge",
            "a slow leak lets air in and empties the loop",
            6,
        ),
        Task(
            "fixings",
            "Fixings, bolts and roof entries before the windy season",
            "bolts work loose, sealant ages",
            12,
            month(AUTUMN - 1),
            trade="whoever is safe on a roof",
        ),
        Task(
            "glass",
            "Glass: dirt, cracks, mist; the pocket of water of a collector out of level",
            "dirt takes its share of every hour",
            12,
            month(SPRING),
        ),
    ]
    if scheme.driven_by == "pump":
        found.append(
            Task(
                "pump",
                "Pump, control and sensors: read each sensor against a thermometer",
                "a sensor that drifts runs the pump at night",
                12,
                month(SPRING),
            )
        )
        if not scheme.drains and not pool:
            found.append(Task("air", "Let air out at the top", "air stops the loop", 12, month(SPRING)))
    if system.loop.glycol_percent > 0 and scheme.driven_by != "none":
        found.append(
            Task(
                "frost",
                "Antifreeze: first ice and acidity measured",
                "cooked fluid freezes and eats copper",
                12,
                month(AUTUMN),
                trade="a trade that disposes of it",
            )
        )
        years = fluid_years(book)
        often = f"every {years:.0f} years" if years >= 1.5 else "every year"
        spent = "its inhibitors are spent by age and by hours above its limit"
        found.append(Task("fluid", f"Antifreeze changed, {often}", spent, round(12 * years)))
    if has_store:
        found.append(
            Task(
                "relief",
                "Relief valves tried by hand",
                "one that sticks is none",
                12,
                trade="a plumber where the code asks for one",
            )
        )
        if not (scheme.draw_coil or system.draw_coil.fitted):
            found.append(Task("anode", "Anode looked at, or its current read", "a spent anode lets the tank rust", 24))
    if system.store.open_vented or scheme.vented:
        found.append(Task("level", "Level of the open tank; water made up", "it boils off and dries out", 2))
    if pool:
        found.append(
            Task("filter", "Filter washed back; chemistry measured", "a clogged filter starves the collectors", 1)
        )
    if system.backup.stove.fitted:
        found.append(
            Task(
                "stove",
                "Chimney swept; stove's water jacket and its open path looked at",
                "a closed path makes a boiler of it",
                12,
                month(SUMMER),
                trade="a chimney sweep",
            )
        )
    control = system.control
    if (control.season_from_day, control.season_to_day) != (1, 365):
        for key, words, day in (
            ("fill", "Filled and put to work", control.season_from_day),
            ("drain", "Drained for the winter, drain left open", control.season_to_day),
        ):
            at = date(2001, 1, 1) + timedelta(days=day - 1)
            found.append(Task(key, words, "water outdoors freezes", 12, at.month, at.day))
    return sorted(found, key=lambda task: task.every_months)


def due(task: Task, done: date | None, began: date) -> date:
    """When a task is due: its months after it was done last, or after the system began; in its month.

    Parameters
    ----------
    task
        The task.
    done
        When it was done last; None for never.
    began
        When the system began.

    Returns
    -------
    date
        When a task is due: its months after it was done last, or after the system began; in its month.
    """
    last = done or began
    months = last.month - 1 + task.every_months
    year, month = last.year + months // 12, months % 12 + 1
    if task.month is None:
        return date(year, month, min(last.day, calendar.monthrange(year, month)[1]))
    first = date(last.year, task.month, task.day)
    gap = 31 * task.every_months // 2 if done else 0  # done a little early counts for this year's
    while first <= last + timedelta(days=gap):
        first = date(first.year + 1, task.month, task.day)
    return first
