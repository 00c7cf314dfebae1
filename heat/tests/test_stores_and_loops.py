"""Ports, vents, transfer, pool, lifting coil, flow by weight, faults: each by hand or by what must be kept."""

from math import exp
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from heat.collector.standing import standing_c
from heat.common.fluid import fluid_curves, fluid_property
from heat.constants import WATER_J_KGK
from heat.control.differential import Differential, collector_reading
from heat.demand.hot_water import draw_off
from heat.design import Design, parse
from heat.loop.circulation import Passage, laminar_terms, next_flow, pressure_drop
from heat.loop.coil import Coil, coil_lift_deliver, coil_lift_response, convection_factor
from heat.loop.fields import pipe_loss_w_k
from heat.loop.pipe import insulated_loss_w_k
from heat.loop.runs import loop_drop_pa
from heat.simulation.faults import faulty
from heat.simulation.loop import mean_approach
from heat.simulation.parts import exact
from heat.store.layers import LayeredStore, heat_content
from heat.store.pool import EVAPORATION, Pool, pool_losses, saturation_kpa
from heat.store.ports import boil, end_loss, pass_through, port_mean, put, refill, room_for, take, tidy
from heat.store.vessel import boiling_point_c, store_layers, store_loss_w_k, store_volume_l

STORE = LayeredStore(300.0, 20, 2.0, 20.0, 0.0, False)


def column(celsius, mass=15.0):
    t, m = np.zeros(room_for(20)), np.zeros(room_for(20))
    t[: len(celsius)], m[: len(celsius)] = celsius, mass
    return t, m, len(celsius)


class Ports(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.floats(0, 1), st.floats(0, 1), st.floats(0.01, 140), st.floats(5, 95))
    def test_passing_water_keeps_mass_and_heat(self, out_share, in_share, kg, inlet):
        t, m, n = column(np.linspace(12, 70, 20))
        before = heat_content(t, m, n)
        taken = port_mean(out_share, kg, 300.0, t, m, n)
        n = pass_through(out_share, in_share, kg, inlet, False, STORE, t, m, n)
        self.assertAlmostEqual(m[:n].sum(), 300.0, places=7)
        self.assertAlmostEqual(heat_content(t, m, n) - before, kg * WATER_J_KGK * (inlet - taken), delta=2.0)
        self.assertLessEqual(n, 20 + 4)

    def test_taking_at_a_height_takes_that_water(self):
        t, m, n = column(np.linspace(10, 48, 20))
        self.assertAlmostEqual(port_mean(0.0, 15.0, 300.0, t, m, n), 10.0)
        self.assertAlmostEqual(port_mean(1.0, 15.0, 300.0, t, m, n), 48.0)
        n = take(1.0, 30.0, 300.0, t, m, n)
        self.assertEqual((n, float(t[n - 1])), (18, 44.0))
        n = put(135.0, 30.0, 60.0, 15.0, False, t, m, n)
        self.assertAlmostEqual(m[:n].sum(), 300.0)
        self.assertGreater(n, 18)

    def test_joining_picks_the_most_alike(self):
        t, m, n = column([10.0, 20.0, 20.1, 60.0] + [70.0 + k for k in range(26)], mass=10.0)
        before = heat_content(t, m, n)
        n = tidy(20, t, m, n)
        self.assertEqual(n, 24)
        self.assertAlmostEqual(heat_content(t, m, n), before, places=3)
        self.assertAlmostEqual(t[0], 10.0)

    def test_the_lower_store_refills_the_upper(self):
        low, high = column([40.0] * 20), column([60.0] * 20)
        n_high, _drawn, _short, _above, taken = draw_off(90.0, 60.0, 10.0, True, high[0], high[1], 20)
        n_low, n_high = refill(taken, 10.0, 15.0, low[0], low[1], 20, STORE, high[0], high[1], n_high)
        self.assertAlmostEqual(high[1][:n_high].sum(), 300.0, places=6)
        self.assertAlmostEqual(low[1][:n_low].sum(), 300.0, places=6)
        self.assertAlmostEqual(high[0][0], 40.0)
        self.assertAlmostEqual(low[0][0], 10.0)

    def test_top_loss_cools_the_top_only(self):
        t, m, n = column([60.0] * 20)
        lost = end_loss(2.0, 20.0, True, 3600.0, 15.0, t, m, n)
        self.assertAlmostEqual(lost, 15 * WATER_J_KGK * (60.0 - t[n - 1]), places=3)
        self.assertAlmostEqual(lost, 2.0 * 40 * 3600, delta=0.12 * 2.0 * 40 * 3600)
        self.assertEqual(t[0], 60.0)


