"""The far ends of what a document may say: every year closes, and no water is colder than its surroundings allow."""

from unittest import TestCase

import numpy as np

from heat import accounts as acc
from heat.design import parse
from heat.design.contradictions import warnings
from heat.tests.test_kinds import example, weather_for
from heat.weather.sky import sky_temperature_c
from heat.year import simulate


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
            "pumped_coil", system__collector={"a1_w_m2k": 0.3, "a4": 0.6}, system__loop={"check_valve": False},
            system__faults={"no_check_valve": True},
        )  # fmt: skip
        coldest = min(float(sky_temperature_c(weather_for(book.design)).min()), book.mains_c.min())
        self.assertGreater(book.profile.min(), coldest - 0.5)
        self.assertGreater(book.traces[:, acc.COLLECTOR_C].min(), coldest - 0.5)
        self.assertIn("system.collector.a4", [w.path for w in warnings(book.design, 0.0)])

    def test_wind_terms_absorb_no_more_than_the_sun(self):
        book = year("pumped_coil", system__collector={"a2_w_m2k2": 0, "a3_j_m3k": 10, "a6_s_m": 0.2, "eta0": 0.95})
        self.assertEqual(book.hours_closed, 8760)
        sun = book.books[:, [acc.SUN_BEAM, acc.SUN_SKY, acc.SUN_GROUND]].sum(1)
        self.assertTrue((book.books[:, acc.ABSORBED] <= sun + 1e-6).all())

    def test_five_hundred_people_drain_a_small_store(self):
        for kind in ("pumped_coil", "seasonal_preheat", "combi"):
            book = year(kind, demand={"people": 500, "litres_per_person_day": 300}, system__store={"volume_l": 50})
            with self.subTest(kind):
                self.assertEqual(book.hours_closed, 8760)
