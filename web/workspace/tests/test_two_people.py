"""Two people in one project, each in a browser of their own: who is here, each other's edits, one value by two."""

from web.accounts.models import User
from web.projects.models import Project
from web.ui.tests.browser import DemoCase, arriving, chromium

PASSWORD = "merrow-coast"
WITHIN_MS = 4000  # two seconds on a quiet machine
VOLUME = '[data-path="system.store.volume_l"] >> nth=0'


class TwoPeople(DemoCase):
    def setUp(self):
        super().setUp()
        browser, _loop = chromium()
        self.second = browser.new_context(viewport={"width": 1280, "height": 800})
        self.other = arriving(self.second.new_page())
        self.other.on("console", lambda m: self.complaints.append(m.text) if m.type in ("error", "warning") else None)
        self.other.on("pageerror", lambda e: self.complaints.append(str(e)))

    def tearDown(self):
        self.other.goto("about:blank")
        self.second.close()
        super().tearDown()

    def both_open(self, name):
        self.open_scheme()
        self.signed_in(name, self.other)
        self.other.click("text=Gannet Terrace")
        self.other.wait_for_selector("#here")

    def set(self, page, path, value):
        page.fill(f'[data-path="{path}"] >> nth=0', value)
        page.keyboard.press("Enter")

    def test_each_sees_the_other_and_their_updates(self):
        self.both_open("assessor")
        self.page.wait_for_selector("#here .person:has-text('assessor')", timeout=WITHIN_MS)
        self.other.wait_for_selector("#here .person:has-text('designer')", timeout=WITHIN_MS)
        self.set(self.page, "system.store.volume_l", "410")
        self.other.wait_for_selector('[data-path="system.store.volume_l"][value="410"]', timeout=WITHIN_MS)
        self.assertIn("designer: Volume in A", self.other.text_content("#said"))
        self.assertEqual(self.other.locator(".field[data-by=designer]").count() > 0, True)

    def test_an_assessor_finds_the_scheme_closed_and_the_demand_open(self):
        self.both_open("assessor")
        self.assertTrue(self.other.locator(VOLUME).is_disabled())
        self.other.click("a:has-text('Demand')")
        self.other.wait_for_selector('[data-path="demand.people"]')
        self.set(self.other, "demand.people", "3")
        self.other.wait_for_selector('[data-path="demand.people"][value="3"]')
        self.page.wait_for_selector("#said:has-text('assessor')", timeout=WITHIN_MS)

    def test_a_comment_is_pinned_to_the_value_touched_last(self):
        self.both_open("viewer")
        self.page.click('[data-path="system.store.loss_w_k"] >> nth=0')
        self.page.click("button[popovertarget=comments]")
        self.page.fill("#comments .say textarea", "Thicker wool?")
        self.page.click("#comments .say button")
        self.page.wait_for_selector("#desk")
        self.page.wait_for_selector(".pinned >> nth=1")
        self.other.reload()
        self.other.wait_for_selector(".pinned")
        self.other.click("button[popovertarget=comments]")
        self.assertIn("Thicker wool?", self.other.text_content("#comments"))
        self.assertIn("Insulation loss", self.other.text_content("#comments"))

    def test_an_invitation_from_the_firms_page(self):
        self.page.click("text=Merrow Heat Works >> nth=0")
        self.page.fill("#id_note", "Bo Lind")
        self.page.click("button[value=invite]")
        link = self.page.input_value("[readonly]")
        self.accessible()
        User.objects.create_user("bo", password=PASSWORD)
        self.other.goto(link)
        self.other.click("a:has-text('Sign in')")
        self.other.fill("#id_username", "bo")
        self.other.fill("#id_password", PASSWORD)
        self.other.click("button")
        self.other.click("button:has-text('Come to')")
        self.other.wait_for_selector("text=you are a designer")
        self.other.goto(self.live_server_url + "/")
        self.other.wait_for_selector("text=Gannet Terrace")
        for page in ("people", "history"):
            self.page.goto(self.live_server_url + "/")
            self.page.click("text=Gannet Terrace")
            self.page.click(f".header-right a[href$={page}]")
            self.page.wait_for_selector("h1")
            self.accessible()

    def test_a_client_opens_an_account_by_the_link_views_and_is_displayed_out_again(self):
        self.open_scheme()
        self.page.click(".header-right a[href$=people]")
        self.page.fill("#id_note", "Wren Alder")
        self.page.click("button[value=share]")
        self.other.goto(self.page.input_value("[readonly]"))
        self.other.click("a:has-text('Open an account')")
        self.other.fill("#id_username", "wren")
        self.other.fill("#id_password1", "curlew")
        self.other.wait_for_selector("[role=status]:has-text('6 more letters.')")
        self.other.fill("#id_password1", "curlew-and-plover-4")
        self.other.wait_for_selector("[role=status]:has-text('Hard to guess.')")
        for field in ("#id_password1", "#id_password2"):
            self.other.fill(field, "curlew-and-plover-4")
        self.other.click("button:has-text('Open the account')")
        self.other.wait_for_selector("text=nothing you touch here changes it")
        self.assertTrue(self.other.locator(VOLUME).is_disabled())
        self.other.click("button[popovertarget=comments]")
        self.other.fill("#comments .say textarea", "Is the boiler kept?")
        self.other.click("#comments .say button")
        self.other.wait_for_selector("#comments :text('Is the boiler kept?')", state="attached")
        self.page.reload()
        self.page.click("button[aria-label$='wren']")
        self.page.wait_for_selector("tr:has-text('wren')", state="detached")
        self.other.wait_for_selector("#said:has-text('not open to you any more')", timeout=WITHIN_MS)
        self.complaints.clear()  # the browser's own word on what is shut
        self.other.goto(self.live_server_url + "/")
        self.assertEqual(self.other.locator("text=Gannet Terrace").count(), 0)

    def test_a_client_without_an_account_reads_the_report_alone(self):
        self.open_scheme()
        self.page.click(".tabs a:has-text('Paper')")
        self.page.click("button:has-text('Issue it')")
        self.page.wait_for_selector("button:has-text('open a page')")
        self.page.click("button:has-text('open a page')")
        address = self.page.get_attribute("a:has-text('its page')", "href")
        self.other.goto(self.live_server_url + address)
        self.other.wait_for_selector("h1")
        self.assertIn("Gannet Terrace", self.other.text_content("main"))
        self.assertEqual(self.other.locator("[data-path], .header-right a").count(), 0)
        self.page.click("button:has-text('take it back')")
        self.page.wait_for_selector("button:has-text('open a page')")
        self.assertEqual(self.other.reload().status, 404)
        self.complaints.clear()  # the browser's own word on the page that is gone

    def test_a_key_for_a_program_from_its_page_to_the_year_and_its_end(self):
        self.page.goto(self.live_server_url + "/account/keys")
        self.page.fill("#id_name", "night script")
        self.page.fill("#id_password", PASSWORD)
        self.page.click("button[value=make]")
        key = self.page.input_value("[readonly]")
        self.accessible()
        number = Project.objects.get(name__startswith="Gannet Terrace").pk
        question_key = lambda: self.page.request.get(
            f"{self.live_server_url}/api/projects/{number}/designs/A/year", headers={"Authorization": f"Bearer {key}"}
        )
        text = question_key().json()["figures"]["fraction_at_use"]
        self.page.goto(self.live_server_url + "/")
        self.open_scheme()
        self.assertAlmostEqual(100 * text, float(self.figure().split()[0]), delta=0.06)
        self.page.goto(self.live_server_url + "/account/keys")
        self.assertIn("night script", self.page.text_content("table"))
        self.assertNotIn(key, self.page.content())
        self.page.click("button[aria-label='end the key night script']")
        self.page.wait_for_selector("text=No key is open")
        self.assertEqual(question_key().status, 401)
