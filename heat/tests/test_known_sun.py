"""What is known of the sun at places, spread to their neighbours: beside a small calculation by hand."""

from unittest import TestCase

import numpy as np

from heat.weather.known_sun import NUGGET, REACH_KM, atlas, distance_km, known_places, kriged, left_over, sun_band
from heat.weather.world import grid_means


class Known(TestCase):
    def test_two_places_by_hand(self):
        """One place d away from another: weight s² e^(-d/800) / (s² + 0.03²) of what is left over there."""
        places = np.array([[45.0, 10.0, 0.10], [-45.0, -170.0, -0.10]])
        known = kriged(places)
        spread = 0.10
        apart = 111.19  # a degree of latitude, km
        near = spread**2 * np.exp(-apart / REACH_KM)
        more, left = left_over(46.0, 10.0, known)
        self.assertAlmostEqual(more, 0.10 * near / (spread**2 + NUGGET**2), delta=1e-4)
        self.assertAlmostEqual(left, np.sqrt(spread**2 - near**2 / (spread**2 + NUGGET**2)), delta=1e-4)

    def test_a_degree_of_latitude(self):
        self.assertAlmostEqual(float(distance_km(10.0, 20.0, np.array([11.0]), np.array([20.0]))[0]), 111.19, delta=0.1)

    def test_far_from_all_less_is_known(self):
        self.assertLess(sun_band(48.0, 11.5), sun_band(-30.0, -120.0))
        for latitude, longitude in ((48.0, 11.5), (0.0, -30.0), (66.0, 25.0)):
            self.assertTrue(0.08 < sun_band(latitude, longitude) < 0.2)

    def test_what_is_kept_is_what_the_rule_leaves_over(self):
        """Three of the places worked out anew."""
        days = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
        for i in (0, 100, 250):
            latitude, longitude, sun = atlas()[i]
            ruled = float(grid_means(latitude, longitude).ghi_kwh_m2_day @ days)
            self.assertAlmostEqual(known_places()[i, 2], np.log(sun / ruled), delta=2e-3)
