"""How sure: the uncertainties asked, the run watched, its bands shown, dated, and past once the design has moved on."""

from unittest.mock import patch

import numpy as np

from web.editor.tests.helpers import DesignPageCase, figure
from web.jobs import services
from web.jobs.models import Chunk, Run
from web.jobs.services import answer, simulate_chunk
from web.simulations.rough import sun_uncertainty
from web.steps.weigh.uncertainty import uncertainty_view
from web.ui.tests.browser import DemoCase


class Uncertainty(DesignPageCase):
    def require(self, **spreads):
        form = {f"off.{key}": value for key, value in spreads.items()} | {"screen": "weigh"}
        with patch.object(services, "AT_ONCE", 1000), patch("web.steps.weigh.uncertainty.YEARS", 24):
            return self.client.post(self.url("weigh/doubt"), form)

    def test_bands_are_those_of_the_runs_years(self):
        self.assertRedirects(self.require(litres="20", sun="4"), self.url("weigh?view=uncertainty"))
        page = uncertainty_view(self.page())
        fraction = 100 * answer(Run.objects.get())["fraction"]
        low, middle, high = (figure(edge) for edge in page["bands"][0]["edges"])
        np.testing.assert_allclose((low, middle, high), np.quantile(fraction, (0.1, 0.5, 0.9)), atol=0.06)
        self.assertIn("In eight of ten such plants", page["conclusion"])
        self.assertEqual(page["bands"][0]["shares"][0]["words"], "the litres drawn")
        self.assertEqual(len(page["bands"]), 3)
        self.assertEqual(sum(bar["h"] > 0 for bar in page["bands"][0]["picture"]["bars"]) > 3, True)

    def test_the_tally_bears_the_band_until_the_design_moves_on(self):
        self.require()
        page = self.client.get(self.url("scheme"))
        self.assertRegex(page.content.decode(), r"\d\d to \d\d, \d+ \w{3}")
        self.assertNotContains(page, "the design changed since")
        self.edit("system.store.volume_l", "500")
        self.assertContains(self.client.get(self.url("scheme")), "the design changed since")
        self.assertContains(self.client.get(self.url("weigh?view=uncertainty")), "these bands are of how it stood then")

    def test_what_was_typed_wrong_is_reported_beside_it_and_stored(self):
        answer = self.require(litres="many", sun="80", air="0.5")
        self.assertContains(answer, "“many” is not a number.", status_code=422)
        self.assertContains(answer, "Allowed: 0 to 50.", status_code=422)
        self.assertContains(answer, 'value="many"', status_code=422)
        self.assertFalse(Run.objects.exists())
        none = dict.fromkeys(("sun", "air", "litres", "collector", "collector loss", "store loss", "pipe loss"), "0")
        self.assertContains(self.require(**none), "Enter at least one standard deviation", status_code=422)

    def test_kelvins_are_degrees_fahrenheit_in_us_units(self):
        self.client.post("/units", {"units": "us"})
        self.require(air="1.8")
        self.assertAlmostEqual(Run.objects.get().question["spreads"]["air"], 1.0, places=6)
        self.assertContains(self.client.get(self.url("weigh?view=uncertainty")), 'value="1.8"')

    def test_a_rough_climate_brings_its_own_uncertainty_of_the_sun(self):
        self.client.post(self.url("place"), {"place": "46.4 N, 11.6 E", "screen": "site"})
        uncertainties = {row["key"]: row["text"] for row in uncertainty_view(self.page())["uncertainties"]}
        off = sun_uncertainty(self.fresh().project.weather)
        self.assertEqual(uncertainties["sun"], f"{100 * off / 1.645:.1f}")  # nine of ten within the place's own band

    def test_runs_of_others_are_not_there(self):
        self.require()
        run = Run.objects.get()
        self.client.logout()
        stranger = type(self.user).objects.create_user("stranger", password="merrow-coast")
        self.client.force_login(stranger)
        self.assertEqual(self.client.get(self.url(f"weigh/progress?run={run.pk}")).status_code, 404)
        self.assertEqual(self.client.post(self.url("weigh/stop"), {"run": run.pk}).status_code, 404)
        self.client.force_login(self.user)
        for odd in ("", "²", "-1", "9" * 30, "x"):
            self.assertEqual(self.client.get(self.url(f"weigh/progress?run={odd}")).status_code, 404)


class UncertaintyInTheBrowser(DemoCase):
    """Asked, watched, left and found again, stopped, and finished."""

    def open(self):
        self.open_scheme()
        self.page.goto(self.page.url.split("/scheme")[0] + "/weigh?view=uncertainty")
        self.page.wait_for_selector(".uncertainties")

    def test_request_watch_reload_and_see_what_came_of_it(self):
        self.open()
        self.accessible()
        self.page.click("text=Run 200 years")
        self.page.wait_for_selector(".run")
        self.assertIn("waiting for a worker", self.page.inner_text(".run"))
        run = Run.objects.get()
        simulate_chunk(run.pk, 0)
        self.page.wait_for_selector(".run:has-text('20 of 200 years')")
        self.page.reload()
        self.page.wait_for_selector(".run:has-text('20 of 200 years')")
        self.accessible()
        for index in range(1, 10):
            simulate_chunk(run.pk, index)
        self.page.wait_for_selector(".band")
        self.assertIn("In eight of ten such plants", self.page.inner_text("main"))
        self.assertRegex(self.page.inner_text("[data-tally=fraction]"), r"\d+ to \d+, ")
        self.accessible()

    def test_a_run_is_stopped_by_the_keyboard(self):
        self.open()
        self.page.focus(".uncertainties button")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector(".run")
        self.page.focus("text=stop it")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("text=Nothing calculated yet")
        self.assertIsNotNone(Run.objects.get().stopped)
        self.assertFalse(simulate_chunk(Run.objects.get().pk, 0))
        self.assertEqual(Chunk.objects.exclude(done=None).count(), 0)
