"""Collector, pipes, coil, store, tap: each against its definition or an analytic answer."""

from math import exp, pi
from unittest import TestCase

import numpy as np

from heat.collector.rated import RatedCollector, heat_loss, running_temperature, stagnation_temperature
from heat.common.fluid import fluid_property, freezing_point_c
from heat.constants import WATER_J_KGK
from heat.control.differential import Differential, store_allows, wants_start, wants_stop
from heat.demand.hot_water import draw
from heat.loop.coil import Coil, coil_deliver, coil_response
from heat.loop.pipe import (
    Pipe,
    contents_litres,
    insulated_loss_w_k,
    pipe_pass,
    pipe_response,
    pipe_rest,
    pipe_retention,
)
from heat.simulation.parts import Load
from heat.simulation.uses import serve_by_coil
from heat.store.layers import (
    LayeredStore,
    add_below,
    conduct,
    heat_above,
    heat_content,
    lose_to_room,
    mean_between,
    mix_inversions,
    sensor,
    spread,
    stir,
)

FLAT = RatedCollector(4.0, 0.014, 0.0)


def column(*celsius, mass=15.0, room=10):
    t, m = np.zeros(len(celsius) + room), np.zeros(len(celsius) + room)
    t[: len(celsius)] = celsius
    m[: len(celsius)] = mass
    return t, m, len(celsius)


class Collector(TestCase):
    def test_fixed_inlet_obeys_the_rated_curve(self):
        """share 0, offset = inlet: the outlet must carry eta0 G - a1 x - a2 x², to 1e-9."""
        mean, outlet = running_temperature(600.0, 10.0, 0.0, 360.0, 3.6, FLAT, 200.0, 0.0, 40.0)
        x = mean - 10.0
        q = 600.0 - 3.6 * x - 0.014 * x * x
        self.assertAlmostEqual(200.0 * (outlet - 40.0) / (4.0 * q), 1.0, delta=1e-9)
        self.assertAlmostEqual(mean, (outlet + 40.0) / 2, places=12)

    def test_stagnation_is_where_loss_equals_gain(self):
        celsius = stagnation_temperature(780.0, 25.0, 0.0, 360.0, 3.6, FLAT)
        self.assertAlmostEqual(heat_loss(celsius - 25.0, 3.6, 0.014), 780.0, places=9)

    def test_loss_without_quadratic_term_and_below_ambient_is_linear(self):
        linear = FLAT._replace(a2=0.0)
        self.assertAlmostEqual(stagnation_temperature(360.0, 20.0, 0.0, 60.0, 3.6, linear), 120.0)
        self.assertAlmostEqual(heat_loss(-10.0, 3.6, 0.014), -36.0)

    def test_thermal_capacity_slows_the_warming(self):
        heavy = FLAT._replace(a5=8000.0)
        slow = stagnation_temperature(600.0, 10.0, 10.0, 360.0, 3.6, heavy)
        self.assertLess(slow, stagnation_temperature(600.0, 10.0, 10.0, 360.0, 3.6, FLAT))
        halves = stagnation_temperature(600.0, 10.0, slow, 360.0, 3.6, heavy)
        self.assertAlmostEqual(halves, stagnation_temperature(600.0, 10.0, 10.0, 720.0, 3.6, heavy), places=9)
        tiny = stagnation_temperature(600.0, 10.0, 40.0, 0.01, 3.6, heavy)
        self.assertAlmostEqual(8000.0 * (tiny - 40.0) / 0.01 + heat_loss(30.0, 3.6, 0.014), 600.0, delta=0.01)


