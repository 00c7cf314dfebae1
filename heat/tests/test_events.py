"""What happened in the hours, and what a controller reads: read from the books, checked against the books."""

from unittest import TestCase

import numpy as np

from heat.common.fluid import fluid_curves
from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.ledger import accounts as acc
from heat.ledger.events import Span, events, spans, sun_w_m2
from heat.ledger.year_book import SUN
from heat.simulation.sensors import sensors_c
from heat.simulation.year import simulate
from heat.tests.samples import climate


def year(**values):
    document = Design().model_dump(mode="json")
    design = parse(with_changes(document, {name.replace("__", "."): v for name, v in values.items()}))
    return simulate(design, climate("merrow_coast"))


class Spans(TestCase):
    def test_runs_of_hours(self):
        hours = np.array([1, 0, 1, 1, 0, 0, 1], dtype=bool)
        self.assertEqual(spans("x", hours), [Span("x", 0, 0), Span("x", 2, 3), Span("x", 6, 6)])
        self.assertEqual(spans("x", np.zeros(4, dtype=bool)), [])
        self.assertEqual(spans("x", np.ones(4, dtype=bool)), [Span("x", 0, 3)])


class Events(TestCase):
    def test_a_plain_year(self):
        book = year()
        found = events(book)
        self.assertTrue(all(hours.shape == (8760,) and hours.dtype == bool for hours in found.values()))
        self.assertEqual(found["pump"].sum(), (book.traces[:, acc.PUMP_SHARE] > 0).sum())
        for never in ("open", "boiled", "frozen", "locked", "pasteurising", "drained", "cold_tap"):
            self.assertFalse(found[never].any(), never)
        area = book.design.system.collector.total_area_m2
        self.assertAlmostEqual(
            float(sun_w_m2(book).sum()) * area / 1000, book.total(*SUN), delta=1e-6 * book.total(*SUN)
        )

    def test_the_limit_holds_the_pump(self):
        book = year(system__collector__count=8, system__control__store_limit_c=60.0)
        full = events(book)["limit"]
        self.assertGreater(full.sum(), 200)
        whole = book.traces[:, acc.FULL_SHARE] >= 1.0
        self.assertEqual(book.traces[whole, acc.PUMP_SHARE].sum(), 0.0)
        self.assertGreater(book.profile[full, -1].min(), 60.0 - 3.0 - 6.0)  # never far below limit and release
        self.assertTrue(events(book)["standing"][full].any())

    def test_a_clock_locks_the_pump_out_of_sunshine(self):
        book = year(system__control__hours_allowed=[h < 12 for h in range(24)])
        locked = events(book)["locked"]
        self.assertGreater(locked.sum(), 500)
        self.assertTrue((np.flatnonzero(locked) % 24 >= 12).all())
        self.assertEqual(book.traces[locked, acc.PUMP_SHARE].sum(), 0.0)

    def test_a_boiler_locks_the_pump(self):
        boiler = {"system__backup__boiler__fitted": True, "system__backup__boiler__set_c": 60.0}
        free = year(**boiler)
        shut = year(**boiler, system__control__rests_with_boiler=True)
        self.assertEqual(free.traces[:, acc.LOCKED_SHARE].sum(), 0.0)
        self.assertGreater(shut.traces[:, acc.LOCKED_SHARE].sum(), 80.0)
        self.assertEqual(shut.traces[shut.traces[:, acc.LOCKED_SHARE] >= 1.0, acc.PUMP_SHARE].sum(), 0.0)

    def test_a_creep_is_no_flow(self):
        book = year(system__kind="thermosiphon_sealed")
        found = events(book)
        creeping = (book.traces[:, acc.PUMP_SHARE] > 0) & ~found["pump"]
        self.assertGreater(creeping.sum(), 100)
        self.assertLessEqual(np.abs(book.traces[creeping, acc.FLOW_KG_H]).max(), 1.0)
        self.assertLess(found["backwards"].sum(), 50)

    def test_pasteurising_by_the_plan(self):
        book = year(system__backup__element__fitted=True, system__backup__pasteurisation__fitted=True)
        heated = events(book)["pasteurising"]
        self.assertEqual(int(heated.sum()), 53 * 3)
        self.assertEqual(set(np.flatnonzero(heated) % 24), {2, 3, 4})


def at_outlet(book):
    """Collector's outlet (°C): its mean, and half of what the fluid warms by while it flows, by the heat it carries."""
    kg, joules = book.traces[:, acc.FLOW_KG_H], 3600.0 * book.hourly(acc.FROM_COLLECTOR)
    heat = fluid_curves(book.design.system.loop.glycol_percent, book.design.system.loop.heat_capacity_j_kgk).heat_j_kgk
    rise = np.where(kg > 0.0, joules / np.maximum(kg, 1e-9) / heat * book.traces[:, acc.PUMP_SHARE], 0.0)
    return book.traces[:, acc.COLLECTOR_C] + 0.5 * np.maximum(rise, 0.0)


class Readings(TestCase):
    def test_a_sound_controller_reads_what_is(self):
        book = year()
        collector, store = sensors_c(book, climate("merrow_coast"))
        np.testing.assert_allclose(collector, at_outlet(book), atol=0.05)
        self.assertGreater(float((collector - book.traces[:, acc.COLLECTOR_C]).max()), 2.0)
        np.testing.assert_allclose(store, book.profile[:, 0])

    def test_wrong_sensors_read_wrong_from_their_day(self):
        weather = climate("merrow_coast")
        book = year(
            system__faults__collector_sensor_k=10.0,
            system__faults__collector_sensor_feels=0.5,
            system__faults__store_sensor_k=-10.0,
            system__faults__store_sensor_share=1.0,
            system__faults__from_day=101,
        )
        collector, store = sensors_c(book, weather)
        true = at_outlet(book)
        np.testing.assert_allclose(collector[:2400], true[:2400], atol=0.05)
        np.testing.assert_allclose(collector[2400:], (0.5 * true + 0.5 * weather.air_c + 10.0)[2400:], atol=0.05)
        np.testing.assert_allclose(store[:2400], book.profile[:2400, 0])
        np.testing.assert_allclose(store[2400:], book.profile[2400:, -1] - 10.0)
