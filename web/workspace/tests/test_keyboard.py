"""Every page of the guide by keyboard alone: what can be clicked can be reached with Tab, and Tab leads on."""

from web.ui.tests.browser import DemoCase
from web.workspace.registry import steps

UNREACHED = """() => [...document.querySelectorAll('[hx-get], [hx-post], [x-on\\\\:click], [data-picture-as]')]
  .filter(e => e.checkVisibility() && !e.matches('form, [hx-trigger*=load], [hx-trigger*=every], [hx-trigger*=moved]')
    && !e.matches('[data-world], [data-carpet], #said')
    && !e.querySelector('button, a[href], input, select, textarea, [tabindex]') && e.tabIndex < 0)
  .map(e => e.outerHTML.slice(0, 120))"""
"""Elements that answer a click and cannot be reached by keyboard. The map of the world has its coordinates to type, the
year's carpet its date and its jumps, and what the page says goes by itself."""
STOPS = """() => [...document.querySelectorAll('a[href], button, input, select, textarea, summary, [tabindex="0"]')]
  .filter(e => e.checkVisibility() && !e.disabled && e.tabIndex >= 0 && e.type !== 'hidden').length"""
HERE = """() => { const e = document.activeElement; window.passed ??= new Set(); window.passed.add(e);
  return [e === document.body, window.passed.size,
    e.matches('.height') || getComputedStyle(e).outlineStyle !== 'none' ? '' : e.outerHTML.slice(0, 200)] }"""
"""Whether Tab has left the page, how many stops it has made, and where it is if that is not seen; a handle on the
drawing fills its grip."""
PAGES = ("scheme", "demand", "site?view=planes", "year", "weigh?view=maps", "cautions", "log", "paper")


class ByKeyboard(DemoCase):
    def setUp(self):
        super().setUp()
        self.open_scheme()
        self.base = self.page.url.split("/scheme")[0]

    def at(self, address):
        self.page.goto(f"{self.base}/{address}")
        self.page.wait_for_load_state("networkidle")

    def test_what_can_be_clicked_can_be_reached(self):
        unreached = {}
        for step in steps():
            for view in step.views:
                self.at(f"{step.key}?view={view.key}")
                if found := self.page.evaluate(UNREACHED):
                    unreached[f"{step.key} {view.key}"] = found
        self.assertEqual(unreached, {})

    def test_tab_leads_through_a_page_and_shows_where_it_is(self):
        for address in PAGES:
            self.at(address)
            stops, passed = self.page.evaluate(STOPS), 0
            for _ in range(stops + 5):
                self.page.keyboard.press("Tab")
                at_end, passed, unseen = self.page.evaluate(HERE)
                if at_end:
                    break
                self.assertEqual(unseen, "", address)
            self.assertGreater(passed, 0.8 * stops, f"{address}: {passed} of {stops}")
