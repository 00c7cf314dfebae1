"""The first minute: a project of one's own town, by hand and in the browser."""

import time
from urllib.parse import urlencode

from django.test import TestCase

from web.accounts.models import User
from web.places.tests.samples import made_up_towns
from web.projects.models import Design, Project
from web.ui.tests.browser import BrowserCase


class NewProject(TestCase):
    @classmethod
    def setUpTestData(cls):
        made_up_towns()
        cls.user = User.objects.create_user("designer", password="merrow-coast")

    def setUp(self):
        self.client.force_login(self.user)

    def begin(self, **values):
        return self.client.post("/projects/new", {"name": "", "place": "", **values})

    def test_its_town_gives_name_climate_plane_and_seasons(self):
        self.assertEqual(self.begin(place="Tarn Head, Sound").status_code, 302)
        project = Project.objects.get()
        self.assertEqual((project.name, project.weather.kind), ("Tarn Head", "rough"))
        document = Design.objects.get().document()
        self.assertEqual((document["site"]["latitude_deg"], document["plane"]["azimuth_deg"]), (-37.1, 0))
        self.assertEqual(document["plane"]["tilt_deg"], 35)
        self.assertEqual([m for m, on in enumerate(document["demand"]["pool"]["months"], 1) if on], [1, 2, 3, 11, 12])
        page = self.client.get(f"/projects/{project.pk}/A/scheme")
        self.assertContains(page, "Rough climate")
        self.assertRegex(page.content.decode(), r"\d+ to \d+, rough")

    def test_coordinates_and_no_place_at_all(self):
        self.begin(place="46.4 N 11.6 E", name="Hut")
        self.assertEqual(Project.objects.get().place, "46° 24.0′ N, 11° 36.0′ E")
        self.begin()
        self.assertTrue(Project.objects.latest("pk").weather.made_up)

    def test_what_is_unclear_is_requested_and_keeps_what_was_typed(self):
        for place, words in (
            ("Tarn Head", "2 places are called"),
            ("Zzqqx", "No town is called"),
            ("89 N 10 E", "beyond 66°"),
            ("46 N 11 N", "east or west"),
        ):
            answer = self.begin(place=place, name="Two roofs")
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, 'value="Two roofs"', status_code=422)
            self.assertContains(answer, f'value="{place}"', status_code=422)
        self.assertFalse(Project.objects.exists())
        towns = self.begin(place="Tarn Head", name="Two roofs").context["unclear"].towns
        self.begin(place="Tarn Head", name="Two roofs", chosen=str(towns[1].pk))
        self.assertEqual(Design.objects.get().document()["site"]["latitude_deg"], 47.2)
        for odd in ("²", "-1", "9" * 30, "x"):
            self.assertIn(self.begin(place="Askerby", town=odd).status_code, (302, 422))

    def test_a_beginning_half_answered_is_simulated_with_what_is(self):
        self.begin(place="Askerby")
        start = f"/projects/{Project.objects.get().pk}/A/scheme?view=start&"
        for query, words in (
            ({"people": "3"}, "Choose something to heat"),
            ({"people": "3", "hot_water": "1", "litres": "1,500"}, "can be read as"),
            ({"people": "3", "rooms": "1", "hot_water": "1", "fuel_year": "1800"}, "Choose which fuel"),
            ({"people": "", "pool": "1", "pool_area": "-2", "showers": "1", "showers_day": "many"}, "is not a number"),
            ({"people": "3", "hot_water": "1", "habit": "odd", "when": "odd", "with": "odd"}, "schemes that"),
            ({"people": "3", "hot_water": "1", "care": "tinker"}, "kinds left out"),
        ):
            page = self.client.get(start + urlencode(query))
            self.assertContains(page, words)
            self.assertContains(page, "Open as a design")
            self.assertRegex(" ".join(page.content.decode().split()), r"rough climate, sun ±(9|1\d) %")

    def test_what_is_often_requested_is_ticked_at_once_and_what_is_typed_stays(self):
        self.begin(place="Askerby")
        start = f"/projects/{Project.objects.get().pk}/A/scheme?view=start&people=7&hot_water=1&often="
        for often, uses in (
            ("bath", ["hot_water"]),
            ("house", ["hot_water", "rooms"]),
            ("pool", ["pool", "showers"]),
            ("moon", ["hot_water"]),
        ):
            wishes = self.client.get(start + often).context["st"]["wishes"]
            self.assertEqual(
                [name for name in ("hot_water", "rooms", "pool", "showers") if getattr(wishes, name)], uses
            )
            self.assertEqual(wishes.people, 7)

    def test_the_list_of_towns_that_is_offered(self):
        answer = self.client.get("/towns?q=tarn head")
        self.assertContains(answer, "31\u202f000 people")
        self.assertContains(answer, 'role="option"', count=2)
        for odd in ("", "%00", "x" * 5000, "%F0%9F%98%80"):
            self.assertEqual(self.client.get(f"/towns?q={odd}").status_code, 200)
        self.client.logout()
        self.assertEqual(self.client.get("/towns?q=tarn").status_code, 302)


