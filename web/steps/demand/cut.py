"""Cut first: fixtures, leaks and circulation now and after."""

import numpy as np

from heat.constants import WATER_J_KGK
from heat.demand.profile import as_it_is, circulation_watts, household_tap_litres
from heat.design import Design
from heat.design.needs import Demand
from heat.ledger.year_book import BOUGHT
from heat.simulation.prepare import mains_temperature
from web.editor.design_page import DesignPage
from web.simulations.cache import simulate
from web.steps.demand.lists import FIXTURES
from web.steps.demand.uses import D
from web.ui import units
from web.ui.rows import Row


def _heat_kwh(design: Design, demand: Demand, mains: np.ndarray) -> tuple[float, float]:
    """Heat of a year (kWh) that taps and circulation ask for."""
    lift = WATER_J_KGK * np.maximum(demand.tap_c - mains, 0.0) / 3.6e6
    return float((household_tap_litres(demand, mains) * lift).sum()), float(circulation_watts(demand).sum()) / 1000.0


def cut_view(page: DesignPage) -> dict[str, object]:
    """Fixtures, leaks and circulation now and after; litres, heat and money before and after; what the sun then
    carries."""
    book = page.year.book
    design, weather = book.design, page.weather
    after, before = design.demand, as_it_is(design.demand)
    mains = mains_temperature(design.site.mains, weather, design.site.latitude_deg)
    heat_after, loop_after = _heat_kwh(design, after, mains)
    heat_before, loop_before = _heat_kwh(design, before, mains)
    old = simulate(design.model_copy(update={"demand": before}), page.project.weather).book
    bought = book.total(*BOUGHT)
    price = book.cost() / bought if bought > 1 else 0.0
    if not price:
        price = old.cost() / max(old.total(*BOUGHT), 1e-9)
    saved = heat_before + loop_before - heat_after - loop_after
    show, number = page.show, units.number
    currency = page.project.currency

    def line(name: str, a: float, b: float, quantity: str, places: int = 0, sign: str = "", red: bool = False) -> Row:
        return {
            "name": name,
            "before": show(a, quantity, places),
            "after": show(b, quantity, places),
            "less": show(a - b, quantity, places),
            "sign": sign or page.sign(quantity),
            "red": red,
            "bar_before": 200.0 if a > 0 else 0.0,
            "bar_after": round(200 * b / a, 1) if a > 0 else 0.0,
        }

    lines = [
        line("Hot water drawn, a day", before.litres_per_day, after.litres_per_day, "L"),
        line("Heat of hot water, a year", heat_before, heat_after, "kWh"),
    ]
    if after.circulation.fitted:
        lines.append(line("Heat of circulation, a year", loop_before, loop_after, "kWh"))
    lines += [
        line(
            "That heat, if all were bought",
            price * (heat_before + loop_before),
            price * (heat_after + loop_after),
            "1",
            0,
            currency,
            True,
        ),
        line("Bought beside this system", old.total(*BOUGHT), bought, "kWh", 0, "", True),
        line("Its money", old.cost(), book.cost(), "1", 0, currency, True),
    ]
    fixtures = []
    for i, fixture in enumerate(design.demand.fixtures):
        people = design.demand.people
        fixtures.append(
            {
                "index": i,
                "name": page.field(f"{D}fixtures.{i}.name", f"fixture {i + 1}"),
                "fields": [
                    page.field(f"{D}fixtures.{i}.{n}")
                    for n in ("flow_l_min", "minutes_day", "flow_after_l_min", "minutes_after_day", "at_c")
                ],
                "before": show(people * fixture.litres_a_person(False), "L", 0),
                "after": show(people * fixture.litres_a_person(True), "L", 0),
            }
        )
    loop = [f"{D}before.circulation_mm", f"{D}circulation.insulation_mm", f"{D}before.circulation_hours"]
    return {
        "fixtures": fixtures,
        "presets": list(FIXTURES),
        "lines": lines,
        "saves": saved > 0.5,
        "nothing": abs(saved) < 0.5,
        "saved": show(abs(saved), "kWh"),
        "saved_money": number(price * abs(saved), 0),
        "share": number(100 * saved / max(heat_before + loop_before, 1e-9), 0),
        "fraction_before": number(100 * old.fractions.at_tap, 1),
        "fraction_after": number(100 * book.fractions.at_tap, 1),
        "counted": design.demand.counted,
        "loop_fields": [page.field(p) for p in loop] if after.circulation.fitted else [],
        "loop_hours": sum(after.circulation.hours_on),
    }
