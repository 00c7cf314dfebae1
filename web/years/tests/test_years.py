"""Years by content, kept a while; two askers, one year."""

from concurrent.futures import ThreadPoolExecutor
from threading import Event

from django.test import SimpleTestCase

from heat.design.changing import with_changes
from heat.errors import HeatError
from web.projects.climates import merrow_coast
from web.projects.services.weather import add_weather
from web.projects.tests.helpers import DeskCase
from web.years import reckoned
from web.years.reckoned import Kept, reckon
from web.years.weather import weather_year


class Reckoning(DeskCase):
    def test_the_same_inputs_are_reckoned_once(self):
        file = self.project.weather
        first = reckon(self.document(), file)
        self.assertIs(reckon(self.document(), file), first)
        self.assertIsNot(reckon(with_changes(self.document(), {"demand.people": 5}), file), first)

    def test_few_years_are_kept(self):
        for people in range(1, reckoned.YEARS_KEPT + 4):
            reckon(with_changes(self.document(), {"demand.people": people}), self.project.weather)
        self.assertLessEqual(len(reckoned.years.made), reckoned.YEARS_KEPT)

    def test_weather_comes_back_as_it_was_kept(self):
        year, kept = merrow_coast(), weather_year(self.project.weather)
        self.assertAlmostEqual(kept.ghi_w_m2.sum(), year.ghi_w_m2.sum(), delta=1.0)
        self.assertEqual((kept.utc_offset_h, kept.made_up, kept.name), (-1.0, True, year.name))
        self.assertEqual(kept.notes, year.notes)

    def test_the_same_year_is_kept_once(self):
        again = add_weather(project=self.project, author=self.user, weather=merrow_coast())
        self.assertEqual(again.pk, self.project.weather_id)

    def test_a_document_of_another_version_is_refused(self):
        with self.assertRaisesRegex(HeatError, "version 9"):
            reckon(self.document() | {"version": 9}, self.project.weather)


class OneMaking(SimpleTestCase):
    def test_two_askers_wait_for_one_year(self):
        kept, begun, go, made = Kept(2), Event(), Event(), []

        def make():
            begun.set()
            go.wait(5)
            made.append(1)
            return object()

        with ThreadPoolExecutor(2) as threads:
            first = threads.submit(kept.get, "a", make)
            begun.wait(5)
            second = threads.submit(kept.get, "a", make)
            go.set()
            self.assertIs(first.result(5), second.result(5))
        self.assertEqual(len(made), 1)

    def test_a_refusal_reaches_all_and_is_not_kept(self):
        kept = Kept(2)

        def refuse():
            raise HeatError("no")

        for _ in range(2):
            with self.assertRaises(HeatError):
                kept.get("a", refuse)
        self.assertEqual(kept.get("a", lambda: 7), 7)
        self.assertEqual(kept.making, {})
