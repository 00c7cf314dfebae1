"""Refresh docs/screenshots from a fresh demo: ./ledger demo, then this with the test environment's Python."""

import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from web.ui.tests.browser import ARGUMENTS, CHROMIUM

WHOLE = "/usr/bin/chromium" if Path("/usr/bin/chromium").exists() else CHROMIUM
"""The browser people have draws letters a little finer than the one without a window."""
TARGET = Path(__file__).parents[1] / "docs" / "screenshots"
VIEWS = {
    "demand-uses": "demand?view=uses",
    "site-weather": "site?view=weather",
    "site-horizon": "site?view=horizon",
    "year": "year?day=138&hour=12&start=3264&span=72&t=usual",
    "faults": "year?view=faults&m=valve",
}


def open_project(page: Page, address: str, name: str) -> str:
    """Open a project; the address its steps start with."""
    page.goto(address)
    page.click(f"text={name}")
    page.wait_for_selector(".steps td")
    return page.url.split("?")[0].rsplit("/", 1)[0]


def later_steps(page: Page, base: str) -> None:
    """Money, cautions, the log and paper."""
    for name, view in (("cost", "cost"), ("years", "years")):
        page.goto(f"{base}/money?view={view}")
        page.screenshot(path=TARGET / f"money-{name}.png")
    page.goto(f"{base}/cautions")
    page.wait_for_function(
        "() => ![...document.querySelectorAll('.helps .label')].some(e => e.innerText.includes('…'))"
    )
    page.screenshot(path=TARGET / "cautions.png")
    page.goto(f"{base}/log?days=14")
    page.wait_for_selector(".traces")
    page.screenshot(path=TARGET / "log.png")
    days = page.input_value(".span [name=day]")
    page.goto(f"{base}/log?view=diagnosis&ask=1&days=6&day={days}")
    page.wait_for_selector(".causes", timeout=60_000)
    page.screenshot(path=TARGET / "log-diagnosis.png")
    page.goto(f"{base}/paper")
    page.screenshot(path=TARGET / "paper.png")


def two_people(browser: Browser, page: Page, base: str) -> None:
    """The scheme with its comments, while somebody else has the project open."""
    address = base.split("/projects/")[0]
    other = browser.new_context().new_page()
    sign_in(other, address, "assessor")
    other.goto(f"{base}/scheme")
    page.goto(f"{base}/scheme")
    page.wait_for_selector("#here .person", timeout=60_000)
    page.click("button:has-text('Comments')")
    page.screenshot(path=TARGET / "together.png")
    other.context.close()


def sign_in(page: Page, address: str, name: str) -> None:
    """Sign in as one of the demo's people."""
    page.goto(f"{address}/sign-in")
    page.fill("#id_username", name)
    page.fill("#id_password", "merrow-coast")
    page.click("button")
    page.wait_for_selector("h1")


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=WHOLE, args=list(ARGUMENTS))
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        sign_in(page, address, "designer")
        page.screenshot(path=TARGET / "projects.png")
        base = open_project(page, address, "Gannet Terrace")
        page.screenshot(path=TARGET / "scheme.png")
        for name, tail in VIEWS.items():
            page.goto(f"{base}/{tail}")
            page.screenshot(path=TARGET / f"{name}.png")
        page.goto(f"{base}/scheme")
        page.click("text=copy A")
        page.wait_for_selector("text=copy of")
        copy = page.url.split("?")[0].rsplit("/", 1)[0]
        page.goto(f"{copy}/scheme?part=kind")
        page.wait_for_selector(".swaps")
        page.click(".swaps button[hx-vals*='kind pumped_plate']")
        page.wait_for_selector("svg[aria-label*='plate exchanger']")
        page.goto(f"{base}/scheme?view=start")
        page.screenshot(path=TARGET / "begin.png")
        page.goto(f"{address}/catalogue/")
        page.screenshot(path=TARGET / "catalogue.png")
        page.goto(f"{base}/weigh?view=choices")
        page.wait_for_selector(".deciding", timeout=120_000)
        page.screenshot(path=TARGET / "weigh-choices.png")
        page.goto(f"{base}/weigh?view=uncertainty")
        page.wait_for_selector(".band", timeout=120_000)
        page.goto(f"{base}/weigh?view=maps&about=much")
        page.wait_for_selector("svg.map", timeout=120_000)
        page.locator("[data-pin]").press("Shift+ArrowRight")
        page.wait_for_function("() => /stands: \\d/.test(document.querySelector('#pin-told').innerText)")
        page.screenshot(path=TARGET / "weigh-map.png")
        page.goto(f"{base}/weigh?view=best")
        page.click("#ask-best button.strong")
        page.wait_for_selector(".moved", timeout=120_000)
        page.wait_for_function("() => !document.querySelector('.run[hx-trigger^=every]')", timeout=120_000)
        later_steps(page, base)
        two_people(browser, page, base)
        many = open_project(page, address, "Lantern Row")
        page.goto(f"{many}/weigh")
        page.wait_for_selector(".side")
        page.screenshot(path=TARGET / "weigh.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000")
