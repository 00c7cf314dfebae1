"""What the ledger says of a year: fractions, fuel, days, stagnation."""

from unittest import TestCase

import numpy as np

from heat.design import Design, parse
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, YearBook, points_between
from heat.loop.runs import loop_heat_capacity, pipe_run
from heat.simulation.prepare import prepare_parts
from heat.simulation.year import simulate
from heat.tests.samples import case_design, tmy3


def year_of(design=None, **columns):
    """A hand-made year: constant Wh in each hour of the named accounts."""
    books = np.zeros((8760, acc.COLUMNS))
    for name, value in columns.items():
        books[:, acc.NAMES.index(name)] = value
    return YearBook(design or Design(), books, np.zeros((8760, acc.TRACES)), np.zeros((8760, 4)), np.zeros(8760))


class Figures(TestCase):
    def test_three_fractions_by_hand(self):
        """Demand 100, bought 20, missing 10, solar into store 90, pump 2 Wh an hour; efficiency 0.92."""
        book = year_of(demand=100.0, bought_tankless=20.0, unmet=10.0, into_store=90.0, pump_electricity=2.0)
        self.assertAlmostEqual(book.fractions.at_tap, 0.70)
        self.assertAlmostEqual(book.fractions.of_supply, 90 / 110)
        self.assertAlmostEqual(book.fractions.fuel_saved, 1 - (20 / 0.92 + 10 / 0.92 + 2) / (100 / 0.92))

    def test_a_fault_takes_no_more_points_than_there_were(self):
        """Demand 100; 40 bought as designed, 190 with a boiler that heats the night: 60 points are lost, not 150."""
        sound, faulty = (year_of(demand=100.0, bought_tankless=bought) for bought in (40.0, 190.0))
        self.assertAlmostEqual(faulty.fractions.at_tap, -0.9)
        self.assertAlmostEqual(points_between(sound, faulty), -60)
        self.assertAlmostEqual(points_between(faulty, sound), 60)
        self.assertEqual(points_between(faulty, faulty), 0)

    def test_a_tank_heater_of_the_house_without_solar_has_a_standing_loss(self):
        design = parse({"system": {"backup": {"tankless": {"fitted": False}, "element": {"fitted": True}}}})
        book = year_of(design, demand=100.0, bought_element=40.0)
        self.assertAlmostEqual(book.fractions.fuel_saved, 1 - 40 / 160)

    def test_money_and_co2_follow_the_energy_bought(self):
        book = year_of(bought_tankless=92.0, bought_element=50.0)
        self.assertAlmostEqual(book.cost(), 8.76 * (100 * 0.14 + 50 * 0.28))
        self.assertAlmostEqual(book.co2_kg(), 8.76 * (100 * 0.21 + 50 * 0.35))

    def test_no_demand_divides_by_nothing(self):
        book = year_of()
        self.assertEqual(book.fractions.at_tap, 0.0)
        self.assertTrue(np.isfinite(book.fraction_by_month()).all())

    def test_days_without_backup(self):
        book = year_of(demand=100.0)
        book.books[24 * 10, acc.BOUGHT_TANKLESS] = 500.0
        book.books[24 * 200, acc.UNMET] = 500.0
        self.assertEqual(book.days_without_backup(), (363, 189))

    def test_a_lost_kilowatt_hour_is_noticed(self):
        """The check can fail: take 1 Wh out of one account and that hour no longer closes."""
        book = simulate(case_design(), tmy3())
        for column in (acc.STORE_LOSS, acc.SUPPLY_PIPE_LOSS, acc.OPTICAL_LOSS, acc.TO_TAP, acc.STORE_STORED):
            damaged = YearBook(book.design, book.books.copy(), book.traces, book.profile, book.mains_c)
            damaged.books[4000, column] -= 1.0
            with self.subTest(column=acc.NAMES[column]):
                self.assertEqual(damaged.hours_closed, 8759)
                self.assertGreater(abs(damaged.balance_kwh), 0.0009)


class Prepared(TestCase):
    def test_glycol_sets_the_heat_capacity_unless_typed(self):
        water = parse({"system": {"loop": {"glycol_percent": 0}}})
        typed = parse({"system": {"loop": {"heat_capacity_j_kgk": 3700}}})
        self.assertAlmostEqual(loop_heat_capacity(water), 4180, delta=5)
        self.assertEqual(loop_heat_capacity(typed), 3700)
        self.assertLess(loop_heat_capacity(Design()), 3900)

    def test_pipes_by_geometry_or_as_known(self):
        design = Design()
        run = pipe_run(design.system.loop.supply_pipe, design)
        self.assertTrue(1.5 < run.loss_w_k < 4.0)
        self.assertAlmostEqual(run.contents_j_k, 2.41 * 1.02 * 3780, delta=200)
        known = parse({"system": {"loop": {"supply_pipe": {"loss_w_k": 5, "contents_l": 0}}}})
        self.assertEqual(pipe_run(known.system.loop.supply_pipe, known)[:2], (5.0, 0.0))

    def test_every_number_reaches_the_loop_as_a_float(self):
        """An int would compile the loop a second time."""
        counts = {"layers", "exchange", "drains", "heaters", "steps"}

        def walk(part):
            for name, value in zip(part._fields, part, strict=True):
                if hasattr(value, "_fields"):
                    walk(value)
                elif not isinstance(value, bool) and name not in counts:
                    self.assertIsInstance(value, float, name)

        walk(prepare_parts(parse(case_design().model_dump(mode="json")), tmy3()))


class Behaviour(TestCase):
    def year(self, **system):
        document = case_design().model_dump(mode="json")
        for part, values in system.items():
            document["system"][part] |= values
        return simulate(parse(document), tmy3())

    def test_a_small_store_in_summer_stagnates(self):
        small, large = self.year(store={"volume_l": 80.0}), self.year(store={"volume_l": 800.0})
        self.assertGreater(small.stagnation_hours(), 100)
        self.assertEqual(large.stagnation_hours(), 0)
        self.assertGreater(small.stagnation_peak_c(), 130)

    def test_a_low_limit_keeps_the_store_below_it(self):
        book = self.year(control={"store_limit_c": 55.0})
        self.assertLess(book.profile[:, -1].max(), 57.5)

    def test_the_guard_against_evening_running_is_significant_pump_hours(self):
        document = case_design(layers=50).model_dump(mode="json")
        guarded = simulate(parse(document), tmy3())
        document["system"]["control"]["stop_without_gain"] = False
        plain = simulate(parse(document), tmy3())
        self.assertGreater(plain.pump_hours(), guarded.pump_hours() + 400)
        self.assertGreater(plain.total(*BOUGHT), guarded.total(*BOUGHT))

    def test_capacity_costs_a_little_and_is_stored_in_the_books(self):
        heavy = self.year(collector={"a5_kj_m2k": 20.0})
        self.assertLess(heavy.total(acc.INTO_STORE), self.year().total(acc.INTO_STORE))
        self.assertEqual(heavy.hours_closed, 8760)

    def test_bare_outdoor_pipes_lose_more(self):
        bare = {"length_m": 30.0, "insulation_mm": 0.0, "outdoors": True, "loss_w_k": None, "contents_l": None}
        wrapped = bare | {"insulation_mm": 25.0}
        losses = [
            self.year(loop={"supply_pipe": p, "return_pipe": p}).total(acc.SUPPLY_PIPE_LOSS, acc.RETURN_PIPE_LOSS)
            for p in (bare, wrapped)
        ]
        self.assertGreater(losses[0], 1.5 * losses[1])
