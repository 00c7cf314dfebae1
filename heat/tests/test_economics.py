"""Money against closed forms, a sheet worked by hand, and what must hold for any numbers."""

from dataclasses import replace
from decimal import Decimal
from math import inf, isfinite, isnan
from unittest import TestCase

import numpy as np
from hypothesis import given as given_any
from hypothesis import settings
from hypothesis import strategies as st

from heat.design import Design, parse
from heat.design.changing import kind_changes, with_changes
from heat.design.money import Grant, HandLine, Money
from heat.design.schemes import SCHEMES
from heat.economics.cash import (
    Case,
    Upkeep,
    annuity,
    cents,
    evaluate,
    internal_rate,
    ledger,
    life_cycle_cost,
    owed,
    present_value,
    project_of,
)
from heat.economics.grants import given, paid_in
from heat.economics.parts_list import changed, fluid_l, parts_list
from heat.economics.prices import ITEMS, PRICES
from heat.economics.risk import GUESSES, guesses, joint_risk, otherwise, present_values, shaken

PLAIN = Money(
    horizon_years=20,
    interest=3,
    energy_rise=2,
    upkeep_rise=2,
    fade=0,
    inspection=0,
    fluid_years=0,
    anode_years=0,
    pump_years=0,
)


def case(money=PLAIN, cost=5000.0, saved=300.0, **more):
    return Case(money, cost, saved, solar_kwh=2500.0, co2_kg=500.0, **more)


class ByHand(TestCase):
    def test_three_years_worked_on_paper(self):
        # cost 1000; grant 10 % at once; saves 400, rising 5 %, fading 1 %; upkeep 50 every 2nd year, rising 10 %
        money = PLAIN.model_copy(
            update={"horizon_years": 3, "interest": 4.0, "energy_rise": 5.0, "fade": 1.0, "upkeep_rise": 10.0}
        )
        grants = tuple(given((Grant(kind="percent", amount=10),), 1000.0, 4.0, 1500.0))
        lines = ledger(case(money, 1000.0, 400.0, grants=grants, upkeep=(Upkeep("fluid", 2, 50.0),)))
        self.assertEqual(
            [line.net for line in lines],
            [
                Decimal("-900.00"),
                Decimal("400.00"),
                Decimal("415.80") - Decimal("60.50"),  # 400 x 1.05 x 0.99; 50 x 1.10 x 1.10
                Decimal("432.22"),  # 400 x (1.05 x 0.99)^2 = 432.2241
            ],
        )
        # -900 + 400/1.04 + 355.30/1.0816 + 432.22/1.124864
        self.assertEqual(
            lines[-1].discounted, Decimal("-900.00") + Decimal("384.62") + Decimal("328.49") + Decimal("384.24")
        )
        self.assertEqual(lines[-1].total, Decimal("287.52"))
        self.assertAlmostEqual(
            evaluate(case(money, 1000.0, 400.0, grants=grants)).payback, 2 + (900 - 815.8) / 432.22, places=3
        )

    def test_a_level_saving_has_its_closed_form(self):
        money = PLAIN.model_copy(update={"energy_rise": 0.0, "horizon_years": 25, "interest": 4.0})
        found = evaluate(case(money, 4000.0, 350.0))
        factor = (1 - 1.04**-25) / 0.04
        self.assertAlmostEqual(found.present_value, 350 * factor - 4000, delta=0.15)  # rounded to cents each year
        self.assertAlmostEqual(found.payback, 4000 / 350, places=6)
        self.assertAlmostEqual(found.cost_kwh, 4000 / (2500 * factor), places=9)
        self.assertAlmostEqual(found.break_even, 4000 / (350 * factor), places=4)
        self.assertAlmostEqual(found.cost_tonne, -(350 * factor - 4000) / (0.5 * 25), delta=0.02)
        rate = found.internal_rate / 100
        self.assertAlmostEqual(350 * (1 - (1 + rate) ** -25) / rate, 4000, delta=0.2)

    def test_a_loan_at_the_rate_of_interest_changes_nothing(self):
        own = evaluate(case())
        lent = evaluate(case(PLAIN.model_copy(update={"loan_share": 80.0, "loan_interest": 3.0, "loan_years": 12})))
        self.assertAlmostEqual(own.present_value, lent.present_value, delta=0.1)
        self.assertAlmostEqual(annuity(1000, 5, 10), 129.5046, places=4)
        self.assertEqual(annuity(1000, 0, 10), 100)
        longer = PLAIN.model_copy(
            update={"loan_share": 80.0, "loan_interest": 3.0, "loan_years": 30, "horizon_years": 12}
        )
        short = PLAIN.model_copy(update={"horizon_years": 12})
        self.assertAlmostEqual(evaluate(case(short)).present_value, evaluate(case(longer)).present_value, delta=0.1)
        self.assertAlmostEqual(internal_rate([-100.0, 110.0]), 10.0, places=6)
        self.assertTrue(isnan(internal_rate([-100.0, -1.0])))

    def test_what_is_owed_falls_with_each_payment(self):
        """Year by year: interest on what is owed, less the payment."""
        left, payment = 1000.0, annuity(1000.0, 5.0, 10)
        for year in range(1, 11):
            left = left * 1.05 - payment
            self.assertAlmostEqual(owed(1000.0, 5.0, 10, year), max(left, 0.0), places=6)
        self.assertAlmostEqual(owed(1000.0, 0.0, 10, 4), 600.0)

    def test_break_even_moves_energy_alone(self):
        """At that many times today's prices, the water's saving the same, nothing is gained or lost."""
        wet = replace(case(), water=60.0)
        at = evaluate(wet).break_even
        self.assertAlmostEqual(evaluate(replace(wet, saved=wet.saved * at)).present_value, 0.0, delta=0.2)
        self.assertLess(at, evaluate(case()).break_even)


