"""htmx and Alpine on the page: what stands outlives updates and lost lines, words are explained, passwords measured."""

import time

from web.projects.models import Project
from web.projects.services.edits import change_values
from web.ui.tests.browser import DemoCase


class Front(DemoCase):
    def test_a_word_stays_explained_while_the_page_is_updated(self):
        self.open_scheme()
        self.page.goto(f"{self.page.url.split('/scheme')[0]}/money?view=years")
        self.page.click("main h2 .term >> nth=0")
        self.page.wait_for_selector("#term:popover-open")
        words = self.page.inner_text("#term p.why")
        self.assertGreater(len(words), 40)
        self.accessible()
        self.updated(
            lambda: self.page.evaluate("""() => {
            const field = document.querySelector('[data-path="money.horizon_years"]');
            field.value = '15';
            field.dispatchEvent(new Event('change', {bubbles: true}));
        }""")
        )
        self.page.wait_for_selector("#term:popover-open")
        self.assertEqual(self.page.inner_text("#term p.why"), words)
        self.page.keyboard.press("Escape")
        self.page.wait_for_function("() => !document.querySelector('#term').matches(':popover-open')")

    def test_a_new_password_is_measured_as_it_is_typed(self):
        self.page.goto(f"{self.live_server_url}/account/password")
        words = self.page.locator("form [role=status]")
        self.assertEqual(words.inner_text(), "")
        self.page.fill("#id_new_password1", "harbour")
        self.assertEqual(words.inner_text(), "5 more letters.")
        self.page.fill("#id_new_password1", "quiet-harbour-9-and-a-gull")
        self.assertEqual(words.inner_text(), "Hard to guess.")
        self.assertEqual(self.page.locator("progress.strength").evaluate("bar => bar.value"), 100)


class OthersMeanwhile(DemoCase):
    """What a person has under way while somebody else's edit comes in, or nothing comes at all."""

    def setUp(self):
        super().setUp()
        self.open_scheme()
        self.project = Project.objects.get(name__startswith="Gannet")

    def tearDown(self):
        cut = ("ERR_INTERNET_DISCONNECTED", "ERR_FAILED", "Failed to fetch")  # what was asked for without a connection
        self.complaints = [c for c in self.complaints if not any(words in c for words in cut)]
        super().tearDown()

    def field(self, path):
        return self.page.locator(f"[data-path='{path}'] >> nth=0")

    def edit_of_another(self, litres):
        change_values(
            design=self.project.designs.get(),
            author=Project.objects.get(pk=self.project.pk).owner,
            changes={"system.store.volume_l": float(litres)},
        )

    def stored(self):
        return self.project.designs.get().scheme["system"]["store"]["volume_l"]

    def test_a_playing_year_plays_on_through_an_edit(self):
        self.page.keyboard.press("4")
        self.page.wait_for_selector("[data-playing]")  # and the scripts to be at work
        self.page.click("[data-playing]")
        self.page.wait_for_function("() => Number(document.querySelector('[data-play]').dataset.painted) > 3")
        self.edit_of_another(410)
        self.page.wait_for_selector("[data-revision='1']", state="attached")
        self.assertEqual(self.page.inner_text("[data-playing]"), "pause")
        self.assertEqual(self.page.get_attribute("[data-playing]", "aria-pressed"), "true")
        painted = int(self.page.get_attribute("[data-play]", "data-painted") or 0)
        self.page.wait_for_function(
            "before => Number(document.querySelector('[data-play]').dataset.painted) > before", arg=painted
        )
        self.page.click("[data-playing]")
        self.page.wait_for_selector("[data-playing]:has-text('play')")

    def test_a_popover_and_a_half_typed_value_stay_and_the_edit_comes_after(self):
        self.page.click("[data-tally=fraction] .ask")
        self.page.wait_for_selector("#why-fraction:popover-open")
        self.edit_of_another(410)
        self.page.wait_for_timeout(2500)  # asked for at least once
        self.assertEqual(self.page.get_attribute("[data-revision]", "data-revision"), "0")
        self.assertTrue(self.page.evaluate("document.querySelector('#why-fraction').matches(':popover-open')"))
        self.page.keyboard.press("Escape")
        self.page.wait_for_selector("[data-revision='1']", state="attached")
        tilt = self.field("plane.tilt_deg")
        tilt.focus()
        self.page.keyboard.type("4")
        typed = tilt.input_value()
        self.edit_of_another(420)
        self.page.wait_for_timeout(2500)
        self.assertEqual(tilt.input_value(), typed)
        self.assertEqual(self.page.get_attribute("[data-revision]", "data-revision"), "1")
        tilt.press("Escape")
        self.page.wait_for_selector("[data-revision='2']", state="attached")

    def test_three_edits_outlive_ten_seconds_without_a_connection(self):
        self.context.set_offline(True)
        start = time.monotonic()
        for path, value in (
            ("system.store.volume_l", "450"),
            ("plane.tilt_deg", "35"),
            ("system.collector.area_m2", "2.5"),
        ):
            self.field(path).fill(value)
            self.field(path).press("Enter")
        self.page.wait_for_timeout(1000 * (10 - (time.monotonic() - start)))
        self.assertEqual(self.field("plane.tilt_deg").input_value(), "35")
        self.context.set_offline(False)
        self.page.wait_for_selector("[data-revision='3']", state="attached", timeout=15_000)
        document = Project.objects.get(pk=self.project.pk).designs.get().document()
        self.assertEqual(
            (
                document["system"]["store"]["volume_l"],
                document["plane"]["tilt_deg"],
                document["system"]["collector"]["area_m2"],
            ),
            (450, 35, 2.5),
        )
        self.page.wait_for_function("() => !document.querySelector('.unsent')")

    def test_a_server_that_starts_again_is_found_again(self):
        stopped = [True]
        self.page.route("**/projects/**", lambda route: route.abort() if stopped[0] else route.continue_())
        self.complaints.clear()
        self.edit_of_another(410)
        self.page.wait_for_timeout(2500)
        self.field("plane.tilt_deg").fill("30")
        self.field("plane.tilt_deg").press("Enter")
        self.page.wait_for_selector(".unsent")
        stopped[0] = False
        self.page.wait_for_selector("[data-revision='2']", state="attached")
        self.assertEqual(self.stored(), 410)
        self.page.wait_for_selector("[data-path='system.store.volume_l'][value='410']", state="attached")


