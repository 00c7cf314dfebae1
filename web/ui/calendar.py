"""Days of the year as people write them."""

import re
from datetime import date

from heat.constants import HOURS_OF_MONTH

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def day_number(text: str) -> int:
    """Day of the year (1 to 365) of a date such as “24 Dec”, “Dec 24” or “24.12.”."""
    month = next((m for m, name in enumerate(MONTHS) if name.lower() in text.lower()), None)
    numbers = [int(n) for n in re.findall(r"\d+", text)]
    if month is None and len(numbers) == 2:
        month = numbers.pop() - 1
    if month is None or len(numbers) != 1 or not 0 <= month < 12 or not 1 <= numbers[0] <= HOURS_OF_MONTH[month] // 24:
        raise ValueError(f"“{text.strip()[:20]}” is not a day of the year; write it as 24 Dec.")
    return sum(HOURS_OF_MONTH[:month]) // 24 + numbers[0]


def day_text(day: int) -> str:
    """A day of the year (1 to 365) as it is typed."""
    left = day
    for month, hours in enumerate(HOURS_OF_MONTH):
        if left <= hours // 24:
            return f"{left} {MONTHS[month]}"
        left -= hours // 24
    return ""


def date_of(day: int) -> str:
    """A day of the year (0 to 364) as day and month."""
    return day_text(day + 1)


def date_typed(text: str, us: bool = False) -> date:
    """A date as people write it: “28 Nov 2026”, “Nov 28, 2026”, “28.11.2026”, “2026-11-28”, “28/11/2026”.

    With ``us`` the month comes first where both are numbers parted by slashes. Raises ValueError with words.
    """
    numbers = [int(n) for n in re.findall(r"\d+", text)[:4]]
    named = [m for m, name in enumerate(MONTHS, start=1) if name.lower() in text.lower()]
    try:
        if re.match(r"\s*\d{4}\D", text):
            year, month, day = numbers
        elif named:
            (day, year), month = numbers, named[0]
        elif us and "/" in text:
            month, day, year = numbers
        else:
            day, month, year = numbers
        return date(year, month, day)
    except ValueError as error:
        raise ValueError(f"“{text.strip()[:20]}” is not a date; write it as 28 Nov 2026.") from error


def date_text(day: date) -> str:
    """A date as the pages write it and :func:`date_typed` reads it."""
    return f"{day.day} {MONTHS[day.month - 1]} {day.year}"