class Pipes(TestCase):
    def test_loss_by_hand(self):
        """1 m of 18 mm with 20 mm of 0.04: ln(29/9)/(2 pi 0.04) = 4.655, film 1/(2 pi 0.029 10) = 0.549."""
        self.assertAlmostEqual(insulated_loss_w_k(1.0, 18.0, 20.0, 0.04), 1 / 5.2044, places=4)
        self.assertAlmostEqual(contents_litres(10.0, 16.0), 10 * pi * 0.08**2 * 10, places=9)

    def test_passing_agrees_with_the_response_and_loses_what_it_states(self):
        pipe = Pipe(3.0, 8000.0)
        retention = pipe_retention(pipe, 200.0, 360.0)
        share, offset = pipe_response(pipe, retention, 360.0, 30.0, 20.0)
        current, outlet, lost = pipe_pass(pipe, 200.0, retention, 360.0, 30.0, 20.0, 60.0)
        self.assertAlmostEqual(outlet, share * 60.0 + offset, places=12)
        brought = 200.0 * (60.0 - outlet) * 360.0
        self.assertAlmostEqual(brought, lost + 8000.0 * (current - 30.0), places=6)

    def test_standing_contents_cool_exponentially(self):
        new, lost = pipe_rest(Pipe(3.0, 8000.0), 3600.0, 60.0, 20.0)
        self.assertAlmostEqual(new, 20.0 + 40.0 * exp(-3.0 * 3600 / 8000), places=10)
        self.assertAlmostEqual(lost, 8000.0 * (60.0 - new), places=8)
        self.assertEqual(pipe_rest(Pipe(3.0, 0.0), 60.0, 60.0, 20.0), (20.0, 0.0))


class CoilTest(TestCase):
    def test_even_store_meets_the_exchanger_formula(self):
        """One temperature, a short step: T_out - T = (T_in - T) exp(-UA/C)."""
        t, m, n = column(*[30.0] * 20)
        work = np.zeros((2, 40))
        share, offset, _top = coil_response(Coil(350.0, 0.0, 0.35), 205.0, 1e-6, t, m, n, 300.0, *work)
        self.assertAlmostEqual(share * 60 + offset, 30 + 30 * exp(-350 / 205), places=6)

    def test_heat_given_is_heat_gained(self):
        t, m, n = column(*np.linspace(15, 55, 20))
        effect, warming = np.zeros((2, 40))
        before = heat_content(t, m, n)
        share, offset, upper = coil_response(Coil(350.0, 0.1, 0.47), 205.0, 360.0, t, m, n, 300.0, effect, warming)
        given = coil_deliver(65.0, 205.0, 360.0, t, upper, effect, warming)
        self.assertAlmostEqual(given, heat_content(t, m, n) - before, delta=1e-6 * given)
        self.assertAlmostEqual(given, 205.0 * (65.0 - share * 65.0 - offset) * 360.0, delta=1e-9 * given)
        self.assertEqual(effect[0], 0.0)
        self.assertEqual(effect[12], 0.0)


