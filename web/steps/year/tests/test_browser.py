"""The year in the browser: carpet, days, playback, shape and faults, by mouse and keys, on four kinds of system."""

from pathlib import Path
from tempfile import TemporaryDirectory
from xml.etree import ElementTree

from web.ui.tests.browser import DemoCase

KINDS = (
    ("Gannet", "A", "Store bottom"),
    ("Tarn Sound", "B", "Pool"),
    ("Hill farm", "B", "Collector"),
    ("Lantern Row", "H", "Flow"),
)
"""Domestic, pool, combi and thermosiphon: project, design, a quantity of its carpet."""


class YearCase(DemoCase):
    def open_year(self, project="Gannet", letter="A", query="day=100&hour=8"):
        self.page.goto(self.live_server_url)
        self.open_scheme(project)
        self.page.goto(self.page.url.split("/A/")[0] + f"/{letter}/year?{query}")
        self.page.wait_for_selector("[data-carpet]")

    def days(self, name):
        return int(self.page.get_attribute("svg[data-traces]", f"data-{name}"))

    def displayed(self, first, count):
        self.page.wait_for_selector(f"svg[data-traces][data-first='{first}'][data-count='{count}']")

    def over(self, share_x, share_y=0.3):
        """The pointer over the days' hours, by shares of their width and the picture's height."""
        box = self.page.locator("svg[data-traces]").bounding_box()
        scale = box["width"] / 560
        x = box["x"] + scale * (34 + 372 * share_x)
        self.page.mouse.move(x, box["y"] + share_y * box["height"])


