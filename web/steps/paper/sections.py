"""The sections of a report: what each says of a design, in the reader's units, all from the year and its papers."""

from calendar import month_name
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from heat import ENGINE_VERSION
from heat.common.documents import Document
from heat.design import Design, field_at
from heat.economics.cash import ledger
from heat.economics.offer import Offered
from heat.economics.offer import offered as offered_at
from heat.economics.parts_list import GROUPS
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, DELIVERED, SOLAR_IN, SUN
from web.editor.design_page import DesignPage
from web.editor.typed import quantity_of
from web.jobs.bands import fraction_edges
from web.presentation.acknowledged import answered
from web.presentation.against import measured_against
from web.presentation.band import widened
from web.presentation.cautions.unseen import not_looked_at
from web.presentation.certificates import certificates_of, missing_text
from web.presentation.drawing import drawing
from web.presentation.kinds import KINDS
from web.presentation.loads import load_view
from web.presentation.sized import loop_view, pressure_view
from web.prices.books import prices_for
from web.simulations.beside import Figures, figures_of
from web.simulations.rough import is_rough, sun_uncertainty
from web.steps.paper.commissioning import commissioning
from web.steps.paper.on_site import feasible, sun, valves
from web.ui import units
from web.ui.calendar import MONTHS
from web.ui.glossary import terms
from web.ui.money import places
from web.ui.rows import Row

MOST_COMPARED, MOST_NAMED = 8, 6
"""Designs side by side on a page; names of a list that are given."""


@dataclass(frozen=True)
class Section:
    """A section by key and title: what its template needs, whether it speaks of one design, whether it is usual."""

    key: str
    title: str
    build: Callable[[DesignPage], Row]
    own: bool = True
    usual: bool = True

    @property
    def template(self) -> str:
        """The template it is written with."""
        return f"paper/sections/{self.key}.html"


def offer(page: DesignPage) -> Offered:
    """The design's money at its prices."""
    return offered_at(page.parsed, page.year.book, prices_for(page.project.books, page.document))


def key_figures(page: DesignPage) -> list[dict[str, object]]:
    """What a design comes to, in six numbers."""
    book, band = page.year.book, fraction_edges(page.design)
    sure = ""
    if band and band.fits:
        low, high = widened(book, page.weather, band.low, band.high)
        sure = f"{100 * low:.0f} to {100 * high:.0f} %, eight of ten such plants"
    if book.fractions.of_wood > 0.0005:
        sure = "; ".join(
            part for part in (sure, f"own wood carries {units.number(100 * book.fractions.of_wood, 1)} %") if part
        )
    money, gross = offer(page), book.yield_kwh_m2()[0]
    kwh = lambda v: f"{page.show(v, 'kWh', 0)} {page.sign('kWh')}"
    return [
        {
            "words": "of the heat comes from the sun",
            "value": f"{units.number(100 * book.fractions.at_tap, 1)} %",
            "note": sure,
        },
        {"words": "bought in a year", "value": f"({kwh(book.total(*BOUGHT))})", "red": True, "note": ""},
        {
            "words": "brought by each area of collector",
            "value": f"{page.show(gross, 'kWh/m2', 0)} {page.sign('kWh/m2')}",
            "note": "",
        },
        {"words": "first cost", "value": page.money(float(money.cost)), "note": "at the prices of this offer"},
        {"words": "saved in the first year", "value": page.money(money.energy.saved), "note": "energy, pumps paid"},
        {
            "words": "of CO₂ saved in a year",
            "value": f"{page.show(money.energy.co2_saved_kg, 'kg', 0)} {page.sign('kg')}",
            "note": "",
        },
    ]


def cover(page: DesignPage) -> Row:
    """The first page."""
    file = page.project.weather
    return {
        "figures": key_figures(page),
        "made_up": bool(file and file.made_up),
        "rough": is_rough(file),
        "uncertainty": f"{100 * sun_uncertainty(file):.0f}" if is_rough(file) else "",
        "kind": KINDS[page.year.book.design.system.kind],
    }