class Store(TestCase):
    store = LayeredStore(300.0, 20, 2.0, 20.0, 0.0, False)

    def test_one_layer_cools_exponentially(self):
        t, m, n = column(80.0, mass=300.0)
        retention = exp(-2.0 * 360.0 / (300.0 * WATER_J_KGK))
        lost = sum(lose_to_room(20.0, retention, t, m, n) for _ in range(240))
        exact = 20.0 + 60.0 * exp(-2.0 * 86400 / (300.0 * WATER_J_KGK))
        self.assertAlmostEqual(t[0], exact, places=9)
        self.assertAlmostEqual(lost, 300 * WATER_J_KGK * (80.0 - exact), delta=1.0)

    def test_plug_flow_keeps_the_front_sharp(self):
        """Drawing one volume: hot until the front arrives, 90 % of the step within one layer."""
        t, m, n = column(*[60.0] * 20)
        outlet = []
        for _ in range(1000):
            outlet.append(t[n - 1])
            n, _drawn, _short, _above, _taken = draw(0.3, 90.0, 10.0, True, 15.0, t, m, n)
        hot = [i for i, celsius in enumerate(outlet) if celsius > 59.9]
        cold = [i for i, celsius in enumerate(outlet) if celsius < 15.0]
        self.assertGreaterEqual(len(hot), 945)
        self.assertTrue(not cold or min(cold) >= 950)
        self.assertAlmostEqual(m[:n].sum(), 300.0, places=9)
        n, *_ = draw(15.0, 90.0, 10.0, True, 15.0, t, m, n)
        self.assertAlmostEqual(t[n - 1], 10.0, places=6)

    def test_stirring_smears_and_keeps_the_heat(self):
        t, m, n = column(*np.linspace(12, 60, 20))
        n = add_below(9.0, 2.4, 15.0, t, m, n)
        m[n - 1] -= 2.4
        before = heat_content(t, m, n)
        n = stir(self.store, t, m, n, np.zeros(30))
        self.assertEqual(n, 20)
        self.assertAlmostEqual(heat_content(t, m, n), before, delta=1e-6)
        even = np.zeros(20)
        spread(self.store, t, m, n, even)
        np.testing.assert_allclose(even, t[:20])

    def test_inversions_mix_to_a_stable_column_with_the_same_heat(self):
        rng = np.random.default_rng(5)
        for _ in range(50):
            t, m, n = column(*rng.uniform(5, 90, 20))
            m[:20] = rng.uniform(1, 30, 20)
            before = heat_content(t, m, n)
            mix_inversions(t, m, n)
            self.assertTrue((np.diff(t[:20]) >= -1e-12).all())
            self.assertAlmostEqual(heat_content(t, m, n), before, delta=1e-6 * before)

    def test_conduction_evens_out_and_keeps_the_heat(self):
        t, m, n = column(20.0, 80.0)
        before = heat_content(t, m, n)
        conduct(self.store._replace(conductance_w_kg_k=5.0), 3600.0, t, m, n, *np.zeros((2, 30)))
        self.assertLess(t[1] - t[0], 60.0)
        self.assertAlmostEqual(heat_content(t, m, n), before, places=3)
        conduct(self.store._replace(conductance_w_kg_k=1e9), 3600.0, t, m, n, *np.zeros((2, 30)))
        self.assertAlmostEqual(t[0], 50.0, delta=0.01)

    def test_conduction_keeps_the_heat_where_crumbs_lie_on_crumbs(self):
        rng = np.random.default_rng(6)
        store = self.store._replace(mass_kg=5000.0, conductance_w_kg_k=4e4)
        for _ in range(40):
            t, m, n = column(*rng.uniform(5, 95, 20))
            m[:20] = 10.0 ** rng.uniform(-9, 3, 20)
            m[3:6] = 2e-9
            current, pace = heat_content(t, m, n), 2.0 * store.conductance_w_kg_k * 3600.0 / WATER_J_KGK
            links = pace / (m[:19] + m[1:20])
            flows = np.diag(links, 1) + np.diag(links, -1)
            wanted = np.linalg.solve(np.diag(m[:20] + flows.sum(axis=1)) - flows, m[:20] * t[:20])
            conduct(store, 3600.0, t, m, n, *np.zeros((2, 30)))
            self.assertAlmostEqual(heat_content(t, m, n), current, delta=1e-12 * current)
            np.testing.assert_allclose(t[:20], wanted, atol=0.05)

    def test_a_coil_of_a_load_never_takes_more_than_is_wanted(self):
        rng = np.random.default_rng(7)
        settled = 0
        for _ in range(400):
            t, m, n = column(*np.sort(rng.uniform(10, 70, 20)))
            m[:20] = rng.uniform(1e-3, 30, 20)
            store = self.store._replace(mass_kg=m.sum(), layers=20)
            low, high = sorted(rng.uniform(0, 1, 2))
            load = Load(0.9, 0.1, 0.0, -50.0, 0.0, 0.0, Coil(10.0 ** rng.uniform(0, 4), low, high + 1e-3))
            current, wanted = heat_content(t, m, n), 10.0 ** rng.uniform(3, 8)
            back = rng.uniform(5, 40)
            heat = serve_by_coil(
                load, wanted, back + rng.uniform(0, 30), back, 900.0, store, t, m, n, *np.zeros((2, 30))
            )
            self.assertLessEqual(heat, wanted * (1.0 + 1e-9))
            self.assertAlmostEqual(current - heat_content(t, m, n), heat, delta=1e-9 * current)
            settled += 0.99 * wanted < heat
        self.assertGreater(settled, 40)

    def test_sensors_and_element(self):
        t, m, n = column(*np.linspace(10, 48, 20))
        self.assertAlmostEqual(sensor(0.0, self.store, t, m, n), 10.0)
        self.assertAlmostEqual(sensor(1.0, self.store, t, m, n), 48.0)
        self.assertAlmostEqual(mean_between(0.0, 30.0, t, m, n), 11.0)
        before = heat_content(t, m, n)
        given, n = heat_above(0.52, 1e6, 55.0, self.store, t, m, n)
        self.assertEqual(n, 21)  # parted at the heater: what lies below keeps its temperature
        self.assertAlmostEqual(t[10], np.linspace(10, 48, 20)[10])
        self.assertAlmostEqual(given, 1e6)
        self.assertAlmostEqual(heat_content(t, m, n) - before, 1e6, places=2)
        mix_inversions(t, m, n)
        above = heat_content(t[11:], m[11:], n - 11)
        full, n = heat_above(0.52, 1e12, 55.0, self.store, t, m, n)
        wanted = (300 - m[:11].sum()) * WATER_J_KGK * 55.0 - above
        self.assertAlmostEqual(full / wanted, 1.0, places=9)


