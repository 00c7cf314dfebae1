"""Over the years: the ledger of the money, its picture, what it comes to, and which guess decides."""

from dataclasses import replace
from math import inf, isfinite
from typing import Any

from heat.money.offered import Offered
from heat.money.risk import Guess, guesses, shaken, together
from heat.money.tariff import water_saved_m3
from heat.tables import csv_table
from web.runs.bands import yield_far
from web.sheet.page import Sheet
from web.steps.money.cost import amount, offered
from web.ui import units
from web.ui.money import places

RATES = (
    "currency", "horizon_years", "interest", "energy_rise", "upkeep_rise", "fade", "margin", "tax", "loan_share",
    "loan_interest", "loan_years", "pump_price_kwh", "standing_saved", "inspection", "fluid_years", "anode_years",
    "pump_years",
)  # fmt: skip
OLD = ("efficiency", "price_kwh", "co2_kg_kwh", "standing_w")
WIDTH, HEIGHT, LEFT, TOP = 560, 190, 58, 10
COLUMNS = ("year", "system", "grants", "loan", "saved", "upkeep", "net", "total", "discounted")


def years_view(sheet: Sheet) -> dict[str, Any]:
    """Rates as pens, the ledger's lines, what it comes to, its picture and what matters most."""
    found = offered(sheet)
    worth, currency = found.worth, sheet.project.currency
    told = guesses(yield_far(sheet.design))
    coins = places(sheet.project.currency_code)
    cents = lambda v: f"({amount(-v, coins)})" if v < 0 else amount(v, coins) if v else "–"
    return {
        "rates": [sheet.pen(f"money.{name}") for name in RATES], "currency": currency,
        "tariff": sheet.pen("money.tariff"), "summer": sheet.pen("money.summer_tariff"),
        "old": [sheet.pen(f"money.old.{name}") for name in OLD],
        "emissions": [sheet.pen(f"money.{name}") for name in ("co2_by_month", "co2_by_hour")],
        "water": [sheet.pen(f"money.{name}") for name in ("water_price_m3", "water_counts")],
        "water_saved": _water(sheet, found),
        "months": [sheet.pen("money.summer_from_month"), sheet.pen("money.summer_to_month")],
        "grants": [_grant_pens(sheet, i) for i in range(len(found.design.money.grants))],
        "lines": [
            {"year": line.year, "red": line.total < 0,
             "cells": [{"text": cents(getattr(line, name)), "red": getattr(line, name) < 0} for name in COLUMNS[1:]]}
            for line in found.years
        ],
        "loan": found.design.money.loan_share > 0, "has_grants": bool(found.grants), "worth": _worth(sheet, found),
        "energy": _energy(sheet, found), "picture": _picture(found), "shaken": _shaken(found, told),
        "together": _together(sheet, found, told),
        "conclusion": conclusion(sheet, found), "upkeep": [
            {"words": item.words, "every": item.every, "cost": amount(item.cost)} for item in found.upkeep if item.every
        ],
        "value": amount(worth.present_value),
    }  # fmt: skip


def _grant_pens(sheet: Sheet, index: int) -> dict[str, Any]:
    """The pens of a grant; its amount told in what it is an amount of."""
    path = f"money.grants.{index}."
    pens = [sheet.pen(path + name) for name in ("name", "kind", "amount", "cap", "years", "condition")]
    sign = {"percent": "%", "sum": sheet.currency, "per_m2": f"{sheet.currency}/m²", "per_kwh": f"{sheet.currency}/kWh"}
    kind = sheet.document["money"]["grants"][index]["kind"]
    return {"index": index, "pens": [replace(p, sign=sign[kind]) if p.path.endswith("amount") else p for p in pens]}


def _water(sheet: Sheet, found: Offered) -> str:
    """The water that fixtures and leaks no longer take, in words; empty where there is none."""
    saved = water_saved_m3(found.design)
    if saved < 0.05:
        return ""
    return (
        f"Fixtures and leaks take {sheet.show(1000.0 * saved, 'L', 0)} {sheet.sign('L')} less a year: "
        f"{sheet.money(saved * found.design.money.water_price_m3)}."
    )


