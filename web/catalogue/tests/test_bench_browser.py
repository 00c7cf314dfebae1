"""The builder's bench in a browser: Enter keeps what was typed."""

from web.ui.tests.browser import DemoCase


class Bench(DemoCase):
    def test_enter_keeps_what_was_typed(self):
        self.page.goto(f"{self.live_server_url}/catalogue/builder")
        field = self.page.locator("#bench-form input[name='emittance']")
        before = field.input_value()
        field.fill("0.07")
        with self.page.expect_response(lambda answer: "emittance=0.07" in answer.url):
            field.press("Enter")
        self.page.wait_for_load_state("networkidle")
        self.assertNotEqual(before, "0.07")
        self.assertEqual(self.page.locator("#bench-form input[name='emittance']").input_value(), "0.07")
