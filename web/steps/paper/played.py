"""The drawing through two days, for a reader who has nothing but a page: an hour, and what differs in the others."""

from dataclasses import replace

from django.template.loader import render_to_string

from heat.ledger.year_book import BOUGHT
from web.editor.design_page import DesignPage
from web.presentation.drawing import drawing
from web.presentation.moment import default_day
from web.ui.calendar import date_of

DISPLAYED_HOUR = 13


def played(page: DesignPage) -> dict[str, object]:
    """Hours of a sunny day and of the day that buys most, as pieces of a picture that change."""
    bought = page.year.book.hourly(*BOUGHT).reshape(365, 24).sum(axis=1)
    days = dict.fromkeys((default_day(page), int(bought.argmax())))
    pictures = [(day, hour, _picture(page, day, hour)) for day in days for hour in range(24)]
    base = pictures[DISPLAYED_HOUR][2].split("<")
    hours = []
    for day, hour, picture in pictures:
        fragments = picture.split("<")
        same = len(fragments) == len(base)
        moved = [[i, text] for i, text in enumerate(fragments) if text != base[i]] if same else None
        if moved is not None:
            hours.append({"when": f"{date_of(day)}, {hour} h", "moved": moved})
    at = next((i for i, one in enumerate(hours) if not one["moved"]), 0)
    return {
        "drawn": pictures[DISPLAYED_HOUR][2],
        "when": hours[at]["when"],
        "at": at,
        "last": len(hours) - 1,
        "frames": {"base": base, "hours": hours},
    }


def _picture(page: DesignPage, day: int, hour: int) -> str:
    one = replace(page, state=replace(page.state, day=day, hour=hour), displayed_paths=set())
    context = render_to_string("presentation/drawing.html", {"d": drawing(one), "page": one, "read_only": True})
    return context[context.index("<svg") : context.rindex("</svg>") + 6]
