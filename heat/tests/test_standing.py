"""How hot things become that stand in the sun, and how fast hot water burns, beside figures worked out by hand."""

from unittest import TestCase

from heat.collector.standing import bare_plate_c, is_unglazed, standing_c
from heat.design import parse
from heat.design.changing import with_changes
from heat.economics.parts_list import fluid_l
from heat.loop.runs import loop_drop_pa
from heat.simulation.year import simulate
from heat.sizing.boiling import bearing
from heat.sizing.circuit import resistances, working_point
from heat.sizing.hygiene import burns_in_s, is_small_system, made_safe_after
from heat.sizing.vessel import Contents, contents, expansion_vessel, reserve_l
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


class PumpsMeet(TestCase):
    def test_the_curve_meets_all_that_resists_it(self):
        """At the working point the pump's head is that of every part of the loop, the exchanger's among them."""
        flows = {}
        for kpa in (3.0, 15.0):
            document = with_changes(
                case_design().model_dump(mode="json"),
                {
                    "system.loop.drive.curve": [
                        {"flow_kg_h": 0.0, "head_m": 4.0},
                        {"flow_kg_h": 1200.0, "head_m": 0.0},
                    ],
                    "safety.exchanger_kpa": kpa,
                },
            )
            design = parse(document)
            point = working_point(design)
            self.assertAlmostEqual(point.head_m, 4.0 * (1.0 - point.flow_kg_h / 1200.0), delta=0.01)
            by_part = sum(part.drop_pa for part in resistances(design, point.flow_kg_h))
            self.assertAlmostEqual(loop_drop_pa(design, point.flow_kg_h), by_part, delta=1e-6 * by_part)
            flows[kpa] = point.flow_kg_h
        self.assertLess(flows[15.0], 0.8 * flows[3.0])


class Breeds(TestCase):
    """Small and large systems as DVGW W 551 parts them: 400 L stored, 3 L in the longest pipe."""

    def test_small_and_large(self):
        design = case_design()
        litres = design.system.store.volume_l
        self.assertEqual(is_small_system(design), litres <= 400.0)
        for path, value, small in (
            ("system.store.volume_l", 400.0, True),
            ("system.store.volume_l", 401.0, False),
            ("safety.branch_m", 30.0, False),
            ("demand.circulation.fitted", True, False),
        ):
            made = with_changes(design.model_dump(mode="json"), {"system.store.volume_l": 300.0} | {path: value})
            self.assertEqual(is_small_system(parse(made)), small, (path, value))

    def test_a_heater_after_the_store_counts_where_it_is_hot(self):
        made = lambda tap: parse(
            with_changes(
                case_design().model_dump(mode="json"), {"system.backup.tankless.fitted": True, "demand.tap_c": tap}
            )
        )
        self.assertTrue(made_safe_after(made(60.0)))
        self.assertFalse(made_safe_after(made(45.0)))


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
        reserve = reserve_l(filled, design.system.loop.glycol_percent)
        self.assertGreaterEqual(fluid_l(design), filled.whole_l + reserve)
        self.assertLess(fluid_l(design), filled.whole_l + reserve + 1.0)

    def test_the_reserve_of_a_large_field_holds_what_a_cold_night_shrinks(self):
        # by hand: propylene glycol of 40 % grows by 0.4 to 0.6 per mille a kelvin; 400 L over 30 K: 4.8 to 7.2 L
        large = reserve_l(Contents(300.0, 80.0, 20.0), 40.0)
        self.assertTrue(8.0 + 4.8 < large < 8.0 + 7.2, large)
        self.assertEqual(reserve_l(Contents(300.0, 80.0, 20.0), 0.0), 8.0)
        self.assertEqual(reserve_l(Contents(7.0, 5.0, 8.0), 40.0), 3.0)


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
