"""The drawing through two days, for a reader who has nothing but a page: an hour, and what differs in the others."""

from dataclasses import replace
from typing import Any

from django.template.loader import render_to_string

from heat.ledger import BOUGHT
from web.present.drawing import drawing
from web.present.moment import default_day
from web.sheet.page import Sheet
from web.ui.calendar import date_of

SHOWN_HOUR = 13


def played(sheet: Sheet) -> dict[str, Any]:
    """Hours of a sunny day and of the day that buys most, as pieces of a picture that change."""
    bought = sheet.year.book.hourly(*BOUGHT).reshape(365, 24).sum(axis=1)
    days = dict.fromkeys((default_day(sheet), int(bought.argmax())))
    pictures = [(day, hour, _picture(sheet, day, hour)) for day in days for hour in range(24)]
    base = pictures[SHOWN_HOUR][2].split("<")
    hours = []
    for day, hour, picture in pictures:
        pieces = picture.split("<")
        same = len(pieces) == len(base)
        moved = [[i, text] for i, text in enumerate(pieces) if text != base[i]] if same else None
        if moved is not None:
            hours.append({"when": f"{date_of(day)}, {hour} h", "moved": moved})
    at = next((i for i, one in enumerate(hours) if not one["moved"]), 0)
    return {"drawn": pictures[SHOWN_HOUR][2], "when": hours[at]["when"], "at": at, "last": len(hours) - 1,
            "frames": {"base": base, "hours": hours}}  # fmt: skip


def _picture(sheet: Sheet, day: int, hour: int) -> str:
    one = replace(sheet, look=replace(sheet.look, day=day, hour=hour), shown_paths=set())
    page = render_to_string("present/drawing.html", {"d": drawing(one), "sheet": one, "read_only": True})
    return page[page.index("<svg") : page.rindex("</svg>") + 6]
