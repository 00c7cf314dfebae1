"""The log in a browser: a day typed on a phone, a table in °F, a hidden fault named, a logger followed."""

from datetime import datetime
from pathlib import Path

from web.logs.models import Log
from web.logs.services import new_token
from web.logs.stand_in import Logger, lines_of
from web.simulations.weather import weather_year
from web.steps.log.tests.test_log import fill
from web.ui.tests.browser import DemoCase


class LogInTheBrowser(DemoCase):
    def log(self):
        return Log.objects.get()

    def open_log(self, view="day"):
        self.page.goto(f"{self.live_server_url}/projects/{self.log().project_id}/A/log?view={view}")
        self.page.wait_for_selector("main.log")

    def begin(self):
        Log.objects.all().delete()  # the demo's own
        self.open_scheme()
        self.page.keyboard.press("8")
        self.page.click("text=begin its log")
        self.page.wait_for_selector("#line")

    def test_a_day_typed_on_a_phone(self):
        self.begin()
        self.page.set_viewport_size({"width": 360, "height": 740})
        for clock, low, high in (("10:00", "18.5", "41"), ("11:00", "21", "42.5")):
            self.page.fill("#line [name=clock]", clock)
            self.page.fill("#line [name=s0]", low)
            self.page.fill("#line [name=s2]", high)
            self.page.keyboard.press("Enter")
            self.page.wait_for_selector(f"text=Kept: {clock}")
        self.assertEqual(self.page.evaluate("document.documentElement.scrollWidth"), 360)
        self.page.click("text=Carry the last values on")
        self.assertEqual(self.page.input_value("#line [name=s2]"), "42.5")
        self.page.context.set_offline(True)
        self.page.fill("#line [name=clock]", "12:00")
        self.page.click("text=Keep this line")
        self.page.wait_for_selector("text=1 line waits")
        self.page.context.set_offline(False)
        self.page.wait_for_selector("text=each line is kept")
        self.assertEqual(self.log().readings.count(), 3)
        self.accessible()

    def test_lines_without_a_connection_stay_until_they_are_taken_or_discarded(self):
        self.begin()
        self.open_log()
        self.page.wait_for_function("caches.open('log-pages').then((kept) => kept.keys()).then((keys) => keys.length)")
        self.page.context.set_offline(True)
        for clock, value in (("11:00", "41.5"), ("11:05", "9999"), ("11:10", "42.5")):
            self.page.fill("#line [name=clock]", clock)
            self.page.fill("#line [name=collector]", value)
            self.page.click("text=Keep this line")
        self.page.wait_for_selector("text=3 lines wait")
        self.page.reload()  # in a cellar: the page comes from what was kept
        self.page.wait_for_selector("text=no connection: the page is as it was")
        self.page.wait_for_selector("text=3 lines wait")
        self.page.context.set_offline(False)
        self.complaints.clear()  # what was asked without a connection
        self.page.wait_for_selector("[data-lines] >> text=/Not kept: .*collector must lie between/")
        self.page.wait_for_function("() => document.querySelectorAll('[data-lines] li').length === 1")
        self.assertEqual(self.log().readings.count(), 2)  # the one after it was taken all the same
        self.page.reload()
        self.page.wait_for_selector("[data-lines] >> text=collector 9999")
        self.accessible()
        self.page.click("[data-lines] >> text=change it")
        self.assertEqual(self.page.input_value("#line [name=collector]"), "9999")
        self.page.fill("#line [name=collector]", "42.0")
        self.page.click("text=Keep this line")
        self.page.wait_for_selector("text=Kept: 11:05")
        self.assertEqual(self.page.locator("[data-lines] li").count(), 0)
        self.assertEqual(self.log().readings.count(), 3)

    def test_pasted_in_fahrenheit_and_a_fault_named(self):
        self.begin()
        log = self.log()
        self.open_log("bring")
        self.page.fill("[name=pasted]", "time;tank top °F\n2026-03-10 10:00;104\n2026-03-10 11:00;113\n")
        self.page.click("text=Bring it")
        self.page.wait_for_selector("text=What its columns hold")
        self.accessible()
        self.page.click("text=Take 2 readings")
        self.page.wait_for_selector("text=2 readings are kept")
        self.assertEqual(log.readings.first().values, {"s2": 40.0})
        log.readings.all().delete()
        fill(log, {"valve": 1.0})
        Log.objects.update(secret={"valve": 1.0})
        self.open_log("diagnosis")
        self.page.select_option("[name=cause]", label="no check valve")
        self.page.click("main button:has-text('Name it')")
        self.page.wait_for_selector("text=That is it.")
        self.page.click("text=Find out")
        self.page.wait_for_selector("text=Most likely: no check valve")
        self.accessible()
        for view in ("day", "sums", "measured"):
            self.open_log(view)
            self.accessible()

    def test_a_logger_followed_and_its_server_gone_for_a_while(self):
        self.begin()
        log = self.log()
        token = new_token(log=log, author=log.project.owner)
        lines = lines_of(log.document, weather_year(log.weather), {}, datetime(2026, 3, 10), 1, 3, tuple(log.heights))
        self.open_log()
        logger = Logger("http://127.0.0.1:9/nowhere", token, print)
        logger.waiting.extend(lines[:30])
        self.assertFalse(logger.post())  # nobody there
        logger.address = f"{self.live_server_url}/log/{log.pk}/readings"
        self.assertTrue(logger.post())
        self.page.wait_for_selector("text=30 readings")
        logger.waiting.extend(lines[20:60])  # some once more
        self.assertTrue(logger.post())
        self.page.wait_for_selector("text=60 readings")
        self.assertEqual(log.readings.count(), 60)
        with self.page.expect_download() as waiting:
            self.page.goto(f"{self.live_server_url}/projects/{log.project_id}/A/log?view=bring")
            self.page.click("text=Every reading of this log as CSV")
        self.assertEqual(len(Path(waiting.value.path()).read_text().splitlines()), 61)
