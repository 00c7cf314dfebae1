"""The main paths, driven as a designer would, in headless Chromium."""

from web.projects.models import Project
from web.ui.tests.browser import BrowserCase, DemoCase


class OpenBook(DemoCase):
    def bought(self):
        return self.page.inner_text("[data-bought]")

    def field(self, path, where="d"):
        return self.page.locator(f"[id='{where}-{path}']")

    def test_area_changed_undone_and_units_switched(self):
        self.open_scheme()
        fraction, bought = self.figure(), self.bought()
        self.page.evaluate("window.stillHere = true")

        def more_area():
            field = self.field("system.collector.area_m2")
            field.fill("3.2")
            field.press("Enter")

        self.updated(more_area)
        self.assertNotEqual(self.figure(), fraction)
        self.assertNotEqual(self.bought(), bought)
        self.assertIn("better", self.page.inner_text("[data-tally=fraction] .change"))
        self.assertTrue(self.page.evaluate("window.stillHere"), "the page was loaded anew")
        self.updated(lambda: self.page.keyboard.press("Control+z"))
        self.assertEqual((self.figure(), self.bought()), (fraction, bought))
        self.assertEqual(self.field("system.collector.area_m2").input_value(), "2.3")
        self.updated(lambda: self.page.click("[data-redo]"))
        self.assertNotEqual(self.figure(), fraction)
        self.page.click("button[value=us]")
        self.assertIn("kBtu", self.figure("bought"))
        self.assertEqual(self.field("system.collector.area_m2").input_value(), "34.4")

    def test_keyboard_steps_keep_focus_and_escape_restores(self):
        self.open_scheme()
        field = self.field("system.store.volume_l")
        field.focus()
        self.updated(lambda: field.press("Shift+ArrowUp"))
        self.assertEqual(field.input_value(), "400")
        self.assertEqual(self.page.evaluate("document.activeElement.id"), "d-system.store.volume_l")
        field.fill("9")
        field.press("Escape")
        self.assertEqual(field.input_value(), "400")
        self.assertEqual(
            Project.objects.get(name__startswith="Gannet").designs.get().scheme["system"]["store"]["volume_l"], 400
        )

    def test_refusal_stays_at_its_place_with_what_was_typed(self):
        self.open_scheme()
        field = self.field("plane.tilt_deg")
        field.fill("200")
        field.press("Enter")
        self.page.wait_for_selector("[id='d-plane.tilt_deg-refusal']")
        self.assertEqual(field.input_value(), "200")
        self.assertIn("0 to 90", self.page.inner_text("[id='d-plane.tilt_deg-refusal']"))
        self.assertIn("last good year", self.page.inner_text(".account-page"))
        self.page.click("[id='d-plane.tilt_deg-refusal'] button")
        self.page.wait_for_selector("[id='d-plane.tilt_deg-refusal']", state="detached")
        self.assertEqual(field.input_value(), "42")

    def test_two_tabs(self):
        self.open_scheme()
        other = self.context.new_page()
        other.goto(self.page.url)
        self.updated(lambda: (self.field("system.store.volume_l").fill("500"), self.page.keyboard.press("Enter")))
        field = other.locator("[id='d-system.store.volume_l']")
        field.fill("200")
        field.press("Enter")
        other.wait_for_selector("[data-mine]")
        self.assertEqual(
            Project.objects.get(name__startswith="Gannet").designs.get().scheme["system"]["store"]["volume_l"], 500
        )
        other.locator("[data-mine]").first.click()
        other.wait_for_selector("[data-mine]", state="detached")
        self.assertEqual(
            Project.objects.get(name__startswith="Gannet").designs.get().scheme["system"]["store"]["volume_l"], 200
        )
        other.close()

    def test_typed_value_outlives_a_silent_server(self):
        self.open_scheme()
        self.context.set_offline(True)
        field = self.field("system.store.volume_l")
        field.fill("450")
        field.press("Enter")
        self.page.wait_for_selector(".unsent")
        self.assertEqual(field.input_value(), "450")
        self.updated(lambda: self.context.set_offline(False))
        self.assertEqual(
            Project.objects.get(name__startswith="Gannet").designs.get().scheme["system"]["store"]["volume_l"], 450
        )
        self.complaints.clear()

    def test_typed_value_outlives_a_sign_out_elsewhere(self):
        self.open_scheme()
        cookies = self.context.cookies()
        self.context.clear_cookies()
        field = self.field("system.store.volume_l")
        field.fill("420")
        field.press("Enter")
        self.page.wait_for_selector("text=You are signed out")
        self.assertEqual(field.input_value(), "420")
        self.updated(lambda: self.context.add_cookies(cookies))
        self.assertEqual(
            Project.objects.get(name__startswith="Gannet").designs.get().scheme["system"]["store"]["volume_l"], 420
        )
        self.complaints.clear()

    def test_hours_and_parts_without_a_page_load(self):
        self.open_scheme()
        self.page.evaluate("window.stillHere = true")
        self.page.keyboard.press("ArrowRight")
        self.page.wait_for_selector("text=11 h")
        self.page.keyboard.press("]")
        self.page.wait_for_function("location.search.includes('day')")
        self.page.click("button[hx-get*='part=control']")
        self.page.wait_for_selector("aside[aria-label=Controller]")
        self.page.wait_for_selector(".steps td")
        self.assertTrue(self.page.evaluate("window.stillHere"))

    def test_shape_of_the_day_by_mouse_keyboard_and_number(self):
        self.open_scheme()
        self.page.keyboard.press("1")
        self.page.wait_for_selector(".daybars")
        need = self.figure("bought")
        box = self.page.locator("[data-bar='3'] .slot").bounding_box()
        self.page.mouse.move(box["x"] + 8, box["y"] + box["height"] - 22)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 8, box["y"] + 40)
        self.updated(lambda: self.page.mouse.up())
        dragged = Project.objects.get(name__startswith="Gannet").survey["demand"]["hour_shape"][3]
        self.assertGreater(dragged, 5)
        self.page.focus("[data-bar='4']")
        self.updated(lambda: self.page.keyboard.press("ArrowUp"))
        self.assertEqual(Project.objects.get(name__startswith="Gannet").survey["demand"]["hour_shape"][4], 1)
        number = self.page.locator("[data-weight='5']")
        number.fill("7.5")
        self.updated(lambda: number.press("Enter"))
        self.assertEqual(Project.objects.get(name__startswith="Gannet").survey["demand"]["hour_shape"][5], 7.5)
        self.assertNotEqual(self.figure("bought"), need)

    def test_a_household_and_a_second_use_from_the_demand_page(self):
        self.open_scheme()
        self.page.keyboard.press("1")
        self.page.wait_for_selector(".daybars")
        self.updated(lambda: self.page.click("text=evening house"))
        self.assertEqual(self.page.input_value("[data-weight='19']"), "16")
        self.updated(lambda: self.page.click("button:has-text('space heating')"))
        loss = self.page.locator("[data-path='demand.heating.loss_w_k']")
        before = self.figure("bought")
        loss.fill("300")
        self.updated(lambda: loss.press("Enter"))
        self.assertNotEqual(self.figure("bought"), before)
        self.updated(lambda: self.page.keyboard.press("Control+z"))
        self.assertEqual(self.figure("bought"), before)

    def test_the_command_line_finds_parts_hours_and_commands(self):
        self.open_scheme()
        self.page.keyboard.press("/")
        self.page.fill("#palette-line", "horiz")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("[data-sky]")
        self.page.keyboard.press("/")
        self.page.fill("#palette-line", "3 jun 15")
        self.accessible()
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("text=drawn at 3 Jun, 15 h")
        self.page.keyboard.press("/")
        self.page.fill("#palette-line", "part coil")
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("ArrowUp")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector(".panel option[selected]:has-text('Coil')", state="attached")
        self.page.keyboard.press("/")
        self.page.fill("#palette-line", "make drainback")
        self.updated(lambda: self.page.keyboard.press("Enter"))
        self.assertIn("Drainback", self.page.get_attribute("svg.scheme", "aria-label"))
        self.page.keyboard.press("/")
        self.page.fill("#palette-line", "undo")
        self.updated(lambda: self.page.keyboard.press("Enter"))
        self.page.keyboard.press("/")
        self.page.fill("#palette-line", "zzz")
        self.page.wait_for_selector("#palette-list:has-text('Nothing of that name')")
        self.page.keyboard.press("Escape")
        self.page.wait_for_function("!document.getElementById('palette').open")
        self.page.keyboard.press("?")
        self.page.wait_for_selector("#keys:popover-open")
        self.accessible()
        missing = "[...document.querySelectorAll('[data-press]')].filter(b => !document.querySelector(b.dataset.press))"
        self.assertEqual(self.page.evaluate(f"() => {missing}.map(b => b.textContent)"), [])
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("/")
        self.page.fill("#palette-line", "sign out")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("#id_password")

    def test_another_kind_in_a_copy_and_both_as_facing_pages(self):
        self.open_scheme()
        self.page.click("text=copy A")
        self.page.wait_for_selector("text=copy of roof flat plate")
        self.page.click("button[hx-get*='part=kind']")
        self.page.wait_for_selector(".swaps")
        text = self.page.inner_text(".swaps tr:has-text('plate exchanger') td:nth-child(2)")
        before = float(self.figure().split()[0])
        self.updated(lambda: self.page.click(".swaps button[hx-vals*='kind pumped_plate']"))
        change = float(self.figure().split()[0]) - before
        self.assertAlmostEqual(change, float(text.replace("−", "-")), delta=0.11)
        self.assertIn("plate exchanger", self.page.get_attribute("svg.scheme", "aria-label"))
        self.accessible()
        self.page.click(".designs button.design")
        self.page.fill("input[name=name]", "plate")
        self.page.click("text=Keep")
        self.page.wait_for_selector(".designs :text('plate')")
        self.page.click(".designs button.design")
        self.page.click("#design-sheet a")
        self.page.wait_for_selector("text=Why bought heat changes")
        self.assertIn("plate exchanger", self.page.inner_text("main"))
        self.accessible()

    def test_axe_where_something_lies_over_the_page(self):
        self.accessible()
        self.open_scheme()
        self.page.wait_for_selector(".steps td")
        self.accessible()
        self.page.click("[data-tally=fraction] .ask")
        self.accessible()

    def test_narrow_screen_puts_the_tally_first(self):
        self.page.set_viewport_size({"width": 360, "height": 740})
        self.open_scheme()
        tally = self.page.locator(".tally").bounding_box()
        account = self.page.locator(".account").bounding_box()
        drawing = self.page.locator("svg.scheme").bounding_box()
        self.assertLess(tally["y"], account["y"])
        self.assertLess(account["y"], drawing["y"])
        self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 360)


class SignIn(BrowserCase):
    def test_wrong_password_and_axe(self):
        self.page.goto(self.live_server_url + "/")
        self.page.fill("#id_username", "nobody")
        self.page.fill("#id_password", "wrong")
        self.page.click("button")
        self.page.wait_for_selector("[role=alert]")
        self.assertEqual(self.page.input_value("#id_username"), "nobody")
        self.accessible()
        self.page.goto(self.live_server_url + "/join")
        self.accessible()
