"""One Chromium a process, a fresh context a test; what the page says and asks for is watched."""

import asyncio
import os
from functools import cache
from pathlib import Path
from threading import Condition

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.db import connections
from django.test import Client, LiveServerTestCase
from django.test.testcases import _StaticFilesHandler
from playwright.sync_api import sync_playwright

from web.ui.tests import rows

ARGUMENTS = (
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
)
CHROMIUM = next(filter(os.path.exists, ("/usr/bin/chromium-headless-shell", "/usr/bin/chromium")), "")
AXE = Path(__file__).parent / "axe.min.js"


@cache
def chromium():
    """The browser, and the event loop Playwright keeps for this thread."""
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=list(ARGUMENTS))
    return browser, asyncio._get_running_loop()


def arriving(page):
    """The same page, where whoever waits for a thing to stand on it has also waited for the scripts to be at work."""
    observed = page.wait_for_selector

    def wait_for_selector(*args, **kwargs):
        found = observed(*args, **kwargs)
        page.wait_for_load_state("domcontentloaded")
        return found

    page.wait_for_selector = wait_for_selector
    return page


class Answering(_StaticFilesHandler):
    """Knows how many requests are being answered: some go on when the page that asked is gone. Files are kept by the
    browser as long as its context, as those of a real server are."""

    changed = Condition()
    at_hand = 0

    def __call__(self, *requested):
        self.count(1)
        try:
            return super().__call__(*requested)
        finally:
            self.count(-1)

    def serve(self, request):
        answer = super().serve(request)
        answer["Cache-Control"] = "max-age=3600"
        settings.WHITENOISE_ADD_HEADERS_FUNCTION(answer, "", request.path)
        return answer

    @classmethod
    def count(cls, more):
        with cls.changed:
            Answering.at_hand += more
            cls.changed.notify_all()

    @classmethod
    def ended(cls):
        with cls.changed:
            return cls.changed.wait_for(lambda: not Answering.at_hand, timeout=30)


class BrowserCase(LiveServerTestCase):
    """A test in the real browser. Fails on console errors and on requests leaving the machine."""

    size = (1280, 800)
    static_handler = Answering

    def setUp(self):
        # Playwright needs its loop marked as running in this thread, other tests need it unmarked.
        browser, loop = chromium()
        asyncio._set_running_loop(loop)
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        self.context = browser.new_context(viewport={"width": self.size[0], "height": self.size[1]})
        self.page = arriving(self.context.new_page())
        self.complaints, self.requests = [], []
        self.ours = [self.live_server_url, "about:", "data:"]
        words = lambda m: f"{m.text} {m.location.get('url', '')}".strip()
        self.page.on("console", lambda m: self.complaints.append(words(m)) if m.type in ("error", "warning") else None)
        self.page.on("pageerror", lambda e: self.complaints.append(str(e)))
        self.page.on("request", lambda r: self.requests.append(r.url))

    def tearDown(self):
        self.page.goto("about:blank")
        self.context.close()
        away = [u for u in self.requests if not u.startswith(tuple(self.ours))]
        complaints = [c for c in self.complaints if "422" not in c]
        connections.close_all()
        asyncio._set_running_loop(None)
        os.environ.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)
        self.assertEqual(away, [])
        self.assertEqual(complaints, [])

    def _fixture_teardown(self):
        self.assertTrue(Answering.ended(), "a request is still being answered")
        rows.emptied()

    def signed_in(self, name="designer", page=None):
        """On the list of projects, as somebody who has signed in before."""
        client = Client()
        client.force_login(get_user_model().objects.get(username=name))
        session = {"name": settings.SESSION_COOKIE_NAME, "value": client.cookies[settings.SESSION_COOKIE_NAME].value}
        page = page or self.page
        page.context.add_cookies([{**session, "url": self.live_server_url}])
        page.goto(self.live_server_url)

    def sign_in(self, name="designer", password="merrow-coast"):
        """Through the door."""
        self.page.goto(self.live_server_url + "/sign-in")
        self.page.fill("#id_username", name)
        self.page.fill("#id_password", password)
        self.page.click("button")

    def updated(self, action):
        """Run an action and wait until the sheet shows another revision."""
        before = self.page.get_attribute("[data-revision]", "data-revision")
        action()
        self.page.wait_for_function(
            "before => document.querySelector('[data-revision]').dataset.revision !== before", arg=before
        )

    def accessible(self):
        """No finding of axe on the page as it stands."""
        self.page.evaluate(AXE.read_text())
        found = self.page.evaluate(
            "axe.run({resultTypes: ['violations']}).then(r => r.violations.map(v => v.id + ': ' + v.nodes[0].html))"
        )
        self.assertEqual(found, [])


@cache
def demo():
    """The rows of the demo, made once a process."""
    rows.emptied()  # jobs that a test before left behind would be taken for the demo's
    call_command("load_demo")
    made = rows.Rows.taken()
    rows.emptied()
    return made


class DemoCase(BrowserCase):
    """Signed in as the designer, with the demo's projects."""

    def setUp(self):
        demo().put_back()
        super().setUp()
        self.signed_in()

    def open_scheme(self, project="Gannet Terrace"):
        self.page.click(f"text={project}")
        self.page.wait_for_selector(".account")

    def figure(self, key="fraction"):
        return self.page.inner_text(f"[data-tally={key}] .figure")
