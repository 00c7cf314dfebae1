"""Years by content, kept a while; two askers, one year."""

from concurrent.futures import ThreadPoolExecutor
from threading import Event

from django.test import SimpleTestCase

from heat.design.changing import with_changes
from heat.errors import HeatError
from web.projects.climates import merrow_coast
from web.projects.services.weather import add_weather
from web.projects.tests.helpers import DeskCase
from web.simulations import cache
from web.simulations.cache import ContentCache, simulate
from web.simulations.weather import weather_year


class Numerics(DeskCase):
    def test_the_same_inputs_are_simulated_once(self):
        file = self.project.weather
        first = simulate(self.document(), file)
        self.assertIs(simulate(self.document(), file), first)
        self.assertIsNot(simulate(with_changes(self.document(), {"demand.people": 5}), file), first)

    def test_few_years_are_stored(self):
        for people in range(1, cache.YEARS_CACHED + 4):
            simulate(with_changes(self.document(), {"demand.people": people}), self.project.weather)
        self.assertLessEqual(len(cache.years.made), cache.YEARS_CACHED)

    def test_weather_comes_back_as_it_was_stored(self):
        year, stored = merrow_coast(), weather_year(self.project.weather)
        self.assertAlmostEqual(stored.ghi_w_m2.sum(), year.ghi_w_m2.sum(), delta=1.0)
        self.assertEqual((stored.utc_offset_h, stored.made_up, stored.name), (-1.0, True, year.name))
        self.assertEqual(stored.notes, year.notes)

    def test_the_same_year_is_stored_once(self):
        again = add_weather(project=self.project, author=self.user, weather=merrow_coast())
        self.assertEqual(again.pk, self.project.weather_id)

    def test_a_document_of_another_version_is_refused(self):
        with self.assertRaisesRegex(HeatError, "version 9"):
            simulate(self.document() | {"version": 9}, self.project.weather)


class OneMaking(SimpleTestCase):
    def test_two_askers_wait_for_one_year(self):
        stored, begun, go, made = ContentCache(2), Event(), Event(), []

        def make():
            begun.set()
            go.wait(5)
            made.append(1)
            return object()

        with ThreadPoolExecutor(2) as threads:
            first = threads.submit(stored.get, "a", make)
            begun.wait(5)
            second = threads.submit(stored.get, "a", make)
            go.set()
            self.assertIs(first.result(5), second.result(5))
        self.assertEqual(len(made), 1)

    def test_a_refusal_reaches_all_and_is_not_stored(self):
        stored = ContentCache(2)

        def refuse():
            raise HeatError("no")

        for _ in range(2):
            with self.assertRaises(HeatError):
                stored.get("a", refuse)
        self.assertEqual(stored.get("a", lambda: 7), 7)
        self.assertEqual(stored.making, {})
