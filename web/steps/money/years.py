"""Over the years: the ledger of the money, its picture, what it comes to, and which assumption decides."""

from dataclasses import replace
from math import inf, isfinite

from heat.common.tables import csv_table
from heat.design import field_at
from heat.economics.cash import Economics
from heat.economics.offer import Offered
from heat.economics.risk import Guess, guesses, joint_risk, shaken
from heat.economics.tariff import water_saved_m3
from web.editor.design_page import DesignPage
from web.jobs.bands import yield_far
from web.presentation.against import measured_against
from web.presentation.certificates import missing_text
from web.steps.money.cost import amount, offered
from web.ui import units
from web.ui.money import places
from web.ui.rows import Row

RATES = (
    "currency",
    "horizon_years",
    "interest",
    "energy_rise",
    "upkeep_rise",
    "fade",
    "margin",
    "tax",
    "loan_share",
    "loan_interest",
    "loan_years",
    "pump_price_kwh",
    "standing_saved",
    "inspection",
    "fluid_years",
    "anode_years",
    "pump_years",
)
OLD = (
    "burns",
    "efficiency",
    "price_kwh",
    "co2_kg_kwh",
    "standing_w",
    "rooms.burns",
    "rooms.efficiency",
    "rooms.price_kwh",
    "rooms.co2_kg_kwh",
)
WIDTH, HEIGHT, LEFT, TOP = 560, 190, 58, 10
COLUMNS = ("year", "system", "grants", "loan", "saved", "upkeep", "net", "total", "discounted")


def years_view(page: DesignPage) -> dict[str, object]:
    """Rates as pens, the ledger's lines, what it comes to, its picture and what matters most."""
    found = offered(page)
    economics, currency = found.economics, page.project.currency
    assumptions = guesses(yield_far(page.design))
    coins = places(page.project.currency_code)
    cents = lambda v: f"({amount(-v, coins)})" if v < 0 else amount(v, coins) if v else "–"
    return {
        "rates": [page.field(f"money.{name}") for name in RATES],
        "currency": currency,
        "tariff": page.field("money.tariff"),
        "summer": page.field("money.summer_tariff"),
        "old": [page.field(f"money.old.{name}", _of_rooms(name)) for name in OLD],
        "against": measured_against(page),
        "emissions": [page.field(f"money.{name}") for name in ("co2_by_month", "co2_by_hour")],
        "water": [page.field(f"money.{name}") for name in ("water_price_m3", "water_counts")],
        "water_saved": _water(page, found),
        "months": [page.field("money.summer_from_month"), page.field("money.summer_to_month")],
        "grants": [_grant_fields(page, i) for i in range(len(found.design.money.grants))],
        "lines": [
            {
                "year": line.year,
                "red": line.total < 0,
                "cells": [{"text": cents(getattr(line, name)), "red": getattr(line, name) < 0} for name in COLUMNS[1:]],
            }
            for line in found.years
        ],
        "loan": found.design.money.loan_share > 0,
        "has_grants": bool(found.grants),
        "certificates": missing_text(page.parsed) if found.design.money.grants else "",
        "worth": result_rows(page, found),
        "energy": _energy(page, found),
        "picture": _picture(found),
        "shaken": _shaken(found, assumptions),
        "together": _jointly(page, found, assumptions),
        "conclusion": conclusion(page, found),
        "upkeep": [
            {"words": item.words, "every": item.every, "cost": amount(item.cost)} for item in found.upkeep if item.every
        ],
        "value": amount(economics.present_value),
    }


def _grant_fields(page: DesignPage, index: int) -> Row:
    """The fields of a grant; its amount in what it is an amount of."""
    path = f"money.grants.{index}."
    fields = [page.field(path + name) for name in ("name", "kind", "amount", "cap", "years", "condition")]
    sign = {"percent": "%", "sum": page.currency, "per_m2": f"{page.currency}/m²", "per_kwh": f"{page.currency}/kWh"}
    kind = page.document["money"]["grants"][index]["kind"]
    return {"index": index, "fields": [replace(p, sign=sign[kind]) if p.path.endswith("amount") else p for p in fields]}


def _water(page: DesignPage, found: Offered) -> str:
    """The water that fixtures and leaks no longer take, in words; empty where there is none."""
    saved = water_saved_m3(found.design)
    if saved < 0.05:
        return ""
    return (
        f"Fixtures and leaks take {page.show(1000.0 * saved, 'L', 0)} {page.sign('L')} less a year: "
        f"{page.money(saved * found.design.money.water_price_m3)}."
    )


def _shaken(found: Offered, guesses: tuple[Guess, ...]) -> list[dict[str, object]]:
    """What may be otherwise, with the net present value lower and higher, and a bar of how much it matters."""
    rows = shaken(found.case, guesses)
    most = max(abs(rows[0][2] - rows[0][1]), 1e-9)
    return [
        {
            "what": guess.words,
            "by": guess.by,
            "low": amount(low),
            "high": amount(high),
            "bar": round(150 * abs(high - low) / most, 1),
        }
        for guess, low, high in rows
    ]


