"""Exchangers and friction by hand; demand by week, month and holiday; rooms."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from heat.common.compiled import PACKAGE
from heat.demand.profile import as_it_is, circulation_watts, process_watts, spread_series, tap_litres
from heat.demand.rooms import heating_watts, known_heating, reset_temperatures
from heat.design import parse
from heat.design.needs import Before, Circulation, Demand, Heating
from heat.errors import InputError
from heat.ledger import accounts as acc
from heat.loop.circulation import darcy_factor
from heat.loop.plate import counterflow_effectiveness
from heat.simulation.year import simulate
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
        demand = Demand(
            people=1,
            litres_per_person_day=100,
            weekend_factor=2.0,
            first_weekday=0,
            month_factors=(0.5,) + (1.0,) * 11,
            holidays=((200, 206), (364, 2)),
        )
        daily = tap_litres(demand, np.full(8760, 10.0)).reshape(365, 24).sum(axis=1)
        self.assertEqual(daily[0], 0.0)  # a holiday over the turn of the year
        self.assertAlmostEqual(daily[2], 50.0)
        self.assertAlmostEqual(daily[5], 100.0)  # Saturday in January: half of double
        self.assertAlmostEqual(daily[40], 200.0)
        self.assertEqual(daily[199:206].sum(), 0.0)
        week = spread_series(tuple(float(h) for h in range(168)), first_weekday=2)
        self.assertEqual(week[0], 48.0)
        self.assertEqual(week.size, 8760)

    def test_a_checked_room_follows_the_cold_at_once_and_keeps_only_what_warms_it_further(self):
        light, heavy = (Heating(fitted=True, storage_kwh_k=c) for c in (0.0, 40.0))
        watts = [heating_watts(h, tmy3(), 0) for h in (light, heavy)]
        self.assertAlmostEqual(watts[0].max(), 180 * (16 - tmy3().air_c.min()), places=6)
        self.assertAlmostEqual(watts[1].max(), watts[0].max(), places=6)  # the coldest hours find a held room
        self.assertLess(watts[1].sum(), 0.97 * watts[0].sum())  # mild days' warmth is kept for the evening
        supply, back = reset_temperatures(light, watts[0])
        coldest = int(watts[0].argmax())
        self.assertGreater(supply[coldest], supply[4000])
        self.assertTrue((supply > back).all())


class CutFirst(TestCase):
    MAINS = np.full(8760, 10.0)
    SHOWER = {"flow_l_min": 12, "minutes_day": 5, "flow_after_l_min": 6, "at_c": 38}

    def household(self, **more):
        return Demand(people=2, counted="fixtures", tap_c=50, fixtures=(self.SHOWER,), **more)

    def test_fixtures_hold_the_heat_they_mix(self):
        """2 people x 5 min x 6 L/min at 38 °C from 10 °C: 60 L x 28/40 = 42 L at 50 °C a day."""
        daily = tap_litres(self.household(), self.MAINS).reshape(365, 24).sum(axis=1)
        np.testing.assert_allclose(daily, 42.0)

    def test_before_and_after(self):
        demand = self.household(leaks_l_day=2, before={"leaks_l_day": 14})
        before = as_it_is(demand)
        self.assertEqual((before.litres_per_day, demand.litres_per_day), (2 * 60 + 14, 2 * 30 + 2))
        self.assertEqual(
            as_it_is(before.model_copy(update={"before": Before()})), before.model_copy(update={"before": Before()})
        )
        loop = Circulation(fitted=True, insulation_mm=30, hours_on=(True,) * 6 + (False,) * 18)
        after = Demand(circulation=loop, before={"circulation_mm": 0, "circulation_hours": 24})
        self.assertGreater(circulation_watts(as_it_is(after)).sum(), 10 * circulation_watts(after).sum())

    def test_leaks_never_go_on_holiday(self):
        demand = Demand(leaks_l_day=24, holidays=((1, 365),))
        np.testing.assert_allclose(tap_litres(demand, self.MAINS), 1.0)

    def test_pool_showers_by_month_and_weekend(self):
        demand = Demand(
            hot_water=False,
            tap_c=38,
            first_weekday=0,
            showers={
                "fitted": True,
                "count_day": 10,
                "litres_each": 20,
                "weekend_factor": 2,
                "month_factors": [0] * 6 + [1] + [0] * 5,
            },
        )
        daily = tap_litres(demand, self.MAINS).reshape(365, 24).sum(axis=1)
        self.assertEqual((daily[:181].sum(), daily[212:].sum()), (0.0, 0.0))
        self.assertEqual(sorted({round(float(d), 6) for d in daily[181:212]}), [200.0, 400.0])

    def test_last_years_fuel_reports_the_loss_coefficient(self):
        """Heat of a house of 210 W/K, given back as fuel of a boiler at 80 %, finds 210 W/K again."""
        house = Heating(fitted=True, loss_w_k=210, free_w=300)
        heat = heating_watts(house, tmy3(), 0).sum() / 1000.0
        fuelled = house.model_copy(
            update={
                "source": "fuel",
                "fuel": "heating oil, L",
                "fuel_year": heat / 0.8 / 10.0 + 150,
                "fuel_other": 150.0,
                "fuel_efficiency": 0.8,
                "loss_w_k": 1.0,
            }
        )
        self.assertAlmostEqual(known_heating(fuelled, tmy3(), 0).loss_w_k, 210, delta=0.1)
        frozen = fuelled.model_copy(update={"months": (False,) * 12})
        with self.assertRaises(InputError):
            known_heating(frozen, tmy3(), 0)


class Litres(TestCase):
    def test_a_measured_load_says_its_own_litres_a_day(self):
        of = lambda measured: parse({"demand": {"people": 4, "measured_l": measured, "leaks_l_day": 2.0}}).demand
        self.assertAlmostEqual(of(None).litres_per_day, 4 * 45 + 2)
        self.assertAlmostEqual(of([5.0] * 24).litres_per_day, 122)
        week = [1.0] * 120 + [3.0] * 48  # five days of 24 L, two of 72
        self.assertAlmostEqual(of(week).litres_per_day, (5 * 24 + 2 * 72) / 7 + 2)


class PoolsAndLoads(TestCase):
    @staticmethod
    def pool_year(**pool):
        design = parse(
            {
                "demand": {"hot_water": False, "pool": {"fitted": True, "heater_kw": 30, "area_m2": 20, **pool}},
                "system": {"kind": "pool_direct", "loop": {"glycol_percent": 0}},
            }
        )
        return simulate(design, tmy3())

    def test_a_month_alike_every_month_is_the_one_value(self):
        one, row = self.pool_year(set_c=26), self.pool_year(set_c=20, set_by_month=[26] * 12)
        self.assertAlmostEqual(one.total(acc.BOUGHT_POOL), row.total(acc.BOUGHT_POOL), places=6)

    def test_a_warmer_month_costs_in_that_month(self):
        warm = [26.0] * 12
        warm[6] = 30.0
        one, row = self.pool_year(set_c=26), self.pool_year(set_by_month=warm)
        more = row.by_month(acc.BOUGHT_POOL, acc.INTO_POOL) - one.by_month(acc.BOUGHT_POOL, acc.INTO_POOL)
        self.assertEqual(int(more.argmax()), 6)
        self.assertAlmostEqual(float(np.abs(more[:6]).max()), 0.0, places=6)
        self.assertEqual(row.hours_closed, 8760)

    def test_fresh_water_is_warmed_from_the_mains(self):
        """500 L a day while in use: m c (pool - mains), hour by hour, on top of what evaporates."""
        dry, wet = self.pool_year(set_c=26), self.pool_year(set_c=26, fresh_l_day=500)
        in_use = slice(2880, 6552)
        lift = wet.traces[in_use, acc.POOL_C] - wet.mains_c[in_use]
        by_hand = float(lift.sum()) * 500 / 24 * 4.186 / 3600
        evaporated = dry.by_month(acc.POOL_WATER)[4:9].sum()
        self.assertAlmostEqual(wet.by_month(acc.POOL_WATER)[4:9].sum(), by_hand + evaporated, delta=0.02 * by_hand)

    def test_a_load_by_weekend_and_month(self):
        demand = Demand(
            process={
                "fitted": True,
                "hourly_kw": [1.0] * 24,
                "weekend_factor": 0.5,
                "month_factors": [2] + [1] * 10 + [0],
            }
        )
        daily = process_watts(demand).reshape(365, 24).sum(axis=1) / 1000.0
        self.assertEqual((daily[0], daily[5], daily[40], daily[-1]), (48.0, 24.0, 12.0, 0.0))

    def test_a_circulation_loop_rests_in_its_months_off(self):
        demand = Demand(circulation={"fitted": True, "loss_w": 100, "months": [True] * 6 + [False] * 6})
        self.assertAlmostEqual(circulation_watts(demand).sum() / 1000.0, 0.1 * 24 * 181)
        thick, thin = (
            circulation_watts(Demand(circulation={"fitted": True, "insulation_mm": mm})).max() for mm in (40, 10)
        )
        self.assertLess(thick, thin)

    @given(
        flows=st.lists(st.tuples(st.floats(1, 20), st.floats(0.5, 10), st.floats(30, 55)), min_size=1, max_size=4),
        tap=st.floats(40, 60),
        mains=st.floats(2, 25),
    )
    def test_fixtures_request_for_the_heat_they_mix_whatever_the_tap(self, flows, tap, mains):
        fixtures = [{"flow_l_min": f, "minutes_day": m, "at_c": at} for f, m, at in flows]
        demand = Demand(people=1, counted="fixtures", tap_c=tap, fixtures=fixtures)
        litres = tap_litres(demand, np.full(8760, mains))
        heat = float((litres * (tap - mains)).sum())
        self.assertAlmostEqual(heat / (365 * sum(f * m * (at - mains) for f, m, at in flows)), 1.0, places=6)