def client(page: DesignPage) -> Row:
    """One page for the client, in plain words."""
    book, design = page.year.book, page.year.book.design
    months = book.fraction_by_month()
    best, worst = (month_name[int(i) + 1] for i in (months.argmax(), months.argmin()))
    money = offer(page)
    economics, horizon = money.economics, design.money.horizon_years
    waiting = [one for one in answered(page) if one.open and one.caution.gravity == 1]
    return {
        "kind": KINDS[design.system.kind],
        "fraction": f"{100 * book.fractions.at_tap:.0f}",
        "count": design.system.collector.count,
        "area": f"{page.show(design.system.gross_m2, 'm2', 1)} {page.sign('m2')}",
        "store": f"{page.show(design.system.store.volume_l, 'L', 0)} {page.sign('L')}",
        "has_store": design.system.scheme.exchange != "pool",
        "best": best,
        "worst": worst,
        "best_share": f"{100 * months.max():.0f}",
        "worst_share": f"{100 * months.min():.0f}",
        "bought": f"({page.show(book.total(*BOUGHT), 'kWh', 0)}) {page.sign('kWh')}",
        "cost": page.money(float(money.cost)),
        "saved": page.money(money.energy.saved),
        "without": page.money(money.energy.without),
        "with": page.money(round(money.energy.without) - round(money.energy.saved)),  # so that the three add up
        "granted": page.money(sum(g.amount for g in money.grants)) if money.grants else "",
        "payback": "" if economics.payback == float("inf") else f"{economics.payback:.0f}",
        "horizon": horizon,
        "upkeep": [{"words": u.words, "every": u.every, "cost": page.money(u.cost)} for u in money.upkeep if u.every],
        "bars": _bars(page),
        "dangers": [f"{one.caution.name}: {one.caution.text}" for one in waiting],
        "figures": key_figures(page),
        "made_up": bool(page.project.weather and page.project.weather.made_up),
    }


def _bars(page: DesignPage) -> Row:
    """Twelve months: heat of the sun, and what is bought above it."""
    book = page.year.book
    sun, bought = book.by_month(*SOLAR_IN), book.by_month(*BOUGHT)
    top = max(float((sun + bought).max()), 1e-9)
    high = lambda v: round(110.0 * float(v) / top, 1)
    return {
        "months": [
            {
                "x": 30 + 38 * m,
                "sun": high(sun[m]),
                "sun_y": round(120 - high(sun[m]), 1),
                "bought": high(bought[m]),
                "bought_y": round(120 - high(sun[m]) - high(bought[m]), 1),
                "name": MONTHS[m][:3],
            }
            for m in range(12)
        ],
        "top": page.show(top, "kWh", 0),
        "sign": page.sign("kWh"),
    }


def drawn(page: DesignPage) -> Row:
    """The drawing at its hour."""
    return {"d": drawing(page)}


def parts(page: DesignPage) -> Row:
    """The parts list with its sums."""
    found, decimals = offer(page), places(page.project.currency_code)
    known = certificates_of(page.parsed)
    named = lambda line: line.named(
        lambda size, unit: f"{units.field_text(size, unit, page.system)} {page.sign(unit)}".strip()
    )
    number = lambda v, d=2: units.number(float(v), d)
    groups = []
    for title in GROUPS:
        rows = []
        for line in found.lines:
            if line.group != title or line.left_out:
                continue
            sized = line.unit in ("m", "L", "kg", "m2")
            step = units.to_display(1.0, line.unit, page.system) if sized else 1.0
            sign = page.sign(line.unit) if sized else {"piece": "pc"}.get(line.unit, line.unit)
            price = line.price_of_one(found.prices) / step
            rows.append(
                {
                    "words": named(line),
                    "certificate": known.get(line.key, ""),
                    "quantity": f"{line.quantity * step:.4g} {sign}",
                    "price": number(price),
                    "sum": number(found.sum_of(line), decimals),
                }
            )
        if rows:
            groups.append({"title": title, "rows": rows})
    sums = [
        ("parts", found.parts),
        (f"margin on parts, {found.design.money.margin:g} %", found.margin),
        ("work and papers", found.work),
        (f"tax, {found.design.money.tax:g} %", found.tax),
    ]
    granted = sum(g.amount for g in found.grants)
    return {
        "groups": groups,
        "sums": [{"words": w, "sum": number(v, decimals)} for w, v in sums if v],
        "total": number(found.cost, decimals),
        "currency": page.currency,
        "grants": [{"name": g.name, "sum": number(g.amount, decimals)} for g in found.grants],
        "net": number(float(found.cost) - granted, decimals),
        "dated": found.design.offer.dated,
        "missing": missing_text(page.parsed),
    }


