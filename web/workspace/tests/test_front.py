"""Alpine on the page: what it shows outlives updates, words are explained, passwords measured."""

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
