"""The guides, followed click by click: every label in bold stands on the pages that a guide leads through."""

import re
from unittest.mock import patch

from django.conf import settings

from web.jobs import services
from web.jobs.models import Run
from web.jobs.services import simulate_chunk
from web.ui.tests.browser import DemoCase

GUIDES = settings.ROOT / "docs" / "guide"


class Guides(DemoCase):
    def setUp(self):
        super().setUp()
        self.read = []

    def look(self):
        """Remember what the page says, options and titles too."""
        self.page.wait_for_load_state("load")
        self.read.append(self.page.locator("body").text_content())

    def click(self, selector):
        self.look()
        self.page.click(selector)
        self.page.wait_for_load_state("networkidle")
        self.look()

    def step(self, key):
        self.click(f".tabs a[href*='/{key}']")

    def view(self, title):
        self.click(f".views >> text={title}")

    def assert_labels(self, name):
        """Every label in bold was met on the way."""
        met = re.sub(r"\s+", " ", " ".join(self.read)).lower()
        text = (GUIDES / f"{name}.md").read_text()
        labels = re.findall(r"\*\*([^*]+)\*\*", text)
        self.assertGreater(len(labels), 3)
        for label in labels:
            with self.subTest(guide=name, label=label):
                self.assertIn(label.lower(), met)
        for picture in re.findall(r"\((\.\./[^)]+)\)", text):
            self.assertTrue((GUIDES / picture).exists(), picture)

    def begun(self):
        self.look()
        self.open_scheme()
        self.look()

    def guided(self):
        self.begun()
        self.click("text=begin another")
        self.page.wait_for_selector("text=What for")

    def test_size_a_familys_hot_water(self):
        self.guided()
        self.page.fill("#st-people", "5")
        self.page.press("#st-people", "Tab")
        self.page.wait_for_load_state("networkidle")
        self.look()
        self.page.click("text=Open as a design >> nth=0")
        self.page.wait_for_selector("svg.scheme")
        self.look()
        self.step("demand")
        self.assert_labels("hot-water")

    def test_choose_plates_or_tubes(self):
        self.begun()
        self.step("weigh")
        self.view("Choices")
        ticked = self.page.locator(".ask-choices input[type=checkbox]:checked")
        while ticked.count():
            ticked.first.uncheck()
        for key in ("collector", "store"):
            self.page.check(f"input[name=ask][value={key}]")
        with patch.object(services, "AT_ONCE", 1):
            self.click("text=Run the comparison")
            self.page.wait_for_selector(".run")
        run = Run.objects.latest("pk")
        for index in run.chunks.values_list("index", flat=True):
            simulate_chunk(run.pk, index)
        self.page.wait_for_selector(".deciding")
        self.click(".rows tbody tr:first-child button")
        self.page.wait_for_selector("svg.scheme")
        self.assert_labels("plates-or-tubes")

    def test_heat_a_pool(self):
        self.guided()
        self.page.uncheck("input[name=hot_water]")
        self.page.check("input[name=pool]")
        self.page.wait_for_selector("#st-pool_area")
        self.page.fill("#st-pool_area", "40")
        self.page.press("#st-pool_area", "Tab")
        self.page.wait_for_load_state("networkidle")
        self.look()
        self.page.click("text=Open as a design >> nth=0")
        self.page.wait_for_selector("svg.scheme")
        self.step("year")
        self.view("Shape of the year")
        self.step("demand")
        self.assert_labels("pool")

    def test_combine_with_a_wood_stove(self):
        self.begun()
        self.click("button[hx-get*='part=add']")
        self.page.wait_for_selector(".swaps")
        self.click("text=wood stove's water jacket >> nth=0")
        self.step("cautions")
        self.assert_labels("wood-stove")

    def test_what_is_wrong_with_a_plant(self):
        self.begun()
        self.step("log")
        self.view("What is wrong?")
        self.click("text=Find out")
        self.view("As measured")
        self.assert_labels("diagnosis")

    def test_make_an_offer(self):
        self.begun()
        self.step("money")
        self.click("text=offer it with these prices")
        self.view("Over the years")
        self.step("cautions")
        self.step("paper")
        self.click("text=Issue it")
        self.assert_labels("offer")