def months(page: DesignPage) -> Row:
    """The account of the year by month."""
    book = page.year.book
    columns = {
        "Sun received": SUN,
        "Into store": SOLAR_IN,
        "Lost": book.lost_columns,
        "Delivered": DELIVERED,
        "Bought": BOUGHT,
        "Unmet": (acc.UNMET,),
    }
    table = {name: book.by_month(*c) for name, c in columns.items() if name != "Unmet" or book.total(*c) >= 0.5}
    shares = book.fraction_by_month()
    show = lambda name, v: f"({page.show(v, 'kWh', 0)})" if name in ("Bought", "Unmet") else page.show(v, "kWh", 0)
    cells = lambda pick: [
        {"text": show(name, pick(v)), "red": name in ("Bought", "Unmet")} for name, v in table.items()
    ]
    return {
        "names": list(table),
        "sign": page.sign("kWh"),
        "rows": [
            {"month": month_name[m + 1], "cells": cells(lambda v, m=m: float(v[m])), "share": f"{100 * shares[m]:.0f}"}
            for m in range(12)
        ],
        "sums": cells(lambda v: float(v.sum())),
        "share": units.number(100 * book.fractions.at_tap, 1),
        "closed": units.number(book.hours_closed, 0),
    }


def sure(page: DesignPage) -> Row:
    """The band of the fraction, where it was calculated."""
    band = fraction_edges(page.design)
    low, high = widened(page.year.book, page.weather, band.low, band.high) if band else (0.0, 0.0)
    return {
        "band": None
        if band is None
        else {"low": f"{100 * low:.0f}", "high": f"{100 * high:.0f}", "fits": band.fits, "at": band.at},
        "rough": is_rough(page.project.weather),
        "uncertainty": f"{100 * sun_uncertainty(page.project.weather):.0f}" if is_rough(page.project.weather) else "",
    }


LINES = (
    ("Solar fraction, %", "fraction", "percent", 1, 100.0),
    ("Bought", "bought_kwh", "kWh", 0, 1.0),
    ("Yield", "yield_kwh_m2", "kWh/m2", 0, 1.0),
    ("Stagnation", "stagnation_h", "h", 0, 1.0),
    ("Collectors, gross", "area_m2", "m2", 1, 1.0),
    ("Store", "volume_l", "L", 0, 1.0),
    ("First cost, after grants", "first_cost", "money", 0, 1.0),
    ("Life-cycle cost", "life_cycle_cost", "money", 0, 1.0),
    ("Net present value", "present_value", "money", 0, 1.0),
    ("CO₂ of a year’s energy", "co2_with_sun_kg", "kg", 0, 1.0),
)
"""Lines designs are compared by: words, figure, quantity, decimals, and what it is multiplied by."""


def compared(page: DesignPage) -> Row:
    """Every design in sight beside the others."""
    prices = prices_for(page.project.books, page.document)
    columns = []
    for design in page.project.designs.filter(archived=False)[:MOST_COMPARED]:
        design.project = page.project
        found = figures_of(design, prices)
        if not isinstance(found, str):
            columns.append((design, found))
    sign = lambda quantity: {"money": page.currency, "percent": ""}.get(quantity, page.sign(quantity))
    return {
        "heads": [f"{design.letter} {design.name}" for design, _found in columns],
        "many": len(columns) > 1,
        "opposite": _point_opposite_ways([found for _design, found in columns]),
        "rows": [
            {
                "words": f"{words}, {sign(quantity)}".rstrip(", "),
                "red": key == "bought_kwh",
                "cells": [page.show(times * found[key], quantity, decimals) for _design, found in columns],
            }
            for words, key, quantity, decimals, times in LINES
        ],
    }


def _point_opposite_ways(figures: list[Figures]) -> bool:
    """Whether some design costs less over its life than another and yet is worth less: they carry unlike needs."""
    pairs = [(a["life_cycle_cost"], a["present_value"]) for a in figures]
    return any(a[0] < b[0] - 1.0 and a[1] < b[1] - 1.0 for a in pairs for b in pairs)


def money(page: DesignPage) -> Row:
    """The years of the money."""
    found, decimals = offer(page), places(page.project.currency_code)
    amount = lambda v: (
        f"({units.number(-float(v), decimals)})" if v < 0 else units.number(float(v), decimals) if v else "–"
    )
    economics = found.economics
    horizon = f"not within {found.design.money.horizon_years} years"
    endless = lambda years: horizon if years == float("inf") else f"{units.number(years, 1)} years"
    columns = ("system", "grants", "loan", "saved", "upkeep", "net", "total", "discounted")
    return {
        "rows": [
            {
                "year": line.year,
                "cells": [{"text": amount(getattr(line, c)), "red": getattr(line, c) < 0} for c in columns],
            }
            for line in ledger(found.case)
        ],
        "worth": [
            ("Net present value", page.money(economics.present_value)),
            ("Simple payback, today’s prices", endless(economics.simple_payback)),
            ("Payback, prices rising", endless(economics.payback)),
            ("with interest", endless(economics.discounted_payback)),
            ("A kilowatt-hour of solar heat", page.money(economics.cost_kwh, 3)),
        ],
        "m": found.design.money,
        "against": measured_against(page),
        "currency": page.currency,
    }