class Always(TestCase):
    @settings(max_examples=60, deadline=None)
    @given_any(st.floats(500, 20000), st.floats(0, 900), st.floats(0, 8), st.floats(-3, 6), st.integers(1, 40))
    def test_the_ledger_closes_and_interest_lessens_what_comes_later(self, cost, saved, interest, rise, years):
        money = PLAIN.model_copy(
            update={
                "interest": interest,
                "energy_rise": rise,
                "horizon_years": years,
                "inspection": 10.0,
                "loan_share": 30.0,
            }
        )
        one = case(money, cost, saved, upkeep=(Upkeep("inspection", 1, 10.0),))
        lines = ledger(one)
        self.assertEqual(len(lines), years + 1)
        for line in lines:
            self.assertEqual(line.net, line.system + line.grants + line.loan + line.saved + line.upkeep)
        self.assertEqual(lines[-1].total, sum((line.net for line in lines), Decimal(0)))
        unlent = replace(one, money=money.model_copy(update={"loan_share": 0.0, "inspection": 0.0}), upkeep=())
        dearer = replace(unlent, money=unlent.money.model_copy(update={"interest": interest + 1.0}))
        self.assertLessEqual(evaluate(dearer).present_value, evaluate(unlent).present_value + 0.01)
        if saved == 0:
            self.assertEqual(evaluate(one).payback, inf)

    def test_the_project_is_one_thing_and_one_s_own_money_another(self):
        loan = PLAIN.model_copy(update={"loan_share": 100.0})
        project, own = evaluate(project_of(case(loan))), evaluate(case(loan))
        self.assertEqual(project, evaluate(case()))
        self.assertNotEqual(own.payback, project.payback)
        self.assertTrue(isfinite(project.internal_rate))
        upkeep = (Upkeep("fluid", 6, 120.0), Upkeep("looked after", 1, 30.0))
        grants = tuple(given((Grant(kind="sum", amount=500.0),), 5000.0, 4.0, 2500.0))
        simple = evaluate(case(upkeep=upkeep, grants=grants)).simple_payback
        self.assertAlmostEqual(simple, 4500 / (300 - 20 - 30))
        self.assertEqual(evaluate(case(saved=10.0, upkeep=upkeep)).simple_payback, inf)

    def test_a_solar_kilowatt_hour_bears_its_pump(self):
        flat = PLAIN.model_copy(update={"interest": 0.0, "energy_rise": 0.0, "upkeep_rise": 0.0})
        cost = lambda pump: evaluate(case(flat, pump=pump)).cost_kwh
        self.assertAlmostEqual(cost(25.0) - cost(0.0), 25.0 / 2500.0)

    def test_grants_of_a_share_follow_the_cost(self):
        grants = (Grant(kind="percent", amount=20.0), Grant(kind="sum", amount=300.0), Grant(kind="percent", amount=10))
        at = lambda cost: tuple(given(grants, cost, 4.0, 2500.0))
        now = case(grants=at(5000.0))
        dearer = otherwise(now, "cost", 0.1)
        self.assertEqual([g.amount for g in dearer.grants], [g.amount for g in at(5500.0)])
        by_all = present_values(now, {"cost": np.array([0.1])})
        self.assertAlmostEqual(float(by_all[0]), present_value(dearer), places=6)

    def test_nothing_saved_is_never_paid_back(self):
        found = evaluate(case(saved=0.0))
        self.assertEqual((found.payback, found.discounted_payback, found.break_even), (inf, inf, inf))
        self.assertAlmostEqual(found.present_value, -5000.0)

    def test_what_matters_most_comes_first(self):
        rows = shaken(case())
        spans = [abs(high - low) for _guess, low, high in rows]
        self.assertEqual(spans, sorted(spans, reverse=True))
        cost = next(row for row in rows if row[0].key == "cost")
        self.assertAlmostEqual(cost[1] - cost[2], 1000.0, delta=0.01)
        own = shaken(case(), guesses(0.25))
        self.assertEqual(own[0][0].key, "yield")
        self.assertIn("25 %", own[0][0].by)

    def test_all_guesses_at_once_agree_with_each_ledger_and_with_plain_chance(self):
        one = case(
            PLAIN.model_copy(update={"fade": 0.5, "standing_saved": 20.0, "energy_rise": 2.0}),
            upkeep=(Upkeep("fluid", 4, 90.0), Upkeep("pump", 12, 150.0)),
            water=15.0,
        )
        self.assertAlmostEqual(present_values(one, {})[0], present_value(one), places=6)
        for guess in GUESSES:
            for by in (-guess.far, guess.far):
                one_value = present_values(one, {guess.key: np.array([by])})[0]
                self.assertAlmostEqual(one_value, present_value(otherwise(one, guess.key, by)), places=6)
        band = joint_risk(one)
        chance = np.random.default_rng(7)
        off = {g.key: g.far / 1.2816 * chance.standard_normal(200_000) for g in GUESSES}
        for edge, share in zip(band.edges, (0.1, 0.5, 0.9), strict=True):
            self.assertAlmostEqual(edge, np.quantile(present_values(one, off), share), delta=60.0)
        self.assertGreater(joint_risk(replace(one, cost=100.0)).pays, 0.99)

    @settings(max_examples=40, deadline=None)
    @given_any(
        st.floats(500, 20000), st.floats(0, 900), st.floats(0, 8), st.floats(-3, 6), st.floats(0, 2), st.integers(1, 40)
    )
    def test_what_is_paid_in_a_life_is_what_would_be_paid_without_the_sun_less_its_significant(
        self, cost, saved, interest, rise, fade, years
    ):
        money = PLAIN.model_copy(
            update={
                "interest": interest,
                "energy_rise": rise,
                "fade": fade,
                "horizon_years": years,
                "standing_saved": 30.0,
            }
        )
        one = case(money, cost, saved, upkeep=(Upkeep("inspection", 1, 10.0),), without=1200.0)
        without = sum(1200 * (1 + rise / 100) ** (t - 1) / (1 + interest / 100) ** t for t in range(1, years + 1))
        self.assertAlmostEqual(life_cycle_cost(one), without - present_value(one), places=6)
        self.assertAlmostEqual(evaluate(one).present_value, present_value(one), delta=0.011 * (years + 1))

    def test_cents_are_rounded_once_halves_to_even(self):
        self.assertEqual(
            [cents(v) for v in (0.125, 0.135, -2.005)], [Decimal("0.12"), Decimal("0.14"), Decimal("-2.00")]
        )