class Drafts(DemoCase):
    """Text typed into a form and not sent outlives the page."""

    FIELD = "#comments form.say textarea"

    def comment(self, text):
        self.page.click("button[popovertarget=comments]")
        self.page.fill(self.FIELD, text)

    def test_it_comes_back_until_it_is_sent(self):
        self.open_scheme()
        self.comment("Ask the caretaker about the door.")
        self.page.keyboard.press("Tab")
        self.page.goto(self.live_server_url)  # the page is left without sending
        self.open_scheme()
        self.assertEqual(self.page.input_value(self.FIELD), "Ask the caretaker about the door.")
        self.updated(
            lambda: self.page.evaluate("""() => {
            const field = document.querySelector('[data-path="system.store.volume_l"]');
            field.value = '420';
            field.dispatchEvent(new Event('change', {bubbles: true}));
        }""")
        )
        self.assertEqual(self.page.input_value(self.FIELD), "Ask the caretaker about the door.")
        self.page.click("button[popovertarget=comments]")
        self.page.click("#comments form.say button:has-text('Comment')")
        self.page.wait_for_selector("#comments >> text=Ask the caretaker", state="attached")
        self.page.reload()
        self.page.wait_for_selector(".account")
        self.assertEqual(self.page.input_value(self.FIELD), "")

    def test_emptied_it_is_gone_and_another_person_never_sees_it(self):
        self.open_scheme()
        self.comment("A word between us.")
        self.signed_in("assessor")
        self.open_scheme()
        self.assertEqual(self.page.input_value(self.FIELD), "")
        self.signed_in()
        self.open_scheme()
        self.assertEqual(self.page.input_value(self.FIELD), "A word between us.")
        self.page.click("button[popovertarget=comments]")
        self.page.fill(self.FIELD, "")
        self.page.reload()
        self.page.wait_for_selector(".account")
        self.assertEqual(self.page.input_value(self.FIELD), "")

    def test_a_line_for_the_parts_list_and_a_log_line_come_back_too(self):
        self.open_scheme()
        base = self.page.url.split("/scheme")[0]
        for view, field, typed in (
            ("money", "#add-line [name=words]", "snow guard"),
            ("log", "#line [name=remark]", "the pump hums"),
        ):
            self.page.goto(f"{base}/{view}")
            self.page.wait_for_load_state("domcontentloaded")
            self.page.fill(field, typed)
            self.page.goto(f"{base}/scheme")
            self.page.goto(f"{base}/{view}")
            self.page.wait_for_function(
                "([field, typed]) => document.querySelector(field).value === typed", arg=[field, typed]
            )
        self.page.goto(f"{base}/money")
        self.page.fill("#add-line [name=price]", "40")
        self.updated(lambda: self.page.keyboard.press("Enter"))
        self.assertEqual(self.page.input_value("#add-line [name=words]"), "")
