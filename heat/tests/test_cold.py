"""How cold it gets, beside climatic design tables of 68 places, fitted anew without each of them."""

import csv
from unittest import TestCase

import numpy as np

from heat.common.compiled import PACKAGE
from heat.tests.samples import climate
from heat.weather.cold import LOWER_END_K, by_rule, cold_of, season_cold_c, stretched, with_cold_days
from heat.weather.world import rough_climate, rough_year
from heat.weather.year import monthly_means


def tables():
    """Latitude, longitude, design air and mean of each year's lowest of every place (deg, °C)."""
    with (PACKAGE / "data" / "world" / "cold.csv").open() as lines:
        rows = csv.reader(line for line in lines if not line.startswith("#"))
        next(rows)
        return np.array([[float(v) for v in row] for row in rows])


class ByTheTables(TestCase):
    @classmethod
    def setUpClass(cls):
        cls.places = tables()
        cls.coldest = np.array([rough_climate(lat, lon).grid_air_c.min() for lat, lon, _d, _l in cls.places])

    def left_out(self, wanted):
        """Errors of a straight line fitted without each place (K)."""
        others = lambda i: np.arange(len(wanted)) != i
        return np.array(
            [
                np.polyval(np.polyfit(self.coldest[others(i)], wanted[others(i)], 1), self.coldest[i]) - wanted[i]
                for i in range(len(wanted))
            ]
        )

    def test_the_rule_is_the_line_through_them(self):
        for column, rule, spread in ((2, 0, 3.2), (3, 1, 3.9)):
            wanted = self.places[:, column]
            ruled = np.array([by_rule(c)[rule] for c in self.coldest])
            line = np.polyval(np.polyfit(self.coldest, wanted, 1), self.coldest)
            self.assertLess(float(abs(ruled - line).max()), 0.5)
            self.assertLess(float(np.sqrt((self.left_out(wanted) ** 2).mean())), spread)

    def test_nine_places_of_ten_lie_above_what_to_be_safe_from(self):
        safe = np.array([by_rule(c)[1] - LOWER_END_K for c in self.coldest])
        self.assertGreaterEqual(float((self.places[:, 3] >= safe).mean()), 0.85)


class Years(TestCase):
    def test_a_rough_year_is_as_cold_as_its_design_air(self):
        for latitude, longitude in ((48.0, 11.5), (52.0, 5.0), (-41.0, 174.0)):
            year = rough_year(latitude, longitude)
            design, _lowest = by_rule(float(rough_climate(latitude, longitude).air_c.min()))
            self.assertAlmostEqual(float(np.quantile(year.air_c, 0.004)), design, delta=0.6)
            np.testing.assert_allclose(monthly_means(year.air_c), rough_climate(latitude, longitude).air_c, atol=1e-6)

    def test_a_mild_made_up_year_does_not_decide(self):
        year = climate("merrow_coast")
        cold = cold_of(year)
        self.assertGreater(cold.year_c, cold.safe_from_c + 5.0)
        self.assertLess(cold.safe_from_c, cold.lowest_c)
        self.assertLess(cold.safe_from_c, -4.0)
        summer = np.zeros(8760, bool)
        summer[4000:5000] = True
        self.assertAlmostEqual(season_cold_c(year, summer), float(year.air_c[summer].min()) - LOWER_END_K)

    def test_a_year_of_typed_means_is_as_cold_as_its_design_air_and_says_so(self):
        mild = climate("merrow_coast")
        cold = with_cold_days(mild)
        design_c, _lowest = by_rule(float(min(monthly_means(mild.air_c))))
        hours = np.sort(cold.air_c)
        self.assertAlmostEqual(hours[round(0.004 * hours.size)], min(design_c, np.sort(mild.air_c)[35]), delta=0.3)
        np.testing.assert_allclose(monthly_means(cold.air_c), monthly_means(mild.air_c), atol=1e-9)
        self.assertIn(f"{design_c:.0f} °C", cold.notes[-1].text)

    def test_a_year_cold_enough_stays(self):
        air = rough_year(48.0, 11.5).air_c
        self.assertIs(stretched(air, float(air.min()) + 30.0), air)
