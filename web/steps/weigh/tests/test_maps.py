"""Maps: the years behind them, the best place, the rules of thumb, the pin and what it keeps, what "
"names bad ends."""

import re
from unittest.mock import patch

import numpy as np

from heat.design.changing import varied
from heat.studies.following import following
from heat.studies.outcome import COLUMN, row_of
from web.editor.design_page import DesignPage
from web.editor.tests.helpers import DesignPageCase, figure
from web.jobs import services
from web.jobs.models import Run
from web.jobs.purposes import places_of
from web.jobs.services import answer, simulate_chunk
from web.projects.models import Design
from web.simulations.cache import simulate_uncached
from web.steps.weigh.maps import maps_view
from web.steps.weigh.numbers import AREA, BEARING, TILT, mapped, numbers_of
from web.ui.tests.browser import DemoCase

NARROW = {"x": TILT, "y": "system.store.volume_l", "x_low": "30", "x_high": "60"}


class Maps(DesignPageCase):
    def require(self, status=302, **more):
        with patch.object(services, "AT_ONCE", 10_000):
            reply = self.client.post(self.url("weigh/map"), {"screen": "weigh", **more})
        self.assertEqual(reply.status_code, status, reply.content[:200])
        return reply

    def view(self, requested=""):
        return maps_view(self.page(f"view=maps&{requested}"))

    def test_each_place_is_the_year_of_the_design_there(self):
        self.require(**NARROW)
        run = Run.objects.get()
        places, first = places_of(run.question)
        self.assertEqual((run.size, first), (19 * 13, 7 * 5))
        page, years = self.page(), answer(run)
        for at in (0, 40, 200):
            tilt, volume = places[at]
            there = {"plane.tilt_deg": tilt, "system.store.volume_l": volume, "plane.on": ""}
            made = varied(page.document, following(page.document, there))
            book = simulate_uncached(made, page.weather)
            self.assertAlmostEqual(years["fraction"][at], book.fractions.at_tap, places=9)

    def test_the_coarse_map_is_answered_at_once_and_the_rest_by_workers(self):
        reply = self.client.post(self.url("weigh/map"), {"screen": "weigh", "about": "point"})
        run = Run.objects.get()
        self.assertEqual((run.chunks.exclude(done=None).count(), run.chunks.count()), (7, 18))
        self.assertIn("about=point", reply["Location"])
        page = self.view("about=point")
        self.assertTrue(page["coarse"])
        self.assertFalse(page["ask"])
        for index in run.chunks.values_list("index", flat=True):
            simulate_chunk(run.pk, index)
        page = self.view("about=point")
        self.assertFalse(page["coarse"])
        years, places = answer(run), places_of(run.question)[0]
        best = places[int(np.argmax(years["fraction"]))]
        match = re.search(r"Best at (\d+)°.*?, (\d+)°: solar fraction ([\d.]+)", page["conclusion"])
        self.assertLess(abs(float(match[1]) - best[0]), 10.0)
        self.assertLess(abs(float(match[2]) - best[1]), 7.5)
        self.assertAlmostEqual(float(match[3]), 100 * years["fraction"].max(), delta=0.3)
        self.assertIn("latitude", page["marks"][0].words)
        other = self.view("about=point&of=bought")
        self.assertEqual(other["run"], run)  # another outcome of the same years
        self.assertIn("bought", other["conclusion"])

    def test_guidelines_of_storage_and_the_limit_of_stagnation(self):
        self.require(about="much")
        page = self.view("about=much&most.stagnation=10")
        words = [ray["words"] for ray in page["rays"]]
        self.assertTrue({"40 L per m²", "50 L per m²", "75 L per m²", "1½ days’ draw"} <= set(words), words)
        hours = answer(Run.objects.get())["stagnation_h"]
        self.assertEqual(bool(page.get("hot")), bool(hours.min() < 10 < hours.max()))
        self.assertIn("not a number", self.view("about=much&most.stagnation=many")["hot_wrong"])

    def test_the_pin_reports_the_year_under_it_and_is_stored_as_that_design(self):
        at = {"pin.x": BEARING, "pin.y": TILT, "at.x": "150", "at.y": "55"}
        page = self.page()
        made = varied(page.document, {"plane.on": "", "plane.tilt_deg": 55.0, "plane.azimuth_deg": 150.0})
        year = row_of(simulate_uncached(made, page.weather))
        text = self.client.get(self.url("weigh/pin"), at).content.decode()
        self.assertIn(f"{100 * year[COLUMN['fraction']]:.1f}", text)
        self.assertIn("150°, 55°", text)
        self.client.post(self.url("weigh/keep"), {**at, "screen": "weigh"})
        fresh = Design.objects.latest("pk")
        self.assertEqual(fresh.letter, "B")
        self.assertEqual((fresh.document()["plane"]["tilt_deg"], fresh.document()["plane"]["azimuth_deg"]), (55, 150))
        self.assertAlmostEqual(
            figure(DesignPage(fresh, self.user).bought_text.strip("()")), year[COLUMN["bought_kwh"]], delta=0.6
        )

    def test_collectors_come_whole(self):
        _number, axis = mapped(self.page())[AREA]
        at = {"pin.x": AREA, "pin.y": "system.store.volume_l", "at.x": str(3 * axis.step), "at.y": "400"}
        self.client.post(self.url("weigh/keep"), {**at, "screen": "weigh"})
        made = Design.objects.latest("pk").document()["system"]
        self.assertEqual((made["collector"]["count"], made["store"]["volume_l"]), (3, 400))

    def test_bad_ends_places_and_pairs_are_reported(self):
        self.assertIn("above the lower", self.require(422, **{**NARROW, "x_high": "20"}).content.decode())
        self.assertIn("not a number", self.require(422, **{**NARROW, "x_low": "steep"}).content.decode())
        self.assertIn("Allowed: 0 to 90", self.require(422, **{**NARROW, "x_high": "120"}).content.decode())
        self.assertEqual(Run.objects.count(), 0)
        for query in (
            {},
            {"pin.x": "plane.nothing", "pin.y": TILT, "at.x": "1", "at.y": "1"},
            {"pin.x": BEARING, "pin.y": TILT, "at.x": "nan", "at.y": "1"},
        ):
            self.assertContains(self.client.get(self.url("weigh/pin"), query), "No place")
        reply = self.client.post(self.url("weigh/keep"), {"screen": "weigh"})
        self.assertEqual(reply.status_code, 422)
        self.assertEqual(self.view("x=nothing&y=nothing")["about"], "point")

    def test_every_number_of_every_kind_can_be_mapped(self):
        page = self.page()
        for path, number in numbers_of(page).items():
            with self.subTest(path=path):
                self.assertLess(number.low, number.high)
                self.assertTrue(number.low <= number.now <= number.high or path.startswith("plane."))
        self.assertIn("demand.litres_per_person_day", numbers_of(page))
        self.assertNotIn("system.plate.ua_w_k", numbers_of(page))  # a coil's system has no use for it


