"""Days of the year as people write them."""

import re

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
