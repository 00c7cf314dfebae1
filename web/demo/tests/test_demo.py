"""The demo: the same made-up climate everywhere, loaded once."""

from datetime import timedelta

from django.core.management import call_command
from django.test import TestCase
from django.utils import timezone

from heat.design.schemes import SCHEMES
from heat.weather.checks import checked
from web.accounts.models import User
from web.firms.models import Firm
from web.jobs.models import Run
from web.jobs.services import answer, simulate_chunk
from web.logs.models import Log
from web.projects.climates import merrow_coast
from web.projects.models import Project, WeatherFile
from web.projects.services.deletion import sweep
from web.simulations.cache import simulate


class Demo(TestCase):
    def test_all_of_it_can_be_deleted_for_good(self):
        call_command("load_demo", weigh=True)
        User.objects.update(leaving=timezone.now() - timedelta(days=31))
        Project.objects.update(deleted=timezone.now() - timedelta(days=31))
        swept = [sweep(), sweep()]  # who heads a firm goes once nobody else is in it
        self.assertEqual(swept[0]["projects"], 4)
        self.assertFalse(User.objects.exists() or Firm.objects.exists())
        self.assertFalse(Project.objects.exists() or WeatherFile.objects.exists() or Log.objects.exists())

    def test_loading_twice_leaves_four_projects(self):
        call_command("load_demo")
        call_command("load_demo")
        self.assertEqual(Project.objects.count(), 4)
        self.assertTrue(User.objects.get(username="designer").check_password("merrow-coast"))

    def test_every_kind_is_open_with_a_year_that_closes(self):
        call_command("load_demo")
        found = {}
        for project in Project.objects.select_related("weather"):
            for design in project.designs.all():
                design.project = project
                book = simulate(design.document(), project.weather).book
                self.assertEqual(book.hours_closed, 8760, design)
                found[book.design.system.kind] = book.yield_kwh_m2()[0]
        self.assertEqual(set(found), set(SCHEMES))
        self.assertTrue(all(200 < kwh_m2 < 700 for kwh_m2 in found.values()), found)

    def test_what_is_compared_is_requested_once_and_is_simulated(self):
        call_command("load_demo", weigh=True)
        call_command("load_demo", weigh=True)
        runs = {run.purpose: run for run in Run.objects.all()}
        self.assertEqual((Run.objects.count(), set(runs)), (4, {"choices", "doubt", "map"}))
        self.assertEqual(runs["choices"].size, 3 * 4 * 4 * 3 * 2)
        self.assertTrue(simulate_chunk(runs["choices"].pk, 3))
        self.assertEqual(answer(runs["choices"]).refused, {})

    def test_the_climate_is_marked_and_obeys_the_sun(self):
        year, clock = checked(merrow_coast())
        self.assertTrue(year.made_up)
        self.assertIn("made-up", year.name)
        self.assertFalse(clock.off)
        self.assertAlmostEqual(year.ghi_w_m2[:744].sum() / 31000, 1.25, places=3)
