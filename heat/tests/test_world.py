"""A rough climate of anywhere: every corner of the world, and what its uncertainty is worth."""

from unittest import TestCase

import numpy as np

from heat.errors import InputError
from heat.simulation.year import simulate
from heat.tests.samples import case_design
from heat.weather.known_sun import sun_band
from heat.weather.world import clear_months, rough_climate, rough_year, with_sun
from heat.weather.year import monthly_means, monthly_sums


class World(TestCase):
    def test_a_year_has_the_means_of_its_place(self):
        rough, year = rough_climate(44.0, 4.5), rough_year(44.0, 4.5)
        days = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
        np.testing.assert_allclose(monthly_sums(year.ghi_w_m2) / 1000 / days, rough.ghi_kwh_m2_day, rtol=0.03)
        np.testing.assert_allclose(monthly_means(year.air_c), rough.air_c, atol=1e-6)
        self.assertEqual((year.kind, year.made_up, year.utc_offset_h), ("rough", False, 1.0))
        self.assertIn("may be off", year.notes[0].text)

    def test_the_edges_of_the_grid_meet(self):
        for latitude in (10.0, -45.0):
            west, east = rough_climate(latitude, -180.0), rough_climate(latitude, 179.999)
            np.testing.assert_allclose(west.air_c, east.air_c, atol=0.1)
            np.testing.assert_allclose(west.ghi_kwh_m2_day, east.ghi_kwh_m2_day, rtol=0.05)
        near, nearer = rough_climate(20.0, 0.0, 400.0), rough_climate(20.0, 359.9999, 400.0)
        np.testing.assert_allclose(near.air_c, nearer.air_c, atol=0.3)

    def test_every_site_a_design_may_have_gets_a_year(self):
        for latitude, longitude in ((66.0, 25.0), (-54.9, -67.6), (0.0, -30.0), (-66.0, 100.0), (36.0, 138.0)):
            with self.subTest(latitude=latitude):
                year = rough_year(latitude, longitude)
                self.assertTrue(np.isfinite(year.ghi_w_m2).all() and np.isfinite(year.air_c).all())
                self.assertTrue(300 < year.ghi_w_m2.sum() / 1000 < 2600)
        with self.assertRaises(InputError):
            rough_year(89.0, 0.0)

    def test_height_cools(self):
        low, high = rough_climate(46.5, 8.0, 500.0), rough_climate(46.5, 8.0, 2500.0)
        np.testing.assert_allclose(low.air_c - high.air_c, 13.0, atol=1e-9)
        self.assertGreater(clear_months(46.5, 8.0, 2500.0)[5], clear_months(46.5, 8.0, 500.0)[5])

    def test_the_uncertainty_moves_the_fraction_both_ways(self):
        year, design, off = rough_year(44.0, 4.5), case_design(), sun_band(44.0, 4.5)
        low, middle, high = (simulate(design, with_sun(year, s)).fractions.at_tap for s in (-off, 0.0, off))
        self.assertTrue(low + 0.02 < middle < high - 0.01, (low, middle, high))
