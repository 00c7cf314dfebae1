"""The demo: the same made-up climate everywhere, loaded once."""

from django.core.management import call_command
from django.test import TestCase

from heat.weather.checks import checked
from web.accounts.models import User
from web.demo.climates import merrow_coast
from web.projects.models import Project


class Demo(TestCase):
    def test_loading_twice_leaves_two_projects(self):
        call_command("load_demo")
        call_command("load_demo")
        self.assertEqual(Project.objects.count(), 2)
        self.assertTrue(User.objects.get(username="designer").check_password("merrow-coast"))

    def test_the_climate_is_marked_and_obeys_the_sun(self):
        year, clock = checked(merrow_coast())
        self.assertTrue(year.made_up)
        self.assertIn("made-up", year.name)
        self.assertFalse(clock.off)
        self.assertAlmostEqual(year.ghi_w_m2[:744].sum() / 31000, 1.25, places=3)