class Grants(TestCase):
    def test_in_their_order_within_cap_and_cost(self):
        grants = (
            Grant(name="state", kind="percent", amount=30, cap=900),
            Grant(name="town", kind="sum", amount=500),
            Grant(name="area", kind="per_m2", amount=50),
            Grant(name="yield", kind="per_kwh", amount=0.1, years=5),
        )
        found = given(grants, 4000.0, 6.0, 2000.0)
        self.assertEqual([g.amount for g in found], [900, 500, 300, 200])
        self.assertEqual([g.cut for g in found], ["its cap", "", "", ""])
        self.assertEqual(paid_in(found, 0), 1700)
        self.assertEqual([paid_in(found, y) for y in (1, 5, 6)], [40, 40, 0])
        whole = given((Grant(kind="sum", amount=9000), Grant(kind="percent", amount=50)), 4000.0, 6.0, 2000.0)
        self.assertEqual([(g.amount, g.cut) for g in whole], [(4000, "the cost"), (0, "")])


class Lists(TestCase):
    def of(self, kind, **changes):
        document = Design().model_dump(mode="json")
        document = with_changes(document, kind_changes(document, kind)) if kind != "pumped_coil" else document
        return parse(with_changes(document, changes)) if changes else parse(document)

    def test_every_kind_has_its_safety_parts(self):
        for kind, scheme in SCHEMES.items():
            design = self.of(kind)
            keys = {line.key for line in parts_list(design)}
            with self.subTest(kind=kind):
                closed = scheme.driven_by == "pump" and scheme.exchange in ("coil", "plate", "passive")
                self.assertTrue(not closed or {"relief_loop", "check_valve"} <= keys)
                self.assertTrue(not closed or ("drainback_vessel" if scheme.drains else "vessel") in keys)
                self.assertTrue(scheme.exchange == "pool" or not design.demand.hot_water or "mixing_valve" in keys)
                self.assertTrue("vent" in keys if scheme.vented else True)
                if kind in ("drain_down", "seasonal_preheat"):
                    self.assertTrue({"drain_valves", "vacuum_valve"} <= keys)
                self.assertTrue({"permit", "commissioning", "fixing", "plumbing"} <= keys)
                for line in parts_list(design):
                    self.assertTrue(line.why, line)
                    self.assertGreater(line.quantity, 0, line)
                    self.assertTrue(isfinite(line.price_of_one(PRICES)))
                    self.assertLessEqual({key for key, _n in line.items}, set(ITEMS))

    def test_one_change_on_the_drawing_changes_the_list(self):
        before = {line.key: line for line in parts_list(self.of("pumped_coil"))}
        changes = {
            "system.collector.count": 4,
            "system.loop.supply_pipe.length_m": 30.0,
            "system.store.volume_l": 500.0,
        }
        after = {line.key: line for line in parts_list(self.of("pumped_coil", **changes))}
        self.assertEqual((before["collector"].quantity, after["collector"].quantity), (2, 4))
        self.assertEqual(after["supply_pipe"].quantity, 30)
        self.assertGreater(after["fluid"].quantity, before["fluid"].quantity)
        self.assertGreater(after["plumbing"].quantity, before["plumbing"].quantity)
        self.assertAlmostEqual(after["store"].price_of_one(PRICES), 420 + 2.6 * 500)
        self.assertEqual(fluid_l(self.of("drainback")), 0)

    def test_changes_by_hand_are_beside_where_a_line_comes_from(self):
        lines = parts_list(self.of("pumped_coil"))
        hands = (
            HandLine(key="pump", price=99.0),
            HandLine(key="permit", left_out=True),
            HandLine(key="own1", words="scaffold", unit="piece", quantity=2, price=150.0),
        )
        found = {line.key: line for line in changed(lines, hands)}
        self.assertEqual((found["pump"].price_of_one(PRICES), found["pump"].by_hand), (99.0, ("price",)))
        self.assertEqual(found["pump"].why, next(line.why for line in lines if line.key == "pump"))
        self.assertTrue(found["permit"].left_out)
        self.assertEqual((found["own1"].quantity, found["own1"].group), (2, "Added"))
