"""The shape of the year: heat flowing from sun to use, hours sorted by temperature, months, seasons by the hour."""

import numpy as np
from numpy.typing import NDArray

from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, CARRIED, DELIVERED, LOSSES, NEEDED, SOLAR_IN, SUN, YearBook
from web.editor.design_page import DesignPage
from web.presentation.account import LOSS_WORDS
from web.presentation.picture import spread_labels
from web.steps.year.quantities import at_tap_c
from web.ui import units
from web.ui.calendar import MONTHS
from web.ui.rows import Row

Array = NDArray[np.float64]
FLOW_HEIGHT, FLOW_TOP = 190.0, 30.0
START_W, LOSSES_W, END_W = 180.0, 680.0, 210.0
"""The stream's picture: height, top, and the widths of its beginning, of all losses and of its end (SVG units)."""
SEASONS = (("Dec to Feb", (11, 0, 1)), ("Mar to May", (2, 3, 4)), ("Jun to Aug", (5, 6, 7)), ("Sep to Nov", (8, 9, 10)))
HOURS_OF = np.repeat(np.arange(12), [744, 672, 744, 720, 744, 720, 744, 744, 720, 744, 720, 744])
SORTED_POINTS = 120
HIGHEST_C = 100.0


def shape_view(page: DesignPage) -> dict[str, object]:
    """Four pictures of the year, each with its figures in words."""
    book = page.year.book
    return {
        "flow": flow(page, book),
        "sorted": sorted_hours(page, book),
        "months": months(book),
        "seasons": seasons(page, book),
        "sign": page.sign("kWh"),
        "degree": page.sign("degC"),
    }


def flow(page: DesignPage, book: YearBook) -> dict[str, object]:
    """Heat from the sun to the uses: a stream as wide as what it carries, losses leaving it one after the other (SVG
    units)."""
    sun, bought, wood = book.total(*SUN), book.total(*BOUGHT), book.total(acc.OWN_STOVE)
    scale = FLOW_HEIGHT / max(sun + wood + bought, 1e-9)
    left = sun
    bands, x = [], START_W
    economics = sum(abs(book.total(*columns)) >= 0.5 for columns in LOSSES.values())
    step = LOSSES_W / max(economics, 1)
    for name, columns in LOSSES.items():
        lost = book.total(*columns)
        if abs(lost) < 0.5:
            continue
        left -= lost
        width = max(lost * scale, 0.0)
        y = FLOW_TOP + left * scale
        bands.append(
            {
                "words": LOSS_WORDS[name][0],
                "text": page.show(lost, "kWh"),
                "x": x + 30,
                "from": round(y + width / 2, 1),
                "w": round(max(width, 0.6), 1),
                "drop": f"M{x - 20:.1f},{y + width / 2:.1f}C{x + 20:.1f},{y + width / 2:.1f} "
                f"{x + 30:.1f},{y + width / 2 + 8:.1f} {x + 30:.1f},250",
                "stream": f"M{x:.1f},{FLOW_TOP}h{step:.1f}v{max(left, 0) * scale:.1f}h{-step:.1f}z",
            }
        )
        x += step
    delivered = book.total(*DELIVERED)
    carried = book.total(*CARRIED)
    return {
        "bands": bands,
        "sun": page.show(sun, "kWh"),
        "sun_h": round(sun * scale, 1),
        "start": f"M0,{FLOW_TOP}h{START_W}v{sun * scale:.1f}h{-START_W}z",
        "bought": page.show(bought, "kWh"),
        "bought_h": round(bought * scale, 1),
        "bought_y": round(FLOW_TOP + (max(left, 0) + wood) * scale, 1),
        "wood": page.show(wood, "kWh") if wood >= 0.5 else "",
        "wood_h": round(wood * scale, 1),
        "wood_y": round(FLOW_TOP + max(left, 0) * scale, 1),
        "end_x": round(x, 1),
        "end": f"M{x:.1f},{FLOW_TOP}h{END_W}v{(max(left, 0) + wood + bought) * scale:.1f}h{-END_W}z",
        "end_h": round((max(left, 0) + wood + bought) * scale, 1),
        "delivered": page.show(delivered, "kWh"),
        "carried": page.show(carried, "kWh"),
        "top": FLOW_TOP,
        "share": units.number(100 * (delivered - bought - wood) / max(sun, 1e-9), 0),
    }


