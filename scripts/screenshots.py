"""Refresh docs/screenshots from the running demo: ./ledger demo, then this with the test environment's Python."""

import sys
from pathlib import Path

from playwright.sync_api import sync_playwright

from web.ui.tests.browser import ARGUMENTS

TARGET = Path(__file__).parents[1] / "docs" / "screenshots"


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=list(ARGUMENTS))
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/sign-in")
        page.screenshot(path=TARGET / "sign-in.png")
        page.fill("#id_username", "designer")
        page.fill("#id_password", "merrow-coast")
        page.click("button")
        page.wait_for_selector("h1")
        page.screenshot(path=TARGET / "projects.png")
        page.click("text=Gannet Terrace")
        page.wait_for_selector(".steps td")
        page.screenshot(path=TARGET / "scheme.png")
        for key, name, ready in (("1", "demand", ".daybars"), ("2", "site", ".compass")):
            page.keyboard.press(key)
            page.wait_for_selector(ready)
            page.screenshot(path=TARGET / f"{name}.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000")