def dangers(page: DesignPage) -> Row:
    """Every caution with its state."""
    return {"rows": answered(page), "unseen": not_looked_at(page)}


def sizes(page: DesignPage) -> Row:
    """Safety parts sized."""
    loop = loop_view(page)
    flow = [{"title": "Flow and pump", "rows": loop.get("rows", []) + loop["by_kind"]}]
    return {"groups": [*flow, *pressure_view(page)["groups"], *load_view(page)["groups"]]}


def assumptions(page: DesignPage) -> Row:
    """What the figures rest on: weather, engine, and every value that is not the usual one."""
    file, site = page.project.weather, page.document["site"]
    return {
        "weather": file,
        "checksum": file.checksum if file else "",
        "engine": ENGINE_VERSION,
        "values": unusual(page),
        "elevation": f"{page.show(site['elevation_m'], 'm', 0)} {page.sign('m')}",
        "latitude": f"{abs(site['latitude_deg']):g}° {'N' if site['latitude_deg'] >= 0 else 'S'}",
        "longitude": f"{abs(site['longitude_deg']):g}° {'E' if site['longitude_deg'] >= 0 else 'W'}",
    }


def unusual(page: DesignPage) -> list[dict[str, str]]:
    """Every single value of the document that is not the usual one, by its part, in the reader's units."""
    usual = Design().model_dump(mode="json")
    found: list[dict[str, str]] = []
    _unusual(page, page.document, usual, "", found)
    return found


def _unusual(page: DesignPage, part: Document, usual: Document, path: str, found: list[dict[str, str]]) -> None:
    for name, value in part.items():
        here, was = f"{path}{name}", usual.get(name) if isinstance(usual, dict) else None
        if isinstance(value, dict) and here not in ("offer.prices",):
            _unusual(page, value, was if isinstance(was, dict) else {}, f"{here}.", found)
        elif value != was and value is not None and not isinstance(value, dict):
            try:
                title = field_at(here).title or name
            except KeyError:
                continue
            if isinstance(value, list | tuple):
                found.append({"part": _part_words(path), "title": title, "text": _list_text(list(value))})
                continue
            number = isinstance(value, int | float) and not isinstance(value, bool)
            sized = lambda v, q: f"{units.field_text(v, q, page.system)} {page.sign(q)}".strip()
            text = sized(value, quantity_of(here)) if number else {True: "yes", False: "no"}.get(value, str(value))
            found.append({"part": _part_words(path), "title": title, "text": text})


def _part_words(path: str) -> str:
    return path.rstrip(".").replace(".", ", ").replace("_", " ")


def _list_text(rows: list[Any]) -> str:
    """A list in a few words: its names where it has any, its numbers where they are few, else how long it is."""
    if not rows:
        return "none"
    named = [str(row.get("name") or row.get("key") or "") for row in rows if isinstance(row, dict)]
    if len(named) == len(rows) and all(named):
        return f"{len(rows)}: {', '.join(named[:MOST_NAMED])}{' …' if len(named) > MOST_NAMED else ''}"
    plain = [row for row in rows if isinstance(row, int | float) and not isinstance(row, bool)]
    if len(plain) == len(rows) <= 12:
        return ", ".join(f"{v:g}" for v in plain)
    if rows and all(isinstance(row, bool) for row in rows):
        return f"{sum(rows)} of {len(rows)}"
    return f"{len(rows)} values"


def glossary(page: DesignPage) -> Row:
    """Words that a client asks about."""
    return {"words": [(term.name, term.meaning) for term in terms() if term.report]}


SECTIONS = (
    Section("cover", "Cover", cover, own=False),
    Section("client", "For the client, in plain words", client, own=False),
    Section("feasible", "Can it be built?", feasible, usual=False),
    Section("drawing", "The drawing", drawn),
    Section("sun", "The sun and the sky", sun),
    Section("parts", "Parts and prices", parts),
    Section("account", "The year by month", months),
    Section("sure", "How sure it is", sure),
    Section("compared", "Designs compared", compared, own=False),
    Section("money", "Money over the years", money),
    Section("cautions", "Cautions", dangers),
    Section("sizes", "Safety parts, sized", sizes),
    Section("assumptions", "What it rests on", assumptions),
    Section("glossary", "Words", glossary, own=False),
    Section("valves", "Valves by season", valves, usual=False),
    Section("commissioning", "Commissioning sheet", commissioning, own=False),
)
BY_KEY = {section.key: section for section in SECTIONS}
