"""Inside the year: a carpet of hours of any quantity, the chosen day's traces, and its own account."""

import numpy as np

from heat.ledger import accounts as acc
from heat.ledger.events import events
from heat.ledger.year_book import BOUGHT, CARRIED, DELIVERED, LOSSES, SUN, YearBook
from web.editor.design_page import DesignPage
from web.presentation.account import LOSS_WORDS
from web.presentation.drawing import drawing
from web.presentation.moment import Moment, moment
from web.presentation.picture import SCALE
from web.steps.year.days import MOST_LINES, MOST_ROWS, days_picture
from web.steps.year.finding import EVENT_KINDS, answer, jumps, questions
from web.steps.year.quantities import accounts, every, names, quantities, quantity_text
from web.ui import units
from web.ui.calendar import MONTHS, date_of
from web.ui.png import banded

DAYS, HOURS_A_DAY = 365, 24
MONTH_STARTS = (0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334)
DAYS_DISPLAYED = (1, 3, 7, 14)


def hours_view(page: DesignPage) -> dict[str, object]:
    """The carpet of the chosen quantity, what to jump to, the chosen day and its account."""
    book, weather = page.year.book, page.weather
    now, happened = moment(page), events(book)
    return {
        "now": now,
        "date": date_of(now.day),
        "quantities": names(quantities(page)),
        "accounts": names(accounts(page)),
        **carpet(page, now),
        "bought": _bought(page, book),
        "jumps": jumps(book, weather),
        "wrong_date": page.state.wrong_date,
        "typed_date": page.state.typed_date,
        "questions": questions(happened),
        "answer": answer(page.state.question, happened[page.state.question], now)
        if page.state.question in EVENT_KINDS
        else None,
        "day": days_picture(page, book, weather, now, happened),
        "days_displayed": DAYS_DISPLAYED,
        "most": (MOST_LINES, MOST_ROWS),
        "account": day_account(page, book, now),
        "drawing": drawing(page),
        "scale": " ".join(SCALE),
    }


def usual_quantity(page: DesignPage) -> str:
    """What the carpet shows until another is chosen: the store's top, or a pool's warmth."""
    return "pool" if page.year.book.design.system.scheme.exchange == "pool" else "top"


def carpet(page: DesignPage, now: Moment) -> dict[str, object]:
    """365 days by 24 hours of the chosen quantity as a picture, its legend, and its value at the chosen hour."""
    has = every(page)
    key = page.state.chosen if page.state.chosen in has else usual_quantity(page)
    item = has[key]
    values = item.read(page.year.book, page.weather)
    low, high = item.ends(values)
    show = lambda v: page.show(v, item.unit, item.places)
    return {
        "key": key,
        "words": item.words,
        "sign": page.sign(item.unit),
        "carpet": banded(values.reshape(DAYS, HOURS_A_DAY).T, low, high, item.palette),
        "legend": [
            {"x": round(162 / len(item.palette) * i, 1), "fill": f"#{c.strip('#')}"} for i, c in enumerate(item.palette)
        ],
        "legend_step": round(162 / len(item.palette), 2),
        "low": show(low),
        "middle": show((low + high) / 2),
        "high": show(high),
        "at_x": round(1000 * (now.day + 0.5) / DAYS, 2),
        "hour_y": 7.5 * now.hour,
        "value": quantity_text(page, item, float(values[now.index])),
        "extremes": f"{show(float(np.nanmin(values)))} to {show(float(np.nanmax(values)))}"
        if np.isfinite(values).any()
        else "none",
        "months": [{"x": round(1000 * d / DAYS, 1), "name": m} for d, m in zip(MONTH_STARTS, MONTHS, strict=True)],
    }


def carpet_values(page: DesignPage) -> dict[str, object]:
    """The carpet's 8,760 values in words, for the pointer that passes over it."""
    has = every(page)
    item = has.get(page.state.chosen) or has[usual_quantity(page)]
    values = item.read(page.year.book, page.weather)
    return {
        "words": item.words,
        "sign": page.sign(item.unit),
        "values": [quantity_text(page, item, float(v)) for v in values],
    }


def _bought(page: DesignPage, book: YearBook) -> dict[str, object]:
    """Bought heat by day and by hour of the day, as red bars."""
    hourly = (book.hourly(*BOUGHT) / 1000.0).reshape(DAYS, HOURS_A_DAY)
    daily, clock = hourly.sum(axis=1), hourly.sum(axis=0)
    top, most = max(float(daily.max()), 1e-9), max(float(clock.max()), 1e-9)
    path = "".join(
        f"M{1000 * (d + 0.5) / DAYS:.1f},0v{36 * v / top:.1f}" for d, v in enumerate(daily) if v > 0.01 * top
    )
    return {
        "path": path,
        "top": f"({page.show(float(daily.max()), 'kWh', 1)})",
        "clock": [{"y": 6.25 * h, "w": round(48 * v / most, 1)} for h, v in enumerate(clock)],
        "most_y": round(6.25 * int(clock.argmax()) + 6, 1),
        "most": f"({page.show(float(clock.max()), 'kWh')})",
    }


def day_account(page: DesignPage, book: YearBook, now: Moment) -> dict[str, object]:
    """What the day, and its chosen hour, received and spent; stored heat stands on the side it came from."""
    day = book.books[HOURS_A_DAY * now.day : HOURS_A_DAY * (now.day + 1)].sum(axis=0) / 1000.0
    total = lambda columns, row: float(row[list(columns)].sum())
    stored = total(CARRIED, day)
    received = [("Sun received", total(SUN, day), False), ("Bought", total(BOUGHT, day), True)]
    received.append(("Own wood", total((acc.OWN_STOVE,), day), False))
    spent = [("Delivered", total(DELIVERED, day), False)]
    spent += [(f"Lost: {LOSS_WORDS[name][0]}", total(columns, day), False) for name, columns in LOSSES.items()]
    (received if stored < 0 else spent).append(
        ("Taken out of store and pipes" if stored < 0 else "Kept in store and pipes", abs(stored), False)
    )
    usual = {"Sun received", "Bought", "Delivered"}
    line = lambda words, kwh, red: {
        "words": words,
        "text": f"({page.show(kwh, 'kWh', 2)})" if red else page.show(kwh, "kWh", 2),
        "red": red,
    }
    hour = book.books[now.index] / 1000.0
    lost = [column for columns in LOSSES.values() for column in columns]
    return {
        "received": [line(*row) for row in received if row[0] in usual or abs(row[1]) >= 0.005],
        "spent": [line(*row) for row in spent if row[0] in usual or abs(row[1]) >= 0.005],
        "in": page.show(sum(r[1] for r in received), "kWh", 2),
        "out": page.show(sum(r[1] for r in spent), "kWh", 2),
        "residual": f"{abs(sum(r[1] for r in received) - sum(r[1] for r in spent)):.0e}",
        "hour": [
            ("Sun", page.show(total(SUN, hour), "kWh", 2), False),
            ("Bought", f"({page.show(total(BOUGHT, hour), 'kWh', 2)})", True),
            ("Delivered", page.show(total(DELIVERED, hour), "kWh", 2), False),
            ("Lost", page.show(total(lost, hour), "kWh", 2), False),
            ("Stored", page.show(total(CARRIED, hour), "kWh", 2), False),
        ],
        "missing": page.show(float(day[acc.UNMET]), "kWh", 2) if day[acc.UNMET] >= 0.005 else "",
        "number": units.number(now.index + 1, 0),
    }
