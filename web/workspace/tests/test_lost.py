"""In the browser: a row another tab took away, answers that are lost, a server that fails once or for good."""

from web.projects.models import Project
from web.ui.tests.browser import DemoCase


class Lost(DemoCase):
    def setUp(self):
        super().setUp()
        self.open_scheme()
        self.page.wait_for_load_state("domcontentloaded")
        self.project = Project.objects.get(name__startswith="Gannet")

    def tearDown(self):
        self.complaints = [c for c in self.complaints if "500" not in c and "ERR_FAILED" not in c]
        super().tearDown()

    def field(self, path="system.store.volume_l"):
        return self.page.locator(f"[id='d-{path}']")

    def type(self, value, path="system.store.volume_l"):
        self.field(path).fill(value)
        self.field(path).press("Enter")

    def stored(self):
        return self.project.designs.get().scheme["system"]["store"]["volume_l"]

    def failing(self, times, status=500, reach=False):
        """The next answers to edits and undo: failures, or lost on their way back from a server that did them."""
        left = [times]

        def handle(route):
            if left[0] == 0:
                return route.continue_()
            left[0] -= 1
            if not reach:
                return route.fulfill(status=status, body="")
            route.fetch()
            return route.abort()

        self.page.route("**/A/edit", handle)
        self.page.route("**/A/undo", handle)

    def tree(self):
        """A new tree on the page, the field of its height, and what takes the tree away in another tab."""
        site = self.page.url.split("/scheme")[0] + "/site?view=horizon"
        self.page.goto(site)
        self.updated(lambda: self.page.click("button:has-text('add a tree')"))
        tab = self.context.new_page()
        tab.goto(site)
        trees = tab.locator("button[aria-label^='take away tree']")
        path = f"[data-path='site.trees.{trees.count() - 1}.altitude_deg']"

        def take_away():
            trees.last.click()
            tab.locator(path).first.wait_for(state="detached")

        return self.page.locator(path).first, take_away

    def typed_under_way(self, address, field, value):
        """Type into a field once the next answer from an address is there, before the page takes it."""
        field.evaluate(
            """(field, [address, value]) => {
                const fetched = window.fetch;
                window.fetch = async (url, ...rest) => {
                    const answer = await fetched(url, ...rest);
                    if (window.fetch === fetched || !String(url).includes(address)) return answer;
                    window.fetch = fetched;
                    field.focus();
                    field.value = value;
                    field.dispatchEvent(new Event("input", { bubbles: true }));
                    return answer;
                };
            }""",
            [address, value],
        )

    def test_a_tree_another_tab_took_away(self):
        field, take_away = self.tree()
        field.fill("31")
        take_away()
        field.press("Enter")
        self.page.wait_for_selector("text=There is no value called")
        self.assertEqual(field.count(), 0)
        self.page.goto(self.page.url.split("/site")[0] + "/scheme")
        self.updated(lambda: self.type("333"))
        self.assertEqual(self.stored(), 333)

    def test_what_is_typed_while_the_updates_of_others_comes_in_stays(self):
        field, take_away = self.tree()

        self.typed_under_way("/A/site?", field, "31")
        take_away()
        look_again = "document.dispatchEvent(new Event('visibilitychange'))"
        self.page.evaluate(look_again)
        self.page.wait_for_function("field => field.value === '31'", arg=field.element_handle())
        with self.page.expect_response("**/now?*"):
            self.page.evaluate(look_again)
        self.assertEqual(field.input_value(), "31")
        field.press("Escape")
        self.page.evaluate(look_again)
        field.wait_for(state="detached")

    def test_a_price_not_sent_yet_stays_when_others_change_what_it_is_for(self):
        tab = self.context.new_page()
        tab.goto(self.page.url)
        self.page.goto(self.page.url.replace("/scheme", "/money"))
        price = self.page.locator("#p-store")
        price.fill("777")
        volume = tab.locator("[id='d-system.store.volume_l']")
        volume.fill("345")
        volume.press("Enter")
        tab.wait_for_selector("[data-revision='1']", state="attached")
        self.updated(lambda: self.page.evaluate("document.dispatchEvent(new Event('visibilitychange'))"))
        self.page.wait_for_selector("text=345")
        self.assertEqual(price.input_value(), "777")

    def test_what_is_typed_and_typed_back_holds_up_no_updates(self):
        tab = self.context.new_page()
        tab.goto(self.page.url)
        stood = self.field().input_value()
        for value in ("333", stood):
            self.field().fill(value)
        self.field().blur()
        area = tab.locator("[id='d-system.collector.area_m2']")
        area.fill("2.4")
        area.press("Enter")
        tab.wait_for_selector("[data-revision='1']", state="attached")
        self.updated(lambda: self.page.evaluate("document.dispatchEvent(new Event('visibilitychange'))"))

    def test_what_is_typed_into_a_row_that_goes_is_reported(self):
        field, take_away = self.tree()
        self.typed_under_way("/A/choose", field, "31")
        take_away()
        self.updated(lambda: self.way({"demand.litres_per_person_day": 61}))
        self.page.wait_for_selector("text=“31” was not kept")

    def test_a_link_waits_for_what_was_typed_before_it(self):
        requested = []
        self.page.on("dialog", lambda dialog: (requested.append(dialog.type), dialog.accept()))
        self.field().fill("333")
        self.page.click(".tabs a:has-text('Year')")
        self.page.wait_for_url("**/A/year*")
        self.assertEqual(self.stored(), 333)
        self.page.click(".tabs a:has-text('Scheme')")
        self.page.wait_for_url("**/A/scheme*")
        self.page.wait_for_load_state("domcontentloaded")
        self.field().fill("-5")
        self.page.click(".tabs a:has-text('Year')")
        self.page.wait_for_selector("text=The page stays")
        self.assertEqual(self.field().input_value(), "-5")
        self.field().fill("400")
        self.field().press("ArrowUp")
        before = float(self.field().input_value())
        self.page.click(".copy button")
        self.page.wait_for_url("**/B/scheme*")
        self.assertEqual(self.project.designs.get(letter="B").scheme["system"]["store"]["volume_l"], before)
        self.assertEqual(requested, [])

    def test_a_part_opened_while_an_edit_is_under_way_stays_open(self):
        self.page.evaluate(
            """() => {
                const fetched = window.fetch;
                window.fetch = async (url, ...rest) => {
                    const answer = await fetched(url, ...rest);
                    if (String(url).endsWith("/A/edit")) await new Promise((done) => setTimeout(done, 700));
                    return answer;
                };
            }"""
        )
        self.updated(lambda: (self.field().fill("333"), self.page.click("button[hx-get*='part=collector']")))
        self.page.wait_for_selector(".panel.collector")
        self.page.wait_for_url("**part=collector*")
        self.assertEqual(self.stored(), 333)
        self.page.keyboard.press("Control+z")
        self.page.wait_for_selector("[data-revision='2']", state="attached")
        self.assertEqual(self.page.locator(".panel.collector").count(), 1)
        self.field().fill("-5")
        self.page.click("button[hx-get*='part=pipes']")
        self.page.wait_for_selector("text=The page stays")
        self.assertEqual(self.field().input_value(), "-5")
        self.page.click("button[hx-get*='part=pipes']")
        self.page.wait_for_selector(".panel.pipes")

    def test_an_undo_whose_answer_is_lost_undoes_one(self):
        before = self.stored()
        for value in ("333", "344"):
            self.updated(lambda value=value: self.type(value))
        self.failing(2, reach=True)
        self.updated(lambda: self.page.keyboard.press("Control+z"))
        self.assertEqual(self.stored(), 333)
        self.updated(lambda: self.page.keyboard.press("Control+z"))
        self.assertEqual(self.stored(), before)

    def test_a_server_that_fails_once_and_then_lives(self):
        self.failing(1)
        self.updated(lambda: self.type("355"))
        self.assertEqual(self.stored(), 355)

    def test_a_server_that_fails_for_good_holds_nothing_up_and_loses_nothing(self):
        self.failing(3)
        self.type("366")
        self.page.wait_for_selector("text=What you typed stands; everything else goes on.")
        self.assertEqual(self.field().input_value(), "366")
        self.updated(lambda: self.type("2.4", "system.collector.area_m2"))
        self.assertEqual(self.field().input_value(), "366")
        self.assertNotEqual(self.stored(), 366)
        self.updated(lambda: self.type("367"))
        self.assertEqual(self.stored(), 367)
        self.assertEqual(self.page.locator(".unsent").count(), 0)

    def test_what_another_design_needs_is_requested_about_and_given_back_by_undo(self):
        pool = {"demand.pool.fitted": True, "system.kind": "pool_direct", "system.loop.glycol_percent": 0}
        self.updated(lambda: self.way(pool))
        self.page.click(".copy button")
        self.page.wait_for_url("**/B/scheme")
        self.page.wait_for_load_state("domcontentloaded")
        self.way({"system.kind": "pumped_coil", "demand.pool.fitted": False})
        self.page.wait_for_selector("text=Design A would no longer be calculated: a pool system needs a pool")
        self.accessible()
        self.updated(lambda: self.page.click("text=change it all the same"))
        self.page.click("a.design.other")
        self.page.wait_for_selector("text=Design A is not calculated")
        self.updated(lambda: self.page.keyboard.press("Control+z"))
        self.page.wait_for_selector(".account")

    def way(self, changes):
        """Changes handed back as one of the page's own buttons would."""
        self.page.evaluate(
            """changes => {
                const button = document.createElement("button");
                button.setAttribute("hx-post", "choose");
                button.setAttribute("hx-vals", JSON.stringify({ changes: JSON.stringify(changes) }));
                document.getElementById("desk").append(button);
                htmx.process(button);
                button.click();
                button.remove();
            }""",
            changes,
        )
