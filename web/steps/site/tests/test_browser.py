"""The survey of a site from nothing, as a designer does it on the phone and on the roof, in headless Chromium."""

from django.core.management import call_command

from heat.tests.samples import DATA
from web.accounts.models import User
from web.projects.models import Project
from web.ui.tests.browser import BrowserCase

MEANS = """Month\tSun\tAir
Jan\t1.25\t6.2
Feb\t2.1\t6.4
Mar\t3.3\t7.9
Apr\t4.6\t9.8
May\t5.6\t12.7
Jun\t6.1\t15.6
Jul\t5.9\t17.6
Aug\t5.0\t17.8
Sep\t3.8\t16.0
Oct\t2.4\t12.9
Nov\t1.45\t9.4
Dec\t1.05\t7.1
"""


class Survey(BrowserCase):
    def setUp(self):
        User.objects.create_user("designer", password="merrow-coast")
        super().setUp()
        self.signed_in()
        self.page.fill("#id_name", "Shearwater Steps")
        self.page.click("button:text-is('Open it')")
        self.page.wait_for_selector(".uses-list")

    def type(self, path, text):
        field = self.page.locator(f"main [data-path='{path}']").first
        field.fill(text)
        self.updated(lambda: field.press("Enter"))

    def go(self, key, view):
        self.page.keyboard.press("Escape")
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press(key)
        self.page.click(f".views a:has-text('{view}')")
        self.page.wait_for_selector(f".views a[aria-current]:has-text('{view}')")

    def survey(self):
        return Project.objects.get().survey

    def skyline(self):
        return [(p["bearing_deg"], p["altitude_deg"]) for p in self.survey()["site"]["skyline"]]

    def sky(self, bearing, altitude):
        """The place on the screen of a bearing and altitude."""
        return self.page.evaluate(
            """([b, a]) => {
              const s = document.querySelector("[data-sky]"), d = s.dataset;
              const off = ((b - d.centre + 540) % 360) - 180;
              const x = +d.left + ((off + +d.reach) * (d.right - d.left)) / (2 * d.reach);
              const y = d.foot - (a * (d.foot - d.top)) / d.high;
              const p = new DOMPoint(x, y).matrixTransform(s.getScreenCTM());
              return [p.x, p.y];
            }""",
            [bearing, altitude],
        )

    def drag(self, start, end):
        self.page.mouse.move(*start)
        self.page.mouse.down()
        self.page.mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2, steps=4)
        self.page.mouse.move(*end, steps=4)

    def test_from_nothing_to_a_ranking(self):
        # the need, cut first
        self.go("1", "Cut first")
        self.updated(lambda: self.page.click("main button:text-is('shower')"))
        self.type("demand.fixtures.0.flow_after_l_min", "7")
        self.type("demand.before.leaks_l_day", "15")
        self.assertIn("Cutting first saves", self.page.inner_text("[data-saving]"))
        # three uses
        self.go("1", "Uses")
        self.updated(lambda: self.page.click("main button:text-is('space heating')"))
        self.page.wait_for_selector("text=emitters")
        self.updated(lambda: self.page.click("main button:text-is('floor')"))
        self.updated(lambda: self.page.click("main button:text-is('circulation')"))
        self.updated(lambda: self.page.uncheck("[data-path='demand.circulation.hours_on.3']"))
        self.assertEqual(self.page.locator(".uses-list tr").count(), 3)
        # the place
        self.go("2", "Place")
        self.type("site.latitude_deg", "46° 30.0′ N")
        self.type("site.longitude_deg", "12 06 W")
        self.assertIn("UTC−1", self.page.inner_text(".facts"))
        # weather of twelve means, pasted
        self.go("2", "Weather")
        self.page.evaluate(
            """text => {
              const cell = document.querySelector("[data-cell='0,0']");
              const data = new DataTransfer();
              data.setData("text", text);
              cell.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
            }""",
            MEANS,
        )
        self.assertEqual(self.page.input_value("[name='sun.11']"), "1.05")
        self.assertEqual(self.page.input_value("[name='air.0']"), "6.2")
        self.page.click("text=Make a year of them")
        self.page.wait_for_selector("text=Not in use yet")
        self.page.wait_for_selector("#spread:has-text('±')")
        self.page.click("text=Use this year")
        self.page.wait_for_selector("text=Kept years")
        self.assertEqual(Project.objects.get().weather.kind, "synthetic")
        self.assertFalse(Project.objects.get().weather.made_up)
        # two planes
        self.go("2", "Planes")
        self.updated(lambda: self.page.click("main button:text-is('roof face')"))
        self.type("site.planes.0.tilt_deg", "6:12")
        self.type("site.planes.0.azimuth_deg@compass", "170")
        self.updated(lambda: self.page.click("main button:text-is('wall')"))
        self.assertEqual(self.page.locator(".planes-list tbody tr").count(), 2)
        self.assertEqual(self.survey()["site"]["planes"][0]["tilt_deg"], 26.57)
        # the horizon, by mouse and by keyboard
        self.go("2", "Horizon")
        for bearing, altitude in ((110, 15), (170, 8), (230, 20)):
            x, y = self.sky(bearing, altitude)
            self.page.mouse.move(x, y)
            self.page.mouse.down()
            self.updated(lambda: self.page.mouse.up())
        self.assertEqual(len(self.skyline()), 3)
        self.drag(self.sky(*self.skyline()[1]), self.sky(170, 28))
        self.page.wait_for_function("!document.querySelector('[data-lost]').textContent.startsWith('0.0')")
        self.assertAlmostEqual(self.skyline()[1][1], 8, delta=1)  # shown, not yet kept
        self.updated(lambda: self.page.mouse.up())
        self.assertAlmostEqual(self.skyline()[1][1], 28, delta=1)
        lost = self.page.inner_text("[data-lost]")
        self.page.focus("[data-point='1']")
        self.updated(lambda: self.page.keyboard.press("Shift+ArrowDown"))
        self.assertAlmostEqual(self.skyline()[1][1], 18, delta=1)
        self.assertNotEqual(self.page.inner_text("[data-lost]"), lost)
        self.assertEqual(self.page.evaluate("document.activeElement.dataset.point"), "1")
        self.updated(lambda: self.page.click("text=add one by keyboard"))
        self.page.wait_for_function("document.activeElement?.dataset.point === '3'")
        self.updated(lambda: self.page.keyboard.press("Delete"))
        self.assertEqual(len(self.skyline()), 3)
        self.page.evaluate("document.activeElement.blur()")
        self.updated(lambda: self.page.keyboard.press("Control+z"))
        self.assertEqual(len(self.skyline()), 4)
        # the ranking, read
        self.go("1", "The year")
        rows = self.page.locator(".ranking tbody tr").all_inner_texts()
        self.assertEqual(len(rows), 3)
        self.assertTrue(rows[0].startswith("1 hot water"), rows)
        self.assertIn("dark months", rows[-1])
        self.accessible()

    def test_a_bar_dragged_shows_its_year_before_it_is_let_go(self):
        self.go("1", "Uses")
        before = self.page.inner_text("[data-tally=bought] .figure")
        box = self.page.locator("[data-bar='13'] .slot").bounding_box()
        x = box["x"] + box["width"] / 2
        self.drag((x, box["y"] + box["height"] - 40), (x, box["y"] + 4))
        self.page.wait_for_function(
            "before => document.querySelector('[data-tally=bought] .figure').innerText !== before", arg=before
        )
        self.assertEqual(self.survey()["demand"]["hour_shape"][13], 4)
        self.updated(lambda: self.page.mouse.up())
        self.assertGreater(self.survey()["demand"]["hour_shape"][13], 8)

    def test_a_click_on_the_outline(self):
        self.go("2", "Place")
        world = self.page.locator("[data-world]").bounding_box()
        self.updated(
            lambda: self.page.mouse.click(world["x"] + world["width"] * 0.62, world["y"] + world["height"] * 0.75)
        )
        site = self.survey()["site"]
        self.assertAlmostEqual(site["longitude_deg"], 43.2, delta=1)
        self.assertAlmostEqual(site["latitude_deg"], 90 - 6 - 0.75 * 150, delta=1)
        self.assertIn("southern hemisphere", self.page.inner_text("main"))

    def test_a_real_year_looked_at_and_used(self):
        self.go("2", "Weather")
        self.page.set_input_files("#weather-file", DATA / "pvgis_tmy_45N_8E.csv")
        self.page.click("text=Read it")
        self.page.wait_for_selector("text=Stamps are UTC")
        displayed = self.page.locator("[data-level-year]").last.inner_text().replace("\u202f", "")
        self.assertEqual(displayed, "1436")  # sum of G(h) in the file, by awk
        self.page.click("text=Use this year")
        self.page.wait_for_selector("text=Kept years")
        self.page.keyboard.press("3")
        self.page.wait_for_selector("[data-fraction]")
        self.assertGreater(float(self.page.inner_text("[data-fraction]")), 50.0)
        self.assertIn("books close", self.page.inner_text(".closing"))

    def test_a_refused_upload_leaves_a_page_that_can_be_reloaded(self):
        self.go("2", "Weather")
        self.page.fill("[name='sun.2']", "3.3")
        self.page.wait_for_timeout(700)
        self.page.set_input_files("#weather-file", DATA / "SOURCES.md")
        self.page.click("text=Read it")
        self.page.wait_for_selector("#weather-problem")
        self.assertIn("not a weather file", self.page.inner_text("#weather-problem"))
        self.assertEqual(self.page.input_value("[name='sun.2']"), "3.3")
        self.page.wait_for_function("location.pathname.endsWith('/site')")
        self.page.reload()
        self.page.wait_for_selector("#means")
        self.assertEqual(self.page.locator("#weather-problem").count(), 0)

    def test_print_and_a_phone(self):
        call_command("load_demo")
        self.page.goto(self.live_server_url + "/")
        self.page.click("text=Gannet Terrace")
        self.page.wait_for_selector(".account")
        self.page.set_viewport_size({"width": 360, "height": 740})
        for key, view in (
            ("1", "Cut first"),
            ("1", "Uses"),
            ("1", "The year"),
            ("2", "Place"),
            ("2", "Weather"),
            ("2", "Planes"),
            ("2", "Horizon"),
        ):
            with self.subTest(view=view):
                self.go(key, view)
                self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 360)