class Vents(TestCase):
    def test_steam_carries_its_latent_heat_and_is_made_up(self):
        t, m, n = column([80.0] * 19 + [130.0])
        before = heat_content(t, m, n)
        lost, gone, n = boil(100.0, 10.0, 2.257e6, STORE, t, m, n)
        self.assertAlmostEqual(gone, 15 * WATER_J_KGK * 30 / 2.257e6, places=9)
        self.assertAlmostEqual(before - heat_content(t, m, n), lost, delta=1.0)
        self.assertLessEqual(t[:n].max(), 100.0 + 1e-9)
        self.assertAlmostEqual(m[:n].sum(), 300.0, places=7)

    def test_nothing_boils_below_the_limit(self):
        t, m, n = column([80.0] * 20)
        self.assertEqual(boil(98.0, 10.0, 0.0, STORE, t, m, n)[:2], (0.0, 0.0))

    def test_boiling_point_falls_with_the_pressure(self):
        """Steam tables: 100.0 °C at 101.3 kPa, 93.5 °C at 80 kPa."""
        self.assertAlmostEqual(boiling_point_c(101_325.0), 100.0, delta=0.05)
        self.assertAlmostEqual(boiling_point_c(80_000.0), 93.5, delta=0.1)


class PoolSurface(TestCase):
    def pool(self, place):
        still, windy = EVAPORATION["quiet" if place == "outdoor" else place]
        return Pool(1e6, 10.0, still, windy, 0.0, 0.0, 31.0)

    def test_by_hand(self):
        """27 °C water, 20 °C air of 50 %, still: 3.567 - 1.169 kPa times 64.7 W/m²kPa on 10 m²."""
        vapour = 0.5 * float(saturation_kpa(20.0))
        gone, air, sky = pool_losses(self.pool("outdoor"), 27.0, 20.0, vapour, 0.0, 10.0, 1.0, 1.0)
        self.assertAlmostEqual(gone, 10 * 64.7 * (3.567 - 1.169), delta=6.0)
        self.assertAlmostEqual(air, 10 * 64.7 * 0.0613 * 7.0, places=6)
        self.assertAlmostEqual(sky, 10 * 0.95 * 5.670374e-8 * (300.15**4 - 283.15**4), delta=0.1)

    def test_cover_and_wind(self):
        args = (27.0, 20.0, 1.2)
        bare = pool_losses(self.pool("indoor"), *args, 0.0, 15.0, 1.0, 1.0)[0]
        self.assertGreater(pool_losses(self.pool("indoor"), *args, 2.0, 15.0, 1.0, 1.0)[0], 2 * bare)
        self.assertAlmostEqual(pool_losses(self.pool("indoor"), *args, 0.0, 15.0, 0.25, 1.0)[0], 0.25 * bare)
        self.assertEqual(pool_losses(self.pool("indoor"), 5.0, 25.0, 3.0, 0.0, 25.0, 1.0, 1.0)[0], 0.0)