class MapsInTheBrowser(DemoCase):
    def test_a_map_draws_itself_its_pin_is_moved_by_mouse_and_keys_and_stored(self):
        self.open_scheme()
        self.page.goto(self.page.url.replace("scheme", "weigh").split("?")[0] + "?view=maps")
        self.page.wait_for_selector("svg.map")
        self.page.wait_for_selector("text=Best at")
        self.accessible()
        pin = self.page.locator("[data-pin]")
        box = self.page.locator("svg.map").bounding_box()
        x, y = pin.bounding_box()["x"] + 12, pin.bounding_box()["y"] + 12
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for step in range(1, 6):
            self.page.mouse.move(x + step * 0.04 * box["width"], y - step * 4)
        self.page.mouse.up()
        self.page.wait_for_function("() => /stands: \\d/.test(document.querySelector('#pin-told').innerText)")
        before = pin.get_attribute("data-y")
        pin.press("Shift+ArrowUp")
        self.assertEqual(float(pin.get_attribute("data-y")), min(float(before) + 10, 90))
        self.page.wait_for_function(
            "y => document.querySelector('#pin-told').innerText.includes(`${y}°`)", arg=pin.get_attribute("data-y")
        )
        self.accessible()
        tilt = float(pin.get_attribute("data-y"))
        with self.page.expect_navigation():
            pin.press("Enter")
        self.page.wait_for_selector(".account")
        self.assertEqual(Design.objects.latest("pk").document()["plane"]["tilt_deg"], tilt)
