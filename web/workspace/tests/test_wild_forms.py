"""Every form and value of every page, sent with what nobody foresaw: taken or refused in words, never a fault."""

import random
from urllib.parse import urljoin

from django.test import Client

from web.logs.services import begin_log
from web.projects.tests.helpers import HTMX, DeskCase
from web.workspace.management.forms import ODD, Forms, spoilt
from web.workspace.registry import steps

TRIED = 150
"""Requests tried here; ``./ledger attack --only forms`` tries thousands."""
OURS = ("/account", "/sign-out", "/firms/", "/join", "/password", "/units")
"""Addresses of the account, tried by its own tests."""


class Wild(DeskCase):
    def setUp(self):
        super().setUp()
        self.client = Client(raise_request_exception=False)
        self.client.force_login(self.user)
        begin_log(design=self.fresh(), author=self.user)

    def pages(self):
        """Every listed view of every step, and the pages beside them."""
        found = [f"{step.key}?view={view.key}" for step in steps() for view in step.views if view.listed]
        return [self.url(page) for page in found] + ["/", "/catalogue/", "/catalogue/builder", self.people]

    @property
    def people(self):
        return f"/projects/{self.project.pk}/people"

    def test_taken_or_refused_in_words(self):
        dice, pages, sent = random.Random(8), self.pages(), set()
        for number in range(TRIED):
            here = pages[number % len(pages)]
            page = self.client.get(here)
            self.assertEqual(page.status_code, 200, here)
            found = Forms(page.content.decode())
            forms = [f for f in found.forms if not f.action.startswith(OURS) and "delete" not in f.action]
            if (found.paths and dice.random() < 0.4) or not forms:
                address, method = self.url("edit"), "post"
                posted = {
                    "path": dice.choice(found.paths or ["nowhere"]),
                    "value": dice.choice(ODD),
                    "screen": "scheme",
                }
            else:
                form = dice.choice(forms)
                address, method = urljoin(here, form.action or here), form.method
                posted = spoilt(form, dice)
            answer = getattr(self.client, method)(address, posted, headers=HTMX if dice.random() < 0.7 else {})
            sent.add(address)
            with self.subTest(number=number, address=address, payload=str(posted)[:300]):
                self.assertLess(answer.status_code, 500)
        self.assertGreater(len(sent), min(TRIED, 100) / 8)