class Loops(TestCase):
    def test_lifting_coil_meets_the_exchanger_formula_and_keeps_heat(self):
        t, m, n = column([50.0] * 20)
        effect, warming = np.zeros((2, 60))
        coil = Coil(900.0, 0.0, 1.0)
        share, offset, upper = coil_lift_response(coil, 500.0, 1e-6, t, m, n, 300.0, effect, warming)
        self.assertAlmostEqual(share * 10 + offset, 50 - 40 * exp(-900 / 500), places=5)
        share, offset, upper = coil_lift_response(coil, 500.0, 300.0, t, m, n, 300.0, effect, warming)
        before = heat_content(t, m, n)
        given = coil_lift_deliver(10.0, 500.0, 300.0, t, upper, effect, warming)
        self.assertLess(given, 0.0)
        self.assertAlmostEqual(heat_content(t, m, n) - before, given, delta=1e-6 * abs(given))

    def test_free_convection_falls_with_the_lead(self):
        self.assertAlmostEqual(convection_factor(20.0), 1.0)
        self.assertAlmostEqual(convection_factor(5.0), 0.25**0.25)

    def test_search_finds_the_balance_of_any_falling_drive(self):
        for drive in (lambda m: 2.0 / m, lambda m: 50.0 - 4000.0 * m, lambda m: 30.0 * exp(-80.0 * m)):
            flow, search = 1e-3, (0.0, 1.0, -1.0, 0.0, 0.0, 0.0)
            for _ in range(60):
                push, friction = drive(flow), 900.0 * flow + 2e4 * flow * flow
                if abs(push - friction) < 1e-9 * friction:
                    break
                flow, search = next_flow(flow, push, friction, search)
            self.assertAlmostEqual(drive(flow) / (900.0 * flow + 2e4 * flow * flow), 1.0, delta=1e-6)

    def test_laminar_terms_are_the_pressure_drop(self):
        passage = Passage(12.0, 0.016, 2.0, 6.0)
        linear, square, limit = laminar_terms(8e-4, 990.0, passage)
        for flow in (0.2 * limit, 0.99 * limit):
            self.assertAlmostEqual(
                linear * flow + square * flow**2, pressure_drop(flow, 8e-4, 990.0, passage), places=9
            )

    def test_pipes_in_their_surroundings(self):
        bare, wrapped = (insulated_loss_w_k(10.0, 22.0, mm, 0.04) for mm in (0.0, 25.0))
        buried = insulated_loss_w_k(10.0, 22.0, 25.0, 0.04, buried_m=0.6)
        plastic = insulated_loss_w_k(10.0, 22.0, 0.0, 0.04, wall_mm=2.0, wall_w_mk=0.4)
        self.assertTrue(wrapped < plastic < bare)
        self.assertAlmostEqual(
            buried, wrapped, delta=0.05 * wrapped
        )  # ground resists as a film does; its warmth differs
        known = parse({"system": {"loop": {"supply_pipe": {"loss_w_k": 7}}}}).system.loop.supply_pipe
        self.assertEqual(pipe_loss_w_k(known), 7)

    def test_fluid_curves_follow_the_table(self):
        for share in (0.0, 40.0):
            fluid = fluid_curves(share)
            for celsius in (5.0, 50.0, 90.0):
                curve = fluid.d0 + (fluid.d1 + fluid.d2 * celsius) * celsius
                self.assertAlmostEqual(curve / fluid_property("density_kg_m3", share, celsius), 1.0, delta=0.002)

    def test_mean_approach_and_sensor(self):
        self.assertAlmostEqual(mean_approach(1.0), 1 - exp(-1.0))
        self.assertAlmostEqual(mean_approach(1e-9), 1.0)
        control = Differential(7.0, 3.0, 0.0, 1.0, 85.0, 3.0, True, 130.0, 4.0, 0.5, 0.0)
        self.assertAlmostEqual(collector_reading(control, 60.0, 20.0), 44.0)

    def test_pressure_and_stagnation_of_the_default_design(self):
        self.assertTrue(1_000 < loop_drop_pa(Design(), 200.0) < 40_000)
        x = standing_c(Design().system.collector) - 30.0
        self.assertAlmostEqual(3.6 * x + 0.014 * x * x, 750.0, places=6)


class Prepared(TestCase):
    def test_bag_volume_and_layers_follow_its_depth(self):
        loop = {"glycol_percent": 0}
        bag = parse(
            {"system": {"kind": "bag", "loop": loop, "integral": {"depth_mm": 100}, "collector": {"area_m2": 2}}}
        )
        self.assertEqual((store_volume_l(bag), store_layers(bag)), (400.0, 3))

    def test_insulation_instead_of_a_loss(self):
        thin, thick = (parse({"system": {"store": {"insulation_mm": mm}}}).system.store for mm in (30, 100))
        self.assertTrue(0.8 < store_loss_w_k(thick, 300.0) < store_loss_w_k(thin, 300.0) < 4)

    def test_numbers_take_the_declared_type(self):
        self.assertIsInstance(exact(Passage(3, 0.02, 1, 0)).length_m, float)

    def test_faults_change_what_they_spoil_and_nothing_else(self):
        good = Design()
        self.assertEqual(faulty(good), good)
        wrong = parse(
            {"system": {"faults": {"soiling": 0.2, "no_check_valve": True, "flow_factor": 0.5, "tree_deg": 20}}}
        )
        bad = faulty(wrong)
        self.assertAlmostEqual(bad.system.collector.eta0, 0.8 * good.system.collector.eta0)
        self.assertFalse(bad.system.loop.check_valve)
        self.assertEqual(bad.system.loop.flow_kg_h, 100.0)
        self.assertEqual(len(bad.site.trees), 1)
        self.assertEqual(bad.system.store, good.system.store)
