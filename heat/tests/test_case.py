"""The computed case, the books, and the monthly correlation on the TMY3 year pvlib ships."""

from unittest import TestCase

from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT
from heat.simulation.year import simulate
from heat.sizing.monthly_correlation import correlation_fraction, second_opinion
from heat.sun.site import plane_sun
from heat.tests.samples import case, case_design, tmy3
from heat.weather.year import monthly_sums


class ComputedCase(TestCase):
    def test_sun_on_the_plane(self):
        expected = case()["irradiance"]["expected_kwh_per_m2"]
        self.assertAlmostEqual(tmy3().ghi_w_m2.sum() / 1000, expected["horizontal"], delta=0.05)
        tilted = plane_sun(tmy3(), case_design()).total_w_m2().sum() / 1000
        self.assertAlmostEqual(tilted, expected["tilted"], delta=0.001 * expected["tilted"])

    def test_year_lies_within_its_bands(self):
        for inflow in ("plug", "stirred"):
            book = simulate(case_design(inflow=inflow), tmy3())
            found = {
                "from_collector_kWh": book.total(acc.FROM_COLLECTOR),
                "into_store_kWh": book.total(acc.INTO_STORE),
                "demand_kWh": book.total(acc.DEMAND),
                "bought_kWh": book.total(*BOUGHT),
                "store_loss_kWh": book.total(acc.STORE_LOSS),
            }
            expected = case()["expected_year"]
            for name, value in found.items():
                band = expected[name]
                with self.subTest(inflow=inflow, account=name):
                    self.assertAlmostEqual(value, band["value"], delta=band["tolerance"] * band["value"])
            fraction = expected["solar_fraction_a"]
            self.assertAlmostEqual(book.fractions.at_tap, fraction["value"], delta=fraction["tolerance_points"])

    def test_layers_of_a_stirred_store_change_the_fraction_as_the_case_states(self):
        for layers, step, value in ((10, 6, 0.890), (50, 1, 0.900)):
            book = simulate(case_design(layers=layers, step=step, inflow="stirred"), tmy3())
            self.assertAlmostEqual(book.fractions.at_tap, value, delta=0.004)

    def test_every_hour_closes(self):
        book = simulate(case_design(), tmy3())
        self.assertEqual(book.hours_closed, 8760)
        self.assertLess(book.residual_wh.max(), 1e-6)
        self.assertLess(abs(book.balance_kwh), 1e-8)

    def test_months_add_up_to_the_year(self):
        book = simulate(case_design(), tmy3())
        self.assertAlmostEqual(float(monthly_sums(book.books)[:, acc.DEMAND].sum()) / 1000, book.total(acc.DEMAND))


class SecondOpinionTest(TestCase):
    """Klein, Beckman & Duffie (1976) against nearly mixed stores of three layers."""

    def test_three_sizes_within_three_points(self):
        for area, litres in ((4.0, 300.0), (6.0, 450.0), (8.0, 600.0)):
            book = simulate(case_design(layers=3, inflow="stirred", area=area, litres=litres), tmy3())
            opinion = second_opinion(book, tmy3()).yearly
            with self.subTest(area=area):
                self.assertAlmostEqual(book.fractions.at_tap, opinion, delta=0.03)

    def test_layered_store_does_better(self):
        mixed = simulate(case_design(layers=3, inflow="stirred"), tmy3()).fractions.at_tap
        layered = simulate(case_design(layers=20), tmy3()).fractions.at_tap
        self.assertGreater(layered, mixed + 0.02)

    def test_printed_value(self):
        """f = 1.029*0.6 - 0.065*1.5 - 0.245*0.36 + 0.0018*2.25 + 0.0215*0.216, by hand 0.4404."""
        self.assertAlmostEqual(float(correlation_fraction(1.5, 0.6)), 0.4404, places=4)
