"""The far ends of what a document may say: every year closes, and no water is colder than its surroundings allow."""

from unittest import TestCase

import numpy as np

from heat.design import parse
from heat.design.contradictions import warnings
from heat.ledger import accounts as acc
from heat.simulation.year import simulate
from heat.tests.samples import example, weather_for
from heat.weather.sky import sky_temperature_c


def year(kind: str, **changes: dict):
    """The year of a kind's example with fields changed: ``demand__pool={...}``."""
    document = example(kind)
    for path, values in changes.items():
        part = document
        for name in path.split("__"):
            part = part.setdefault(name, {})
        part.update(values)
    design = parse(document)
    return simulate(design, weather_for(design))


WINDY = {"a1_w_m2k": 30, "a2_w_m2k2": 0.02, "a3_j_m3k": 9.9, "a6_s_m": 0.2, "eta0": 0.95}
"""A collector that lives by the wind: next to no linear loss is left in calm air."""


class Corners(TestCase):
    def test_a_small_pool_takes_any_fresh_water_and_any_bathers(self):
        for changed in ({"fresh_l_day": 800_000}, {"bathers_day": 10_000}):
            book = year("pool_direct", demand__pool={"area_m2": 2, **changed})
            with self.subTest(changed):
                self.assertEqual(book.hours_closed, 8760)
                open_ = book.traces[:, acc.POOL_C] > 0
                self.assertLess(book.traces[open_, acc.POOL_C].max(), 60.0)
                self.assertLess(abs(np.median(book.traces[4000:4700, acc.POOL_C] - book.mains_c[4000:4700])), 8.0)

    def test_a_store_cools_no_lower_than_air_and_sky(self):
        book = year(
            "pumped_coil",
            system__collector={"a1_w_m2k": 0.3, "a4": 0.6},
            system__loop={"check_valve": False},
            system__faults={"no_check_valve": True},
        )
        coldest = min(float(sky_temperature_c(weather_for(book.design)).min()), book.mains_c.min())
        self.assertGreater(book.profile.min(), coldest - 0.5)
        self.assertGreater(book.traces[:, acc.COLLECTOR_C].min(), coldest - 0.5)
        self.assertIn("system.collector.a4", [w.path for w in warnings(book.design, 0.0)])

    def test_wind_terms_absorb_no_more_than_the_sun(self):
        book = year("pumped_coil", system__collector=WINDY)
        self.assertEqual(book.hours_closed, 8760)
        sun = book.books[:, [acc.SUN_BEAM, acc.SUN_SKY, acc.SUN_GROUND]].sum(1)
        self.assertTrue((book.books[:, acc.ABSORBED] <= sun + 1e-6).all())

    def test_five_hundred_people_drain_a_small_store(self):
        for kind in ("pumped_coil", "seasonal_preheat", "combi", "batch_tank"):
            book = year(kind, demand={"people": 500, "litres_per_person_day": 300}, system__store={"volume_l": 50})
            with self.subTest(kind):
                self.assertEqual(book.hours_closed, 8760)


class Pasteurisation(TestCase):
    """A hotel: a solar store that preheats one kept hot by a boiler, pasteurised every Monday at two."""

    def hotel(self, **changed):
        plan = {"fitted": True, "every_days": 7, "from_hour": 2, "hours": 4, "target_c": 65, "transfer_kg_h": 900}
        return year(
            "pumped_coil",
            demand={"people": 20},
            system__store={"volume_l": 1000},
            system__second_store={"fitted": True, "volume_l": 500},
            system__backup={
                "boiler": {"fitted": True, "power_kw": 40, "height_share": 0.3, "sensor_share": 0.5, "set_c": 60}
                | changed.pop("boiler", {}),
                "tankless": {"fitted": False},
                "pasteurisation": plan | changed,
            },
        )

    def test_it_reaches_the_coldest_point_of_both_stores_every_week(self):
        book = self.hotel()
        for store in book.heated_through():
            self.assertEqual((store.planned, store.reached), (53, 53))  # 365 days hold 53 Mondays that begin one
            self.assertGreaterEqual(store.coldest_c, 64.5)
        self.assertEqual(book.hours_closed, 8760)

    def test_a_weak_boiler_or_no_pump_is_reported(self):
        weak, still = self.hotel(boiler={"power_kw": 6}), self.hotel(transfer_pump=False)
        self.assertTrue(all(s.reached < s.planned for s in weak.heated_through()))
        solar, hot = still.heated_through()
        self.assertLess(solar.reached, 5)
        self.assertLess(hot.coldest_c, 64.5)  # nothing warms what lies below its coil

    def test_a_pump_far_too_large_for_its_stores(self):
        plan = {"fitted": True, "every_days": 1, "hours": 12, "transfer_kg_h": 50_000}
        book = year(
            "pumped_coil",
            system__store={"volume_l": 5},
            system__second_store={"fitted": True, "volume_l": 5},
            system__backup={"boiler": {"fitted": True}, "pasteurisation": plan},
        )
        self.assertEqual(book.hours_closed, 8760)

    def test_the_ring_rests_meanwhile(self):
        book = year(
            "pumped_coil",
            demand__circulation={"fitted": True, "loss_w": 200},
            system__backup__pasteurisation={"fitted": True, "every_days": 1, "from_hour": 2, "hours": 3},
            system__backup__element={"fitted": True, "power_kw": 9},
        )
        night = np.arange(8760) % 24 == 3
        self.assertEqual(book.books[night, acc.CIRCULATION_DEMAND].sum(), 0.0)
        self.assertGreater(book.books[~night, acc.CIRCULATION_DEMAND].sum(), 0.0)