def _jointly(page: DesignPage, found: Offered, guesses: tuple[Guess, ...]) -> str:
    """All assumptions at once, in words."""
    band = joint_risk(found.case, guesses)
    low, middle, high = (page.money(edge) for edge in band.edges)
    return (
        f"All of them at once: eight cases of ten lie between {low} and {high}, {middle} in the middle; "
        f"it pays in {100 * band.pays:.0f} of a hundred."
    )


def years_text(years: float) -> str:
    """A time in years; never where there is none."""
    return "longer than the horizon" if years == inf else f"{units.number(years, 1)} years"


def conclusion(page: DesignPage, found: Offered) -> str:
    """When it pays, and what it leaves."""
    economics, money = found.economics, found.design.money
    if found.energy.saved <= 0:
        return f"It saves no money: the year costs {page.money(found.energy.with_sun)} with the sun."
    words = f"It saves {page.money(found.energy.saved)} in the first year"
    if economics.payback == inf:
        return f"{words} and is not paid back in {money.horizon_years} years."
    left = page.money(abs(economics.present_value))
    more = f"leaves {left}" if economics.present_value >= 0 else f"falls {left} short"
    return (
        f"{words}, is paid back after {units.number(economics.payback, 1)} years, and at {money.interest:g} % {more} "
        "in today’s money."
    )


def _of_rooms(name: str) -> str:
    """What a value of the rooms' heater is called beside that of the taps'; empty for the taps'."""
    return f"Rooms: {field_at(f'money.old.{name}').title.lower()}" if name.startswith("rooms.") else ""


def result_rows(page: DesignPage, found: Offered) -> list[dict[str, str]]:
    """What the project comes to, and where a loan pays for some of it, what one's own money comes to beside it."""
    project, own = _evaluate(page, found.economics), _evaluate(page, found.own_economics)
    loan = found.design.money.loan_share > 0
    return [{**one, "own": other["text"] if loan else ""} for one, other in zip(project, own, strict=True)]


def _evaluate(page: DesignPage, economics: Economics) -> list[dict[str, str]]:
    rows = [
        ("Net present value", page.money(economics.present_value)),
        ("Simple payback, today’s prices", years_text(economics.simple_payback)),
        ("Payback, prices rising", years_text(economics.payback)),
        ("with interest", years_text(economics.discounted_payback)),
        (
            "Internal rate of return",
            f"{units.number(economics.internal_rate, 1)} %" if isfinite(economics.internal_rate) else "none",
        ),
        ("A kilowatt-hour of solar heat", page.money(economics.cost_kwh, 3) if isfinite(economics.cost_kwh) else "–"),
        ("A tonne of CO₂ saved", _tonne(page, economics.cost_tonne)),
        (
            "Breaks even if energy costs",
            f"{units.number(economics.break_even, 2)} times today’s price" if isfinite(economics.break_even) else "–",
        ),
    ]
    return [{"words": words, "text": text} for words, text in rows]


def _tonne(page: DesignPage, cost: float) -> str:
    if not isfinite(cost):
        return "–"
    return f"costs {page.money(cost)}" if cost > 0 else f"earns {page.money(-cost)}"


def _energy(page: DesignPage, found: Offered) -> list[dict[str, str]]:
    """A year's energy in money: without the sun, with it."""
    energy = found.energy
    words = {
        "tankless": "tankless heater",
        "element": "element",
        "boiler": "boiler",
        "bought stove": "bought wood",
        "own stove": "own wood",
        "heating": "heater of the rooms",
        "pool": "heater of the pool",
    }
    rows = [("The same house without solar", energy.without)]
    rows += [(f"bought: {words.get(name, name)}", cost) for name, cost in energy.bought.items()]
    rows += [("power for pumps", energy.pump)]
    if energy.missing > 0.5:
        rows.append(("heat that is unmet, as if bought", energy.missing))
    return [
        {"words": name, "text": f"({amount(cost)})" if i else amount(cost), "red": str(i > 0)}
        for i, (name, cost) in enumerate(rows)
    ] + [{"words": "saved in the first year", "text": amount(energy.saved), "red": "sum"}]


def _picture(found: Offered) -> Row:
    """The running totals of the years, plain and discounted."""
    totals = [float(line.total) for line in found.years]
    reduced = [float(line.discounted) for line in found.years]
    low, high = min(*totals, *reduced, 0.0), max(*totals, *reduced, 0.0)
    span = max(high - low, 1e-9)
    x = lambda year: round(LEFT + (WIDTH - LEFT - 10) * year / max(len(totals) - 1, 1), 1)
    y = lambda value: round(TOP + (HEIGHT - TOP - 24) * (high - value) / span, 1)
    path = lambda row: "M" + "L".join(f"{x(i)},{y(v)}" for i, v in enumerate(row))
    every = 5 if len(totals) > 11 else 1
    return {
        "plain": path(totals),
        "discounted": path(reduced),
        "zero": y(0.0),
        "width": WIDTH,
        "height": HEIGHT,
        "ticks": [{"x": x(i), "text": str(i)} for i in range(0, len(totals), every)],
        "ends": [{"y": y(v), "text": units.number(v, 0)} for v in sorted({low, 0.0, high})],
    }


def years_csv(page: DesignPage) -> str:
    """The ledger as CSV."""
    return csv_table([COLUMNS, *([getattr(line, name) for name in COLUMNS] for line in offered(page).years)])
