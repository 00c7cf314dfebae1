"""What stays short: modules, functions and lines of templates. A longer function stands here with its reason."""

import ast
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).parents[3]
MODULE_LINES, FUNCTION_LINES, TEMPLATE_LINE = 450, 45, 160
"""Lines of a function are its statements as the parser prints them, whatever the formatter makes of them."""
LONG = {
    "heat/simulation/prepare.py prepare_hours": "one row of the year after the other",
    "heat/simulation/loop.py natural_flow": "one search for a root: bracket, halve and report share every value",
    "heat/simulation/steps.py circulate": "the loop once around, in the order of the flow",
    "heat/simulation/taps.py serve_tap": "the ways of drawing share the accounts they end in",
    "heat/simulation/taps.py draw_through_coil": "one search for a flow, and what it leaves in the layers",
    "heat/simulation/hours.py _year_loop": "the year's loop, each step in the order the heat flows",
    "heat/sun/mirror.py throw": "every facet's ray, one after the other, in a kernel",
    "web/catalogue/bench.py bench_page": "what one page declares",
    "web/presentation/plumbing.py _loop": "the loop's pipes in the order they are drawn",
    "web/steps/demand/uses.py _detail": "what one page declares",
    "web/steps/site/tests/test_browser.py test_from_nothing_to_a_ranking": "one path through four pages",
    "scripts/screenshots.py main": "one picture after the other",
}


def sources():
    return [p for folder in ("heat", "web", "scripts") for p in sorted((ROOT / folder).rglob("*.py"))]


class Sizes(TestCase):
    def test_modules(self):
        long = {str(p.relative_to(ROOT)): n for p in sources() if (n := p.read_text().count("\n")) > MODULE_LINES}
        self.assertEqual(long, {})

    def test_functions_are_short_or_named_with_a_reason(self):
        long = {
            f"{path.relative_to(ROOT)} {node.name}"
            for path in sources()
            for node in ast.walk(ast.parse(path.read_text()))
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef)
            and len(ast.unparse(node).splitlines()) > FUNCTION_LINES
        }
        self.assertEqual(long, set(LONG))

    def test_lines_of_templates(self):
        for path in sorted((ROOT / "web").rglob("templates/**/*.html")):
            for number, line in enumerate(path.read_text().splitlines(), 1):
                self.assertLessEqual(len(line), TEMPLATE_LINE, f"{path.relative_to(ROOT)}:{number}")