def sorted_hours(page: DesignPage, book: YearBook) -> dict[str, object]:
    """How many hours the store's top and foot (or the pool), and the water drawn, were at least so warm (SVG units)."""
    drawn = book.traces[:, acc.HOT_LITRES] > 0
    pool = book.design.system.scheme.exchange == "pool"
    rows = [] if pool else [("Store top", book.profile[:, -1], ""), ("Store bottom", book.profile[:, 0], "5 3")]
    if book.design.demand.pool.fitted:
        rows.append(("Pool", book.traces[:, acc.POOL_C], ""))
    if drawn.any():
        if not pool:
            rows.append(("Leaving the store", book.traces[drawn, acc.TAP_C], "1 2"))
        reached = at_tap_c(book)
        rows.append(("At the tap", reached[np.isfinite(reached)], "8 2 2 2"))
    x = lambda share: 44 + 400 * share
    y = lambda c: 10 + 190 * (HIGHEST_C - min(max(c, 0.0), HIGHEST_C)) / HIGHEST_C
    lines = []
    for words, values, dash in rows:
        ranked = np.sort(values)[::-1]
        picks = np.linspace(0, len(ranked) - 1, SORTED_POINTS).astype(int)
        points = [f"{x(i / max(len(ranked) - 1, 1)):.1f},{y(float(ranked[i])):.1f}" for i in picks]
        lines.append(
            {
                "d": "M" + "L".join(points),
                "words": words,
                "dash": dash,
                "end": y(float(ranked[-1])),
                "median": page.show(float(np.median(values)), "degC", 0),
            }
        )
    lines.sort(key=lambda line: line["end"])
    for line, place in zip(lines, spread_labels([line["end"] + 4 for line in lines], 15.0, 20.0, 200.0), strict=True):
        line["y"] = round(place, 1)
    above = int((book.profile[:, -1] >= book.design.demand.tap_c).sum())
    return {
        "lines": lines,
        "levels": [{"y": y(c), "text": page.show(c, "degC", 0)} for c in (0, 20, 40, 60, 80, 100)],
        "across": [{"x": x(s), "text": units.number(8760 * s, 0)} for s in (0, 0.25, 0.5, 0.75, 1.0)],
        "above": "" if pool else units.number(above, 0),
        "tap": f"{page.show(book.design.demand.tap_c, 'degC', 0)} {page.sign('degC')}",
    }


def months(book: YearBook) -> list[Row]:
    """Solar fraction of each month, and its days with nothing bought or missing."""
    daily = book.hourly(*BOUGHT, acc.UNMET).reshape(365, 24).sum(axis=1)
    month_of_day = HOURS_OF[::24]
    rows = []
    for m, fraction in enumerate(book.fraction_by_month()):
        mine = daily[month_of_day == m]
        free = int((mine < 1.0).sum())
        bar = min(max(float(fraction), 0.0), 1.0)
        rows.append(
            {
                "name": MONTHS[m],
                "x": 34 + 36 * m,
                "h": round(150 * bar, 1),
                "y": round(164 - 150 * bar, 1),
                "rest": round(150 - 150 * bar, 1),
                "text": units.number(100 * float(fraction), 0),
                "free": free,
                "days": mine.size,
            }
        )
    return rows


def seasons(page: DesignPage, book: YearBook) -> list[Row]:
    """What is asked for and what the sun brings into the store, by the hour of the day in four seasons."""
    need, sun = book.hourly(*NEEDED) / 1000.0, book.hourly(*SOLAR_IN) / 1000.0
    rows = []
    clock = np.arange(8760) % 24
    means = []
    for _words, wanted in SEASONS:
        inside = np.isin(HOURS_OF, wanted)
        means.append([np.array([values[inside & (clock == h)].mean() for h in range(24)]) for values in (need, sun)])
    top = max(float(v.max()) for pair in means for v in pair) or 1.0
    for (words, _wanted), (requested, brought) in zip(SEASONS, means, strict=True):
        path = (
            "M4,96"
            + "".join(f"L{4 + 9 * h:.1f},{96 - 84 * v / top:.1f}h9" for h, v in enumerate(requested))
            + "L220,96z"
        )
        bars = "".join(f"M{4 + 9 * h + 4.5:.1f},96v{-84 * v / top:.1f}" for h, v in enumerate(brought) if v > 0)
        rows.append(
            {
                "words": words,
                "need": path,
                "sun": bars,
                "requested": page.show(float(requested.sum()), "kWh", 1),
                "brought": page.show(float(brought.sum()), "kWh", 1),
            }
        )
    return rows