class FirstMinute(BrowserCase):
    """From sign-in to an open design of one's own town: clicks and typed values counted, and the time."""

    def setUp(self):
        made_up_towns()
        User.objects.create_user("designer", password="merrow-coast")
        super().setUp()
        self.clicks = self.typed = 0
        self.start = time.perf_counter()
        self.sign_in()
        self.clicks += 1
        self.page.wait_for_selector("#id_place")
        self.type("#id_place", "asker", press=False)
        self.click("[role=option]:has-text('Askerby')")
        self.click("button[value=guided]")
        self.page.wait_for_selector(".proposals")

    def click(self, what):
        self.page.click(what)
        self.clicks += 1

    def type(self, what, text, press=True):
        if press:
            with self.page.expect_response(lambda r: "view=start" in r.url):
                self.page.fill(what, text)
                self.page.press(what, "Tab")
            self.page.wait_for_selector("#start-form:not(.htmx-request)")
        else:
            self.page.focus(what)
            self.page.keyboard.type(text)
        self.typed += 1

    def tick(self, name):
        with self.page.expect_response(lambda r: "view=start" in r.url):
            self.click(f"input[name={name}]")
        self.page.wait_for_selector("#start-form:not(.htmx-request)")

    def open(self):
        """The design opened, its fraction as promised; within the clicks, values and time."""
        promised = self.page.inner_text(".proposals td.large >> nth=0").split()[0]
        self.click("button:has-text('Open as a design') >> nth=0")
        self.page.wait_for_selector("svg.scheme")
        displayed = self.page.inner_text("[data-tally=fraction] .figure").split()[0]
        self.assertEqual(displayed, promised)
        self.assertLess(time.perf_counter() - self.start, 60)
        return float(displayed), Design.objects.get(letter="B").document()

    def test_hot_water_of_a_household(self):
        self.type("#st-people", "3")
        kind = self.page.inner_text(".proposals th.title >> nth=0")
        with self.page.expect_response(lambda r: "view=start" in r.url):
            self.page.press("#st-people", "Enter")  # asks again, and chooses nothing
        self.page.wait_for_selector("#start-form:not(.htmx-request)")
        self.assertEqual(self.page.inner_text(".proposals th.title >> nth=0"), kind)
        self.assertNotIn("often=", self.page.url)
        fraction, document = self.open()
        self.assertEqual(document["demand"]["people"], 3)
        self.assertTrue(45 < fraction < 85, fraction)
        self.assertTrue(self.clicks <= 6 and self.typed <= 3, (self.clicks, self.typed))
        self.assertIn("rough", self.page.inner_text("[data-tally=fraction]"))
        self.accessible()

    def test_hot_water_and_rooms_by_last_years_fuel(self):
        self.tick("rooms")
        self.type("#st-fuel_year", "1800")
        with self.page.expect_response(lambda r: "view=start" in r.url):
            self.page.select_option("#st-fuel", "heating oil, L")
        self.clicks += 1
        self.page.wait_for_selector("input[name=fuel_water]")
        self.accessible()
        fraction, document = self.open()
        self.assertEqual((document["system"]["kind"], document["demand"]["heating"]["fuel_year"]), ("combi", 1800))
        self.assertTrue(10 < fraction < 40, fraction)
        self.assertTrue(self.clicks <= 6 and self.typed <= 3, (self.clicks, self.typed))

    def test_a_pool_and_its_showers(self):
        with self.page.expect_response(lambda r: "view=start" in r.url):
            self.click("button:has-text('a pool and its showers')")
        self.page.wait_for_selector("#st-pool_area")
        self.type("#st-pool_area", "24")
        self.accessible()
        fraction, document = self.open()
        self.assertEqual((document["demand"]["pool"]["area_m2"], document["demand"]["hot_water"]), (24, False))
        self.assertTrue(document["demand"]["showers"]["fitted"])
        self.assertTrue(50 < fraction <= 100, fraction)
        self.assertTrue(self.clicks <= 6 and self.typed <= 3, (self.clicks, self.typed))