class Dumps(TestCase):
    def test_it_acts_before_the_pump_stops_at_the_store_or_the_collectors(self):
        small = {"demand": {"people": 1}, "system__collector": {"count": 4}}
        bare = year("pumped_coil", **small)
        store = year("pumped_coil", system__dump={"fitted": True, "power_kw": 6}, **small)
        field = year(
            "pumped_coil", system__dump={"fitted": True, "at": "collectors", "above_c": 110, "power_kw": 9}, **small
        )
        self.assertGreater(bare.stagnation_hours(), 300)
        self.assertLess(store.stagnation_hours(), 5)
        self.assertLess(field.stagnation_peak_c(), 112)
        self.assertGreater(bare.stagnation_peak_c(), 140)
        self.assertEqual((store.hours_closed, field.hours_closed), (8760, 8760))

    def test_it_keeps_its_season(self):
        book = year(
            "pumped_coil",
            demand={"people": 1},
            system__dump={"fitted": True, "above_c": 60, "from_day": 120, "to_day": 200},
        )
        days = np.arange(8760) // 24 + 1
        self.assertEqual(book.books[(days < 120) | (days > 200), acc.DUMP].sum(), 0.0)
        self.assertGreater(book.books[:, acc.DUMP].sum(), 0.0)


class Beginnings(TestCase):
    def test_a_year_may_begin_on_any_day_from_given_layers(self):
        book = year("pumped_coil", numerics={"first_day": 200}, system__store={"start_layers_c": [20, 30, 50, 70]})
        first, calendar = 199 * 24, year("pumped_coil")
        self.assertGreater(book.profile[first, -1], 60)
        self.assertLess(book.profile[first, 0], 30)
        self.assertEqual((book.hours_closed, calendar.hours_closed), (8760, 8760))
        ten_days_on = first + 240
        np.testing.assert_allclose(book.profile[ten_days_on + 24], calendar.profile[ten_days_on + 24], atol=1.0)

    def test_snow_keeps_the_sun_out_until_it_slides_off(self):
        book = year("pumped_coil", site={"snow": [[10, 12]], "snow_until_hour": 11})
        bare = year("pumped_coil")
        covered = slice(9 * 24, 11 * 24 + 11)
        self.assertEqual(book.books[covered, acc.ABSORBED].sum(), 0.0)
        self.assertGreater(bare.books[covered, acc.ABSORBED].sum(), 0.0)
        after = slice(11 * 24 + 11, 13 * 24)
        np.testing.assert_allclose(book.books[after, acc.ABSORBED], bare.books[after, acc.ABSORBED])
        self.assertEqual(book.hours_closed, 8760)

    def test_the_night_boiler_comes_on_top(self):
        backup = {"boiler": {"fitted": True, "power_kw": 15, "set_c": 55}}
        plant = {"system__second_store": {"fitted": True}, "system__backup": backup}
        sound = year("pumped_coil", **plant)
        wrong = year("pumped_coil", system__faults={"boiler_overnight": True}, **plant)
        self.assertGreater(wrong.total(acc.BOUGHT_BOILER), sound.total(acc.BOUGHT_BOILER) + 500)
        morning = np.arange(8760) % 24 == 5
        self.assertGreater(wrong.profile[morning, 0].mean(), sound.profile[morning, 0].mean() + 10)
        self.assertEqual(wrong.hours_closed, 8760)

    def test_what_is_missing_is_not_saved(self):
        none = year("pumped_coil", system__backup__tankless={"fitted": False})
        self.assertLess(none.fractions.fuel_saved, none.fractions.at_tap + 0.01)
        some = year("pumped_coil")
        self.assertGreater(some.co2_saved_kg(), 0)
        self.assertAlmostEqual(
            some.co2_saved_kg() + some.co2_kg() + some.total(acc.PUMP_ELECTRICITY) * 0.35,
            some.total(acc.DEMAND) / 0.92 * 0.21,
            delta=1.0,
        )

    def test_a_store_of_five_litres(self):
        self.assertEqual(year("pumped_coil", system__store={"volume_l": 5}).hours_closed, 8760)