def _shaken(found: Offered, told: tuple[Guess, ...]) -> list[dict[str, Any]]:
    """What may be otherwise, with the net present value lower and higher, and a bar of how much it matters."""
    rows = shaken(found.case, told)
    most = max(abs(rows[0][2] - rows[0][1]), 1e-9)
    return [
        {"what": guess.words, "by": guess.by, "low": amount(low), "high": amount(high),
         "bar": round(150 * abs(high - low) / most, 1)}
        for guess, low, high in rows
    ]  # fmt: skip


def _together(sheet: Sheet, found: Offered, told: tuple[Guess, ...]) -> str:
    """All guesses at once, in words."""
    band = together(found.case, told)
    low, middle, high = (sheet.money(edge) for edge in band.edges)
    return (
        f"All of them at once: eight cases of ten lie between {low} and {high}, {middle} in the middle; "
        f"it pays in {100 * band.pays:.0f} of a hundred."
    )


def told_years(years: float) -> str:
    """A time in years; never where there is none."""
    return "never within the horizon" if years == inf else f"{years:.1f} years"


def conclusion(sheet: Sheet, found: Offered) -> str:
    """When it pays, and what it leaves."""
    worth, money = found.worth, found.design.money
    if found.energy.saved <= 0:
        return f"It saves no money: the year costs {sheet.money(found.energy.with_sun)} with the sun."
    words = f"It saves {sheet.money(found.energy.saved)} in the first year"
    if worth.payback == inf:
        return f"{words} and is not paid back in {money.horizon_years} years."
    left = sheet.money(abs(worth.present_value))
    more = f"leaves {left}" if worth.present_value >= 0 else f"falls {left} short"
    return (
        f"{words}, is paid back after {worth.payback:.1f} years, and at {money.interest:g} % {more} in today’s money."
    )


def _worth(sheet: Sheet, found: Offered) -> list[dict[str, str]]:
    worth = found.worth
    rows = [
        ("Net present value", sheet.money(worth.present_value)),
        ("Paid back after", told_years(worth.payback)), ("with interest", told_years(worth.discounted_payback)),
        ("Internal rate of return", f"{units.number(worth.internal_rate, 1)} %"
         if isfinite(worth.internal_rate) else "none"),
        ("A kilowatt-hour of solar heat", sheet.money(worth.cost_kwh, 3) if isfinite(worth.cost_kwh) else "–"),
        ("A tonne of CO₂ saved", _tonne(sheet, worth.cost_tonne)),
        ("Breaks even if energy costs", f"{worth.break_even:.2f} times today’s price"
         if isfinite(worth.break_even) else "–"),
    ]  # fmt: skip
    return [{"words": words, "text": text} for words, text in rows]


def _tonne(sheet: Sheet, cost: float) -> str:
    if not isfinite(cost):
        return "–"
    return f"costs {sheet.money(cost)}" if cost > 0 else f"earns {sheet.money(-cost)}"


def _energy(sheet: Sheet, found: Offered) -> list[dict[str, str]]:
    """A year's energy in money: without the sun, with it."""
    energy = found.energy
    words = {"tankless": "tankless heater", "element": "element", "boiler": "boiler", "bought stove": "bought wood",
             "own stove": "own wood", "heating": "heater of the rooms", "pool": "heater of the pool"}  # fmt: skip
    rows = [("The same house without solar", energy.without)]
    rows += [(f"bought: {words.get(name, name)}", cost) for name, cost in energy.bought.items()]
    rows += [("power for pumps", energy.pump)]
    if energy.missing > 0.5:
        rows.append(("heat that is missing, as if bought", energy.missing))
    return [
        {"words": name, "text": f"({amount(cost)})" if i else amount(cost), "red": str(i > 0)}
        for i, (name, cost) in enumerate(rows)
    ] + [{"words": "saved in the first year", "text": amount(energy.saved), "red": "sum"}]


def _picture(found: Offered) -> dict[str, Any]:
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
        "plain": path(totals), "discounted": path(reduced), "zero": y(0.0), "width": WIDTH, "height": HEIGHT,
        "ticks": [{"x": x(i), "text": str(i)} for i in range(0, len(totals), every)],
        "ends": [{"y": y(v), "text": units.number(v, 0)} for v in sorted({low, 0.0, high})],
    }  # fmt: skip


def years_csv(sheet: Sheet) -> str:
    """The ledger as CSV."""
    return csv_table([COLUMNS, *([getattr(line, name) for name in COLUMNS] for line in offered(sheet).years)])
