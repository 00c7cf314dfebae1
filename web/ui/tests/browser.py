"""One Chromium a process, a fresh context a test; what the page says and asks for is watched."""

import asyncio
import os
from functools import cache
from pathlib import Path

from django.core.management import call_command
from django.db import connections
from django.test import LiveServerTestCase
from playwright.sync_api import sync_playwright

ARGUMENTS = (
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
)  # fmt: skip
AXE = Path(__file__).parent / "axe.min.js"


@cache
def chromium():
    """The browser, and the event loop Playwright keeps for this thread."""
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=list(ARGUMENTS))
    return browser, asyncio._get_running_loop()


def arriving(page):
    """The same page, where whoever waits for a thing to stand on it has also waited for the scripts to be at work."""
    seen = page.wait_for_selector

    def wait_for_selector(*args, **kwargs):
        found = seen(*args, **kwargs)
        page.wait_for_load_state("domcontentloaded")
        return found

    page.wait_for_selector = wait_for_selector
    return page


class BrowserCase(LiveServerTestCase):
    """A test in the real browser. Fails on console errors and on requests leaving the machine."""

    size = (1280, 800)

    def setUp(self):
        # Playwright needs its loop marked as running in this thread, other tests need it unmarked.
        browser, loop = chromium()
        asyncio._set_running_loop(loop)
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        self.context = browser.new_context(viewport={"width": self.size[0], "height": self.size[1]})
        self.page = arriving(self.context.new_page())
        self.complaints, self.requests = [], []
        self.ours = [self.live_server_url, "about:", "data:"]
        self.page.on("console", lambda m: self.complaints.append(m.text) if m.type in ("error", "warning") else None)
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

    def sign_in(self, name="designer", password="merrow-coast"):
        self.page.goto(self.live_server_url + "/sign-in")
        self.page.fill("#id_username", name)
        self.page.fill("#id_password", password)
        self.page.click("button")

    def inked(self, action):
        """Run an action and wait until the sheet shows another revision."""
        before = self.page.get_attribute("[data-revision]", "data-revision")
        action()
        self.page.wait_for_function(
            "before => document.querySelector('[data-revision]').dataset.revision !== before", arg=before
        )

    def accessible(self):
        """No finding of axe on the page as it stands."""
        self.page.evaluate(AXE.read_text())
        found = self.page.evaluate("axe.run().then(r => r.violations.map(v => v.id + ': ' + v.nodes[0].html))")
        self.assertEqual(found, [])


class DemoCase(BrowserCase):
    """Signed in as the designer, with the demo's projects."""

    def setUp(self):
        call_command("load_demo")
        super().setUp()
        self.sign_in()

    def open_scheme(self, project="Gannet Terrace"):
        self.page.click(f"text={project}")
        self.page.wait_for_selector(".account")

    def figure(self, key="fraction"):
        return self.page.inner_text(f"[data-tally={key}] .figure")
