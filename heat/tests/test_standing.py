"""How hot things become that stand in the sun, and how fast hot water burns, beside figures worked out by hand."""

from unittest import TestCase

from heat.collector.standing import bare_plate_c, is_unglazed, standing_c
from heat.design import parse
from heat.economics.parts_list import fluid_l
from heat.simulation.year import simulate
from heat.sizing.boiling import bearing
from heat.sizing.hygiene import burns_in_s
from heat.sizing.vessel import contents, expansion_vessel, reserve_l
from heat.tests.samples import case_design, example, weather_for


class Standing(TestCase):
    def test_radiation_and_air_end_a_mat_s_heat(self):
        """At 88 °C under a sky of 18 °C: 0.9 σ (361.15⁴ - 291.4⁴) = 500 W/m² and 5.7 · 58 = 331; 940 are taken at a
        little more."""
        self.assertAlmostEqual(bare_plate_c(831.0 / 0.94, 30.0), 88.0, delta=0.5)
        mats = parse(example("pool_direct"))
        self.assertTrue(is_unglazed(mats.system.collector))
        self.assertLess(standing_c(mats.system.collector), 96.0)
        book = simulate(mats, weather_for(mats))
        self.assertLess(bearing(mats, book, None)[0].must_c, 96.0)

    def test_glass_keeps_its_rated_curve(self):
        """The computed case: 0.75 · 1000 = 3.6 x + 0.014 x² for collectors like the example's."""
        glazed = parse(example("thermosiphon_open")).system.collector
        self.assertFalse(is_unglazed(glazed))
        x = standing_c(glazed) - 30.0
        self.assertAlmostEqual(3.6 * x + 0.014 * x * x, 750.0, delta=40.0)


class Hot(TestCase):
    def test_hotter_water_never_takes_longer(self):
        self.assertEqual(burns_in_s(65.0), 1.5)
        times = [burns_in_s(c) for c in range(48, 96)]
        self.assertEqual(times, sorted(times, reverse=True))
        self.assertLess(burns_in_s(82.0), 0.5)

    def test_steam_ends_with_the_pipes(self):
        design = case_design()
        short = design.model_copy(update={"system": shortened(design.system)})
        vessel = expansion_vessel(short)
        pipes = short.system.loop.supply_pipe.length_m + short.system.loop.return_pipe.length_m
        self.assertEqual(pipes, 2.0)
        self.assertEqual(vessel.steam_m, pipes)

    def test_antifreeze_to_buy_is_what_fills_the_loop_and_its_reserve(self):
        design = case_design()
        filled = contents(design)
        self.assertGreaterEqual(fluid_l(design), filled.whole_l + reserve_l(filled))
        self.assertLess(fluid_l(design), filled.whole_l + reserve_l(filled) + 1.0)


def shortened(system):
    pipe = lambda one: one.model_copy(update={"length_m": 1.0})
    loop = system.loop
    return system.model_copy(
        update={
            "loop": loop.model_copy(
                update={"supply_pipe": pipe(loop.supply_pipe), "return_pipe": pipe(loop.return_pipe)}
            )
        }
    )