class Year(YearCase):
    def test_inside_the_year_by_mouse_and_keys(self):
        self.open_scheme()
        self.page.keyboard.press("4")
        self.page.wait_for_selector("[data-carpet]")
        self.accessible()
        box = self.page.locator("[data-carpet]").bounding_box()
        self.page.mouse.click(box["x"] + box["width"] * 200.5 / 365, box["y"] + box["height"] * 15.5 / 24)
        self.page.wait_for_selector("h2:has-text('20 Jul')")
        self.page.wait_for_selector("text=chosen hour 15 h")
        self.page.keyboard.press("ArrowRight")
        self.page.wait_for_selector("text=chosen hour 16 h")
        self.page.keyboard.press("]")
        self.page.wait_for_selector("h2:has-text('21 Jul')")
        self.page.click(".quantities >> text=Bought")
        self.page.wait_for_selector(".quantities [aria-current]:has-text('Bought')")
        self.page.click(".jumps button:has-text('most bought')")
        self.page.wait_for_selector("h2:has-text('6 Jan')")
        self.accessible()
        self.page.click(".views >> text=Shape of the year")
        self.page.wait_for_selector(".flowing")
        self.accessible()

    def test_four_kinds_by_carpet_days_playback_and_faults(self):
        for project, letter, quantity in KINDS:
            with self.subTest(project=project):
                self.open_year(project, letter, "day=10&hour=12")
                self.page.click(f".quantities >> text={quantity}")
                self.page.wait_for_selector(f".quantities [aria-current]:has-text('{quantity}')")
                self.page.evaluate("() => document.activeElement.blur()")
                self.page.keyboard.press("]")
                self.page.wait_for_selector("h2:has-text('12 Jan')")
                received, spent = (self.page.inner_text(f".sides table:nth-child({n}) tfoot td") for n in (1, 2))
                self.assertEqual(received, spent)
                self.page.keyboard.press("-")
                self.displayed(264, 48)
                self.accessible()
                self.page.keyboard.press(" ")
                self.page.wait_for_selector("[data-playing][aria-pressed=true]")
                self.page.wait_for_function("() => Number(document.querySelector('[data-play]').dataset.painted) > 5")
                self.page.keyboard.press(" ")
                self.page.wait_for_selector("[data-playing][aria-pressed=false]")
                self.page.click(".views >> text=Shape of the year")
                self.page.wait_for_selector(".flowing")
                self.page.click(".views >> text=Faults")
                self.page.wait_for_selector("#m-dirt")
                self.page.check("#m-dirt")
                self.page.wait_for_selector("h2:has-text('On the controller')")
                self.page.wait_for_function("() => document.querySelector('[data-odd]').textContent !== ''")
                self.accessible()

    def test_the_cursor_reports_every_trace(self):
        self.open_year()
        value = lambda: self.page.text_content("[data-value=bottom]")
        rest = value()
        self.over(0.6)
        self.page.wait_for_selector("[data-at]:has-text('11 Apr, 14 h under the pointer')")
        self.assertEqual(self.page.get_attribute("[data-hair]", "visibility"), "visible")
        self.assertNotEqual(value(), rest)
        self.page.mouse.move(10, 10)
        self.page.wait_for_selector("[data-at]:has-text('chosen hour 8 h')")
        self.assertEqual(value(), rest)
        self.over(0.6)
        text = value()
        self.page.mouse.down()
        self.page.mouse.up()
        self.page.wait_for_selector("[data-at]:has-text('hour 14 h')")
        self.page.mouse.move(10, 10)
        self.page.wait_for_selector("[data-at]:has-text('chosen hour 14 h')")
        self.assertEqual(value(), text)

    def test_zoom_and_pan_by_keys_mouse_and_wheel(self):
        self.open_year()
        self.displayed(2400, 24)
        for key, first, count in (("-", 2400, 48), ("-", 2400, 72), ("+", 2400, 48), ("Shift+ArrowRight", 2412, 48)):
            self.page.keyboard.press(key)
            self.displayed(first, count)
        self.page.keyboard.press("]")  # the chosen hour is still inside: the hours shown stay
        self.page.wait_for_selector("[data-at]:has-text('12 Apr, 20 h')")
        self.displayed(2412, 48)
        self.over(0.75)
        self.page.mouse.down()
        self.over(0.25)
        self.page.mouse.up()
        self.displayed(2436, 48)
        self.over(0.25)
        self.page.keyboard.down("Shift")
        self.page.mouse.down()
        self.over(0.5)
        self.page.mouse.up()
        self.page.keyboard.up("Shift")
        self.page.wait_for_function("() => Number(document.querySelector('svg[data-traces]').dataset.count) < 14")
        self.over(0.5)
        self.page.keyboard.down("Control")
        self.page.mouse.wheel(0, 100)
        self.page.keyboard.up("Control")
        self.page.wait_for_selector("svg[data-traces][data-count='24']")
        self.page.click("button[hx-get*='span=336']")
        self.page.wait_for_selector("svg[data-traces][data-count='336']")
        self.assertTrue(self.page.is_disabled("[data-zoom] >> nth=1"))
        self.accessible()

    def test_traces_are_chosen_and_taken_away(self):
        self.open_year()
        self.page.keyboard.press("t")
        self.page.wait_for_selector("#traces:popover-open")
        self.page.check("[data-trace=into_store]")
        self.page.wait_for_selector("[data-value=into_store]")
        self.page.uncheck("[data-trace=sun]")
        self.page.wait_for_selector("[data-value=sun]", state="detached")
        self.accessible()
        self.page.keyboard.press("Escape")
        with self.page.expect_download() as table, TemporaryDirectory() as folder:
            self.page.click("a[data-with-address]")
            table.value.save_as(Path(folder) / "days.csv")
            rows = (Path(folder) / "days.csv").read_text().splitlines()
        self.assertEqual(len(rows), 25)
        self.assertIn("Into the store [kWh]", rows[0])
        self.assertNotIn("Sun [", rows[0])
        self.page.click("button[hx-get*='table=']")
        self.page.wait_for_selector(".days-table tbody tr:nth-child(24)")
        self.accessible()
        self.page.click(".days-table button[hx-get*='day=100&hour=17']")
        self.page.wait_for_selector("[data-at]:has-text('chosen hour 17 h')")
        self.page.click("button[hx-get*='table=']")
        self.page.wait_for_selector(".days-table", state="detached")
        self.page.evaluate("() => document.activeElement.blur()")
        self.page.keyboard.press("t")
        self.page.click("#traces >> text=the usual ones")
        self.page.wait_for_selector("[data-value=sun]")

    def test_every_picture_is_saved_as_it_is(self):
        self.open_year()
        with TemporaryDirectory() as folder:
            for part, words in (
                (".weave", "Store top through the year"),
                (".daytraces", "11 Apr"),
                (".small-drawing", "closed loop"),
            ):
                frame = f"[data-picture]:has({part}), {part}[data-picture]"
                for kind in ("svg", "png"):
                    with self.page.expect_download() as saved:
                        self.page.locator(frame).first.locator(f"[data-picture-as={kind}]").click()
                    path = Path(folder) / saved.value.suggested_filename
                    saved.value.save_as(path)
                    current = path.read_bytes()
                    if kind == "svg":
                        self.assertTrue(ElementTree.fromstring(current).tag.endswith("svg"))
                        self.assertIn(words, current.decode())
                        self.assertNotIn("data-", current.decode().replace("data:", ""))
                    else:
                        self.assertEqual(current[:4], b"\x89PNG")
                        self.assertGreater(len(current), 8000)
            self.page.keyboard.press("3")
            self.page.wait_for_selector("svg.scheme")
            self.page.keyboard.press("/")
            self.page.keyboard.type("save as svg")
            with self.page.expect_download() as saved:
                self.page.keyboard.press("Enter")
            saved.value.save_as(Path(folder) / "scheme.svg")
            drawn = (Path(folder) / "scheme.svg").read_text()
            self.assertRegex(drawn, r">\s*Collectors\s*<")
            self.assertNotIn("what else it could be", drawn)
            self.page.wait_for_selector("#palette:not([open])", state="attached")
            self.page.keyboard.press("4")
            self.page.wait_for_selector("[data-carpet]")
            self.page.click(".views >> text=Shape of the year")
            self.page.wait_for_selector(".flowing")
            self.assertEqual(self.page.locator("[data-picture-as=png]").count(), 4)

    def test_questions_and_dates(self):
        self.open_year(query="day=0&hour=0")
        self.page.select_option("#ask", "bought_by_day")
        self.page.wait_for_selector(".answer")
        self.accessible()
        self.page.evaluate("() => document.activeElement.blur()")
        index = "() => (({ day, hour }) => 24 * day + Number(hour))(document.querySelector('[data-hour]').dataset)"
        self.page.keyboard.press("n")
        self.page.wait_for_selector(".answer:has-text('this is number 1')")
        first = self.page.evaluate(index)
        self.page.keyboard.press("n")
        self.page.wait_for_selector(".answer:has-text('this is number 2')")
        self.assertGreater(self.page.evaluate(index), first)
        self.page.keyboard.press("p")
        self.page.wait_for_selector(".answer:has-text('this is number 1')")
        self.page.click("text=show all hours")
        self.page.wait_for_selector(".jumps button:has-text('coldest morning')")
        self.page.fill("#go-date", "31 Feb")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("#go-date-no")
        self.assertEqual(self.page.input_value("#go-date"), "31 Feb")
        self.page.fill("#go-date", "20 Jul")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("h2:has-text('20 Jul')")
        self.page.evaluate("() => document.activeElement.blur()")
        self.page.keyboard.press("]")
        self.page.wait_for_selector("h2:has-text('21 Jul')")
        self.page.keyboard.press("/")
        self.page.keyboard.type("3 Oct 9")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("h2:has-text('3 Oct')")
        self.page.keyboard.press("q")
        self.page.wait_for_selector(".quantities [aria-current]:has-text('Store middle')")
        self.page.select_option("#account-of", "drawn")
        self.page.wait_for_selector(".scale[aria-label^='Colours of Drawn']")

    def test_the_carpet_reports_the_hour_under_the_pointer(self):
        self.open_year(query="q=sun")
        box = self.page.locator("[data-carpet]").bounding_box()
        self.page.mouse.move(box["x"] + box["width"] * 200.5 / 365, box["y"] + box["height"] * 12.5 / 24)
        self.page.wait_for_selector("[data-plate]:has-text('20 Jul, 12 h: ')")
        self.assertIn("W/m²", self.page.inner_text("[data-plate]"))
        self.page.mouse.move(10, 10)
        self.page.wait_for_selector("[data-plate]", state="hidden")

    def test_speed_and_steps_of_the_playback(self):
        self.open_year()
        self.page.keyboard.press(">")
        self.assertEqual(self.page.input_value("#play-speed"), "12")
        self.page.keyboard.press("<")
        self.page.keyboard.press("<")
        self.assertEqual(self.page.input_value("#play-speed"), "3")
        words = self.page.inner_text("#playline")
        self.page.keyboard.press("ArrowRight")
        self.page.wait_for_selector("[data-at]:has-text('hour 9 h')")
        self.assertNotEqual(self.page.inner_text("#playline"), words)
        displayed = lambda: self.page.locator("[data-of=forward]:not([visibility=hidden])").count()
        while self.page.inner_text("#playline").startswith("Pump at rest"):
            before = self.page.get_attribute("[data-hour]", "data-hour")
            self.page.keyboard.press("ArrowRight")
            self.page.wait_for_selector(f"[data-hour]:not([data-hour='{before}'])")
        self.assertEqual(displayed(), 2)

    def test_the_drawing_is_played_and_paused(self):
        self.open_scheme()
        self.page.goto(self.page.url.split("/scheme")[0] + "/year?day=100&hour=8")
        self.page.select_option("#play-speed", "12")
        self.page.evaluate("() => document.activeElement.blur()")
        before = self.page.inner_text("#playline")
        self.page.keyboard.press(" ")
        self.page.wait_for_selector("[data-playing][aria-pressed=true]")
        self.page.wait_for_function("() => Number(document.querySelector('[data-play]').dataset.painted) > 20")
        self.page.wait_for_function("before => document.getElementById('playline').innerText !== before", arg=before)
        # over midnight into a later day; which one depends on how fast the machine is
        self.page.wait_for_function("() => Number(document.querySelector('[data-hour]').dataset.day) > 100")
        self.page.wait_for_selector("[data-playing][aria-pressed=true]")
        self.page.keyboard.press(" ")
        self.page.wait_for_selector("[data-playing][aria-pressed=false]")
        self.accessible()

    def test_faults_are_ticked_and_found(self):
        self.open_scheme()
        self.page.keyboard.press("4")
        self.page.click(".views >> text=Faults")
        self.page.wait_for_selector("#m-valve")
        self.accessible()
        self.page.check("#m-valve")
        self.page.wait_for_selector("h2:has-text('On the controller')")
        self.page.check("#m-dirt")
        self.page.wait_for_selector("th:has-text('With them')")
        self.accessible()
        at = self.page.inner_text("[data-readings] [data-at]")
        self.page.evaluate("() => document.activeElement.blur()")
        self.page.keyboard.press("ArrowRight")
        self.page.wait_for_function(
            "at => document.querySelector('[data-readings] [data-at]').innerText !== at", arg=at
        )
        self.page.fill("#s-dirt", "40")
        self.page.keyboard.press("Enter")
        self.page.wait_for_function(
            "() => location.search.includes('s-dirt=40') && !location.search.includes('s-high')"
        )
        self.assertEqual(self.page.input_value("#s-dirt"), "40")
        self.page.fill("#s-dirt", "400")
        self.page.keyboard.press("Tab")
        self.page.wait_for_selector("#s-dirt-no")
        self.accessible()
        self.page.click("text=week ›")
        self.page.wait_for_selector("#m-dirt:checked")
        self.page.click("text=find one by its readings")
        self.page.wait_for_selector("h1:has-text('Find the fault')")
        self.accessible()
        self.page.click(".assumptions a >> nth=0")
        self.page.wait_for_selector("text=Another one")
        self.accessible()


class YearOnAPhone(YearCase):
    size = (360, 740)

    def test_every_view_fits_a_phone(self):
        self.open_year()
        for view in ("hours", "shape", "faults"):
            self.page.goto(self.page.url.split("?")[0] + f"?view={view}&m=dirt&ask=night&span=72")
            self.page.wait_for_selector("main")
            wide = self.page.evaluate("() => document.documentElement.scrollWidth")
            self.assertLessEqual(wide, 360, view)
            self.accessible()

    def test_a_window_made_narrow_keeps_its_place(self):
        self.page.set_viewport_size({"width": 1280, "height": 800})
        self.open_year(query="day=200&hour=15&q=sun")
        self.page.set_viewport_size({"width": 360, "height": 740})
        box = self.page.locator("[data-carpet]").bounding_box()
        self.page.mouse.click(box["x"] + box["width"] * 100.5 / 365, box["y"] + box["height"] * 9.5 / 24)
        self.page.wait_for_selector("[data-day='100']")
        self.page.wait_for_selector(".quantities [aria-current]:has-text('Sun')")
