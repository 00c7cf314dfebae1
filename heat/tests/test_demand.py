"""Exchangers and friction by hand; demand by week, month and holiday; rooms."""

from unittest import TestCase

import numpy as np

from heat.compiled import PACKAGE
from heat.demand.profile import exponential_mean, heating_watts, reset_temperatures, spread_series, tap_litres
from heat.design.needs import Demand, Heating
from heat.loop.circulation import darcy_factor
from heat.loop.plate import counterflow_effectiveness
from heat.tests.samples import tmy3

EXAMPLES = PACKAGE.parent / "docs" / "examples"


class Correlations(TestCase):
    def test_exchanger_and_friction(self):
        """Counter-flow NTU 2, ratio 0.5: 0.7746 by hand; NTU 1, ratio 1: 0.5."""
        self.assertAlmostEqual(counterflow_effectiveness(200.0, 100.0, 200.0), 0.7746, places=4)
        self.assertAlmostEqual(counterflow_effectiveness(100.0, 100.0, 100.0), 0.5)
        self.assertAlmostEqual(darcy_factor(1000.0), 0.064)
        self.assertAlmostEqual(darcy_factor(20000.0), 0.0266, places=4)

    def test_demand_by_week_month_and_holiday(self):
        demand = Demand(people=1, litres_per_person_day=100, weekend_factor=2.0, first_weekday=0,
                        month_factors=(0.5,) + (1.0,) * 11, holidays=((200, 206), (364, 2)))  # fmt: skip
        daily = tap_litres(demand).reshape(365, 24).sum(axis=1)
        self.assertEqual(daily[0], 0.0)  # a holiday over the turn of the year
        self.assertAlmostEqual(daily[2], 50.0)
        self.assertAlmostEqual(daily[5], 100.0)  # Saturday in January: half of double
        self.assertAlmostEqual(daily[40], 200.0)
        self.assertEqual(daily[199:206].sum(), 0.0)
        week = spread_series(tuple(float(h) for h in range(168)), first_weekday=2)
        self.assertEqual(week[0], 48.0)
        self.assertEqual(week.size, 8760)

    def test_rooms_follow_cold_smoothed_by_the_building(self):
        light, heavy = (Heating(fitted=True, storage_kwh_k=c) for c in (0.0, 40.0))
        watts = [heating_watts(h, tmy3(), 0) for h in (light, heavy)]
        self.assertGreater(watts[0].max(), watts[1].max())
        self.assertAlmostEqual(exponential_mean(np.full(8760, 7.0), 50.0)[10], 7.0)
        supply, back = reset_temperatures(light, watts[0])
        coldest = int(watts[0].argmax())
        self.assertGreater(supply[coldest], supply[4000])
        self.assertTrue((supply > back).all())