class Tap(TestCase):
    def test_tempering_valve_takes_only_what_it_needs(self):
        t, m, n = column(*[70.0] * 20)
        n, drawn, short, above, taken = draw(10.0, 45.0, 10.0, True, 15.0, t, m, n)
        self.assertAlmostEqual(taken, 10.0 * 35 / 60)
        self.assertAlmostEqual(drawn, 10.0 * 35 * WATER_J_KGK, places=4)
        self.assertLess(abs(short) + abs(above), 1e-6)

    def test_without_the_valve_the_tap_runs_too_hot(self):
        t, m, n = column(*[70.0] * 20)
        n, _drawn, _short, above, taken = draw(10.0, 45.0, 10.0, False, 15.0, t, m, n)
        self.assertAlmostEqual(taken, 10.0)
        self.assertAlmostEqual(above, 10.0 * 25 * WATER_J_KGK, places=4)

    def test_cold_store_leaves_the_rest_to_the_heater(self):
        t, m, n = column(*[30.0] * 20)
        n, _drawn, short, _above, _taken = draw(10.0, 45.0, 10.0, True, 15.0, t, m, n)
        self.assertAlmostEqual(short, 10.0 * 15 * WATER_J_KGK, places=4)

    def test_more_than_the_store_holds(self):
        t, m, n = column(60.0, 60.0)
        n, drawn, short, _above, _taken = draw(100.0, 60.0, 10.0, True, 15.0, t, m, n)
        self.assertAlmostEqual(drawn + short, 100 * 50 * WATER_J_KGK, places=3)
        self.assertAlmostEqual(m[:n].sum(), 30.0)


class Controls(TestCase):
    control = Differential(7.0, 3.0, 0.0, 1.0, 85.0, 3.0, True, 130.0, 0.0, 1.0, 0.0)

    def test_hysteresis_and_limits(self):
        self.assertTrue(wants_start(self.control, 27.0, 20.0))
        self.assertFalse(wants_start(self.control, 26.9, 20.0))
        self.assertFalse(wants_start(self.control, 131.0, 20.0))
        self.assertTrue(wants_stop(self.control, 23.0, 20.0, 20.0, 23.0))
        self.assertTrue(wants_stop(self.control, 30.0, 31.0, 20.0, 30.0))
        self.assertFalse(store_allows(self.control, 85.0, False))
        self.assertFalse(store_allows(self.control, 83.0, True))
        self.assertTrue(store_allows(self.control, 81.9, True))


class Fluids(TestCase):
    def test_water_and_glycol(self):
        self.assertAlmostEqual(fluid_property("density_kg_m3", 0, 20), 998.2, delta=0.3)
        self.assertAlmostEqual(fluid_property("heat_capacity_j_kgk", 40, 50), 3780, delta=60)
        self.assertLess(freezing_point_c(40), -20)
        self.assertGreater(fluid_property("viscosity_mpas", 50, 20), 5)
        with self.assertRaisesRegex(KeyError, "colour"):
            fluid_property("colour", 0, 20)
