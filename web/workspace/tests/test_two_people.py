"""Two people in one project, each in a browser of their own: who is here, each other's ink, one value by two."""

from web.accounts.models import User
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
        self.other.goto(self.live_server_url + "/sign-in")
        self.other.fill("#id_username", name)
        self.other.fill("#id_password", PASSWORD)
        self.other.click("button")
        self.other.click("text=Gannet Terrace")
        self.other.wait_for_selector("#here")

    def set(self, page, path, value):
        page.fill(f'[data-path="{path}"] >> nth=0', value)
        page.keyboard.press("Enter")

    def test_each_sees_the_other_and_their_ink(self):
        self.both_open("assessor")
        self.page.wait_for_selector("#here .person:has-text('assessor')", timeout=WITHIN_MS)
        self.other.wait_for_selector("#here .person:has-text('designer')", timeout=WITHIN_MS)
        self.set(self.page, "system.store.volume_l", "410")
        self.other.wait_for_selector('[data-path="system.store.volume_l"][value="410"]', timeout=WITHIN_MS)
        self.assertIn("designer: Volume in A", self.other.text_content("#said"))
        self.assertEqual(self.other.locator(".pen[data-by=designer]").count() > 0, True)

    def test_an_assessor_finds_the_scheme_closed_and_the_demand_open(self):
        self.both_open("assessor")
        self.assertTrue(self.other.locator(VOLUME).is_disabled())
        self.other.click("a:has-text('Demand')")
        self.other.wait_for_selector('[data-path="demand.people"]')
        self.set(self.other, "demand.people", "3")
        self.other.wait_for_selector('[data-path="demand.people"][value="3"]')
        self.page.wait_for_selector("#said:has-text('assessor')", timeout=WITHIN_MS)

    def test_a_remark_is_pinned_to_the_value_touched_last(self):
        self.both_open("viewer")
        self.page.click('[data-path="system.store.loss_w_k"] >> nth=0')
        self.page.click("button[popovertarget=remarks]")
        self.page.fill("#remarks .say textarea", "Thicker wool?")
        self.page.click("#remarks .say button")
        self.page.wait_for_selector("#desk")
        self.page.wait_for_selector(".pinned >> nth=1")
        self.other.reload()
        self.other.wait_for_selector(".pinned")
        self.other.click("button[popovertarget=remarks]")
        self.assertIn("Thicker wool?", self.other.text_content("#remarks"))
        self.assertIn("Insulation loss", self.other.text_content("#remarks"))

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
            self.page.click(f".cloth-right a[href$={page}]")
            self.page.wait_for_selector("h1")
            self.accessible()
